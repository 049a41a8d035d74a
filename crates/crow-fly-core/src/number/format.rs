//! How a locale writes a number: digits, signs, groups (UTS #35 part 3, "Number Formatting").

use core::fmt;

use crow_fly_cldr::numbers::{self, Shape};

use super::{Decimal, RoundingMode};
use crate::tag::{LanguageTag, maximize};

/// The digits, signs and groups of a locale; `-u-nu-` chooses digits, `-u-cf-account` shows money as in accounts.
///
/// ```
/// use crow_fly_core::{number::{Decimal, NumberFormat, NumberLocale}, tag::LanguageTag};
///
/// let written = |tag, number: u64| {
///     let locale = NumberLocale::of(&LanguageTag::parse(tag).unwrap());
///     let mut text = String::new();
///     NumberFormat::default().write(&Decimal::from(number), &locale, &mut text).unwrap();
///     text
/// };
/// assert_eq!(written("en", 12_345), "12,345");
/// assert_eq!(written("pl", 1_234), "1234");
/// assert_eq!(written("hi-u-nu-deva", 1_234_567), "१२,३४,५६७");
/// ```
#[derive(Clone, Copy, Debug)]
pub struct NumberLocale {
    shape: &'static Shape,
    decimal: &'static str,
    group: &'static str,
    groups: GroupSizes,
    /// How many digits stand before the first group sign at least.
    minimum: u8,
    /// Whether money is shown as in accounts where nothing else is asked for: `-u-cf-account`.
    accounting: bool,
    digits: &'static [char; 10],
}

impl NumberLocale {
    /// The number shape of a tag, or of the nearest shorter one; `-u-nu` chooses the digits.
    pub fn of(tag: &LanguageTag) -> Self {
        let tag = tag.as_canonical();
        let (language, script, region) = tag.codes();
        let likely = maximize((language, script, region)).1;
        let language = tag.language_code().unwrap_or(0);
        let keys = [
            (language, script, region),
            (language, likely, region),
            (language, likely, 0),
            (language, 0, region),
            (language, 0, 0),
            (0, 0, 0),
        ];
        let find =
            |(language, script, region): &(u32, u32, u32)| numbers::shapes(*language, *script, *region);
        let root = numbers::root();
        let shapes = keys.iter().find_map(find).unwrap_or(root);
        let wanted = tag.keyword("nu").unwrap_or_default();
        let of = |shapes: &'static [Shape], system| shapes.iter().find(|shape| shape.system() == system);
        let own = of(shapes, wanted);
        // Digits that neither the locale nor the root has signs for are written as Latin ones are (UTS #35 part 3, §2.3).
        let usual = || if numbers::digits(wanted).is_some() { of(shapes, LATIN) } else { None };
        let shape = own.or_else(|| of(root, wanted).filter(|_| wanted != LATIN)).or_else(usual);
        let shape = shape.or(shapes.first()).unwrap_or(&root[0]);
        // The root has signs, and leaves groups to the locale.
        let grouping = own.or_else(|| of(shapes, LATIN)).or(shapes.first()).unwrap_or(shape).grouping;
        let digits = numbers::digits(wanted).unwrap_or_else(|| shape.digits());
        let symbols = shape.symbols();
        let groups = GroupSizes { primary: grouping.primary, secondary: grouping.secondary };
        let minimum = grouping.minimum;
        let accounting = tag.keyword("cf") == Some("account");
        Self { shape, decimal: symbols.decimal, group: symbols.group, groups, minimum, accounting, digits }
    }

    /// The same with the signs that amounts of money have, where those differ.
    #[must_use]
    pub(super) fn with_signs(self, decimal: Option<&'static str>, group: Option<&'static str>) -> Self {
        Self { decimal: decimal.unwrap_or(self.decimal), group: group.unwrap_or(self.group), ..self }
    }

    /// The same with the groups of another pattern; its numbers begin to be grouped where the locale's do.
    #[must_use]
    pub(super) const fn with_groups(self, groups: GroupSizes) -> Self {
        Self { groups, ..self }
    }

