//! `:string` (UTS #35 part 9): any value as a text, which selects by itself. A number is its JSON form.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".input {$x :string} .match $x 1200 {{exactly}} * {{other}}")?);
//! assert_eq!(program.format(&context, &args! { x: 1200 }).text(), "exactly");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind, Selects};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct StringFunction;

impl Function for StringFunction {
    const NAME: &'static str = "string";
    const OPTIONS: &'static [&'static str] = &[];
    const OPERAND: ParameterKind = ParameterKind::Text;
    const SELECTS: Selects = Selects::Text;
    type Options = ();
    const NO_OPTIONS: () = ();

    fn set((): &mut (), _: &str, _: &str) -> Result<(), BadOption> {
        Err(BadOption::Unknown)
    }

    fn resolve<'a>(call: Call<'_, 'a>, _: MaybeOwned<'a, ()>) -> Result<ResolvedValue<'a>, Refusal> {
        Ok(ResolvedValue::Text(call.operand.into_text(call.context)))
    }
}
