//! `:number` and `:integer` (UTS #35 part 9, "Numeric Value Selection and Formatting").

use crate::number::{Category, Decimal, Digits, Grouping, NumberFormat, RoundingMode, Sign};

use super::speech::Speech;

/// The options of a number function, resolved: what travels with a declared value.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct NumberOptions {
    integer_digits: Option<u8>,
    least_fraction: Option<u8>,
    most_fraction: Option<u8>,
    least_significant: Option<u8>,
    most_significant: Option<u8>,
    grouping: Option<Grouping>,
    sign: Option<Sign>,
    strip_if_integer: Option<bool>,
    select: Option<SelectBy>,
}

/// What a number selects by.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum SelectBy {
    Plural,
    Ordinal,
    Exact,
    /// `select` was set by a variable, or to no known value: the number formats but does not select.
    Nothing,
}

/// An option's value is not one of those it can have, or there is no such option.
pub(super) struct BadOption;

impl NumberOptions {
    /// Sets one option from its text.
    pub(super) fn set(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        // ECMA-402 bounds digits at 100, and significant and integer ones at 21.
        let digits = |least: u8, most: u8| {
            let plain = !value.is_empty()
                && value.bytes().all(|byte| byte.is_ascii_digit())
                && (value.len() == 1 || !value.starts_with('0'));
            let number = plain.then(|| value.parse().ok()).flatten();
            number.filter(|number| (least..=most).contains(number)).map(Some).ok_or(BadOption)
        };
        match name {
            "minimumIntegerDigits" => self.integer_digits = digits(1, 21)?,
            "minimumFractionDigits" => self.least_fraction = digits(0, 100)?,
            "maximumFractionDigits" => self.most_fraction = digits(0, 100)?,
            "minimumSignificantDigits" => self.least_significant = digits(1, 21)?,
            "maximumSignificantDigits" => self.most_significant = digits(1, 21)?,
            "useGrouping" => {
                self.grouping = Some(match value {
                    "auto" => Grouping::Auto,
                    "always" => Grouping::Always,
                    "never" => Grouping::Never,
                    "min2" => Grouping::Min2,
                    _ => return Err(BadOption),
                });
            }
            "signDisplay" => {
                self.sign = Some(match value {
                    "auto" => Sign::Auto,
                    "always" => Sign::Always,
                    "exceptZero" => Sign::ExceptZero,
                    "negative" => Sign::Negative,
                    "never" => Sign::Never,
                    _ => return Err(BadOption),
                });
            }
            "trailingZeroDisplay" => {
                self.strip_if_integer = Some(match value {
                    "auto" => false,
                    "stripIfInteger" => true,
                    _ => return Err(BadOption),
                });
            }
            "select" => {
                self.select = Some(match value {
                    "plural" => SelectBy::Plural,
                    "ordinal" => SelectBy::Ordinal,
                    "exact" => SelectBy::Exact,
                    _ => {
                        self.select = Some(SelectBy::Nothing);
                        return Err(BadOption);
                    }
                });
            }
            _ => return Err(BadOption),
        }
        Ok(())
    }

    /// Whether an option only takes literals; returns false and remembers that the number cannot select.
    pub(super) fn take_variable(&mut self, name: &str) -> bool {
        if name == "select" {
            self.select = Some(SelectBy::Nothing);
        }
        name != "select"
    }

    /// These options over inherited ones.
    pub(super) fn over(self, inherited: Self) -> Self {
        Self {
            integer_digits: self.integer_digits.or(inherited.integer_digits),
            least_fraction: self.least_fraction.or(inherited.least_fraction),
            most_fraction: self.most_fraction.or(inherited.most_fraction),
            least_significant: self.least_significant.or(inherited.least_significant),
            most_significant: self.most_significant.or(inherited.most_significant),
            grouping: self.grouping.or(inherited.grouping),
            sign: self.sign.or(inherited.sign),
            strip_if_integer: self.strip_if_integer.or(inherited.strip_if_integer),
            select: self.select.or(inherited.select),
        }
    }

    /// What `:integer` keeps: nothing that would show a fraction.
    pub(super) fn of_integer(self) -> Self {
        Self {
            least_fraction: None,
            most_fraction: Some(0),
            least_significant: None,
            strip_if_integer: None,
            ..self
        }
    }

    /// The format these options give. Significant digits go before fraction digits, as in ECMA-402.
    pub(super) fn format(&self) -> NumberFormat {
        let digits = if self.least_significant.is_some() || self.most_significant.is_some() {
            let least = self.least_significant.unwrap_or(1);
            Digits::Significant(least, self.most_significant.unwrap_or(21).max(least))
        } else {
            match (self.least_fraction, self.most_fraction) {
                (least, None) => Digits::Fraction(least.unwrap_or(0), least.unwrap_or(0).max(3)),
                (least, Some(most)) => Digits::Fraction(least.unwrap_or(0).min(most), most),
            }
        };
        NumberFormat {
            digits,
            integer_digits: self.integer_digits.unwrap_or(1),
            grouping: self.grouping.unwrap_or_default(),
            sign: self.sign.unwrap_or_default(),
            strip_if_integer: self.strip_if_integer.unwrap_or(false),
            rounding: RoundingMode::default(),
        }
    }

    /// The keys a number matches: its value, and its category where it selects by one. None where it cannot select.
    pub(super) fn selection(&self, number: &Decimal, speech: &Speech) -> Option<(Decimal, Option<Category>)> {
        let shown = self.format().rounded(number);
        let category = match self.select.unwrap_or(SelectBy::Plural) {
            SelectBy::Plural => Some(speech.cardinal.category(&shown)),
            SelectBy::Ordinal => Some(speech.ordinal.category(&shown)),
            SelectBy::Exact => None,
            SelectBy::Nothing => return None,
        };
        Some((shown, category))
    }
}
