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

/// The rules of a language.
#[derive(Clone, Copy, Debug)]
pub struct RuleSet {
    /// The conditions of all categories but `other`, in the order of the data: the first that holds counts.
    pub rules: &'static [Rule],
    /// The samples of each category.
    pub samples: Samples,
    /// The categories of whole numbers.
    pub whole_numbers: &'static WholeNumbers,
}

/// The rules of a language that CLDR does not have: everything is `other`.
pub static NO_RULES: RuleSet =
    RuleSet { rules: &[], samples: &[(Category::Other, "")], whole_numbers: &NO_WHOLE_NUMBERS };

static NO_WHOLE_NUMBERS: WholeNumbers = WholeNumbers::of(&[]);

/// The cardinal rules of exactly this tag, without fallback.
pub fn cardinal(language: Code, script: Code, region: Code) -> Option<RuleSet> {
    let set = usize::from(find(&table::CARDINAL_LOCALES, language, script, region)?);
    Some(RuleSet {
        rules: table::CARDINAL_RULES.get(set)?,
        samples: table::CARDINAL_SAMPLES.get(set)?,
        whole_numbers: CARDINAL_WHOLE_NUMBERS.get(set)?,
    })
}

/// The ordinal rules of exactly this tag, without fallback.
pub fn ordinal(language: Code, script: Code, region: Code) -> Option<RuleSet> {
    let set = usize::from(find(&table::ORDINAL_LOCALES, language, script, region)?);
    Some(RuleSet {
        rules: table::ORDINAL_RULES.get(set)?,
        samples: table::ORDINAL_SAMPLES.get(set)?,
        whole_numbers: ORDINAL_WHOLE_NUMBERS.get(set)?,
    })
}

static CARDINAL_WHOLE_NUMBERS: [WholeNumbers; table::CARDINAL_RULES.len()] =
    WholeNumbers::of_all(&table::CARDINAL_RULES);

static ORDINAL_WHOLE_NUMBERS: [WholeNumbers; table::ORDINAL_RULES.len()] =
    WholeNumbers::of_all(&table::ORDINAL_RULES);

/// The categories of whole numbers by a set of rules, computed when the crate is compiled.
#[derive(Clone, Copy, Debug)]
pub struct WholeNumbers {
    below_hundred: [Category; 100],
    /// Those of larger numbers by their last two digits, where nothing else counts.
    above: Option<[Category; 100]>,
}

impl WholeNumbers {
    /// The category of a number, where the table has it. It does not have large round numbers: rules look at their zeros.
    #[inline]
    pub fn category(&self, number: u64) -> Option<Category> {
        let last_two = usize::try_from(number % 100).ok()?;
        let table = match (number, last_two) {
            (..100, _) => &self.below_hundred,
            (_, 0) => return None,
            _ => self.above.as_ref()?,
        };
        table.get(last_two).copied()
    }

    const fn of_all<const COUNT: usize>(sets: &[&[Rule]; COUNT]) -> [Self; COUNT] {
        let mut all = [Self::of(&[]); COUNT];
        let mut at = 0;
        while at < COUNT {
            all[at] = Self::of(sets[at]);
            at += 1;
        }
        all
    }

    const fn of(rules: &[Rule]) -> Self {
        let mut below_hundred = [Category::Other; 100];
        let mut above = [Category::Other; 100];
        let mut number = 0;
        while number < 100 {
            below_hundred[number] = category_of_whole(rules, number as u64);
            above[number] = category_of_whole(rules, 100 + number as u64);
            number += 1;
        }
        Self { below_hundred, above: if goes_by_last_two(rules) { Some(above) } else { None } }
    }
}

/// The category of a whole number, written as its digits.
pub const fn category_of_whole(mut rules: &[Rule], number: u64) -> Category {
    while let [rule, rest @ ..] = rules {
        let mut any_of = rule.any_of;
        while let [all_of, rest @ ..] = any_of {
            let mut all_of = *all_of;
            while let [relation, rest @ ..] = all_of
                && relation.holds_for_whole(number)
            {
                all_of = rest;
            }
            if all_of.is_empty() {
                return rule.category;
            }
            any_of = rest;
        }
        rules = rest;
    }
    Category::Other
}

/// Whether the category of every whole number from 101 that does not end in two zeros is that of its last two digits.
const fn goes_by_last_two(mut rules: &[Rule]) -> bool {
    while let [rule, rest @ ..] = rules {
        let mut any_of = rule.any_of;
        while let [all_of, rest @ ..] = any_of {
            let mut all_of = *all_of;
            while let [relation, rest @ ..] = all_of {
                if !relation.goes_by_last_two() {
                    return false;
                }
                all_of = rest;
            }
            any_of = rest;
        }
        rules = rest;
    }
    true
}

impl Relation {
    const fn holds_for_whole(&self, number: u64) -> bool {
        // A whole number has neither fraction digits nor a compact exponent.
        let value = if matches!(self.operand, Operand::N | Operand::I) { number } else { 0 };
        let value = if self.modulus == 0 { value } else { value % self.modulus as u64 };
        let mut ranges = self.ranges;
        while let [(low, high), rest @ ..] = ranges {
            if *low as u64 <= value && value <= *high as u64 {
                return self.equal;
            }
            ranges = rest;
        }
        !self.equal
    }

    const fn goes_by_last_two(&self) -> bool {
        if !matches!(self.operand, Operand::N | Operand::I) {
            return true;
        }
        match self.modulus {
            // No such number is in the ranges.
            0 => self.is_within(100),
            modulus if 100 % modulus == 0 => true,
            // Only a number that ends in two zeros can be in the ranges.
            modulus => modulus % 100 == 0 && self.is_within(0),
        }
    }

    /// Whether no range has a larger number.
    const fn is_within(&self, most: u32) -> bool {
        let mut ranges = self.ranges;
        while let [(_, high), rest @ ..] = ranges {
            if *high > most {
                return false;
            }
            ranges = rest;
        }
        true
    }
}

/// Every locale with cardinal rules.
pub fn cardinal_locales() -> impl Iterator<Item = (Code, Code, Code)> {
    table::CARDINAL_LOCALES.iter().map(|row| crate::code::codes(&row.0))
}

/// Every locale with ordinal rules.
pub fn ordinal_locales() -> impl Iterator<Item = (Code, Code, Code)> {
    table::ORDINAL_LOCALES.iter().map(|row| crate::code::codes(&row.0))
}
