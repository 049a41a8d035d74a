//! `:datetime` (UTS #35 part 9): the date and the time of a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en-GB".parse()?);
//! let program = Program::compile(&Message::parse("{$t :datetime dateLength=short}")?);
//! assert_eq!(program.format(&context, &args! { t: "2026-03-01T17:45:10" }).text(), "01/03/2026, 17:45");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use super::temporal::{DateKind, DateOptions, ZONE_OPTIONS};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct DateTime;

impl Function for DateTime {
    const NAME: &'static str = "datetime";
    const OPTIONS: &'static [&'static str] = &["dateFields", "dateLength", "timePrecision", "timeZoneStyle"];
    const SHARED_OPTIONS: &'static [&'static str] = ZONE_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Date;
    type Options = DateOptions;
    const NO_OPTIONS: DateOptions = DateOptions::DEFAULT;

    fn set(options: &mut DateOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "dateFields" => options.set_fields(value),
            "dateLength" => options.set_length(value),
            "timePrecision" => options.set_precision(value),
            "timeZoneStyle" => options.set_zone_style(value),
            _ => options.set_zone(name, value),
        }
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, DateOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_date_options(DateKind::DateTime, options)
    }
}
