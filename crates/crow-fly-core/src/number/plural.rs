//! Plural categories: UTS #35 part 3, "Language Plural Rules".

use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::Code;
use crow_fly_cldr::plurals::{self, Operand, Relation, Rule, RuleSet};

use super::Decimal;
use crate::tag::LanguageTag;

/// A plural category. Every language has `other`; which further ones it has, and for what numbers, is its own.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "lowercase")]
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
    /// `other`
    Other,
}

impl Category {
    /// Every category, in the order CLDR lists them.
    pub const ALL: &'static [Self] = &[Self::Zero, Self::One, Self::Two, Self::Few, Self::Many, Self::Other];

    /// The keyword of the category.
    pub const fn as_str(self) -> &'static str {
        match self {
            Self::Zero => "zero",
            Self::One => "one",
            Self::Two => "two",
            Self::Few => "few",
            Self::Many => "many",
            Self::Other => "other",
        }
    }

    /// The category of a keyword.
    pub fn from_keyword(keyword: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|category| category.as_str() == keyword)
    }

    const fn to_table(self) -> plurals::Category {
        match self {
            Self::Zero => plurals::Category::Zero,
            Self::One => plurals::Category::One,
            Self::Two => plurals::Category::Two,
            Self::Few => plurals::Category::Few,
            Self::Many => plurals::Category::Many,
            Self::Other => plurals::Category::Other,
        }
    }

    const fn of_table(category: plurals::Category) -> Self {
        match category {
            plurals::Category::Zero => Self::Zero,
            plurals::Category::One => Self::One,
            plurals::Category::Two => Self::Two,
            plurals::Category::Few => Self::Few,
            plurals::Category::Many => Self::Many,
            plurals::Category::Other => Self::Other,
        }
    }
}

impl fmt::Display for Category {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

/// What is counted: things, or places in an order.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum PluralType {
    /// Three ferries.
    #[default]
    Cardinal,
    /// The third ferry.
    Ordinal,
}

/// The plural rules of a language.
///
/// ```
/// use crow_fly_core::{number::{Category, Decimal, PluralRules, PluralType}, tag::LanguageTag};
///
/// let welsh = PluralRules::of(&LanguageTag::parse("cy")?, PluralType::Cardinal);
/// assert_eq!(welsh.category(&Decimal::from(3u64)), Category::Few);
/// assert_eq!(welsh.category(&Decimal::from(7u64)), Category::Other);
/// # Ok::<(), crow_fly_core::tag::TagError>(())
/// ```
#[derive(Clone, Copy, Debug)]
pub struct PluralRules {
    set: RuleSet,
}

impl PluralRules {
    /// The rules of a tag, or of the nearest shorter one; those of the root, which know only `other`, for a
    /// language CLDR does not know.
    pub fn of(tag: &LanguageTag, plural_type: PluralType) -> Self {
        let find = match plural_type {
            PluralType::Cardinal => plurals::cardinal,
            PluralType::Ordinal => plurals::ordinal,
        };
        let tag = tag.as_canonical();
        let (_, script, region) = tag.codes();
        let language = tag.language_code().unwrap_or(0);
        let keys: [(Code, Code, Code); 4] =
            [(language, script, region), (language, script, 0), (language, 0, region), (language, 0, 0)];
        let found = keys.into_iter().find_map(|(language, script, region)| find(language, script, region));
        Self { set: found.unwrap_or(plurals::NO_RULES) }
    }

    /// The category of a number as it is written: 1 and 1.0 may differ.
    pub fn category(&self, number: &Decimal) -> Category {
        self.category_of_compact(number, 0)
    }

    /// The category of a whole number, written as its digits.
    pub fn category_of_integer(&self, number: u64) -> Category {
        let known = self.set.whole_numbers.category(number);
        Category::of_table(known.unwrap_or_else(|| plurals::category_of_whole(self.set.rules, number)))
    }

    /// The categories that ranges can have in a language. Where CLDR has no rules for its ranges: those of its numbers.
    pub(crate) fn categories_of_ranges(&self, tag: &LanguageTag) -> Vec<Category> {
        let rows = crow_fly_cldr::supplement::plural_ranges(tag.as_canonical().language().as_str());
        let has = |category: &Category| rows.iter().any(|row| Category::of_table(row.2) == *category);
        self.categories().filter(|category| rows.is_empty() || has(category)).collect()
    }

