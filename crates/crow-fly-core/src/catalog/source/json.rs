//! Catalogs in JSON (RFC 8259), with the places of values: `serde_json` hands each value out as the stretch of the text
//! that it is.

use alloc::borrow::{Cow, ToOwned};
use alloc::string::ToString;
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::fmt;
use core::ops::Range;

use hashbrown::{HashMap, HashSet};
use serde::Deserializer as _;
use serde::de::{MapAccess, Visitor};
use serde_json::value::RawValue;
use smol_str::SmolStr;

use super::super::is_name;
use super::text::{FileText, span};
use super::{SectionSource, SourceEntry, SourceProblemKind};

impl SectionSource {
    pub(super) fn read_json(&mut self) {
        let file = Arc::clone(&self.text);
        let text = &*file;
        // Objects still to be read, with the key that leads to each, where each begins, and how many names that key has.
        let mut open = alloc::vec![(SmolStr::default(), text, 0, 0)];
        while let Some((group, object, start, names)) = open.pop() {
            let mut members = Vec::new();
            let mut reader = serde_json::Deserializer::from_str(object);
            let read = reader.deserialize_map(Members(&mut members)).and_then(|()| reader.end());
            if let Err(error) = read {
                // Only the whole text can have an error: what stands inside has been read with it.
                let at = start + self.lines.offset(error.line(), error.column());
                let said = error.to_string();
                let said = said.split(" at line ").next().unwrap_or_default();
                self.problem(
                    SourceProblemKind::FileSyntax,
                    at.min(text.len())..at.min(text.len()),
                    None,
                    said.to_owned(),
                );
            }
            for (name, value) in members {
                let (value, place) = (value.get(), span(text, value.get()));
                if !name.split('.').all(is_name) {
                    self.bad_name(&group, &name, place);
                    continue;
                }
                let is_group = value.starts_with('{');
                let names = names + name.split('.').count();
                // The members of a group have one more.
                let Some(key) = self.key(&group, &name, names + usize::from(is_group), &place) else {
                    continue;
                };
                if is_group {
                    open.push((key, value, place.start, names));
                } else {
                    self.member(key, value, place);
                }
            }
        }
        self.entries.sort_unstable_by_key(|entry| entry.span.start);
        self.find_conflicts();
    }

    fn member(&mut self, key: SmolStr, value: &str, span: Range<usize>) {
        if let Ok(Text(text)) = serde_json::from_str(value) {
            let text = FileText::of(&self.text, text);
            self.entries.push(SourceEntry { note: None, key, text, span });
        } else {
            let text = alloc::format!("the value is {}, not a text", kind_of(value));
            self.problem(SourceProblemKind::NotText, span, Some(key.into()), text);
        }
    }

    /// Finds keys that are there twice, and keys that are groups as well: in JSON both can be written.
    fn find_conflicts(&mut self) {
        let mut problems = Vec::new();
        let mut lines = HashMap::new();
        for entry in &self.entries {
            if let Some(first) = lines.insert(entry.key.as_str(), self.line(entry)) {
                let text = alloc::format!("the key `{}` is there twice, first in line {first}", entry.key);
                problems.push((
                    SourceProblemKind::DuplicateKey,
                    entry.span.clone(),
                    entry.key.to_string(),
                    text,
                ));
            }
        }
        let mut told = HashSet::new();
        for entry in &self.entries {
            for (at, _) in entry.key.match_indices('.') {
                let group = entry.key.get(..at).unwrap_or_default();
                if let Some(line) = lines.get(group).filter(|_| told.insert(group)) {
                    let text = alloc::format!("`{group}` is a group here, and a message in line {line}");
                    problems.push((
                        SourceProblemKind::KeyAndGroup,
                        entry.span.clone(),
                        group.to_owned(),
                        text,
                    ));
                }
            }
        }
        drop((lines, told));
        for (kind, span, key, text) in problems {
            self.problem(kind, span, Some(key), text);
        }
    }
}

/// Collects the members of an object: those before a mistake, too.
struct Members<'m, 'j>(&'m mut Vec<(Cow<'j, str>, &'j RawValue)>);

impl<'j> Visitor<'j> for Members<'_, 'j> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an object of messages")
    }

    fn visit_map<A: MapAccess<'j>>(self, mut map: A) -> Result<(), A::Error> {
        while let Some(Text(name)) = map.next_key()? {
            self.0.push((name, map.next_value()?));
        }
        Ok(())
    }
}

/// A string, borrowed where it has no escapes.
#[derive(serde::Deserialize)]
struct Text<'j>(#[serde(borrow)] Cow<'j, str>);

fn kind_of(value: &str) -> &'static str {
    match value.as_bytes().first() {
        Some(b't' | b'f') => "`true` or `false`",
        Some(b'n') => "`null`",
        Some(b'[') => "a list",
        Some(b'"') => "a text with a broken escape",
        _ => "a number",
    }
}

/// The offset in a JSON string, quotes included, of an offset in the text it stands for.
pub(super) fn raw_offset(raw: &str, offset: usize) -> usize {
    let mut at = 1;
    let mut decoded = 0;
    while decoded < offset {
        let rest = raw.get(at..).unwrap_or_default();
        let Some(next) = rest.chars().next() else { break };
        let (read, gives) = if next == '\\' { escape(rest) } else { (next.len_utf8(), next.len_utf8()) };
        at += read;
        decoded += gives;
    }
    at
}

/// How many bytes an escape takes, and how many the text it stands for.
fn escape(raw: &str) -> (usize, usize) {
    let unit = |from: usize| {
        let digits = raw.get(from..from + 6)?.strip_prefix("\\u")?;
        u16::from_str_radix(digits, 16).ok()
    };
    let Some(first) = unit(0) else { return (2, 1) };
    match char::decode_utf16([first, unit(6).unwrap_or_default()]).next() {
        Some(Ok(letter)) => (6 * letter.len_utf16(), letter.len_utf8()),
        _ => (6, 1),
    }
}
