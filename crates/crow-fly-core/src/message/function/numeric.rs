//! What the functions of numbers share: the options that travel with a number, and how it is shown and selects (UTS #35
//! part 9, "Numeric Functions").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use core::fmt::{self, Write};

use super::option::{BadOption, digits, one_of};
use crate::function_context::FunctionContext;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::{
    Category, Currency, CurrencyDisplay, Decimal, Digits, Grouping, MoneyStyle, NumberFormat, RoundingMode,
    Sign, Style, Unit, Width,
};

/// The options of digits, groups and signs.
pub(super) const DIGIT_OPTIONS: &[&str] = &[
    "minimumIntegerDigits",
    "minimumFractionDigits",
    "maximumFractionDigits",
    "minimumSignificantDigits",
    "maximumSignificantDigits",
    "useGrouping",
    "signDisplay",
    "trailingZeroDisplay",
    "roundingMode",
];

/// Which number function.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(in crate::message) enum NumberKind {
    #[default]
    Plain,
    Percent,
    Currency,
    Unit,
    Compact,
}

/// The options of a number function, resolved: what travels with a declared value.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(in crate::message) struct NumberOptions {
    pub(super) kind: NumberKind,
    pub(super) integer_digits: Option<u8>,
    pub(super) least_fraction: Option<u8>,
    pub(super) most_fraction: Option<u8>,
    pub(super) least_significant: Option<u8>,
    pub(super) most_significant: Option<u8>,
    pub(super) grouping: Option<Grouping>,
    pub(super) sign: Option<Sign>,
    pub(super) strip_if_integer: Option<bool>,
    pub(super) rounding: Option<RoundingMode>,
    pub(super) select: Option<SelectBy>,
    pub(in crate::message) currency: Option<Currency>,
    pub(super) display: Option<CurrencyDisplay>,
    pub(super) accounting: Option<bool>,
    pub(super) unit: Option<Unit>,
    pub(super) width: Option<Width>,
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

