//! `:crow:range`: from one number or date to another, which selects by the plural category of the range.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$n :crow:range to=5} hours")?);
//! assert_eq!(program.format(&context, &args! { n: 3 }).text(), "3–5 hours");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::string::String;

use super::definition::{Call, Function, ParameterKind, Selects};
use super::option::BadOption;
use super::resolved::{NO_DATE_OPTIONS, ResolvedValue, Selection};
use super::temporal::{self, DateKind};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::NumberRange;
use crate::value::FunctionValue;

pub(in crate::message) struct Range;

impl Function for Range {
    const NAME: &'static str = "crow:range";
    const OPTIONS: &'static [&'static str] = &["to"];
    const VALUE_OPTION: Option<&'static str> = Some("to");
    const OPERAND: ParameterKind = ParameterKind::Any;
    const SELECTS: Selects = Selects::Range;
    type Options = ();
    const NO_OPTIONS: () = ();

    fn set((): &mut (), _: &str, _: &str) -> Result<(), BadOption> {
        Err(BadOption::Unknown)
    }

    fn resolve<'a>(call: Call<'_, 'a>, _: MaybeOwned<'a, ()>) -> Result<ResolvedValue<'a>, Refusal> {
        let context = call.context;
        let end = call.value.ok_or(Refusal::option("the end of the range: give `to=…`"))?;
        let mut problem = None;
        let (text, selection) = if let ResolvedValue::Date(start, kind, options) = &call.operand {
            let asked = kind.unwrap_or(DateKind::Date);
            let end = end.with_date_options(asked, MaybeOwned::Borrowed(&NO_DATE_OPTIONS));
            let Ok(ResolvedValue::Date(end, ..)) = end else {
                return Err(Refusal::option("an end that is a date like its start: `to=…`"));
            };
            let of = |date| temporal::problem(date, *kind, options, context);
            // A start that a function has formatted has reported its own.
            problem = match of(start) {
                Some(of_start) => kind.is_none().then_some(of_start),
                None => of(&end),
            };
            let format = options.format(kind.unwrap_or_else(|| DateKind::of(start)), &context.zones);
            let mut text = String::new();
            // Writing to a `String` does not fail.
            let _ = context.dates.write_range(&format, start, &end, &context.numbers, &mut text);
            (text, None)
        } else {
            let (start, options) = call.operand.into_number()?;
            let (end, _) =
                end.into_number().map_err(|_| Refusal::option("an end that is a number: `to=…`"))?;
            let range = NumberRange { start: &start.to_decimal(), end: &end.to_decimal() };
            let (style, format) = (options.style(context), options.format());
            let (text, category) =
                context.number_patterns.range_text(style, format, range, &context.numbers, &context.tag);
            (text, Some(Selection::Category(category)))
        };
        let value = FunctionValue::text(text).with_direction(context.direction);
        let mut formatted = ResolvedValue::formatted(value, selection);
        if let ResolvedValue::Formatted(formatted) = &mut formatted {
            formatted.problem = problem;
        }
        Ok(formatted)
    }
}
