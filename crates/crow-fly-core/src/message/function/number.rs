//! `:number` (UTS #35 part 9): a number as the locale writes it, which selects by its value and its plural category.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".input {$n :number minimumFractionDigits=1} .match $n one {{one}} * {{{$n} hours}}")?);
//! assert_eq!(program.format(&context, &args! { n: 1 }).text(), "1.0 hours");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind, Selects};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Number;

impl Function for Number {
    const NAME: &'static str = "number";
    const OPTIONS: &'static [&'static str] = &["select"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    const SELECTS: Selects = Selects::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Plain);

    fn set(options: &mut NumberOptions, name: &str, value: &str) -> Result<(), BadOption> {
        options.set_select_or_digits(name, value)
    }

    fn takes_variable(options: &mut NumberOptions, name: &str) -> bool {
        options.take_variable(name)
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, NumberOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_number_options(options)
    }
}
