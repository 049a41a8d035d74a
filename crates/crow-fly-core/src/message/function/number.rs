//! `:number` (UTS #35 part 9): a number as the locale writes it, which selects by its value and its plural category.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".input {$n :number minimumFractionDigits=1} .match $n one {{one}} * {{{$n} hours}}")?);
//! assert_eq!(program.format(&context, &args! { n: 1 }).text(), "1.0 hours");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::number_function;
use super::numeric::NumberKind;
use super::resolved::ResolvedValue;

number_function!(Number, "number", NumberKind::Plain, |_| (), ResolvedValue::with_number_options);
