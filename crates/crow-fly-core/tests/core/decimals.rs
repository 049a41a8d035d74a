//! Decimal arithmetic, held equal to that of whole numbers: a decimal is so many units of a power of ten.

use crow_fly_core::number::{Decimal, RoundingMode};
use proptest::prelude::*;

/// So many units of 10⁻ˢ, as text.
fn text(negative: bool, units: u128, scale: usize) -> String {
    let digits = format!("{units:0>width$}", width = scale + 1);
    let (integer, fraction) = digits.split_at(digits.len() - scale);
    let sign = if negative { "-" } else { "" };
    if scale == 0 { format!("{sign}{integer}") } else { format!("{sign}{integer}.{fraction}") }
}

fn decimal(units: i64, scale: usize) -> Decimal {
    Decimal::parse(&text(units < 0, units.unsigned_abs().into(), scale)).unwrap()
}

fn power(exponent: usize) -> u128 {
    10_u128.pow(u32::try_from(exponent).unwrap())
}

/// Units over a divisor, rounded.
fn divided(negative: bool, units: u128, divisor: u128, mode: RoundingMode) -> u128 {
    let (whole, rest) = (units / divisor, units % divisor);
    let (above, half) = (rest * 2 > divisor, rest * 2 == divisor);
    let up = match mode {
        RoundingMode::Expand => rest > 0,
        RoundingMode::Trunc => false,
        RoundingMode::Ceil => rest > 0 && !negative,
        RoundingMode::Floor => rest > 0 && negative,
        RoundingMode::HalfExpand => above || half,
        RoundingMode::HalfTrunc => above,
        RoundingMode::HalfEven => above || half && whole % 2 == 1,
        RoundingMode::HalfCeil => above || half && !negative,
        RoundingMode::HalfFloor => above || half && negative,
    };
    whole + u128::from(up)
}

fn any_mode() -> impl Strategy<Value = RoundingMode> {
    prop::sample::select(vec![
        RoundingMode::Expand,
        RoundingMode::Trunc,
        RoundingMode::Ceil,
        RoundingMode::Floor,
        RoundingMode::HalfExpand,
        RoundingMode::HalfTrunc,
        RoundingMode::HalfEven,
        RoundingMode::HalfCeil,
        RoundingMode::HalfFloor,
    ])
}

