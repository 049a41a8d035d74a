//! Variants of plurals: the forms a language needs and a text lacks, and the keys that can never be selected.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;

use super::languages::{Language, keeps_nouns_after_numbers};
use super::parsed::{ParsedLocale, Place};
use crate::message::model::{Body, Key, Selector, Variant};
use crate::message::{Message, SelectedBy};
use crate::number::{Category, Decimal, PluralRules, PluralType};
use crate::rule::Rule;
use crate::suggest::nearest;
use crate::tag::LanguageTag;

/// One selector, and the keys it is compared with.
struct Column<'m> {
    message: &'m Message,
    selector: &'m Selector,
    /// All of them.
    selectors: &'m [Selector],
    variants: &'m [Variant],
    at: usize,
}

/// Checks each column of variants that a number or a range selects.
pub(super) fn check(
    place: &mut Place<'_, '_>,
    message: &Message,
    reference: Option<&Message>,
    language: &Language<'_>,
) {
    let tag = language.tag;
    let Body::Match { selectors, variants } = &message.body else { return };
    for (at, selector) in selectors.iter().enumerate() {
        let column = Column { message, selector, selectors, variants, at };
        match message.selected_by(&selector.name) {
            SelectedBy::Plural(plural_type) => {
                let rules = PluralRules::of(tag, plural_type);
                let needed = rules.categories().collect::<Vec<_>>();
                column.bad_keys(false, place);
                column.missing_forms(language, &rules, &needed, place);
                column.unused_forms(tag, &rules, place);
                column.hidden_numbers(&rules, reference, place);
            }
            SelectedBy::Range => {
                let rules = PluralRules::of(tag, PluralType::Cardinal);
                let needed = rules.categories_of_ranges(tag);
                column.bad_keys(true, place);
                column.missing_forms(language, &rules, &needed, place);
                column.unused_forms(tag, &rules, place);
                column.hidden_numbers(&rules, reference, place);
            }
            SelectedBy::Exact => column.bad_keys(false, place),
            SelectedBy::Text | SelectedBy::Unknown => {}
        }
    }
}

impl<'m> Column<'m> {
    /// The variants with their literal keys; none for `*`.
    fn keys(&self) -> impl Iterator<Item = (&'m Variant, Option<&'m str>)> {
        self.variants.iter().filter_map(|variant| match variant.keys.get(self.at)? {
            Key::Literal(text) => Some((variant, Some(text.as_str()))),
            Key::Any => Some((variant, None)),
        })
    }

    /// Keys that neither a number nor a category matches.
    fn bad_keys(&self, of_range: bool, place: &mut Place<'_, '_>) {
        for (variant, key) in self.keys() {
            let Some(key) = key.filter(|key| Category::from_keyword(key).is_none()) else { continue };
            let is_number = Decimal::read(key).is_some();
            if is_number && !of_range {
                continue;
            }
            let text = if is_number {
                format!("a range has no single value: it never matches the key `{key}`")
            } else {
                format!("the key `{key}` is not a number or a plural category: it never matches")
            };
            let known = Category::ALL.iter().map(|category| category.as_str().to_owned());
            let help = match nearest(key, known) {
                Some(near) => format!("did you mean `{near}`?"),
                None if of_range => "use a plural category such as `one`, or `*`".to_owned(),
                None => "use a number such as `1`, a plural category such as `one`, or `*`".to_owned(),
            };
            place.find_at(Rule::BadVariantKey, variant.span.range(), || (text, help));
        }
    }

    /// Forms that the language has, and the text has not.
    fn missing_forms(
        &self,
        language: &Language<'_>,
        rules: &PluralRules,
        needed: &[Category],
        place: &mut Place<'_, '_>,
    ) {
        let tag = language.tag;
        if keeps_nouns_after_numbers(tag.language().as_str()) {
            return;
        }
        let exact: BTreeSet<&str> = self.keys().filter_map(|(_, key)| key).collect();
        let named: BTreeSet<Category> = exact.iter().filter_map(|key| Category::from_keyword(key)).collect();
        // A text that compares the number only with exact keys, and does not show it otherwise, needs no form.
        let shown = |(variant, key): (&Variant, Option<&str>)| {
            let name = &self.selector.name;
            key.is_none() && self.message.shows_itself(&variant.pattern, name, self.selectors)
        };
        if named.is_empty() && !self.keys().any(shown) {
            return;
        }
        for category in needed.iter().copied() {
            let samples = rules.samples(category);
            if category == Category::Other || named.contains(&category) || covered(samples, &exact) {
                continue;
            }
            // A form of whole millions is missed only where other texts have it, or millions are written in words.
            let needs_millions = language.has_forms_of_millions || is_compact(self.message);
            if is_of_millions(samples) && !needs_millions {
                continue;
            }
            place.find_at(Rule::MissingPluralForm, self.selector.span.range(), || {
                let name = &self.selector.name;
                (
                    format!("`{tag}` has a form `{category}` for ${name}, and the text has no such variant"),
                    format!("add a variant `{category}`, for numbers like {}", examples(samples)),
                )
            });
        }
    }

