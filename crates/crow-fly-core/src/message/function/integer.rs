//! `:integer` (UTS #35 part 9): the nearest integer to a number, which is also its value for later functions.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".local $n = {$x :integer} {{{$n} or {$n :number minimumFractionDigits=1}}}")?);
//! assert_eq!(program.format(&context, &args! { x: 4.2 }).text(), "4 or 4.0");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::number_function;
use super::numeric::{NumberKind, NumberOptions};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

// Its value has no fraction to show.
number_function!(Integer, "integer", NumberKind::Plain, |options| *options = options.of_integer(), rounded);

fn rounded<'a>(
    operand: ResolvedValue<'a>,
    options: MaybeOwned<'a, NumberOptions>,
) -> Result<ResolvedValue<'a>, Refusal> {
    let (number, inherited) = operand.into_number()?;
    // Nor do options that it has come by ask for one.
    let options = options.over_inherited(&inherited.of_integer());
    Ok(ResolvedValue::Number(number.into_integer(options.rounding()), options))
}
