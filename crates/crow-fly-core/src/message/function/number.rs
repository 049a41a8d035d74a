//! Number functions: `:number`, `:integer`, `:percent`, `:offset`, `:currency`, `:unit`, and `:crow:compact` (UTS #35
//! part 9, "Numeric Functions").

use super::{BadOption, one_of};
use crate::message::context::FormatContext;
use crate::number::{
    Category, Currency, CurrencyDisplay, Decimal, Digits, Grouping, NumberFormat, RoundingMode, Sign, Style,
    Unit, Width,
};

/// The options of digits, groups and signs that every number function takes, behind those of its own.
macro_rules! with_digits {
    ($($own:literal),*) => {
        &[
            $($own,)*
            "minimumIntegerDigits", "minimumFractionDigits", "maximumFractionDigits", "minimumSignificantDigits",
            "maximumSignificantDigits", "useGrouping", "signDisplay", "trailingZeroDisplay", "roundingMode",
        ]
    };
}

pub(super) use with_digits;

/// Which number function.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum NumberKind {
    #[default]
    Plain,
    Percent,
    Currency,
    Unit,
    Compact,
}

/// The options of a number function, resolved: what travels with a declared value.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct NumberOptions {
    pub(crate) kind: NumberKind,
    integer_digits: Option<u8>,
    least_fraction: Option<u8>,
    most_fraction: Option<u8>,
    least_significant: Option<u8>,
    most_significant: Option<u8>,
    grouping: Option<Grouping>,
    sign: Option<Sign>,
    strip_if_integer: Option<bool>,
    rounding: Option<RoundingMode>,
    select: Option<SelectBy>,
    pub(crate) currency: Option<Currency>,
    display: Option<CurrencyDisplay>,
    accounting: Option<bool>,
    unit: Option<Unit>,
    width: Option<Width>,
}

/// What a number selects by.
#[derive(Clone, Copy, Debug, PartialEq)]
enum SelectBy {
    Plural,
    Ordinal,
    Exact,
    /// `select` was set by a variable, or to no known value: the number formats but does not select.
    Nothing,
}

impl NumberOptions {
    pub(crate) const DEFAULT: Self = Self {
        kind: NumberKind::Plain,
        integer_digits: None,
        least_fraction: None,
        most_fraction: None,
        least_significant: None,
        most_significant: None,
        grouping: None,
        sign: None,
        strip_if_integer: None,
        rounding: None,
        select: None,
        currency: None,
        display: None,
        accounting: None,
        unit: None,
        width: None,
    };

    pub(crate) fn of(kind: NumberKind) -> Self {
        Self { kind, ..Self::DEFAULT }
    }

    /// Sets one option from its text.
    pub(crate) fn set(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        let kind = self.kind;
        let digits = |least: u8, most: u8| digits(value, least, most).map(Some);
        match (kind, name) {
            (_, "minimumIntegerDigits") => self.integer_digits = digits(1, 21)?,
            (NumberKind::Currency, "fractionDigits") if value == "auto" => {
                (self.least_fraction, self.most_fraction) = (None, None);
            }
            (NumberKind::Currency, "fractionDigits") => {
                (self.least_fraction, self.most_fraction) = (digits(0, 100)?, digits(0, 100)?);
            }
            (_, "minimumFractionDigits") => self.least_fraction = digits(0, 100)?,
            (_, "maximumFractionDigits") => self.most_fraction = digits(0, 100)?,
            (_, "minimumSignificantDigits") => self.least_significant = digits(1, 21)?,
            (_, "maximumSignificantDigits") => self.most_significant = digits(1, 21)?,
            (_, "useGrouping") => {
                let known = [
                    ("auto", Grouping::Auto),
                    ("always", Grouping::Always),
                    ("never", Grouping::Never),
                    ("min2", Grouping::Min2),
                ];
                self.grouping = Some(one_of(value, known)?);
            }
            (_, "signDisplay") => {
                let known = [
                    ("auto", Sign::Auto),
                    ("always", Sign::Always),
                    ("exceptZero", Sign::ExceptZero),
                    ("negative", Sign::Negative),
                    ("never", Sign::Never),
                ];
                self.sign = Some(one_of(value, known)?);
            }
            (_, "trailingZeroDisplay") => {
                self.strip_if_integer = Some(one_of(value, [("auto", false), ("stripIfInteger", true)])?);
            }
            (_, "roundingMode") => self.rounding = Some(one_of(value, ROUNDING_MODES)?),
            (NumberKind::Plain | NumberKind::Percent, "select") => {
                let known = [
                    ("plural", SelectBy::Plural),
                    ("ordinal", SelectBy::Ordinal),
                    ("exact", SelectBy::Exact),
                ];
                self.select = Some(SelectBy::Nothing);
                self.select = Some(one_of(value, known)?);
            }
            (NumberKind::Currency, "currency") => {
                self.currency = Some(Currency::parse(value).ok_or(BadOption)?);
            }
            (NumberKind::Currency, "currencyDisplay") => {
                let known = [
                    ("symbol", CurrencyDisplay::Symbol),
                    ("narrowSymbol", CurrencyDisplay::Narrow),
                    ("formalSymbol", CurrencyDisplay::Symbol),
                    ("code", CurrencyDisplay::Code),
                    ("name", CurrencyDisplay::Name),
                    ("never", CurrencyDisplay::Never),
                ];
                self.display = Some(one_of(value, known)?);
            }
            (NumberKind::Currency, "currencySign") => {
                self.accounting = Some(one_of(value, [("standard", false), ("accounting", true)])?);
            }
            (NumberKind::Unit, "unit") => self.unit = Some(Unit::parse(value).ok_or(BadOption)?),
            (NumberKind::Unit, "unitDisplay") => {
                let known = [("long", Width::Long), ("short", Width::Short), ("narrow", Width::Narrow)];
                self.width = Some(one_of(value, known)?);
            }
            (NumberKind::Compact, "width") => {
                self.width = Some(one_of(value, [("long", Width::Long), ("short", Width::Short)])?);
            }
            _ => return Err(BadOption),
        }
        Ok(())
    }

