//! Dates, times and durations of the crates `chrono` and `time`, as arguments of messages.
//!
//! What those crates count beyond the years −9999 to 9999 is shown as a text, as they write it.

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::string::ToString;

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::{Offset, TimeZone};
use jiff::{SignedDuration, Timestamp};

use super::Value;
use crate::datetime::DateValue;

/// The last nanosecond of a second: a leap second is counted beyond it, and shown as it.
const LAST_NANOSECOND: u32 = 999_999_999;

/// A value of a date, or the text of one that is out of range.
fn argument(date: Option<DateValue>, text: impl FnOnce() -> alloc::string::String) -> Value<'static> {
    date.map_or_else(|| Value::Text(Cow::Owned(text())), Value::from)
}

fn date(year: i32, month: u32, day: u32) -> Option<Date> {
    Date::new(year.try_into().ok()?, month.try_into().ok()?, day.try_into().ok()?).ok()
}

fn time_of_day(hour: u32, minute: u32, second: u32, nanosecond: u32) -> Option<Time> {
    let nanosecond = nanosecond.min(LAST_NANOSECOND).try_into().ok()?;
    Time::new(hour.try_into().ok()?, minute.try_into().ok()?, second.try_into().ok()?, nanosecond).ok()
}

fn instant(seconds: i64, nanosecond: u32) -> Option<Timestamp> {
    Timestamp::new(seconds, nanosecond.min(LAST_NANOSECOND).try_into().ok()?).ok()
}

/// A moment in the zone of an offset.
fn fixed(moment: Timestamp, offset_seconds: i32) -> Option<DateValue> {
    let offset = Offset::from_seconds(offset_seconds).ok()?;
    Some(DateValue::Zoned(Box::new(moment.to_zoned(TimeZone::fixed(offset)))))
}

#[cfg(feature = "chrono")]
mod of_chrono {
    use chrono::{
        DateTime as Moment, Datelike as _, FixedOffset, NaiveDate, NaiveDateTime, NaiveTime, TimeDelta,
        Timelike as _, Utc,
    };

    use super::{
        DateTime, DateValue, SignedDuration, ToString as _, Value, argument, date, fixed, instant,
        time_of_day,
    };

    fn day(value: NaiveDate) -> Option<super::Date> {
        date(value.year(), value.month(), value.day())
    }

    fn clock(value: NaiveTime) -> Option<super::Time> {
        time_of_day(value.hour(), value.minute(), value.second(), value.nanosecond())
    }

    impl From<TimeDelta> for Value<'_> {
        fn from(value: TimeDelta) -> Self {
            Self::from(SignedDuration::new(value.num_seconds(), value.subsec_nanos()))
        }
    }

    impl From<NaiveDate> for Value<'_> {
        fn from(value: NaiveDate) -> Self {
            argument(day(value).map(DateValue::Date), || value.to_string())
        }
    }

    impl From<NaiveTime> for Value<'_> {
        fn from(value: NaiveTime) -> Self {
            argument(clock(value).map(DateValue::Time), || value.to_string())
        }
    }

    impl From<NaiveDateTime> for Value<'_> {
        fn from(value: NaiveDateTime) -> Self {
            let parts = day(value.date()).zip(clock(value.time()));
            let civil = parts.map(|(day, clock)| DateTime::from_parts(day, clock));
            argument(civil.map(DateValue::Civil), || value.to_string())
        }
    }

    /// A moment without a zone of its own: it is shown in the reader's.
    impl From<Moment<Utc>> for Value<'_> {
        fn from(value: Moment<Utc>) -> Self {
            let moment = instant(value.timestamp(), value.timestamp_subsec_nanos());
            argument(moment.map(DateValue::Instant), || value.to_string())
        }
    }

    /// A moment in the zone of its offset. One of another zone has `fixed_offset()`.
    impl From<Moment<FixedOffset>> for Value<'_> {
        fn from(value: Moment<FixedOffset>) -> Self {
            let moment = instant(value.timestamp(), value.timestamp_subsec_nanos());
            let offset = value.offset().local_minus_utc();
            argument(moment.and_then(|moment| fixed(moment, offset)), || value.to_string())
        }
    }
}

#[cfg(feature = "time")]
mod of_time {
    use time::{OffsetDateTime, PrimitiveDateTime, UtcDateTime};

    use super::{
        DateTime, DateValue, SignedDuration, ToString as _, Value, argument, date, fixed, instant,
        time_of_day,
    };

    fn day(value: time::Date) -> Option<super::Date> {
        date(value.year(), u8::from(value.month()).into(), value.day().into())
    }

    fn clock(value: time::Time) -> Option<super::Time> {
        time_of_day(value.hour().into(), value.minute().into(), value.second().into(), value.nanosecond())
    }

    impl From<time::Duration> for Value<'_> {
        fn from(value: time::Duration) -> Self {
            Self::from(SignedDuration::new(value.whole_seconds(), value.subsec_nanoseconds()))
        }
    }

    impl From<time::Date> for Value<'_> {
        fn from(value: time::Date) -> Self {
            argument(day(value).map(DateValue::Date), || value.to_string())
        }
    }

    impl From<time::Time> for Value<'_> {
        fn from(value: time::Time) -> Self {
            argument(clock(value).map(DateValue::Time), || value.to_string())
        }
    }

    impl From<PrimitiveDateTime> for Value<'_> {
        fn from(value: PrimitiveDateTime) -> Self {
            let parts = day(value.date()).zip(clock(value.time()));
            let civil = parts.map(|(day, clock)| DateTime::from_parts(day, clock));
            argument(civil.map(DateValue::Civil), || value.to_string())
        }
    }

    /// A moment without a zone of its own: it is shown in the reader's.
    impl From<UtcDateTime> for Value<'_> {
        fn from(value: UtcDateTime) -> Self {
            let moment = instant(value.unix_timestamp(), value.nanosecond());
            argument(moment.map(DateValue::Instant), || value.to_string())
        }
    }

    /// A moment in the zone of its offset; in UTC it has none of its own, and is shown in the reader's.
    impl From<OffsetDateTime> for Value<'_> {
        fn from(value: OffsetDateTime) -> Self {
            let moment = instant(value.unix_timestamp(), value.nanosecond());
            let date = moment.and_then(|moment| match value.offset().whole_seconds() {
                0 => Some(DateValue::Instant(moment)),
                offset => fixed(moment, offset),
            });
            argument(date, || value.to_string())
        }
    }
}
