//! The texts that numbers, money, units, lists and dates are written with. The keys of each file are in
//! [`keys`](crate::keys).

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
pub const DATES: Texts = Texts::new(4, include_bytes!("generated/dates_keys.bin"));

#[cfg(all(test, feature = "full-data"))]
mod tests {
    use alloc::boxed::Box;
    use alloc::vec::Vec;

    use super::*;
    use crate::data::{BUILT_IN, Data, locales, of_languages};
    use crate::key_list::Key;
    use crate::names::OWN;

    fn leaked(bytes: Vec<u8>) -> &'static [u8] {
        Box::leak(bytes.into_boxed_slice())
    }

    #[test]
    fn data_of_some_languages_says_of_them_what_all_of_it_says() {
        let full = Data::new(&BUILT_IN, None);
        let some = Data::new(&[leaked(of_languages(["en-GB", "nb", "sr-Latn-ME", "zz"]))], None);
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
}
