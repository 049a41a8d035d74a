//! What the functions do with their operands.

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::string::String;
use alloc::vec::Vec;

use super::format_error::FormatErrorKind as Kind;
use super::function::custom::{FunctionValue, Invocation};
use super::function::date::{DateKind, DateOptions};
use super::function::number::NumberOptions;
use super::function::words::{Named, WordKind, WordOptions};
use super::function::{Function, Options};
use super::program::{BuiltInCall, Slice};
use super::resolve::{Frame, MaybeOwned, NO_DATE_OPTIONS, NumericValue, PLAIN, ResolvedValue, Selection};
use crate::datetime::{DateValue, relative};
use crate::names::{self, Casing};
use crate::number::Width;
use crate::tag::LanguageTag;
use crate::value::{Money, Value};

impl<'a> Frame<'a, '_, '_> {
    pub(super) fn built_in(
        &mut self,
        call: &'a BuiltInCall,
        operand: ResolvedValue<'a>,
    ) -> Result<ResolvedValue<'a>, Kind> {
        let bad = call.runtime.as_ref().map_or(Slice::default(), |runtime| runtime.bad);
        for (name, _) in bad.of(&self.arena.settings) {
            self.bad_option(*name);
        }
        let options = self.options(call);
        match (call.function, &*options) {
            (Function::Text, _) => Ok(ResolvedValue::Text(operand.into_text(self.context))),
            (Function::Range, _) => self.range(call, operand),
            (Function::Number(_) | Function::Integer, Options::Number(_)) => {
                number(call.function, options, operand)
            }
            (Function::Offset, Options::Offset(offset, count)) => {
                let (figure, inherited) = figure(operand)?;
                // Exactly one of its two options.
                let offset = if *count == 1 { *offset } else { return Err(Kind::BadOption) };
                let figure = match figure {
                    NumericValue::Integer(number) if number.checked_add(offset).is_some() => {
                        NumericValue::Integer(number + offset)
                    }
                    figure => NumericValue::Owned(Box::new(figure.to_decimal().plus(&offset.into()))),
                };
                Ok(ResolvedValue::Number(figure, inherited))
            }
            (Function::Date(kind), Options::Date(..)) => {
                let options = match options {
                    Cow::Borrowed(Options::Date(_, options)) => MaybeOwned::Borrowed(options),
                    Cow::Owned(Options::Date(_, options)) => MaybeOwned::Owned(Box::new(options)),
                    _ => MaybeOwned::Borrowed(&NO_DATE_OPTIONS),
                };
                date(kind, options, operand)
            }
            (Function::Words(kind), Options::Words(_, options)) => self.words(kind, *options, operand),
            _ => Err(Kind::BadOperand),
        }
    }

    /// The options of a call, those set by variables among them.
    fn options(&mut self, call: &'a BuiltInCall) -> Cow<'a, Options> {
        let Some(runtime) = call.runtime.as_deref().filter(|runtime| runtime.variable != Slice::default())
        else {
            return Cow::Borrowed(&call.options);
        };
        let mut options = call.options.clone();
        for (name, value) in runtime.variable.of(&self.arena.settings) {
            let Some(value) = self.option(*name, *value) else { continue };
            if options.set(self.arena.str(*name), &value.into_text(self.context)).is_err() {
                self.bad_option(*name);
            }
        }
        if let (Function::Integer, Options::Number(number)) = (call.function, &mut options) {
            *number = number.of_integer();
        }
        Cow::Owned(options)
    }

    fn words(
        &self,
        kind: WordKind,
        options: WordOptions,
        operand: ResolvedValue<'a>,
    ) -> Result<ResolvedValue<'a>, Kind> {
        let context = self.context;
        let text = match kind {
            WordKind::List => {
                let items: Vec<String> = match operand {
                    ResolvedValue::List(values) => values
                        .iter()
                        .map(|value| context.text_of(&ResolvedValue::of(value, context)))
                        .collect(),
                    other => Vec::from([context.text_of(&other)]),
                };
                context.lists.join(&items, options.list, options.width.unwrap_or(Width::Long))
            }
            WordKind::Relative => {
                let (figure, number_options) = figure(operand)?;
                let unit = options.unit.ok_or(Kind::BadOption)?;
                let style = (options.width.unwrap_or(Width::Long), !options.only_numbers);
                let format = number_options.format();
                relative(
                    &context.dates,
                    (&figure.to_decimal(), unit),
                    style,
                    &format,
                    &context.numbers,
                    &context.cardinal,
                )
            }
            WordKind::Name => {
                let code = operand.into_text(context);
                named(&code, options.named, &context.tag).ok_or(Kind::BadOperand)?
            }
        };
        let value = FunctionValue::text(text);
        // The items of a list may run any way: so may the list.
        let value = if kind == WordKind::List { value } else { value.with_direction(context.direction) };
        Ok(ResolvedValue::Formatted(Box::new(value), None))
    }

    /// From the operand to the option `to`: numbers, or dates.
    fn range(&mut self, call: &BuiltInCall, start: ResolvedValue<'a>) -> Result<ResolvedValue<'a>, Kind> {
        let context = self.context;
        let to = call.runtime.as_ref().and_then(|runtime| runtime.to).ok_or(Kind::BadOption)?;
        let end = self.operand(to).inspect_err(|kind| self.unresolved(*kind, to));
        let end = end.ok().flatten().ok_or(Kind::BadOption)?;
        if let ResolvedValue::Date(value, kind, options) = &start {
            let ResolvedValue::Date(end, ..) =
                date(kind.unwrap_or(DateKind::Date), MaybeOwned::Borrowed(&NO_DATE_OPTIONS), end)?
            else {
                return Err(Kind::BadOption);
            };
            let kind = kind.unwrap_or_else(|| plain_kind(value));
            let format = options.format(kind, &context.zones);
            let mut text = String::new();
            // Writing to a `String` does not fail.
            let _ = context.dates.write_range(&format, (value, &end), &context.numbers, &mut text);
            return Ok(ResolvedValue::Formatted(
                Box::new(FunctionValue::text(text).with_direction(context.direction)),
                None,
            ));
        }
        let (start, options) = figure(start)?;
        let (end, _) = figure(end).map_err(|_| Kind::BadOption)?;
        let (text, category) = context.number_patterns.range_text(
            options.style(),
            options.format(),
            (&start.to_decimal(), &end.to_decimal()),
            &context.numbers,
            &context.tag,
        );
        Ok(ResolvedValue::Formatted(
            Box::new(FunctionValue::text(text).with_direction(context.direction)),
            Some(Selection::Category(category)),
        ))
    }

    pub(super) fn custom(
        &mut self,
        name: Slice,
        options: Slice,
        operand: Option<ResolvedValue<'a>>,
    ) -> Result<ResolvedValue<'a>, Kind> {
        let name = self.arena.str(name);
        let settings = options.of(&self.arena.settings);
        let functions = self.context.functions.as_deref();
        let function = functions.and_then(|functions| functions.get(name)).ok_or(Kind::UnknownFunction)?;
        let mut options = Vec::with_capacity(settings.len());
        for (name, source) in settings {
            if let Some(value) = self.option(*name, *source) {
                options.push((self.arena.str(*name), value.into_value(self.context)));
            }
        }
        let operand = operand.map(|value| value.into_value(self.context));
        let value = function.call(&Invocation { operand, options, context: self.context })?;
        Ok(ResolvedValue::Formatted(Box::new(value), None))
    }
}

