//! Date patterns: `EEEE, d MMMM y` (UTS #35 part 4, "Date Format Patterns").

use core::fmt;

use crow_fly_cldr::formats::DATES;
use crow_fly_cldr::keys::{dates as keys, key};
use crow_fly_cldr::texts::Key;
use jiff::tz::Offset;

use super::DatePatterns;
use super::numerals::{self, Numerals};
use super::value::Moment;
use crate::number::{Grouping, NumberFormat, NumberLocale};

/// A run of a pattern: a field by its letter and length, or text.
#[derive(Clone, Copy, Debug)]
pub(super) enum Piece<'p> {
    Field(char, usize),
    Text(&'p str),
}

/// What stands before the numbering of a pattern.
const NUMBERS: u8 = keys::NUMBERS as u8;

/// Splits a pattern, without its numbering; quoted text comes without its quotes.
pub(super) fn pieces(pattern: &str) -> impl Iterator<Item = Piece<'_>> {
    let mut rest = pattern;
    let mut quoted = false;
    core::iter::from_fn(move || {
        loop {
            let first = *rest.as_bytes().first()?;
            if first == NUMBERS {
                return None;
            }
            if first == b'\'' {
                if let Some(after) = rest.strip_prefix("''") {
                    rest = after;
                    return Some(Piece::Text("'"));
                }
                quoted = !quoted;
                rest = rest.get(1..).unwrap_or_default();
                continue;
            }
            let is_field = !quoted && first.is_ascii_alphabetic();
            // Runs end where an ASCII character stands, or begin with one: never within a character.
            let ends = |byte: &u8| match (quoted, is_field) {
                (true, _) => *byte == b'\'',
                (_, true) => *byte != first,
                _ => byte.is_ascii_alphabetic() || matches!(*byte, b'\'' | NUMBERS),
            };
            let end = rest.as_bytes().iter().position(ends).unwrap_or(rest.len());
            let (run, after) = rest.split_at_checked(end).unwrap_or((rest, ""));
            rest = after;
            return Some(if is_field { Piece::Field(char::from(first), end) } else { Piece::Text(run) });
        }
    })
}

/// A pattern of up to eight runs that is split already.
#[derive(Clone, Copy, Debug)]
pub(super) struct SplitPattern {
    pieces: [Piece<'static>; 8],
    length: u8,
}

impl SplitPattern {
    /// Splits a pattern; none where it has too many runs, or a numbering of its own.
    pub(super) fn of(pattern: &'static str) -> Option<Self> {
        if !numerals::suffix(pattern).is_empty() {
            return None;
        }
        let mut split = Self { pieces: [Piece::Text(""); 8], length: 0 };
        for piece in pieces(pattern) {
            *split.pieces.get_mut(usize::from(split.length))? = piece;
            split.length += 1;
        }
        Some(split)
    }

    pub(super) fn pieces(&self) -> impl Iterator<Item = Piece<'static>> {
        self.pieces.iter().copied().take(usize::from(self.length))
    }
}

pub(super) fn write<'p>(
    texts: &DatePatterns,
    pattern: impl Iterator<Item = Piece<'p>>,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    for piece in pattern {
        match piece {
            Piece::Text(text) => output.write_str(text)?,
            Piece::Field(letter, length) => field(texts, letter, length, moment, numbers, output)?,
        }
    }
    Ok(())
}

/// Writes what a pattern shows, with its numbering.
pub(super) fn write_all(
    texts: &DatePatterns,
    pattern: &str,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let (pattern, numerals) = numerals::split(pattern);
    write_with(texts, pattern, numerals, moment, numbers, output)
}

/// The same of a part of a pattern.
pub(super) fn write_with(
    texts: &DatePatterns,
    pattern: &str,
    numerals: Numerals,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    if numerals == Numerals::Digits {
        return write(texts, pieces(pattern), moment, numbers, output);
    }
    for piece in pieces(pattern) {
        if let Piece::Field(letter, length) = piece
            && let Some((value, _)) = number(letter, length, moment)
            && numerals.write(letter, value, output)?
        {
            continue;
        }
        write(texts, core::iter::once(piece), moment, numbers, output)?;
    }
    Ok(())
}

