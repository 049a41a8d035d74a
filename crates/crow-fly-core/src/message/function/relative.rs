//! `:crow:relative`: a number of units from now, or how far a date or a moment is from now.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$days :crow:relative unit=day} {$days :crow:relative unit=day numeric=always}")?);
//! assert_eq!(program.format(&context, &args! { days: -1 }).text(), "yesterday 1 day ago");
//!
//! let program = Program::compile(&Message::parse("{$leaves :crow:relative}")?);
//! let now = "2026-05-01T09:30:00Z".parse()?;
//! assert_eq!(program.format(&context, &args! { leaves: "2026-05-01T11:45:00Z" }).with_now(&now).text(), "in 2 hours");
//! assert_eq!(program.format(&context, &args! { leaves: "2026-05-02" }).with_now(&now).text(), "tomorrow");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::boxed::Box;

use super::definition::{Call, Function, ParameterKind};
use super::option::{BadOption, one_of};
use super::resolved::{NO_NUMBER_OPTIONS, ResolvedValue};
use super::temporal::{AskedZone, DateKind, DateOptions};
use crate::datetime::{Distance, RelativeTime, RelativeUnit};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;
use crate::value::FunctionValue;

pub(in crate::message) struct Relative;

#[derive(Clone, Debug, PartialEq)]
pub(in crate::message) struct RelativeOptions {
    unit: Option<RelativeUnit>,
    width: Width,
    words: bool,
    zone: Option<AskedZone>,
}

impl Function for Relative {
    const NAME: &'static str = "crow:relative";
    const OPTIONS: &'static [&'static str] = &["unit", "numeric", "width", "timeZone"];
    const OPERAND: ParameterKind = ParameterKind::Relative;
    type Options = RelativeOptions;
    const NO_OPTIONS: RelativeOptions =
        RelativeOptions { unit: None, width: Width::Long, words: true, zone: None };

    fn set(options: &mut RelativeOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "unit" => {
                options.unit = Some(
                    RelativeUnit::read(value)
                        .ok_or_else(|| BadOption::not("a unit of time, such as `day` or `hour`"))?,
                );
            }
            "numeric" => options.words = one_of(value, [("auto", true), ("always", false)])?,
            "width" => options.width = one_of(value, Width::NAMES)?,
            "timeZone" => options.zone = Some(AskedZone::read(value)?),
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, RelativeOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let context = call.context;
        let number_format;
        let (number, unit, has_words) = if call.operand.is_date() {
            number_format = NO_NUMBER_OPTIONS.format();
            let Distance { number, unit, has_words } = distance(call, &options)?;
            (number, unit, has_words)
        } else {
            let unit = options.unit.ok_or(NO_UNIT);
            let (number, inherited) = call.operand.into_number().map_err(|_| NEITHER)?;
            number_format = inherited.format();
            (number.to_decimal().into_owned(), unit?, true)
        };
        let time =
            RelativeTime { number: &number, unit, width: options.width, words: options.words && has_words };
        let text = context.dates.relative(time, &number_format, &context.numbers, &context.cardinal);
        let value = FunctionValue::text(text).with_direction(context.direction);
        Ok(ResolvedValue::formatted(value, None))
    }
}

/// What it needs.
const NEITHER: Refusal = Refusal::operand(
    "a number with `unit=…`, or a date: a text such as `2026-05-01T09:30`, or a date of the application",
);
const NO_UNIT: Refusal = Refusal::option("a unit: give `unit=…`, such as `day`; only a date needs none");
const NO_NOW: Refusal = Refusal::operand("a time that counts as now: give the formatting one by `with_now`");
const TOO_FAR: Refusal = Refusal::operand("a date of the years -9999 to 9999");

/// How far the date of a call is from now.
fn distance(call: Call<'_, '_>, options: &RelativeOptions) -> Result<Distance, Refusal> {
    let Call { operand, context, now, .. } = call;
    let own = MaybeOwned::Owned(Box::new(DateOptions::in_zone(options.zone.clone())));
    let ResolvedValue::Date(date, _, shown) = operand.with_date_options(DateKind::Date, own)? else {
        return Err(NEITHER);
    };
    let now = *now.ok_or(NO_NOW)?;
    let format = shown.format(DateKind::Date, &context.zones);
    context.dates.distance(&date, now, &format, options.unit).ok_or(TOO_FAR)
}
