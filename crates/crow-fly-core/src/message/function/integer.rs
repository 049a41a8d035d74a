//! `:integer` (UTS #35 part 9): the nearest integer to a number, which is also its value for later functions.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".local $n = {$x :integer} {{{$n} or {$n :number minimumFractionDigits=1}}}")?);
//! assert_eq!(program.format(&context, &args! { x: 4.2 }).text(), "4 or 4.0");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind, Selects};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Integer;

impl Function for Integer {
    const NAME: &'static str = "integer";
    const OPTIONS: &'static [&'static str] = &["select"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    const SELECTS: Selects = Selects::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Plain);

    fn set(options: &mut NumberOptions, name: &str, value: &str) -> Result<(), BadOption> {
        options.set_select_or_digits(name, value)?;
        // Its value has no fraction to show.
        *options = options.of_integer();
        Ok(())
    }

    fn takes_variable(options: &mut NumberOptions, name: &str) -> bool {
        options.take_variable(name)
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, NumberOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let (number, inherited) = call.operand.into_number()?;
        // Nor do options that it has come by ask for one.
        let options = options.over_inherited(&inherited.of_integer());
        Ok(ResolvedValue::Number(number.into_integer(options.rounding()), options))
    }
}