/// The keys of names: by width, each in order.
pub(super) struct Names<const N: usize> {
    wide: [Key; N],
    pub(super) abbreviated: [Key; N],
    narrow: [Key; N],
    short: [Key; N],
}

pub(super) static MONTHS: Names<14> = Names::constant(keys::MONTH, keys::ABBREVIATED, keys::MONTHS);
static MONTHS_ALONE: Names<14> = Names::constant(keys::MONTH_ALONE, keys::ABBREVIATED, keys::MONTHS);
static QUARTERS: Names<4> = Names::constant(keys::QUARTER, keys::ABBREVIATED, keys::QUARTERS);
static QUARTERS_ALONE: Names<4> = Names::constant(keys::QUARTER_ALONE, keys::ABBREVIATED, keys::QUARTERS);
static DAYS: Names<7> = Names::constant(keys::DAY, keys::SHORT_NAME, keys::DAYS);
static DAYS_ALONE: Names<7> = Names::constant(keys::DAY_ALONE, keys::SHORT_NAME, keys::DAYS);

impl<const N: usize> Names<N> {
    const fn constant(kind: &str, short: &str, names: [&str; N]) -> Self {
        Self {
            wide: DATES.constants(kind, keys::WIDE, names),
            abbreviated: DATES.constants(kind, keys::ABBREVIATED, names),
            narrow: DATES.constants(kind, keys::NARROW, names),
            short: DATES.constants(kind, short, names),
        }
    }

    /// The name of a field of so many letters, by its place from 0.
    fn of(&self, texts: &DatePatterns, length: usize, at: usize) -> Option<&'static str> {
        let keys = match length {
            4 => &self.wide,
            5 => &self.narrow,
            6 => &self.short,
            _ => &self.abbreviated,
        };
        texts.find(*keys.get(at)?)
    }
}

#[inline]
fn field(
    texts: &DatePatterns,
    letter: char,
    length: usize,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    match number(letter, length, moment) {
        Some((value, least)) => padded(value, least, numbers, output),
        None => words(texts, letter, length, moment, numbers, output),
    }
}

/// A field of a date, none of which is negative.
fn whole(value: i8) -> u32 {
    u32::try_from(value).unwrap_or(0)
}

/// The number a field shows, and how many digits that has at least.
#[inline]
fn number(letter: char, length: usize, moment: &Moment) -> Option<(u32, usize)> {
    let (civil, date) = (moment.civil, moment.date);
    let hour = || whole(civil.hour());
    Some(match letter {
        'y' if length == 2 => (date.year().unsigned_abs() % 100, 2),
        'y' | 'u' | 'Y' | 'r' => (date.year().unsigned_abs(), length),
        'M' | 'L' if length < 3 => (u32::from(date.month_in_digits()), length),
        'Q' | 'q' if length < 3 => (u32::from(date.quarter()), length),
        'd' => (u32::from(date.day()), length),
        'h' => ((hour() + 11) % 12 + 1, length),
        'H' => (hour(), length),
        'K' => (hour() % 12, length),
        'k' => ((hour() + 23) % 24 + 1, length),
        'm' => (whole(civil.minute()), length),
        's' => (whole(civil.second()), length),
        _ => return None,
    })
}

/// The place of the name that the seventh month has in a leap year.
const LEAP: usize = 13;

