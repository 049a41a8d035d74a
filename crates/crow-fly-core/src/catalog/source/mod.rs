//! A catalog's file: keys, message sources and notes, with their places.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeMap;
use alloc::string::{String, ToString};
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::ops::Range;

use smol_str::{SmolStr, SmolStrBuilder};

use crate::finding::{FileFindings, LineIndex, Position};
use crate::rule::Rule;

mod json;
mod plain;
mod text;
mod toml;

use text::FileText;

/// How a catalog's file is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
#[non_exhaustive]
pub enum FileFormat {
    /// TOML: nested tables make dotted keys, comments above a key are its note.
    Toml,
    /// JSON (RFC 8259): nested objects make dotted keys, and keys may be dotted themselves. It has no notes.
    Json,
}

impl FileFormat {
    /// All formats.
    pub const ALL: &'static [Self] = &[Self::Toml, Self::Json];

    /// The extension of a file's name: `toml`, `json`.
    pub const fn extension(self) -> &'static str {
        match self {
            Self::Toml => "toml",
            Self::Json => "json",
        }
    }
}

/// A section, or all sections of a locale, as they are written.
///
/// Reading never fails: what cannot be read is a [`SourceProblem`], and the rest is there.
#[derive(Clone, Debug, Default)]
pub struct SectionSource {
    format: Option<FileFormat>,
    text: Arc<str>,
    lines: Arc<LineIndex>,
    entries: Vec<SourceEntry>,
    problems: Vec<SourceProblem>,
    /// Problems past the first hundred, which are only counted.
    more_problems: usize,
    has_byte_order_mark: bool,
}

/// One message of a section, unparsed.
#[derive(Clone, Debug)]
pub struct SourceEntry {
    key: SmolStr,
    text: FileText,
    note: Option<FileText>,
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
    /// A value is not a text.
    NotText,
    /// The file is larger than is read.
    TooLarge,
    /// The file is not UTF-8.
    Encoding,
    /// Two messages have the same key.
    DuplicateKey,
    /// A key is a message and a group of messages.
    KeyAndGroup,
    /// Groups stand in groups too deeply, or a key is too long.
    TooDeep,
    /// In a file with all sections of a locale, a message stands outside of a section.
    NoSection,
}

impl SourceProblemKind {
    /// The rule that it breaks.
    pub const fn rule(self) -> Rule {
        match self {
            Self::FileSyntax => Rule::FileSyntax,
            Self::KeyName => Rule::KeyName,
            Self::NotText => Rule::NotText,
            Self::TooLarge => Rule::TooLarge,
            Self::Encoding => Rule::Encoding,
            Self::DuplicateKey => Rule::DuplicateKey,
            Self::KeyAndGroup => Rule::KeyAndGroup,
            Self::TooDeep => Rule::TooDeep,
            Self::NoSection => Rule::NoSection,
        }
    }

    /// What to do about it.
    pub const fn help(self) -> &'static str {
        match self {
            Self::FileSyntax => "correct the file; messages after the mistake may be missing until then",
            Self::KeyName => "use ASCII letters, digits, `-` and `_`, and a table for a group",
            Self::NotText => "put the message in quotes",
            Self::TooLarge => "split the section into several files",
            Self::Encoding => "save the file as UTF-8",
            Self::DuplicateKey => "delete one of the two",
            Self::KeyAndGroup => "rename one of the two: a message is not a group",
            Self::TooDeep => "use fewer levels of groups",
            Self::NoSection => "put it into a table whose name is that of the section",
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
        self.text.as_str()
    }

    /// The comment above the key: a note to translators.
    pub fn note(&self) -> Option<&str> {
        self.note.as_ref().map(FileText::as_str)
    }

    /// Whether its note has the line `untranslated`: a place to be filled, which is not used until then.
    pub fn is_untranslated(&self) -> bool {
        self.note().is_some_and(|note| note.lines().any(|line| line.trim() == Self::UNTRANSLATED))
    }

    /// The line of a note that marks a text as not translated yet: `untranslated`.
    pub const UNTRANSLATED: &str = "untranslated";

    /// The place in the file of a stretch of the message's source.
    pub fn position(&self, source: &SectionSource, range: Range<usize>) -> Position {
        source.lines.position(&source.text, self.bytes(source, range))
    }

    /// The bytes in the file of a stretch of the message's source.
    pub fn bytes(&self, source: &SectionSource, range: Range<usize>) -> Range<usize> {
        let raw = source.text.get(self.span.clone()).unwrap_or_default();
        let offset = |offset| match source.format {
            Some(FileFormat::Json) => json::raw_offset(raw, offset),
            _ => toml::raw_offset(raw, offset),
        };
        let (start, end) = (self.span.start + offset(range.start), self.span.start + offset(range.end));
        start..end.max(start)
    }
}

