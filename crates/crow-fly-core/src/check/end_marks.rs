//! The mark at the end of a text: the same as in the default locale, as the language writes it.

use alloc::borrow::ToOwned;
use alloc::format;

use unicode_script::{Script, UnicodeScript};

use super::languages::Language;
use super::parsed::Place;
use super::spaces::texts;
use crate::message::Message;
use crate::message::model::{Element, Operand, Pattern};
use crate::rule::Rule;
use crate::tag::LanguageTag;

/// What a text ends with.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum EndMark {
    None,
    Stop,
    Question,
    Exclamation,
    Colon,
    Ellipsis,
    /// A placeholder: what it ends with is not known.
    Open,
}

impl EndMark {
    fn of(pattern: &Pattern, language: &str) -> Self {
        for element in pattern.iter().rev() {
            let text = match element {
                Element::Text(text) => text.trim_end_matches(closes),
                Element::Markup(_) => continue,
                Element::Expression(_) => return Self::Open,
            };
            let Some(last) = text.chars().next_back() else { continue };
            return match last {
                '.' if text.ends_with("...") => Self::Ellipsis,
                '.' | '。' | '．' | '｡' | '।' | '॥' | '۔' | '։' | '።' | '។' => Self::Stop,
                '?' | '？' | '؟' | '⸮' | '\u{37e}' => Self::Question,
                ';' if language == "el" => Self::Question,
                '!' | '！' => Self::Exclamation,
                ':' | '：' | '׃' => Self::Colon,
                '…' | '⋯' => Self::Ellipsis,
                _ => Self::None,
            };
        }
        Self::None
    }

    /// One bit of a set of marks.
    const fn bit(self) -> u8 {
        1 << self as u8
    }

    const fn name(self) -> &'static str {
        match self {
            Self::None | Self::Open => "no mark",
            Self::Stop => "a full stop",
            Self::Question => "a question mark",
            Self::Exclamation => "an exclamation mark",
            Self::Colon => "a colon",
            Self::Ellipsis => "an ellipsis",
        }
    }
}

/// Quotes and brackets that close, and white space.
fn closes(letter: char) -> bool {
    "\"'”’“‘»«›‹)]」』】）\u{2069}\u{200e}\u{200f}".contains(letter) || letter.is_whitespace()
}

/// Compares the marks at the end of a text with the default locale's.
pub(super) fn beside(place: &mut Place<'_, '_>, message: &Message, reference: &Message, tag: &LanguageTag) {
    let language = tag.language();
    let language = language.as_str();
    // Armenian has its question and exclamation marks inside of the word; ordinals have marks of their own.
    if language == "hy" || selects_ordinals(message) {
        return;
    }
    let own = || message.patterns().map(|pattern| EndMark::of(pattern, language));
    let other = || reference.patterns().map(|pattern| EndMark::of(pattern, "en"));
    let bits = |marks: u8, mark: EndMark| marks | mark.bit();
    let mut known = other().fold(0, bits);
    if known & EndMark::Open.bit() != 0 {
        return;
    }
    match language {
        // Thai and its neighbours write sentences without marks; where they ask, a word does.
        "th" | "lo" | "km" | "my" | "bo" | "dz"
            if known & (EndMark::Stop.bit() | EndMark::Question.bit() | EndMark::Exclamation.bit()) != 0 =>
        {
            known |= EndMark::None.bit() | EndMark::Open.bit();
        }
        // A quiet sentence is the more polite one.
        "ja" | "zh" | "yue" | "ko" if known & EndMark::Exclamation.bit() != 0 => known |= EndMark::Stop.bit(),
        _ => {}
    }
    // Where the default locale has a text without a mark, a placeholder may end this one.
    if known & EndMark::None.bit() != 0 {
        known |= EndMark::Open.bit();
    }
    let Some(mark) = own().find(|mark| known & mark.bit() == 0) else { return };
    let Some(wanted) = other().next() else { return };
    place.find(Rule::EndMark, || {
        (
            format!("the text ends with {}, in the default locale with {}", mark.name(), wanted.name()),
            "end it the same way, as its language writes that".to_owned(),
        )
    });
}

/// Checks that a text ends with a mark as its language writes it.
pub(super) fn alone(place: &mut Place<'_, '_>, message: &Message, language: &Language<'_>) {
    for pattern in message.patterns() {
        if let Some((mark, wanted)) = wrong_mark(pattern, language.tag) {
            return place.find_text(Rule::EndMark, mark, || {
                (format!("`{mark}` is not written so in this language"), wanted.to_owned())
            });
        }
    }
}

/// The mark at the end that the language does not write so, and what it writes.
fn wrong_mark<'p>(pattern: &'p Pattern, tag: &LanguageTag) -> Option<(&'p str, &'static str)> {
    let Some(Element::Text(last)) = pattern.iter().rfind(|element| !matches!(element, Element::Markup(_)))
    else {
        return None;
    };
    let last = last.trim_end_matches(closes);
    let (at, mark) = last.char_indices().next_back()?;
    let before = last.get(..at)?;
    let letter = before.chars().next_back();
    let is_of = |scripts: &[Script]| letter.is_some_and(|letter| scripts.contains(&letter.script()));
    let language = tag.language();
    let wanted = match (language.as_str(), mark) {
        ("ar" | "fa" | "ur" | "ps" | "ckb" | "sd" | "ug", '?') if is_of(&[Script::Arabic]) => {
            "write the Arabic question mark, `؟`"
        }
        ("el", '?') if is_of(&[Script::Greek]) => "write `;`, the Greek question mark",
        ("ja" | "zh" | "yue", '.') if is_of(&[Script::Han, Script::Hiragana, Script::Katakana]) => {
            "write `。`"
        }
        // A short word is an abbreviation.
        ("th", '.')
            if before.chars().rev().take_while(|letter| letter.script() == Script::Thai).count() > 4 =>
        {
            "delete it: Thai sentences end without a mark"
        }
        ("es", '?') if !texts(pattern).any(|text| text.contains('¿')) => "begin the question with `¿`",
        ("es", '!') if !texts(pattern).any(|text| text.contains('¡')) => "begin the exclamation with `¡`",
        // Others write it without, in Canada and Switzerland.
        ("fr", '?' | '!' | ':' | ';')
            if tag.region().is_none_or(|region| !matches!(region.as_str(), "CA" | "CH"))
                && letter.map_or(pattern.len() > 1, |letter| {
                    letter.is_alphanumeric() || closes(letter) && !letter.is_whitespace()
                }) =>
        {
            "write a no-break space before it: U+202F, before a colon U+00A0"
        }
        _ => return None,
    };
    Some((last.get(at..)?, wanted))
}

fn selects_ordinals(message: &Message) -> bool {
    let functions = message.expressions().filter_map(|expression| expression.function.as_ref());
    let ordinal = Operand::Literal("ordinal".into());
    functions
        .flat_map(|function| &function.options)
        .any(|option| option.name == "select" && option.value == ordinal)
}
