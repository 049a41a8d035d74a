//! The forms of a language: a variant for each.

use alloc::vec::Vec;

use crate::message::model::{Body, Key, Pattern, Variant};
use crate::message::{Message, SelectedBy};
use crate::number::{Category, PluralRules, PluralType};
use crate::tag::LanguageTag;

/// How many variants are laid out at most: a message with several selectors stays as it is where it would have more.
pub(super) const MOST_VARIANTS: usize = 100;

/// A message with a variant for each plural form of a language, in place of those of the language it was written in. A
/// form that the message does not have gets the pattern of `*`.
///
/// A message that does not select by a number stays as it is.
pub fn with_forms_of(message: &Message, tag: &LanguageTag) -> Message {
    let Body::Match { selectors, variants } = &message.body else { return message.clone() };
    if variants.len() > MOST_VARIANTS {
        return message.clone();
    }
    let mut rows = variants.clone();
    for (at, selector) in selectors.iter().enumerate() {
        let categories: Vec<Category> = match message.selected_by(&selector.name) {
            SelectedBy::Plural(plural_type) => PluralRules::of(tag, plural_type).categories().collect(),
            SelectedBy::Range => PluralRules::of(tag, PluralType::Cardinal).categories_of_ranges(tag),
            SelectedBy::Exact | SelectedBy::Text | SelectedBy::Unknown => continue,
        };
        let shows = |pattern: &Pattern| message.shows(pattern, &selector.name);
        rows = expanded(&rows, at, &categories, shows);
        if rows.len() > MOST_VARIANTS {
            return message.clone();
        }
    }
    let numbers = |key: &Key| variants.iter().position(|variant| variant.keys.contains(key));
    rows.sort_by_cached_key(|row| row.keys.iter().map(|key| rank(key, numbers(key))).collect::<Vec<_>>());
    let body = Body::Match { selectors: selectors.clone(), variants: rows };
    Message { declarations: message.declarations.clone(), body }
}

/// The variants with one for each category of one column.
fn expanded(
    rows: &[Variant],
    at: usize,
    categories: &[Category],
    shows: impl Fn(&Pattern) -> bool,
) -> Vec<Variant> {
    let category = |row: &Variant| row.keys.get(at).and_then(category);
    let has_categories = rows.iter().any(|row| category(row).is_some());
    let mut all = Vec::with_capacity(rows.len());
    for row in rows {
        let others = |row: &Variant| {
            row.keys
                .iter()
                .enumerate()
                .filter(|(other, _)| *other != at)
                .map(|(_, key)| key.clone())
                .collect::<Vec<_>>()
        };
        match row.keys.get(at) {
            Some(Key::Literal(_)) => {
                // A form that the language does not have is never selected.
                if category(row).is_none_or(|category| categories.contains(&category)) {
                    all.push(row.clone());
                }
                continue;
            }
            Some(Key::Any) => {}
            None => continue,
        }
        let own = others(row);
        let known: Vec<Category> =
            rows.iter().filter(|other| others(other) == own).filter_map(category).collect();
        // Where the message tells forms apart, or shows the number and does not, the language's forms are needed.
        if !known.is_empty() || !has_categories && shows(&row.pattern) {
            let missing = categories.iter().filter(|category| **category != Category::Other);
            for category in missing.filter(|category| !known.contains(category)) {
                let mut form = row.clone();
                if let Some(key) = form.keys.get_mut(at) {
                    *key = Key::Literal(category.as_str().into());
                }
                all.push(form);
            }
        }
        all.push(row.clone());
    }
    all
}

fn category(key: &Key) -> Option<Category> {
    match key {
        Key::Literal(text) => Category::from_keyword(text),
        Key::Any => None,
    }
}

/// The order of keys: others as they were, then the forms, then `*`.
fn rank(key: &Key, place: Option<usize>) -> (u8, usize) {
    match (key, category(key)) {
        (Key::Any, _) => (2, 0),
        (_, Some(category)) => (1, Category::ALL.iter().position(|known| *known == category).unwrap_or(0)),
        (_, None) => (0, place.unwrap_or(usize::MAX)),
    }
}

/// The pattern of the variant that suits keys best: keys that are equal, from the first one on, before `*`.
pub(super) fn pattern_for<'m>(message: &'m Message, keys: &[Key]) -> Option<&'m Pattern> {
    match &message.body {
        Body::Pattern(pattern) => Some(pattern),
        Body::Match { variants, .. } => {
            let suits = |variant: &&Variant| {
                variant.keys.len() == keys.len()
                    && variant.keys.iter().zip(keys).all(|(own, key)| own == key || *own == Key::Any)
            };
            let is_any =
                |variant: &&Variant| variant.keys.iter().map(|key| *key == Key::Any).collect::<Vec<_>>();
            variants.iter().filter(suits).min_by_key(is_any).map(|variant| &variant.pattern)
        }
    }
}
