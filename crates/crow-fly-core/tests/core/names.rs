//! Names and directions.

use crow_fly_core::direction::Direction;
use crow_fly_core::names::{Casing, locales, name, own_name};

use crate::tag;

#[test]
fn locales_name_themselves() {
    for (text, expected) in [
        ("en", "English"),
        ("cy", "Cymraeg"),
        ("fr", "Français"),
        ("pl", "polski"),
        ("ar", "العربية"),
        ("ja", "日本語"),
        ("zh-Hant", "繁體中文"),
        ("zh-TW", "中文（台灣）"),
        ("pt-BR", "Português (Brasil)"),
        ("sr-Latn", "srpski (latinica)"),
        ("tlh", "tlh"),
    ] {
        assert_eq!(own_name(&tag(text), Casing::Menu), expected, "{text}");
    }
    assert_eq!(own_name(&tag("fr"), Casing::Sentence), "français");
}

/// The locales that CLDR has some data for, and no name in their own language.
const NAMELESS: &str = "aa aa-DJ aa-ER bew bm-Nkoo bqi byn cad cop cu dv en-Shaw gez gez-ER ha-Arab ha-Arab-SD iu iu-Latn \
    kaa-Latn ku-Arab ku-Arab-IR la ltg lzz mhn mn-Mong ms-Arab ms-Arab-BN mww mww-Hmnp nmg nr pi pi-Latn sgs sid suz \
    suz-Deva suz-Sunu tig ts ve vo wal";

#[test]
fn every_other_locale_of_cldr_has_a_name_of_its_own() {
    let nameless: Vec<_> = locales()
        .filter(|text| *text != "und")
        // Not by `own_name`, which falls back to the tag.
        .filter(|text| name(&tag(text), &tag(text), Casing::Menu).is_none_or(|name| name.is_empty()))
        .collect();
    assert_eq!(nameless, NAMELESS.split_whitespace().collect::<Vec<_>>());
    assert!(locales().count() > 700);
}

#[test]
fn direction_follows_the_likely_script() {
    for (text, expected) in [
        ("ar", "rtl"),
        ("he", "rtl"),
        ("fa-AF", "rtl"),
        ("dv", "rtl"),
        ("ur", "rtl"),
        ("pa", "ltr"),
        ("pa-PK", "rtl"),
        ("az-IR", "rtl"),
        ("en", "ltr"),
        ("he-Latn", "ltr"),
        ("und-Arab", "rtl"),
        ("xx", "ltr"),
    ] {
        assert_eq!(Direction::of(&tag(text)).as_str(), expected, "{text}");
    }
}

#[cfg(feature = "names")]
#[test]
fn names_in_other_languages() {
    use crow_fly_core::names::name;
    for (of, language, expected) in [
        ("pl", "en", "Polish"),
        ("en-GB", "pl", "angielski brytyjski"),
        ("zh-Hant-HK", "en", "Traditional Chinese (Hong Kong SAR China)"),
        ("de-CH", "cy", "Almaeneg Safonol y Swistir"),
        ("pl", "en-AU", "Polish"),
        ("pl", "zh-TW", "波蘭文"),
        ("ca-valencia", "en", "Catalan (Valencian)"),
        ("uz-Arab", "fr", "Ouzbek (arabe)"),
    ] {
        assert_eq!(
            name(&tag(of), &tag(language), Casing::Menu).as_deref(),
            Some(expected),
            "{of} in {language}"
        );
    }
}