/// Writes a field of words.
fn words(
    texts: &DatePatterns,
    letter: char,
    length: usize,
    moment: &Moment,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let civil = moment.civil;
    match letter {
        'M' | 'L' => {
            let month = if moment.date.is_leap_month() { LEAP } else { usize::from(moment.date.month()) - 1 };
            let name = match (letter, length) {
                ('L', _) => MONTHS_ALONE.of(texts, length, month),
                (_, 3) => texts.months.get(month).copied().flatten(),
                _ => None,
            };
            output.write_str(name.or_else(|| MONTHS.of(texts, length, month)).unwrap_or("?"))
        }
        'Q' | 'q' => {
            let quarter = usize::from(moment.date.quarter()) - 1;
            let alone = if letter == 'q' { QUARTERS_ALONE.of(texts, length, quarter) } else { None };
            output.write_str(alone.or_else(|| QUARTERS.of(texts, length, quarter)).unwrap_or("?"))
        }
        'E' | 'c' | 'e' => {
            let day = usize::try_from(civil.weekday().to_sunday_zero_offset()).unwrap_or(0);
            let alone = if letter == 'c' { DAYS_ALONE.of(texts, length, day) } else { None };
            output.write_str(alone.or_else(|| DAYS.of(texts, length, day)).unwrap_or("?"))
        }
        'a' | 'b' | 'B' => {
            let hour = whole(civil.hour());
            let half = if hour < 12 { "am" } else { "pm" };
            let minute = u16::try_from(hour * 60 + whole(civil.minute())).unwrap_or(0);
            let period = if letter == 'B' { period(texts, minute).unwrap_or(half) } else { half };
            name(texts, keys::PERIOD, length, period, output)
        }
        'G' => name(texts, keys::ERA, length, &alloc::format!("{}", moment.date.era()), output),
        'z' => match moment.zone.and_then(|zone| texts.zone_names.name(zone, length >= 4)) {
            Some(name) => output.write_str(&name),
            None => zone(texts, length, moment.offset, numbers, output),
        },
        'O' | 'v' | 'Z' | 'X' => zone(texts, length, moment.offset, numbers, output),
        _ => Ok(()),
    }
}

/// A number of at least so many digits, without groups.
#[inline]
fn padded(value: u32, least: usize, numbers: &NumberLocale, output: &mut dyn fmt::Write) -> fmt::Result {
    match numbers.two_digits(value, least) {
        Some(digits) => output.write_str(digits),
        None => long(value, least, numbers, output),
    }
}

/// A number of more than two digits, or of digits that are not ASCII.
fn long(value: u32, least: usize, numbers: &NumberLocale, output: &mut dyn fmt::Write) -> fmt::Result {
    // A year.
    if let (1000..10_000, ..=4) = (value, least)
        && let Some((century, year)) =
            numbers.two_digits(value / 100, 2).zip(numbers.two_digits(value % 100, 2))
    {
        output.write_str(century)?;
        return output.write_str(year);
    }
    let format = NumberFormat {
        integer_digits: u8::try_from(least).unwrap_or(1),
        grouping: Grouping::Never,
        ..NumberFormat::PLAIN
    };
    format.write_integer(i64::from(value), numbers, output)
}

fn name(
    texts: &DatePatterns,
    kind: &str,
    length: usize,
    of: &str,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let width = match length {
        4 => keys::WIDE,
        5 => keys::NARROW,
        _ => keys::ABBREVIATED,
    };
    output.write_str(texts.text(&key(&[kind, width, of])).unwrap_or("?"))
}

/// The flexible period of a minute of the day: a moment such as noon first.
fn period(texts: &DatePatterns, minute: u16) -> Option<&'static str> {
    let moment = texts.periods.iter().find(|(_, from, before)| from == before && *from == minute);
    let stretch = texts.periods.iter().find(|(_, from, before)| {
        if from <= before { (*from..*before).contains(&minute) } else { minute >= *from || minute < *before }
    });
    moment.or(stretch).map(|(name, ..)| *name)
}

/// The localized offset: `GMT+1`, `GMT+01:00`.
fn zone(
    texts: &DatePatterns,
    length: usize,
    offset: Option<Offset>,
    numbers: &NumberLocale,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let Some(offset) = offset else { return Ok(()) };
    let seconds = offset.seconds();
    if seconds == 0 {
        return output.write_str(texts.text(keys::GMT_ZERO).unwrap_or("GMT"));
    }
    let patterns = texts.text(keys::GMT_HOURS).unwrap_or("+HH:mm;-HH:mm");
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
    output.write_str(&texts.text(keys::GMT).unwrap_or("GMT{0}").replace("{0}", &text))
}
