//! Why a text is no language tag.

use alloc::string::String;
use core::fmt;
use core::ops::Range;

/// Why a text is not a well-formed language tag, and which subtag is at fault.
///
/// ```
/// # use crow_fly_core::tag::{LanguageTag, TagErrorKind};
/// let error = LanguageTag::parse("en-UK1").unwrap_err();
/// assert_eq!(error.kind(), TagErrorKind::Misplaced);
/// assert_eq!(error.range(), 3..6);
/// assert_eq!(error.to_string(), "`UK1` fits no place of a language tag here: after the language come script, region and variants");
/// ```
#[derive(Clone, PartialEq, Eq)]
pub struct TagError {
    kind: TagErrorKind,
    start: usize,
    end: usize,
    subtag: String,
}

/// What is wrong with a text that is no language tag.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum TagErrorKind {
    /// The text is empty, or longer than is read.
    Length,
    /// Two hyphens meet, or one stands at an end.
    EmptySubtag,
    /// A subtag has more than eight characters.
    LongSubtag,
    /// A character is no ASCII letter, digit or hyphen.
    Character,
    /// The first subtag is no language: two to eight letters.
    Language,
    /// A subtag has the form of nothing that may stand at its place.
    Misplaced,
    /// A variant stands twice.
    DuplicateVariant,
    /// An extension stands twice.
    DuplicateSingleton,
    /// An extension or `x` has nothing behind it.
    EmptyExtension,
    /// A `-u-` key or value has a form they cannot have.
    Keyword,
}

impl TagError {
    pub(super) fn new(kind: TagErrorKind, text: &str, range: Range<usize>) -> Self {
        // An error is shown and logged: of a hostile text only the beginning is kept.
        let subtag = text.get(range.clone()).unwrap_or(text).chars().take(32).collect();
        Self { kind, start: range.start, end: range.end, subtag }
    }

    /// The kind of fault.
    pub const fn kind(&self) -> TagErrorKind {
        self.kind
    }

    /// The bytes of the text that are at fault.
    pub const fn range(&self) -> Range<usize> {
        self.start..self.end
    }
}

impl fmt::Display for TagError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let subtag = self.subtag.escape_debug();
        match self.kind {
            TagErrorKind::Length if self.end == 0 => f.write_str("a language tag cannot be empty"),
            TagErrorKind::Length => f.write_str("the text is too long for a language tag"),
            TagErrorKind::EmptySubtag => {
                write!(f, "there is nothing between or beside the hyphens at byte {}", self.start)
            }
            TagErrorKind::LongSubtag => {
                write!(f, "`{subtag}` is longer than the eight characters a subtag may have")
            }
            TagErrorKind::Character => {
                write!(f, "`{subtag}` has a character other than ASCII letters, digits and hyphens")
            }
            TagErrorKind::Language => {
                write!(f, "`{subtag}` is no language: a tag begins with two to eight letters")
            }
            TagErrorKind::Misplaced => {
                write!(
                    f,
                    "`{subtag}` fits no place of a language tag here: after the language come script, region and variants"
                )
            }
            TagErrorKind::DuplicateVariant => write!(f, "the variant `{subtag}` stands twice"),
            TagErrorKind::DuplicateSingleton => write!(f, "the extension `{subtag}` stands twice"),
            TagErrorKind::EmptyExtension => write!(f, "`{subtag}` has nothing behind it"),
            TagErrorKind::Keyword => write!(
                f,
                "`{subtag}` is no `-u-` keyword: a key has two characters, each part of a value three to eight"
            ),
        }
    }
}

crate::debug_as_shown!(TagError);

impl core::error::Error for TagError {}
