//! The registry of built-in functions: one line each.

use alloc::borrow::Cow;
use alloc::boxed::Box;

use super::compact::Compact;
use super::currency::CurrencyFunction;
use super::date::Date;
use super::datetime::DateTime;
use super::definition::{Call, Function, ParameterKind, Selects};
use super::duration::Duration;
use super::fields::Fields;
use super::integer::Integer;
use super::list::List;
use super::name::Name;
use super::number::Number;
use super::numeric::NumberOptions;
use super::offset::Offset;
use super::option::{BadOption, listed};
use super::percent::Percent;
use super::range::Range;
use super::relative::Relative;
use super::resolved::ResolvedValue;
use super::string::StringFunction;
use super::temporal::{DateKind, DateOptions};
use super::time::Time;
use super::unit::UnitFunction;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

/// Makes the enum of functions, each with its options, and hands every question on to the function.
macro_rules! registry {
    ($($function:ident: $name:ident),* $(,)?) => {
        /// A built-in function, and its options as far as they are known.
        #[derive(Clone, Debug, PartialEq)]
        pub(in crate::message) enum BuiltIn {
            $($name(<$function as Function>::Options),)*
        }

        impl BuiltIn {
            /// The names of all functions.
            pub(in crate::message) const NAMES: &'static [&'static str] = &[$($function::NAME),*];

            /// The function of a name, without options.
            pub(in crate::message) fn named(name: &str) -> Option<Self> {
                $(if name == $function::NAME {
                    return Some(Self::$name($function::NO_OPTIONS));
                })*
                None
            }

            /// Its name.
            pub(in crate::message) const fn name(&self) -> &'static str {
                match self {
                    $(Self::$name(_) => $function::NAME,)*
                }
            }

            /// The options it takes, beside those that every function takes.
            pub(in crate::message) fn options(&self) -> impl Iterator<Item = &'static str> + use<> {
                let (own, shared) = match self {
                    $(Self::$name(_) => ($function::OPTIONS, $function::SHARED_OPTIONS),)*
                };
                own.iter().chain(shared).copied()
            }

            /// The option whose value is resolved like an operand.
            pub(in crate::message) const fn value_option(&self) -> Option<&'static str> {
                match self {
                    $(Self::$name(_) => $function::VALUE_OPTION,)*
                }
            }

            /// What it does with its operand.
            pub(in crate::message) const fn operand(&self) -> ParameterKind {
                match self {
                    $(Self::$name(_) => $function::OPERAND,)*
                }
            }

            /// What the keys of variants are compared with.
            pub(in crate::message) const fn selects(&self) -> Selects {
                match self {
                    $(Self::$name(_) => $function::SELECTS,)*
                }
            }

            /// Sets one option from its text.
            pub(in crate::message) fn set(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
                match self {
                    $(Self::$name(options) => $function::set(options, name, value),)*
                }
            }

            /// Whether an option may be given by a variable.
            pub(in crate::message) fn takes_variable(&mut self, name: &str) -> bool {
                match self {
                    $(Self::$name(options) => $function::takes_variable(options, name),)*
                }
            }

            /// Applies the function.
            pub(in crate::message) fn resolve<'a>(
                &'a self,
                call: Call<'_, 'a>,
            ) -> Result<ResolvedValue<'a>, Refusal> {
                match self {
                    $(Self::$name(options) => $function::resolve(call, MaybeOwned::Borrowed(options)),)*
                }
            }

            /// Applies the function with options that were made for this call.
            pub(in crate::message) fn resolve_owned<'a>(
                self,
                call: Call<'_, 'a>,
            ) -> Result<ResolvedValue<'a>, Refusal> {
                match self {
                    $(Self::$name(options) => $function::resolve(call, MaybeOwned::Owned(Box::new(options))),)*
                }
            }
        }
    };
}

registry! {
    StringFunction: String,
    Number: Number,
    Integer: Integer,
    Percent: Percent,
    Offset: Offset,
    CurrencyFunction: Currency,
    UnitFunction: Unit,
    Date: Date,
    Time: Time,
    DateTime: DateTime,
    Fields: Fields,
    Compact: Compact,
    List: List,
    Relative: Relative,
    Duration: Duration,
    Name: Name,
    Range: Range,
}

impl BuiltIn {
    /// What an error says of an option that the function does not have.
    pub(in crate::message) fn known(&self) -> Cow<'static, str> {
        listed(self.options()).into()
    }

    /// The options of a function that shows numbers.
    pub(in crate::message) const fn number_options(&self) -> Option<&NumberOptions> {
        match self {
            Self::Number(options)
            | Self::Integer(options)
            | Self::Percent(options)
            | Self::Currency(options)
            | Self::Unit(options)
            | Self::Compact(options) => Some(options),
            _ => None,
        }
    }

    /// The options of a function that shows dates, and which of them it is.
    pub(in crate::message) const fn date_options(&self) -> Option<(DateKind, &DateOptions)> {
        match self {
            Self::Date(options) | Self::Fields(options) => Some((DateKind::Date, options)),
            Self::Time(options) => Some((DateKind::Time, options)),
            Self::DateTime(options) => Some((DateKind::DateTime, options)),
            _ => None,
        }
    }
}
