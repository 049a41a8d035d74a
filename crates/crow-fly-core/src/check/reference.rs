//! A message beside the same one of the default locale: parameters, functions, options, keys.

use alloc::borrow::ToOwned;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::ops::Range;

use super::languages::keeps_nouns_after_numbers;
use super::message::unknown_value;
use super::notation::Notations;
use super::parsed::{Facts, Place};
use crate::message::model::{Body, Expression, Function, Key, Operand};
use crate::message::{Message, Parameter, ParameterKind, SelectedBy};
use crate::number::{Category, Decimal, PluralRules, PluralType};
use crate::rule::Rule;
use crate::suggest::nearest;
use crate::tag::LanguageTag;

/// Compares a message with the default locale's.
/// What is written in another notation is not missing, too.
pub(super) fn beside(
    place: &mut Place<'_, '_>,
    (own, message): (&Facts, &Message),
    (other, reference): (&Facts, &Message),
    tag: &LanguageTag,
    notations: Notations,
) {
    let (own, other) = (&own.parameters, &other.parameters);
    let mut words = words_in_braces(place, message, (own, other), &notations);
    words.extend(notations.names);
    if notations.has_unnamed {
        words.extend(other.iter().map(|parameter| parameter.name.to_string()));
    }
    parameters(place, message, (own, other), &words);
    let is_of_other_kind = |name: &str| {
        let kinds = find(own, name).zip(find(other, name));
        kinds.is_some_and(|(own, other)| own != other)
    };
    functions(place, message, reference, is_of_other_kind);
    offsets(place, message, reference);
    select_keys(place, message, reference);
    selection(place, message, reference, tag);
}

/// Words in braces that are the name of a parameter, or nearly that of one that is missing; returns the names.
fn words_in_braces(
    place: &mut Place<'_, '_>,
    message: &Message,
    (own, other): (&[Parameter], &[Parameter]),
    notations: &Notations,
) -> BTreeSet<String> {
    let mut found = BTreeSet::new();
    let is_parameter = |name: &str| find(other, name).is_some() || find(own, name).is_some();
    for expression in message.expressions() {
        let Expression { operand: Some(Operand::Literal(word)), function: None, span, .. } = expression
        else {
            continue;
        };
        let nearly = || {
            nearest(
                word,
                other
                    .iter()
                    .filter(|parameter| find(own, &parameter.name).is_none())
                    .map(|parameter| parameter.name.to_string()),
            )
        };
        // What is quoted is meant.
        let is_quoted = place.entry.text().get(span.range()).is_some_and(|text| text.contains('|'));
        if notations.has(&span.range()) || is_quoted {
            continue;
        }
        if is_parameter(word) {
            let range = span.range();
            let at = place.entry.text().get(range.clone()).and_then(|text| text.find(word.as_str()));
            let at = range.start + at.unwrap_or(1);
            place.find_fixed(Rule::WordInBraces, range, (at..at, "$"), || {
                (format!("`{{{word}}}` is the word itself, not a variable"), format!("write `{{${word}}}`"))
            });
            found.insert(word.to_string());
        } else if let Some(near) =
            nearly().filter(|_| word.bytes().all(|byte| byte.is_ascii_alphanumeric() || byte == b'_'))
        {
            place.find_at(Rule::WordInBraces, span.range(), || {
                (format!("`{{{word}}}` is the word itself, not a variable"), format!("write `{{${near}}}`"))
            });
            found.insert(near);
        }
    }
    found
}

fn find(parameters: &[Parameter], name: &str) -> Option<ParameterKind> {
    // They are sorted by name.
    let at = parameters.binary_search_by(|parameter| (*parameter.name).cmp(name)).ok();
    at.and_then(|at| parameters.get(at)).map(|parameter| parameter.kind)
}

