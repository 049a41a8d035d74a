//! Skeletons: what a pattern shows, apart from how (UTS #35 part 4, "Matching Skeletons").

use alloc::borrow::Cow;
use alloc::string::String;

use crow_fly_cldr::formats::DATES;
use crow_fly_cldr::keys::{dates as keys, key};
use smallvec::SmallVec;

use super::pattern::{Piece, pieces};
use super::{DateFields, DatePatterns, Length, numerals};

pub(super) const fn of_date(fields: DateFields, length: Length) -> &'static str {
    match (fields, length) {
        (DateFields::Weekday, Length::Long) => "EEEE",
        (DateFields::Weekday, _) => "E",
        (DateFields::DayWeekday, Length::Long) => "EEEEd",
        (DateFields::DayWeekday, _) => "Ed",
        (DateFields::Year, _) => "y",
        (DateFields::YearQuarter, Length::Long) => "yQQQQ",
        (DateFields::YearQuarter, _) => "yQQQ",
        (DateFields::YearMonth, Length::Long) => "yMMMM",
        (DateFields::YearMonth, Length::Medium) => "yMMM",
        (DateFields::YearMonth, Length::Short) => "yM",
        (DateFields::Quarter, _) => "QQQ",
        (DateFields::Month, Length::Long) => "MMMM",
        (DateFields::Month, Length::Medium) => "MMM",
        (DateFields::Month, Length::Short) => "M",
        (DateFields::MonthDay, Length::Long) => "MMMMd",
        (DateFields::MonthDay, Length::Medium) => "MMMd",
        (DateFields::MonthDay, Length::Short) => "Md",
        (DateFields::MonthDayWeekday, Length::Long) => "MMMMEEEEd",
        (DateFields::MonthDayWeekday, Length::Medium) => "MMMEd",
        (DateFields::MonthDayWeekday, Length::Short) => "MEd",
        (DateFields::YearMonthDay, Length::Long) => "yMMMMd",
        (DateFields::YearMonthDay, Length::Medium) => "yMMMd",
        (DateFields::YearMonthDay, Length::Short) => "yMd",
        (DateFields::YearMonthDayWeekday, Length::Long) => "yMMMMEEEEd",
        (DateFields::YearMonthDayWeekday, Length::Medium) => "yMMMEd",
        (DateFields::YearMonthDayWeekday, Length::Short) => "yMEd",
    }
}

/// Letter of the field and how often it stands.
pub(super) type Fields = SmallVec<[(char, usize); 8]>;

/// Letters that show one field in different ways.
const fn field(letter: char) -> char {
    match letter {
        'L' => 'M',
        'c' | 'e' => 'E',
        'q' => 'Q',
        'K' => 'h',
        'k' => 'H',
        letter => letter,
    }
}

pub(super) fn fields(skeleton: &str) -> Fields {
    pieces(skeleton)
        .filter_map(|piece| match piece {
            Piece::Field(letter, length) => Some((field(letter), length)),
            Piece::Text(_) => None,
        })
        .collect()
}

/// Whether a pattern has a field.
pub(super) fn has_field(pattern: &str, wanted: char) -> bool {
    fields(pattern).iter().any(|(letter, _)| *letter == wanted)
}

/// Whether a pattern has a month in words.
pub(super) fn has_word_month(pattern: &str) -> bool {
    fields(pattern).iter().any(|(letter, length)| *letter == 'M' && is_word(*letter, *length))
}

/// The skeleton of a pattern of dates: its fields, in the order of skeletons.
pub(super) fn of_pattern(pattern: &str) -> String {
    let fields = fields(pattern);
    let found = "GyQMEd".chars().filter_map(|letter| fields.iter().find(|(other, _)| *other == letter));
    found.flat_map(|(letter, length)| core::iter::repeat_n(*letter, *length)).collect()
}

/// Whether a field of this length is a word.
const fn is_word(letter: char, length: usize) -> bool {
    match letter {
        'M' | 'Q' => length >= 3,
        'E' | 'a' | 'B' | 'G' => true,
        _ => false,
    }
}

/// How far one skeleton is from another; none where they have other fields.
pub(super) fn distance(wanted: &Fields, found: &str) -> Option<usize> {
    let found = fields(found);
    if wanted.len() != found.len() {
        return None;
    }
    wanted.iter().try_fold(0, |sum, (letter, length)| {
        let (_, other) = found.iter().find(|(other, _)| other == letter)?;
        // A number for a word is farther than any number of letters.
        let kind = if is_word(*letter, *length) == is_word(*letter, *other) { 0 } else { 100 };
        Some(sum + kind + length.abs_diff(*other))
    })
}

/// The pattern of the nearest skeleton with the same fields, each as long as was wanted.
pub(super) fn nearest(texts: &DatePatterns, wanted: &str) -> Option<String> {
    let pattern = |skeleton: &str| texts.text(&key(&[keys::SKELETON, skeleton]));
    if let Some(pattern) = pattern(wanted) {
        return Some(pattern.into());
    }
    let wanted_fields = fields(wanted);
    let (_, skeleton) = DATES
        .keys_of(keys::SKELETON)
        .filter_map(|skeleton| Some((distance(&wanted_fields, &skeleton)?, skeleton)))
        .filter(|(_, skeleton)| pattern(skeleton).is_some())
        .min()?;
    Some(adjusted(pattern(&skeleton)?, wanted, &skeleton))
}

/// A text as a pattern writes it: in quotes where it has letters.
pub(super) fn quoted(text: &str) -> Cow<'_, str> {
    if text.chars().any(|letter| letter.is_ascii_alphabetic() || letter == '\'') {
        Cow::Owned(alloc::format!("'{}'", text.replace('\'', "''")))
    } else {
        Cow::Borrowed(text)
    }
}

/// A pattern with its fields as long as those of a skeleton, where words stand for words and numbers for numbers.
pub(super) fn adjusted(pattern: &str, wanted: &str, found: &str) -> String {
    let (wanted, found) = (fields(wanted), fields(found));
    let length_in = |fields: &Fields, letter: char| {
        fields.iter().find(|(other, _)| *other == letter).map(|field| field.1)
    };
    let mut text = String::with_capacity(pattern.len() + 8);
    for piece in pieces(pattern) {
        match piece {
            Piece::Text(literal) => text.push_str(&quoted(literal)),
            Piece::Field(letter, length) => {
                let name = field(letter);
                let (asked, had) = (length_in(&wanted, name), length_in(&found, name));
                // A pattern may show a field otherwise than its skeleton says; that is kept.
                let length = match (asked, had) {
                    (Some(asked), Some(had))
                        if asked != had && is_word(name, asked) == is_word(name, length) =>
                    {
                        asked
                    }
                    _ => length,
                };
                text.extend(core::iter::repeat_n(letter, length));
            }
        }
    }
    text.push_str(numerals::suffix(pattern));
    text
}
