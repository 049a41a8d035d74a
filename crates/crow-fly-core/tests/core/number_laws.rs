//! What holds for every number: digits, rounding, groups, categories.

use crow_fly_core::number::{
    Category, Decimal, Digits, Grouping, NumberFormat, NumberLocale, PluralRules, PluralType,
};
use proptest::prelude::*;

use crate::tag;

fn category(locale: &str, number: u64) -> Category {
    PluralRules::of(&tag(locale), PluralType::Cardinal).category(&Decimal::from(number))
}

fn written(locale: &str, number: &Decimal, format: NumberFormat) -> String {
    let mut text = String::new();
    format.write(number, &NumberLocale::of(&tag(locale)), &mut text).unwrap();
    text
}

proptest! {
    #[test]
    fn what_is_written_reads_as_the_same_decimal(text in "-?(0|[1-9][0-9]{0,30})(\\.[0-9]{1,20})?") {
        let number = Decimal::parse(&text).unwrap();
        prop_assert_eq!(number.to_string(), text);
    }

    #[test]
    fn an_exponent_moves_the_point_and_nothing_else(digits in 1u64..1_000_000, exponent in -20i32..20) {
        let moved = Decimal::parse(&format!("{digits}e{exponent}")).unwrap();
        let back = Decimal::parse(&format!("{moved}e{}", -exponent)).unwrap();
        prop_assert!(back.same_value(&Decimal::from(digits)), "{} {}", moved, back);
    }

    #[test]
    fn no_text_upsets_the_number_parser(text in ".{0,40}") {
        let _ = Decimal::parse(&text);
    }

    #[test]
    fn integers_and_their_texts_are_the_same_decimal(number in any::<i64>(), large in any::<u128>()) {
        prop_assert_eq!(Decimal::from(number), Decimal::parse(&number.to_string()).unwrap());
        prop_assert_eq!(Decimal::from(large), Decimal::parse(&large.to_string()).unwrap());
    }

    #[test]
    fn floats_keep_the_digits_that_read_back(number in any::<f64>()) {
        prop_assume!(number.is_finite());
        let read = Decimal::from(number).to_string().parse::<f64>().unwrap();
        prop_assert_eq!(read.to_bits(), number.to_bits());
    }

    #[test]
    fn rounding_is_what_whole_numbers_say(thousandths in -10_000_000i64..10_000_000, digits in 0u8..3) {
        let number = Decimal::parse(&format!("{thousandths}e-3")).unwrap();
        let format = NumberFormat { digits: Digits::Fraction(digits, digits), ..NumberFormat::default() };
        let unit = 10i64.pow(3 - u32::from(digits));
        // Half away from zero, on whole thousandths.
        let rounded = (thousandths.abs() + unit / 2) / unit * thousandths.signum();
        let expected = Decimal::parse(&format!("{rounded}e-{digits}")).unwrap();
        prop_assert!(format.rounded(&number).same_value(&expected), "{} to {} digits", number, digits);
    }

    #[test]
    fn significant_digits_are_as_many_as_asked_for(number in 1u64..1_000_000_000, most in 1u8..12) {
        let format = NumberFormat { digits: Digits::Significant(1, most), ..NumberFormat::default() };
        let rounded = format.rounded(&Decimal::from(number)).to_string();
        let significant = rounded.trim_end_matches('0').len();
        prop_assert!(significant <= usize::from(most), "{} → {}", number, rounded);
        let off = rounded.parse::<u64>().unwrap().abs_diff(number);
        let digits = u32::try_from(number.to_string().len()).unwrap();
        let unit = 10u64.pow(digits.saturating_sub(u32::from(most)));
        prop_assert!(off * 2 <= unit, "{} → {}", number, rounded);
    }

    #[test]
    fn without_group_signs_the_digits_are_all_there(number in any::<u64>(), locale in "(en|de|fr|pl|hi|es|ar|fa|bn-u-nu-beng)") {
        let plain = NumberFormat { grouping: Grouping::Never, ..NumberFormat::default() };
        let grouped = NumberFormat { grouping: Grouping::Always, ..NumberFormat::default() };
        let digits = |text: &str| text.chars().filter(|letter| letter.is_numeric()).collect::<String>();
        let number = Decimal::from(number);
        let (plain, grouped) = (written(&locale, &number, plain), written(&locale, &number, grouped));
        prop_assert_eq!(digits(&plain), digits(&grouped));
        prop_assert_eq!(plain.chars().count(), number.to_string().len());
    }

    #[test]
    fn plural_rules_agree_with_those_a_person_would_write(number in 0u64..2_000_000) {
        let (ones, hundred) = (number % 10, number % 100);
        let polish = match ones {
            _ if number == 1 => Category::One,
            2..=4 if !(12..=14).contains(&hundred) => Category::Few,
            _ => Category::Many,
        };
        prop_assert_eq!(category("pl", number), polish);
        let welsh = match number {
            0 => Category::Zero,
            1 => Category::One,
            2 => Category::Two,
            3 => Category::Few,
            6 => Category::Many,
            _ => Category::Other,
        };
        prop_assert_eq!(category("cy", number), welsh);
        let arabic = match (number, hundred) {
            (0, _) => Category::Zero,
            (1, _) => Category::One,
            (2, _) => Category::Two,
            (_, 3..=10) => Category::Few,
            (_, 11..=99) => Category::Many,
            _ => Category::Other,
        };
        prop_assert_eq!(category("ar", number), arabic);
        prop_assert_eq!(category("en", number), if number == 1 { Category::One } else { Category::Other });
        prop_assert_eq!(category("ja", number), Category::Other);
    }

    #[test]
    fn a_number_that_shows_a_fraction_is_not_counted_as_a_whole_one(number in 0u64..1000, zeros in 1usize..4) {
        let shown = Decimal::parse(&format!("{number}.{}", "0".repeat(zeros))).unwrap();
        let rules = |locale: &str| PluralRules::of(&tag(locale), PluralType::Cardinal);
        prop_assert_eq!(rules("en").category(&shown), Category::Other);
        prop_assert_eq!(rules("pl").category(&shown), Category::Other);
        // Welsh goes by the value alone.
        prop_assert_eq!(rules("cy").category(&shown), category("cy", number));
    }
}
