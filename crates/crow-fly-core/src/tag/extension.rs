//! Extensions: the `-u-` keywords and the `-t-` fields (UTS #35 part 1, §3.6 and §3.7).

use alloc::borrow::ToOwned;
use alloc::boxed::Box;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crow_fly_cldr::aliases;

use super::{LanguageTag, TagError, TagErrorKind};

/// A singleton and the subtags behind it, in lower case, joined by hyphens.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) struct Extension {
    pub(super) singleton: u8,
    pub(super) text: Box<str>,
}

impl Extension {
    /// The canonical text (UTS #35 annex C): keys sorted, the first of equal keys kept, old values replaced.
    pub(super) fn canonicalize(&mut self) {
        match self.singleton {
            b'u' => self.text = canonical_u(&self.text).into(),
            b't' => self.text = canonical_t(&self.text).into(),
            _ => {}
        }
    }
}

/// Key and value of each keyword of a `-u-` text.
pub(super) fn keywords(text: &str) -> impl Iterator<Item = (&str, &str)> {
    fields(text, is_key).1.into_iter()
}

/// The text with one keyword set or removed, and the keywords in order.
pub(super) fn with_keyword(text: &str, key: &str, value: Option<&str>) -> Result<String, TagError> {
    let key = key.to_ascii_lowercase();
    let value = value.map(str::to_ascii_lowercase);
    let alphanumeric = |part: &str| part.bytes().all(|byte| byte.is_ascii_alphanumeric());
    if !is_key(&key) || !alphanumeric(&key) {
        return Err(TagError::new(TagErrorKind::Keyword, &key, 0..key.len()));
    }
    if let Some(value) = value.as_deref().filter(|value| !value.is_empty())
        && !value.split('-').all(|part| (3..=8).contains(&part.len()) && alphanumeric(part))
    {
        return Err(TagError::new(TagErrorKind::Keyword, value, 0..value.len()));
    }
    let (head, mut fields) = fields(text, is_key);
    fields.retain(|(found, _)| *found != key);
    if let Some(value) = &value {
        let at = fields.partition_point(|(found, _)| *found < &*key);
        fields.insert(at, (&key, value));
    }
    Ok(joined(head, &fields))
}

fn is_key(subtag: &str) -> bool {
    subtag.len() == 2
}

fn is_field(subtag: &str) -> bool {
    matches!(subtag.as_bytes(), [letter, digit] if letter.is_ascii_alphabetic() && digit.is_ascii_digit())
}

/// What stands before the first key, and each key with its value.
fn fields(text: &str, is_key: fn(&str) -> bool) -> (&str, Vec<(&str, &str)>) {
    let mut starts = Vec::new();
    let mut at = 0;
    for subtag in text.split('-') {
        if is_key(subtag) {
            starts.push(at);
        }
        at += subtag.len() + 1;
    }
    let head =
        text.get(..starts.first().map_or(text.len(), |first| first.saturating_sub(1))).unwrap_or_default();
    let ends = starts.iter().skip(1).map(|next| next - 1).chain([text.len()]);
    let fields = starts
        .iter()
        .zip(ends)
        .map(|(start, end)| {
            (text.get(*start..start + 2).unwrap_or_default(), text.get(start + 3..end).unwrap_or_default())
        })
        .collect();
    (head, fields)
}

fn joined(head: &str, fields: &[(&str, &str)]) -> String {
    let mut text = head.to_owned();
    for part in fields.iter().flat_map(|(key, value)| [*key, *value]).filter(|part| !part.is_empty()) {
        if !text.is_empty() {
            text.push('-');
        }
        text.push_str(part);
    }
    text
}

fn sorted<'a>(mut fields: Vec<(&'a str, &'a str)>) -> Vec<(&'a str, &'a str)> {
    // Stable, so that of equal keys the first one written comes first and stays.
    fields.sort_by_key(|(key, _)| *key);
    fields.dedup_by_key(|(key, _)| *key);
    fields
}

fn replaced<'a>(extension: u8, key: &str, value: &'a str) -> &'a str {
    let code = key.as_bytes().first_chunk().copied().unwrap_or_default();
    aliases::value(extension, code, value).unwrap_or(value)
}

fn canonical_u(text: &str) -> String {
    let (attributes, fields) = fields(text, is_key);
    let mut attributes: Vec<&str> = attributes.split('-').filter(|attribute| !attribute.is_empty()).collect();
    attributes.sort_unstable();
    attributes.dedup();
    let mut fields = sorted(fields);
    for (key, value) in &mut fields {
        *value = replaced(b'u', key, value);
        if matches!(*key, "rg" | "sd") {
            *value = aliases::subdivision(value).unwrap_or(value);
        }
        if *value == "true" {
            *value = "";
        }
    }
    joined(&attributes.join("-"), &fields)
}

fn canonical_t(text: &str) -> String {
    let (language, fields) = fields(text, is_field);
    let mut fields = sorted(fields);
    for (key, value) in &mut fields {
        *value = replaced(b't', key, value);
    }
    let language = LanguageTag::parse(language).map_or_else(
        |_| language.to_owned(),
        |mut tag| {
            tag.canonicalize();
            tag.to_string().to_ascii_lowercase()
        },
    );
    joined(&language, &fields)
}