    /// Whether an option may be given by a variable; where it may not, the number cannot select.
    pub(crate) fn take_variable(&mut self, name: &str) -> bool {
        if name == "select" {
            self.select = Some(SelectBy::Nothing);
        }
        name != "select"
    }

    /// These options over inherited ones.
    pub(crate) fn over(self, inherited: &Self) -> Self {
        Self {
            kind: self.kind,
            integer_digits: self.integer_digits.or(inherited.integer_digits),
            least_fraction: self.least_fraction.or(inherited.least_fraction),
            most_fraction: self.most_fraction.or(inherited.most_fraction),
            least_significant: self.least_significant.or(inherited.least_significant),
            most_significant: self.most_significant.or(inherited.most_significant),
            grouping: self.grouping.or(inherited.grouping),
            sign: self.sign.or(inherited.sign),
            strip_if_integer: self.strip_if_integer.or(inherited.strip_if_integer),
            rounding: self.rounding.or(inherited.rounding),
            select: self.select.or(inherited.select),
            currency: self.currency.or(inherited.currency),
            display: self.display.or(inherited.display),
            accounting: self.accounting.or(inherited.accounting),
            unit: self.unit.or(inherited.unit),
            width: self.width.or(inherited.width),
        }
    }

    /// What `:integer` keeps: nothing that asks for a fraction, since its value has none.
    pub(crate) fn of_integer(self) -> Self {
        Self {
            least_fraction: None,
            most_fraction: None,
            least_significant: None,
            strip_if_integer: None,
            ..self
        }
    }

    /// How the number is rounded.
    pub(crate) fn rounding(&self) -> RoundingMode {
        self.rounding.unwrap_or_default()
    }

    /// Whether everything its kind cannot do without is there.
    pub(crate) const fn is_complete(&self) -> bool {
        match self.kind {
            NumberKind::Currency => self.currency.is_some(),
            NumberKind::Unit => self.unit.is_some(),
            _ => true,
        }
    }

    /// Whether a whole number shows as its own digits, and nothing but those.
    pub(crate) const fn shows_integer(&self) -> bool {
        matches!(self.kind, NumberKind::Plain)
            && matches!(self.least_fraction, None | Some(0))
            && self.least_significant.is_none()
            && self.most_significant.is_none()
    }

    /// What a number with these options is.
    pub(crate) fn style(&self) -> Style {
        match (self.kind, self.currency, self.unit) {
            (NumberKind::Percent, ..) => Style::Percent,
            (NumberKind::Currency, Some(currency), _) => {
                Style::Money(currency, self.display.unwrap_or_default(), self.accounting.unwrap_or(false))
            }
            (NumberKind::Unit, _, Some(unit)) => Style::Unit(unit, self.width.unwrap_or_default()),
            (NumberKind::Compact, ..) => Style::Compact(self.width.unwrap_or_default()),
            _ => Style::Plain,
        }
    }

