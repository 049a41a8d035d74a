//! What each selector of a message compares its keys with, as far as its source tells.

use super::function::definition::Selects;
use super::function::registry::BuiltIn;
use super::function::unicode;
use super::model::{Declaration, Element, Expression, Function, Message, Operand, Pattern, Selector};
use crate::number::PluralType;

/// What a selector compares its keys with.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum SelectedBy {
    /// A number, and its plural category.
    Plural(PluralType),
    /// A number only.
    Exact,
    /// The plural category of a range.
    Range,
    /// A text.
    Text,
    /// What only formatting can tell: a function of the application's own, another locale, an option given by a variable.
    Unknown,
}

impl Message {
    /// What a selector compares its keys with.
    pub(crate) fn selected_by(&self, selector: &str) -> SelectedBy {
        let mut found = None;
        for declaration in self.origins(selector) {
            let Some(function) = &declaration.value.function else { continue };
            let selects = BuiltIn::named(&function.name).map(|function| function.selects());
            match (selects, select_option(function)) {
                // The options of the operand hold where the function says nothing.
                (Some(Selects::Number), None) if !in_other_locale(function) => {
                    found = Some(SelectedBy::Plural(PluralType::Cardinal));
                }
                (Some(Selects::Number), Some(Operand::Literal(select))) if !in_other_locale(function) => {
                    return match select.as_str() {
                        "plural" => SelectedBy::Plural(PluralType::Cardinal),
                        "ordinal" => SelectedBy::Plural(PluralType::Ordinal),
                        "exact" => SelectedBy::Exact,
                        _ => SelectedBy::Unknown,
                    };
                }
                (Some(Selects::Range), _) if found.is_none() && !in_other_locale(function) => {
                    return SelectedBy::Range;
                }
                (Some(Selects::Text), _) if found.is_none() => return SelectedBy::Text,
                // A number made from a text, an amount or a date has no `select` of it.
                (Some(_), _) => break,
                (None, _) => return SelectedBy::Unknown,
            }
        }
        found.unwrap_or(SelectedBy::Unknown)
    }

    /// Whether a pattern shows a variable, or one made from the same argument.
    pub(crate) fn shows(&self, pattern: &Pattern, selector: &str) -> bool {
        let origin = self.origin(selector);
        pattern.iter().any(|element| match element {
            Element::Expression(Expression { operand: Some(Operand::Variable(name)), .. }) => {
                self.origin(name) == origin
            }
            _ => false,
        })
    }

    /// The literal that a variable stands for, where it is declared as one, without a function.
    pub(crate) fn literal_of<'m>(&'m self, variable: &'m str) -> Option<&'m str> {
        let mut declarations = self.origins(variable);
        let last = self.origins(variable).last()?;
        match &last.value.operand {
            Some(Operand::Literal(value)) if declarations.all(|one| one.value.function.is_none()) => {
                Some(value)
            }
            _ => None,
        }
    }

    /// Whether a pattern shows the value of a selector itself, and not only what another selector has made of it.
    pub(crate) fn shows_itself(&self, pattern: &Pattern, selector: &str, others: &[Selector]) -> bool {
        let is_other = |name: &str| name != selector && others.iter().any(|other| other.name == name);
        let origin = self.origin(selector);
        pattern.iter().any(|element| match element {
            Element::Expression(Expression { operand: Some(Operand::Variable(name)), .. }) => {
                let mut made_from = self.origins(name).map(|one| one.name.as_str());
                self.origin(name) == origin && !made_from.any(is_other)
            }
            _ => false,
        })
    }

    /// The declarations a variable comes from, its own first.
    fn origins<'m>(&'m self, variable: &'m str) -> impl Iterator<Item = &'m Declaration> {
        let mut wanted = Some(variable);
        self.declarations.iter().rev().filter(move |declaration| {
            let matches = wanted == Some(declaration.name.as_str());
            if matches {
                wanted = variable_of(&declaration.value);
            }
            matches
        })
    }

    /// The argument that a variable is made from.
    pub(crate) fn argument_of<'m>(&'m self, variable: &'m str) -> &'m str {
        self.origin(variable)
    }

    /// The variable at the beginning of a variable's declarations: an argument, or a local value.
    fn origin<'m>(&'m self, variable: &'m str) -> &'m str {
        let last = self.origins(variable).last();
        last.map_or(variable, |last| variable_of(&last.value).unwrap_or(&last.name))
    }
}

fn variable_of(expression: &Expression) -> Option<&str> {
    match &expression.operand {
        Some(Operand::Variable(name)) => Some(name),
        _ => None,
    }
}

fn select_option(function: &Function) -> Option<&Operand> {
    function.options.iter().find(|option| option.name == "select").map(|option| &option.value)
}

fn in_other_locale(function: &Function) -> bool {
    function.options.iter().any(|option| option.name == unicode::LOCALE)
}