    /// Forms that many numbers have, and that do not say which one it is.
    fn hidden_numbers(&self, rules: &PluralRules, reference: Option<&Message>, place: &mut Place<'_, '_>) {
        let name = &self.selector.name;
        let shows = |variant: &Variant| self.message.shows(&variant.pattern, name);
        // Where the default locale never says the number, nobody expects it; nor where this text never does.
        let argument = self.message.argument_of(name);
        let says = |message: &Message| message.patterns().any(|pattern| message.shows(pattern, argument));
        if !reference.is_none_or(says) || !self.variants.iter().any(shows) {
            return;
        }
        for (variant, key) in self.keys() {
            let Some(category) = key.and_then(Category::from_keyword).filter(|_| !shows(variant)) else {
                continue;
            };
            if self.is_of_several(rules.samples(category), variant) {
                place.find_at(Rule::HiddenNumber, variant.span.range(), || {
                    (
                        format!(
                            "`{category}` is the form of {}, and this variant does not show which",
                            examples(rules.samples(category))
                        ),
                        format!("show it: `{{${name}}}`; for one number alone use its key, such as `1`"),
                    )
                });
            }
        }
    }

    /// Whether a variant for a form is read for more than one whole number: those that have a key of their own are not.
    fn is_of_several(&self, samples: &str, variant: &Variant) -> bool {
        let has_own_key = |number: u64| {
            self.keys().any(|(other, key)| {
                let is_number =
                    |key: &str| Decimal::read(key).is_some_and(|key| key.same_value(&number.into()));
                let mut rest = other.keys.iter().zip(&variant.keys).enumerate();
                key.is_some_and(is_number)
                    && rest.all(|(at, (key, own))| at == self.at || *key == Key::Any || key == own)
            })
        };
        let whole = whole(samples);
        let numbers = whole.split(',').filter_map(|sample| {
            let (first, last) = sample.trim().split_once('~').unwrap_or((sample.trim(), sample.trim()));
            Some(first.parse::<u64>().ok()?..=last.parse().ok()?)
        });
        whole.contains('…') || numbers.flatten().filter(|number| !has_own_key(*number)).nth(1).is_some()
    }

    /// Forms that the text has, and the language has not.
    fn unused_forms(&self, tag: &LanguageTag, rules: &PluralRules, place: &mut Place<'_, '_>) {
        for (variant, key) in self.keys() {
            let Some(category) = key.and_then(Category::from_keyword) else { continue };
            if rules.categories().any(|known| known == category) {
                continue;
            }
            let known: Vec<&str> = rules.categories().map(Category::as_str).collect();
            place.find_at(Rule::UnusedPluralForm, variant.span.range(), || {
                let help = match known.as_slice() {
                    [one] => format!("its only form is `{one}`"),
                    _ => format!("its forms are {}", known.join(", ")),
                };
                (format!("`{tag}` has no form `{category}`: this variant is never selected"), help)
            });
        }
    }
}

/// The whole-number samples: `1, 21~24, …` without the mark.
fn whole(samples: &str) -> &str {
    let whole = samples.split("@decimal").next().unwrap_or_default();
    whole.trim().trim_start_matches("@integer").trim()
}

/// Whether only a few whole numbers have the category, and each of them has a key of its own.
fn covered(samples: &str, exact: &BTreeSet<&str>) -> bool {
    let whole = whole(samples);
    !whole.is_empty()
        && !whole.contains(['…', '~'])
        && whole.split(',').all(|sample| exact.contains(sample.trim()))
}

/// Whether a message shows numbers in their short form: `1 million`.
fn is_compact(message: &Message) -> bool {
    let functions = message.expressions().filter_map(|expression| expression.function.as_ref());
    functions.into_iter().any(|function| function.name == "crow:compact")
}

/// Whether whole millions are the first numbers that have a form.
fn is_of_millions(samples: &str) -> bool {
    let first = whole(samples).split([',', '~']).next().and_then(|first| first.trim().parse::<u64>().ok());
    first.is_some_and(|first| first >= 1_000_000)
}

/// Whether some text of a locale has a form for whole millions.
pub(super) fn has_forms_of_millions(own: &ParsedLocale<'_>, tag: &LanguageTag) -> bool {
    let rules = PluralRules::of(tag, PluralType::Cardinal);
    let Some(form) = rules.categories().find(|category| is_of_millions(rules.samples(*category))) else {
        return false;
    };
    let messages = own.values().flat_map(|section| &section.messages);
    messages.filter_map(|message| message.message.as_ref().ok()).any(|message| match &message.body {
        Body::Match { variants, .. } => variants
            .iter()
            .flat_map(|variant| &variant.keys)
            .any(|key| matches!(key, Key::Literal(key) if Category::from_keyword(key) == Some(form))),
        Body::Pattern(_) => false,
    })
}

/// A few samples for people, fractions where there are no whole numbers.
fn examples(samples: &str) -> String {
    let whole = whole(samples);
    let shown = if whole.is_empty() { samples.trim().trim_start_matches("@decimal").trim() } else { whole };
    // `1c6` is "1 million", written with its power of ten in words.
    let digits = shown.split(',').map(str::trim).filter(|sample| !sample.contains('c'));
    let some: Vec<&str> = digits.take(5).collect();
    some.join(", ").replace('~', "–")
}
