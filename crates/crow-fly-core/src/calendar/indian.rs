//! The Indian national calendar: its year 1 began in 79, its new year is 22 March, in a leap year 21 March.

use jiff::civil::Date;

use super::days::{self, Ymd};

/// How many years the Gregorian calendar is ahead from the new year on.
const AHEAD: i32 = 78;

fn new_year(year: i32) -> Option<i32> {
    let gregorian = Date::new(i16::try_from(year.checked_add(AHEAD)?).ok()?, 3, 22).ok()?;
    Some(days::of(gregorian) - i32::from(gregorian.in_leap_year()))
}

fn months(year: i32) -> impl Iterator<Item = u8> {
    let leap = Date::new(i16::try_from(year + AHEAD).unwrap_or(1), 1, 1).is_ok_and(Date::in_leap_year);
    (1..=12).map(move |month| match month {
        1 if leap => 31,
        2..=6 => 31,
        _ => 30,
    })
}

pub(super) fn of(day: i32, gregorian_year: i32) -> Option<Ymd> {
    let year = gregorian_year - AHEAD;
    let year = if day < new_year(year)? { year - 1 } else { year };
    (year > 0).then_some(Ymd::of_year(year, day - new_year(year)?, months(year)))
}

pub(super) fn day(date: Ymd) -> Option<i32> {
    let start = new_year(date.year)?;
    (date.year > 0).then_some(start + date.day_of_year(months(date.year))?)
}
