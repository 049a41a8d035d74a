//! The words of a text beside those of the reference: white space, end marks, length, scripts, what was not translated.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;

use super::parsed::{Facts, ParsedMessage, Place, max_length};
use super::script::{Scripts, look_alike};
use super::spaces::texts;
use super::white_space;
use crate::message::Message;
use crate::message::model::{Element, Operand, Pattern};
use crate::rule::Rule;
use crate::tag::LanguageTag;

/// A locale whose texts are looked at.
pub(super) struct Language<'l> {
    pub(super) tag: &'l LanguageTag,
    pub(super) scripts: Scripts,
    /// Whether the reference is in the same language.
    pub(super) is_of_reference: bool,
}

/// Checks what needs no reference.
pub(super) fn alone(place: &mut Place<'_, '_>, message: &Message, language: &Language<'_>) {
    for pattern in message.patterns() {
        for text in texts(pattern) {
            to_do(place, text, language.tag);
            if text.is_ascii() {
                continue;
            }
            for word in text.split(|letter: char| !letter.is_alphabetic()) {
                if let Some(letter) = look_alike(word) {
                    place.find_text(Rule::LookAlike, word, || {
                        (
                            format!(
                                "`{word}` has U+{:04X}, a letter of another script that looks alike",
                                u32::from(letter)
                            ),
                            "write the word again, on the keyboard of its language".to_owned(),
                        )
                    });
                }
            }
        }
    }
}

fn to_do(place: &mut Place<'_, '_>, text: &str, tag: &LanguageTag) {
    // All marks are written in capitals.
    let bytes = text.as_bytes();
    let capitals = bytes.iter().zip(bytes.iter().skip(1));
    if !capitals.into_iter().any(|(one, next)| one.is_ascii_uppercase() && next.is_ascii_uppercase()) {
        return;
    }
    for mark in ["TODO", "FIXME", "TBD", "XXX"] {
        let is_here = |at: &usize| bytes.get(*at..).is_some_and(|rest| rest.starts_with(mark.as_bytes()));
        let first = mark.bytes().next().unwrap_or_default();
        let Some(at) = memchr::memchr_iter(first, bytes).find(is_here) else { continue };
        let is_letter = |letter: char| letter.is_alphanumeric();
        let (before, behind) =
            (text.get(..at).unwrap_or_default(), text.get(at + mark.len()..).unwrap_or_default());
        let is_word = !before.ends_with(is_letter) && !behind.starts_with(is_letter);
        // In Spanish and the languages near it, `TODO` is a word: "all".
        let is_all =
            mark == "TODO" && matches!(tag.language().as_str(), "es" | "pt" | "gl" | "ast" | "an" | "it");
        if is_word && (!is_all || behind.starts_with(':')) {
            place.find_text(Rule::ToDo, mark, || {
                (format!("the text has `{mark}`"), "finish the text, or delete the mark".to_owned())
            });
        }
    }
}

