//! Resolved values (UTS #35 part 9, "Resolved Values"): what a placeholder stands for once its function has been applied.

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::string::{String, ToString};
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::fmt::{self, Write};

use super::numeric::{NumberKind, NumberOptions, NumericValue};
use super::temporal::{self, DateKind, DateOptions};
use crate::datetime::{CalendarProblem, DateValue};
use crate::direction::Direction;
use crate::duration::{DependsOnDate, Duration, DurationFormat};
use crate::function_context::FunctionContext;
use crate::html::Html;
use crate::list::{ListKind, Run};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::{Category, Decimal, Width};
use crate::value::{CustomValue, FunctionValue, Money, Value};

/// A resolved value.
#[derive(Clone, Debug)]
pub(in crate::message) enum ResolvedValue<'a> {
    /// A text, of unknown direction.
    Text(Cow<'a, str>),
    /// A number, and the options it has come by.
    Number(NumericValue<'a>, MaybeOwned<'a, NumberOptions>),
    /// A date, the function that formats it, and the options it has come by.
    Date(MaybeOwned<'a, DateValue>, Option<DateKind>, MaybeOwned<'a, DateOptions>),
    /// A list that is not joined yet.
    List(&'a [Value<'a>]),
    /// A list with the words between its items.
    Joined(Box<Joined<'a>>),
    Html(MaybeOwned<'a, Html>),
    /// What is formatted already.
    Formatted(Box<Formatted>),
    /// Nothing: an error is reported, and the placeholder shows its fallback.
    Fallback,
}

/// A value that is formatted already.
#[derive(Clone, Debug)]
pub(in crate::message) struct Formatted {
    pub(in crate::message) value: FunctionValue,
    /// What it selects by, beside its own keys.
    pub(in crate::message) selection: Option<Selection>,
    /// The application's own value that it shows.
    custom: Option<Arc<dyn CustomValue>>,
    /// Why its dates are in another calendar than they should be in.
    pub(super) problem: Option<CalendarProblem>,
}

/// What keys are compared with.
#[derive(Clone, Debug)]
pub(in crate::message) enum Selection {
    /// A text.
    Text(String),
    /// A number, and its category where it selects by one.
    Number(Box<Decimal>, Option<Category>),
    /// Only a category: of a range.
    Category(Category),
}

/// The options of a number that no function was asked for.
pub(super) static NO_NUMBER_OPTIONS: NumberOptions = NumberOptions::DEFAULT;

/// What every function of numbers needs.
const NO_NUMBER: Refusal = Refusal::operand("a number, or a text that is one, such as `12.5`");

/// What every function of dates and times needs.
const NO_DATE: Refusal = Refusal::operand(
    "a date or a time: a text such as `2026-05-01T09:30`, Unix seconds, or a date of the application",
);

/// A whole number that is no moment of our times: mostly one of milliseconds.
const NO_MOMENT: Refusal =
    Refusal::operand("Unix seconds of the years 1900 to 2200; milliseconds are divided by 1000 first");

/// Those of a date.
pub(super) static NO_DATE_OPTIONS: DateOptions = DateOptions::DEFAULT;

impl<'a> ResolvedValue<'a> {
    /// What an argument is before any function.
    #[inline]
    pub(in crate::message) fn of(value: &'a Value<'a>, context: &FunctionContext) -> Self {
        match value {
            Value::Text(text) => Self::Text(Cow::Borrowed(text)),
            Value::Integer(number) => {
                Self::Number(NumericValue::Integer(*number), MaybeOwned::Borrowed(&NO_NUMBER_OPTIONS))
            }
            Value::Number(number) => {
                Self::Number(NumericValue::Borrowed(number), MaybeOwned::Borrowed(&NO_NUMBER_OPTIONS))
            }
            Value::Money(money) => {
                let mut options = NumberOptions::of(NumberKind::Currency);
                options.currency = Some(money.currency);
                Self::Number(NumericValue::Borrowed(&money.amount), MaybeOwned::Owned(Box::new(options)))
            }
            Value::Date(date) => {
                Self::Date(MaybeOwned::Borrowed(date), None, MaybeOwned::Borrowed(&NO_DATE_OPTIONS))
            }
            Value::Duration(span) => {
                let format = DurationFormat::default();
                Self::duration(&Duration::from(&**span), Value::from(**span), format, context)
                    .unwrap_or(Self::Fallback)
            }
            Value::List(_) if value.is_too_deep() => Self::Fallback,
            Value::List(values) => Self::List(values),
            Value::Html(html) => Self::Html(MaybeOwned::Borrowed(html)),
            Value::Custom(custom) => Self::Formatted(Box::new(Formatted {
                value: custom.format(context),
                selection: None,
                custom: Some(Arc::clone(custom)),
                problem: None,
            })),
        }
    }

    /// What a function has formatted.
    pub(in crate::message) fn formatted(value: FunctionValue, selection: Option<Selection>) -> Self {
        Self::Formatted(Box::new(Formatted { value, selection, custom: None, problem: None }))
    }

    /// A duration as a format shows it, and the value that later functions get.
    pub(super) fn duration(
        duration: &Duration,
        value: Value<'static>,
        format: DurationFormat,
        context: &FunctionContext,
    ) -> Result<Self, DependsOnDate> {
        let shown = format.show(duration, context)?;
        // With several units there is no number: only `*` matches.
        let selection = match shown.number {
            Some((number, category)) => Selection::Number(Box::new(number), Some(category)),
            None => Selection::Text(shown.text.clone()),
        };
        let value = FunctionValue::text(shown.text).with_direction(context.direction).with_value(value);
        Ok(Self::formatted(value, Some(selection)))
    }

    /// Why a date is not in the calendar that it should be in.
    pub(in crate::message) fn calendar_problem(&self, context: &FunctionContext) -> Option<CalendarProblem> {
        match self {
            Self::Date(date, kind, options) => temporal::problem(date, *kind, options, context),
            Self::Formatted(formatted) => formatted.problem.clone(),
            _ => None,
        }
    }

    /// The direction of what is shown, where it is known: not of a text, nor of a fallback.
    pub(in crate::message) fn direction(&self, context: &FunctionContext) -> Option<Direction> {
        match self {
            // A list without words around its items is in the language of the message all the same.
            Self::Number(..) | Self::Date(..) | Self::List(_) => Some(context.direction),
            Self::Joined(list) => Some(list.direction),
            Self::Formatted(formatted) => formatted.value.direction,
            _ => None,
        }
    }

    /// Writes what the value shows; nothing for a fallback.
    #[inline]
    pub(in crate::message) fn write(&self, context: &FunctionContext, to: &mut impl Write) -> fmt::Result {
        match self {
            Self::Text(text) => to.write_str(text),
            Self::Number(number, options) => number.write(options, context, to),
            other => other.write_other(context, to),
        }
    }

    fn write_other(&self, context: &FunctionContext, to: &mut dyn Write) -> fmt::Result {
        match self {
            Self::Date(date, kind, options) => temporal::write(date, *kind, options, context, to),
            Self::List(values) => Joined::plain(values, context).write(context, to),
            Self::Joined(list) => list.write(context, to),
            Self::Html(html) => to.write_str(&html.to_text()),
            Self::Formatted(formatted) => to.write_str(&formatted.value.text),
            Self::Text(_) | Self::Number(..) | Self::Fallback => Ok(()),
        }
    }

    /// What the value shows.
    pub(in crate::message) fn shown(&self, context: &FunctionContext) -> String {
        let mut text = String::new();
        // Writing to a `String` does not fail.
        let _ = self.write(context, &mut text);
        text
    }

    /// The text of a value: of a number, as JSON writes it.
    pub(in crate::message) fn into_text(self, context: &FunctionContext) -> Cow<'a, str> {
        match self {
            Self::Text(text) => text,
            Self::Number(number, _) => Cow::Owned(number.to_decimal().to_string()),
            Self::Formatted(formatted) => Cow::Owned(formatted.value.text),
            Self::Html(html) => Cow::Owned(html.to_text()),
            Self::Date(..) | Self::List(_) | Self::Joined(_) => Cow::Owned(self.shown(context)),
            Self::Fallback => Cow::Borrowed(""),
        }
    }

    /// Whether it is a date and no number.
    pub(super) fn is_date(&self) -> bool {
        match self {
            Self::Date(..) => true,
            Self::Text(text) => NumericValue::parse(text).is_none() && DateValue::read(text).is_some(),
            Self::Formatted(formatted) => matches!(formatted.value.value.as_deref(), Some(Value::Date(_))),
            _ => false,
        }
    }

    /// The number a value is, and the options it has come by.
    pub(super) fn into_number(self) -> Result<(NumericValue<'a>, MaybeOwned<'a, NumberOptions>), Refusal> {
        let number = match self {
            Self::Number(number, options) => return Ok((number, options)),
            Self::Text(text) => NumericValue::parse(&text),
            Self::Formatted(formatted) => match formatted.value.value.map(|value| *value) {
                Some(Value::Integer(number)) => Some(NumericValue::Integer(number)),
                Some(Value::Number(number)) => Some(NumericValue::Owned(number)),
                _ => None,
            },
            _ => None,
        };
        Ok((number.ok_or(NO_NUMBER)?, MaybeOwned::Borrowed(&NO_NUMBER_OPTIONS)))
    }

    /// The number a value is, with options over those it has come by.
    pub(super) fn with_number_options(self, options: MaybeOwned<'a, NumberOptions>) -> Result<Self, Refusal> {
        let (number, inherited) = self.into_number()?;
        let options = options.over_inherited(&inherited);
        match options.missing() {
            None => Ok(Self::Number(number, options)),
            Some(missing) => Err(Refusal::operand(missing)),
        }
    }

    /// The date a value is, for a function of dates, with options over those it has come by.
    pub(super) fn with_date_options(
        self,
        kind: DateKind,
        options: MaybeOwned<'a, DateOptions>,
    ) -> Result<Self, Refusal> {
        let (date, options) = match self {
            Self::Date(date, _, inherited) if *inherited == NO_DATE_OPTIONS => (date, options),
            Self::Date(date, _, inherited) => (date, MaybeOwned::Owned(Box::new(options.over(&inherited)))),
            Self::Text(text) => (owned(DateValue::read(&text))?, options),
            // One that a function of numbers has made, of a text of the message or an argument, is no moment.
            Self::Number(NumericValue::Integer(seconds), MaybeOwned::Borrowed(own))
                if core::ptr::eq(own, &raw const NO_NUMBER_OPTIONS) =>
            {
                let moment = DateValue::from_unix(seconds).filter(DateValue::is_of_our_times);
                (owned(Some(moment.ok_or(NO_MOMENT)?))?, options)
            }
            Self::Formatted(formatted) => match formatted.value.value.map(|value| *value) {
                Some(Value::Date(date)) => (owned(Some(date))?, options),
                _ => return Err(NO_DATE),
            },
            _ => return Err(NO_DATE),
        };
        if kind.takes(&date) {
            Ok(Self::Date(date, Some(kind), options))
        } else {
            Err(Refusal::operand(kind.needs()))
        }
    }

    /// The value as an application's function gets it.
    pub(in crate::message) fn into_value(self, context: &FunctionContext) -> Value<'a> {
        match self {
            Self::Number(number, options) => match (number, options.currency) {
                // What is money stays money.
                (number, Some(currency)) => {
                    Value::Money(Box::new(Money::new(number.to_decimal().into_owned(), currency)))
                }
                (NumericValue::Integer(number), None) => Value::Integer(number),
                (number, None) => Value::Number(Box::new(number.to_decimal().into_owned())),
            },
            Self::Date(date, ..) => Value::Date(DateValue::clone(&date)),
            Self::List(values) => Value::List(values.into()),
            Self::Html(html) => Value::Html(Box::new(Html::clone(&html))),
            Self::Formatted(formatted) => match (formatted.custom, formatted.value.value) {
                (Some(custom), _) => Value::Custom(custom),
                (None, Some(value)) => *value,
                (None, None) => Value::Text(Cow::Owned(formatted.value.text)),
            },
            other => Value::Text(other.into_text(context)),
        }
    }

    /// The options that an application's function has handed on.
    pub(in crate::message) fn handed_on(&self) -> &[(String, Value<'static>)] {
        match self {
            Self::Formatted(formatted) => &formatted.value.options,
            _ => &[],
        }
    }

    /// What keys are compared with, where the value selects by more than keys of its own.
    pub(in crate::message) fn selection(&self, context: &FunctionContext) -> Option<Selection> {
        match self {
            Self::Text(text) => Some(Selection::Text(String::from(&**text))),
            Self::Number(number, options) => options
                .selection(&number.to_decimal(), context)
                .map(|(number, category)| Selection::Number(Box::new(number), category)),
            Self::Formatted(formatted) => formatted.selection.clone(),
            Self::Date(..) | Self::List(_) | Self::Joined(_) | Self::Html(_) | Self::Fallback => None,
        }
    }

    /// The value as this locale shows it and selects by it, whatever other locale uses it later.
    pub(in crate::message) fn frozen(self, context: &FunctionContext) -> ResolvedValue<'static> {
        let selection = self.selection(context);
        match self {
            Self::Fallback => ResolvedValue::Fallback,
            Self::Formatted(formatted) => ResolvedValue::Formatted(formatted),
            Self::List(values) => {
                ResolvedValue::Joined(Box::new(Joined::plain(values, context).frozen(context)))
            }
            Self::Joined(list) => ResolvedValue::Joined(Box::new(list.frozen(context))),
            Self::Html(html) => ResolvedValue::Html(MaybeOwned::Owned(Box::new(Html::clone(&html)))),
            value => {
                let mut shown = FunctionValue::text(value.shown(context));
                shown.direction = value.direction(context);
                ResolvedValue::formatted(shown, selection)
            }
        }
    }
}

