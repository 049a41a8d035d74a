//! `:crow:compact`: a number with its power of ten in words or letters, which selects by the form it is shown in.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$n :crow:compact width=long}")?);
//! assert_eq!(program.format(&context, &args! { n: 1_234_567 }).text(), "1.2 million");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind, Selects};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;

pub(in crate::message) struct Compact;

impl Function for Compact {
    const NAME: &'static str = "crow:compact";
    const OPTIONS: &'static [&'static str] = &["width"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    const SELECTS: Selects = Selects::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Compact);

    fn set(options: &mut NumberOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "width" => options.width = Some(one_of(value, [("long", Width::Long), ("short", Width::Short)])?),
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
