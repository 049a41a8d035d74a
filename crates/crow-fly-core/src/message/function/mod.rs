//! The functions messages can use, by name, and their options.

pub(super) mod custom;
pub(super) mod date;
pub(super) mod number;
pub(super) mod unicode;
pub(super) mod words;

use date::{DateKind, DateOptions};
use number::{NumberKind, NumberOptions};
use words::{WordKind, WordOptions};

/// An option's value is not one of those it can have, or there is no such option.
pub(super) struct BadOption;

/// The value of a word among known ones.
fn one_of<T: Copy, const N: usize>(value: &str, known: [(&str, T); N]) -> Result<T, BadOption> {
    known.into_iter().find(|(word, _)| *word == value).map(|(_, value)| value).ok_or(BadOption)
}

/// A function that is built in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Function {
    Text,
    Number(NumberKind),
    Integer,
    Offset,
    Date(DateKind),
    Words(WordKind),
    Range,
}

impl Function {
    /// Every one, by name.
    pub(super) const ALL: [(&'static str, Self); 15] = [
        ("string", Self::Text),
        ("number", Self::Number(NumberKind::Plain)),
        ("integer", Self::Integer),
        ("percent", Self::Number(NumberKind::Percent)),
        ("offset", Self::Offset),
        ("currency", Self::Number(NumberKind::Currency)),
        ("unit", Self::Number(NumberKind::Unit)),
        ("date", Self::Date(DateKind::Date)),
        ("time", Self::Date(DateKind::Time)),
        ("datetime", Self::Date(DateKind::DateTime)),
        ("crow:compact", Self::Number(NumberKind::Compact)),
        ("crow:list", Self::Words(WordKind::List)),
        ("crow:relative", Self::Words(WordKind::Relative)),
        ("crow:name", Self::Words(WordKind::Name)),
        ("crow:range", Self::Range),
    ];

    /// The options it takes, beside those that every function takes.
    pub(super) const fn options(self) -> &'static [&'static str] {
        match self {
            Self::Text => &[],
            Self::Integer | Self::Number(NumberKind::Plain | NumberKind::Percent) => {
                number::with_digits!("select")
            }
            Self::Number(NumberKind::Currency) => {
                number::with_digits!("currency", "currencyDisplay", "currencySign", "fractionDigits")
            }
            Self::Number(NumberKind::Unit) => number::with_digits!("unit", "unitDisplay"),
            Self::Number(NumberKind::Compact) => number::with_digits!("width"),
            Self::Offset => &["add", "subtract"],
            Self::Date(DateKind::Date) => &["fields", "length", "timeZone", "hour12", "calendar"],
            Self::Date(DateKind::Time) => &["precision", "timeZoneStyle", "timeZone", "hour12", "calendar"],
            Self::Date(DateKind::DateTime) => &[
                "dateFields",
                "dateLength",
                "timePrecision",
                "timeZoneStyle",
                "timeZone",
                "hour12",
                "calendar",
            ],
            Self::Words(WordKind::List) => &["type", "width"],
            Self::Words(WordKind::Relative) => &["unit", "numeric", "width"],
            Self::Words(WordKind::Name) => &["type"],
            Self::Range => &["to"],
        }
    }

    /// What the keys of variants are compared with.
    pub(super) const fn selects(self) -> Selects {
        match self {
            Self::Text => Selects::Text,
            Self::Number(NumberKind::Plain | NumberKind::Percent | NumberKind::Compact)
            | Self::Integer
            | Self::Offset => Selects::Number,
            Self::Range => Selects::Range,
            Self::Number(NumberKind::Currency | NumberKind::Unit) | Self::Date(_) | Self::Words(_) => {
                Selects::Nothing
            }
        }
    }

    pub(super) fn named(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|(known, _)| *known == name).map(|(_, function)| function)
    }
}

/// What the keys of variants are compared with, for a value of a function.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Selects {
    /// The text.
    Text,
    /// The number, and its plural category.
    Number,
    /// The plural category of a range.
    Range,
    /// The value cannot select.
    Nothing,
}

/// The options of a function, as far as they are known before formatting.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Options {
    None,
    Number(NumberOptions),
    /// What `:offset` adds, and how many options say so.
    Offset(i64, u8),
    Date(DateKind, DateOptions),
    Words(WordKind, WordOptions),
}

impl Options {
    pub(super) fn of(function: Function) -> Self {
        match function {
            Function::Text | Function::Range => Self::None,
            Function::Number(kind) => Self::Number(NumberOptions::of(kind)),
            Function::Integer => Self::Number(NumberOptions::DEFAULT),
            Function::Offset => Self::Offset(0, 0),
            Function::Date(kind) => Self::Date(kind, DateOptions::default()),
            Function::Words(kind) => Self::Words(kind, WordOptions::default()),
        }
    }

    /// Sets one option from its text.
    pub(super) fn set(&mut self, name: &str, value: &str) -> Result<(), BadOption> {
        match self {
            Self::None => Err(BadOption),
            Self::Number(options) => options.set(name, value),
            Self::Offset(offset, count) => {
                let amount = i64::from(number::digits(value, 0, 99)?);
                let amount = match name {
                    "add" => amount,
                    "subtract" => -amount,
                    _ => return Err(BadOption),
                };
                (*offset, *count) = (amount, *count + 1);
                Ok(())
            }
            Self::Date(kind, options) => options.set(*kind, name, value),
            Self::Words(kind, options) => options.set(*kind, name, value),
        }
    }

    /// Whether an option may be given by a variable.
    pub(super) fn take_variable(&mut self, name: &str) -> bool {
        match self {
            Self::Number(options) => options.take_variable(name),
            _ => true,
        }
    }
}
