//! A file of text that is changed: its line ends and its byte-order mark stay.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use anyhow::{Context, Result, ensure};

use crate::place;
use crate::reading;
use crate::writing::Change;

const MARK: char = '\u{feff}';

/// A file as it was read.
#[derive(Clone, Debug)]
pub(crate) struct TextFile {
    path: PathBuf,
    /// None where it does not exist.
    before: Option<Arc<[u8]>>,
    /// Its text without a byte-order mark; lines end in `\n`.
    text: String,
    has_mark: bool,
    ends: Ends,
}

/// How lines end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Ends {
    LineFeed,
    Both,
    Pair,
}

impl TextFile {
    /// A file that does not exist yet.
    pub(crate) fn new(path: impl Into<PathBuf>) -> Self {
        let ends = Ends::LineFeed;
        Self { path: path.into(), before: None, text: String::new(), has_mark: false, ends }
    }

    /// Reads a file.
    pub(crate) fn read(path: &Path) -> Result<Self> {
        Self::of(path, reading::bytes(path)?)
    }

    /// Reads a file, which may not exist.
    pub(crate) fn read_where_there(path: &Path) -> Result<Self> {
        reading::bytes_where_there(path)?.map_or_else(|| Ok(Self::new(path)), |bytes| Self::of(path, bytes))
    }

    /// A file with this content.
    pub(crate) fn of(path: impl Into<PathBuf>, bytes: impl Into<Arc<[u8]>>) -> Result<Self> {
        let (path, bytes): (PathBuf, Arc<[u8]>) = (path.into(), bytes.into());
        let text = std::str::from_utf8(&bytes)
            .with_context(|| format!("{} cannot be read: it is not UTF-8", place::path(&path)))?;
        let bare = text.strip_prefix(MARK).unwrap_or(text);
        let has_mark = bare.len() < text.len();
        let (all, pairs) = (bare.matches('\n').count(), bare.matches("\r\n").count());
        let ends = match pairs {
            0 => Ends::LineFeed,
            _ if pairs == all => Ends::Pair,
            _ => Ends::Both,
        };
        let text = bare.replace("\r\n", "\n");
        Ok(Self { path, before: Some(bytes), text, has_mark, ends })
    }

    pub(crate) fn path(&self) -> &Path {
        &self.path
    }

    /// Its text without a byte-order mark; lines end in `\n`.
    pub(crate) fn text(&self) -> &str {
        &self.text
    }

    pub(crate) const fn exists(&self) -> bool {
        self.before.is_some()
    }

    /// Whether its lines end in CR LF.
    pub(crate) fn ends_in_pairs(&self) -> bool {
        self.ends == Ends::Pair
    }

    /// The change to another text, whose lines end in `\n`; without one the file is deleted.
    ///
    /// # Errors
    /// Where its line ends cannot be kept.
    pub(crate) fn change(&self, text: Option<&str>) -> Result<Change> {
        ensure!(
            self.ends != Ends::Both || text.is_none(),
            "{} has lines that end in LF and lines that end in CR LF, which cannot be kept: save it with one of them first",
            place::path(&self.path)
        );
        let after = text.map(|text| {
            let mark = if self.has_mark { MARK.to_string() } else { String::new() };
            let text = if self.ends == Ends::Pair { text.replace('\n', "\r\n") } else { text.to_owned() };
            (mark + &text).into_bytes()
        });
        Ok(Change::new(&self.path, self.before.clone(), after))
    }
}
