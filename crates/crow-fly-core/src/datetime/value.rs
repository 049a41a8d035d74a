//! What dates and times are made from.

use alloc::boxed::Box;
use core::fmt;

use jiff::civil::{Date, DateTime, Time};
use jiff::fmt::temporal::{Pieces, PiecesOffset};
use jiff::tz::{Offset, TimeZone};
use jiff::{Timestamp, Zoned};

use super::DateFormat;
use super::zone_name::NamedZone;
use crate::calendar::{Calendar, CalendarDate};
use crate::parse_error::parse_by_read;

/// A date, a time, or both; with or without a zone.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum DateValue {
    /// A moment; it is shown in whatever zone is asked for.
    Instant(Timestamp),
    /// A moment in a zone of its own.
    Zoned(Box<Zoned>),
    /// A date and time as a clock shows them: no zone moves them.
    Civil(DateTime),
    /// A date.
    Date(Date),
    /// A time of the day.
    Time(Time),
}

/// A date and time as they are shown, and how far from Greenwich.
#[derive(Clone, Copy, Debug)]
pub(super) struct Moment {
    pub(super) civil: DateTime,
    pub(super) offset: Option<Offset>,
    /// The day in the calendar that it is shown in.
    pub(super) date: CalendarDate,
    /// What names its zone, where that is shown and is one of CLDR's.
    pub(super) zone: Option<NamedZone>,
}

parse_by_read!(
    DateValue,
    "a date or a time",
    "write it as `2026-03-01`, `09:30` or `2026-03-01T09:30:00+01:00`",
    "Reads ISO 8601 as RFC 9557 and RFC 3339 write it: `2026-03-01`, `2026-03-01T09:30`, `09:30`, \
`2026-03-01T09:30:00Z`, `2026-03-01T09:30:00+01:00`, `2026-03-01T09:30:00+01:00[Europe/Warsaw]`. `Z` and `-00:00` name a \
moment and no zone (RFC 9557 §2); any other offset is the zone of the moment."
);

impl DateValue {
    pub(crate) fn read(text: &str) -> Option<Self> {
        let text = text.trim();
        if text.contains('[') {
            return text.parse().ok().map(|moment| Self::Zoned(Box::new(moment)));
        }
        if let Ok(pieces) = Pieces::parse(text)
            && let (Some(time), Some(offset)) = (pieces.time(), pieces.offset())
        {
            let at = |offset: Offset| offset.to_timestamp(pieces.date().to_datetime(time)).ok();
            return match offset {
                PiecesOffset::Numeric(offset) if !offset.is_negative() || offset.offset() != Offset::UTC => {
                    let offset = offset.offset();
                    Some(Self::Zoned(Box::new(at(offset)?.to_zoned(TimeZone::fixed(offset)))))
                }
                _ => at(Offset::UTC).map(Self::Instant),
            };
        }
        if text.contains(['T', 't', ' ']) && text.len() > 10 {
            return text.parse().ok().map(Self::Civil);
        }
        if text.contains(':') { text.parse().ok().map(Self::Time) } else { text.parse().ok().map(Self::Date) }
    }

    /// A moment by the seconds since 1970 began in UTC.
    pub fn from_unix(seconds: i64) -> Option<Self> {
        Timestamp::from_second(seconds).ok().map(Self::Instant)
    }

    /// Whether it is a moment of the years 1900 to 2200, in UTC.
    pub(crate) fn is_of_our_times(&self) -> bool {
        let year = |moment: &Timestamp| TimeZone::UTC.to_datetime(*moment).year();
        !matches!(self, Self::Instant(moment) if !(1900..=2200).contains(&year(moment)))
    }

    /// The zone that its moment is shown in, or is in where it has no offset.
    pub(super) fn zone(&self, format: &DateFormat<'_>) -> TimeZone {
        match (self, format.zone) {
            (_, Some(zone)) => zone.clone(),
            (Self::Zoned(moment), None) => moment.time_zone().clone(),
            (_, None) => format.default_zone.cloned().unwrap_or(TimeZone::UTC),
        }
    }

    /// What names its zone, where the format shows it.
    #[inline]
    fn named_zone(&self, format: &DateFormat<'_>) -> Option<NamedZone> {
        format.zone_style?;
        let moment = match self {
            Self::Instant(moment) => *moment,
            Self::Zoned(moment) => moment.timestamp(),
            Self::Civil(_) | Self::Date(_) | Self::Time(_) => return None,
        };
        NamedZone::of(&self.zone(format), moment)
    }

    /// The date and time as a format shows them, and how far from Greenwich.
    #[inline]
    pub(super) fn civil(&self, format: &DateFormat<'_>) -> (DateTime, Option<Offset>) {
        let at =
            |moment: Timestamp, zone: &TimeZone| (zone.to_datetime(moment), Some(zone.to_offset(moment)));
        match (self, format.zone) {
            (Self::Instant(moment), Some(zone)) => at(*moment, zone),
            (Self::Instant(moment), None) => at(*moment, format.default_zone.unwrap_or(&TimeZone::UTC)),
            (Self::Zoned(moment), Some(zone)) => at(moment.timestamp(), zone),
            (Self::Zoned(moment), None) => (moment.datetime(), Some(moment.offset())),
            (Self::Civil(civil), _) => (*civil, None),
            (Self::Date(date), _) => (date.at(0, 0, 0, 0), None),
            (Self::Time(time), _) => (Date::constant(1970, 1, 1).to_datetime(*time), None),
        }
    }

    /// The moment in a calendar; none where it is not in the calendar's range.
    pub(super) fn moment(&self, format: &DateFormat<'_>, calendar: Calendar) -> Option<Moment> {
        let (civil, offset) = self.civil(format);
        Some(Moment {
            civil,
            offset,
            date: CalendarDate::of(calendar, civil.date())?,
            zone: self.named_zone(format),
        })
    }

    /// The moment in the Gregorian calendar, which has every day.
    #[inline]
    pub(super) fn gregorian(&self, format: &DateFormat<'_>) -> Moment {
        let (civil, offset) = self.civil(format);
        Moment { civil, offset, date: CalendarDate::gregorian(civil.date()), zone: self.named_zone(format) }
    }

    /// The date in it: of a moment in its own zone, or in UTC.
    pub(crate) fn date(&self) -> Option<Date> {
        let format = DateFormat::default();
        self.has_date().then(|| self.civil(&format).0.date())
    }

    /// Whether there is a date in it.
    pub const fn has_date(&self) -> bool {
        !matches!(self, Self::Time(_))
    }

    /// Whether there is a time in it.
    pub const fn has_time(&self) -> bool {
        !matches!(self, Self::Date(_))
    }
}

/// ISO 8601, as RFC 9557 extends it: what [`DateValue::parse`] reads.
impl fmt::Display for DateValue {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Instant(moment) => moment.fmt(f),
            Self::Zoned(moment) => moment.fmt(f),
            Self::Civil(civil) => civil.fmt(f),
            Self::Date(date) => date.fmt(f),
            Self::Time(time) => time.fmt(f),
        }
    }
}

impl From<Zoned> for DateValue {
    fn from(value: Zoned) -> Self {
        Self::Zoned(Box::new(value))
    }
}

macro_rules! from {
    ($($type:ty => $variant:ident),*) => {
        $(impl From<$type> for DateValue {
            fn from(value: $type) -> Self {
                Self::$variant(value)
            }
        })*
    };
}

from!(Timestamp => Instant, DateTime => Civil, Date => Date, Time => Time);
