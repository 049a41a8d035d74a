//! `:crow:duration`: a stretch of time, of seconds, of a span or of an ISO 8601 text (ECMA-402, "DurationFormat").
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$crossing :crow:duration}, {$crossing :crow:duration style=digital}")?);
//! assert_eq!(program.format(&context, &args! { crossing: 5400 }).text(), "1 hour, 30 minutes, 1:30:00");
//! assert_eq!(program.format(&context, &args! { crossing: "PT45M" }).text(), "45 minutes, 0:45:00");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use jiff::fmt::temporal::SpanParser;

use super::definition::{Call, Function, ParameterKind, Selects};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::duration::{DependsOnDate, Duration as Amounts, DurationFormat, DurationStyle, UNITS};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;
use crate::value::Value;

pub(in crate::message) struct Duration;

impl Function for Duration {
    const NAME: &'static str = "crow:duration";
    const OPTIONS: &'static [&'static str] = &["style", "largestUnit", "smallestUnit"];
    const OPERAND: ParameterKind = ParameterKind::Duration;
    const SELECTS: Selects = Selects::Number;
    type Options = DurationFormat;
    const NO_OPTIONS: DurationFormat =
        DurationFormat { style: DurationStyle::Units(Width::Long), largest: None, smallest: None };

    fn set(options: &mut DurationFormat, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "style" => {
                let known = [
                    ("long", DurationStyle::Units(Width::Long)),
                    ("short", DurationStyle::Units(Width::Short)),
                    ("narrow", DurationStyle::Units(Width::Narrow)),
                    ("digital", DurationStyle::Digital),
                ];
                options.style = one_of(value, known)?;
            }
            "largestUnit" => options.largest = Some(unit(value)?),
            "smallestUnit" => options.smallest = Some(unit(value)?),
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, DurationFormat>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        if options.largest.zip(options.smallest).is_some_and(|(largest, smallest)| largest > smallest) {
            return Err(Refusal::option("a `largestUnit` that is not smaller than `smallestUnit`"));
        }
        let (amounts, value) = match call.operand {
            ResolvedValue::Text(text) => match SpanParser::new().parse_span(text.trim().as_bytes()) {
                Ok(span) => (Amounts::from(&span), Value::from(span)),
                Err(_) => seconds(ResolvedValue::Text(text))?,
            },
            ResolvedValue::Formatted(formatted) => match formatted.value.value.as_deref() {
                Some(Value::Duration(span)) => (Amounts::from(&**span), Value::from(**span)),
                _ => seconds(ResolvedValue::Formatted(formatted))?,
            },
            other => seconds(other)?,
        };
        ResolvedValue::duration(&amounts, value, *options, call.context)
            .map_err(|DependsOnDate| DEPENDS_ON_DATE)
    }
}

/// A number of seconds, and what it is for later functions.
fn seconds(operand: ResolvedValue<'_>) -> Result<(Amounts, Value<'static>), Refusal> {
    let (number, _) = operand.into_number().map_err(|_| NO_DURATION)?;
    let number = number.to_decimal().into_owned();
    Ok((Amounts::from_seconds(&number).ok_or(TOO_LONG)?, number.into()))
}

/// A unit, by its place among all.
fn unit(value: &str) -> Result<u8, BadOption> {
    let name = value.strip_suffix('s').unwrap_or(value);
    let place = (0..).zip(UNITS).find(|(_, unit)| *unit == name);
    place.map(|(place, _)| place).ok_or_else(|| BadOption::not("a unit of time from `year` to `nanosecond`"))
}

const NO_DURATION: Refusal = Refusal::operand(
    "a duration: seconds, an ISO 8601 text such as `PT1H30M`, or a duration of the application",
);

const TOO_LONG: Refusal = Refusal::operand("seconds of at most 18 digits");

const DEPENDS_ON_DATE: Refusal = Refusal::operand(
    "a duration without years and months, which have no fixed number of days, or units that keep them: `largestUnit=month`",
);
