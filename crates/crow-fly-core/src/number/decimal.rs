//! An exact decimal number, with the zeros that are shown.

use core::cmp::Ordering;
use core::fmt::{self, Write as _};

use smallvec::SmallVec;

use crate::parse_error::ParseValueError;

/// A decimal number of exact digits. Visible zeros count: 1 and 1.0 are written, and counted, differently.
///
/// ```
/// use crow_fly_core::number::Decimal;
///
/// let price = Decimal::parse("12.50")?;
/// assert_eq!(price.to_string(), "12.50");
/// assert_eq!(Decimal::from(0.1).to_string(), "0.1");
/// # Ok::<(), crow_fly_core::ParseValueError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Decimal {
    negative: bool,
    /// Values 0 to 9, highest first; the integer part has no leading zero, and is empty for zero.
    digits: SmallVec<[u8; 24]>,
    /// How many of the digits stand behind the decimal sign.
    fraction: usize,
}

/// Which way a number is rounded: the modes of ECMA-402.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum RoundingMode {
    /// Up.
    Ceil,
    /// Down.
    Floor,
    /// Away from zero.
    Expand,
    /// Toward zero.
    Trunc,
    /// To the nearest, a half up.
    HalfCeil,
    /// To the nearest, a half down.
    HalfFloor,
    /// To the nearest, a half away from zero.
    #[default]
    HalfExpand,
    /// To the nearest, a half toward zero.
    HalfTrunc,
    /// To the nearest, a half to the even digit.
    HalfEven,
}

/// Why a text is not read as a decimal number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Fault {
    /// It is not written as JSON writes numbers (RFC 8259 §6).
    Form,
    /// It has more than [`Decimal::MAX_DIGITS`] digits.
    Size,
}

impl core::str::FromStr for Decimal {
    type Err = ParseValueError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        Self::parse(text)
    }
}

impl Decimal {
    /// The most digits on one side of the decimal sign: every `f64` fits, and a hostile exponent does not.
    pub const MAX_DIGITS: usize = 400;

    /// Parses the number grammar of JSON, which is that of MessageFormat: `-12.50`, `1e3`; not `+1`, `.5`, `007`.
    ///
    /// # Errors
    /// Where the text has another form, or more than [`Decimal::MAX_DIGITS`] digits.
    pub fn parse(text: &str) -> Result<Self, ParseValueError> {
        Self::read_or_fault(text).map_err(|fault| match fault {
            Fault::Form => ParseValueError::new(
                "a number",
                text,
                "write digits, with an optional `-`, fraction and exponent: `-12.50`",
            ),
            Fault::Size => ParseValueError::new(
                "a number of a size that is read",
                text,
                "write at most 400 digits on each side of the full stop",
            ),
        })
    }

    /// The number that a text is; `None` where it is not one. [`parse`](Self::parse) tells why.
    pub(crate) fn read(text: &str) -> Option<Self> {
        Self::read_or_fault(text).ok()
    }

    fn read_or_fault(text: &str) -> Result<Self, Fault> {
        let (negative, unsigned) = text.strip_prefix('-').map_or((false, text), |rest| (true, rest));
        let (mantissa, exponent) = match unsigned.find(['e', 'E']) {
            Some(at) => (unsigned.get(..at).unwrap_or_default(), unsigned.get(at + 1..).unwrap_or_default()),
            None => (unsigned, "0"),
        };
        let (integer, fraction) = mantissa
            .split_once('.')
            .map_or((mantissa, None), |(integer, fraction)| (integer, Some(fraction)));
        let all_digits = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
        let exponent_digits = exponent.strip_prefix(['+', '-']).unwrap_or(exponent);
        if !all_digits(integer)
            || (integer.len() > 1 && integer.starts_with('0'))
            || !fraction.is_none_or(all_digits)
            || !all_digits(exponent_digits)
        {
            return Err(Fault::Form);
        }
        let fraction = fraction.unwrap_or_default();
        let exponent: isize = exponent.parse().map_err(|_| Fault::Size)?;
        // Bounded before any arithmetic: the smallest exponent has no negative, and shifting by a large one makes digits.
        if [integer.len(), fraction.len(), exponent.unsigned_abs()]
            .iter()
            .any(|size| *size > Self::MAX_DIGITS)
        {
            return Err(Fault::Size);
        }
        let digits = integer.bytes().chain(fraction.bytes()).map(|byte| byte - b'0').collect();
        let mut number = Self { negative, digits, fraction: fraction.len() };
        number.shift(exponent);
        if number.fraction > Self::MAX_DIGITS || number.integer_len() > Self::MAX_DIGITS {
            return Err(Fault::Size);
        }
        number.trim_leading();
        Ok(number)
    }

