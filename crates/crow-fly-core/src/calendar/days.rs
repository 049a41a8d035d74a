//! Days counted from 1 January 1 of the Gregorian calendar, which is day 1: what all calendars convert by.

use jiff::civil::Date;

/// A year, a month and a day of some calendar, without an era.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Ymd {
    pub(super) year: i32,
    pub(super) month: u8,
    pub(super) day: u8,
}

impl Ymd {
    /// The month and the day of a day of the year, from 0, by the lengths of the months; the last day where there are fewer.
    pub(super) fn of_year(year: i32, mut day: i32, lengths: impl Iterator<Item = u8>) -> Self {
        let (mut month, mut last) = (0, 1);
        for length in lengths {
            month += 1;
            last = length;
            if day < i32::from(length) {
                return Self { year, month, day: u8::try_from(day + 1).unwrap_or(1) };
            }
            day -= i32::from(length);
        }
        Self { year, month, day: last }
    }

    /// The day of the year, from 0; none where there is no such month or day.
    pub(super) fn day_of_year(self, lengths: impl Iterator<Item = u8>) -> Option<i32> {
        let mut before = 0;
        for (month, length) in (1..).zip(lengths) {
            if month == self.month {
                return (1..=length).contains(&self.day).then(|| before + i32::from(self.day) - 1);
            }
            before += i32::from(length);
        }
        None
    }
}

/// The day of a date of the Gregorian calendar.
pub(super) fn of(date: Date) -> i32 {
    let (year, month, day) = (i32::from(date.year()), i32::from(date.month()), i32::from(date.day()));
    // Years from March have the day that some lack at their end.
    let (year, month) = if month < 3 { (year - 1, month + 9) } else { (year, month - 3) };
    let leap_days = year.div_euclid(4) - year.div_euclid(100) + year.div_euclid(400);
    365 * year + leap_days + (153 * month + 2) / 5 + day - 306
}

/// The date of the Gregorian calendar of a day; none for one that is not of the years -9999 to 9999.
pub(super) fn date(day: i32) -> Option<Date> {
    let day = day.checked_add(305)?;
    let (era, day) = (day.div_euclid(146_097), day.rem_euclid(146_097));
    let year = (day - day / 1460 + day / 36_524 - day / 146_096) / 365;
    let day = day - (365 * year + year / 4 - year / 100);
    let month = (5 * day + 2) / 153;
    let day = day - (153 * month + 2) / 5 + 1;
    let (month, after) = if month < 10 { (month + 3, 0) } else { (month - 9, 1) };
    let year = i16::try_from(year + era * 400 + after).ok()?;
    Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()
}
