//! Catalogs in TOML.

use alloc::borrow::{Cow, ToOwned};
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::ops::Range;

use smol_str::SmolStr;
use toml::de::{DeTable, DeValue};

use super::super::is_name;
use super::text::FileText;
use super::{SectionSource, SourceEntry, SourceProblemKind, plain};
use crate::finding::LineIndex;

/// How many keys that a file has twice are told apart from groups.
const MOST_LOOKED_AT: usize = 100;

impl SectionSource {
    pub(super) fn read_toml(&mut self) {
        match plain::read(&self.text) {
            Some(entries) => self.entries = entries,
            None => self.read_tree(),
        }
        self.add_notes();
    }

    /// Reads the tables of any file, with what is wrong in it.
    fn read_tree(&mut self) {
        let file = Arc::clone(&self.text);
        let (table, errors) = DeTable::parse_recoverable(&file);
        let mut twice = Vec::new();
        for error in errors {
            let (text, span) = (error.message().to_owned(), error.span().unwrap_or(0..0));
            if text == "duplicate key" {
                twice.push(span);
            } else if text.starts_with("cannot extend value of type string") {
                let name = self.text.get(span.clone()).unwrap_or_default();
                let text =
                    alloc::format!("`{name}` is a message and a group of messages: rename one of the two");
                self.problem(SourceProblemKind::KeyAndGroup, span, None, text);
            } else {
                self.problem(SourceProblemKind::FileSyntax, span, None, text);
            }
        }
        // Tables still to be read, with the key that leads to each, and how many names their members have.
        let mut open = alloc::vec![(SmolStr::default(), table.into_inner(), 1)];
        while let Some((group, table, names)) = open.pop() {
            self.entries.reserve(table.len());
            for (name, value) in table {
                let (place, name) = (name.span(), name.into_inner());
                if !is_name(&name) {
                    self.bad_name(&group, &name, place);
                    continue;
                }
                // The members of a group have one more.
                let names_within = names + usize::from(value.get_ref().is_table());
                let Some(key) = self.key(&group, &name, names_within, &place) else { continue };
                let span = value.span();
                match value.into_inner() {
                    // The parser goes on behind a mistake with an empty text that nobody has written.
                    DeValue::String(read)
                        if read.is_empty() && self.text.get(span.clone()).is_none_or(str::is_empty) => {}
                    DeValue::String(read) => {
                        let text = FileText::of(&self.text, read);
                        self.entries.push(SourceEntry { note: None, key, text, span });
                    }
                    DeValue::Table(table) => open.push((key, table, names_within)),
                    other => {
                        let text = alloc::format!("the value is {}, not a text", kind_of(&other));
                        self.problem(SourceProblemKind::NotText, span, Some(key.into()), text);
                    }
                }
            }
        }
        self.entries.sort_unstable_by_key(|entry| entry.span.start);
        // Each is looked for among all: of very many, the first ones are enough.
        for (at, span) in twice.into_iter().enumerate() {
            self.named_twice(span, at < MOST_LOOKED_AT);
        }
    }

    /// A key that the file has twice: as a message and as a group, or as the same one.
    fn named_twice(&mut self, span: Range<usize>, is_looked_at: bool) {
        let written = self.text.get(span.clone()).unwrap_or_default();
        let name = written.trim_matches(['"', '\'']).to_owned();
        let after = self.text.get(span.end..).unwrap_or_default().trim_start_matches([' ', '\t']);
        let is_group = after.starts_with(['.', ']']);
        // Of a message that a group has taken the place of, only the line is left.
        let before = self.text.get(..span.start).unwrap_or_default();
        let is_message = |line: &str| {
            let rest = line.trim_start().strip_prefix(written);
            rest.is_some_and(|rest| rest.trim_start().starts_with('='))
        };
        let has_group = |entry: &SourceEntry| entry.key().split('.').rev().skip(1).any(|part| part == name);
        let is_other = is_looked_at
            && if is_group { before.lines().any(is_message) } else { self.entries.iter().any(has_group) };
        if is_other {
            let text = alloc::format!("`{name}` is a message and a group of messages: rename one of the two");
            return self.problem(SourceProblemKind::KeyAndGroup, span, None, text);
        }
        let text = alloc::format!("the key `{name}` is there twice; the first one counts");
        self.problem(SourceProblemKind::DuplicateKey, span, None, text);
    }

    /// Gives each message the comment above it. Of several on one line the first has it: a comment is read once.
    fn add_notes(&mut self) {
        let (mut line, mut last) = (0, None);
        for entry in &mut self.entries {
            line = self.lines.line_from(line, entry.span.start);
            if last != Some(line) {
                entry.note = note(&self.text, &self.lines, line);
            }
            last = Some(line);
        }
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

/// The comment lines right above a line.
fn note(text: &Arc<str>, lines: &LineIndex, line: usize) -> Option<FileText> {
    let comment = |line: usize| {
        let comment = lines.text(text, line).trim_start().strip_prefix('#')?;
        Some(comment.strip_prefix(' ').unwrap_or(comment).trim_end())
    };
    let mut above = (0..line).rev().map_while(comment);
    let last = above.next()?;
    let mut lines: Vec<&str> = above.collect();
    // Mostly there is one.
    let read = if lines.is_empty() {
        Cow::Borrowed(last)
    } else {
        lines.reverse();
        lines.push(last);
        Cow::Owned(lines.join("\n"))
    };
    Some(FileText::of(text, read))
}

/// The offset in a TOML string, quotes included, of an offset in the text it stands for.
pub(super) fn raw_offset(raw: &str, offset: usize) -> usize {
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
