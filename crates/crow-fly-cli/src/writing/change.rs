//! The change of one file: from the content that was read to another one.

use std::fs::{self, Metadata, OpenOptions};
use std::io;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use anyhow::{Context, Result, bail, ensure};

use super::disk::Disk;
use crate::place;
use crate::reading;

/// A file that is made, replaced or deleted.
#[derive(Clone, Debug)]
pub(crate) struct Change {
    file: PathBuf,
    /// What was read; none where the file did not exist.
    before: Option<Arc<[u8]>>,
    /// What is to be there; none where the file is deleted.
    after: Option<Arc<[u8]>>,
}

impl Change {
    pub(crate) fn new(
        file: impl Into<PathBuf>,
        before: Option<Arc<[u8]>>,
        after: Option<impl Into<Arc<[u8]>>>,
    ) -> Self {
        Self { file: file.into(), before, after: after.map(Into::into) }
    }

    pub(super) fn file(&self) -> &Path {
        &self.file
    }

    pub(super) fn before(&self) -> Option<&[u8]> {
        self.before.as_deref()
    }

    pub(super) fn after(&self) -> Option<&[u8]> {
        self.after.as_deref()
    }

    pub(super) fn changes_something(&self) -> bool {
        self.before != self.after
    }

    /// The change that takes this one back.
    pub(super) fn reversed(&self) -> Self {
        Self { file: self.file.clone(), before: self.after.clone(), after: self.before.clone() }
    }

    /// Whether the file is as it was, or as it is to be.
    pub(super) fn state(&self) -> Result<State> {
        let now = reading::bytes_where_there(&self.file)?;
        Ok(if now.as_deref() == self.after() {
            State::Made
        } else if now.as_deref() == self.before() {
            State::Open
        } else {
            State::Unknown
        })
    }

    /// Whether the change can be made: the file is what was read, and may be written.
    pub(super) fn is_ready(&self) -> Result<()> {
        let shown = place::path(&self.file);
        let now = reading::bytes_where_there(&self.file)?;
        ensure!(
            now.as_deref() == self.before(),
            "{shown} has changed since it was read: nothing is written; run the command again"
        );
        let target = Target::of(&self.file)?;
        ensure!(
            self.after.is_some() || target.path == self.file,
            "{shown} is a symbolic link whose file would hold nothing any more: delete both yourself"
        );
        if target.about.is_some() {
            // Nothing is written: whoever may not change the file must not replace it either.
            let opened = OpenOptions::new().write(true).open(&target.path);
            opened.with_context(|| format!("{shown} cannot be written; nothing is changed"))?;
        }
        Ok(())
    }

    /// Makes the change.
    pub(super) fn make(&self, disk: &dyn Disk) -> Result<()> {
        if let Some(bytes) = &self.after {
            return replace(disk, &self.file, bytes);
        }
        remove(disk, &self.file)?;
        remove_empty_folders(disk, &self.file);
        Ok(())
    }

    /// Deletes what a stopped command may have left: the new content beside the file, and empty folders.
    pub(super) fn tidy(&self, disk: &dyn Disk) -> Result<()> {
        let target = Target::of(&self.file)?;
        let beside = beside(&target.path);
        if fs::symlink_metadata(&beside).is_ok() {
            remove(disk, &beside)?;
        }
        if target.about.is_none() {
            remove_empty_folders(disk, &self.file);
        }
        Ok(())
    }
}

/// How far a change is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum State {
    Open,
    Made,
    /// Somebody else has changed the file.
    Unknown,
}

/// The file that a path leads to.
struct Target {
    path: PathBuf,
    /// None where it does not exist.
    about: Option<Metadata>,
}

impl Target {
    /// A symbolic link stays: the file that it leads to is changed.
    fn of(file: &Path) -> Result<Self> {
        let shown = place::path(file);
        let about = match fs::symlink_metadata(file) {
            Err(error) if error.kind() == io::ErrorKind::NotFound => {
                return Ok(Self { path: file.to_owned(), about: None });
            }
            about => about.with_context(|| format!("{shown} cannot be written"))?,
        };
        let (path, about) = if about.is_symlink() {
            let path = fs::canonicalize(file)
                .with_context(|| format!("{shown} is a symbolic link to nothing: correct or delete it"))?;
            let about = fs::metadata(&path).with_context(|| format!("{shown} cannot be written"))?;
            (path, about)
        } else {
            (file.to_owned(), about)
        };
        if !about.is_file() {
            bail!("{shown} cannot be written: it is not a regular file");
        }
        Ok(Self { path, about: Some(about) })
    }
}

/// Writes a file whole or not at all: beside it, flushed, then renamed to its name. Links, owner and permissions stay.
pub(crate) fn replace(disk: &dyn Disk, file: &Path, bytes: &[u8]) -> Result<()> {
    let target = Target::of(file)?;
    let wrong = || format!("{} cannot be written", place::path(file));
    if let Some(folder) = folder(&target.path) {
        create_folders(disk, folder).with_context(wrong)?;
    }
    let beside = beside(&target.path);
    let written = write_beside(disk, &beside, bytes, target.about.as_ref())
        .and_then(|()| disk.rename(&beside, &target.path))
        .and_then(|()| flush_names(disk, &target.path));
    if written.is_err() && fs::symlink_metadata(&beside).is_ok() {
        let _ = disk.remove(&beside);
    }
    written.with_context(wrong)
}

fn write_beside(disk: &dyn Disk, beside: &Path, bytes: &[u8], model: Option<&Metadata>) -> io::Result<()> {
    if fs::symlink_metadata(beside).is_ok() {
        // Left by a command that was stopped.
        disk.remove(beside)?;
    }
    disk.create(beside, bytes)?;
    if let Some(model) = model {
        disk.make_like(beside, model)?;
    }
    disk.flush(beside)
}

/// Deletes a file.
pub(super) fn remove(disk: &dyn Disk, file: &Path) -> Result<()> {
    let removed = disk.remove(file).and_then(|()| flush_names(disk, file));
    removed.with_context(|| format!("{} cannot be deleted", place::path(file)))
}

/// Deletes the folders of a file that hold nothing any more.
fn remove_empty_folders(disk: &dyn Disk, file: &Path) {
    for folder in file.ancestors().skip(1).take_while(|folder| !folder.as_os_str().is_empty()) {
        // One that holds something stays, and those above it.
        if disk.remove_folder(folder).is_err() {
            break;
        }
    }
}

fn flush_names(disk: &dyn Disk, file: &Path) -> io::Result<()> {
    disk.flush_folder(folder(file).unwrap_or(Path::new(".")))
}

/// Makes a folder, and those that it is in.
fn create_folders(disk: &dyn Disk, wanted: &Path) -> io::Result<()> {
    let missing: Vec<&Path> =
        wanted.ancestors().take_while(|folder| !folder.as_os_str().is_empty() && !folder.exists()).collect();
    for new in missing.into_iter().rev() {
        disk.create_folder(new)?;
        flush_names(disk, new)?;
    }
    Ok(())
}

fn folder(file: &Path) -> Option<&Path> {
    file.parent().filter(|folder| !folder.as_os_str().is_empty())
}

/// Where new content is written before it has its name: `.home.toml.new~`. Sources of catalogs and searches in code pass over
/// names that begin with a dot.
fn beside(file: &Path) -> PathBuf {
    let name = file.file_name().unwrap_or_default().to_string_lossy();
    file.with_file_name(format!(".{name}.new~"))
}