fn parameters(
    place: &mut Place<'_, '_>,
    message: &Message,
    (own, other): (&[Parameter], &[Parameter]),
    told: &BTreeSet<String>,
) {
    let whole = 0..place.entry.text().len();
    let at = |name: &str| used_at(message, name).unwrap_or(whole.clone());
    // A parameter that is misspelled is one mistake, not a surplus one and a missing one.
    let mut meant = told.clone();
    for Parameter { name, kind } in own {
        match find(other, name) {
            None => {
                let unused = other.iter().filter(|other| find(own, &other.name).is_none());
                let near = nearest(name, unused.clone().map(|parameter| parameter.name.to_string()));
                // Where one is missing and one is surplus, they are meant to be the same.
                let only = || {
                    (own.len() == other.len() && unused.clone().count() == 1)
                        .then(|| unused.clone().next().map(|one| one.name.to_string()))
                        .flatten()
                };
                let near = near.or_else(only);
                let help = near.as_ref().map_or_else(
                    || "the application does not give it: the text will show its name in braces".to_owned(),
                    |near| format!("did you mean `${near}`?"),
                );
                meant.extend(near);
                place.find_at(Rule::SurplusParameter, at(name), || {
                    (format!("the default locale has no parameter `${name}`"), help)
                });
            }
            Some(same) if !same.agrees(*kind) => {
                place.find_at(Rule::ParameterKind, at(name), || {
                    let (here, there) = (kind_name(*kind), kind_name(same));
                    (
                        format!("`${name}` is taken as a {here} here, as a {there} in the default locale"),
                        "use the same function in both".to_owned(),
                    )
                });
            }
            Some(_) => {}
        }
    }
    for Parameter { name, .. } in other {
        if find(own, name).is_none() && !meant.contains(&**name) {
            place.find(Rule::MissingParameter, || {
                (
                    format!("`${name}`, a parameter of the default locale, is not used"),
                    "use it, unless the language does not need it here".to_owned(),
                )
            });
        }
    }
}

/// Where a message first uses a variable as an operand.
fn used_at(message: &Message, name: &str) -> Option<Range<usize>> {
    let uses = |expression: &&Expression| matches!(&expression.operand, Some(Operand::Variable(used)) if used == name);
    message.expressions().find(uses).map(|expression| expression.span.range())
}

const fn kind_name(kind: ParameterKind) -> &'static str {
    match kind {
        ParameterKind::Number => "number",
        ParameterKind::Text => "text",
        ParameterKind::Date => "date",
        ParameterKind::Relative => "number or date",
        ParameterKind::Duration => "duration",
        ParameterKind::List => "list",
        ParameterKind::Any => "value",
    }
}

/// The functions that are applied to each variable, or to a literal.
fn applied(message: &Message) -> BTreeMap<&str, Vec<(&Function, Range<usize>)>> {
    let mut applied: BTreeMap<&str, Vec<_>> = BTreeMap::new();
    for expression in message.expressions() {
        let Some(function) = &expression.function else { continue };
        let name = match &expression.operand {
            Some(Operand::Variable(name)) => name.as_str(),
            Some(Operand::Literal(_)) | None => "",
        };
        applied.entry(name).or_default().push((function, expression.span.range()));
    }
    applied
}

/// The options that say what is meant, not how it looks.
const MEANING: [&str; 6] = ["currency", "unit", "add", "subtract", "fields", "type"];

