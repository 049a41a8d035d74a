//! The parameters of a message as fields.

use std::collections::BTreeSet;

use crow_fly_core::message::ParameterKind;
use crow_fly_core::message::model::{Body, Expression, Key, Message, Operand};

use crate::name::camel;

/// A parameter.
#[derive(Clone, Debug)]
pub(crate) struct Field {
    /// Its name in the message.
    pub(crate) parameter: String,
    /// Its name in Rust.
    pub(crate) name: String,
    pub(crate) kind: FieldKind,
}

/// What a field takes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum FieldKind {
    Number,
    Amount,
    Text,
    Date,
    Relative,
    Duration,
    List,
    Bool,
    /// One of some keys: each as the message has it, and as a variant.
    Choice(Vec<(String, String)>),
    Any,
}

impl FieldKind {
    /// The kind of a parameter.
    pub(crate) fn of(message: &Message, parameter: &str, kind: ParameterKind) -> Self {
        match kind {
            ParameterKind::Number if needs_currency(message, parameter) => Self::Amount,
            ParameterKind::Number => Self::Number,
            ParameterKind::Text => Self::of_keys(&keys(message, parameter)),
            ParameterKind::Date => Self::Date,
            ParameterKind::Relative => Self::Relative,
            ParameterKind::Duration => Self::Duration,
            ParameterKind::List => Self::List,
            _ => Self::Any,
        }
    }

    /// What a text is that is selected by these keys.
    fn of_keys(keys: &BTreeSet<&str>) -> Self {
        if keys.is_empty() {
            return Self::Text;
        }
        if keys.iter().all(|key| matches!(*key, "true" | "false")) {
            return Self::Bool;
        }
        let mut variants = Vec::new();
        // `other` is what `Other` is for.
        for key in keys.iter().filter(|key| **key != "other") {
            match camel(key) {
                Ok(name) if name != "Other" && !variants.iter().any(|(_, known)| *known == name) => {
                    variants.push(((*key).to_owned(), name));
                }
                // Keys that are no names: a text says them all.
                _ => return Self::Text,
            }
        }
        Self::Choice(variants)
    }

    /// The trait that marks what the field takes.
    pub(crate) const fn marker(&self) -> Option<&'static str> {
        match self {
            Self::Number => Some("Number"),
            Self::Amount => Some("Amount"),
            Self::Text => Some("Text"),
            Self::Date => Some("Date"),
            Self::Relative => Some("Relative"),
            Self::Duration => Some("Duration"),
            Self::List => Some("List"),
            Self::Bool | Self::Choice(_) | Self::Any => None,
        }
    }

    /// Whether the field's type is a parameter of the message's type.
    pub(crate) const fn is_generic(&self) -> bool {
        !matches!(self, Self::Bool | Self::Choice(_))
    }

    /// What the documentation of a field says.
    pub(crate) const fn text(&self) -> &'static str {
        match self {
            Self::Number => "a number",
            Self::Amount => "an amount of money",
            Self::Text => "a text",
            Self::Date => "a date or a time",
            Self::Relative => "a number or a date",
            Self::Duration => "a duration",
            Self::List => "a list",
            Self::Bool => "yes or no",
            Self::Choice(_) => "one of some words",
            Self::Any => "any value",
        }
    }
}

fn is_operand(expression: &Expression, parameter: &str) -> bool {
    matches!(&expression.operand, Some(Operand::Variable(name)) if name == parameter)
}

/// Whether the message formats a parameter as money and does not say in which currency.
fn needs_currency(message: &Message, parameter: &str) -> bool {
    message.expressions().filter(|expression| is_operand(expression, parameter)).any(|expression| {
        expression.function.as_ref().is_some_and(|function| {
            function.name == "currency" && !function.options.iter().any(|option| option.name == "currency")
        })
    })
}

/// The keys that a parameter, as a text, is compared with.
fn keys<'m>(message: &'m Message, parameter: &str) -> BTreeSet<&'m str> {
    let Body::Match { selectors, variants } = &message.body else { return BTreeSet::new() };
    let declared = message.declarations.iter().filter(|declaration| {
        let expression = &declaration.value;
        is_operand(expression, parameter)
            && expression.function.as_ref().is_some_and(|function| function.name == "string")
    });
    let columns: Vec<usize> = declared
        .filter_map(|declaration| selectors.iter().position(|selector| selector.name == declaration.name))
        .collect();
    let in_columns =
        |keys: &'m [Key]| columns.iter().filter_map(|column| keys.get(*column)).collect::<Vec<_>>();
    let keys = variants.iter().flat_map(|variant| in_columns(&variant.keys));
    keys.filter_map(|key| if let Key::Literal(key) = key { Some(key.as_str()) } else { None }).collect()
}
