//! A section's file: keys, message sources and notes, with their places.

use alloc::borrow::ToOwned;
use alloc::string::String;
use alloc::vec::Vec;
use core::ops::Range;

use toml::de::{DeTable, DeValue};

use super::is_name;
use crate::finding::{FileFindings, LineIndex, Position};

/// A section as it is written: TOML, nested tables making dotted keys, comments above a key its note.
///
/// Reading never fails: what cannot be read is a [`SourceProblem`], and the rest is there.
#[derive(Clone, Debug, Default)]
pub struct SectionSource {
    text: String,
    lines: LineIndex,
    entries: Vec<SourceEntry>,
    problems: Vec<SourceProblem>,
    /// Problems past the first hundred, which are only counted.
    more_problems: usize,
}

/// One message of a section, unparsed.
#[derive(Clone, Debug)]
pub struct SourceEntry {
    key: String,
    text: String,
    note: Option<String>,
    /// The bytes of the value in the file, quotes included.
    span: Range<usize>,
}

/// Something in a section's file that cannot be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SourceProblem {
    pub(super) kind: SourceProblemKind,
    pub(super) place: Position,
    pub(super) key: Option<String>,
    pub(super) text: String,
}

/// The kinds of problems in a section's file.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum SourceProblemKind {
    /// The file is not well-formed.
    FileSyntax,
    /// A key has characters that keys cannot have.
    KeyName,
    /// A value is no text.
    NotText,
    /// The file is larger than is read.
    TooLarge,
}

impl SourceProblemKind {
    /// A stable name, as findings carry it.
    pub const fn id(self) -> &'static str {
        match self {
            Self::FileSyntax => "file-syntax",
            Self::KeyName => "key-name",
            Self::NotText => "not-text",
            Self::TooLarge => "too-large",
        }
    }

    /// What to do about it.
    pub const fn help(self) -> &'static str {
        match self {
            Self::FileSyntax => "correct the TOML; messages behind the mistake may be missing until then",
            Self::KeyName => "use ASCII letters, digits, `-` and `_`, and a table for a group",
            Self::NotText => "put the message in quotes",
            Self::TooLarge => "split the section into several files",
        }
    }
}

impl SourceEntry {
    /// The key within the section: `seats.left`.
    pub fn key(&self) -> &str {
        &self.key
    }

    /// The message's source.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// The comment above the key: a note to translators.
    pub fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    /// The place in the file of a stretch of the message's source.
    pub fn position(&self, source: &SectionSource, range: Range<usize>) -> Position {
        let raw = source.text.get(self.span.clone()).unwrap_or_default();
        let (start, end) =
            (self.span.start + raw_offset(raw, range.start), self.span.start + raw_offset(raw, range.end));
        source.lines.position(&source.text, start..end.max(start))
    }
}

impl SectionSource {
    /// The largest file that is read, in bytes.
    pub const MAX_LENGTH: usize = 8 * 1024 * 1024;

    /// Reads a section from TOML.
    pub fn from_toml(text: &str) -> Self {
        let mut source = Self::default();
        if text.len() > Self::MAX_LENGTH {
            source.problem(
                SourceProblemKind::TooLarge,
                0..0,
                None,
                alloc::format!("the file has {} bytes; {} are read at most", text.len(), Self::MAX_LENGTH),
            );
            return source;
        }
        source = Self { text: text.to_owned(), lines: LineIndex::of(text), ..source };
        let (table, errors) = DeTable::parse_recoverable(text);
        for error in errors {
            let text = error.message().to_owned();
            source.problem(SourceProblemKind::FileSyntax, error.span().unwrap_or(0..0), None, text);
        }
        // Tables still to be read, with the key that leads to each.
        let mut open = alloc::vec![(String::new(), table.into_inner())];
        while let Some((prefix, table)) = open.pop() {
            for (name, value) in table {
                let place = name.span();
                let name = name.into_inner();
                let key = if prefix.is_empty() {
                    name.clone().into_owned()
                } else {
                    alloc::format!("{prefix}.{name}")
                };
                if !is_name(&name) {
                    let text =
                        alloc::format!("`{}` is no name for a message or a group", name.escape_debug());
                    source.problem(SourceProblemKind::KeyName, place, Some(key), text);
                    continue;
                }
                let span = value.span();
                match value.into_inner() {
                    DeValue::String(text) => {
                        source.entries.push(SourceEntry { note: None, key, text: text.into_owned(), span });
                    }
                    DeValue::Table(table) => open.push((key, table)),
                    other => {
                        let text = alloc::format!("the value is {}, not a text", kind_of(&other));
                        source.problem(SourceProblemKind::NotText, span, Some(key), text);
                    }
                }
            }
        }
        source.entries.sort_by_key(|entry| entry.span.start);
        source.problems.sort_by_key(|problem| problem.place);
        source.add_notes();
        source
    }