    /// Multiplies by a power of ten.
    pub(crate) fn shift(&mut self, exponent: isize) {
        let by = exponent.unsigned_abs();
        if exponent < 0 {
            self.fraction += by;
            let missing = self.fraction.saturating_sub(self.digits.len());
            self.digits.insert_many(0, core::iter::repeat_n(0, missing));
        } else {
            let moved = by.min(self.fraction);
            self.fraction -= moved;
            self.digits.extend(core::iter::repeat_n(0, by - moved));
            self.trim_leading();
        }
    }

    fn trim_leading(&mut self) {
        let zeros = self.digits.iter().take(self.integer_len()).take_while(|digit| **digit == 0).count();
        self.digits.drain(..zeros);
    }

    fn leading_zeros(&self) -> usize {
        self.digits.iter().take_while(|digit| **digit == 0).count()
    }

    fn integer_len(&self) -> usize {
        self.digits.len().saturating_sub(self.fraction)
    }

    /// The digits before the decimal sign, highest first; none for a number below one.
    pub fn integer_digits(&self) -> &[u8] {
        self.digits.get(..self.integer_len()).unwrap_or_default()
    }

    /// The digits behind the decimal sign, visible zeros included.
    pub fn fraction_digits(&self) -> &[u8] {
        self.digits.get(self.integer_len()..).unwrap_or_default()
    }

    /// Whether the number is below zero, or a zero with a minus.
    pub const fn is_negative(&self) -> bool {
        self.negative
    }

    /// The power of ten of the first digit that is not zero: 3 for 1234, -2 for 0.05; 0 for zero.
    pub fn magnitude(&self) -> i32 {
        let leading = self.leading_zeros();
        if leading == self.digits.len() {
            return 0;
        }
        // Bounded by `MAX_DIGITS` on both sides.
        let count = |count: usize| i32::try_from(count).unwrap_or(i32::MAX);
        count(self.digits.len() - leading) - count(self.fraction) - 1
    }

    /// The number without its sign.
    #[must_use]
    pub fn unsigned(mut self) -> Self {
        self.negative = false;
        self
    }

    /// The number with the other sign.
    #[must_use]
    pub(crate) fn negated(self) -> Self {
        Self { negative: !self.negative, ..self }
    }

    /// The sum of two numbers.
    #[must_use]
    pub fn plus(&self, other: &Self) -> Self {
        let fraction = self.fraction.max(other.fraction);
        let widened = |number: &Self| {
            let mut digits = number.digits.clone();
            digits.extend(core::iter::repeat_n(0, fraction - number.fraction));
            digits
        };
        let (mut one, mut two) = (widened(self), widened(other));
        let length = one.len().max(two.len()) + 1;
        for digits in [&mut one, &mut two] {
            digits.insert_many(0, core::iter::repeat_n(0, length - digits.len()));
        }
        let subtract = self.negative != other.negative;
        let (larger, smaller, negative) =
            if subtract && two > one { (two, one, other.negative) } else { (one, two, self.negative) };
        let mut digits = larger;
        let mut carry = 0_i8;
        for (digit, other) in digits.iter_mut().zip(&smaller).rev() {
            // Digits lie between 0 and 9, so that sums and differences fit.
            let (digit_value, other) = (digit.cast_signed(), other.cast_signed());
            let sum = digit_value + carry + if subtract { -other } else { other };
            carry = sum.div_euclid(10);
            *digit = sum.rem_euclid(10).cast_unsigned();
        }
        let mut sum = Self { negative, digits, fraction };
        sum.trim_leading();
        sum.negative &= !sum.is_zero();
        sum
    }

