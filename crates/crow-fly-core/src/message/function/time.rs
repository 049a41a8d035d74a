//! `:time` (UTS #35 part 9): the time of a time or a moment.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en-GB".parse()?);
//! let program = Program::compile(&Message::parse("{$t :time precision=second}")?);
//! assert_eq!(program.format(&context, &args! { t: "17:45:10" }).text(), "17:45:10");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::option::BadOption;
use super::resolved::ResolvedValue;
use super::temporal::{DateKind, DateOptions, ZONE_OPTIONS};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Time;

impl Function for Time {
    const NAME: &'static str = "time";
    const OPTIONS: &'static [&'static str] = &["precision", "timeZoneStyle"];
    const SHARED_OPTIONS: &'static [&'static str] = ZONE_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Date;
    type Options = DateOptions;
    const NO_OPTIONS: DateOptions = DateOptions::DEFAULT;

    fn set(options: &mut DateOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "precision" => options.set_precision(value),
            "timeZoneStyle" => options.set_zone_style(value),
            _ => options.set_zone(name, value),
        }
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, DateOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_date_options(DateKind::Time, options)
    }
}
