//! One command that writes at a time.

use std::fs::{self, File, OpenOptions, TryLockError};
use std::io::{self, ErrorKind, Read, Write};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, bail};
use same_file::Handle;

use crate::place;

/// The name of the file that is locked. It is there for as long as a command writes.
const NAME: &str = ".crow-fly-lock";

/// How long a command waits for another one.
const PATIENCE: Duration = Duration::from_secs(10);

/// How often it looks whether the other one has ended.
const PAUSE: Duration = Duration::from_millis(10);

/// The longest text that is shown of a lock, in bytes.
const MAX_LENGTH: u64 = 1000;

/// The lock of a project. The system takes it from a process that has ended, however it ended.
pub(super) struct Lock {
    path: PathBuf,
    /// Locked for as long as it is open.
    _file: File,
}

impl Lock {
    /// Locks a project, and waits a moment where another process has done so.
    pub(super) fn take(folder: &Path, command: &str) -> Result<Self> {
        let path = folder.join(NAME);
        let start = Instant::now();
        loop {
            if let Some(lock) = Self::try_take(&path, command)? {
                return Ok(lock);
            }
            if start.elapsed() > PATIENCE {
                bail!("{}; nothing is written: run the command again when it has ended", holder(&path));
            }
            std::thread::sleep(PAUSE);
        }
    }

    fn try_take(path: &Path, command: &str) -> Result<Option<Self>> {
        let wrong = || {
            format!("{} cannot be written, which is there for as long as a command writes", place::path(path))
        };
        // A link or a pipe is none of ours.
        if fs::symlink_metadata(path).is_ok_and(|about| !about.is_file()) {
            bail!("{} is not a regular file: delete it", place::path(path));
        }
        let open = |writes: bool| {
            OpenOptions::new().read(true).write(writes).create(writes).truncate(false).open(path)
        };
        let (mut file, is_own) = match open(true) {
            // Of another user, whose command was stopped, or is at work.
            Err(error) if error.kind() == ErrorKind::PermissionDenied && path.exists() => {
                (open(false).with_context(wrong)?, false)
            }
            opened => (opened.with_context(wrong)?, true),
        };
        match file.try_lock() {
            Err(TryLockError::WouldBlock) => return Ok(None),
            locked => locked.with_context(wrong)?,
        }
        // Whoever had it before may have deleted it meanwhile.
        if !is_same(&file, path).with_context(wrong)? {
            return Ok(None);
        }
        if !is_own {
            fs::remove_file(path).with_context(wrong)?;
            return Ok(None);
        }
        let text = format!("process {}: crow-fly {command}\n", std::process::id());
        file.set_len(0).and_then(|()| file.write_all(text.as_bytes())).with_context(wrong)?;
        Ok(Some(Self { path: path.to_owned(), _file: file }))
    }
}

/// The folder of a project, locked: by commands that read it together, or by one that is between two files. Nothing is written
/// for it. Where a system cannot lock folders, readers may meet files of before and files of after.
pub(crate) struct FolderLock(
    #[expect(dead_code, reason = "it is locked for as long as it is open")] Option<File>,
);

impl FolderLock {
    /// Waits until no command is between two files.
    pub(super) fn for_reading(folder: &Path) -> Self {
        Self::take(folder, File::try_lock_shared).unwrap_or(Self(None))
    }

    /// Waits until nobody reads; none where somebody still does.
    pub(super) fn for_writing(folder: &Path) -> Option<Self> {
        Self::take(folder, File::try_lock)
    }

    fn take(folder: &Path, try_lock: impl Fn(&File) -> Result<(), TryLockError>) -> Option<Self> {
        let folder = if folder.as_os_str().is_empty() { Path::new(".") } else { folder };
        let Ok(file) = File::open(folder) else { return Some(Self(None)) };
        let start = Instant::now();
        loop {
            match try_lock(&file) {
                Ok(()) => return Some(Self(Some(file))),
                Err(TryLockError::WouldBlock) if start.elapsed() > PATIENCE => return None,
                Err(TryLockError::WouldBlock) => std::thread::sleep(PAUSE),
                Err(TryLockError::Error(_)) => return Some(Self(None)),
            }
        }
    }
}

impl Drop for Lock {
    fn drop(&mut self) {
        // Deleted while it is locked, so that nobody else has locked what is deleted.
        let _ = fs::remove_file(&self.path);
    }
}

fn is_same(file: &File, path: &Path) -> io::Result<bool> {
    match Handle::from_path(path) {
        Ok(there) => Ok(there == Handle::from_file(file.try_clone()?)?),
        Err(error) if error.kind() == ErrorKind::NotFound => Ok(false),
        Err(error) => Err(error),
    }
}

/// Who writes, and for how long.
fn holder(path: &Path) -> String {
    let mut text = String::new();
    let about = File::open(path).and_then(|file| {
        let about = file.metadata()?;
        file.take(MAX_LENGTH).read_to_string(&mut text)?;
        Ok(about)
    });
    let since = about.and_then(|about| about.modified()).ok().and_then(|time| time.elapsed().ok());
    let since = since.map(|time| format!(", for {} s", time.as_secs())).unwrap_or_default();
    match text.trim().split_once(": ") {
        Some((process, command)) => format!("{process} writes here{since} (`{command}`)"),
        None => format!("another process writes here{since}"),
    }
}