/// Checks a text beside that of the reference.
pub(super) fn beside(
    place: &mut Place<'_, '_>,
    (own, message): (&Facts, &Message),
    reference: (&ParsedMessage<'_>, &Message),
    language: &Language<'_>,
) {
    let (parsed, other) = reference;
    if is_blank(message) && !is_blank(other) {
        place.find(Rule::BlankText, || {
            (
                "the text is empty".to_owned(),
                "write it, or delete the key: the chain supplies the text".to_owned(),
            )
        });
        return;
    }
    white_space::check(place, own.spaces, parsed.facts.spaces);
    end_marks(place, message, other, language.tag);
    length(place, message, max_length(parsed.entry.note()));
    if own.signs.beyond_ascii {
        foreign_letters(place, message, other, &language.scripts);
    }
    if !language.is_of_reference {
        untranslated(place, message, other);
    }
}

/// Whether some pattern says nothing at all.
fn is_blank(message: &Message) -> bool {
    message.patterns().any(|pattern| {
        pattern.iter().all(|element| matches!(element, Element::Text(text) if text.trim().is_empty()))
    })
}

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
        let closes = |letter: char| {
            "\"'”’“‘»«›‹)]」』】）\u{2069}\u{200e}\u{200f}".contains(letter) || letter.is_whitespace()
        };
        for element in pattern.iter().rev() {
            let text = match element {
                Element::Text(text) => text.trim_end_matches(closes),
                Element::Markup(_) => continue,
                Element::Expression(_) => return Self::Open,
            };
            let Some(last) = text.chars().next_back() else { continue };
            return match last {
                '.' if text.ends_with("...") => Self::Ellipsis,
                '.' | '。' | '．' | '｡' | '।' | '॥' | '۔' | '։' | '።' | '។' | '။' => {
                    Self::Stop
                }
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

fn end_marks(place: &mut Place<'_, '_>, message: &Message, reference: &Message, tag: &LanguageTag) {
    let language = tag.language();
    let language = language.as_str();
    // Armenian has its question and exclamation marks inside of the word; ordinals have marks of their own.
    if language == "hy" || selects_ordinals(message) {
        return;
    }
    let own = || message.patterns().map(|pattern| EndMark::of(pattern, language));
    let other = || reference.patterns().map(|pattern| EndMark::of(pattern, "en"));
    let bits = |marks: u8, mark: EndMark| marks | mark.bit();
    let known = other().fold(0, bits);
    let all = own().fold(known, bits);
    if all == known || all & EndMark::Open.bit() != 0 {
        return;
    }
    let has_no_stops = matches!(language, "th" | "lo" | "km" | "my" | "bo" | "dz");
    let Some(mark) = own().find(|mark| known & mark.bit() == 0) else { return };
    let Some(wanted) = other().next() else { return };
    // Thai and its neighbours write sentences without marks; where they ask, a word does.
    if has_no_stops && mark == EndMark::None {
        return;
    }
    place.find(Rule::EndMark, || {
        (
            format!("the text ends with {}, that of the reference with {}", mark.name(), wanted.name()),
            "end it the same way, as its language writes that".to_owned(),
        )
    });
}

fn selects_ordinals(message: &Message) -> bool {
    let functions = message.expressions().filter_map(|expression| expression.function.as_ref());
    let ordinal = Operand::Literal("ordinal".into());
    functions
        .flat_map(|function| &function.options)
        .any(|option| option.name == "select" && option.value == ordinal)
}

fn length(place: &mut Place<'_, '_>, message: &Message, most: Option<usize>) {
    let Some(most) = most else { return };
    let count = |pattern: &Pattern| -> usize { texts(pattern).map(|text| text.chars().count()).sum() };
    let longest = message.patterns().map(count).max().unwrap_or_default();
    if longest > most {
        place.find(Rule::LongerThanNoted, || {
            (
                format!("the text has {longest} characters, and its note allows {most}"),
                "find a shorter one; placeholders are not counted".to_owned(),
            )
        });
    }
}

/// Letters of a script that the language is not written in, and that the reference has not either.
fn foreign_letters(place: &mut Place<'_, '_>, message: &Message, reference: &Message, scripts: &Scripts) {
    for text in message.patterns().flat_map(texts).filter(|text| !text.is_ascii()) {
        // A letter by itself is a sign: of a unit, of an angle.
        let is_foreign = |word: &&str| word.chars().filter(|letter| scripts.is_foreign(*letter)).count() > 1;
        let Some(word) = text.split(|letter: char| !letter.is_alphabetic()).find(is_foreign) else {
            continue;
        };
        let is_mixed = look_alike(word).is_some();
        if is_mixed || reference.patterns().flat_map(texts).any(|text| text.contains(word)) {
            continue;
        }
        return place.find_text(Rule::OtherScript, word, || {
            (
                format!("`{word}` is not written in a script of this language"),
                "see whether the text is of another language".to_owned(),
            )
        });
    }
}

/// Whether a message is prose in Latin letters.
pub(super) fn has_only_latin(message: &Message) -> bool {
    message.patterns().all(is_latin_prose)
}

/// The text and the help of a finding about that.
pub(super) fn only_latin(count: usize) -> (String, String) {
    let text = if count == 1 {
        "the text has only Latin words".to_owned()
    } else {
        format!("this and {} more of the section have only Latin words", count - 1)
    };
    (text, "see whether the text is of another language".to_owned())
}

/// Whether a pattern has only words in Latin letters, and several that are not names.
fn is_latin_prose(pattern: &Pattern) -> bool {
    let has_other = |text: &str| text.chars().any(|letter| letter.is_alphabetic() && !letter.is_ascii());
    let is_word = |word: &&str| word.len() > 1 && word.bytes().all(|byte| byte.is_ascii_lowercase());
    let count = texts(pattern).flat_map(|text| text.split(' ')).filter(is_word).count();
    count > 2 && !texts(pattern).any(has_other)
}

/// A text that is that of the reference, but for case and end marks.
fn untranslated(place: &mut Place<'_, '_>, message: &Message, reference: &Message) {
    let (mut own, mut other) = (message.patterns(), reference.patterns());
    // Patterns are compared one by one: a text with other forms has been worked on.
    let same = own.by_ref().zip(other.by_ref()).all(|(own, other)| is_same(own, other));
    if !same || own.next().is_some() || other.next().is_some() {
        return;
    }
    let words: Vec<String> = reference.patterns().flat_map(texts).flat_map(words).collect();
    // Names are the same in every language: a word by itself, or words that all begin with a capital.
    let is_name = |word: &String| word.chars().next().is_some_and(|letter| !letter.is_lowercase());
    if words.len() < 2 || words.iter().all(is_name) {
        return;
    }
    place.find(Rule::Untranslated, || {
        (
            "the text is that of the reference".to_owned(),
            "translate it, or leave it out: the chain supplies it".to_owned(),
        )
    });
}

/// Whether two patterns say the same, but for case and end marks.
fn is_same(one: &Pattern, other: &Pattern) -> bool {
    let is_said = |element: &&Element| !matches!(element, Element::Markup(_));
    let (mut one, mut other) =
        (one.iter().filter(is_said).peekable(), other.iter().filter(is_said).peekable());
    while let (Some(element), Some(next)) = (one.next(), other.next()) {
        let (Element::Text(text), Element::Text(same)) = (element, next) else {
            if matches!((element, next), (Element::Expression(_), Element::Expression(_))) {
                continue;
            }
            return false;
        };
        let is_last = one.peek().is_none() && other.peek().is_none();
        let bare = |text: &'_ str| {
            if is_last {
                text.trim_end_matches(|letter: char| !letter.is_alphanumeric()).len()
            } else {
                text.len()
            }
        };
        let (text, same) =
            (text.get(..bare(text)).unwrap_or_default(), same.get(..bare(same)).unwrap_or_default());
        let is_equal = if text.is_ascii() && same.is_ascii() {
            text.eq_ignore_ascii_case(same)
        } else {
            text.chars().flat_map(char::to_lowercase).eq(same.chars().flat_map(char::to_lowercase))
        };
        if !is_equal {
            return false;
        }
    }
    one.next().is_none() && other.next().is_none()
}

/// The words of a text that have more than one letter.
fn words(text: &str) -> impl Iterator<Item = String> {
    let words = text.split(|letter: char| !letter.is_alphabetic() && letter != '\'' && letter != '’');
    words
        .filter(|word| word.chars().filter(|letter| letter.is_alphabetic()).count() > 1)
        .map(ToOwned::to_owned)
}
