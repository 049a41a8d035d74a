//! Dates and times in the [calendar](crate::calendar) of a locale (UTS #35 part 4), from `jiff` types.
//!
//! ```
//! use crow_fly_core::{datetime::{DateFormat, DatePatterns, DateValue, Length}, number::NumberLocale, tag::LanguageTag};
//!
//! let polish = LanguageTag::parse("pl")?;
//! let format = DateFormat { date: Some((Default::default(), Length::Long)), ..DateFormat::default() };
//! let date = DateValue::parse("2026-03-01").unwrap();
//! let mut text = String::new();
//! DatePatterns::of(&polish).write(&format, &date, &NumberLocale::of(&polish), &mut text).unwrap();
//! assert_eq!(text, "1 marca 2026");
//! # Ok::<(), crow_fly_core::tag::TagError>(())
//! ```

mod distance;
mod interval;
mod numerals;
mod pattern;
mod problem;
mod relative;
mod skeleton;
mod value;
#[cfg_attr(not(feature = "zone-names"), path = "no_zone_name.rs")]
mod zone_name;

pub(crate) use distance::Distance;
pub(crate) use problem::CalendarProblem;
pub use relative::{RelativeTime, RelativeUnit};
pub use value::DateValue;

use alloc::borrow::Cow;
use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::{DATES, GENERIC};
use crow_fly_cldr::keys::{dates as keys, key};
use crow_fly_cldr::supplement;
use crow_fly_cldr::texts::{Key, LocaleTexts};
use jiff::tz::TimeZone;
use smol_str::SmolStr;

use interval::Interval;
use pattern::SplitPattern;

use crate::calendar::{Calendar, CalendarChoice};
use crate::locale_texts;
use crate::number::NumberLocale;
use crate::tag::LanguageTag;
use value::Moment;
use zone_name::ZoneNames;

/// Which fields of a date are shown: the combinations of the standard's `fields` option, and larger ones.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum DateFields {
    /// 2026
    Year,
    /// Q1 2026
    YearQuarter,
    /// March 2026
    YearMonth,
    /// Q1
    Quarter,
    /// March
    Month,
    /// Sunday
    Weekday,
    /// Sunday, the 1st
    DayWeekday,
    /// March 1
    MonthDay,
    /// Sunday, March 1
    MonthDayWeekday,
    /// March 1, 2026
    #[default]
    YearMonthDay,
    /// Sunday, March 1, 2026
    YearMonthDayWeekday,
}

/// How long a date is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Length {
    /// Whole words.
    Long,
    /// Abbreviations.
    #[default]
    Medium,
    /// Numbers.
    Short,
}

/// How exact a time is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Precision {
    /// The hour.
    Hour,
    /// The minute.
    #[default]
    Minute,
    /// The second.
    Second,
}

/// How a time zone is named: by its distance from Greenwich, or, with the feature `zone-names`, by its name at the moment that
/// is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum ZoneStyle {
    /// `CET` where the locale uses such; else `GMT+1`.
    Short,
    /// `Central European Standard Time`, or the place where it is; else `GMT+01:00`.
    Long,
}

/// What is shown of a date and time.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct DateFormat<'z> {
    /// The date.
    pub date: Option<(DateFields, Length)>,
    /// The time.
    pub time: Option<Precision>,
    /// The time zone, behind a time. A value without a zone shows none.
    pub zone_style: Option<ZoneStyle>,
    /// Twelve hours or twenty-four; by default as the locale has them.
    pub hour12: Option<bool>,
    /// The time zone to show a moment in; by default that of the value.
    pub zone: Option<&'z TimeZone>,
    /// The time zone of moments that have none, where `zone` is not set; by default UTC.
    pub default_zone: Option<&'z TimeZone>,
    /// The calendar; by default the locale's.
    pub calendar: Option<Calendar>,
}

/// The skeletons of the patterns of dates, in the order of [`keys::LENGTHS`].
static SKELETONS: [Key; 4] = DATES.constants_of(keys::DATE_SKELETON, keys::LENGTHS);

const MEDIUM: Key = DATES.constant(&[keys::DATE, keys::MEDIUM]);

/// What a locale writes dates with.
#[derive(Clone, Debug)]
pub struct DatePatterns {
    /// The texts of the Gregorian calendar.
    texts: Option<LocaleTexts>,
    /// What another calendar has of its own, and what all other calendars share.
    of_calendar: Option<[LocaleTexts; 2]>,
    calendar: Calendar,
    /// The calendar that the locale asks for, and this program does not have.
    lacking: Option<SmolStr>,
    /// `h`, `H`, `K` or `k`.
    hour: char,
    /// The first day of the week: 0 is Sunday.
    first_day: i8,
    /// The flexible day periods.
    periods: &'static [(&'static str, u16, u16)],
    /// What nearly every date needs, read once: the medium pattern, and the names of its months.
    zone_names: ZoneNames,
    medium: Option<SplitPattern>,
    months: [Option<&'static str>; 14],
}