/// A number, and the options it has come by.
fn figure(operand: ResolvedValue<'_>) -> Result<(NumericValue<'_>, MaybeOwned<'_, NumberOptions>), Kind> {
    match operand {
        ResolvedValue::Number(figure, options) => Ok((figure, options)),
        ResolvedValue::Text(text) => {
            Ok((NumericValue::parse(&text).ok_or(Kind::BadOperand)?, MaybeOwned::Borrowed(&PLAIN)))
        }
        ResolvedValue::Formatted(value, _) => match value.carried.map(|carried| *carried) {
            Some(Value::Integer(number)) => Ok((NumericValue::Integer(number), MaybeOwned::Borrowed(&PLAIN))),
            Some(Value::Number(number)) => Ok((NumericValue::Owned(number), MaybeOwned::Borrowed(&PLAIN))),
            _ => Err(Kind::BadOperand),
        },
        _ => Err(Kind::BadOperand),
    }
}

fn number<'a>(
    function: Function,
    options: Cow<'a, Options>,
    operand: ResolvedValue<'a>,
) -> Result<ResolvedValue<'a>, Kind> {
    let (figure, inherited) = figure(operand)?;
    let integer = function == Function::Integer;
    let options = match options {
        Cow::Borrowed(Options::Number(options)) if *inherited == NumberOptions::DEFAULT => {
            MaybeOwned::Borrowed(options)
        }
        options => {
            let Options::Number(options) = &*options else { return Err(Kind::BadOperand) };
            let merged = options.over(&inherited);
            MaybeOwned::Owned(Box::new(if integer { merged.of_integer() } else { merged }))
        }
    };
    let figure = if integer { figure.into_integer(options.rounding()) } else { figure };
    if options.is_complete() { Ok(ResolvedValue::Number(figure, options)) } else { Err(Kind::BadOperand) }
}

