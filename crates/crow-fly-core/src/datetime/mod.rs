//! Dates and times in the Gregorian calendar (UTS #35 part 4), from `jiff` types.
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

mod interval;
mod pattern;
mod relative;
mod skeleton;
mod value;

pub use relative::{RelativeTime, RelativeUnit};
pub use value::DateValue;

use alloc::borrow::Cow;
use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::DATES;
use crow_fly_cldr::keys::{dates as keys, key};
use crow_fly_cldr::supplement;
use crow_fly_cldr::texts::{Key, LocaleTexts};
use jiff::tz::TimeZone;

use interval::Interval;
use pattern::SplitPattern;

use crate::locale_texts;
use crate::number::NumberLocale;
use crate::tag::LanguageTag;
use value::Moment;

/// Which fields of a date are shown: the combinations of the standard's `fields` option.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum DateFields {
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

/// How a time zone is named: by its distance from Greenwich.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum ZoneStyle {
    /// GMT+1
    Short,
    /// GMT+01:00
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
}

/// The skeletons of the patterns of dates, in the order of [`keys::LENGTHS`].
static SKELETONS: [Key; 4] = DATES.constants_of(keys::DATE_SKELETON, keys::LENGTHS);

const MEDIUM: Key = DATES.constant(&[keys::DATE, keys::MEDIUM]);

/// The region of a value of `-u-rg-`: `uszzzz` is all of the United States, `gbeng` a part of the United Kingdom (UTS #35
/// part 1, "Region Override").
fn region_of(value: &str) -> String {
    let length = if value.starts_with(|letter: char| letter.is_ascii_digit()) { 3 } else { 2 };
    value.get(..length).unwrap_or(value).to_ascii_uppercase()
}

/// What a locale writes dates with.
#[derive(Clone, Copy, Debug)]
pub struct DatePatterns {
    texts: Option<LocaleTexts>,
    /// `h`, `H`, `K` or `k`.
    hour: char,
    /// The flexible day periods.
    periods: &'static [(&'static str, u16, u16)],
    /// What nearly every date needs, read once: the medium pattern, and the names of its months.
    medium: Option<SplitPattern>,
    months: [Option<&'static str>; 12],
}

impl DatePatterns {
    /// The texts of a tag; `-u-hc-` chooses the hours, or else the region that `-u-rg-` names does.
    pub fn of(tag: &LanguageTag) -> Self {
        let tag = &*tag.as_canonical();
        // What has neither a language nor a region is written as CLDR's root has it.
        let maximal = if tag.is_und() && tag.region().is_none() { tag.clone() } else { tag.maximized() };
        let language = maximal.language();
        let region = maximal.region();
        let region = region.as_ref().map_or("001", |region| region.as_str());
        let asked = tag.keyword("rg").map(region_of);
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
        let texts = locale_texts::find(DATES, tag);
        Self {
            medium: texts.and_then(|texts| SplitPattern::of(texts.find(MEDIUM)?)),
            months: pattern::MONTHS.abbreviated.map(|month| texts?.find(month)),
            texts,
            hour: wanted.or_else(usual).or_else(|| supplement::hour("001")).unwrap_or('H'),
            periods: supplement::day_periods(language.as_str()),
        }
    }

    fn text(&self, key: &str) -> Option<&'static str> {
        self.texts?.get(key)
    }

    fn find(&self, key: Key) -> Option<&'static str> {
        self.texts?.find(key)
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
        let moment = value.moment(format);
        if let (Some((DateFields::YearMonthDay, Length::Medium)), None, Some(medium)) =
            (format.date, format.time, &self.medium)
        {
            return pattern::write(self, medium.pieces(), &moment, numbers, output);
        }
        let pattern = self.pattern(format, &moment);
        pattern::write(self, pattern::pieces(&pattern), &moment, numbers, output)
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
        let interval = Interval { start: start.moment(format), end: end.moment(format), has_dates };
        interval::write(self, format, &interval, numbers, output)
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
        pattern.replace("{1}", date).replace("{0}", time)
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
        self.find(*key)
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
        let zone = if style == ZoneStyle::Long { "OOOO" } else { "O" };
        append.replace("{0}", time).replace("{1}", zone)
    }

    /// The pattern of a skeleton: the locale's own, or the nearest with its fields made wider or narrower.
    fn skeleton_pattern(&self, wanted: &str) -> Option<Cow<'static, str>> {
        let own = self.text(&key(&[keys::SKELETON, wanted]));
        own.map(Cow::Borrowed).or_else(|| skeleton::nearest(self.texts?, wanted).map(Cow::Owned))
    }
}