    /// Gives each message the comment above it. Of several on one line the first has it: a comment is read once.
    fn add_notes(&mut self) {
        let mut last = None;
        for entry in &mut self.entries {
            let (line, line_start) = self.lines.line(entry.span.start);
            if last != Some(line) {
                entry.note = note(self.text.get(..line_start).unwrap_or_default());
            }
            last = Some(line);
        }
    }

    fn problem(&mut self, kind: SourceProblemKind, span: Range<usize>, key: Option<String>, text: String) {
        if self.problems.len() < FileFindings::MOST {
            let place = self.lines.position(&self.text, span);
            self.problems.push(SourceProblem { kind, place, key, text });
        } else {
            self.more_problems += 1;
        }
    }

    /// The messages, in the order of the file.
    pub fn entries(&self) -> &[SourceEntry] {
        &self.entries
    }

    /// What could not be read: the first hundred problems.
    pub fn problems(&self) -> &[SourceProblem] {
        &self.problems
    }

    /// How many more problems there are.
    pub(crate) const fn more_problems(&self) -> usize {
        self.more_problems
    }

    /// The file's text, for showing a line of it.
    pub fn text(&self) -> &str {
        &self.text
    }
}

fn kind_of(value: &DeValue<'_>) -> &'static str {
    match value {
        DeValue::Integer(_) | DeValue::Float(_) => "a number",
        DeValue::Boolean(_) => "`true` or `false`",
        DeValue::Datetime(_) => "a date",
        DeValue::Array(_) => "a list",
        DeValue::String(_) | DeValue::Table(_) => "a text",
    }
}

/// The comment lines that end a text: those right above a key.
fn note(above: &str) -> Option<String> {
    let mut lines: Vec<&str> = above
        .lines()
        .rev()
        .map_while(|line| line.trim_start().strip_prefix('#'))
        .map(|line| line.strip_prefix(' ').unwrap_or(line).trim_end())
        .collect();
    lines.reverse();
    (!lines.is_empty()).then(|| lines.join("\n"))
}

/// The offset in a TOML string, quotes included, of an offset in the text it stands for.
fn raw_offset(raw: &str, offset: usize) -> usize {
    let (delimiter, literal) = match raw.as_bytes() {
        [b'\'', b'\'', b'\'', ..] => (3, true),
        [b'"', b'"', b'"', ..] => (3, false),
        [b'\'', ..] => (1, true),
        _ => (1, false),
    };
    let mut at = delimiter;
    let rest = |at: usize| raw.get(at..).unwrap_or_default();
    if delimiter == 3 {
        // A line break right behind the opening quotes is not part of the text.
        at += if rest(at).starts_with("\r\n") { 2 } else { usize::from(rest(at).starts_with('\n')) };
    }
    let mut decoded = 0;
    while decoded < offset {
        let Some(next) = rest(at).chars().next() else { break };
        let (read, gives) = match (literal, next) {
            (false, '\\') => escape(rest(at)),
            _ => (next.len_utf8(), next.len_utf8()),
        };
        // Toml hands out `\n` for a line break of either kind.
        if next == '\r' && rest(at).starts_with("\r\n") {
            at += 1;
            continue;
        }
        at += read;
        decoded += gives;
    }
    at
}

/// How many bytes an escape takes, and how many the text it stands for.
fn escape(raw: &str) -> (usize, usize) {
    let hex = |digits: usize| {
        let code = raw.get(2..2 + digits).and_then(|digits| u32::from_str_radix(digits, 16).ok());
        (2 + digits, code.and_then(char::from_u32).map_or(1, char::len_utf8))
    };
    match raw.as_bytes().get(1) {
        Some(b'x') => hex(2),
        Some(b'u') => hex(4),
        Some(b'U') => hex(8),
        Some(b' ' | b'\t' | b'\r' | b'\n') => {
            // A line ends in a backslash: it and the white space behind it vanish.
            let blank = raw.get(1..).unwrap_or_default();
            (1 + blank.len() - blank.trim_start_matches([' ', '\t', '\r', '\n']).len(), 0)
        }
        _ => (2, 1),
    }
}
