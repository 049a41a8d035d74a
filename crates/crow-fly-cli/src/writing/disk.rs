//! The file system, as far as files are changed. Tests replace it by one that fails and stops.

use std::fs::{self, File, Metadata, OpenOptions};
use std::io::{self, Write};
use std::path::Path;

/// What changes files and folders. Nothing is safe from a crash before it is flushed: the content of a file by `flush`, names
/// by `flush_folder`.
pub(crate) trait Disk {
    /// Makes a file that does not exist, with this content.
    fn create(&self, file: &Path, bytes: &[u8]) -> io::Result<()>;

    /// Gives a file the owner and the permissions of another one.
    fn make_like(&self, file: &Path, model: &Metadata) -> io::Result<()>;

    /// Waits until the content of a file is stored.
    fn flush(&self, file: &Path) -> io::Result<()>;

    /// Gives a file another name, in place of the file that has it.
    fn rename(&self, from: &Path, to: &Path) -> io::Result<()>;

    /// Deletes a file.
    fn remove(&self, file: &Path) -> io::Result<()>;

    /// Makes a folder in a folder that exists.
    fn create_folder(&self, folder: &Path) -> io::Result<()>;

    /// Deletes a folder that is empty.
    fn remove_folder(&self, folder: &Path) -> io::Result<()>;

    /// Waits until the names in a folder are stored.
    fn flush_folder(&self, folder: &Path) -> io::Result<()>;
}

/// The file system of this machine.
pub(crate) struct RealDisk;

impl Disk for RealDisk {
    fn create(&self, file: &Path, bytes: &[u8]) -> io::Result<()> {
        OpenOptions::new().write(true).create_new(true).open(file)?.write_all(bytes)
    }

    fn make_like(&self, file: &Path, model: &Metadata) -> io::Result<()> {
        keep_owner(file, model)?;
        fs::set_permissions(file, model.permissions())
    }

    fn flush(&self, file: &Path) -> io::Result<()> {
        // Windows stores nothing for whoever only reads.
        OpenOptions::new().read(true).write(cfg!(windows)).open(file)?.sync_all()
    }

    fn rename(&self, from: &Path, to: &Path) -> io::Result<()> {
        fs::rename(from, to)
    }

    fn remove(&self, file: &Path) -> io::Result<()> {
        fs::remove_file(file)
    }

    fn create_folder(&self, folder: &Path) -> io::Result<()> {
        fs::create_dir(folder)
    }

    fn remove_folder(&self, folder: &Path) -> io::Result<()> {
        fs::remove_dir(folder)
    }

    fn flush_folder(&self, folder: &Path) -> io::Result<()> {
        // Windows has no folders that can be flushed: it stores names by itself.
        if cfg!(unix) { File::open(folder)?.sync_all() } else { Ok(()) }
    }
}

#[cfg(unix)]
fn keep_owner(file: &Path, model: &Metadata) -> io::Result<()> {
    use std::os::unix::fs::{MetadataExt, chown};

    let own = fs::metadata(file)?;
    let wanted = |own: u32, model: u32| (own != model).then_some(model);
    let (user, group) = (wanted(own.uid(), model.uid()), wanted(own.gid(), model.gid()));
    if user.is_none() && group.is_none() {
        return Ok(());
    }
    chown(file, user, group).map_err(|error| {
        let text = format!("its owner (user {}, group {}) cannot be kept: {error}", model.uid(), model.gid());
        io::Error::new(error.kind(), text)
    })
}

#[cfg(not(unix))]
fn keep_owner(_: &Path, _: &Metadata) -> io::Result<()> {
    Ok(())
}
