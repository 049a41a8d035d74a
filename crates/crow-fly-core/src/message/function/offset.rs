//! `:offset` (UTS #35 part 9): a number plus or minus a small one. The options of its operand stay.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse(".input {$n :number} .local $others = {$n :offset subtract=1} {{You and {$others} others}}")?);
//! assert_eq!(program.format(&context, &args! { n: 3 }).text(), "You and 2 others");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::boxed::Box;

use super::definition::{Call, Function, ParameterKind, Selects};
use super::numeric::NumericValue;
use super::option::{BadOption, digits};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

pub(in crate::message) struct Offset;

/// What is added, and how many options say so.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(in crate::message) struct OffsetOptions {
    amount: i64,
    given: u8,
}

impl Function for Offset {
    const NAME: &'static str = "offset";
    const OPTIONS: &'static [&'static str] = &["add", "subtract"];
    const OPERAND: ParameterKind = ParameterKind::Number;
    const SELECTS: Selects = Selects::Number;
    type Options = OffsetOptions;
    const NO_OPTIONS: OffsetOptions = OffsetOptions { amount: 0, given: 0 };

    fn set(options: &mut OffsetOptions, name: &str, value: &str) -> Result<(), BadOption> {
        let amount = i64::from(digits(value, 0, 99)?);
        options.amount = match name {
            "add" => amount,
            "subtract" => -amount,
            _ => return Err(BadOption::Unknown),
        };
        options.given = options.given.saturating_add(1);
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, OffsetOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let (number, inherited) = call.operand.into_number()?;
        // Exactly one of its two options.
        if options.given != 1 {
            return Err(Refusal::option("one of `add=…` and `subtract=…`, and not both"));
        }
        let sum = match number {
            NumericValue::Integer(number) => number.checked_add(options.amount).map(NumericValue::Integer),
            _ => None,
        };
        let sum = sum.unwrap_or_else(|| {
            NumericValue::Owned(Box::new(number.to_decimal().plus(&options.amount.into())))
        });
        Ok(ResolvedValue::Number(sum, inherited))
    }
}
