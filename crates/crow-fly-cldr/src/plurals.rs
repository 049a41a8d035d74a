//! Plural rules as data (UTS #35 part 3, `plurals.json` and `ordinals.json`).

use crate::Code;
use crate::code::find;
use crate::generated::plurals as table;

/// A plural category, in the order CLDR lists them.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Category {
    /// `zero`
    Zero,
    /// `one`
    One,
    /// `two`
    Two,
    /// `few`
    Few,
    /// `many`
    Many,
    /// `other`, which every language has.
    Other,
}

/// A plural operand of the formatted number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Operand {
    /// The absolute value.
    N,
    /// The integer digits.
    I,
    /// How many visible fraction digits there are.
    V,
    /// The same without trailing zeros.
    W,
    /// The visible fraction digits.
    F,
    /// The same without trailing zeros.
    T,
    /// The compact exponent.
    C,
    /// The same, under its older letter.
    E,
}

/// One comparison: `operand % modulus`, within the ranges or outside all of them.
#[derive(Clone, Copy, Debug)]
pub struct Relation {
    /// What is compared.
    pub operand: Operand,
    /// The modulus; zero is none.
    pub modulus: u32,
    /// Whether the value must be in a range (`=`) or in none (`!=`).
    pub equal: bool,
    /// Inclusive ranges of integers.
    pub ranges: &'static [(u32, u32)],
}

/// The condition of one category: any of the conjunctions.
#[derive(Clone, Copy, Debug)]
pub struct Rule {
    /// The category the condition gives.
    pub category: Category,
    /// Disjunction of conjunctions.
    pub any_of: &'static [&'static [Relation]],
}

/// The samples of each category of a locale, in the syntax of the data.
pub type Samples = &'static [(Category, &'static str)];

/// The cardinal rules of exactly this tag, without fallback.
pub fn cardinal(language: Code, script: Code, region: Code) -> Option<(&'static [Rule], Samples)> {
    let set = usize::from(find(&table::CARDINAL_LOCALES, language, script, region)?);
    Some((table::CARDINAL_RULES.get(set)?, table::CARDINAL_SAMPLES.get(set)?))
}

/// The ordinal rules of exactly this tag, without fallback.
pub fn ordinal(language: Code, script: Code, region: Code) -> Option<(&'static [Rule], Samples)> {
    let set = usize::from(find(&table::ORDINAL_LOCALES, language, script, region)?);
    Some((table::ORDINAL_RULES.get(set)?, table::ORDINAL_SAMPLES.get(set)?))
}

/// Every locale with cardinal rules.
pub fn cardinal_locales() -> impl Iterator<Item = (Code, Code, Code)> {
    table::CARDINAL_LOCALES.iter().map(|row| crate::code::codes(&row.0))
}

/// Every locale with ordinal rules.
pub fn ordinal_locales() -> impl Iterator<Item = (Code, Code, Code)> {
    table::ORDINAL_LOCALES.iter().map(|row| crate::code::codes(&row.0))
}
