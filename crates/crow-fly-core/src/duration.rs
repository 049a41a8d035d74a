//! Durations: in which units they are shown, and how (ECMA-402, "DurationFormat").

use alloc::string::String;
use alloc::vec::Vec;

use jiff::Span;

use crate::function_context::FunctionContext;
use crate::list::ListKind;
use crate::number::{Category, Decimal, Digits, Grouping, NumberFormat, Style, Unit, Width};

/// The units of durations, from the largest one down.
pub(crate) const UNITS: [&str; 10] =
    ["year", "month", "week", "day", "hour", "minute", "second", "millisecond", "microsecond", "nanosecond"];

const YEAR: usize = 0;
const MONTH: usize = 1;
const WEEK: usize = 2;
const DAY: usize = 3;
const HOUR: usize = 4;
const MINUTE: usize = 5;
const SECOND: usize = 6;
const NANOSECOND: usize = 9;

/// How many nanoseconds a unit has; zero where that depends on the date.
const NANOSECONDS: [i128; 10] = [
    0,
    0,
    7 * 86_400_000_000_000,
    86_400_000_000_000,
    3_600_000_000_000,
    60_000_000_000,
    1_000_000_000,
    1_000_000,
    1000,
    1,
];

/// A duration: an amount of each of the [units](UNITS).
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Duration {
    is_negative: bool,
    amounts: [i128; 10],
}

/// How a duration is shown. Units are places in [`UNITS`].
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct DurationFormat {
    pub(crate) style: DurationStyle,
    /// The largest unit: smaller ones are put together to it. By default the amounts stay as they are, or as the smallest
    /// unit needs it.
    pub(crate) largest: Option<u8>,
    /// The smallest unit: what is less is left out.
    pub(crate) smallest: Option<u8>,
}

/// What a duration looks like.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum DurationStyle {
    /// `1 hour, 30 minutes`
    Units(Width),
    /// `1:30:00`
    Digital,
}

impl Default for DurationStyle {
    fn default() -> Self {
        Self::Units(Width::Long)
    }
}

/// A duration as it is shown.
pub(crate) struct ShownDuration {
    pub(crate) text: String,
    /// The number and its category, where only one unit is shown.
    pub(crate) number: Option<(Decimal, Category)>,
}

/// Why a duration cannot be shown in the units that are asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct DependsOnDate;

impl From<&Span> for Duration {
    fn from(span: &Span) -> Self {
        let is_negative = span.is_negative();
        let span = span.abs();
        let amounts = [
            span.get_years().into(),
            span.get_months().into(),
            span.get_weeks().into(),
            span.get_days().into(),
            span.get_hours().into(),
            span.get_minutes().into(),
            span.get_seconds().into(),
            span.get_milliseconds().into(),
            span.get_microseconds().into(),
            span.get_nanoseconds().into(),
        ];
        Self { is_negative, amounts }
    }
}

impl Duration {
    /// A number of seconds, in hours and smaller units; less than a nanosecond is left out. None where it has more digits than
    /// are counted with.
    pub(crate) fn from_seconds(seconds: &Decimal) -> Option<Self> {
        let mut whole = seconds.clone().unsigned();
        whole.truncate_fraction();
        let fraction = seconds.fraction_digits().iter().chain([0; 9].iter()).take(9);
        let fraction = fraction.fold(0, |number, digit| number * 10 + i128::from(*digit));
        let nanoseconds = i128::from(whole.to_i64()?) * NANOSECONDS[SECOND] + fraction;
        let mut of_nanoseconds = Self { is_negative: seconds.is_negative(), ..Self::default() };
        of_nanoseconds.amounts[NANOSECOND] = nanoseconds;
        of_nanoseconds.balanced(HOUR).ok()
    }

    /// The largest unit that it has.
    fn largest(&self) -> Option<usize> {
        self.amounts.iter().position(|amount| *amount != 0)
    }

    /// The nanoseconds of what is smaller than a second.
    fn below_seconds(&self) -> i128 {
        self.amounts.iter().zip(NANOSECONDS).skip(SECOND + 1).map(|(amount, size)| amount * size).sum()
    }

    /// The same with smaller units put together, up to a largest one. A day has 24 hours here.
    fn balanced(mut self, largest: usize) -> Result<Self, DependsOnDate> {
        let [years, months, weeks, days, ..] = &mut self.amounts;
        if largest == YEAR {
            *years += *months / 12;
            *months %= 12;
        } else {
            *months += core::mem::take(years) * 12;
        }
        if largest > MONTH && *months > 0 {
            return Err(DependsOnDate);
        }
        if largest >= DAY {
            *days += core::mem::take(weeks) * 7;
        }
        // Days have hours, but hours only become days where a unit is that large.
        let fixed = || self.amounts.iter().zip(NANOSECONDS).skip(DAY);
        let mut rest: i128 = fixed().map(|(amount, size)| amount * size).sum();
        for (unit, (amount, size)) in self.amounts.iter_mut().zip(NANOSECONDS).enumerate().skip(DAY) {
            let is_counted = unit >= largest;
            *amount = if is_counted { rest / size } else { 0 };
            rest -= *amount * size;
        }
        if largest == WEEK {
            let [_, _, weeks, days, ..] = &mut self.amounts;
            *weeks += *days / 7;
            *days %= 7;
        }
        Ok(self)
    }
}

