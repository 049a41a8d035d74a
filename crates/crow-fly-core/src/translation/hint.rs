//! What translators are told about a form, and about what stands in braces.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use super::forms::MOST_VARIANTS;
use crate::message::model::{Body, Element, Key, Selector};
use crate::message::{Message, ParameterKind, SelectedBy};
use crate::number::{Category, PluralRules, PluralType};
use crate::tag::LanguageTag;

/// How many numbers are shown of a form.
const SHOWN: usize = 4;

/// When a form is used: `for 2–4, 22–24, …`, for each selector.
pub(super) fn of_form(
    message: &Message,
    rows: &[Vec<Key>],
    keys: &[Key],
    tag: &LanguageTag,
) -> Option<String> {
    let Body::Match { selectors, .. } = &message.body else { return None };
    // Each form is looked at beside each other.
    if rows.len() > MOST_VARIANTS {
        return None;
    }
    let hint = |(at, (selector, key)): (usize, (&Selector, &Key))| {
        // What is told apart from it: the same form but for this key.
        let is_beside = |row: &&Vec<Key>| {
            let others = |row: &[Key]| {
                row.iter()
                    .enumerate()
                    .filter(|(other, _)| *other != at)
                    .map(|(_, key)| key.clone())
                    .collect::<Vec<_>>()
            };
            others(row) == others(keys)
        };
        let beside: Vec<&str> =
            rows.iter().filter(is_beside).filter_map(|row| literal(row.get(at)?)).collect();
        let hint = match message.selected_by(&selector.name) {
            SelectedBy::Plural(plural_type) => of_number(key, &beside, plural_type, tag),
            SelectedBy::Range => match literal(key) {
                Some(category) => format!("for ranges of the form `{category}`"),
                None => "for all other ranges".to_owned(),
            },
            SelectedBy::Exact | SelectedBy::Text | SelectedBy::Unknown => match literal(key) {
                Some(value) => format!("for `{value}`"),
                None => "for everything else".to_owned(),
            },
        };
        if selectors.len() == 1 { hint } else { format!("${}: {hint}", selector.name) }
    };
    let hints: Vec<String> = selectors.iter().zip(keys).enumerate().map(hint).collect();
    (!hints.is_empty()).then(|| hints.join("; "))
}

fn literal(key: &Key) -> Option<&str> {
    match key {
        Key::Literal(text) => Some(text),
        Key::Any => None,
    }
}

/// When the key of a number is used.
fn of_number(key: &Key, beside: &[&str], plural_type: PluralType, tag: &LanguageTag) -> String {
    let rules = PluralRules::of(tag, plural_type);
    let own = literal(key).map(|text| (text, Category::from_keyword(text)));
    let categories: Vec<Category> = match own {
        Some((_, Some(category))) => [category].into(),
        Some((text, None)) => return format!("for exactly {text}"),
        None => {
            let is_named = |category: &Category| beside.contains(&category.as_str());
            let rest: Vec<Category> = rules.categories().filter(|category| !is_named(category)).collect();
            if rest.len() == rules.categories().count() {
                return if beside.is_empty() { "for all numbers" } else { "for all other numbers" }
                    .to_owned();
            }
            rest
        }
    };
    let of_places = if plural_type == PluralType::Ordinal { " as places" } else { "" };
    let whole: Vec<String> =
        categories.iter().flat_map(|category| whole_numbers(rules.samples(*category), beside)).collect();
    if !whole.is_empty() {
        let more = if whole.len() > SHOWN { ", …" } else { "" };
        let shown = whole.get(..SHOWN.min(whole.len())).unwrap_or_default().join(", ");
        return format!("for {shown}{more}{of_places}");
    }
    let fractions = categories.iter().find_map(|category| rules.samples(*category).split_once("@decimal "));
    // The end of a range, `0.0~1.5`, has a fraction that is none.
    let first = fractions.and_then(|(_, fractions)| fractions.split(',').next());
    match first.and_then(|first| first.rsplit('~').next()) {
        Some(fraction) => format!("for fractions, such as {fraction}"),
        None => "for all other numbers".to_owned(),
    }
}

/// The whole numbers of CLDR's samples, `2–4`, without those that have a form of their own.
fn whole_numbers(samples: &str, own: &[&str]) -> Vec<String> {
    let whole = samples.split("@decimal").next().unwrap_or_default().trim().trim_start_matches("@integer");
    let numbers = whole.split(',').map(str::trim).filter_map(|sample| {
        // `1c6` is a million in compact notation.
        if sample.is_empty() || sample == "…" || sample.contains(['c', 'e']) || own.contains(&sample) {
            return None;
        }
        let Some((first, last)) = sample.split_once('~') else { return Some(sample.to_owned()) };
        let first = match first.parse::<u64>() {
            Ok(number) if own.contains(&first) => number.saturating_add(1).to_string(),
            _ => first.to_owned(),
        };
        Some(if first == last { first } else { format!("{first}–{last}") })
    });
    numbers.collect()
}

/// What stands in braces in the texts of a message: `{$seats} (a number), {#link}…{/link} (markup)`.
pub(super) fn of_places(message: &Message) -> Option<String> {
    let mut places: Vec<String> = Vec::new();
    for parameter in message.parameters() {
        let kind = match parameter.kind {
            ParameterKind::Number => "a number",
            ParameterKind::Text => "a text",
            ParameterKind::Date => "a date or a time",
            ParameterKind::Relative => "a number or a date",
            ParameterKind::Duration => "a duration",
            ParameterKind::List => "a list",
            _ => "a value",
        };
        places.push(format!("{{${}}} ({kind})", parameter.name));
    }
    for element in message.patterns().flatten() {
        let Element::Markup(markup) = element else { continue };
        let place = format!("{{#{0}}}…{{/{0}}} (markup)", markup.name);
        if !places.contains(&place) {
            places.push(place);
        }
    }
    (!places.is_empty()).then(|| format!("In braces, to be kept: {}", places.join(", ")))
}