impl DatePatterns {
    /// The texts of a tag; `-u-hc-` chooses the hours, or else the region that `-u-rg-` names does; the calendar is the
    /// locale's [choice](CalendarChoice).
    pub fn of(tag: &LanguageTag) -> Self {
        let tag = &*tag.as_canonical();
        // What has neither a language nor a region is written as CLDR's root has it.
        let maximal = if tag.is_und() && tag.region().is_none() { tag.clone() } else { tag.maximized() };
        let language = maximal.language();
        let region = maximal.region();
        let region = region.as_ref().map_or("001", |region| region.as_str());
        let asked = tag.region_override();
        let wanted = match tag.keyword("hc") {
            Some("h11") => Some('K'),
            Some("h12") => Some('h'),
            Some("h23") => Some('H'),
            Some("h24") => Some('k'),
            _ => None,
        };
        let in_region = |region: &str| {
            supplement::hour(&alloc::format!("{language}-{region}")).or_else(|| supplement::hour(region))
        };
        let usual = || asked.as_deref().and_then(in_region).or_else(|| in_region(region));
        let named = tag.keyword("fw").and_then(|day| (0..).zip(keys::DAYS).find(|(_, known)| *known == day));
        let week_in = |region: &str| supplement::first_day(region).and_then(|day| i8::try_from(day).ok());
        let first_day = named.map(|(at, _)| at).or_else(|| asked.as_deref().and_then(week_in));
        let choice = CalendarChoice::of(tag);
        Self {
            texts: locale_texts::find(DATES, tag),
            of_calendar: None,
            calendar: Calendar::Gregorian,
            lacking: choice.lacking().map(SmolStr::from),
            hour: wanted.or_else(usual).or_else(|| supplement::hour("001")).unwrap_or('H'),
            first_day: first_day.or_else(|| week_in(region)).or_else(|| week_in("001")).unwrap_or(1),
            periods: supplement::day_periods(language.as_str()),
            zone_names: ZoneNames::of(tag),
            medium: None,
            months: [None; 14],
        }
        .with_texts_of(choice.calendar())
    }

    /// What a calendar has of its own, and what all but the Gregorian share; none where this program does not have it in the
    /// locale's language.
    fn texts_of(&self, calendar: Calendar) -> Option<[LocaleTexts; 2]> {
        Some([self.texts?.of_file(calendar.texts()?)?, self.texts?.of_file(GENERIC)?])
    }

    /// Whether this program has a calendar in the locale's language.
    fn has(&self, calendar: Calendar) -> bool {
        calendar == Calendar::Gregorian || self.texts_of(calendar).is_some()
    }

    /// The same in another calendar: the Gregorian one where this program does not have it.
    fn with_texts_of(mut self, calendar: Calendar) -> Self {
        self.of_calendar = self.texts_of(calendar);
        self.calendar = if self.of_calendar.is_some() { calendar } else { Calendar::Gregorian };
        self.medium = self.find(MEDIUM).and_then(SplitPattern::of);
        self.months = pattern::MONTHS.abbreviated.map(|month| self.find(month));
        self
    }

    /// The moment in the calendar of these patterns, where the format asks for no other and the calendar has the day.
    #[inline]
    fn moment(&self, format: &DateFormat<'_>, value: &DateValue) -> Option<Moment> {
        let is_own = format.calendar.is_none_or(|asked| asked == self.calendar);
        if is_own { value.moment(format, self.calendar) } else { None }
    }

    /// The calendar that a format asks for, where this program has it; else that of the locale.
    fn asked(&self, format: &DateFormat<'_>) -> Calendar {
        format.calendar.filter(|asked| self.has(*asked)).unwrap_or(self.calendar)
    }

    /// The patterns of the calendar that a format asks for, or of the Gregorian one where that does not have all the days.
    #[cold]
    fn of_another(&self, format: &DateFormat<'_>, values: &[&DateValue]) -> Self {
        let asked = self.asked(format);
        let has_all = values.iter().all(|value| value.moment(format, asked).is_some());
        self.clone().with_texts_of(if has_all { asked } else { Calendar::Gregorian })
    }