    /// Whether every digit is zero.
    pub fn is_zero(&self) -> bool {
        self.digits.iter().all(|digit| *digit == 0)
    }

    /// Whether there is nothing but zeros behind the decimal sign.
    pub fn is_integer(&self) -> bool {
        self.fraction_digits().iter().all(|digit| *digit == 0)
    }

    /// The value, where it is whole and fits.
    pub fn to_i64(&self) -> Option<i64> {
        if !self.is_integer() {
            return None;
        }
        // Below zero, where the range of the type goes one further.
        let below = self
            .integer_digits()
            .iter()
            .try_fold(0_i64, |value, digit| value.checked_mul(10)?.checked_sub(i64::from(*digit)))?;
        if self.negative { Some(below) } else { below.checked_neg() }
    }

    /// Whether two numbers have the same value, visible zeros aside.
    pub fn same_value(&self, other: &Self) -> bool {
        let trimmed = |number: &Self| {
            let mut number = number.clone();
            number.trim_zeros(0);
            number.negative &= !number.is_zero();
            number
        };
        trimmed(self) == trimmed(other)
    }

    /// Leaves at most `digits` behind the decimal sign.
    pub fn round_fraction(&mut self, digits: usize, mode: RoundingMode) {
        if self.fraction > digits {
            // A number such as 0.001 has no digit at the place that is kept.
            let missing = (self.fraction - digits).saturating_sub(self.digits.len());
            self.digits.insert_many(0, core::iter::repeat_n(0, missing));
            let keep = self.digits.len() - (self.fraction - digits);
            self.cut(keep, mode);
            self.fraction = digits;
            self.trim_leading();
        }
    }

    /// Leaves at most `digits` significant ones; whole places become zeros.
    pub fn round_significant(&mut self, digits: usize, mode: RoundingMode) {
        let keep = self.leading_zeros() + digits;
        let Some(surplus) = self.digits.len().checked_sub(keep).filter(|surplus| *surplus > 0) else {
            return;
        };
        self.cut(keep, mode);
        // A carry into a new first digit (9.99 → 10.0, 0.099 → 0.10) leaves one significant digit more than asked for.
        let carried = self.digits.len() - self.leading_zeros() > digits;
        if self.fraction >= surplus {
            self.fraction -= surplus;
        } else {
            self.digits.extend(core::iter::repeat_n(0, surplus - self.fraction));
            self.fraction = 0;
        }
        if carried && self.fraction > 0 {
            self.digits.pop();
            self.fraction -= 1;
        }
        self.trim_leading();
    }

    /// Cuts the digits after the first `keep`, and rounds what is kept.
    fn cut(&mut self, keep: usize, mode: RoundingMode) {
        let (kept, rest) = self.digits.split_at_checked(keep).unwrap_or((&self.digits, &[]));
        let half = rest.first().map_or(Ordering::Less, |first| {
            first.cmp(&5).then_with(|| {
                if rest.iter().skip(1).any(|digit| *digit > 0) { Ordering::Greater } else { Ordering::Equal }
            })
        });
        let odd = kept.last().is_some_and(|digit| digit % 2 == 1);
        let any = rest.iter().any(|digit| *digit > 0);
        let up = match mode {
            RoundingMode::Expand => any,
            RoundingMode::Trunc => false,
            RoundingMode::Ceil => any && !self.negative,
            RoundingMode::Floor => any && self.negative,
            RoundingMode::HalfExpand => half != Ordering::Less,
            RoundingMode::HalfTrunc => half == Ordering::Greater,
            RoundingMode::HalfEven => half == Ordering::Greater || half == Ordering::Equal && odd,
            RoundingMode::HalfCeil => half == Ordering::Greater || half == Ordering::Equal && !self.negative,
            RoundingMode::HalfFloor => half == Ordering::Greater || half == Ordering::Equal && self.negative,
        };
        self.digits.truncate(keep);
        if !up {
            return;
        }
        for digit in self.digits.iter_mut().rev() {
            if *digit < 9 {
                *digit += 1;
                return;
            }
            *digit = 0;
        }
        self.digits.insert(0, 1);
    }

