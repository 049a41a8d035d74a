//! From one date or time to another (UTS #35 part 4, "Interval Formats").

use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::DATES;
use crow_fly_cldr::keys::{dates as keys, key};

use super::pattern::{pieces, write as write_pattern};
use super::value::Moment;
use super::{DateFormat, DatePatterns, Length, Precision, skeleton};
use crate::number::NumberLocale;

pub(super) fn write(
    texts: &DatePatterns,
    format: &DateFormat<'_>,
    start: &Moment,
    end: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let Some(field) = greatest_difference(start, end, format) else {
        return write_pattern(texts, pieces(&texts.pattern(format, start)), start, numbers, output);
    };
    if let Some(interval) = skeleton_of(texts, format).and_then(|skeleton| interval(texts, &skeleton, field))
    {
        let (first, second) = halves(&interval);
        write_pattern(texts, pieces(first), start, numbers, output)?;
        return write_pattern(texts, pieces(second), end, numbers, output);
    }
    let mut ends = [String::new(), String::new()];
    for (text, moment) in ends.iter_mut().zip([start, end]) {
        write_pattern(texts, pieces(&texts.pattern(format, moment)), moment, numbers, text)?;
    }
    let [first, second] = &ends;
    output.write_str(
        &texts.text(keys::INTERVAL).unwrap_or("{0} – {1}").replace("{0}", first).replace("{1}", second),
    )
}

/// The letter of the largest shown field in which two moments differ.
fn greatest_difference(start: &Moment, end: &Moment, format: &DateFormat<'_>) -> Option<char> {
    let (one, two) = (start.civil, end.civil);
    let time = format.time;
    let fields = [
        ('y', one.year() != two.year(), true),
        ('M', one.month() != two.month(), true),
        ('d', one.day() != two.day(), true),
        ('a', (one.hour() < 12) != (two.hour() < 12), time.is_some()),
        ('h', one.hour() != two.hour(), time.is_some()),
        ('m', one.minute() != two.minute(), matches!(time, Some(Precision::Minute | Precision::Second))),
        ('s', one.second() != two.second(), time == Some(Precision::Second)),
    ];
    fields.into_iter().find(|(_, differ, shown)| *differ && *shown).map(|(letter, ..)| letter)
}

/// The skeleton that interval patterns are looked up by: of dates or of times, not of both.
fn skeleton_of(texts: &DatePatterns, format: &DateFormat<'_>) -> Option<String> {
    match (format.date, format.time, format.zone_style) {
        // A short date is no skeleton: its year may have two digits.
        (Some((_, Length::Short)), ..) => None,
        (Some((fields, length)), None, _) => Some(skeleton::of_date(fields, length).into()),
        (None, Some(Precision::Hour), None) => Some(texts.hour(format.hour12).into()),
        (None, Some(Precision::Minute), None) => Some(alloc::format!("{}m", texts.hour(format.hour12))),
        _ => None,
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
