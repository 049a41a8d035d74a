//! `:datetime` (UTS #35 part 9): the date and the time of a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en-GB".parse()?);
//! let program = Program::compile(&Message::parse("{$t :datetime dateLength=short}")?);
//! assert_eq!(program.format(&context, &args! { t: "2026-03-01T17:45:10" }).text(), "01/03/2026, 17:45");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::date_function;
use super::temporal::DateKind;

date_function!(DateTime, "datetime", DateKind::DateTime, "dateFields" => set_fields, "dateLength" => set_length, "timePrecision" => set_precision, "timeZoneStyle" => set_zone_style);
