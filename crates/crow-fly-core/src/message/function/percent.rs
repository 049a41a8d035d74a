//! `:percent` (UTS #35 part 9): a share of one in hundredths, which selects by those.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$share :percent maximumFractionDigits=1}")?);
//! assert_eq!(program.format(&context, &args! { share: 0.125 }).text(), "12.5%");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind, Selects};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Percent;

impl Function for Percent {
    const NAME: &'static str = "percent";
    const OPTIONS: &'static [&'static str] = &["select"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    const SELECTS: Selects = Selects::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Percent);

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
