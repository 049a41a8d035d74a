//! Language ranges: RFC 4647 §2.

use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use super::{LanguageTag, TagError, TagErrorKind};

/// A language range: a tag or the beginning of one, with `*` for any subtag: `de`, `zh-Hant`, `de-*-DE`, `*`.
///
/// ```
/// use crow_fly_core::tag::{LanguageRange, LanguageTag};
///
/// let range = LanguageRange::parse("de-*-DE")?;
/// assert!(range.matches_extended(&LanguageTag::parse("de-Latn-DE")?));
/// assert!(!range.matches_basic(&LanguageTag::parse("de-Latn-DE")?));
/// # Ok::<(), crow_fly_core::tag::TagError>(())
/// ```
#[derive(Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct LanguageRange {
    /// In lower case.
    text: String,
}

impl LanguageRange {
    /// Parses an extended language range (RFC 4647 §2.2): subtags of one to eight letters and digits, the first
    /// of letters only, each or any of them `*`.
    ///
    /// # Errors
    /// Where a subtag has none of those forms.
    pub fn parse(text: &str) -> Result<Self, TagError> {
        if text.is_empty() || text.len() > LanguageTag::MAX_LENGTH {
            return Err(TagError::new(TagErrorKind::Length, text, 0..text.len()));
        }
        let mut start = 0;
        for subtag in text.split('-') {
            let at = start..start + subtag.len();
            let kind = match subtag.len() {
                0 => Some(TagErrorKind::EmptySubtag),
                _ if subtag == "*" => None,
                9.. => Some(TagErrorKind::LongSubtag),
                _ if !subtag.bytes().all(|byte| byte.is_ascii_alphanumeric()) => {
                    Some(TagErrorKind::Character)
                }
                _ if start == 0 && !subtag.bytes().all(|byte| byte.is_ascii_alphabetic()) => {
                    Some(TagErrorKind::Language)
                }
                _ => None,
            };
            if let Some(kind) = kind {
                return Err(TagError::new(kind, text, at));
            }
            start = at.end + 1;
        }
        Ok(Self { text: text.to_ascii_lowercase() })
    }

    /// The range with its subtags in canonical form (UTS #35 annex C), which is the form that supported tags have: `he`
    /// for `iw`, `sr-latn` for `sh`. Of a range with wildcards inside, the language is replaced.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageRange;
    /// let canonical = |range| LanguageRange::parse(range).unwrap().canonicalized().to_string();
    /// assert_eq!(canonical("iw-IL"), "he-il");
    /// assert_eq!(canonical("por-*-BR"), "pt-*-br");
    /// ```
    #[must_use]
    pub fn canonicalized(&self) -> Self {
        let canonical =
            |text: &str| LanguageTag::parse_lenient(text).map(|tag| tag.as_canonical().to_string());
        let mut text = canonical(&self.text).or_else(|_| {
            let (language, rest) = self.text.split_at(self.text.find('-').unwrap_or(self.text.len()));
            canonical(language).map(|language| language + rest)
        });
        if let Ok(text) = &mut text {
            text.make_ascii_lowercase();
        }
        Self { text: text.unwrap_or_else(|_| self.text.clone()) }
    }

    /// The range in lower case.
    pub fn as_str(&self) -> &str {
        &self.text
    }

    /// Whether the tag begins with this range, at a subtag boundary (RFC 4647 §3.3.1).
    pub fn matches_basic(&self, tag: &LanguageTag) -> bool {
        basic(&self.text, &alloc::format!("{tag}"))
    }

    /// Whether the tag has this range's subtags in order, others between them allowed (RFC 4647 §3.3.2).
    pub fn matches_extended(&self, tag: &LanguageTag) -> bool {
        extended(&self.text, &alloc::format!("{tag}"))
    }

    /// The ranges that lookup tries in turn (RFC 4647 §3.4): truncated from the right, a single letter or digit
    /// that comes to stand last taken with it; wildcards are left out.
    pub fn truncations(&self) -> impl Iterator<Item = String> {
        let mut subtags: Vec<&str> = self.text.split('-').collect();
        // `*-DE` asks for nothing that lookup could find; other wildcards inside a range are skipped.
        if subtags.first() == Some(&"*") {
            subtags.clear();
        }
        subtags.retain(|subtag| *subtag != "*");
        core::iter::from_fn(move || {
            if subtags.is_empty() {
                return None;
            }
            let text = subtags.join("-");
            subtags.pop();
            while subtags.last().is_some_and(|subtag| subtag.len() == 1) {
                subtags.pop();
            }
            Some(text)
        })
    }
}

pub(crate) fn basic(range: &str, tag: &str) -> bool {
    if range == "*" {
        return true;
    }
    let head = tag.as_bytes().get(..range.len());
    head.is_some_and(|head| head.eq_ignore_ascii_case(range.as_bytes()))
        && matches!(tag.as_bytes().get(range.len()), None | Some(b'-'))
}

pub(crate) fn extended(range: &str, tag: &str) -> bool {
    let mut range = range.split('-');
    let mut tag = tag.split('-');
    let (Some(first_range), Some(first_tag)) = (range.next(), tag.next()) else { return false };
    if first_range != "*" && !first_range.eq_ignore_ascii_case(first_tag) {
        return false;
    }
    for wanted in range.filter(|subtag| *subtag != "*") {
        // Skip what is not wanted; a singleton ends the search, for what it opens is of another kind.
        let mut found = false;
        for subtag in tag.by_ref() {
            if subtag.eq_ignore_ascii_case(wanted) {
                found = true;
                break;
            }
            if subtag.len() == 1 {
                return false;
            }
        }
        if !found {
            return false;
        }
    }
    true
}

impl fmt::Display for LanguageRange {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.text)
    }
}

impl fmt::Debug for LanguageRange {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "LanguageRange({})", self.text)
    }
}

impl core::str::FromStr for LanguageRange {
    type Err = TagError;

    fn from_str(text: &str) -> Result<Self, TagError> {
        Self::parse(text)
    }
}
