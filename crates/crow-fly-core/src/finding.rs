//! What a check finds in catalogs: one shape for all rules, ready to be printed or written as JSON.

use alloc::string::String;
use core::fmt;

/// One thing a person should know about a catalog.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct Finding {
    /// The rule's stable name: `missing-key`, `unclosed-placeholder`.
    pub rule: &'static str,
    /// How much it matters.
    pub severity: Severity,
    /// The locale whose catalog it is about.
    pub locale: String,
    /// The section it is about.
    pub section: String,
    /// Where in the section's file; none where the thing is that something is not there.
    pub place: Option<Position>,
    /// The key within the section, where it is about one.
    pub key: Option<String>,
    /// What is the matter.
    pub text: String,
    /// What to do.
    pub help: String,
}

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// Good to know.
    Note,
    /// Visitors may see something odd.
    Warning,
    /// Visitors will see something wrong, or a fallback.
    Error,
}

impl fmt::Display for Severity {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Note => "note",
            Self::Warning => "warning",
            Self::Error => "error",
        })
    }
}

/// A place in a text: line and column, both from 1, columns in characters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
pub struct Position {
    /// The line.
    pub line: u32,
    /// The column.
    pub column: u32,
    /// How many characters are meant; at least one.
    pub length: u32,
}

impl Position {
    /// The position of a stretch of bytes.
    pub fn of(text: &str, range: core::ops::Range<usize>) -> Self {
        let count = |count: usize| u32::try_from(count).unwrap_or(u32::MAX);
        let before = text.get(..range.start).unwrap_or(text);
        let line_start = before.rfind('\n').map_or(0, |at| at + 1);
        let column = before.get(line_start..).unwrap_or_default().chars().count();
        // A stretch over several lines is marked to the end of its first.
        let meant = text.get(range).and_then(|meant| meant.split('\n').next()).unwrap_or_default();
        Self {
            line: count(before.matches('\n').count() + 1),
            column: count(column + 1),
            length: count(meant.chars().count().max(1)),
        }
    }
}

impl fmt::Display for Position {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}:{}", self.line, self.column)
    }
}
