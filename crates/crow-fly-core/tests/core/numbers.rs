//! Decimals, plural categories and how numbers are written.

use crow_fly_core::number::{
    Category, Decimal, Digits, Grouping, NumberFormat, NumberLocale, PluralRules, PluralType, Sign,
};
use crow_fly_core::tag::LanguageTag;

use crate::tag;

/// Every number of a sample list, ranges opened to both ends: `1, 21~24, 1c6, …`.
fn numbers(samples: &str) -> impl Iterator<Item = (&str, Decimal, u32)> {
    let words =
        samples.split([',', ' ', '~']).filter(|word| word.starts_with(|first: char| first.is_ascii_digit()));
    words.map(|word| {
        let (mantissa, exponent) = word.split_once('c').unwrap_or((word, "0"));
        (word, Decimal::parse(&format!("{mantissa}e{exponent}")).unwrap(), exponent.parse().unwrap())
    })
}

/// Every locale with plural rules of its own, and the rules.
fn all_plural_rules() -> impl Iterator<Item = (LanguageTag, PluralType, PluralRules)> {
    let locale = |codes: (u32, u32, u32)| {
        let text = |code: u32| {
            code.to_be_bytes().into_iter().filter(|byte| *byte != 0).map(char::from).collect::<String>()
        };
        let parts = [text(codes.0), text(codes.1), text(codes.2)];
        let text = parts.iter().filter(|part| !part.is_empty()).cloned().collect::<Vec<_>>().join("-");
        if text.is_empty() { LanguageTag::UND } else { tag(&text) }
    };
    let cardinal = crow_fly_cldr::plurals::cardinal_locales().map(|codes| (PluralType::Cardinal, codes));
    let ordinal = crow_fly_cldr::plurals::ordinal_locales().map(|codes| (PluralType::Ordinal, codes));
    cardinal.chain(ordinal).map(move |(plural_type, codes)| {
        let tag = locale(codes);
        let rules = PluralRules::of(&tag, plural_type);
        (tag, plural_type, rules)
    })
}

#[test]
fn a_whole_number_has_the_category_of_the_same_decimal() {
    let powers = (2..19).map(|power| 10_u64.pow(power));
    let round = powers.flat_map(|power| [power - 1, power, power + 1, power + 11, power * 2, power + 40_000]);
    let numbers: Vec<u64> = (0..1_500).chain(round).chain([u64::from(u32::MAX), u64::MAX]).collect();
    let decimals: Vec<Decimal> = numbers.iter().map(|number| Decimal::from(*number)).collect();
    for (tag, plural_type, rules) in all_plural_rules() {
        for (number, decimal) in numbers.iter().zip(&decimals) {
            let (whole, expected) = (rules.category_of_integer(*number), rules.category(decimal));
            assert_eq!(whole, expected, "{number} in {tag}, {plural_type:?}");
        }
    }
}

#[test]
fn every_sample_of_the_plural_data_has_its_category() {
    let (mut locales, mut tried, mut integers) = (0, 0, 0);
    for (tag, plural_type, rules) in all_plural_rules() {
        locales += 1;
        for category in rules.categories() {
            for (word, number, exponent) in numbers(rules.samples(category)) {
                tried += 1;
                assert_eq!(
                    rules.category_of_compact(&number, exponent),
                    category,
                    "{word} in {tag}, {plural_type:?}"
                );
                // Integers have a faster path.
                if let Ok(integer) = word.parse() {
                    integers += 1;
                    assert_eq!(
                        rules.category_of_integer(integer),
                        category,
                        "{word} in {tag}, {plural_type:?}"
                    );
                }
            }
        }
    }
    assert!(locales > 300 && tried > 7_000, "{tried} samples of {locales} locales");
    assert!(integers > 3_000, "{integers}");
}

#[test]
fn plural_rules_come_from_the_nearest_shorter_tag() {
    let category = |text: &str, number: &str| {
        PluralRules::of(&tag(text), PluralType::Cardinal).category(&Decimal::parse(number).unwrap())
    };
    assert_eq!(category("pt", "0"), Category::One);
    assert_eq!(category("pt-PT", "0"), Category::Other);
    assert_eq!(category("en-GB-oxendict", "1"), Category::One);
    assert_eq!(category("en", "1.0"), Category::Other);
    assert_eq!(category("sr-Latn-ME", "3"), Category::Few);
    assert_eq!(category("ar", "111"), Category::Many);
    assert_eq!(category("xyz", "1"), Category::Other);
    assert_eq!(category("ru", "1000000000000000000000000000000000000021"), Category::One);
    // Sinhala counts a fraction of one unit; zeros before it change nothing, however many there are.
    assert_eq!(category("si", "0.1"), Category::One);
    assert_eq!(category("si", "0.00000000000000000000000001"), Category::One);
    assert_eq!(category("si", "0.10000000000000000000000001"), Category::Other);
}

