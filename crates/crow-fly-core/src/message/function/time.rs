//! `:time` (UTS #35 part 9): the time of a time or a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en-GB".parse()?);
//! let program = Program::compile(&Message::parse("{$t :time precision=second}")?);
//! assert_eq!(program.format(&context, &args! { t: "17:45:10" }).text(), "17:45:10");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::date_function;
use super::temporal::DateKind;

date_function!(Time, "time", DateKind::Time, "precision" => set_precision, "timeZoneStyle" => set_zone_style);
