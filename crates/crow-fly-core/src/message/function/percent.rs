//! `:percent` (UTS #35 part 9): a share of one in hundredths, which selects by those.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$share :percent maximumFractionDigits=1}")?);
//! assert_eq!(program.format(&context, &args! { share: 0.125 }).text(), "12.5%");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::number_function;
use super::numeric::NumberKind;
use super::resolved::ResolvedValue;

number_function!(Percent, "percent", NumberKind::Percent, |_| (), ResolvedValue::with_number_options);