    /// Whether money is shown as in accounts where nothing else is asked for.
    pub(crate) const fn uses_accounting(&self) -> bool {
        self.accounting
    }

    /// The name of the numbering system.
    pub fn numbering_system(&self) -> &'static str {
        numbers::system_of(self.digits)
    }
}

/// The numbering system of the digits 0 to 9.
const LATIN: &str = crow_fly_cldr::keys::numbers::LATIN;

/// How many digits groups have: the first one from the right, and further ones; zeros for none.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct GroupSizes {
    pub(super) primary: u8,
    pub(super) secondary: u8,
}

impl GroupSizes {
    pub(super) const NONE: Self = Self { primary: 0, secondary: 0 };
}

/// When digits are put in groups.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Grouping {
    /// As the locale does.
    #[default]
    Auto,
    /// Even where the locale leaves four digits together.
    Always,
    /// Not at all.
    Never,
    /// Only where at least two digits stand before the first group sign.
    Min2,
}

/// When a sign is shown.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Sign {
    /// Before negative numbers, negative zero too.
    #[default]
    Auto,
    /// Before every number.
    Always,
    /// Before every number but zero.
    ExceptZero,
    /// Before negative numbers, but not before zero.
    Negative,
    /// Never.
    Never,
}

/// How many digits are shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Digits {
    /// At least and at most so many behind the decimal sign.
    Fraction(u8, u8),
    /// At least and at most so many significant ones.
    Significant(u8, u8),
}

/// How a number is written, apart from the locale.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct NumberFormat {
    /// How many digits: none to three behind the decimal sign by default.
    pub digits: Digits,
    /// At least so many before the decimal sign, from 1.
    pub integer_digits: u8,
    /// Groups.
    pub grouping: Grouping,
    /// The sign.
    pub sign: Sign,
    /// Whether zeros behind the decimal sign are dropped where there is nothing else.
    pub strip_if_integer: bool,
    /// Which way it is rounded.
    pub rounding: RoundingMode,
}

impl Default for NumberFormat {
    fn default() -> Self {
        Self::PLAIN
    }
}

impl NumberFormat {
    /// Up to three digits behind the decimal sign, and all else as the locale has it.
    pub const PLAIN: Self = Self {
        digits: Digits::Fraction(0, 3),
        integer_digits: 1,
        grouping: Grouping::Auto,
        sign: Sign::Auto,
        strip_if_integer: false,
        rounding: RoundingMode::HalfExpand,
    };

    /// The number with the digits that are shown: what the plural category goes by.
    #[must_use]
    pub fn rounded(&self, number: &Decimal) -> Decimal {
        let mut number = number.clone();
        match self.digits {
            Digits::Fraction(least, most) => {
                number.round_fraction(usize::from(most), self.rounding);
                number.trim_zeros(usize::from(least));
                number.pad_fraction(usize::from(least));
            }
            Digits::Significant(least, most) => {
                number.round_significant(usize::from(most), self.rounding);
                number.trim_zeros(0);
                number.pad_significant(usize::from(least));
            }
        }
        if self.strip_if_integer && number.is_integer() {
            number.truncate_fraction();
        }
        number
    }

    /// Rounds and writes a number.
    ///
    /// # Errors
    /// Those of the output.
    pub fn write(&self, number: &Decimal, locale: &NumberLocale, output: &mut dyn fmt::Write) -> fmt::Result {
        self.write_rounded(&self.rounded(number), locale, output)
    }

    /// Writes a number whose digits are already those to be shown.
    ///
    /// # Errors
    /// Those of the output.
    pub fn write_rounded(
        &self,
        number: &Decimal,
        locale: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        output.write_str(locale.sign(self.shown_sign(number)))?;
        self.write_digits(number, locale, output)
    }

