//! Files that are read whole: regular ones, and only as much of them as there may be.

use std::fs::{self, File};
use std::io::{ErrorKind, Read};
use std::path::Path;

use anyhow::{Context, Result, bail, ensure};

use crate::place;

/// The largest file that is read, in bytes.
const MAX_LENGTH: u64 = 256 << 20;

/// The bytes of a file.
pub(crate) fn bytes(file: &Path) -> Result<Vec<u8>> {
    let shown = place::path(file);
    let wrong = || format!("{shown} cannot be read");
    // A pipe would be waited for, a device has no end: what it is, is asked before it is opened.
    if !fs::metadata(file).with_context(wrong)?.is_file() {
        bail!("{shown} cannot be read: it is not a regular file");
    }
    let mut bytes = Vec::new();
    File::open(file)
        .and_then(|file| file.take(MAX_LENGTH + 1).read_to_end(&mut bytes))
        .with_context(wrong)?;
    ensure!(bytes.len() as u64 <= MAX_LENGTH, "{shown} is too large: {MAX_LENGTH} bytes are read at most");
    Ok(bytes)
}

/// The bytes of a file; none where it does not exist.
pub(crate) fn bytes_where_there(file: &Path) -> Result<Option<Vec<u8>>> {
    match bytes(file) {
        Ok(bytes) => Ok(Some(bytes)),
        Err(error) if is_not_there(&error) => Ok(None),
        Err(error) => Err(error),
    }
}

/// The text of a file.
pub(crate) fn text(file: &Path) -> Result<String> {
    String::from_utf8(bytes(file)?)
        .with_context(|| format!("{} cannot be read: it is not UTF-8", place::path(file)))
}

fn is_not_there(error: &anyhow::Error) -> bool {
    error.downcast_ref::<std::io::Error>().is_some_and(|error| error.kind() == ErrorKind::NotFound)
}