    /// Shows at least `digits` behind the decimal sign.
    pub fn pad_fraction(&mut self, digits: usize) {
        let missing = digits.min(Self::MAX_DIGITS).saturating_sub(self.fraction);
        self.digits.extend(core::iter::repeat_n(0, missing));
        self.fraction += missing;
    }

    /// Shows at least `digits` significant ones, with zeros behind the decimal sign.
    pub fn pad_significant(&mut self, digits: usize) {
        // Zero has one significant digit, the one before the decimal sign.
        let shown = if self.is_zero() { 1 + self.fraction } else { self.digits.len() - self.leading_zeros() };
        self.pad_fraction(self.fraction + digits.min(Self::MAX_DIGITS).saturating_sub(shown));
    }

    /// Drops zeros at the end, down to `least` digits behind the decimal sign.
    pub fn trim_zeros(&mut self, least: usize) {
        while self.fraction > least && self.digits.last() == Some(&0) {
            self.digits.pop();
            self.fraction -= 1;
        }
    }

    /// Drops what stands behind the decimal sign.
    pub fn truncate_fraction(&mut self) {
        self.digits.truncate(self.integer_len());
        self.fraction = 0;
    }
}

impl fmt::Display for Decimal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.negative {
            f.write_char('-')?;
        }
        if self.integer_len() == 0 {
            f.write_char('0')?;
        }
        for (at, digit) in self.digits.iter().enumerate() {
            if at == self.integer_len() {
                f.write_char('.')?;
            }
            f.write_char(char::from(b'0' + digit))?;
        }
        Ok(())
    }
}

impl From<u128> for Decimal {
    fn from(mut number: u128) -> Self {
        let mut digits = SmallVec::new();
        while number > 0 {
            // Below ten, so the cast is exact.
            digits.push((number % 10) as u8);
            number /= 10;
        }
        digits.reverse();
        Self { negative: false, digits, fraction: 0 }
    }
}

impl From<u64> for Decimal {
    fn from(mut number: u64) -> Self {
        let mut buffer = [0; 20];
        let mut start = buffer.len();
        for slot in buffer.iter_mut().rev() {
            if number == 0 {
                break;
            }
            *slot = (number % 10) as u8;
            number /= 10;
            start -= 1;
        }
        Self {
            negative: false,
            digits: SmallVec::from_slice(buffer.get(start..).unwrap_or_default()),
            fraction: 0,
        }
    }
}

impl From<i64> for Decimal {
    fn from(number: i64) -> Self {
        Self { negative: number < 0, ..Self::from(number.unsigned_abs()) }
    }
}

impl From<i128> for Decimal {
    fn from(number: i128) -> Self {
        Self { negative: number < 0, ..Self::from(number.unsigned_abs()) }
    }
}

impl From<f64> for Decimal {
    /// The shortest digits that read back as the same number. Infinities and NaN, which have none, become zero;
    /// callers who may have them ask [`f64::is_finite`] first.
    fn from(number: f64) -> Self {
        let text = alloc::format!("{number}");
        Self::parse(&text).unwrap_or_else(|_| Self::from(0u64))
    }
}