    /// Writes an integer as its own digits, whatever digits behind the decimal sign the format has.
    ///
    /// # Errors
    /// Those of the output.
    #[inline]
    pub fn write_integer(
        self,
        number: i64,
        locale: &NumberLocale,
        output: &mut (impl fmt::Write + ?Sized),
    ) -> fmt::Result {
        let sign = match (self.sign, number) {
            (Sign::Never, _) => "",
            (_, ..=-1) => locale.shape.symbols().minus,
            (Sign::Always, _) | (Sign::ExceptZero, 1..) => locale.shape.symbols().plus,
            _ => "",
        };
        if !sign.is_empty() {
            output.write_str(sign)?;
        }
        let rest = number.unsigned_abs();
        if self.integer_digits <= 1 && locale.writes_threes() {
            return self.write_threes(rest, locale, output);
        }
        let length = rest.checked_ilog10().map_or(1, |last| last as usize + 1);
        let length = length.max(usize::from(self.integer_digits)).min(MOST_DIGITS);
        // The digits, lowest last; what is not a digit of the number is a zero before it.
        let mut digits = [0_u8; MOST_DIGITS];
        let mut left = rest;
        for slot in digits.iter_mut().rev() {
            if left == 0 {
                break;
            }
            // Below ten, so the cast is exact.
            *slot = (left % 10) as u8;
            left /= 10;
        }
        let digits = digits.get(MOST_DIGITS - length..).unwrap_or_default();
        self.write_grouped(digits, length, locale, output)
    }

    /// Writes digits before the decimal sign one by one, in groups, with zeros before them up to a length.
    fn write_grouped(
        self,
        digits: &[u8],
        length: usize,
        locale: &NumberLocale,
        output: &mut (impl fmt::Write + ?Sized),
    ) -> fmt::Result {
        let GroupSizes { primary, secondary } = self.groups(locale, length);
        let (primary, secondary) = (usize::from(primary), usize::from(secondary));
        // How many digits stand before the next group sign; without groups there is no remainder.
        let before = length.checked_sub(primary).and_then(|before| before.checked_rem(secondary));
        let mut until_group = before.unwrap_or(usize::MAX);
        let zeros = core::iter::repeat_n(&0, length.saturating_sub(digits.len()));
        for (at, digit) in zeros.chain(digits).enumerate() {
            if until_group == 0 {
                if at > 0 {
                    output.write_str(locale.group)?;
                }
                until_group = if length - at > primary { secondary } else { usize::MAX };
            }
            until_group -= 1;
            output.write_char(locale.digit(*digit))?;
        }
        Ok(())
    }

    /// Writes a number as nearly every locale does: in ASCII digits, three and three.
    #[inline]
    fn write_threes(
        self,
        number: u64,
        locale: &NumberLocale,
        output: &mut (impl fmt::Write + ?Sized),
    ) -> fmt::Result {
        // The lowest first; there are seven at most.
        let mut threes = [0_u16; 7];
        let mut rest = number;
        let mut last = 0;
        for (at, three) in threes.iter_mut().enumerate() {
            // Below a thousand, so the cast is exact.
            *three = (rest % 1000) as u16;
            rest /= 1000;
            last = at;
            if rest == 0 {
                break;
            }
        }
        let (low, high) = threes.split_at_checked(last).unwrap_or_default();
        let first = high.first().map_or(0, |three| usize::from(*three));
        let zeros = if first < 10 { 2 } else { usize::from(first < 100) };
        output.write_str(THREES.get(first * 3 + zeros..first * 3 + 3).unwrap_or_default())?;
        if low.is_empty() {
            return Ok(());
        }
        let group = if self.groups(locale, last * 3 + 3 - zeros).primary == 0 { "" } else { locale.group };
        for three in low.iter().rev().map(|three| usize::from(*three)) {
            output.write_str(group)?;
            output.write_str(THREES.get(three * 3..three * 3 + 3).unwrap_or_default())?;
        }
        Ok(())
    }

