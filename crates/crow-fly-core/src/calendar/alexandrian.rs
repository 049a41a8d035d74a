//! The Coptic and the Ethiopic calendar: twelve months of 30 days, and a thirteenth of five, or of six every fourth year.

use super::days::Ymd;

/// The day before 1 Thout 1 of the Coptic calendar.
pub(super) const COPTIC: i32 = 103_604;

/// The day before 1 Meskerem 1 of the Ethiopic calendar.
pub(super) const ETHIOPIC: i32 = 2795;

fn months(year: i32) -> impl Iterator<Item = u8> {
    (1..=13).map(move |month| match month {
        13 if year.rem_euclid(4) == 3 => 6,
        13 => 5,
        _ => 30,
    })
}

/// The first day of a year that is counted from the day after `epoch`.
const fn new_year(epoch: i32, year: i32) -> i32 {
    epoch + 1 + 365 * (year - 1) + year.div_euclid(4)
}

pub(super) fn of(epoch: i32, day: i32) -> Ymd {
    let year = (4 * (day - epoch - 1) + 1463).div_euclid(1461);
    Ymd::of_year(year, day - new_year(epoch, year), months(year))
}

pub(super) fn day(epoch: i32, date: Ymd) -> Option<i32> {
    Some(new_year(epoch, date.year) + date.day_of_year(months(date.year))?)
}
