//! What the functions of dates and times share: the options that travel with a date, and how it is shown (UTS #35 part 9,
//! "Date and Time Functions").

use alloc::boxed::Box;
use alloc::format;
use core::fmt::{self, Write};

use jiff::fmt::temporal::DateTimeParser;
use jiff::tz::TimeZone;

use super::option::{BadOption, one_of};
use crate::calendar::Calendar;
use crate::datetime::{CalendarProblem, DateFields, DateFormat, DateValue, Length, Precision, ZoneStyle};
use crate::function_context::{FunctionContext, Zones};

/// The options that every function of dates and times takes.
pub(super) const ZONE_OPTIONS: &[&str] = &["timeZone", "hour12", "calendar"];

/// Which date function.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::message) enum DateKind {
    Date,
    Time,
    DateTime,
}

/// The options of a date function, resolved: what travels with a declared value.
#[derive(Clone, Debug, PartialEq)]
pub(in crate::message) struct DateOptions {
    fields: Option<DateFields>,
    length: Option<Length>,
    precision: Option<Precision>,
    zone_style: Option<ZoneStyle>,
    hour12: Option<bool>,
    zone: Option<AskedZone>,
    calendar: Option<Calendar>,
}

/// What the option `timeZone` asks for.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum AskedZone {
    /// `input`: the zone the value came with.
    Input,
    Named(Box<TimeZone>),
}

impl AskedZone {
    pub(super) fn read(value: &str) -> Result<Self, BadOption> {
        if value == "input" {
            return Ok(Self::Input);
        }
        let zone = zone(value).ok_or_else(|| {
            BadOption::not(
                "a time zone of the IANA database, such as `Europe/Warsaw`, an offset, such as `+01:00`, or `input`",
            )
        })?;
        Ok(Self::Named(Box::new(zone)))
    }
}

/// A time zone by its name, or by its offset as ISO 8601 writes it.
fn zone(value: &str) -> Option<TimeZone> {
    if value.starts_with(['+', '-']) {
        return DateTimeParser::new().parse_time_zone(value).ok();
    }
    TimeZone::get(value).ok()
}

impl Default for DateOptions {
    fn default() -> Self {
        Self::DEFAULT
    }
}

impl DateOptions {
    pub(in crate::message) const DEFAULT: Self = Self {
        fields: None,
        length: None,
        precision: None,
        zone_style: None,
        hour12: None,
        zone: None,
        calendar: None,
    };

    /// The options that only name a zone.
    pub(super) fn in_zone(zone: Option<AskedZone>) -> Self {
        Self { zone, ..Self::DEFAULT }
    }

    /// Sets the fields of a date.
    pub(super) fn set_fields(&mut self, value: &str) -> Result<(), BadOption> {
        let known = [
            ("weekday", DateFields::Weekday),
            ("day-weekday", DateFields::DayWeekday),
            ("month-day", DateFields::MonthDay),
            ("month-day-weekday", DateFields::MonthDayWeekday),
            ("year-month-day", DateFields::YearMonthDay),
            ("year-month-day-weekday", DateFields::YearMonthDayWeekday),
        ];
        self.fields = Some(one_of(value, known)?);
        Ok(())
    }

    /// Sets the fields of a date, of those that the standard's functions do not have, too.
    pub(super) fn set_more_fields(&mut self, value: &str) -> Result<(), BadOption> {
        let known = [
            ("year", DateFields::Year),
            ("year-quarter", DateFields::YearQuarter),
            ("year-month", DateFields::YearMonth),
            ("quarter", DateFields::Quarter),
            ("month", DateFields::Month),
            ("weekday", DateFields::Weekday),
        ];
        self.fields = Some(one_of(value, known)?);
        Ok(())
    }

    /// Sets how long a date is.
    pub(super) fn set_length(&mut self, value: &str) -> Result<(), BadOption> {
        let known = [("long", Length::Long), ("medium", Length::Medium), ("short", Length::Short)];
        self.length = Some(one_of(value, known)?);
        Ok(())
    }

    /// Sets how exact a time is.
    pub(super) fn set_precision(&mut self, value: &str) -> Result<(), BadOption> {
        let known = [("hour", Precision::Hour), ("minute", Precision::Minute), ("second", Precision::Second)];
        self.precision = Some(one_of(value, known)?);
        Ok(())
    }

