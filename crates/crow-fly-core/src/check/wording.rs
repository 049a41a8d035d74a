//! The words of a text, compared with the default locale's: white space, end marks, length, scripts, what was not translated.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::String;

use super::languages::Language;
use super::parsed::{Facts, ParsedMessage, Place, max_length};
use super::script::{Scripts, look_alike};
use super::spaces::texts;
use super::white_space;
use crate::message::Message;
use crate::message::model::{Element, Pattern};
use crate::rule::Rule;
use crate::tag::LanguageTag;

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

/// Compares a text with the default locale's.
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
    length(place, message, max_length(parsed.entry.note()));
    if own.signs.beyond_ascii {
        foreign_letters(place, message, other, &language.scripts);
    }
}

/// Whether some pattern says nothing at all.
pub(super) fn is_blank(message: &Message) -> bool {
    message.patterns().any(|pattern| {
        pattern.iter().all(|element| matches!(element, Element::Text(text) if text.trim().is_empty()))
    })
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

/// Letters of a script that the language is not written in, and that the default locale has not either.
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
