//! Parameters in other notations than ours: readers see them as they stand.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::format;
use alloc::string::{String, ToString};
use core::ops::Range;

use super::parsed::Place;
use super::spaces::texts;
use crate::message::model::{Body, Element, Expression, Operand};
use crate::message::{Message, Parameter};
use crate::rule::Rule;

/// What stands before a word in braces: `${name}`.
const BEFORE_BRACES: [char; 3] = ['$', '#', '%'];

/// What stands around the name of a parameter, where it is one: `:name`, `$name$`.
const AROUND_NAMES: [(char, &str); 7] =
    [('$', "$"), ('%', "%"), ('[', "]"), ('<', ">"), ('@', ""), (':', ""), ('$', "")];

/// What was found of a message.
#[derive(Default)]
pub(super) struct Notations {
    /// The names of parameters that are written in another notation.
    pub(super) names: BTreeSet<String>,
    /// Whether there are any whose parameters are not known: `%s`.
    pub(super) has_unnamed: bool,
    /// Where the words in braces begin that belong to one.
    places: BTreeSet<usize>,
}

impl Notations {
    /// Whether a word in braces belongs to one.
    pub(super) fn has(&self, range: &Range<usize>) -> bool {
        self.places.contains(&range.start)
    }
}

/// Searches a message for parameters in other notations. `own` are its parameters, `reference` the default locale's.
pub(super) fn check(
    place: &mut Place<'_, '_>,
    message: &Message,
    own: &[Parameter],
    reference: &[Parameter],
) -> Notations {
    let mut found = Notations::default();
    let source = place.entry.text();
    // Most texts have none of the signs.
    if !source.contains(['$', '#', '%', '[', '<', '@', ':', '{']) {
        return found;
    }
    for expression in message.expressions() {
        let Expression { operand: Some(Operand::Literal(word)), function: None, span, .. } = expression
        else {
            continue;
        };
        let range = span.range();
        // What is quoted is meant.
        if source.get(range.clone()).is_none_or(|text| text.contains('|')) {
            continue;
        }
        let before = source.get(..range.start).and_then(|before| before.chars().next_back());
        let is_number = !word.is_empty() && word.bytes().all(|byte| byte.is_ascii_digit());
        let sign = before.filter(|sign| BEFORE_BRACES.contains(sign));
        if sign.is_none() && !is_number {
            continue;
        }
        let whole = range.start - sign.map_or(0, char::len_utf8)..range.end;
        let shown = source.get(whole.clone()).unwrap_or_default().to_owned();
        place.find_at(Rule::OtherNotation, whole, || other(&shown));
        found.has_unnamed |= is_number;
        found.names.insert(word.to_string());
        found.places.insert(range.start);
    }
    let is_of = |parameters: &[Parameter], name: &str| {
        parameters.binary_search_by(|parameter| (*parameter.name).cmp(name)).is_ok()
    };
    for text in message.patterns().flat_map(texts) {
        let mut end = 0;
        for (at, sign) in text.match_indices(['$', '%', '[', '<', '@', ':']) {
            let (before, Some(rest)) = (text.get(..at), text.get(at + sign.len()..)) else { continue };
            let before = before.and_then(|before| before.chars().next_back());
            if at < end {
                continue;
            }
            // `100%d` is a percentage without its space.
            let is_percentage = before.is_some_and(|before| before.is_ascii_digit());
            if sign == "%"
                && let Some(length) = printf(rest).filter(|_| !is_percentage)
            {
                end = at + 1 + length;
                let shown = text.get(at..end).unwrap_or_default();
                place.find_text(Rule::OtherNotation, shown, || other(shown));
                match shown.strip_prefix("%(").and_then(|rest| rest.split_once(')')) {
                    Some((name, _)) => _ = found.names.insert(name.to_owned()),
                    None => found.has_unnamed = true,
                }
                continue;
            }
            let name = name_at(rest);
            let is_known = is_of(own, name) || is_of(reference, name);
            let after = rest.get(name.len()..).unwrap_or_default();
            let is_joined = before.is_some_and(|before| before.is_alphanumeric() || before == ':');
            let fits = |(open, close): &&(char, &str)| {
                sign.starts_with(*open)
                    && after.starts_with(close)
                    // Words in brackets may be meant.
                    && (*open != '[' || !is_of(own, name))
                    && !(close.is_empty() && is_joined)
            };
            if let Some((_, close)) = AROUND_NAMES.iter().find(fits).filter(|_| is_known) {
                end = at + sign.len() + name.len() + close.len();
                let shown = text.get(at..end).unwrap_or_default();
                place.find_text(Rule::OtherNotation, shown, || other(shown));
                found.names.insert(name.to_owned());
            }
        }
    }
    // Two braces quote a text.
    if let Body::Pattern(pattern) = &message.body
        && let [Element::Text(text)] = pattern.as_slice()
        && is_of(reference, text.trim())
        && !is_of(own, text.trim())
    {
        let name = text.trim();
        place.find(Rule::OtherNotation, || other(&format!("{{{{{name}}}}}")));
        found.names.insert(name.to_owned());
    }
    found
}

/// Where a name in two braces stands in a message that cannot be read for it: `Hello {{name}}`.
pub(super) fn in_two_braces(source: &str) -> Option<Range<usize>> {
    // A message that begins so is a quoted one, or one with declarations.
    if source.trim_start().starts_with("{{") || source.trim_start().starts_with('.') {
        return None;
    }
    source.match_indices("{{").find_map(|(at, open)| {
        let inner = source.get(at + open.len()..)?;
        let length = inner.find("}}")?;
        let name = inner.get(..length)?.trim();
        (!name.is_empty() && name_at(name).len() == name.len()).then_some(at..at + length + 4)
    })
}

/// The name that a text begins with.
fn name_at(text: &str) -> &str {
    let is_part = |letter: char| letter.is_alphanumeric() || letter == '_' || letter == '-';
    let end = text.find(|letter| !is_part(letter)).unwrap_or(text.len());
    text.get(..end).unwrap_or_default().trim_end_matches('-')
}

/// The length of a placeholder after `%`: `s`, `1$d`, `(name)s`, `.2f`.
fn printf(behind: &str) -> Option<usize> {
    let bytes = behind.as_bytes();
    if let Some(rest) = behind.strip_prefix('(') {
        let end = rest.find(')')?;
        let letter = rest.as_bytes().get(end + 1)?;
        return b"sdif".contains(letter).then_some(end + 3);
    }
    let mut at = bytes.iter().take_while(|byte| byte.is_ascii_digit()).count();
    if at > 0 && bytes.get(at) == Some(&b'$') {
        at += 1;
    } else {
        at = 0;
        // `%.2f`, `%05d`
        at += bytes.iter().take_while(|byte| byte.is_ascii_digit() || **byte == b'.').count();
    }
    let letter = bytes.get(at)?;
    let next_is_letter = behind.get(at + 1..)?.starts_with(char::is_alphanumeric);
    (b"sdifu@".contains(letter) && !next_is_letter).then_some(at + 1)
}

/// The text and the help of a finding about one.
pub(super) fn other(found: &str) -> (String, String) {
    (
        format!("readers see `{found}` as it stands"),
        "write a variable in braces: `{$name}`; a text that is meant is quoted: `{|…|}`".to_owned(),
    )
}