    /// Sets how a time zone is named.
    pub(super) fn set_zone_style(&mut self, value: &str) -> Result<(), BadOption> {
        self.zone_style = Some(one_of(value, [("short", ZoneStyle::Short), ("long", ZoneStyle::Long)])?);
        Ok(())
    }

    /// Sets one of the options that every function of dates and times takes.
    pub(super) fn set_zone(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "hour12" => self.hour12 = Some(one_of(value, [("true", true), ("false", false)])?),
            "calendar" => {
                let named = one_of(value, Calendar::ALL.map(|calendar| (calendar.id(), calendar)));
                self.calendar = Some(named.map_err(|reason| match reason {
                    BadOption::Value(known) => {
                        BadOption::Value(format!("{known}; the date is in the calendar of its locale").into())
                    }
                    BadOption::Unknown => BadOption::Unknown,
                })?);
            }
            "timeZone" => self.zone = Some(AskedZone::read(value)?),
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    /// These options over inherited ones.
    pub(in crate::message) fn over(&self, inherited: &Self) -> Self {
        Self {
            fields: self.fields.or(inherited.fields),
            length: self.length.or(inherited.length),
            precision: self.precision.or(inherited.precision),
            zone_style: self.zone_style.or(inherited.zone_style),
            hour12: self.hour12.or(inherited.hour12),
            zone: self.zone.clone().or_else(|| inherited.zone.clone()),
            calendar: self.calendar.or(inherited.calendar),
        }
    }

    /// The format these options give. The zone is the one asked for here, else the one the caller named; a value without a
    /// zone of its own has the caller's default.
    pub(super) fn format<'z>(&'z self, kind: DateKind, zones: &'z Zones) -> DateFormat<'z> {
        let date = (self.fields.unwrap_or_default(), self.length.unwrap_or_default());
        DateFormat {
            date: (kind != DateKind::Time).then_some(date),
            time: (kind != DateKind::Date).then(|| self.precision.unwrap_or_default()),
            zone_style: self.zone_style.filter(|_| kind != DateKind::Date),
            hour12: self.hour12,
            zone: match &self.zone {
                Some(AskedZone::Input) => None,
                Some(AskedZone::Named(zone)) => Some(zone),
                None => zones.named.as_ref(),
            },
            default_zone: zones.usual(),
            calendar: self.calendar,
        }
    }

    /// Whether a date needs no look at calendars: it is in the Gregorian one, and nothing asks for another.
    #[inline]
    pub(in crate::message) fn is_gregorian(&self, context: &FunctionContext) -> bool {
        self.calendar.is_none() && context.dates.is_gregorian()
    }
}

impl DateKind {
    /// Whether a value has what the function shows.
    pub(in crate::message) const fn takes(self, value: &DateValue) -> bool {
        match self {
            // For `:datetime` a date alone begins at midnight, as the standard has it.
            Self::Date | Self::DateTime => value.has_date(),
            Self::Time => value.has_time(),
        }
    }

    /// What it needs of a value.
    pub(super) const fn needs(self) -> &'static str {
        match self {
            Self::Date | Self::DateTime => "a date; a time of day does not have one",
            Self::Time => "a time of day; a date does not have one",
        }
    }

    /// What a date shows where no function says.
    pub(super) const fn of(value: &DateValue) -> Self {
        match (value.has_date(), value.has_time()) {
            (true, true) => Self::DateTime,
            (false, _) => Self::Time,
            (true, false) => Self::Date,
        }
    }
}

/// Why a date is not in the calendar that its options or the locale ask for.
pub(in crate::message) fn problem(
    date: &DateValue,
    kind: Option<DateKind>,
    options: &DateOptions,
    context: &FunctionContext,
) -> Option<CalendarProblem> {
    if options.is_gregorian(context) {
        return None;
    }
    let format = options.format(kind.unwrap_or_else(|| DateKind::of(date)), &context.zones);
    context.dates.problem(&format, date)
}

/// Writes a date as a function and its options show it.
pub(in crate::message) fn write(
    date: &DateValue,
    kind: Option<DateKind>,
    options: &DateOptions,
    context: &FunctionContext,
    to: &mut dyn Write,
) -> fmt::Result {
    let format = options.format(kind.unwrap_or_else(|| DateKind::of(date)), &context.zones);
    context.dates.write(&format, date, &context.numbers, to)
}
