//! Digits of currencies, plural ranges, day periods, hour cycles, first days of weeks and preferred calendars (supplemental data).

use crate::generated::supplement as table;
use crate::plurals::Category;

/// How many digits an amount of a currency has behind the decimal sign (ISO 4217, with CLDR's changes).
pub fn currency_digits(code: &str) -> u8 {
    let row = table::CURRENCY_DIGITS.binary_search_by(|row| row.0.as_slice().cmp(code.as_bytes()));
    row.ok().and_then(|at| table::CURRENCY_DIGITS.get(at)).map_or(2, |row| row.1)
}

/// The categories of ranges in a language: of the start, of the end, of the range.
pub fn plural_ranges(language: &str) -> &'static [(Category, Category, Category)] {
    find(&table::PLURAL_RANGES, language).unwrap_or(&[])
}

/// The category of a range from one category to another, in a language; its end's where nothing is said.
pub fn plural_range(language: &str, start: Category, end: Category) -> Category {
    let rows = plural_ranges(language);
    rows.iter().find(|row| (row.0, row.1) == (start, end)).map_or(end, |row| row.2)
}

/// The flexible day periods of a language: name, first minute of the day, and the minute it ends before; the same
/// for a moment.
pub fn day_periods(language: &str) -> &'static [(&'static str, u16, u16)] {
    find(&table::DAY_PERIODS, language).unwrap_or(&[])
}

/// The hour letter of a place, `h` or `H`: of `fr-CA`, or of a region.
pub fn hour(place: &str) -> Option<char> {
    find(&table::HOURS, place)
}

/// The first day of the week in a region: 0 is Sunday.
pub fn first_day(region: &str) -> Option<u8> {
    find(&table::FIRST_DAYS, region)
}

/// The calendar that a region prefers to the Gregorian one: `persian`.
pub fn calendar(region: &str) -> Option<&'static str> {
    find(&table::CALENDARS, region)
}

fn find<V: Copy>(table: &[(&'static str, V)], key: &str) -> Option<V> {
    table.binary_search_by(|row| row.0.cmp(key)).ok().and_then(|at| table.get(at)).map(|row| row.1)
}
