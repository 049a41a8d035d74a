//! Places in files, as people and editors read them.

use std::fmt;
use std::path::Path;

use crow_fly_core::finding::Position;
use serde::Serialize;

/// A place in a file, in the form that editors open: `catalogs/en/home.toml:23:8`. Lines and columns count from 1, columns in
/// characters.
#[derive(Clone, Debug, Serialize)]
pub(crate) struct Place {
    pub(crate) file: String,
    pub(crate) line: u32,
    pub(crate) column: u32,
}

impl Place {
    pub(crate) fn new(file: impl Into<String>, position: Position) -> Self {
        Self { file: file.into(), line: position.line, column: position.column }
    }
}

impl fmt::Display for Place {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}:{}:{}", self.file, self.line, self.column)
    }
}

/// What is wrong at a place of a file.
#[derive(Debug)]
pub(crate) struct Misplaced {
    pub(crate) place: Place,
    pub(crate) text: String,
}

impl Misplaced {
    /// Something wrong in a line, counted from 1.
    pub(crate) fn in_line(file: impl fmt::Display, line: u32, text: impl Into<String>) -> Self {
        Self { place: Place { file: file.to_string(), line, column: 1 }, text: text.into() }
    }
}

impl fmt::Display for Misplaced {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.place, self.text)
    }
}

impl std::error::Error for Misplaced {}

/// A path as it is shown: without `./`.
pub(crate) fn path(path: &Path) -> String {
    path.strip_prefix(".").unwrap_or(path).display().to_string()
}