/// Units of every length, with nines, zeros and halves at their ends.
fn any_units() -> impl Strategy<Value = i64> {
    let short = -1000_i64..1000;
    let long = -1_000_000_000_000_i64..1_000_000_000_000;
    let round = (-1000_i64..1000, 0_u32..9).prop_map(|(units, zeros)| units * 10_i64.pow(zeros));
    let nines = (0_u32..12, -10_i64..10).prop_map(|(digits, off)| 10_i64.pow(digits) + off);
    let halves =
        (-1000_i64..1000, 1_u32..9).prop_map(|(units, zeros)| (units * 10 + 5) * 10_i64.pow(zeros - 1));
    prop_oneof![short, long, round, nines, halves]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1024))]

    #[test]
    fn a_sum_is_that_of_the_units(one in any_units(), other in any_units(), places in 0_usize..8, other_places in 0_usize..8) {
        let scale = places.max(other_places);
        let units = |number: i64, places: usize| i128::from(number) * power(scale - places).cast_signed();
        let sum = units(one, places) + units(other, other_places);
        prop_assert_eq!(
            decimal(one, places).plus(&decimal(other, other_places)).to_string(),
            text(sum < 0, sum.unsigned_abs(), scale)
        );
    }

    #[test]
    fn a_fraction_is_rounded_as_its_units_are(units in any_units(), places in 0_usize..12, digits in 0_usize..12, mode in any_mode()) {
        let mut number = decimal(units, places);
        number.round_fraction(digits, mode);
        let (negative, absolute) = (units < 0, u128::from(units.unsigned_abs()));
        let kept = digits.min(places);
        let rounded = divided(negative, absolute, power(places - kept), mode);
        prop_assert_eq!(number.to_string(), text(negative, rounded, kept));
    }

    #[test]
    fn significant_digits_are_rounded_as_the_units_are(units in any_units(), places in 0_usize..12, digits in 1_usize..12, mode in any_mode()) {
        let mut number = decimal(units, places);
        number.round_significant(digits, mode);
        let (negative, absolute) = (units < 0, u128::from(units.unsigned_abs()));
        let length = if units == 0 { 0 } else { absolute.to_string().len() };
        let mut surplus = length.saturating_sub(digits);
        let mut rounded = divided(negative, absolute, power(surplus), mode);
        if rounded == power(digits) && surplus > 0 && places > surplus {
            // 9.99 to two digits is 10, not 10.0.
            (rounded, surplus) = (rounded / 10, surplus + 1);
        }
        let expected = match places.checked_sub(surplus) {
            Some(scale) => text(negative, rounded, scale),
            None => text(negative, rounded * power(surplus - places), 0),
        };
        prop_assert_eq!(number.to_string(), expected);
    }

    #[test]
    fn zeros_come_and_go_at_the_end(units in any_units(), places in 0_usize..8, least in 0_usize..12) {
        let (negative, absolute) = (units < 0, u128::from(units.unsigned_abs()));
        let mut padded = decimal(units, places);
        padded.pad_fraction(least);
        let scale = places.max(least);
        prop_assert_eq!(padded.to_string(), text(negative, absolute * power(scale - places), scale));

        let mut trimmed = decimal(units, places);
        trimmed.trim_zeros(least);
        let (mut rest, mut scale) = (absolute, places);
        while scale > least && rest % 10 == 0 {
            (rest, scale) = (rest / 10, scale - 1);
        }
        prop_assert_eq!(trimmed.to_string(), text(negative, rest, scale));

        let mut significant = decimal(units, places);
        significant.pad_significant(least);
        let shown = if units == 0 { 1 + places } else { absolute.to_string().len() };
        let more = least.saturating_sub(shown);
        prop_assert_eq!(significant.to_string(), text(negative, absolute * power(more), places + more));

        let mut whole = decimal(units, places);
        whole.truncate_fraction();
        prop_assert_eq!(whole.to_string(), text(negative, absolute / power(places), 0));
    }

    #[test]
    fn facts_of_a_decimal_are_those_of_its_units(units in any_units(), places in 0_usize..8) {
        let number = decimal(units, places);
        let digits = units.unsigned_abs().to_string().len();
        let magnitude = if units == 0 { 0 } else { digits.cast_signed() - 1 - places.cast_signed() };
        prop_assert_eq!(number.magnitude(), i32::try_from(magnitude).unwrap());
        prop_assert_eq!(number.is_zero(), units == 0);
        prop_assert_eq!(number.is_negative(), units < 0);
        let one = i64::try_from(power(places)).unwrap();
        prop_assert_eq!(number.is_integer(), units % one == 0);
        prop_assert_eq!(number.to_i64(), (units % one == 0).then_some(units / one));
        prop_assert_eq!(number.unsigned().to_string(), text(false, units.unsigned_abs().into(), places));
    }

    #[test]
    fn an_exponent_moves_the_units(units in any_units(), places in 0_usize..8, exponent in -12_i64..12) {
        let written = text(units < 0, units.unsigned_abs().into(), places);
        let moved = Decimal::parse(&format!("{written}e{exponent}")).unwrap();
        let scale = places.cast_signed() - isize::try_from(exponent).unwrap();
        let (more, scale) = (scale.min(0).unsigned_abs(), scale.max(0).cast_unsigned());
        prop_assert_eq!(moved.to_string(), text(units < 0, u128::from(units.unsigned_abs()) * power(more), scale));
    }
}

#[test]
fn whole_numbers_fit_or_do_not() {
    for number in [i64::MAX, i64::MIN, 0, -1] {
        assert_eq!(Decimal::from(number).to_i64(), Some(number));
    }
    for number in [i128::MIN, -5, 0, 5, i128::MAX] {
        assert_eq!(Decimal::from(number).to_string(), number.to_string());
    }
    for text in ["9223372036854775808", "-9223372036854775809", "1e30", "0.5"] {
        assert_eq!(Decimal::parse(text).unwrap().to_i64(), None, "{text}");
    }
}

#[test]
fn the_longest_numbers_have_400_digits_on_a_side() {
    let many = |digits: usize| "7".repeat(digits);
    for text in [many(400), format!("0.{}", many(400)), "1e399".to_owned(), "1e-400".to_owned()] {
        assert!(Decimal::parse(&text).is_ok(), "{text}");
    }
    for text in [
        many(401),
        format!("0.{}", many(401)),
        "1e400".to_owned(),
        "1e401".to_owned(),
        "1e-401".to_owned(),
        "0.1e-400".to_owned(),
        "1e99999999999999999999".to_owned(),
    ] {
        assert!(Decimal::parse(&text).is_err(), "{text}");
    }
    let mut padded = Decimal::from(1_u64);
    padded.pad_fraction(Decimal::MAX_DIGITS + 1);
    assert_eq!(padded.fraction_digits().len(), Decimal::MAX_DIGITS);
}
