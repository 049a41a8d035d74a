//! Data-model errors: what the grammar allows and the standard refuses (UTS #35 part 9, "Data Model Errors").

use alloc::vec::Vec;

use super::names::SmallMap;
use crate::message::error::{MessageError, MessageErrorKind as Kind};
use crate::message::model::{
    Body, DeclarationKind, Element, Expression, Key, Message, Operand, Setting, Span,
};

pub(in crate::message) fn validate(message: &Message, errors: &mut Vec<MessageError>) {
    declarations(message, errors);
    repeated(message, errors);
    for expression in message.expressions() {
        if let Some(function) = &expression.function {
            options(&function.options, errors);
        }
    }
    for markup in message.markup() {
        options(&markup.options, errors);
    }
    if let Body::Match { selectors, variants } = &message.body {
        let annotated = annotated(message);
        for selector in selectors {
            if annotated.get(selector.name.as_str()).is_none() {
                errors.push(MessageError::new(Kind::MissingSelectorAnnotation, selector.span));
            }
        }
        let mut seen: SmallMap<&[Key], Span> = SmallMap::new();
        for variant in variants {
            if variant.keys.len() != selectors.len() {
                errors.push(MessageError::new(Kind::VariantKeyMismatch, variant.span));
            }
            if let Some(earlier) = seen.insert(&variant.keys, variant.span) {
                errors.push(MessageError::new(Kind::DuplicateVariant, variant.span).with_related(earlier));
            }
        }
        let falls_back = variants.iter().any(|variant| variant.keys.iter().all(|key| *key == Key::Any));
        if !falls_back && !variants.is_empty() {
            let span = selectors.first().map_or(Span::default(), |selector| selector.span);
            errors.push(MessageError::new(Kind::MissingFallbackVariant, span));
        }
    }
    errors.sort_by_key(|error| (error.span().start, error.span().end));
}

/// Each variable is declared once, and not used before.
fn declarations(message: &Message, errors: &mut Vec<MessageError>) {
    let mut taken: SmallMap<&str, Span> = SmallMap::new();
    for declaration in &message.declarations {
        let counts_operand = declaration.kind == DeclarationKind::Local;
        let used = || variables(&declaration.value, counts_operand);
        // An `.input` may not use its own variable in its options, nor a `.local` itself.
        if used().any(|name| declaration.name == name) {
            errors.push(MessageError::new(Kind::DuplicateDeclaration, declaration.span));
        } else if let Some(earlier) = taken.get(declaration.name.as_str()) {
            errors
                .push(MessageError::new(Kind::DuplicateDeclaration, declaration.span).with_related(*earlier));
        }
        for name in used() {
            if taken.get(name).is_none() {
                taken.insert(name, declaration.value.span);
            }
        }
        if taken.get(declaration.name.as_str()).is_none() {
            taken.insert(&declaration.name, declaration.span);
        }
    }
}

/// What a pattern shows of the message's own texts, each as often as it is shown, is no longer than a message may be:
/// otherwise a short message could be hundreds of megabytes.
fn repeated(message: &Message, errors: &mut Vec<MessageError>) {
    let locals = message.declarations.iter().filter(|declaration| declaration.kind == DeclarationKind::Local);
    let mut lengths: SmallMap<&str, usize> = SmallMap::new();
    for local in locals {
        let length = match &local.value.operand {
            Some(Operand::Literal(text)) => text.len(),
            Some(Operand::Variable(name)) => lengths.get(name.as_str()).copied().unwrap_or(0),
            None => 0,
        };
        lengths.insert(local.name.as_str(), length);
    }
    if lengths.is_empty() {
        return;
    }
    let length = |name: &str| lengths.get(name).copied().unwrap_or(0);
    for pattern in message.patterns() {
        let mut shown = 0_usize;
        for element in pattern {
            let (more, span): (usize, Span) = match element {
                Element::Text(_) => continue,
                Element::Expression(expression) => {
                    (variables(expression, true).map(length).sum(), expression.span)
                }
                Element::Markup(markup) => {
                    let values = markup.options.iter().map(|option| &option.value);
                    (values.filter_map(variable).map(length).sum(), markup.span)
                }
            };
            shown = shown.saturating_add(more);
            if shown > Message::MAX_LENGTH {
                errors.push(MessageError::new(Kind::RepeatedText, span));
                break;
            }
        }
    }
}

/// The variables an expression uses: those of its options, and its operand where that counts.
fn variables(expression: &Expression, with_operand: bool) -> impl Iterator<Item = &str> {
    let operand = expression.operand.iter().filter(move |_| with_operand);
    let options =
        expression.function.iter().flat_map(|function| &function.options).map(|option| &option.value);
    operand.chain(options).filter_map(variable)
}

/// The variable that a value is.
fn variable(value: &Operand) -> Option<&str> {
    match value {
        Operand::Variable(name) => Some(name.as_str()),
        Operand::Literal(_) => None,
    }
}

fn options(options: &[Setting], errors: &mut Vec<MessageError>) {
    if options.len() < 2 {
        return;
    }
    let mut seen: SmallMap<&str, Span> = SmallMap::new();
    for option in options {
        if let Some(earlier) = seen.insert(&option.name, option.span) {
            errors.push(MessageError::new(Kind::DuplicateOptionName, option.span).with_related(earlier));
        }
    }
}

/// The variables that reach a function through their declarations, each of which refers to an earlier one.
fn annotated(message: &Message) -> SmallMap<&str, ()> {
    let mut annotated = SmallMap::new();
    for declaration in &message.declarations {
        let from_other = match &declaration.value.operand {
            Some(Operand::Variable(other)) if declaration.kind == DeclarationKind::Local => {
                annotated.get(other.as_str()).is_some()
            }
            _ => false,
        };
        if declaration.value.function.is_some() || from_other {
            annotated.insert(declaration.name.as_str(), ());
        }
    }
    annotated
}
