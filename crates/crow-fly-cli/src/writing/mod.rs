//! Changes of files that people work on: all of them or none, one command at a time, nothing lost that came in between.
//!
//! A file is written beside the one that it replaces, flushed, and renamed to its name. Several files change together: what
//! is changed is written down first, so that the next command finishes what was stopped between two files.

mod change;
mod disk;
mod lock;
mod pending;
#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test fails by panicking")]
mod tests;

use std::path::{Path, PathBuf};

use anyhow::{Result, bail};
use crow_fly::Config;

use crate::{place, render};
use lock::Lock;
use pending::{Pending, Progress};

pub(crate) use change::{Change, replace};
pub(crate) use disk::{Disk, RealDisk};
pub(crate) use lock::FolderLock;

/// A command that may write. It has the project for itself.
pub(crate) struct Writing<'d> {
    disk: &'d dyn Disk,
    folder: PathBuf,
    command: String,
    /// The command that was stopped, and is finished now.
    finished: Option<String>,
    _lock: Lock,
}

impl<'d> Writing<'d> {
    /// Begins to write in the project of a configuration, which may not exist yet. `command` is what was typed.
    pub(crate) fn begin(disk: &'d dyn Disk, config: &Path, command: &str) -> Result<Self> {
        let folder = config.parent().unwrap_or(Path::new("")).to_owned();
        let lock = Lock::take(&folder, command)?;
        let mut writing = Self { disk, folder, command: command.to_owned(), finished: None, _lock: lock };
        writing.recover(config)?;
        Ok(writing)
    }

    /// Whether this very command had been stopped, and is finished now.
    pub(crate) fn has_finished_this(&self) -> bool {
        self.finished.as_ref() == Some(&self.command)
    }

    /// Makes changes, in this order: all of them or none.
    pub(crate) fn write(&self, changes: Vec<Change>) -> Result<()> {
        let mut changes: Vec<Change> = changes.into_iter().filter(Change::changes_something).collect();
        // What is deleted comes last: what is made again in its place would have other permissions.
        changes.sort_by_key(|change| change.after().is_none());
        match changes.as_slice() {
            [] => Ok(()),
            [change] => change.is_ready().and_then(|()| change.make(self.disk)),
            _ => self.write_together(&changes),
        }
    }

    fn write_together(&self, changes: &[Change]) -> Result<()> {
        let (disk, folder) = (self.disk, self.folder.as_path());
        let Some(_alone) = FolderLock::for_writing(folder) else {
            bail!("other commands still read the project; nothing is written: run the command again");
        };
        changes.iter().try_for_each(Change::is_ready)?;
        if let Err(error) = Pending::new(&self.command, folder, changes)?.write(disk, folder) {
            let _ = Pending::remove(disk, folder);
            return Err(error);
        }
        // Each is compared once more just before it is replaced.
        let made = changes.iter().try_for_each(|change| change.is_ready().and_then(|()| change.make(disk)));
        if let Err(error) = made {
            let back: Vec<Change> = changes.iter().rev().map(Change::reversed).collect();
            let back = Pending::new(&self.command, folder, &back)?;
            return Err(match self.take_back(&back) {
                Ok(()) => error.context("nothing is changed"),
                Err(again) => error.context(format!(
                    "some files are changed, and it could not be taken back ({again:#}): the next command that writes does it"
                )),
            });
        }
        self.forget()
    }

    /// Deletes what was written down of changes that are made. What cannot be deleted does no harm.
    fn forget(&self) -> Result<()> {
        if let Err(error) = Pending::remove(self.disk, &self.folder) {
            render::warning(format!(
                "everything is written, but {error:#}; the next command that writes deletes it"
            ))?;
        }
        Ok(())
    }

    fn take_back(&self, back: &Pending) -> Result<()> {
        let (disk, folder) = (self.disk, self.folder.as_path());
        back.write(disk, folder)?;
        back.finish(disk, folder)?;
        back.tidy(disk, folder)?;
        self.forget()
    }

    /// Finishes what a command has left that was stopped between two files.
    fn recover(&mut self, config: &Path) -> Result<()> {
        let (disk, folder) = (self.disk, self.folder.as_path());
        let Some(pending) = Pending::read(folder)? else { return Ok(()) };
        pending.check(folder, &roots(config))?;
        match pending.progress(folder)? {
            Progress::NotBegun | Progress::GoneOn => {}
            Progress::Done => self.finished = Some(pending.command().to_owned()),
            Progress::Between => {
                pending.finish(disk, folder)?;
                render::note(format!(
                    "{} was stopped between two files: it is finished now",
                    pending.shown()
                ))?;
                self.finished = Some(pending.command().to_owned());
            }
            Progress::Unclear(file) => bail!(
                "{} was stopped between two files, and {} has changed since then: look at your files, correct them, and delete {}",
                pending.shown(),
                place::path(&file),
                place::path(&pending::file(folder)),
            ),
        }
        pending.tidy(disk, folder)?;
        self.forget()
    }
}

/// The folders and files outside of the project's folder that commands write to.
fn roots(config: &Path) -> Vec<PathBuf> {
    let Ok(known) = Config::from_file(config) else { return Vec::new() };
    let checks = known.checks();
    let named = [known.catalogs(), checks.accepted()].map(Path::to_owned);
    named.into_iter().chain(checks.code().iter().cloned()).collect()
}

/// For a command that only reads: waits until no other one is between two files, and says where one was stopped.
pub(crate) fn look(config: &Path) -> Result<FolderLock> {
    let folder = config.parent().unwrap_or(Path::new(""));
    let lock = FolderLock::for_reading(folder);
    if let Ok(Some(pending)) = Pending::read(folder)
        && matches!(pending.progress(folder), Ok(Progress::Between | Progress::Unclear(_)))
    {
        let who = pending.shown();
        render::warning(format!(
            "{who} was stopped between two files: the next command that writes finishes it"
        ))?;
    }
    Ok(lock)
}