    /// The category of a range between numbers of two categories (`pluralRanges.json`).
    pub fn category_of_range(&self, tag: &LanguageTag, start: Category, end: Category) -> Category {
        let language = tag.as_canonical().language();
        Category::of_table(crow_fly_cldr::supplement::plural_range(
            language.as_str(),
            start.to_table(),
            end.to_table(),
        ))
    }

    /// The category of a number written compactly, with a power of ten in words: 1200000 as "1.2 million" has the
    /// exponent 6.
    pub fn category_of_compact(&self, number: &Decimal, exponent: u32) -> Category {
        let operands = Operands::of(number, exponent);
        self.find(|relation| operands.hold(relation))
    }

    /// The first rule whose relations hold.
    #[inline]
    fn find(&self, holds: impl Fn(&Relation) -> bool) -> Category {
        let holds = |rule: &&Rule| rule.any_of.iter().any(|all_of| all_of.iter().all(&holds));
        self.set.rules.iter().find(holds).map_or(Category::Other, |rule| Category::of_table(rule.category))
    }

    /// The categories the language tells apart, in CLDR's order.
    pub fn categories(&self) -> impl Iterator<Item = Category> {
        self.set.samples.iter().map(|(category, _)| Category::of_table(*category))
    }

    /// Sample numbers of a category as CLDR lists them, whole ones first: `@integer 1, 21, 31 … @decimal 1.0`.
    pub fn samples(&self, category: Category) -> &'static str {
        let row = self.set.samples.iter().find(|(of, _)| Category::of_table(*of) == category);
        row.map_or("", |(_, samples)| samples)
    }
}

/// The operands of a number: n i v w f t c, and e, which is c under its older letter.
struct Operands {
    integer: Integer,
    fraction: Integer,
    trimmed: Integer,
    visible: u32,
    visible_trimmed: u32,
    exponent: u32,
}

/// A whole number, of which relations only ask small values and small moduli.
#[derive(Clone, Copy)]
struct Integer {
    /// The last eighteen digits.
    low: u64,
    /// Whether there are more before them: the number is then larger than any in a rule.
    huge: bool,
}

impl Integer {
    fn of(digits: &[u8]) -> Self {
        let cut = digits.len().saturating_sub(18);
        let value = |digits: &[u8]| digits.iter().fold(0, |value, digit| value * 10 + u64::from(*digit));
        let (high, low) = digits.split_at_checked(cut).unwrap_or((&[], digits));
        Self { low: value(low), huge: high.iter().any(|digit| *digit > 0) }
    }

    /// Whether the number, or its rest by the modulus, lies in a range. Moduli of the data divide 10^18.
    fn lies_in(self, modulus: u32, ranges: &[(u32, u32)]) -> bool {
        let value = match (modulus, u32::try_from(self.low)) {
            (0, _) if self.huge => return false,
            (0, Ok(value)) => value,
            // Larger than any number of a rule.
            (0, Err(_)) => return false,
            (modulus, Ok(low)) => low % modulus,
            // A rest is below the modulus.
            (modulus, Err(_)) => u32::try_from(self.low % u64::from(modulus)).unwrap_or(0),
        };
        ranges.iter().any(|(low, high)| (*low..=*high).contains(&value))
    }
}

impl Operands {
    fn of(number: &Decimal, exponent: u32) -> Self {
        let fraction = number.fraction_digits();
        let trimmed = fraction.iter().rposition(|digit| *digit != 0).map_or(0, |last| last + 1);
        let count = |length: usize| u32::try_from(length).unwrap_or(u32::MAX);
        Self {
            integer: Integer::of(number.integer_digits()),
            fraction: Integer::of(fraction),
            trimmed: Integer::of(fraction.get(..trimmed).unwrap_or_default()),
            visible: count(fraction.len()),
            visible_trimmed: count(trimmed),
            exponent,
        }
    }

    fn hold(&self, relation: &Relation) -> bool {
        let small = |value: u32| Integer { low: u64::from(value), huge: false };
        let value = match relation.operand {
            // A number with a fraction is in no range of whole numbers, nor is its rest by a modulus.
            Operand::N if self.visible_trimmed > 0 => return !relation.equal,
            Operand::N | Operand::I => self.integer,
            Operand::V => small(self.visible),
            Operand::W => small(self.visible_trimmed),
            Operand::F => self.fraction,
            Operand::T => self.trimmed,
            Operand::C | Operand::E => small(self.exponent),
        };
        value.lies_in(relation.modulus, relation.ranges) == relation.equal
    }
}
