//! `:unit` (UTS #35 part 9): an amount of a unit that CLDR has patterns for, or of one by another.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$speed :unit unit=|kilometer-per-hour| unitDisplay=long}")?);
//! assert_eq!(program.format(&context, &args! { speed: 30 }).text(), "30 kilometers per hour");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::{Unit, Width};

pub(in crate::message) struct UnitFunction;

impl Function for UnitFunction {
    const NAME: &'static str = "unit";
    const OPTIONS: &'static [&'static str] = &["unit", "unitDisplay"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Unit);

    fn set(options: &mut NumberOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "unit" => {
                options.unit = Some(Unit::read(value).ok_or_else(|| {
                    BadOption::not("a unit of CLDR, such as `kilometer` or `liter-per-kilometer`")
                })?);
            }
            "unitDisplay" => {
                options.width = Some(one_of(value, Width::NAMES)?);
            }
            _ => options.set_digits(name, value)?,
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, NumberOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_number_options(options)
    }
}
