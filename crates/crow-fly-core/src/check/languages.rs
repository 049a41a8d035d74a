//! What checks know of languages: which ones write many texts alike, and where nouns keep their form after a number.

use super::script::Scripts;
use crate::tag::LanguageTag;

/// A locale whose texts are looked at.
pub(super) struct Language<'l> {
    pub(super) tag: &'l LanguageTag,
    pub(super) scripts: Scripts,
    /// Whether its texts have forms for whole millions: few care.
    pub(super) has_forms_of_millions: bool,
    /// The default locale.
    pub(super) reference: &'l LanguageTag,
}

impl Language<'_> {
    /// Whether the default locale is in the same language.
    pub(super) fn is_of_reference(&self) -> bool {
        self.tag.language() == self.reference.language()
    }

    /// Whether the default locale's language writes many texts alike.
    pub(super) fn is_kin_of_reference(&self) -> bool {
        are_kin(self.tag.language().as_str(), self.reference.language().as_str())
    }
}

/// Groups of languages that write many short texts alike.
const KIN: [&[&str]; 8] = [
    &["es", "pt", "gl", "ast", "an", "ca", "oc", "it"],
    &["da", "nb", "nn", "no", "sv"],
    &["cs", "sk"],
    &["hr", "sr", "bs", "sl"],
    &["id", "ms"],
    &["uk", "be", "ru"],
    &["bg", "mk"],
    &["af", "nl"],
];

/// Whether two languages write many short texts alike.
fn are_kin(one: &str, other: &str) -> bool {
    KIN.iter().any(|group| group.contains(&one) && group.contains(&other))
}

/// Whether a noun has the same form after every number, so that a text needs no forms, though the language has some.
pub(super) fn keeps_nouns_after_numbers(language: &str) -> bool {
    const LANGUAGES: [&str; 15] =
        ["az", "bn", "eu", "fa", "hu", "hy", "ka", "kk", "ku", "ky", "mn", "tk", "tr", "ug", "uz"];
    LANGUAGES.contains(&language)
}

/// How words end that many languages of Latin script write alike: `Information`, `Material`.
const SHARED_ENDS: [&str; 20] = [
    "tion", "tions", "sion", "sions", "ment", "ments", "ance", "ence", "ences", "ct", "cts", "al", "ice",
    "ices", "ent", "ents", "ic", "um", "us", "or",
];

/// Whether a word may be the same in two languages of Latin script by its origin.
pub(super) fn may_be_shared(word: &str) -> bool {
    word.len() > 4 && SHARED_ENDS.iter().any(|end| word.ends_with(end))
}

/// Words that languages share: nobody translates them.
const INTERNATIONAL: &str = "album audio auto bar blog bus cafe café chat code copyright crew data date detail details dr e-mail email \
    euro expert export fax film filter format forum gramm hotel import info internet kiosk link login mail marina \
    menu mini minimum minute modem museum name newsletter normal ok online option park pdf pizza plan radio \
    restaurant service sms sport status stop t-shirt taxi text total web";

/// Whether languages share a word, in any case of its letters.
pub(super) fn is_international(word: &str) -> bool {
    let word = word.to_lowercase();
    INTERNATIONAL.split(' ').any(|known| known == word)
}
