//! Which locale of CLDR's files speaks for a tag.

use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crow_fly_cldr::texts::{LocaleTexts, Texts};

use crate::tag::{LanguageTag, maximize};

/// The locale of a file that speaks for a tag: the first of those that may; not the root.
pub(crate) fn locale_in(texts: Texts, tag: &LanguageTag) -> Option<String> {
    candidates(tag).into_iter().find(|tag| texts.has(tag))
}

/// The locales that may speak for a tag: itself, with its likely script, and their parents, but for the root.
pub(crate) fn candidates(tag: &LanguageTag) -> Vec<String> {
    let tag = tag.as_canonical().without_extensions();
    // A language that is not known has no likely one to speak for it.
    if tag.is_und() {
        return Vec::new();
    }
    let (language, script, region) = maximize(tag.codes());
    let maximal = LanguageTag::from_codes(language, script, region);
    let parents = |tag: &LanguageTag| core::iter::successors(tag.parent(), LanguageTag::parent);
    [tag.clone(), maximal.clone()]
        .into_iter()
        .chain(parents(&tag))
        .chain(parents(&maximal))
        .map(|tag| tag.to_string())
        .filter(|tag| tag != "und")
        .collect()
}

/// The texts of that locale; those of the root for a language CLDR does not know.
pub(crate) fn find(texts: Texts, tag: &LanguageTag) -> Option<LocaleTexts> {
    locale_in(texts, tag).and_then(|locale| texts.of(&locale)).or_else(|| texts.of("und"))
}
