//! Changes of several files that are being made: what finishes them where the command is stopped between two files.

use std::fs;
use std::path::{Component, Path, PathBuf};

use anyhow::{Context, Result, ensure};
use crow_fly_core::catalog::FileFormat;
use serde::{Deserialize, Serialize};

use super::change::{self, Change, State};
use super::disk::Disk;
use crate::code;
use crate::place;
use crate::reading;

/// The name of the file that holds them. It is there from before the first file is replaced until after the last one.
const NAME: &str = ".crow-fly-changes";

/// The changes of one command.
#[derive(Serialize, Deserialize)]
pub(super) struct Pending {
    process: u32,
    command: String,
    changes: Vec<Saved>,
}

/// A change. The file's path begins in the folder of the configuration.
#[derive(Serialize, Deserialize)]
struct Saved {
    file: String,
    before: Option<String>,
    after: Option<String>,
}

impl Pending {
    pub(super) fn new(command: &str, folder: &Path, changes: &[Change]) -> Result<Self> {
        let text = |bytes: &[u8]| String::from_utf8(bytes.to_vec());
        let save = |change: &Change| {
            let file = change.file().strip_prefix(folder).unwrap_or(change.file());
            let shown = place::path(change.file());
            let wrong = || format!("{shown} cannot be written: its name or its content is not UTF-8");
            Ok(Saved {
                file: file.to_str().with_context(wrong)?.to_owned(),
                before: change.before().map(text).transpose().with_context(wrong)?,
                after: change.after().map(text).transpose().with_context(wrong)?,
            })
        };
        let changes = changes.iter().map(save).collect::<Result<_>>()?;
        Ok(Self { process: std::process::id(), command: command.to_owned(), changes })
    }

    /// What a command has left that was stopped, or that is at work. None where there is nothing.
    pub(super) fn read(folder: &Path) -> Result<Option<Self>> {
        let path = file(folder);
        let Some(bytes) = reading::bytes_where_there(&path)? else { return Ok(None) };
        let pending = serde_json::from_slice(&bytes).with_context(|| {
            format!("{} cannot be read: look at your files, then delete it", place::path(&path))
        })?;
        Ok(Some(pending))
    }

    pub(super) fn write(&self, disk: &dyn Disk, folder: &Path) -> Result<()> {
        change::replace(disk, &file(folder), &serde_json::to_vec(self)?)
    }

    pub(super) fn remove(disk: &dyn Disk, folder: &Path) -> Result<()> {
        change::remove(disk, &file(folder))
    }

    /// The command that was stopped, as it was typed.
    pub(super) fn command(&self) -> &str {
        &self.command
    }

    /// Who made them, for people: `crow-fly rename a.b a.c --write` (process 123).
    pub(super) fn shown(&self) -> String {
        format!("`crow-fly {}` (process {})", self.command, self.process)
    }

    /// How far they are.
    pub(super) fn progress(&self, folder: &Path) -> Result<Progress> {
        let mut states = Vec::new();
        for change in self.changes(folder) {
            states.push((change.state()?, change));
        }
        let is = |wanted: State| states.iter().any(|(state, _)| *state == wanted);
        Ok(match (is(State::Open), is(State::Made)) {
            (false, _) if is(State::Unknown) => Progress::GoneOn,
            (false, _) => Progress::Done,
            (true, false) => Progress::NotBegun,
            (true, true) => match states.into_iter().find(|(state, _)| *state == State::Unknown) {
                Some((_, change)) => Progress::Unclear(change.file().to_owned()),
                None => Progress::Between,
            },
        })
    }

    /// Makes the changes that are not made yet.
    pub(super) fn finish(&self, disk: &dyn Disk, folder: &Path) -> Result<()> {
        for change in self.changes(folder) {
            if change.state()? == State::Open {
                change.make(disk)?;
            }
        }
        Ok(())
    }

    /// Deletes what is left beside the files.
    pub(super) fn tidy(&self, disk: &dyn Disk, folder: &Path) -> Result<()> {
        self.changes(folder).try_for_each(|change| change.tidy(disk))
    }

    /// Whether all files are some that commands of this project write: the file may come from elsewhere.
    pub(super) fn check(&self, folder: &Path, roots: &[PathBuf]) -> Result<()> {
        let is_plain = |part: Component<'_>| matches!(part, Component::Normal(_));
        // Also where a folder or the file is a symbolic link.
        let is_inside = |file: &Path, root: &Path| {
            file.strip_prefix(root).is_ok_and(|rest| rest.components().all(is_plain))
                && real(file).zip(real(root)).is_some_and(|(file, root)| file.starts_with(root))
        };
        let is_written = |file: &Path| {
            let name = file.file_name().and_then(|name| name.to_str()).unwrap_or_default();
            FileFormat::of_name(name).is_some()
                || code::is_code(file)
                || roots.iter().any(|root| root == file)
        };
        for change in self.changes(folder) {
            let wanted = change.file();
            ensure!(
                is_written(wanted)
                    && (is_inside(wanted, folder) || roots.iter().any(|root| is_inside(wanted, root))),
                "{} wants to change {}, which no command writes: delete it",
                place::path(&file(folder)),
                place::path(wanted)
            );
        }
        Ok(())
    }

    fn changes(&self, folder: &Path) -> impl Iterator<Item = Change> {
        let bytes = |text: &Option<String>| text.clone().map(String::into_bytes);
        self.changes.iter().map(move |saved| {
            Change::new(folder.join(&saved.file), bytes(&saved.before).map(Into::into), bytes(&saved.after))
        })
    }
}

/// How far changes are.
pub(super) enum Progress {
    NotBegun,
    Between,
    Done,
    /// All are made, and somebody has gone on from there.
    GoneOn,
    /// A file was changed by somebody else, while others still wait for their change.
    Unclear(PathBuf),
}

/// Where a path leads, links followed; of what does not exist yet, its folder is asked.
fn real(path: &Path) -> Option<PathBuf> {
    let is_there = |path: &&Path| path.as_os_str().is_empty() || fs::symlink_metadata(path).is_ok();
    let there = path.ancestors().find(is_there)?;
    fs::canonicalize(if there.as_os_str().is_empty() { Path::new(".") } else { there }).ok()
}

/// The file that holds them.
pub(super) fn file(folder: &Path) -> PathBuf {
    folder.join(NAME)
}