    /// Why a date is not shown in the calendar that is asked for.
    pub(crate) fn problem(&self, format: &DateFormat<'_>, value: &DateValue) -> Option<CalendarProblem> {
        // A time alone shows no calendar.
        format.date?;
        let used = self.asked(format);
        let absent = match format.calendar {
            Some(asked) => (asked != used).then(|| SmolStr::new_static(asked.id())),
            None => self.lacking.clone(),
        };
        match absent {
            Some(asked) => Some(CalendarProblem::Absent { asked, used }),
            None => value.moment(format, used).is_none().then_some(CalendarProblem::OutOfRange(used)),
        }
    }

    /// Whether these are the patterns of the Gregorian calendar.
    const fn is_in_gregorian(&self) -> bool {
        matches!(self.calendar, Calendar::Gregorian)
    }

    /// Whether every date is shown in the calendar that the locale asks for.
    pub(crate) fn is_gregorian(&self) -> bool {
        self.is_in_gregorian() && self.lacking.is_none()
    }

    fn text(&self, key: &str) -> Option<&'static str> {
        self.find(DATES.key(key)?)
    }

    /// A text of the calendar, of what all calendars share, or of the Gregorian one; what is empty there is not of this one.
    fn find(&self, key: Key) -> Option<&'static str> {
        let Some([own, generic]) = self.of_calendar else {
            return self.texts?.find(key);
        };
        let text = own.find(key).or_else(|| generic.find(key)).or_else(|| self.texts?.find(key));
        text.filter(|text| !text.is_empty())
    }

    /// The letter of hours: the locale's own, or the one that is asked for.
    fn hour(&self, hour12: Option<bool>) -> char {
        match (hour12, self.hour) {
            (Some(true), 'K') => 'K',
            (Some(true), _) => 'h',
            (Some(false), 'k') => 'k',
            (Some(false), _) => 'H',
            (None, hour) => hour,
        }
    }

    /// Writes a date or time.
    ///
    /// # Errors
    /// Those of the output.
    pub fn write(
        &self,
        format: &DateFormat<'_>,
        value: &DateValue,
        numbers: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        // Nearly every date: it needs no look at ranges.
        if self.is_in_gregorian() && format.calendar.is_none() {
            return self.write_moment(format, &value.gregorian(format), numbers, output);
        }
        if let Some(moment) = self.moment(format, value) {
            return self.write_moment(format, &moment, numbers, output);
        }
        let other = self.of_another(format, &[value]);
        let moment = value.moment(format, other.calendar).unwrap_or_else(|| value.gregorian(format));
        other.write_moment(format, &moment, numbers, output)
    }

    #[inline]
    fn write_moment(
        &self,
        format: &DateFormat<'_>,
        moment: &Moment,
        numbers: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        if let (Some((DateFields::YearMonthDay, Length::Medium)), None, Some(medium)) =
            (format.date, format.time, &self.medium)
        {
            return pattern::write(self, medium.pieces(), moment, numbers, output);
        }
        let pattern = self.pattern(format, moment);
        pattern::write_all(self, &pattern, moment, numbers, output)
    }

    /// Writes the stretch from one date or time to another.
    ///
    /// # Errors
    /// Those of the output.
    pub fn write_range(
        &self,
        format: &DateFormat<'_>,
        start: &DateValue,
        end: &DateValue,
        numbers: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        let has_dates = start.has_date() && end.has_date();
        if let Some((start, end)) = self.moment(format, start).zip(self.moment(format, end)) {
            return interval::write(self, format, &Interval { start, end, has_dates }, numbers, output);
        }
        // Both are of one calendar.
        let other = self.of_another(format, &[start, end]);
        let moment = |value: &DateValue| {
            value.moment(format, other.calendar).unwrap_or_else(|| value.gregorian(format))
        };
        let interval = Interval { start: moment(start), end: moment(end), has_dates };
        interval::write(&other, format, &interval, numbers, output)
    }

    /// The pattern of a format, for a moment that has a zone to show, or has none.
    fn pattern(&self, format: &DateFormat<'_>, moment: &Moment) -> Cow<'static, str> {
        let zone_style = format.zone_style.filter(|_| moment.offset.is_some());
        let date = format.date.map(|(fields, length)| self.date_pattern(fields, length));
        let time = format.time.map(|precision| self.time_pattern(precision, format.hour12, zone_style));
        match (date, time) {
            (Some(date), None) => date,
            (None, Some(time)) => time,
            (None, None) => Cow::Borrowed(""),
            (Some(date), Some(time)) => {
                let length = format.date.map_or(Length::Medium, |(_, length)| length);
                let length = match length {
                    Length::Long => keys::LONG,
                    Length::Medium => keys::MEDIUM,
                    Length::Short => keys::SHORT,
                };
                Cow::Owned(self.joined(keys::AT, length, &date, &time))
            }
        }
    }

    /// The patterns of a date and a time in one, by a kind and a length of what joins them.
    fn joined(&self, kind: &str, length: &str, date: &str, time: &str) -> String {
        let usual = || self.text(&key(&[keys::JOIN, keys::MEDIUM]));
        let pattern = self.text(&key(&[kind, length])).or_else(usual).unwrap_or("{1} {0}");
        // What is joined has the numbering of the date.
        let joined = pattern.replace("{1}", numerals::split(date).0).replace("{0}", time);
        joined + numerals::suffix(date)
    }

    /// The skeleton that CLDR gives to the pattern of a single date, of those that have a length of their own.
    fn own_skeleton(&self, fields: DateFields, length: Length) -> Option<&'static str> {
        let key = match (fields, length) {
            (DateFields::YearMonthDayWeekday, Length::Long) => &SKELETONS[0],
            (DateFields::YearMonthDay, Length::Long) => &SKELETONS[1],
            (DateFields::YearMonthDay, Length::Medium) => &SKELETONS[2],
            (DateFields::YearMonthDay, Length::Short) => &SKELETONS[3],
            _ => return None,
        };
        self.find(*key).map(|skeleton| numerals::split(skeleton).0)
    }

    fn date_pattern(&self, fields: DateFields, length: Length) -> Cow<'static, str> {
        if (fields, length) == (DateFields::YearMonthDay, Length::Medium)
            && let Some(medium) = self.find(MEDIUM)
        {
            return Cow::Borrowed(medium);
        }
        let whole = match (fields, length) {
            (DateFields::YearMonthDayWeekday, Length::Long) => {
                const { Some(DATES.constant(&[keys::DATE, keys::FULL])) }
            }
            (DateFields::YearMonthDay, Length::Long) => {
                const { Some(DATES.constant(&[keys::DATE, keys::LONG])) }
            }
            (DateFields::YearMonthDay, Length::Short) => {
                const { Some(DATES.constant(&[keys::DATE, keys::SHORT])) }
            }
            _ => None,
        };
        // No locale has a pattern for a quarter alone.
        match (fields, length) {
            (DateFields::Quarter, Length::Long) => return Cow::Borrowed("qqqq"),
            (DateFields::Quarter, _) => return Cow::Borrowed("qqq"),
            _ => {}
        }
        match whole.and_then(|key| self.find(key)) {
            Some(pattern) => Cow::Borrowed(pattern),
            None => self.skeleton_pattern(skeleton::of_date(fields, length)).unwrap_or_default(),
        }
    }

    fn time_pattern(
        &self,
        precision: Precision,
        hour12: Option<bool>,
        zone_style: Option<ZoneStyle>,
    ) -> Cow<'static, str> {
        let hour = self.hour(hour12);
        let twelve = matches!(hour, 'h' | 'K');
        let skeleton = match (precision, twelve) {
            (Precision::Hour, true) => "h",
            (Precision::Hour, false) => "H",
            (Precision::Minute, true) => "hm",
            (Precision::Minute, false) => "Hm",
            (Precision::Second, true) => "hms",
            (Precision::Second, false) => "Hms",
        };
        // The locale's own short and medium times, where they have the hours that are wanted.
        let own = match precision {
            Precision::Hour => None,
            Precision::Minute => self.find(const { DATES.constant(&[keys::TIME, keys::SHORT]) }),
            Precision::Second => self.find(const { DATES.constant(&[keys::TIME, keys::MEDIUM]) }),
        };
        let own = own.filter(|pattern| skeleton::has_field(pattern, if twelve { 'h' } else { 'H' }));
        let mut pattern =
            own.map(Cow::Borrowed).or_else(|| self.skeleton_pattern(skeleton)).unwrap_or_default();
        if matches!(hour, 'K' | 'k') {
            pattern = pattern.replace(if twelve { 'h' } else { 'H' }, if twelve { "K" } else { "k" }).into();
        }
        match zone_style {
            Some(style) => self.with_zone(&pattern, style).into(),
            None => pattern,
        }
    }

    /// The pattern of a time, with the pattern of a zone added.
    fn with_zone(&self, time: &str, style: ZoneStyle) -> String {
        let append = self.text(&key(&[keys::APPEND, keys::ZONE])).unwrap_or("{0} {1}");
        let zone = if style == ZoneStyle::Long { "zzzz" } else { "z" };
        append.replace("{0}", time).replace("{1}", zone)
    }

    /// The pattern of a skeleton: the locale's own, or the nearest with its fields made wider or narrower.
    fn skeleton_pattern(&self, wanted: &str) -> Option<Cow<'static, str>> {
        let own = self.text(&key(&[keys::SKELETON, wanted]));
        own.map(Cow::Borrowed).or_else(|| skeleton::nearest(self, wanted).map(Cow::Owned))
    }
}
