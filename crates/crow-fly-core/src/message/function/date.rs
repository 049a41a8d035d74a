//! `:date` (UTS #35 part 9): the date of a date or a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$d :date length=long}")?);
//! assert_eq!(program.format(&context, &args! { d: "2026-03-01" }).text(), "March 1, 2026");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::date_function;
use super::temporal::DateKind;

date_function!(Date, "date", DateKind::Date, "fields" => set_fields, "length" => set_length);
