//! `:date` (UTS #35 part 9): the date of a date or a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$d :date length=long}")?);
//! assert_eq!(program.format(&context, &args! { d: "2026-03-01" }).text(), "March 1, 2026");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use super::temporal::{DateKind, DateOptions, ZONE_OPTIONS};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Date;

impl Function for Date {
    const NAME: &'static str = "date";
    const OPTIONS: &'static [&'static str] = &["fields", "length"];
    const SHARED_OPTIONS: &'static [&'static str] = ZONE_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Date;
    type Options = DateOptions;
    const NO_OPTIONS: DateOptions = DateOptions::DEFAULT;

    fn set(options: &mut DateOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "fields" => options.set_fields(value),
            "length" => options.set_length(value),
            _ => options.set_zone(name, value),
        }
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, DateOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_date_options(DateKind::Date, options)
    }
}
