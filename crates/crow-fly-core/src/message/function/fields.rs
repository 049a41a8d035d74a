//! `:crow:date`: larger parts of a date than the standard's functions show: a year and a month, a quarter, a month.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$d :crow:date fields=year-month length=long}")?);
//! assert_eq!(program.format(&context, &args! { d: "2026-07-14" }).text(), "July 2026");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::families::date_function;
use super::temporal::DateKind;

date_function!(Fields, "crow:date", DateKind::Date, "fields" => set_more_fields, "length" => set_length);
