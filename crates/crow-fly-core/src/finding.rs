//! What a check finds in catalogs: one shape for all rules, ready to be printed or written as JSON.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;
use core::ops::Range;

use crate::rule::Rule;
pub use crate::rule::Severity;

/// One thing a person should know about a catalog.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct Finding {
    /// The rule.
    pub rule: Rule,
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
    /// The file or the folder that it is about, where that is not the section's file.
    #[serde(skip)]
    pub file: Option<String>,
    /// A change of the file that does it, where that is mechanical.
    #[serde(skip)]
    pub fix: Option<Fix>,
}

/// A change of a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fix {
    /// The bytes that are replaced; none of them where something is added. A byte-order mark is not counted.
    pub range: Range<usize>,
    /// What stands in their place.
    pub text: String,
}

impl Finding {
    /// A finding about a file or a folder as a whole, as severe as its rule. Locale and section are empty where it belongs to none.
    pub fn of_file(
        rule: Rule,
        locale: &str,
        section: &str,
        text: impl Into<String>,
        help: impl Into<String>,
    ) -> Self {
        let (locale, section) = (locale.to_owned(), section.to_owned());
        Self {
            rule,
            severity: rule.severity(),
            locale,
            section,
            place: None,
            key: None,
            text: text.into(),
            help: help.into(),
            file: None,
            fix: None,
        }
    }
}

impl Finding {
    /// The same about a file or a folder that is not the section's file.
    #[must_use]
    pub fn about(self, file: impl Into<String>) -> Self {
        Self { file: Some(file.into()), ..self }
    }
}

/// In one line: `cy/home:3:9: a placeholder is not closed`.
impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if !self.section.is_empty() {
            write!(f, "{}/{}", self.locale, self.section)?;
            if let Some(place) = self.place {
                write!(f, ":{place}")?;
            }
            f.write_str(": ")?;
        }
        f.write_str(&self.text)
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
    /// The position of a stretch of bytes in a text.
    pub fn of(text: &str, range: Range<usize>) -> Self {
        LineIndex::of(text).position(text, range)
    }
}

/// Where the lines of a text begin: found once, so that a position takes no walk through the text.
#[derive(Clone, Debug, Default)]
pub(crate) struct LineIndex {
    /// The first byte of each line but the first.
    starts: Vec<usize>,
}

impl LineIndex {
    pub(crate) fn of(text: &str) -> Self {
        // Room for lines of 32 bytes: it is cheaper than growth.
        let mut starts = Vec::with_capacity(text.len() / 32);
        starts.extend(memchr::memchr_iter(b'\n', text.as_bytes()).map(|at| at + 1));
        Self { starts }
    }

    /// The line of a byte, from 0, and where that line begins.
    pub(crate) fn line(&self, at: usize) -> (usize, usize) {
        let line = self.starts.partition_point(|start| *start <= at);
        (line, line.checked_sub(1).and_then(|last| self.starts.get(last)).copied().unwrap_or(0))
    }

    /// The line of a byte, from 0, where it is known not to be before another line.
    pub(crate) fn line_from(&self, line: usize, at: usize) -> usize {
        let behind = self.starts.get(line..).unwrap_or_default();
        line + behind.iter().take_while(|start| **start <= at).count()
    }

    /// The text of a line, counted from 0, with what ends it.
    pub(crate) fn text<'t>(&self, text: &'t str, line: usize) -> &'t str {
        let start = |line: usize| line.checked_sub(1).map_or(Some(0), |line| self.starts.get(line).copied());
        let begin = start(line).unwrap_or(text.len());
        text.get(begin..start(line + 1).unwrap_or(text.len())).unwrap_or_default()
    }

    /// The byte at a line and a column, both from 1, columns in bytes.
    pub(crate) fn offset(&self, line: usize, column: usize) -> usize {
        let start = line.checked_sub(2).and_then(|line| self.starts.get(line)).copied().unwrap_or(0);
        start + column.saturating_sub(1)
    }

    /// The position of a stretch of bytes of the text.
    pub(crate) fn position(&self, text: &str, range: Range<usize>) -> Position {
        let count = |count: usize| u32::try_from(count).unwrap_or(u32::MAX);
        let (line, line_start) = self.line(range.start);
        let column = text.get(line_start..range.start).unwrap_or_default().chars().count();
        // A stretch over several lines is marked to the end of its first.
        let meant = text.get(range).and_then(|meant| meant.split('\n').next()).unwrap_or_default();
        Position {
            line: count(line + 1),
            column: count(column + 1),
            length: count(meant.chars().count().max(1)),
        }
    }
}

/// The findings of one file: the first hundred, and how many more there are.
///
/// A finding past those is counted and not made, so that a file of mistakes only costs no more than a good one.
#[derive(Debug)]
pub(crate) struct FileFindings<'f> {
    locale: &'f str,
    section: &'f str,
    list: Vec<Finding>,
    more: usize,
    /// The severest of those that were only counted.
    severity: Severity,
}

impl<'f> FileFindings<'f> {
    /// How many findings of a file are kept.
    pub(crate) const MOST: usize = 100;

    pub(crate) const fn new(locale: &'f str, section: &'f str) -> Self {
        Self { locale, section, list: Vec::new(), more: 0, severity: Severity::Note }
    }

    /// Adds a finding, which is only made where it is kept.
    pub(crate) fn add(&mut self, severity: Severity, make: impl FnOnce() -> Finding) {
        if self.list.len() < Self::MOST {
            self.list.push(make());
        } else {
            self.count(1, severity);
        }
    }

    /// Counts findings that were not made.
    pub(crate) fn count(&mut self, more: usize, severity: Severity) {
        if more > 0 {
            self.more += more;
            self.severity = self.severity.max(severity);
        }
    }

    /// The findings, with a last one that tells how many more there are.
    pub(crate) fn finish(mut self) -> Vec<Finding> {
        if self.more > 0 {
            self.list.push(Finding {
                rule: Rule::MoreFindings,
                severity: self.severity,
                locale: self.locale.to_owned(),
                section: self.section.to_owned(),
                place: None,
                key: None,
                text: match self.more {
                    1 => "one more finding in this file is not shown".to_owned(),
                    more => format!("{more} more findings in this file are not shown"),
                },
                help: "correct those that are shown, then check again".to_owned(),
                file: None,
                fix: None,
            });
        }
        self.list
    }
}

impl fmt::Display for Position {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}:{}", self.line, self.column)
    }
}
