//! What formatting must know of a locale, made ready once.

use crate::direction::Direction;
use crate::number::{NumberLocale, PluralRules, PluralType};
use crate::tag::LanguageTag;

/// Whether placeholders are set apart from text that runs the other way (UTS #35 part 9, "Handling
/// Bidirectional Text").
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Isolation {
    /// The standard's default strategy: each placeholder is isolated, unless it and the message are known to run
    /// from left to right. Text gets U+2066–U+2069, HTML gets `<bdi>`.
    #[default]
    Default,
    /// Nothing is isolated.
    None,
}

/// How a locale speaks: its plural rules and direction, and the numbers of its formats.
#[derive(Clone, Copy, Debug)]
pub struct Speech {
    pub(super) direction: Direction,
    pub(super) cardinal: PluralRules,
    pub(super) ordinal: PluralRules,
    pub(super) numbers: NumberLocale,
    pub(super) isolation: Isolation,
}

impl Speech {
    /// The speech of a locale: words and numbers alike.
    pub fn of(tag: &LanguageTag) -> Self {
        Self {
            direction: Direction::of(tag),
            cardinal: PluralRules::of(tag, PluralType::Cardinal),
            ordinal: PluralRules::of(tag, PluralType::Ordinal),
            numbers: NumberLocale::of(tag),
            isolation: Isolation::Default,
        }
    }

    /// Writes numbers as another tag of the same language does; plural categories stay those of the words.
    #[must_use]
    pub const fn with_numbers(mut self, numbers: NumberLocale) -> Self {
        self.numbers = numbers;
        self
    }

    /// Sets how placeholders are isolated.
    #[must_use]
    pub const fn with_isolation(mut self, isolation: Isolation) -> Self {
        self.isolation = isolation;
        self
    }
}
