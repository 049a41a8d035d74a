//! From one date or time to another (UTS #35 part 4, "Interval Formats").

use alloc::borrow::Cow;
use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::DATES;
use crow_fly_cldr::keys::{dates as keys, key};

use super::pattern::{write_all, write_with};
use super::value::Moment;
use super::{DateFields, DateFormat, DatePatterns, Precision, ZoneStyle, numerals, skeleton};
use crate::number::NumberLocale;

/// From one moment to another.
#[derive(Clone, Copy)]
pub(super) struct Interval {
    pub(super) start: Moment,
    pub(super) end: Moment,
    /// Whether both have a date.
    pub(super) has_dates: bool,
}

/// How an interval is written.
enum Form<'p> {
    /// Both ends are shown alike: one of them is.
    One,
    /// By an interval pattern: what comes before a field that stands a second time is of the start, the rest of the end.
    Pattern(Cow<'p, str>),
    /// Each end by this pattern.
    Each(Cow<'p, str>),
    /// Each end by the format's own pattern.
    Whole,
}

pub(super) fn write(
    texts: &DatePatterns,
    format: &DateFormat<'_>,
    interval: &Interval,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let Interval { start, end, .. } = interval;
    let each = |first: &str, second: &str, output: &mut dyn fmt::Write| {
        let [before, between, after] = fallback(texts);
        output.write_str(before)?;
        write_all(texts, first, start, numbers, output)?;
        output.write_str(between)?;
        write_all(texts, second, end, numbers, output)?;
        output.write_str(after)
    };
    match interval.form(texts, format) {
        Form::One => write_all(texts, &texts.pattern(format, start), start, numbers, output),
        Form::Pattern(pattern) => {
            let (pattern, numerals) = numerals::split(&pattern);
            let (first, second) = halves(pattern);
            write_with(texts, first, numerals, start, numbers, output)?;
            write_with(texts, second, numerals, end, numbers, output)
        }
        Form::Each(pattern) => each(&pattern, &pattern, output),
        Form::Whole => each(&texts.pattern(format, start), &texts.pattern(format, end), output),
    }
}

/// What a locale writes around and between the ends of an interval that it has no pattern for.
fn fallback(texts: &DatePatterns) -> [&'static str; 3] {
    let pattern = texts.text(keys::INTERVAL).unwrap_or("{0} – {1}");
    let (before, rest) = pattern.split_once("{0}").unwrap_or(("", pattern));
    let (between, after) = rest.split_once("{1}").unwrap_or((rest, ""));
    [before, between, after]
}

impl Interval {
    fn form(&self, texts: &DatePatterns, format: &DateFormat<'_>) -> Form<'static> {
        match (format.date, self.date_difference(format), self.time_difference(format)) {
            (_, None, None) => Form::One,
            (Some((fields, length)), Some(field), _) if format.time.is_none() => {
                if let Some(skeleton) = texts.own_skeleton(fields, length) {
                    return of_dates(texts, skeleton, field);
                }
                // Other calendars have fields that are not asked for: the era.
                if !texts.is_in_gregorian() {
                    return of_dates(
                        texts,
                        &skeleton::of_pattern(&texts.date_pattern(fields, length)),
                        field,
                    );
                }
                let form = of_dates(texts, skeleton::of_date(fields, length), field);
                // Some locales write the month of a single date in digits, and that of an interval in words.
                let single = texts.date_pattern(fields, length);
                match &form {
                    Form::Pattern(pattern)
                        if skeleton::has_word_month(pattern) != skeleton::has_word_month(&single) =>
                    {
                        of_dates(texts, &skeleton::of_pattern(&single), field)
                    }
                    _ => form,
                }
            }
            (Some(_), Some(_), _) => Form::Whole,
            // Times of several days show the days.
            (None, Some(_), _) => {
                let date = texts.skeleton_pattern("yMd").unwrap_or_default();
                Form::Each(
                    texts.joined(keys::AT, keys::SHORT, &date, &texts.pattern(format, &self.start)).into(),
                )
            }
            // Two times of one day show it once, and their zone, too.
            (date, None, Some(field)) => {
                if format.zone_style.is_some() && self.start.offset != self.end.offset {
                    return Form::Whole;
                }
                let times = of_times(texts, format, field, self.start.offset.and(format.zone_style));
                Form::Pattern(match date {
                    Some((fields, length)) => {
                        let date = texts.date_pattern(fields, length);
                        texts.joined(keys::JOIN, keys::MEDIUM, &date, &times).into()
                    }
                    None => times,
                })
            }
        }
    }

    /// The letter of the largest field of the dates that differs, but for fields that are smaller than any that is shown.
    fn date_difference(&self, format: &DateFormat<'_>) -> Option<char> {
        let (one, two) = (self.start.date, self.end.date);
        let compared = match format.date.map(|(fields, _)| fields) {
            Some(DateFields::Year) => "Gy",
            Some(DateFields::YearQuarter | DateFields::Quarter) => "GyQ",
            Some(DateFields::YearMonth | DateFields::Month) => "GyM",
            _ => "GyMd",
        };
        let differs = |field: &char| match field {
            'G' => one.era() != two.era(),
            'y' => one.year() != two.year(),
            'Q' => one.quarter() != two.quarter(),
            'M' => one.month() != two.month(),
            _ => one.day() != two.day(),
        };
        compared.chars().find(differs).filter(|_| self.has_dates)
    }

    /// The letter of the largest field of the times that is shown and differs.
    fn time_difference(&self, format: &DateFormat<'_>) -> Option<char> {
        let (one, two) = (self.start.civil, self.end.civil);
        let precision = format.time?;
        let fields = [
            ('a', (one.hour() < 12) != (two.hour() < 12), true),
            ('h', one.hour() != two.hour(), true),
            ('m', one.minute() != two.minute(), precision != Precision::Hour),
            ('s', one.second() != two.second(), precision == Precision::Second),
        ];
        fields.into_iter().find(|(_, differ, shown)| *differ && *shown).map(|(letter, ..)| letter)
    }
}

/// The form of an interval of dates that differ in a field.
fn of_dates(texts: &DatePatterns, skeleton: &str, field: char) -> Form<'static> {
    // Days of the week alone are no dates: nothing is added to those.
    let has = |letter| skeleton.contains(letter);
    let field = if field == 'G' && !has('G') { 'y' } else { field };
    let missing = match field {
        'G' | 'y' if has('d') => [('y', has('y')), ('M', has('M'))],
        'G' | 'y' if has('M') || has('Q') => [('y', has('y')), ('M', true)],
        'M' if has('d') => [('y', true), ('M', has('M'))],
        _ => [('y', true), ('M', true)],
    };
    // A larger field that differs is shown, though a single date does not show it.
    if missing.iter().all(|(_, there)| *there) {
        return interval(texts, skeleton, field).map_or(Form::Whole, |pattern| Form::Pattern(pattern.into()));
    }
    let added = missing.into_iter().filter(|(_, there)| !there).map(|(letter, _)| letter);
    let whole: String = added.chain(skeleton.chars()).collect();
    match interval(texts, &whole, field) {
        Some(pattern) => Form::Pattern(pattern.into()),
        None => texts.skeleton_pattern(&whole).map_or(Form::Whole, Form::Each),
    }
}

/// The pattern of an interval of times that differ in a field, on one day.
fn of_times(
    texts: &DatePatterns,
    format: &DateFormat<'_>,
    field: char,
    zone_style: Option<ZoneStyle>,
) -> Cow<'static, str> {
    let precision = format.time.unwrap_or_default();
    let hour = texts.hour(format.hour12);
    let skeleton = match precision {
        Precision::Hour => Some(String::from(hour)),
        Precision::Minute => Some(alloc::format!("{hour}m")),
        Precision::Second => None,
    };
    let pattern = skeleton.and_then(|skeleton| interval(texts, &skeleton, field)).unwrap_or_else(|| {
        let time = texts.time_pattern(precision, format.hour12, None);
        let [before, between, after] = fallback(texts).map(skeleton::quoted);
        [&*before, &*time, &*between, &*time, &*after].concat()
    });
    match zone_style {
        Some(style) => texts.with_zone(&pattern, style).into(),
        None => pattern.into(),
    }
}