impl DurationFormat {
    /// The amounts in the units of the format, and the last one that may be shown.
    fn in_units(self, duration: &Duration) -> Result<Duration, DependsOnDate> {
        let own = duration.largest();
        let smallest = self.smallest.map_or(NANOSECOND, usize::from);
        if smallest <= MONTH && own.is_some_and(|own| own > MONTH) {
            return Err(DependsOnDate);
        }
        let largest = match (self.largest, self.style) {
            (Some(largest), _) => Some(usize::from(largest)),
            (None, DurationStyle::Digital) => Some(own.map_or(HOUR, |own| own.min(HOUR))),
            (None, DurationStyle::Units(_)) => {
                self.smallest.map(|_| own.map_or(smallest, |own| own.min(smallest)))
            }
        };
        let mut shown = match largest {
            Some(largest) => duration.balanced(largest)?,
            None => *duration,
        };
        shown.amounts.iter_mut().skip(smallest + 1).for_each(|amount| *amount = 0);
        Ok(shown)
    }

    /// The fields that a clock shows, where it shows more than one.
    fn clock(self) -> Option<core::ops::RangeInclusive<usize>> {
        let first = self.largest.map_or(HOUR, usize::from).max(HOUR);
        let last = self.smallest.map_or(SECOND, usize::from).min(SECOND);
        (self.style == DurationStyle::Digital && first < last).then_some(first..=last)
    }

    /// The duration as a text of a locale.
    pub(crate) fn show(
        self,
        duration: &Duration,
        context: &FunctionContext,
    ) -> Result<ShownDuration, DependsOnDate> {
        let shown = self.in_units(duration)?;
        let clock = self.clock();
        let width = match self.style {
            DurationStyle::Units(width) => width,
            DurationStyle::Digital => Width::Short,
        };
        let is_shown = |unit: usize| clock.is_none() || unit < HOUR;
        let amounts = (0..).zip(shown.amounts).filter(|(unit, amount)| *amount != 0 && is_shown(*unit));
        let mut amounts: Vec<(usize, i128)> = amounts.collect();
        if amounts.is_empty() && clock.is_none() {
            amounts.push((self.smallest.or(self.largest).map_or(SECOND, usize::from), 0));
        }
        // The sign stands once, before the first number.
        let mut is_negative = shown.is_negative && shown.largest().is_some();
        let mut texts = Vec::with_capacity(amounts.len() + 1);
        let mut only = None;
        for (unit, amount) in amounts {
            let number = signed(amount, core::mem::take(&mut is_negative));
            let mut text = String::new();
            if let Some(unit) = UNITS.get(unit).and_then(|unit| Unit::read(unit)) {
                let style = Style::Unit(unit, width);
                // Writing to a `String` does not fail.
                let _ = context.number_patterns.write(
                    style,
                    NumberFormat::PLAIN,
                    &number,
                    &context.numbers,
                    &mut text,
                );
            }
            texts.push(text);
            only = Some(number);
        }
        if let Some(fields) = clock {
            texts.push(clock_text(fields, &shown, is_negative, context));
            only = None;
        }
        let number = only.filter(|_| texts.len() == 1).map(|number| {
            let category = context.cardinal.category(&number);
            (number, category)
        });
        Ok(ShownDuration { text: context.lists.join(&texts, ListKind::Unit, width), number })
    }
}

/// A whole number, with a sign where it is the first one of a negative duration.
fn signed(amount: i128, is_negative: bool) -> Decimal {
    let number = Decimal::from(amount);
    if is_negative { number.negated() } else { number }
}

/// The fields of a clock: `1:30:05`.
fn clock_text(
    fields: core::ops::RangeInclusive<usize>,
    shown: &Duration,
    mut is_negative: bool,
    context: &FunctionContext,
) -> String {
    let letters = [(HOUR, 'h'), (MINUTE, 'm'), (SECOND, 's')].into_iter();
    let letters: String =
        letters.filter(|(unit, _)| fields.contains(unit)).map(|(_, letter)| letter).collect();
    let pattern = context.number_patterns.clock(&letters);
    let mut text = String::new();
    let mut rest = pattern.chars().peekable();
    while let Some(letter) = rest.next() {
        let unit = match letter {
            'h' => HOUR,
            'm' => MINUTE,
            's' => SECOND,
            mark => {
                text.push(mark);
                continue;
            }
        };
        let mut digits = 1;
        while rest.next_if_eq(&letter).is_some() {
            digits += 1;
        }
        let amount = shown.amounts.get(unit).copied().unwrap_or(0);
        let mut number = signed(amount, core::mem::take(&mut is_negative));
        if unit == SECOND {
            // What is less than a second is its fraction.
            let mut nanoseconds = Decimal::from(shown.below_seconds());
            nanoseconds.shift(-9);
            number = if number.is_negative() {
                nanoseconds.plus(&number.unsigned()).negated()
            } else {
                nanoseconds.plus(&number)
            };
        }
        let format = NumberFormat {
            digits: Digits::Fraction(0, 9),
            integer_digits: digits,
            grouping: Grouping::Never,
            ..NumberFormat::PLAIN
        };
        // Writing to a `String` does not fail.
        let _ = format.write(&number, &context.numbers, &mut text);
    }
    text
}
