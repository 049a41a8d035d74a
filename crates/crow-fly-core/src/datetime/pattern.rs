//! Date patterns: `EEEE, d MMMM y` (UTS #35 part 4, "Date Format Patterns").

use core::fmt;

use jiff::tz::Offset;

use super::DateTexts;
use super::value::Moment;
use crate::number::{Grouping, NumberFormat, NumberLocale};

/// A run of a pattern: a field by its letter and length, or text.
pub(super) enum Piece<'p> {
    Field(char, usize),
    Text(&'p str),
}

/// Splits a pattern; quoted text comes without its quotes.
pub(super) fn pieces(pattern: &str) -> impl Iterator<Item = Piece<'_>> {
    let mut rest = pattern;
    let mut quoted = false;
    core::iter::from_fn(move || {
        loop {
            let first = rest.chars().next()?;
            if first == '\'' {
                if let Some(after) = rest.strip_prefix("''") {
                    rest = after;
                    return Some(Piece::Text("'"));
                }
                quoted = !quoted;
                rest = rest.get(1..).unwrap_or_default();
                continue;
            }
            let in_run = |letter: char| {
                if quoted {
                    letter != '\''
                } else if first.is_ascii_alphabetic() {
                    letter == first
                } else {
                    !letter.is_ascii_alphabetic() && letter != '\''
                }
            };
            let end = rest.find(|letter| !in_run(letter)).unwrap_or(rest.len());
            let (run, after) = rest.split_at_checked(end).unwrap_or((rest, ""));
            rest = after;
            let is_field = !quoted && first.is_ascii_alphabetic();
            return Some(if is_field { Piece::Field(first, run.len()) } else { Piece::Text(run) });
        }
    })
}

pub(super) fn write(
    texts: &DateTexts,
    pattern: &str,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    for piece in pieces(pattern) {
        match piece {
            Piece::Text(text) => output.write_str(text)?,
            Piece::Field(letter, length) => field(texts, letter, length, moment, numbers, output)?,
        }
    }
    Ok(())
}

const DAYS: [&str; 7] = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"];

fn field(
    texts: &DateTexts,
    letter: char,
    length: usize,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let civil = moment.civil;
    let mut digits = |value: u32, least: usize| padded(value, least, numbers, output);
    let whole = |value: i8| u32::try_from(value).unwrap_or(0);
    let hour = whole(civil.hour());
    let year = i32::from(civil.year());
    // There is no year zero: the year before 1 is 1 before Christ.
    let year_of_era = if year > 0 { year } else { 1 - year }.unsigned_abs();
    match letter {
        'y' if length == 2 => digits(year_of_era % 100, 2),
        'y' | 'u' | 'Y' => digits(year_of_era, length),
        'M' | 'L' if length < 3 => digits(whole(civil.month()), length),
        'd' => digits(whole(civil.day()), length),
        'h' => digits(if hour.is_multiple_of(12) { 12 } else { hour % 12 }, length),
        'H' => digits(hour, length),
        'K' => digits(hour % 12, length),
        'k' => digits(if hour == 0 { 24 } else { hour }, length),
        'm' => digits(whole(civil.minute()), length),
        's' => digits(whole(civil.second()), length),
        'M' | 'L' => {
            let month = civil.month();
            name(texts, "month", letter == 'L', width(length), |key| alloc::format!("{key}/{month}"), output)
        }
        'E' | 'c' | 'e' => {
            let at = usize::try_from(civil.weekday().to_sunday_zero_offset()).unwrap_or(0);
            let day = DAYS.get(at).copied().unwrap_or_default();
            name(texts, "day", letter == 'c', width(length), |key| alloc::format!("{key}/{day}"), output)
        }
        'a' | 'b' | 'B' => {
            let half = if hour < 12 { "am" } else { "pm" };
            let minute = u16::try_from(hour * 60 + whole(civil.minute())).unwrap_or(0);
            let period = if letter == 'B' { period(texts, minute).unwrap_or(half) } else { half };
            name(texts, "period", false, width(length), |key| alloc::format!("{key}/{period}"), output)
        }
        'G' => {
            let era = u8::from(year > 0);
            name(texts, "era", false, width(length), |key| alloc::format!("{key}/{era}"), output)
        }
        'O' | 'z' | 'v' | 'Z' | 'X' => zone(texts, length, moment.offset, numbers, output),
        _ => Ok(()),
    }
}

/// A number of at least so many digits, without groups.
fn padded(value: u32, least: usize, numbers: &NumberLocale, output: &mut dyn fmt::Write) -> fmt::Result {
    let format = NumberFormat {
        integer_digits: u8::try_from(least).unwrap_or(1),
        grouping: Grouping::Never,
        ..NumberFormat::PLAIN
    };
    format.write_whole(i64::from(value), numbers, output)
}

const fn width(length: usize) -> &'static str {
    match length {
        4 => "wide",
        5 => "narrow",
        6 => "short",
        _ => "abbreviated",
    }
}

fn name(
    texts: &DateTexts,
    kind: &str,
    alone: bool,
    width: &str,
    key: impl Fn(&str) -> alloc::string::String,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let of = |kind: &str| texts.text(&key(&alloc::format!("{kind}/{width}")));
    let alone = if alone { of(&alloc::format!("{kind}-alone")) } else { None };
    output.write_str(alone.or_else(|| of(kind)).unwrap_or("?"))
}

/// The flexible period of a minute of the day: a moment such as noon first.
fn period(texts: &DateTexts, minute: u16) -> Option<&'static str> {
    let moment = texts.periods.iter().find(|(_, from, before)| from == before && *from == minute);
    let stretch = texts.periods.iter().find(|(_, from, before)| {
        if from <= before { (*from..*before).contains(&minute) } else { minute >= *from || minute < *before }
    });
    moment.or(stretch).map(|(name, ..)| *name)
}

/// The localized offset: `GMT+1`, `GMT+01:00`.
fn zone(
    texts: &DateTexts,
    length: usize,
    offset: Option<Offset>,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let Some(offset) = offset else { return Ok(()) };
    let seconds = offset.seconds();
    if seconds == 0 {
        return output.write_str(texts.text("gmt-zero").unwrap_or("GMT"));
    }
    let patterns = texts.text("gmt-hours").unwrap_or("+HH:mm;-HH:mm");
    let (ahead, behind) = patterns.split_once(';').unwrap_or((patterns, patterns));
    let (hours, minutes) = (seconds.unsigned_abs() / 3600, seconds.unsigned_abs() / 60 % 60);
    let long = length >= 4;
    let mut text = alloc::string::String::new();
    let mut skip = false;
    for piece in pieces(if seconds > 0 { ahead } else { behind }) {
        let (value, least) = match piece {
            Piece::Field('H', wide) => (hours, if long { wide.max(2) } else { 1 }),
            Piece::Field(_, wide) if !skip => (minutes, wide),
            Piece::Text(mark) => {
                // The short form has minutes only where there are any: what stands before them goes with them.
                skip = !text.is_empty() && !long && minutes == 0;
                if !skip {
                    text.push_str(mark);
                }
                continue;
            }
            Piece::Field(..) => continue,
        };
        padded(value, least, numbers, &mut text)?;
    }
    output.write_str(&texts.text("gmt").unwrap_or("GMT{0}").replace("{0}", &text))
}
