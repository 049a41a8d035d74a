//! How far a date or a moment is from now: in which unit, and how many.

use jiff::Timestamp;
use jiff::civil::{Date, Weekday};

use super::{DateFormat, DatePatterns, DateValue, RelativeUnit};
use crate::calendar::{Calendar, CalendarDate};
use crate::number::Decimal;

const MINUTE: i64 = 60;
const HOUR: i64 = 60 * MINUTE;
const DAY: i64 = 24 * HOUR;

/// A distance from now, in one unit.
pub(crate) struct Distance {
    /// How many: negative ones have passed, also where they are fewer than one.
    pub(crate) number: Decimal,
    pub(crate) unit: RelativeUnit,
    /// Whether words such as *tomorrow* are true of it.
    pub(crate) has_words: bool,
}

impl DatePatterns {
    /// How far a value that has a date is from now: in the unit that is asked for, or else in one by how far it is.
    ///
    /// | distance | unit | counted |
    /// |---|---|---|
    /// | of a moment, under a minute | second | whole ones |
    /// | of a moment, under an hour | minute | whole ones |
    /// | of a moment, under 24 hours, or on the same day | hour | whole ones |
    /// | under 7 days | day | midnights between |
    /// | under a month | week | whole ones |
    /// | under 12 months | month | whole ones |
    /// | longer | year | whole ones |
    ///
    /// Days are those of the zone that the value is shown in. A unit that is asked for and has a day or more is counted by how
    /// often a new one begins: on 31 January, 1 February is in the next month. None where the value has no date, or where a
    /// calendar does not reach so far.
    pub(crate) fn distance(
        &self,
        value: &DateValue,
        now: Timestamp,
        format: &DateFormat<'_>,
        unit: Option<RelativeUnit>,
    ) -> Option<Distance> {
        let zone = value.zone(format);
        let (today, date) = (zone.to_datetime(now).date(), value.civil(format).0.date());
        let moment = match value {
            DateValue::Instant(moment) => *moment,
            DateValue::Zoned(moment) => moment.timestamp(),
            // It stands on a clock in the zone.
            DateValue::Civil(civil) => zone.to_timestamp(*civil).ok()?,
            // It begins at midnight; the first date of all has none that is a moment everywhere.
            DateValue::Date(date) => zone.to_timestamp(date.at(0, 0, 0, 0)).unwrap_or(Timestamp::MIN),
            DateValue::Time(_) => return None,
        };
        let seconds = moment.duration_since(now).as_secs();
        let days = days(today, date)?;
        let has_passed = if value.has_time() { moment < now } else { date < today };
        let of = |count: i64, unit, has_words| {
            let number = if count == 0 && has_passed { Decimal::read("-0") } else { Some(count.into()) };
            Some(Distance { number: number?, unit, has_words })
        };
        let Some(unit) = unit else {
            return match (value.has_time().then(|| seconds.abs()), days.abs()) {
                (Some(..MINUTE), _) => of(seconds, RelativeUnit::Second, true),
                (Some(..HOUR), _) => of(seconds / MINUTE, RelativeUnit::Minute, false),
                (Some(..DAY), _) | (Some(_), 0) => of(seconds / HOUR, RelativeUnit::Hour, false),
                (_, ..7) => of(days, RelativeUnit::Day, true),
                _ => match months(today, date)? {
                    0 => of(days / 7, RelativeUnit::Week, false),
                    months if months.abs() < 12 => of(months, RelativeUnit::Month, false),
                    months => of(months / 12, RelativeUnit::Year, false),
                },
            };
        };
        let begun = |place: fn(CalendarDate) -> i32| {
            let both = |calendar| CalendarDate::of(calendar, today).zip(CalendarDate::of(calendar, date));
            let (today, date) = both(self.asked(format)).or_else(|| both(Calendar::Gregorian))?;
            Some(i64::from(place(date)) - i64::from(place(today)))
        };
        match unit {
            RelativeUnit::Second => of(seconds, unit, true),
            RelativeUnit::Minute => of(seconds / MINUTE, unit, false),
            RelativeUnit::Hour => of(seconds / HOUR, unit, false),
            RelativeUnit::Day => of(days, unit, true),
            RelativeUnit::Week => {
                let first = Weekday::from_sunday_zero_offset(self.first_day).ok()?;
                let since_first = |date: Date| i64::from(date.weekday().since(first));
                of((days + since_first(today) - since_first(date)) / 7, unit, true)
            }
            RelativeUnit::Month => of(begun(CalendarDate::months)?, unit, true),
            RelativeUnit::Quarter => of(begun(CalendarDate::quarters)?, unit, true),
            RelativeUnit::Year => of(begun(CalendarDate::whole_year)?, unit, true),
        }
    }
}

/// The days from one date to another.
fn days(from: Date, to: Date) -> Option<i64> {
    Some(i64::from(from.until(to).ok()?.get_days()))
}

/// The whole months from one date to another.
fn months(from: Date, to: Date) -> Option<i64> {
    Some(i64::from(from.until((jiff::Unit::Month, to)).ok()?.get_months()))
}
