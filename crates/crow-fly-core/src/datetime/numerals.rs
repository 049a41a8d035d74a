//! Numbers of dates in letters, where a locale's pattern asks for them (UTS #35 part 4, the attribute `numbers`).

use core::fmt;

use crow_fly_cldr::keys::dates as keys;

/// What the numbers of a pattern are written in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) enum Numerals {
    /// The digits of the locale.
    #[default]
    Digits,
    /// Hebrew letters: `hebr`.
    Hebrew,
    /// The first year of an era by its character: `y=jpanyear`.
    JapaneseYear,
    /// Months in Roman numerals: `M=romanlow`.
    RomanMonth,
}

/// A pattern without its numbering, and the numbering.
pub(super) fn split(pattern: &str) -> (&str, Numerals) {
    let Some((pattern, numbers)) = pattern.split_once(keys::NUMBERS) else {
        return (pattern, Numerals::Digits);
    };
    let numerals = match numbers {
        "hebr" => Numerals::Hebrew,
        "y=jpanyear" => Numerals::JapaneseYear,
        "M=romanlow" => Numerals::RomanMonth,
        _ => Numerals::Digits,
    };
    (pattern, numerals)
}

/// The numbering of a pattern, with the mark before it; empty where it has none.
pub(super) fn suffix(pattern: &str) -> &str {
    pattern.find(keys::NUMBERS).and_then(|at| pattern.get(at..)).unwrap_or("")
}

impl Numerals {
    /// Writes the number of a field in letters; false where it is written in digits.
    pub(super) fn write(
        self,
        letter: char,
        value: u32,
        output: &mut dyn fmt::Write,
    ) -> Result<bool, fmt::Error> {
        match (self, letter, value) {
            // Years of this millennium go without it.
            (Self::Hebrew, 'y', 5001..=5999) => hebrew(value - 5000, output)?,
            (Self::Hebrew, 'y' | 'M' | 'L' | 'd', 1..) => hebrew(value, output)?,
            (Self::JapaneseYear, 'y', 1) => output.write_char('元')?,
            (Self::RomanMonth, 'M' | 'L', 1..=12) => {
                const MONTHS: [&str; 12] =
                    ["i", "ii", "iii", "iv", "v", "vi", "vii", "viii", "ix", "x", "xi", "xii"];
                let at = usize::try_from(value - 1).unwrap_or(0);
                output.write_str(MONTHS.get(at).copied().unwrap_or(""))?;
            }
            _ => return Ok(false),
        }
        Ok(true)
    }
}

/// The letters of a number from 1 to 999, the largest first; what would be a bad word is written otherwise.
fn letters(mut number: u32) -> ([char; 6], usize) {
    const LETTERS: [(u32, char); 21] = [
        (400, 'ת'),
        (300, 'ש'),
        (200, 'ר'),
        (100, 'ק'),
        (90, 'צ'),
        (80, 'פ'),
        (70, 'ע'),
        (60, 'ס'),
        (50, 'נ'),
        (40, 'מ'),
        (30, 'ל'),
        (20, 'כ'),
        (10, 'י'),
        (9, 'ט'),
        (8, 'ח'),
        (7, 'ז'),
        (6, 'ו'),
        (5, 'ה'),
        (4, 'ד'),
        (3, 'ג'),
        (2, 'ב'),
    ];
    let whole = number;
    let (mut text, mut length) = ([' '; 6], 0);
    let mut add = |letter| {
        if let Some(place) = text.get_mut(length) {
            *place = letter;
            length += 1;
        }
    };
    while number > 0 {
        // 15 and 16 would be names of God.
        let (value, letter) = match number {
            15 | 16 => (9, 'ט'),
            1 => (1, 'א'),
            _ => LETTERS.into_iter().find(|(value, _)| *value <= number).unwrap_or((number, ' ')),
        };
        add(letter);
        number -= value;
    }
    match whole {
        298 | 344 | 698 | 744 => text.swap(length - 2, length - 1),
        304 => text.swap(0, 1),
        _ => {}
    }
    (text, length)
}

/// A number in Hebrew letters: `ט״ו`.
fn hebrew(number: u32, output: &mut dyn fmt::Write) -> fmt::Result {
    let (thousands, rest) = (number / 1000, number % 1000);
    if thousands > 0 {
        hebrew(thousands, output)?;
        if rest == 0 {
            return output.write_str(" אלפים");
        }
    }
    let (text, length) = letters(rest);
    let letters = text.get(..length).unwrap_or_default();
    match letters {
        [only] => write!(output, "{only}׳"),
        [first @ .., last] => {
            first.iter().try_for_each(|letter| output.write_char(*letter))?;
            // Letters of hundreds have a last one of eighty with its final form.
            let last = if *last == 'פ' && rest > 100 { 'ף' } else { *last };
            write!(output, "״{last}")
        }
        [] => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use alloc::string::String;

    use super::*;

    #[test]
    fn numbers_are_written_in_hebrew_letters() {
        for (number, text) in [
            (1, "א׳"),
            (10, "י׳"),
            (15, "ט״ו"),
            (16, "ט״ז"),
            (22, "כ״ב"),
            (30, "ל׳"),
            (115, "קט״ו"),
            (180, "ק״ף"),
            (298, "רח״צ"),
            (304, "ד״ש"),
            (344, "שד״מ"),
            (400, "ת׳"),
            (500, "ת״ק"),
            (660, "תר״ס"),
            (698, "תרח״צ"),
            (744, "תשד״מ"),
            (786, "תשפ״ו"),
            (900, "תת״ק"),
            (6000, "ו׳ אלפים"),
            (6001, "ו׳א׳"),
        ] {
            let mut written = String::new();
            hebrew(number, &mut written).expect("a string takes every text");
            assert_eq!(written, text, "{number}");
        }
    }
}
