//! Names of locales, their own and in other languages (UTS #35 part 2, "Locale Display Name Algorithm").
//!
//! Every locale of CLDR knows its own name. Names in other languages take the feature `names`, with about 1 MB of
//! data; without it [`name`] answers only where a locale names itself.

use alloc::borrow::ToOwned;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crow_fly_cldr::keys::{currencies, key, names as keys};
use crow_fly_cldr::names::best as best_names;

use crate::locale_texts::locale_in;
use crate::number::Currency;
use crate::tag::LanguageTag;

/// Where a name will stand.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Casing {
    /// In a menu or a list: in title case where the language does so there.
    #[default]
    Menu,
    /// In a sentence: as the language writes it in running text.
    Sentence,
}

/// The name of a locale in its own language; the tag itself where CLDR has no such locale.
///
/// ```
/// use crow_fly_core::{names::{own_name, Casing}, tag::LanguageTag};
///
/// let own = |tag| own_name(&LanguageTag::parse(tag).unwrap(), Casing::Menu);
/// assert_eq!(own("cy"), "Cymraeg");
/// assert_eq!(own("fr"), "Français");
/// assert_eq!(own("ar"), "العربية");
/// assert_eq!(own("en-GB"), "British English");
/// ```
pub fn own_name(tag: &LanguageTag, casing: Casing) -> String {
    name(tag, tag, casing).unwrap_or_else(|| tag.to_string())
}

/// The name of a locale in the language of another; none where the data has none.
///
/// ```
/// # #[cfg(feature = "names")] {
/// use crow_fly_core::{names::{name, Casing}, tag::LanguageTag};
///
/// let tag = |text| LanguageTag::parse(text).unwrap();
/// let english = |of| name(&tag(of), &tag("en"), Casing::Menu);
/// assert_eq!(english("pl").as_deref(), Some("Polish"));
/// assert_eq!(english("uz-Arab-AF").as_deref(), Some("Uzbek (Arabic, Afghanistan)"));
/// # }
/// ```
pub fn name(tag: &LanguageTag, language: &LanguageTag, casing: Casing) -> Option<String> {
    let texts = best_names();
    let locale = locale_in(texts, language)?;
    let texts = texts.of(&locale)?;
    let get = |key: &str| texts.get(key);
    let tag = tag.canonicalized();
    let code = tag.language().to_string();
    let script = tag.script().map(|script| script.to_string());
    let region = tag.region().map(|region| region.to_string());

    // The longest name first: a dialect has one of its own.
    let (script_ref, region_ref) = (script.as_deref(), region.as_deref());
    let trials = [(script_ref, region_ref), (script_ref, None), (None, region_ref), (None, None)];
    let named = trials.into_iter().find_map(|(script, region)| {
        let parts: Vec<&str> = [Some(code.as_str()), script, region].into_iter().flatten().collect();
        get(&parts.join("-")).map(|name| (name, script.is_some(), region.is_some()))
    });
    let (language, with_script, with_region) = named?;

    let mut details: Vec<String> = Vec::new();
    let mut detail =
        |key: String, code: &str| details.push(get(&key).map_or_else(|| code.to_owned(), bracketed));
    if let Some(script) = script.as_deref().filter(|_| !with_script) {
        detail(script.to_owned(), script);
    }
    if let Some(region) = region.as_deref().filter(|_| !with_region) {
        detail(region.to_owned(), region);
    }
    for variant in tag.variants() {
        detail(alloc::format!("{}{variant}", keys::VARIANT), variant);
    }
    let mut name = language.to_owned();
    if !details.is_empty() {
        let separator = get(keys::SEPARATOR).unwrap_or("{0}, {1}");
        let joined = details.into_iter().reduce(|one, next| fill(separator, &one, &next)).unwrap_or_default();
        name = fill(get(keys::PATTERN).unwrap_or("{0} ({1})"), &bracketed(&name), &joined);
    }
    if casing == Casing::Menu && get(keys::MENU).is_some() {
        name = title(&name, &locale);
    }
    Some(name)
}

/// The name of a region or a script, by its code, in a language; none where CLDR, or this build, has none.
pub fn part(code: &str, language: &LanguageTag) -> Option<&'static str> {
    let texts = best_names();
    texts.get(&locale_in(texts, language)?, code)
}

/// The name of a currency in a language.
pub fn currency(currency: &Currency, language: &LanguageTag) -> Option<&'static str> {
    crate::locale_texts::find(crow_fly_cldr::formats::CURRENCIES, language)?
        .get(&key(&[currency.as_str(), currencies::NAME]))
}

/// Every locale of CLDR that has names.
pub fn locales() -> impl Iterator<Item = &'static str> {
    best_names().locales()
}

/// Parentheses inside a name that will stand in parentheses itself become brackets.
fn bracketed(name: &str) -> String {
    name.replace('(', "[").replace(')', "]").replace('（', "［").replace('）', "］")
}

fn fill(pattern: &str, first: &str, second: &str) -> String {
    // Names hold no braces, so that one replacement cannot meet the other's result.
    pattern.replace("{0}", first).replace("{1}", second)
}

/// The first letter in upper case, by the rules of the language.
fn title(name: &str, locale: &str) -> String {
    let mut letters = name.chars();
    let Some(first) = letters.next() else { return String::new() };
    let rest = letters.as_str();
    match (locale.split('-').next(), first) {
        (Some("tr" | "az"), 'i') => alloc::format!("İ{rest}"),
        (Some("nl"), 'i') if rest.starts_with('j') => {
            alloc::format!("IJ{}", rest.get(1..).unwrap_or_default())
        }
        _ => first.to_uppercase().chain(rest.chars()).collect(),
    }
}