impl SectionSource {
    /// The largest file that is read, in bytes.
    pub const MAX_LENGTH: usize = 8 * 1024 * 1024;

    /// How many names a key may have: that of the message, and those of the groups that it stands in.
    pub const MAX_DEPTH: usize = 32;

    /// The longest key that is read, in bytes. A file has each of its messages under the names of their groups, which it may
    /// write once: without a bound, a small file would take a great deal of memory.
    pub const MAX_KEY_LENGTH: usize = 256;

    /// Reads a file. It must be UTF-8; a byte-order mark is skipped.
    pub fn read(bytes: &[u8], format: FileFormat) -> Self {
        match core::str::from_utf8(bytes) {
            Ok(text) => Self::parse(text, format),
            Err(error) => Self::not_utf8(bytes, error.valid_up_to(), format),
        }
    }

    /// Reads a section from TOML.
    pub fn from_toml(text: &str) -> Self {
        Self::parse(text, FileFormat::Toml)
    }

    /// A message as a line of a TOML file.
    ///
    /// ```
    /// use crow_fly_core::catalog::SectionSource;
    ///
    /// assert_eq!(SectionSource::toml_line("seats.left", "\"Seats\" left"), "seats.left = \"\\\"Seats\\\" left\"\n");
    /// ```
    pub fn toml_line(key: &str, text: &str) -> String {
        // Keys are bare keys of TOML. A string of JSON is one of TOML, except for one control character.
        let text = serde_json::Value::from(text).to_string().replace('\u{7f}', "\\u007f");
        alloc::format!("{key} = {text}\n")
    }

    /// Reads a section from JSON.
    ///
    /// ```
    /// use crow_fly_core::catalog::SectionSource;
    ///
    /// let source = SectionSource::from_json(r#"{ "title": "Ferries", "seats": { "left": "Seats left" }, "seats.none": "Full" }"#);
    /// let keys: Vec<&str> = source.entries().iter().map(|entry| entry.key()).collect();
    /// assert_eq!(keys, ["title", "seats.left", "seats.none"]);
    /// ```
    pub fn from_json(text: &str) -> Self {
        Self::parse(text, FileFormat::Json)
    }

    fn parse(text: &str, format: FileFormat) -> Self {
        let unmarked = text.strip_prefix('\u{feff}');
        let has_byte_order_mark = unmarked.is_some();
        let text = unmarked.unwrap_or(text);
        let mut source = Self { format: Some(format), has_byte_order_mark, ..Self::default() };
        if text.len() > Self::MAX_LENGTH {
            source.problem(
                SourceProblemKind::TooLarge,
                0..0,
                None,
                alloc::format!("the file has {} bytes; {} are read at most", text.len(), Self::MAX_LENGTH),
            );
            return source;
        }
        source.text = text.into();
        source.lines = Arc::new(LineIndex::of(text));
        match format {
            FileFormat::Toml => source.read_toml(),
            FileFormat::Json => source.read_json(),
        }
        source.problems.sort_by_key(|problem| problem.place);
        source
    }

    /// A file in another encoding: what can be read of it is only there to be shown.
    fn not_utf8(bytes: &[u8], valid: usize, format: FileFormat) -> Self {
        let text = match bytes {
            [0xff, 0xfe, ..] | [0xfe, 0xff, ..] => "the file is UTF-16, not UTF-8".to_owned(),
            _ => alloc::format!("the file is not UTF-8: byte {} does not belong to a character", valid + 1),
        };
        let start = bytes.get(..valid).and_then(|start| core::str::from_utf8(start).ok()).unwrap_or_default();
        let mut source = Self {
            format: Some(format),
            text: start.into(),
            lines: Arc::new(LineIndex::of(start)),
            ..Self::default()
        };
        source.problem(SourceProblemKind::Encoding, valid..valid, None, text);
        source
    }

    /// Takes a file as that of a whole locale, whose first groups are its sections: a message outside of them is a
    /// problem.
    #[must_use]
    pub fn with_all_sections(mut self) -> Self {
        let (inside, outside): (Vec<_>, Vec<_>) =
            core::mem::take(&mut self.entries).into_iter().partition(|entry| entry.key.contains('.'));
        self.entries = inside;
        for SourceEntry { key, span, .. } in outside {
            let text = alloc::format!("the message `{key}` stands outside of a section");
            self.problem(SourceProblemKind::NoSection, span, Some(key.into()), text);
        }
        self
    }

