//! `:crow:relative`: a number of units from now.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$days :crow:relative unit=day} {$days :crow:relative unit=day numeric=always}")?);
//! assert_eq!(program.format(&context, &args! { days: -1 }).text(), "yesterday 1 day ago");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::datetime::{RelativeTime, RelativeUnit};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;
use crate::value::FunctionValue;

pub(in crate::message) struct Relative;

#[derive(Clone, Copy, Debug, PartialEq)]
pub(in crate::message) struct RelativeOptions {
    unit: Option<RelativeUnit>,
    width: Width,
    words: bool,
}

impl Function for Relative {
    const NAME: &'static str = "crow:relative";
    const OPTIONS: &'static [&'static str] = &["unit", "numeric", "width"];
    const OPERAND: ParameterKind = ParameterKind::Number;
    type Options = RelativeOptions;
    const NO_OPTIONS: RelativeOptions = RelativeOptions { unit: None, width: Width::Long, words: true };

    fn set(options: &mut RelativeOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "unit" => {
                options.unit = Some(
                    RelativeUnit::read(value)
                        .ok_or_else(|| BadOption::not("a unit of time, such as `day` or `hour`"))?,
                );
            }
            "numeric" => options.words = one_of(value, [("auto", true), ("always", false)])?,
            "width" => {
                options.width = one_of(value, Width::NAMES)?;
            }
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, RelativeOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let context = call.context;
        let (number, inherited) = call.operand.into_number()?;
        let unit = options.unit.ok_or(Refusal::option("a unit: give `unit=…`, such as `day`"))?;
        let (width, words) = (options.width, options.words);
        let time = RelativeTime { number: &number.to_decimal(), unit, width, words };
        let text = context.dates.relative(time, &inherited.format(), &context.numbers, &context.cardinal);
        let value = FunctionValue::text(text).with_direction(context.direction);
        Ok(ResolvedValue::formatted(value, None))
    }
}
