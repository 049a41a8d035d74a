//! What a built-in function is: a name, options, an operand, what it selects by, and how it resolves.

use core::fmt::Debug;

use jiff::Timestamp;

use super::option::BadOption;
use super::resolved::ResolvedValue;
use crate::function_context::FunctionContext;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;

/// A built-in function. Each has a file of its own and a line in the registry.
pub(in crate::message) trait Function {
    /// Its name in messages.
    const NAME: &'static str;

    /// The options of its own.
    const OPTIONS: &'static [&'static str];

    /// The options it shares with others of its kind.
    const SHARED_OPTIONS: &'static [&'static str] = &[];

    /// An option whose value is resolved like an operand, and not read as text.
    const VALUE_OPTION: Option<&'static str> = None;

    /// What it does with its operand.
    const OPERAND: ParameterKind;

    /// What the keys of variants are compared with.
    const SELECTS: Selects = Selects::Nothing;

    /// Its options, as far as they are known.
    type Options: Clone + Debug + PartialEq + 'static;

    /// The options before one is set.
    const NO_OPTIONS: Self::Options;

    /// Sets one option from its text.
    fn set(options: &mut Self::Options, name: &str, value: &str) -> Result<(), BadOption>;

    /// Whether an option may be given by a variable.
    fn takes_variable(_options: &mut Self::Options, _name: &str) -> bool {
        true
    }

    /// Applies the function to its operand.
    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, Self::Options>,
    ) -> Result<ResolvedValue<'a>, Refusal>;
}

/// One call of a function, with what has been resolved for it.
pub(in crate::message) struct Call<'c, 'a> {
    pub(in crate::message) operand: ResolvedValue<'a>,
    /// The value of the option that is resolved like an operand.
    pub(in crate::message) value: Option<ResolvedValue<'a>>,
    pub(in crate::message) context: &'c FunctionContext,
    /// The time that counts as now, where the caller has given one.
    pub(in crate::message) now: Option<&'c Timestamp>,
}

/// What a message does with a parameter.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "lowercase")]
#[non_exhaustive]
pub enum ParameterKind {
    /// It formats or selects by it as a number.
    Number,
    /// It formats or selects by it as a text.
    Text,
    /// It formats it as a date or a time.
    Date,
    /// It formats it as a time from now: a number of units, or a date.
    Relative,
    /// It formats it as a duration, or selects by it.
    Duration,
    /// It joins it.
    List,
    /// It says nothing about it.
    Any,
}

impl ParameterKind {
    /// Whether one value can be of both kinds.
    pub(crate) fn agrees(self, other: Self) -> bool {
        let takes = |one: Self, other: Self| match one {
            Self::Any => true,
            Self::Relative => matches!(other, Self::Number | Self::Date),
            Self::Duration => other == Self::Number,
            Self::Number | Self::Text | Self::Date | Self::List => false,
        };
        self == other || takes(self, other) || takes(other, self)
    }
}

/// What the keys of variants are compared with, for a value of a function.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::message) enum Selects {
    /// The text.
    Text,
    /// The number, and its plural category.
    Number,
    /// The plural category of a range.
    Range,
    /// The value cannot select.
    Nothing,
}