fn interval(texts: &DatePatterns, wanted: &str, field: char) -> Option<String> {
    // Where hours go to twenty-four, halves of the day are hours.
    let field = if matches!(field, 'a' | 'h') && wanted.starts_with(['H', 'k']) { 'H' } else { field };
    let letter = String::from(field);
    let pattern = |skeleton: &str| texts.text(&key(&[keys::INTERVAL, skeleton, &letter]));
    if let Some(pattern) = pattern(wanted) {
        return Some(pattern.into());
    }
    let wanted_fields = skeleton::fields(wanted);
    let (_, found) = DATES
        .keys_of(keys::INTERVAL)
        .filter_map(|known| {
            let (skeleton, of) = known.split_once('/')?;
            let fits = of.chars().eq([field]);
            Some((skeleton::distance(&wanted_fields, skeleton).filter(|_| fits)?, String::from(skeleton)))
        })
        .filter(|(distance, skeleton)| *distance < 100 && pattern(skeleton).is_some())
        .min()?;
    Some(skeleton::adjusted(pattern(&found)?, wanted, &found))
}

/// Splits an interval pattern before the first field that stands a second time.
fn halves(pattern: &str) -> (&str, &str) {
    let mut seen = String::new();
    let (mut quoted, mut previous) = (false, None);
    for (at, letter) in pattern.char_indices() {
        quoted ^= letter == '\'';
        if quoted || !letter.is_ascii_alphabetic() {
            previous = None;
            continue;
        }
        if previous != Some(letter) && seen.contains(letter) {
            return pattern.split_at_checked(at).unwrap_or((pattern, ""));
        }
        seen.push(letter);
        previous = Some(letter);
    }
    (pattern, "")
}

#[cfg(test)]
mod tests {
    use super::halves;
    use crate::datetime::pattern::{Piece, pieces};

    #[test]
    fn an_interval_is_split_before_its_second_field() {
        for (pattern, first, second) in [
            ("d – d MMM y", "d – ", "d MMM y"),
            ("MMM d – d, y", "MMM d – ", "d, y"),
            ("'d' d 'to' d", "'d' d 'to' ", "d"),
            ("y", "y", ""),
        ] {
            assert_eq!(halves(pattern), (first, second), "{pattern}");
        }
        assert_eq!(pieces("d 'of' MMM").filter(|piece| matches!(piece, Piece::Field(..))).count(), 2);
    }
}
