//! Plural forms: which ones a language needs and a text lacks, and which can never be said.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;
use core::ops::Range;

use crate::finding::Severity;
use crate::message::Message;
use crate::message::model::{Body, Function, Key, Operand};
use crate::number::{Category, PluralRules, PluralType};
use crate::tag::LanguageTag;

/// Reports the forms of each column that selects by a plural category.
pub(super) fn forms(
    message: &Message,
    tag: &LanguageTag,
    mut report: impl FnMut(Range<usize>, &'static str, Severity, String, String),
) {
    let Body::Match { selectors, variants } = &message.body else { return };
    for (column, selector) in selectors.iter().enumerate() {
        let Some(plural_type) = plural_type(message, &selector.name) else { continue };
        let rules = PluralRules::of(tag, plural_type);
        let keys: Vec<&Key> = variants.iter().filter_map(|variant| variant.keys.get(column)).collect();
        let named: BTreeSet<Category> =
            keys.iter().filter_map(|key| literal(key)).filter_map(Category::from_keyword).collect();
        // A text that only tells numbers apart exactly asks for no category.
        if named.is_empty() && !keys.iter().any(|key| literal(key).is_none()) {
            continue;
        }
        let exact: BTreeSet<&str> = keys.iter().filter_map(|key| literal(key)).collect();
        for category in
            rules.categories().filter(|category| *category != Category::Other && !named.contains(category))
        {
            let samples = rules.samples(category);
            if covered(samples, &exact) {
                continue;
            }
            let large = first_sample(samples).is_some_and(|first| first >= 1_000_000);
            let severity = if large { Severity::Note } else { Severity::Warning };
            let text =
                format!("`{tag}` has a form `{category}` for ${}, and the text has none", selector.name);
            let help = format!("add a variant `{category}`: it is said of {}", examples(samples));
            report(selector.span.range(), "missing-plural-form", severity, text, help);
        }
        for variant in variants {
            let Some(category) = variant.keys.get(column).and_then(literal).and_then(Category::from_keyword)
            else {
                continue;
            };
            if !rules.categories().any(|known| known == category) {
                let known: Vec<&str> = rules.categories().map(Category::as_str).collect();
                let text = format!("`{tag}` has no form `{category}`: this variant is never said");
                let help = format!("its forms are {}", known.join(", "));
                report(variant.span.range(), "unused-plural-form", Severity::Warning, text, help);
            }
        }
    }
}

fn literal(key: &Key) -> Option<&str> {
    match key {
        Key::Literal(text) => Some(text),
        Key::Any => None,
    }
}

/// How a selector counts: by the nearest function on the way through its declarations.
fn plural_type(message: &Message, name: &str) -> Option<PluralType> {
    let mut name = name.to_owned();
    for declaration in message.declarations.iter().rev() {
        if declaration.name != name {
            continue;
        }
        if let Some(function) = &declaration.value.function {
            return number_select(function);
        }
        if let Some(Operand::Variable(next)) = &declaration.value.operand {
            name.clone_from(next);
        }
    }
    None
}

fn number_select(function: &Function) -> Option<PluralType> {
    if !matches!(function.name.as_str(), "number" | "integer") {
        return None;
    }
    let select = function.options.iter().find(|option| option.name == "select").map(|option| &option.value);
    match select {
        None => Some(PluralType::Cardinal),
        Some(Operand::Literal(value)) if value == "plural" => Some(PluralType::Cardinal),
        Some(Operand::Literal(value)) if value == "ordinal" => Some(PluralType::Ordinal),
        Some(_) => None,
    }
}

/// The whole-number samples: `1, 21~24, …` without the mark.
fn whole(samples: &str) -> &str {
    let whole = samples.split("@decimal").next().unwrap_or_default();
    whole.trim().trim_start_matches("@integer").trim()
}

/// Whether the category is only said of a few whole numbers, and each of them has a key of its own.
fn covered(samples: &str, exact: &BTreeSet<&str>) -> bool {
    let whole = whole(samples);
    !whole.is_empty()
        && !whole.contains(['…', '~'])
        && whole.split(',').all(|sample| exact.contains(sample.trim()))
}

fn first_sample(samples: &str) -> Option<u64> {
    whole(samples).split([',', '~']).next()?.trim().parse().ok()
}

/// A few samples for people, fractions where there are no whole numbers.
fn examples(samples: &str) -> String {
    let whole = whole(samples);
    let shown = if whole.is_empty() { samples.trim().trim_start_matches("@decimal").trim() } else { whole };
    let some: Vec<&str> = shown.split(',').map(str::trim).take(5).collect();
    some.join(", ").replace('~', "–")
}
