//! `:currency` (UTS #35 part 9): an amount of money. The currency comes by an option or with the value.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$fare :currency currency=PLN currencyDisplay=code}")?);
//! assert_eq!(program.format(&context, &args! { fare: 12.5 }).text(), "PLN\u{a0}12.50");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use super::definition::{Call, Function, ParameterKind};
use super::numeric::{DIGIT_OPTIONS, NumberKind, NumberOptions};
use super::option::{BadOption, digits, one_of};
use super::resolved::ResolvedValue;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::{Currency, CurrencyDisplay};

pub(in crate::message) struct CurrencyFunction;

impl Function for CurrencyFunction {
    const NAME: &'static str = "currency";
    const OPTIONS: &'static [&'static str] =
        &["currency", "currencyDisplay", "currencySign", "fractionDigits"];
    const SHARED_OPTIONS: &'static [&'static str] = DIGIT_OPTIONS;
    const OPERAND: ParameterKind = ParameterKind::Number;
    type Options = NumberOptions;
    const NO_OPTIONS: NumberOptions = NumberOptions::of(NumberKind::Currency);

    fn set(options: &mut NumberOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "currency" => {
                options.currency = Some(Currency::read(value).ok_or_else(|| {
                    BadOption::not("the three letters of a currency's ISO 4217 code, such as `EUR`")
                })?);
            }
            "currencyDisplay" => {
                let known = [
                    ("symbol", CurrencyDisplay::Symbol),
                    ("narrowSymbol", CurrencyDisplay::Narrow),
                    ("formalSymbol", CurrencyDisplay::Symbol),
                    ("code", CurrencyDisplay::Code),
                    ("name", CurrencyDisplay::Name),
                    ("never", CurrencyDisplay::Never),
                ];
                options.display = Some(one_of(value, known)?);
            }
            "currencySign" => {
                options.accounting = Some(one_of(value, [("standard", false), ("accounting", true)])?);
            }
            "fractionDigits" if value == "auto" => {
                (options.least_fraction, options.most_fraction) = (None, None);
            }
            "fractionDigits" => {
                let digits = Some(digits(value, 0, 100)?);
                (options.least_fraction, options.most_fraction) = (digits, digits);
            }
            _ => options.set_digits(name, value)?,
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, NumberOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        call.operand.with_number_options(options)
    }
}
