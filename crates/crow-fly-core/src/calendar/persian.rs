//! The Persian calendar: eight leap years in 33, which is the calendar of the equinox that is official in Iran and Afghanistan
//! from 1178 to 1501.

use super::days::Ymd;

/// The day before 1 Farvardin 1.
const EPOCH: i32 = 226_894;

/// The years in which the rule is the official calendar: checked against the equinoxes at the meridian of 52.5° east.
pub(super) const YEARS: core::ops::RangeInclusive<i32> = 1178..=1501;

/// The first day of a year.
const fn new_year(year: i32) -> i32 {
    EPOCH + 1 + 365 * (year - 1) + (8 * year + 21).div_euclid(33)
}

const fn is_leap(year: i32) -> bool {
    (25 * year + 11).rem_euclid(33) < 8
}

fn months(year: i32) -> impl Iterator<Item = u8> {
    (1..=12).map(move |month| match month {
        1..=6 => 31,
        12 if !is_leap(year) => 29,
        _ => 30,
    })
}

pub(super) fn of(day: i32) -> Option<Ymd> {
    let guess = (day - EPOCH) * 33 / 12_053 + 1;
    let year = if day < new_year(guess) { guess - 1 } else { guess };
    let year = if day >= new_year(year + 1) { year + 1 } else { year };
    YEARS.contains(&year).then(|| Ymd::of_year(year, day - new_year(year), months(year)))
}

pub(super) fn day(date: Ymd) -> Option<i32> {
    let day = date.day_of_year(months(date.year))?;
    YEARS.contains(&date.year).then(|| new_year(date.year) + day)
}