fn owned<T>(value: Option<T>) -> Result<MaybeOwned<'static, T>, Refusal> {
    value.map(|value| MaybeOwned::Owned(Box::new(value))).ok_or(NO_DATE)
}

/// A list with the words that join it, in the language of those.
#[derive(Clone, Debug)]
pub(in crate::message) struct Joined<'a> {
    pub(in crate::message) pieces: Vec<Piece<'a>>,
    /// The direction of the words, whatever the items are.
    pub(in crate::message) direction: Direction,
}

/// A piece of a joined list.
#[derive(Clone, Debug)]
pub(in crate::message) enum Piece<'a> {
    Words(&'static str),
    Item(ResolvedValue<'a>),
}

impl<'a> Joined<'a> {
    pub(super) fn of(
        items: Vec<ResolvedValue<'a>>,
        kind: ListKind,
        width: Width,
        context: &FunctionContext,
    ) -> Self {
        let mut pieces = Vec::with_capacity(items.len() * 2);
        let last = items.last().map(|last| last.shown(context)).unwrap_or_default();
        let count = items.len();
        let mut items = items.into_iter();
        context.lists.runs(count, kind, width, &|| last.clone(), &mut |run| match run {
            Run::Words("") => {}
            Run::Words(words) => pieces.push(Piece::Words(words)),
            // Items come in order, each once.
            Run::Item(_) => pieces.extend(items.next().map(Piece::Item)),
        });
        Self { pieces, direction: context.direction }
    }

    /// A list that no function was asked to join.
    pub(in crate::message) fn plain(values: &'a [Value<'a>], context: &FunctionContext) -> Self {
        Self::of(Self::items(values, context), ListKind::Unit, Width::Long, context)
    }

    pub(super) fn items(values: &'a [Value<'a>], context: &FunctionContext) -> Vec<ResolvedValue<'a>> {
        values.iter().map(|value| ResolvedValue::of(value, context)).collect()
    }

    /// Writes the list without setting its items apart.
    pub(in crate::message) fn write(&self, context: &FunctionContext, to: &mut dyn Write) -> fmt::Result {
        self.pieces.iter().try_for_each(|piece| match piece {
            Piece::Words(words) => to.write_str(words),
            Piece::Item(item) => to.write_str(&item.shown(context)),
        })
    }

    /// The list as this locale shows it, whatever other locale uses it later.
    pub(in crate::message) fn frozen(self, context: &FunctionContext) -> Joined<'static> {
        let frozen = |piece| match piece {
            Piece::Words(words) => Piece::Words(words),
            Piece::Item(item) => Piece::Item(item.frozen(context)),
        };
        Joined { pieces: self.pieces.into_iter().map(frozen).collect(), direction: self.direction }
    }
}