    /// The format these options give. Significant digits go before fraction digits, as in ECMA-402.
    pub(crate) fn format(&self) -> NumberFormat {
        // Digits behind the decimal sign where nothing is said.
        let (usual_least, usual_most) = match (self.kind, self.currency) {
            (NumberKind::Currency, Some(currency)) => (currency.digits(), currency.digits()),
            (NumberKind::Percent, _) => (0, 0),
            _ => (0, 3),
        };
        let digits = if self.least_significant.is_some() || self.most_significant.is_some() {
            let least = self.least_significant.unwrap_or(1);
            Digits::Significant(least, self.most_significant.unwrap_or(21).max(least))
        } else {
            match (self.least_fraction, self.most_fraction) {
                (None, None) => Digits::Fraction(usual_least, usual_most),
                (Some(least), None) => Digits::Fraction(least, least.max(usual_most)),
                (least, Some(most)) => Digits::Fraction(least.unwrap_or(usual_least).min(most), most),
            }
        };
        NumberFormat {
            digits,
            integer_digits: self.integer_digits.unwrap_or(1),
            grouping: self.grouping.unwrap_or(if self.kind == NumberKind::Compact {
                Grouping::Min2
            } else {
                Grouping::Auto
            }),
            sign: self.sign.unwrap_or_default(),
            strip_if_integer: self.strip_if_integer.unwrap_or(false),
            rounding: self.rounding.unwrap_or_default(),
        }
    }

    /// The format of such a number.
    pub(crate) fn integer_format(&self) -> NumberFormat {
        NumberFormat {
            integer_digits: self.integer_digits.unwrap_or(1),
            grouping: self.grouping.unwrap_or(Grouping::Auto),
            sign: self.sign.unwrap_or(Sign::Auto),
            ..NumberFormat::PLAIN
        }
    }

    /// The category a whole number selects by that shows as its own digits.
    pub(crate) fn integer_category(&self, number: i64, context: &FormatContext) -> Option<Category> {
        let number = number.unsigned_abs();
        match self.select.unwrap_or(SelectBy::Plural) {
            SelectBy::Plural => Some(context.cardinal.category_of_integer(number)),
            SelectBy::Ordinal => Some(context.ordinal.category_of_integer(number)),
            SelectBy::Exact | SelectBy::Nothing => None,
        }
    }

    /// Whether the number can select at all.
    pub(crate) fn selects(&self) -> bool {
        self.select != Some(SelectBy::Nothing)
    }

    /// The keys a number matches: its value, and its category where it selects by one. None where it cannot select:
    /// money and units only format.
    pub(crate) fn selection(
        &self,
        number: &Decimal,
        context: &FormatContext,
    ) -> Option<(Decimal, Option<Category>)> {
        if matches!(self.kind, NumberKind::Currency | NumberKind::Unit) {
            return None;
        }
        let shown = context.number_patterns.shown(self.style(), self.format(), number);
        let category = match self.select.unwrap_or(SelectBy::Plural) {
            SelectBy::Plural => Some(context.number_patterns.category(&shown)),
            SelectBy::Ordinal => Some(context.ordinal.category(&shown.number)),
            SelectBy::Exact => None,
            SelectBy::Nothing => return None,
        };
        let exact = if self.kind == NumberKind::Compact { number.clone() } else { shown.number };
        Some((exact, category))
    }
}

const ROUNDING_MODES: [(&str, RoundingMode); 9] = [
    ("ceil", RoundingMode::Ceil),
    ("floor", RoundingMode::Floor),
    ("expand", RoundingMode::Expand),
    ("trunc", RoundingMode::Trunc),
    ("halfCeil", RoundingMode::HalfCeil),
    ("halfFloor", RoundingMode::HalfFloor),
    ("halfExpand", RoundingMode::HalfExpand),
    ("halfTrunc", RoundingMode::HalfTrunc),
    ("halfEven", RoundingMode::HalfEven),
];

/// A digit size option: ECMA-402 bounds digits at 100, and significant and integer ones at 21.
pub(super) fn digits(value: &str, least: u8, most: u8) -> Result<u8, BadOption> {
    let plain = !value.is_empty()
        && value.bytes().all(|byte| byte.is_ascii_digit())
        && (value.len() == 1 || !value.starts_with('0'));
    let number = plain.then(|| value.parse().ok()).flatten();
    number.filter(|number| (least..=most).contains(number)).ok_or(BadOption)
}
