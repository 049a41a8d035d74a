//! The Hebrew calendar: by its molad and the postponements of the new year.

use super::days::Ymd;

/// The day before the epoch's: 1 Tishri 1 is day -1,373,427.
const EPOCH: i32 = -1_373_427;

pub(super) const fn is_leap(year: i32) -> bool {
    (7 * year + 1).rem_euclid(19) < 7
}

/// The months from the epoch to the first of a year.
pub(super) const fn months_before(year: i32) -> i32 {
    (235 * year - 234).div_euclid(19)
}

/// The days from the epoch to the molad of a year, put off where it falls on a Sunday, Wednesday or Friday.
fn elapsed(year: i32) -> i32 {
    let months = months_before(year);
    // Parts of which an hour has 1080, beyond whole days; of years to 20,000 they need 64 bits.
    let parts = 12_084 + 13_753 * i64::from(months);
    let day = 29 * months + i32::try_from(parts.div_euclid(25_920)).unwrap_or(0);
    if (3 * (day + 1)).rem_euclid(7) < 3 { day + 1 } else { day }
}

/// The first day of a year: put off once more where the year, or the one before, would have a length that none has.
fn new_year(year: i32) -> i32 {
    let (before, own, after) = (elapsed(year - 1), elapsed(year), elapsed(year + 1));
    let delay = if after - own == 356 { 2 } else { i32::from(own - before == 382) };
    EPOCH + own + delay
}

/// The lengths of the months by CLDR's numbers, from Tishri: the sixth, Adar I, has no days but in a leap year.
fn months(year: i32) -> impl Iterator<Item = u8> {
    let length = (new_year(year + 1) - new_year(year)) % 10;
    (1..=13).map(move |month| match month {
        2 if length == 5 => 30,
        3 if length == 3 => 29,
        6 if !is_leap(year) => 0,
        2 | 4 | 7 | 9 | 11 | 13 => 29,
        _ => 30,
    })
}

pub(super) fn of(day: i32) -> Option<Ymd> {
    let guess = i32::try_from(i64::from(day - EPOCH) * 98_496 / 35_975_351).ok()? + 1;
    let year = [guess + 1, guess, guess - 1].into_iter().find(|year| new_year(*year) <= day)?;
    (year > 0).then(|| Ymd::of_year(year, day - new_year(year), months(year)))
}

pub(super) fn day(date: Ymd) -> Option<i32> {
    let day = date.day_of_year(months(date.year))?;
    (date.year > 0).then(|| new_year(date.year) + day)
}