impl NumberOptions {
    pub(in crate::message) const DEFAULT: Self = Self {
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

    pub(super) const fn of(kind: NumberKind) -> Self {
        Self { kind, ..Self::DEFAULT }
    }

    /// Sets one of the options of digits, groups and signs from its text.
    pub(super) fn set_digits(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        let number = |least: u8, most: u8| digits(value, least, most).map(Some);
        match name {
            "minimumIntegerDigits" => self.integer_digits = number(1, 21)?,
            "minimumFractionDigits" => self.least_fraction = number(0, 100)?,
            "maximumFractionDigits" => self.most_fraction = number(0, 100)?,
            "minimumSignificantDigits" => self.least_significant = number(1, 21)?,
            "maximumSignificantDigits" => self.most_significant = number(1, 21)?,
            "useGrouping" => self.grouping = Some(one_of(value, GROUPINGS)?),
            "signDisplay" => self.sign = Some(one_of(value, SIGNS)?),
            "trailingZeroDisplay" => {
                self.strip_if_integer = Some(one_of(value, [("auto", false), ("stripIfInteger", true)])?);
            }
            "roundingMode" => self.rounding = Some(one_of(value, ROUNDING_MODES)?),
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    /// Sets `select`, or one of the options of digits, groups and signs.
    pub(super) fn set_select_or_digits(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        if name != "select" {
            return self.set_digits(name, value);
        }
        let known =
            [("plural", SelectBy::Plural), ("ordinal", SelectBy::Ordinal), ("exact", SelectBy::Exact)];
        self.select = Some(SelectBy::Nothing);
        self.select = Some(one_of(value, known)?);
        Ok(())
    }

    /// Whether an option may be given by a variable: `select` may not, and then the number cannot select.
    pub(super) fn take_variable(&mut self, name: &str) -> bool {
        if name == "select" {
            self.select = Some(SelectBy::Nothing);
        }
        name != "select"
    }

    /// These options over inherited ones.
    pub(in crate::message) fn over(self, inherited: &Self) -> Self {
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
    pub(in crate::message) fn of_integer(self) -> Self {
        Self {
            least_fraction: None,
            most_fraction: None,
            least_significant: None,
            strip_if_integer: None,
            ..self
        }
    }

    /// How the number is rounded.
    pub(in crate::message) fn rounding(&self) -> RoundingMode {
        self.rounding.unwrap_or_default()
    }

    /// What is not there, and its kind cannot do without.
    pub(in crate::message) const fn missing(&self) -> Option<&'static str> {
        match self.kind {
            NumberKind::Currency if self.currency.is_none() => {
                Some("a currency: give `currency=…` or a `Money`")
            }
            NumberKind::Unit if self.unit.is_none() => Some("a unit: give `unit=…`, such as `kilometer`"),
            _ => None,
        }
    }

    /// Whether a whole number shows as its own digits, and nothing but those.
    pub(in crate::message) const fn shows_integer(&self) -> bool {
        matches!(self.kind, NumberKind::Plain)
            && matches!(self.least_fraction, None | Some(0))
            && self.least_significant.is_none()
            && self.most_significant.is_none()
    }

    /// What a number with these options is.
    pub(in crate::message) fn style(&self, context: &FunctionContext) -> Style {
        match (self.kind, self.currency, self.unit) {
            (NumberKind::Percent, ..) => Style::Percent,
            (NumberKind::Currency, Some(currency), _) => {
                let display = self.display.unwrap_or_default();
                let accounting = self.accounting.unwrap_or(context.numbers.uses_accounting());
                Style::Money(MoneyStyle { currency, display, accounting })
            }
            (NumberKind::Unit, _, Some(unit)) => Style::Unit(unit, self.width.unwrap_or_default()),
            (NumberKind::Compact, ..) => Style::Compact(self.width.unwrap_or_default()),
            _ => Style::Plain,
        }
    }

    /// The format these options give. Significant digits go before fraction digits, as in ECMA-402.
    pub(in crate::message) fn format(&self) -> NumberFormat {
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
    pub(in crate::message) fn integer_format(&self) -> NumberFormat {
        NumberFormat {
            integer_digits: self.integer_digits.unwrap_or(1),
            grouping: self.grouping.unwrap_or(Grouping::Auto),
            sign: self.sign.unwrap_or(Sign::Auto),
            ..NumberFormat::PLAIN
        }
    }

    /// The category a whole number selects by that shows as its own digits.
    pub(in crate::message) fn integer_category(
        &self,
        number: i64,
        context: &FunctionContext,
    ) -> Option<Category> {
        let number = number.unsigned_abs();
        match self.select.unwrap_or(SelectBy::Plural) {
            SelectBy::Plural => Some(context.cardinal.category_of_integer(number)),
            SelectBy::Ordinal => Some(context.ordinal.category_of_integer(number)),
            SelectBy::Exact | SelectBy::Nothing => None,
        }
    }

    /// Whether the number can select at all.
    pub(in crate::message) fn selects(&self) -> bool {
        self.select != Some(SelectBy::Nothing)
    }

    /// The keys a number matches: its value, and its category where it selects by one. None where it cannot select:
    /// money and units only format.
    pub(in crate::message) fn selection(
        &self,
        number: &Decimal,
        context: &FunctionContext,
    ) -> Option<(Decimal, Option<Category>)> {
        if matches!(self.kind, NumberKind::Currency | NumberKind::Unit) {
            return None;
        }
        let shown = context.number_patterns.shown(self.style(context), self.format(), number);
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

const GROUPINGS: [(&str, Grouping); 4] = [
    ("auto", Grouping::Auto),
    ("always", Grouping::Always),
    ("never", Grouping::Never),
    ("min2", Grouping::Min2),
];

const SIGNS: [(&str, Sign); 5] = [
    ("auto", Sign::Auto),
    ("always", Sign::Always),
    ("exceptZero", Sign::ExceptZero),
    ("negative", Sign::Negative),
    ("never", Sign::Never),
];

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

impl MaybeOwned<'_, NumberOptions> {
    /// These options over inherited ones; nothing is made where nothing is inherited.
    pub(super) fn over_inherited(self, inherited: &NumberOptions) -> Self {
        if *inherited == NumberOptions::DEFAULT { self } else { Self::Owned(Box::new(self.over(inherited))) }
    }
}

/// The digits of a number: most are small integers, and need no more than a register.
#[derive(Clone, Debug)]
pub(in crate::message) enum NumericValue<'a> {
    Integer(i64),
    Borrowed(&'a Decimal),
    Owned(Box<Decimal>),
}

impl NumericValue<'_> {
    pub(in crate::message) fn to_decimal(&self) -> Cow<'_, Decimal> {
        match self {
            Self::Integer(number) => Cow::Owned(Decimal::from(*number)),
            Self::Borrowed(number) => Cow::Borrowed(number),
            Self::Owned(number) => Cow::Borrowed(number),
        }
    }

    /// The nearest integer. A minus before zero stays.
    pub(super) fn into_integer(self, rounding: RoundingMode) -> Self {
        let mut number = match self {
            Self::Integer(number) => return Self::Integer(number),
            Self::Borrowed(number) => number.clone(),
            Self::Owned(number) => *number,
        };
        number.round_fraction(0, rounding);
        match number.to_i64() {
            Some(integer) if integer != 0 || !number.is_negative() => Self::Integer(integer),
            _ => Self::Owned(Box::new(number)),
        }
    }

    pub(in crate::message) fn parse(text: &str) -> Option<Self> {
        let plain = text.strip_prefix('-').unwrap_or(text);
        // Seventeen digits fit; a zero before others, and a minus before zero, are left to the general parser.
        if (1..=17).contains(&plain.len())
            && plain.bytes().all(|byte| byte.is_ascii_digit())
            && !plain.starts_with('0')
        {
            return text.parse().ok().map(Self::Integer);
        }
        Decimal::read(text).map(|number| Self::Owned(Box::new(number)))
    }

    /// Writes the number as its options show it.
    #[inline]
    pub(in crate::message) fn write(
        &self,
        options: &NumberOptions,
        context: &FunctionContext,
        to: &mut impl Write,
    ) -> fmt::Result {
        match self {
            Self::Integer(number) if options.shows_integer() => {
                options.integer_format().write_integer(*number, &context.numbers, to)
            }
            number => number.write_shown(options, context, to),
        }
    }

    fn write_shown(
        &self,
        options: &NumberOptions,
        context: &FunctionContext,
        to: &mut dyn Write,
    ) -> fmt::Result {
        let (style, format) = (options.style(context), options.format());
        context.number_patterns.write(style, format, &self.to_decimal(), &context.numbers, to)
    }
}