    /// The sections of a file that has all of them, by name; what could not be read stands under an empty name.
    pub fn into_sections(self) -> BTreeMap<String, Self> {
        let Self { format, text, lines, entries, problems, more_problems, has_byte_order_mark } =
            self.with_all_sections();
        let of = |entries, problems, more_problems| Self {
            format,
            text: Arc::clone(&text),
            lines: Arc::clone(&lines),
            entries,
            problems,
            more_problems,
            has_byte_order_mark,
        };
        let mut sections: BTreeMap<String, Vec<SourceEntry>> = BTreeMap::new();
        for mut entry in entries {
            let Some((section, key)) = entry.key.split_once('.') else { continue };
            let (section, key) = (section.to_owned(), key.into());
            entry.key = key;
            sections.entry(section).or_default().push(entry);
        }
        let mut sections: BTreeMap<String, Self> =
            sections.into_iter().map(|(name, entries)| (name, of(entries, Vec::new(), 0))).collect();
        if !problems.is_empty() {
            sections.insert(String::new(), of(Vec::new(), problems, more_problems));
        }
        sections
    }

    /// Whether something of the file could not be read, or two things in it have one name, so that messages may be missing.
    pub fn is_broken(&self) -> bool {
        let breaks = |problem: &SourceProblem| {
            matches!(
                problem.kind,
                SourceProblemKind::FileSyntax
                    | SourceProblemKind::Encoding
                    | SourceProblemKind::TooLarge
                    | SourceProblemKind::DuplicateKey
                    | SourceProblemKind::KeyAndGroup
            )
        };
        self.problems.iter().any(breaks)
    }

    fn problem(&mut self, kind: SourceProblemKind, span: Range<usize>, key: Option<String>, text: String) {
        if self.problems.len() < FileFindings::MOST {
            let place = self.lines.position(&self.text, span);
            self.problems.push(SourceProblem { kind, place, key, text });
        } else {
            self.more_problems += 1;
        }
    }

    /// The key of a message or a group that has so many names; none, with the problem, where it has more of them than are
    /// read, or is too long.
    fn key(&mut self, group: &str, name: &str, names: usize, place: &Range<usize>) -> Option<SmolStr> {
        let dot = usize::from(!group.is_empty());
        let length = group.len() + dot + name.len();
        let text = if names > Self::MAX_DEPTH {
            alloc::format!("`{}` stands more than {} levels deep", short(group, name), Self::MAX_DEPTH)
        } else if length > Self::MAX_KEY_LENGTH {
            let most = Self::MAX_KEY_LENGTH;
            alloc::format!("the key `{}` has {length} bytes; {most} are read at most", short(group, name))
        } else if group.is_empty() {
            return Some(name.into());
        } else {
            let mut key = SmolStrBuilder::new();
            for part in [group, ".", name] {
                key.push_str(part);
            }
            return Some(key.finish());
        };
        self.problem(SourceProblemKind::TooDeep, place.clone(), Some(short(group, name)), text);
        None
    }

    /// Records a text that cannot name a message or a group.
    fn bad_name(&mut self, group: &str, name: &str, place: Range<usize>) {
        let text =
            alloc::format!("`{}` is not a name for a message or a group", short("", name).escape_debug());
        self.problem(SourceProblemKind::KeyName, place, Some(short(group, name)), text);
    }

    /// Whether the file begins with a byte-order mark.
    pub(crate) const fn has_byte_order_mark(&self) -> bool {
        self.has_byte_order_mark
    }

    /// The messages, in the order of the file.
    pub fn entries(&self) -> &[SourceEntry] {
        &self.entries
    }

    /// The line of each message, from 1.
    pub fn entry_lines(&self) -> impl Iterator<Item = u32> {
        let mut line = 0;
        self.entries.iter().map(move |entry| {
            line = self.lines.line_from(line, entry.span.start);
            u32::try_from(line + 1).unwrap_or(u32::MAX)
        })
    }

    /// The line of a message, from 1.
    pub(crate) fn line(&self, entry: &SourceEntry) -> u32 {
        u32::try_from(self.lines.line(entry.span.start).0 + 1).unwrap_or(u32::MAX)
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

/// A key, for people: the beginning of one that is very long.
fn short(group: &str, name: &str) -> String {
    let key = if group.is_empty() { name.to_owned() } else { alloc::format!("{group}.{name}") };
    match key.char_indices().nth(SHOWN) {
        Some((end, _)) => alloc::format!("{}…", key.get(..end).unwrap_or_default()),
        None => key,
    }
}

/// How many characters of a key are shown.
const SHOWN: usize = 64;