fn functions(
    place: &mut Place<'_, '_>,
    message: &Message,
    reference: &Message,
    is_told: impl Fn(&str) -> bool,
) {
    if !message.expressions().any(|expression| expression.function.is_some()) {
        return;
    }
    let (own, other) = (applied(message), applied(reference));
    for (variable, functions) in &own {
        let is_compared = !variable.is_empty() && !is_told(variable);
        let Some(known) = other.get(variable).filter(|_| is_compared) else { continue };
        for (function, range) in functions {
            let same: Vec<_> = known.iter().filter(|(other, _)| other.name == function.name).collect();
            let Some((first, _)) = known.first() else { continue };
            if same.is_empty() {
                // An offset that is not here is found by itself.
                if known.iter().all(|(other, _)| other.name == "offset") {
                    continue;
                }
                place.find_at(Rule::OtherFunction, range.clone(), || {
                    (
                        format!(
                            "`${variable}` is formatted by `:{}`, in the default locale by `:{}`",
                            function.name, first.name
                        ),
                        format!("use `:{}`", first.name),
                    )
                });
                continue;
            }
            for name in MEANING {
                let value = |function: &Function| {
                    let option = function.options.iter().find(|option| option.name == name)?;
                    Some(option.value.to_string())
                };
                let own = value(function);
                if same.iter().any(|(other, _)| value(other) == own) {
                    continue;
                }
                // Where one of them names what does not exist, it is told there.
                let is_wrong = |(other, _): &&&(&Function, Range<usize>)| {
                    let option = other.options.iter().find(|option| option.name == name);
                    option.is_some_and(|option| unknown_value(option).is_some())
                };
                if same.iter().any(|one| is_wrong(&one)) || is_wrong(&&&(*function, range.clone())) {
                    continue;
                }
                let wanted = same.iter().find_map(|(other, _)| value(other));
                place.find_at(Rule::OtherOption, range.clone(), || {
                    let shown = |value: &Option<String>| {
                        value
                            .as_ref()
                            .map_or_else(|| format!("no `{name}`"), |value| format!("`{name}={value}`"))
                    };
                    (
                        format!(
                            "`${variable}` has {}, in the default locale {}",
                            shown(&own),
                            shown(&wanted)
                        ),
                        "use the same: it says what is meant".to_owned(),
                    )
                });
            }
        }
    }
}

/// A number of the default locale that is shown less or more by an `:offset`, and here as it is.
fn offsets(place: &mut Place<'_, '_>, message: &Message, reference: &Message) {
    let offset = |expression: &Expression| {
        let function = expression.function.as_ref().filter(|function| function.name == "offset")?;
        let options = function.options.iter().map(|option| format!(" {}={}", option.name, option.value));
        Some(format!(":offset{}", options.collect::<Vec<_>>().concat()))
    };
    let operand = |expression: &Expression| match &expression.operand {
        Some(Operand::Variable(name)) => Some(name.clone()),
        _ => None,
    };
    // Of an argument that is shown with several, one finding is enough.
    let mut seen = BTreeSet::new();
    for expression in reference.expressions() {
        let Some((function, name)) = offset(expression).zip(operand(expression)) else { continue };
        let argument = reference.argument_of(&name);
        if !seen.insert(argument.to_owned()) {
            continue;
        }
        let is_of_it =
            |own: &&Expression| operand(own).is_some_and(|name| message.argument_of(&name) == argument);
        let mut own = message.expressions().filter(is_of_it).peekable();
        let Some(first) = own.peek().map(|first| first.span.range()) else { continue };
        if own.all(|own| offset(own).is_none()) {
            place.find_at(Rule::OtherFunction, first, || {
                (
                    format!(
                        "the default locale shows `${argument}` with `{function}`, and this text as it is"
                    ),
                    format!("declare it here, too: `.local $others = {{${argument} {function}}}`"),
                )
            });
        }
    }
}

/// The literal keys that each selector is compared with.
fn keys(message: &Message) -> BTreeMap<&str, Vec<(&str, Range<usize>)>> {
    let mut keys: BTreeMap<&str, Vec<_>> = BTreeMap::new();
    let Body::Match { selectors, variants } = &message.body else { return keys };
    for (at, selector) in selectors.iter().enumerate() {
        let literal = variants.iter().filter_map(|variant| match variant.keys.get(at)? {
            Key::Literal(key) => Some((key.as_str(), variant.span.range())),
            Key::Any => None,
        });
        keys.entry(&selector.name).or_default().extend(literal);
    }
    keys
}

