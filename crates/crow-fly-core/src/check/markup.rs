//! Markup: whether it is closed, safe, and the same as in the default locale.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::format;
use alloc::string::ToString;
use alloc::vec::Vec;

use super::parsed::Place;
use crate::message::model::{Element, Markup, MarkupKind, Operand, Pattern, Setting};
use crate::message::{MarkupTag, Message};
use crate::rule::Rule;
use crate::suggest::nearest;

fn markup(pattern: &Pattern) -> impl Iterator<Item = &Markup> {
    pattern.iter().filter_map(|element| match element {
        Element::Markup(markup) => Some(markup),
        _ => None,
    })
}

/// Checks the markup of a message by itself.
pub(super) fn alone(place: &mut Place<'_, '_>, message: &Message) {
    for pattern in message.patterns() {
        nesting(place, pattern);
        for tag in markup(pattern) {
            safety(place, message, tag);
        }
    }
}

/// Whether what is opened is closed, in order.
fn nesting(place: &mut Place<'_, '_>, pattern: &Pattern) {
    let mut open: Vec<&Markup> = Vec::new();
    for tag in markup(pattern) {
        match tag.kind {
            MarkupKind::Open => open.push(tag),
            MarkupKind::Standalone => {}
            MarkupKind::Close => match open.iter().rposition(|opened| opened.name == tag.name) {
                Some(at) if at + 1 == open.len() => drop(open.pop()),
                Some(at) => {
                    let inner = open.last().map_or("", |inner| inner.name.as_str());
                    place.find_at(Rule::CrossedMarkup, tag.span.range(), || {
                        (
                            format!("`{}` is closed while `{inner}` in it is open", tag.name),
                            format!("close `{inner}` first: `{{/{inner}}}`"),
                        )
                    });
                    open.remove(at);
                }
                None => place.find_at(Rule::UnbalancedMarkup, tag.span.range(), || {
                    (
                        format!("`{}` is closed and was not opened", tag.name),
                        format!("open it before: `{{#{}}}`", tag.name),
                    )
                }),
            },
        }
    }
    for tag in open {
        place.find_at(Rule::UnbalancedMarkup, tag.span.range(), || {
            let name = &tag.name;
            let help =
                if name == "br" { "write `{#br /}`".to_owned() } else { format!("close it: `{{/{name}}}`") };
            (format!("`{name}` is opened and not closed"), help)
        });
    }
}

fn safety(place: &mut Place<'_, '_>, message: &Message, tag: &Markup) {
    let is_known = MarkupTag::is_element(&tag.name) || place.settings.has_markup(&tag.name);
    if !is_known && tag.kind != MarkupKind::Close {
        place.find_at(Rule::UnknownMarkup, tag.span.range(), || {
            let known = MarkupTag::elements().map(str::to_owned);
            let help = nearest(&tag.name, known).map_or_else(
                || "name it in `markup` of `[check]` where the application defines it".to_owned(),
                |near| format!("did you mean `{near}`?"),
            );
            (format!("markup `{}` is not let through, and the application names no such", tag.name), help)
        });
    }
    for option in tag.options.iter().filter(|option| !option.name.starts_with("u:")) {
        let value = match &option.value {
            Operand::Literal(value) => Some(value.as_str()),
            Operand::Variable(name) => message.literal_of(name),
        };
        let lets_through = |value| MarkupTag::lets_through(&tag.name, &option.name, value);
        // What is not known here is decided when the text is formatted: it is enough that there are values that go.
        if value.map_or_else(|| lets_through("") || lets_through("/"), lets_through) {
            continue;
        }
        let value = value.unwrap_or_default();
        let is_address = MarkupTag::lets_through(&tag.name, &option.name, "/");
        let rule = if is_address { Rule::UnsafeAddress } else { Rule::UnsafeAttribute };
        place.find_at(rule, option.span.range(), || {
            let (name, element) = (&option.name, &tag.name);
            if is_address {
                (
                    format!("`{name}` leads to `{value}`, which is not let through"),
                    "lead to a path or a web address".to_owned(),
                )
            } else {
                (format!("`{name}` of `{element}` is not let through"), "delete it".to_owned())
            }
        });
    }
}

/// The names of what is opened or stands alone in a pattern.
fn names(pattern: &Pattern) -> BTreeSet<&str> {
    markup(pattern).filter(|tag| tag.kind != MarkupKind::Close).map(|tag| tag.name.as_str()).collect()
}

/// Compares the markup of a message with the default locale's.
pub(super) fn beside(place: &mut Place<'_, '_>, message: &Message, reference: &Message) {
    if message.markup().next().is_none() && reference.markup().next().is_none() {
        return;
    }
    let mut patterns = reference.patterns().map(names);
    let first = patterns.next().unwrap_or_default();
    let (in_all, in_any) = patterns.fold((first.clone(), first), |(all, any), names| {
        (all.intersection(&names).copied().collect(), any.union(&names).copied().collect())
    });
    options(place, message, reference);
    for pattern in message.patterns() {
        let own = names(pattern);
        let missing: BTreeSet<&str> = in_all.difference(&own).copied().collect();
        let mut meant = BTreeSet::new();
        for name in own.difference(&in_any) {
            let near = nearest(name, missing.iter().map(ToString::to_string));
            // Where one is missing and one is surplus, they are meant to be the same.
            let is_only = missing.len() == 1 && own.difference(&in_any).count() == 1;
            let only = || missing.first().filter(|_| is_only).map(ToString::to_string);
            let near = near.or_else(only);
            let tag = markup(pattern).find(|tag| tag.name == *name);
            let help = near.as_ref().map_or_else(
                || "delete it, or add it to the default locale".to_owned(),
                |near| format!("did you mean `{near}`?"),
            );
            meant.extend(near);
            let range = tag.map_or(0..0, |tag| tag.span.range());
            place.find_at(Rule::SurplusMarkup, range, || {
                (format!("the default locale has no markup `{name}`"), help)
            });
        }
        for name in missing.into_iter().filter(|name| !meant.contains(*name)) {
            place.find(Rule::MissingMarkup, || {
                (
                    format!("markup `{name}` of the default locale is not there"),
                    format!("write `{{#{name}}}…{{/{name}}}`"),
                )
            });
        }
    }
}

/// Options that all markup of a name has in the default locale, and that are not arguments: those are told as parameters.
fn options(place: &mut Place<'_, '_>, message: &Message, reference: &Message) {
    let opens = |tag: &&Markup| tag.kind != MarkupKind::Close;
    for tag in message.markup().filter(opens) {
        let same = || reference.markup().filter(opens).filter(|other| other.name == tag.name);
        let Some(first) = same().next() else { continue };
        let has = |tag: &Markup, name: &str| tag.options.iter().any(|option| option.name == name);
        let is_literal = |option: &&Setting| matches!(option.value, Operand::Literal(_));
        let lost =
            |option: &&Setting| !has(tag, &option.name) && same().all(|other| has(other, &option.name));
        for option in first.options.iter().filter(is_literal).filter(lost) {
            place.find_at(Rule::MissingMarkupOption, tag.span.range(), || {
                (
                    format!("`{}` of `{}` is not there; the default locale has it", option.name, tag.name),
                    format!("write `{}={}`", option.name, option.value),
                )
            });
        }
    }
}
