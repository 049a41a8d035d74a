//! The texts that numbers, money, units, lists and dates are written with. The keys of each file are in
//! [`keys`](crate::keys).

use crate::data::{GENERIC_FILE, ZONES_FILE};
use crate::texts::Texts;

/// Percent, money and compact patterns, and signs that plain numbers have no use for.
pub const NUMBERS: Texts = Texts::new(0, include_bytes!("generated/numbers_keys.bin"));

/// Symbols and names of currencies.
pub const CURRENCIES: Texts = Texts::new(1, include_bytes!("generated/currencies_keys.bin"));

/// Patterns of units.
pub const UNITS: Texts = Texts::new(2, include_bytes!("generated/units_keys.bin"));

/// Patterns of lists.
pub const LISTS: Texts = Texts::new(3, include_bytes!("generated/lists_keys.bin"));

/// Names and patterns of the Gregorian calendar, and of relative times.
pub const DATES: Texts = Texts::new(4, DATES_KEYS);

/// What the calendars beside the Gregorian one share: patterns. Its keys are those of [`DATES`], as are those of the calendars.
pub const GENERIC: Texts = Texts::new(GENERIC_FILE, DATES_KEYS);

/// What a calendar has of its own, by its place in [`FILES`](crate::keys::calendars::FILES).
pub const fn calendar(place: u8) -> Texts {
    Texts::new(GENERIC_FILE + 1 + place, DATES_KEYS)
}

/// Names of time zones.
pub const ZONES: Texts = Texts::new(ZONES_FILE, include_bytes!("generated/zone_names_keys.bin"));

static DATES_KEYS: &[u8] = include_bytes!("generated/dates_keys.bin");

#[cfg(all(test, feature = "full-data"))]
mod tests {
    use alloc::boxed::Box;
    use alloc::vec::Vec;

    use super::*;
    use crate::data::{BUILT_IN, Data, locales, of_languages};
    use crate::key_list::Key;
    use crate::keys::calendars::FILES as CALENDARS;
    use crate::names::OWN;

    fn leaked(bytes: Vec<u8>) -> &'static [u8] {
        Box::leak(bytes.into_boxed_slice())
    }

    #[test]
    fn data_of_some_languages_says_of_them_what_all_of_it_says() {
        let full = Data::new(BUILT_IN, None);
        let some = Data::new(&[leaked(of_languages(["en-GB", "nb", "sr-Latn-ME", "zz"], false))], None);
        let mut texts = 0;
        for (file, of) in (0..).zip([NUMBERS, CURRENCIES, UNITS, LISTS, DATES, OWN]) {
            for (locale, name) in locales() {
                // `nb` and `nn` inherit from `no`; `en`, `sr` and the root come with themselves.
                let is_in =
                    ["en", "nb", "no", "sr", "und"].contains(&name.split('-').next().unwrap_or_default());
                assert_eq!(some.has(file, locale), is_in, "{name}");
                for key in (0..).zip(of.keys()).map(|(at, _)| Key(at)).filter(|_| is_in) {
                    let text = full.text(file, locale, key);
                    assert_eq!(some.text(file, locale, key), text, "{name}");
                    texts += usize::from(text.is_some());
                }
            }
        }
        assert!(texts > 100_000, "{texts}");
    }

    #[test]
    fn a_calendar_is_in_the_data_of_languages_whose_region_prefers_it() {
        let has = |data: &[&str], every_calendar| {
            let data = Data::new(&[leaked(of_languages(data.iter().copied(), every_calendar))], None);
            let mut found = Vec::new();
            let files = core::iter::once((GENERIC, "generic")).chain((0..).map(calendar).zip(CALENDARS));
            for (texts, of) in
                files.filter(|(_, of)| ["generic", "buddhist", "persian", "hebrew"].contains(of))
            {
                for name in ["en", "fa", "th", "und", "uz"] {
                    if data.has(texts.file(), crate::data::locale(name).expect("CLDR has it")) {
                        found.push(alloc::format!("{of} {name}"));
                    }
                }
            }
            found
        };
        assert!(has(&["en", "uz", "ar-SA", "th-u-ca-gregory"], false).is_empty());
        assert_eq!(has(&["fa"], false), ["generic fa", "generic und", "persian fa", "persian und"]);
        assert_eq!(has(&["en-TH"], false), ["generic en", "generic und", "buddhist en", "buddhist und"]);
        assert_eq!(has(&["uz-Arab"], false), ["generic und", "generic uz", "persian und", "persian uz"]);
        assert_eq!(
            has(&["en-u-rg-irzzzz"], false),
            ["generic en", "generic und", "persian en", "persian und"]
        );
        let of_feature: &[&str] =
            if cfg!(feature = "calendars") { &["hebrew en", "hebrew und"] } else { &[] };
        assert_eq!(has(&["en-u-ca-hebrew"], false), [&["generic en", "generic und"], of_feature].concat());
        let basic = ["generic en", "generic und", "buddhist en", "buddhist und", "persian en", "persian und"];
        assert_eq!(has(&["en"], true), [&basic, of_feature].concat());
    }
}
