//! What a server has fetched of releases, for its next start.

use std::collections::{BTreeMap, HashSet};
use std::fs::{self, File};
use std::io::{self, ErrorKind, Read, Write};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};

use tokio::task::spawn_blocking;

use super::id::{ReleaseId, Sha256Hash};
use super::store::Activation;

/// The folder in the cache's folder that is this program's own: what is not needed any more is deleted there, and nowhere
/// else, whatever folder was named.
const FOLDER: &str = "fetched-releases";

/// The largest note of the last release, in bytes.
const MAX_NOTE: u64 = 4096;

/// Files and manifests by their hashes, and a note of the last release: in a folder, or in memory.
#[derive(Clone, Debug)]
pub(super) enum Cache {
    Folder(PathBuf),
    Memory(Arc<Mutex<BTreeMap<String, Vec<u8>>>>),
}

impl Default for Cache {
    fn default() -> Self {
        Self::Memory(Arc::default())
    }
}

impl Cache {
    /// A cache in a folder, which is made where it does not exist. Only its owner can read it.
    pub(super) fn in_folder(folder: &Path) -> io::Result<(Self, Access)> {
        make_private(folder)?;
        let own = folder.join(FOLDER);
        make_private(&own)?;
        let access = Access::of(folder)?.max(Access::of(&own)?);
        if access == Access::Everybody {
            let text = "everybody can write in it, and so decide what visitors read: take that right away, or name another folder";
            return Err(io::Error::new(ErrorKind::PermissionDenied, text));
        }
        Ok((Self::Folder(own), access))
    }

    /// The name of a file.
    pub(super) fn file(hash: Sha256Hash) -> String {
        format!("files/{hash}")
    }

    /// The name of a manifest.
    pub(super) fn release(id: ReleaseId) -> String {
        format!("releases/{id}.json")
    }

    /// Reads something of at most so many bytes; none where it is not there, or is not what it should be.
    pub(super) async fn read(&self, name: &str, most: u64) -> Option<Vec<u8>> {
        match self {
            Self::Memory(objects) => {
                objects.lock().unwrap_or_else(PoisonError::into_inner).get(name).cloned()
            }
            Self::Folder(folder) => {
                let path = folder.join(name);
                spawn_blocking(move || read(&path, most)).await.ok()?.ok()
            }
        }
    }

    pub(super) async fn write(&self, name: &str, bytes: Vec<u8>) -> io::Result<()> {
        match self {
            Self::Memory(objects) => {
                objects.lock().unwrap_or_else(PoisonError::into_inner).insert(name.to_owned(), bytes);
                Ok(())
            }
            Self::Folder(folder) => {
                let path = folder.join(name);
                spawn_blocking(move || write(&path, &bytes)).await.map_err(io::Error::other)?
            }
        }
    }

    /// Drops all files and manifests but some.
    pub(super) async fn retain(&self, kept: HashSet<String>) -> io::Result<()> {
        match self {
            Self::Memory(objects) => {
                let mut objects = objects.lock().unwrap_or_else(PoisonError::into_inner);
                objects.retain(|name, _| !name.contains('/') || kept.contains(name));
                Ok(())
            }
            Self::Folder(folder) => {
                let folder = folder.clone();
                spawn_blocking(move || retain(&folder, &kept)).await.map_err(io::Error::other)?
            }
        }
    }

    /// Notes which release a server had last.
    pub(super) async fn note_last(&self, activation: &Activation) -> io::Result<()> {
        let note = serde_json::to_vec(&(activation.number(), activation.release()));
        self.write("last.json", note.map_err(io::Error::other)?).await
    }

    /// The release that a server had last.
    pub(super) async fn last(&self) -> Option<Activation> {
        let note = self.read("last.json", MAX_NOTE).await?;
        let (number, release) = serde_json::from_slice(&note).ok()?;
        Some(Activation::new(number, release))
    }
}

/// Who can write in a folder beside its owner.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Access {
    Nobody,
    Group,
    Everybody,
}

impl Access {
    #[cfg(unix)]
    fn of(folder: &Path) -> io::Result<Self> {
        use std::os::unix::fs::PermissionsExt;

        let mode = fs::metadata(folder)?.permissions().mode();
        Ok(match (mode & 0o002, mode & 0o020) {
            (0, 0) => Self::Nobody,
            (0, _) => Self::Group,
            _ => Self::Everybody,
        })
    }

    #[cfg(not(unix))]
    fn of(_: &Path) -> io::Result<Self> {
        Ok(Self::Nobody)
    }
}

/// Makes a folder that only its owner can use; one that is there stays as it is.
fn make_private(folder: &Path) -> io::Result<()> {
    let mut builder = fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder.create(folder)
}

/// Reads a regular file. A pipe would be waited for: what it is, is asked before it is opened.
fn read(path: &Path, most: u64) -> io::Result<Vec<u8>> {
    let wrong = |text: &str| Err(io::Error::other(text.to_owned()));
    if !fs::metadata(path)?.is_file() {
        return wrong("it is not a regular file");
    }
    let mut bytes = Vec::new();
    File::open(path)?.take(most.saturating_add(1)).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > most { wrong("it is too long") } else { Ok(bytes) }
}

/// Writes a file whole: beside it, then renamed. It is not flushed: what a crash leaves is checked by its hash when it is read.
fn write(path: &Path, bytes: &[u8]) -> io::Result<()> {
    if let Some(folder) = path.parent() {
        make_private(folder)?;
    }
    let beside = path.with_extension(format!("{:016x}~", fastrand::u64(..)));
    let written = File::create_new(&beside).and_then(|mut file| {
        file.write_all(bytes)?;
        fs::rename(&beside, path)
    });
    if written.is_err() {
        let _ = fs::remove_file(&beside);
    }
    written
}

fn retain(folder: &Path, kept: &HashSet<String>) -> io::Result<()> {
    for part in ["files", "releases"] {
        let entries = match fs::read_dir(folder.join(part)) {
            Ok(entries) => entries,
            Err(error) if error.kind() == ErrorKind::NotFound => continue,
            Err(error) => return Err(error),
        };
        for entry in entries {
            let entry = entry?;
            let name = format!("{part}/{}", entry.file_name().to_string_lossy());
            if !kept.contains(&name) && entry.file_type()?.is_file() {
                fs::remove_file(entry.path())?;
            }
        }
    }
    Ok(())
}