fn date<'a>(
    kind: DateKind,
    options: MaybeOwned<'a, DateOptions>,
    operand: ResolvedValue<'a>,
) -> Result<ResolvedValue<'a>, Kind> {
    let value = match operand {
        ResolvedValue::Date(value, _, inherited) => {
            let options = if *inherited == NO_DATE_OPTIONS {
                options
            } else {
                MaybeOwned::Owned(Box::new(options.over(&inherited)))
            };
            return dated(kind, value, options);
        }
        ResolvedValue::Text(text) => Box::new(DateValue::parse(&text).ok_or(Kind::BadOperand)?),
        ResolvedValue::Number(NumericValue::Integer(seconds), _) => {
            Box::new(DateValue::from_unix(seconds).ok_or(Kind::BadOperand)?)
        }
        ResolvedValue::Formatted(value, _) => match value.carried.map(|carried| *carried) {
            Some(Value::Date(date)) => Box::new(date),
            _ => return Err(Kind::BadOperand),
        },
        _ => return Err(Kind::BadOperand),
    };
    dated(kind, MaybeOwned::Owned(value), options)
}

fn dated<'a>(
    kind: DateKind,
    value: MaybeOwned<'a, DateValue>,
    options: MaybeOwned<'a, DateOptions>,
) -> Result<ResolvedValue<'a>, Kind> {
    if kind.takes(&value) {
        Ok(ResolvedValue::Date(value, Some(kind), options))
    } else {
        Err(Kind::BadOperand)
    }
}

/// What a date shows where no function says.
pub(super) const fn plain_kind(value: &DateValue) -> DateKind {
    match (value.has_date(), value.has_time()) {
        (true, true) => DateKind::DateTime,
        (false, _) => DateKind::Time,
        (true, false) => DateKind::Date,
    }
}

fn named(code: &str, kind: Named, language: &LanguageTag) -> Option<String> {
    match kind {
        Named::Locale => names::name(&LanguageTag::parse_lenient(code).ok()?, language, Casing::Sentence),
        Named::Region => names::part(&code.to_ascii_uppercase(), language).map(String::from),
        Named::Script => {
            let mut code = code.to_ascii_lowercase();
            code.get_mut(..1)?.make_ascii_uppercase();
            names::part(&code, language).map(String::from)
        }
        Named::Currency => {
            let currency = crate::number::Currency::parse(code)?;
            Some(names::currency(&currency, language).unwrap_or(currency.as_str()).into())
        }
    }
}

impl<'a> ResolvedValue<'a> {
    /// The value as an application's function gets it.
    fn into_value(self, context: &super::FormatContext) -> Value<'a> {
        match self {
            Self::Number(figure, options) => match (figure, options.currency) {
                // What is money stays money.
                (figure, Some(currency)) => {
                    Value::Money(Box::new(Money::new(figure.to_decimal().into_owned(), currency)))
                }
                (NumericValue::Integer(number), None) => Value::Integer(number),
                (figure, None) => Value::Number(Box::new(figure.to_decimal().into_owned())),
            },
            Self::Date(date, ..) => Value::Date(DateValue::clone(&date)),
            Self::List(values) => Value::List(values.into()),
            Self::Html(html) => Value::Html(Box::new(html.clone())),
            Self::Formatted(value, _) => match value.carried {
                Some(carried) => *carried,
                None => Value::Text(Cow::Owned(value.text)),
            },
            other => Value::Text(other.into_text(context)),
        }
    }
}