#[test]
fn decimals_keep_their_digits() {
    for (source, shown) in [
        ("0", "0"),
        ("-0", "-0"),
        ("1.50", "1.50"),
        ("1e3", "1000"),
        ("12.5e-3", "0.0125"),
        ("1.25E1", "12.5"),
        ("0.0", "0.0"),
        ("123456789012345678901234567890", "123456789012345678901234567890"),
    ] {
        assert_eq!(Decimal::parse(source).map(|number| number.to_string()).as_deref(), Ok(shown), "{source}");
    }
    for source in ["", "+1", ".5", "1.", "007", "1e", "0x10", "1 000", "1,5", "١", "NaN", "1e9999", "--1"] {
        assert!(Decimal::parse(source).is_err(), "{source}");
    }
    assert_eq!(Decimal::from(0.1).to_string(), "0.1");
    assert_eq!(Decimal::from(i64::MIN).to_string(), "-9223372036854775808");
    assert_eq!(Decimal::from(u128::MAX).to_string(), "340282366920938463463374607431768211455");
    assert!(Decimal::parse("1.0").unwrap().same_value(&Decimal::from(1u64)));
    assert!(Decimal::parse("-0.0").unwrap().same_value(&Decimal::from(0u64)));
}

#[test]
fn rounding_goes_half_away_from_zero() {
    for (number, digits, expected) in [
        ("2.5", Digits::Fraction(0, 0), "3"),
        ("-2.5", Digits::Fraction(0, 0), "-3"),
        ("0.05", Digits::Fraction(1, 1), "0.1"),
        ("9.996", Digits::Fraction(0, 2), "10"),
        ("9.996", Digits::Fraction(2, 2), "10.00"),
        ("0.0049", Digits::Fraction(0, 2), "0"),
        ("1234.5", Digits::Significant(1, 2), "1200"),
        ("9.99", Digits::Significant(1, 2), "10"),
        ("0.0996", Digits::Significant(2, 2), "0.10"),
        ("0.0996", Digits::Significant(1, 1), "0.1"),
        ("9.99", Digits::Significant(3, 3), "9.99"),
        ("99.96", Digits::Significant(3, 3), "100"),
        ("0.00123456", Digits::Significant(1, 3), "0.00123"),
        ("5", Digits::Significant(3, 5), "5.00"),
        ("0", Digits::Significant(3, 5), "0.00"),
        ("0.5", Digits::Significant(3, 5), "0.500"),
    ] {
        let format = NumberFormat { digits, ..NumberFormat::default() };
        assert_eq!(
            format.rounded(&Decimal::parse(number).unwrap()).to_string(),
            expected,
            "{number} {digits:?}"
        );
    }
}

#[test]
fn a_locale_has_a_numbering_system() {
    for (locale, system) in
        [("en", "latn"), ("ar-EG", "arab"), ("ar-EG-u-nu-latn", "latn"), ("hi-u-nu-deva", "deva")]
    {
        assert_eq!(NumberLocale::of(&tag(locale)).numbering_system(), system, "{locale}");
    }
}

#[test]
fn locales_write_numbers_their_own_way() {
    let written = |text: &str, number: &str, format: NumberFormat| {
        let mut written = String::new();
        format.write(&Decimal::parse(number).unwrap(), &NumberLocale::of(&tag(text)), &mut written).unwrap();
        written
    };
    let plain = NumberFormat::default();
    let grouped = NumberFormat { grouping: Grouping::Always, ..plain };
    let never = NumberFormat { grouping: Grouping::Never, ..plain };
    let signed = NumberFormat { sign: Sign::Always, ..plain };
    for (text, number, format, expected) in [
        ("en", "1234567.891", plain, "1,234,567.891"),
        ("en-GB", "1234", plain, "1,234"),
        ("de", "1234567.5", plain, "1.234.567,5"),
        ("de-AT", "1234.5", plain, "1\u{a0}234,5"),
        ("fr", "12345.6", plain, "12\u{202f}345,6"),
        ("hi", "1234567", plain, "12,34,567"),
        ("pl", "1234", plain, "1234"),
        ("pl", "1234", grouped, "1\u{a0}234"),
        ("pl", "12345", plain, "12\u{a0}345"),
        ("es", "1234", plain, "1234"),
        ("es-MX", "1234", plain, "1,234"),
        ("pt-PT", "1234", plain, "1234"),
        ("ar", "-1234.5", plain, "\u{200e}-1,234.5"),
        ("ar-EG", "1234.5", plain, "١٬٢٣٤٫٥"),
        ("fa", "-1234", plain, "\u{200e}\u{2212}۱٬۲۳۴"),
        ("he", "-5", plain, "\u{200e}-5"),
        ("sv", "-5", plain, "\u{2212}5"),
        ("en-u-nu-arab", "12", plain, "١٢"),
        ("ar-u-nu-arab", "1234.5", plain, "١٬٢٣٤٫٥"),
        ("en", "1234", never, "1234"),
        ("en", "5", signed, "+5"),
        ("en", "0.25", plain, "0.25"),
        ("xyz", "1234.5", plain, "1,234.5"),
    ] {
        assert_eq!(written(text, number, format), expected, "{number} in {text}");
    }
}