    /// The sign that is shown for a number whose digits are already those to be shown.
    pub(super) fn shown_sign(self, number: &Decimal) -> ShownSign {
        match (self.sign, number.is_negative()) {
            (Sign::Auto | Sign::Always, true) => ShownSign::Minus,
            (Sign::Always, false) => ShownSign::Plus,
            (Sign::ExceptZero | Sign::Negative, true) if !number.is_zero() => ShownSign::Minus,
            (Sign::ExceptZero, false) if !number.is_zero() => ShownSign::Plus,
            _ => ShownSign::None,
        }
    }

    /// Writes the digits, without a sign.
    pub(super) fn write_digits(
        self,
        number: &Decimal,
        locale: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        let (integer, fraction) = (number.integer_digits(), number.fraction_digits());
        // Eighteen digits fit an integer.
        if self.integer_digits <= 1 && integer.len() <= 18 && locale.writes_threes() {
            let value = integer.iter().fold(0, |value, digit| value * 10 + u64::from(*digit));
            self.write_threes(value, locale, output)?;
        } else {
            let length = integer.len().max(usize::from(self.integer_digits));
            self.write_grouped(integer, length, locale, output)?;
        }
        if fraction.is_empty() {
            return Ok(());
        }
        output.write_str(locale.decimal)?;
        fraction.iter().try_for_each(|digit| output.write_char(locale.digit(*digit)))
    }

    /// The groups that a number of so many digits has.
    fn groups(self, locale: &NumberLocale, length: usize) -> GroupSizes {
        let usual = locale.minimum;
        let minimum = match self.grouping {
            Grouping::Never => return GroupSizes::NONE,
            Grouping::Always => 1,
            Grouping::Auto => usual,
            Grouping::Min2 => usual.max(2),
        };
        let primary = locale.groups.primary;
        if primary == 0 || length < usize::from(primary) + usize::from(minimum) {
            GroupSizes::NONE
        } else {
            locale.groups
        }
    }
}

/// More than any integer has, and any format asks for.
const MOST_DIGITS: usize = 24;

/// `000` to `999`, one behind the other.
const THREES: &str = {
    #[allow(clippy::cast_possible_truncation, reason = "each is below ten")]
    const DIGITS: [u8; 3000] = {
        let mut digits = [b'0'; 3000];
        let mut at = 0;
        while at < 1000 {
            digits[at * 3] += (at / 100) as u8;
            digits[at * 3 + 1] += (at / 10 % 10) as u8;
            digits[at * 3 + 2] += (at % 10) as u8;
            at += 1;
        }
        digits
    };
    match core::str::from_utf8(&DIGITS) {
        Ok(digits) => digits,
        Err(_) => "",
    }
};

/// The sign before a number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum ShownSign {
    None,
    Minus,
    Plus,
}

impl NumberLocale {
    pub(super) fn sign(self, sign: ShownSign) -> &'static str {
        match sign {
            ShownSign::None => "",
            ShownSign::Minus => self.shape.symbols().minus,
            ShownSign::Plus => self.shape.symbols().plus,
        }
    }

    /// The name of the numbering system whose patterns the locale uses.
    pub(super) fn pattern_system(self) -> &'static str {
        self.shape.system()
    }

    /// A number of at most two digits, with at least one or two, where the digits are ASCII.
    pub(crate) fn two_digits(&self, value: u32, least: usize) -> Option<&'static str> {
        let value = usize::try_from(value).ok().filter(|value| *value < 100 && self.digits[0] == '0')?;
        let from = match least {
            0 | 1 if value < 10 => 2,
            ..=2 => 1,
            _ => return None,
        };
        THREES.get(value * 3 + from..value * 3 + 3)
    }

    /// Whether numbers are written in ASCII digits, three and three.
    const fn writes_threes(&self) -> bool {
        self.digits[0] == '0'
            && matches!(self.groups, GroupSizes { primary: 0, .. } | GroupSizes { primary: 3, secondary: 3 })
    }

    fn digit(self, value: u8) -> char {
        self.digits.get(usize::from(value)).copied().unwrap_or('0')
    }
}