/// Keys that are words: they stay as they are in every language.
fn select_keys(place: &mut Place<'_, '_>, message: &Message, reference: &Message) {
    if matches!(message.body, Body::Pattern(_)) || matches!(reference.body, Body::Pattern(_)) {
        return;
    }
    let (own, other) = (keys(message), keys(reference));
    for (selector, known) in &other {
        let is_text = |message: &Message| {
            matches!(message.selected_by(selector), SelectedBy::Text | SelectedBy::Unknown)
        };
        let Some(own) = own.get(selector).filter(|_| is_text(message) && is_text(reference)) else {
            continue;
        };
        let is_number = |key: &str| Category::from_keyword(key).is_some() || Decimal::read(key).is_some();
        let wanted: BTreeSet<&str> =
            known.iter().map(|(key, _)| *key).filter(|key| !is_number(key)).collect();
        let have: BTreeSet<&str> = own.iter().map(|(key, _)| *key).collect();
        if wanted.is_empty() {
            continue;
        }
        let missing: BTreeSet<&str> = wanted.difference(&have).copied().collect();
        let mut meant = 0;
        for (key, range) in own.iter().filter(|(key, _)| !wanted.contains(key) && !is_number(key)) {
            let near = nearest(key, missing.iter().map(ToString::to_string));
            meant += 1;
            place.find_at(Rule::SurplusSelectKey, range.clone(), || {
                let help = near.map_or_else(
                    || format!("keys are not translated: {}", listed(&wanted)),
                    |near| format!("did you mean `{near}`?"),
                );
                (format!("the default locale has no key `{key}`: this variant is never selected"), help)
            });
        }
        // A key that was translated is both; it is told once.
        for key in missing.iter().skip(meant.min(missing.len())) {
            place.find(Rule::MissingSelectKey, || {
                (
                    format!("the default locale has a key `{key}`, and this text no such variant"),
                    format!("add one: `{key} {{{{…}}}}`"),
                )
            });
        }
    }
}

fn listed(keys: &BTreeSet<&str>) -> String {
    keys.iter().map(|key| format!("`{key}`")).collect::<Vec<_>>().join(", ")
}

/// Whether the default locale selects by a number, and this text does not though its language has several forms.
fn selection(place: &mut Place<'_, '_>, message: &Message, reference: &Message, tag: &LanguageTag) {
    let Body::Match { selectors, variants } = &reference.body else { return };
    let own = keys(message);
    for (at, selector) in selectors.iter().enumerate() {
        let by = reference.selected_by(&selector.name);
        let origin = reference.argument_of(&selector.name);
        let selects = own.keys().any(|name| message.argument_of(name) == origin);
        let shows = |message: &Message| message.patterns().any(|pattern| message.shows(pattern, origin));
        if by == SelectedBy::Text && !selects && shows(message) && !shows(reference) {
            place.find(Rule::MissingSelection, || {
                (
                    format!(
                        "the default locale selects a text by `${origin}`; this text shows the word itself"
                    ),
                    format!("select by it: `.input {{${origin} :string}} .match ${origin} …`"),
                )
            });
        }
        if by != SelectedBy::Plural(PluralType::Cardinal) {
            continue;
        }
        let has_form = variants.iter().any(|variant| matches!(variant.keys.get(at), Some(Key::Literal(key)) if Category::from_keyword(key).is_some()));
        let rules = PluralRules::of(tag, PluralType::Cardinal);
        let needs_forms =
            rules.categories().count() > 1 && !keeps_nouns_after_numbers(tag.language().as_str());
        if has_form && !selects && shows(message) && needs_forms {
            let forms: Vec<&str> = rules.categories().map(Category::as_str).collect();
            place.find(Rule::MissingSelection, || {
                (
                    format!(
                        "the default locale has forms for ${origin}, and this text has one for all numbers"
                    ),
                    format!("select by it: `{tag}` has the forms {}", forms.join(", ")),
                )
            });
        }
    }
}
