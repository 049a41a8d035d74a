//! Digits, symbols and grouping (UTS #35 part 3, `cldr-numbers-full`).

use crate::Code;
use crate::code::find;
use crate::generated::numbers as table;

/// The signs around digits.
#[derive(Clone, Copy, Debug)]
pub struct Symbols {
    /// Between integer and fraction digits.
    pub decimal: &'static str,
    /// Between groups of integer digits.
    pub group: &'static str,
    /// Before a negative number, with direction marks where the locale has them.
    pub minus: &'static str,
    /// Before a positive number, where a sign is asked for.
    pub plus: &'static str,
}

/// The sizes of groups of integer digits.
#[derive(Clone, Copy, Debug)]
pub struct Grouping {
    /// The group next to the decimal sign; zero is no grouping.
    pub primary: u8,
    /// All further groups.
    pub secondary: u8,
    /// How many digits must stand before the first group sign (`minimumGroupingDigits`).
    pub minimum: u8,
}

/// How a locale writes decimals in one numbering system.
#[derive(Clone, Copy, Debug)]
pub struct Shape {
    pub(crate) system: u8,
    pub(crate) symbols: u8,
    /// Group sizes.
    pub grouping: Grouping,
}

impl Shape {
    /// The name of the numbering system: `latn`, `arab`, `deva`, …
    pub fn system(&self) -> &'static str {
        table::SYSTEMS.get(usize::from(self.system)).map_or("", |system| system.0)
    }

    /// The ten digits.
    pub fn digits(&self) -> &'static [char; 10] {
        &table::SYSTEMS.get(usize::from(self.system)).unwrap_or(&table::SYSTEMS[0]).1
    }

    /// The signs.
    pub fn symbols(&self) -> &'static Symbols {
        table::SYMBOLS.get(usize::from(self.symbols)).unwrap_or(&table::SYMBOLS[0])
    }
}

/// The shapes of exactly this tag, that of its default numbering system first; no fallback.
pub fn shapes(language: Code, script: Code, region: Code) -> Option<&'static [Shape]> {
    find(&table::LOCALES, language, script, region)
}

/// The ten digits of a numbering system.
pub fn digits(system: &str) -> Option<&'static [char; 10]> {
    table::SYSTEMS.iter().find(|row| row.0 == system).map(|row| &row.1)
}

/// The shapes of the root, for a locale that has none: of Latin digits first, then of the others that the root has signs for.
pub fn root() -> &'static [Shape; 3] {
    &table::ROOT
}

/// The name of the numbering system with these digits.
pub fn system_of(digits: &[char; 10]) -> &'static str {
    table::SYSTEMS.iter().find(|row| row.1 == *digits).map_or("", |row| row.0)
}
