//! The names of the arguments that a call in code gives to a message, where they can be read: `args! { seats, name: user.name }` in
//! Rust and its templates, `seats=3` in templates, `{ seats: 3 }` in scripts.

use crow_fly_core::finding::Position;
use proc_macro2::{Delimiter, Group, TokenStream, TokenTree};

use super::count;

/// An argument by its name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Argument {
    pub(crate) name: String,
    pub(crate) place: Position,
}

/// The arguments of a message: none where they cannot be read, such as those of a variable.
pub(crate) type Arguments = Option<Vec<Argument>>;

/// What a call in Rust gives beside its key: `"key"`, or `("key", args! { … })`.
pub(super) fn of_call(parenthesis: &Group) -> Arguments {
    let tokens: Vec<TokenTree> = parenthesis.stream().into_iter().collect();
    match tokens.as_slice() {
        [TokenTree::Literal(_)] => Some(Vec::new()),
        [TokenTree::Group(pair)] if pair.delimiter() == Delimiter::Parenthesis => {
            let tokens: Vec<TokenTree> = pair.stream().into_iter().collect();
            match tokens.as_slice() {
                [TokenTree::Literal(_), TokenTree::Punct(comma), rest @ ..] if comma.as_char() == ',' => {
                    of_macro(rest)
                }
                _ => None,
            }
        }
        _ => None,
    }
}

/// What `with(args! { … })` gives.
pub(super) fn of_with(parenthesis: &Group) -> Arguments {
    of_macro(&parenthesis.stream().into_iter().collect::<Vec<_>>())
}

/// The names in `args! { … }`, perhaps with a comma after it.
fn of_macro(tokens: &[TokenTree]) -> Arguments {
    match tokens {
        [TokenTree::Ident(name), TokenTree::Punct(sign), TokenTree::Group(group), rest @ ..]
            if name == "args"
                && sign.as_char() == '!'
                && rest
                    .iter()
                    .all(|token| matches!(token, TokenTree::Punct(sign) if sign.as_char() == ',')) =>
        {
            names(group.stream())
        }
        _ => None,
    }
}

/// The names of `seats, name: user.name, other-name: 1, "literal": 2`.
fn names(stream: TokenStream) -> Arguments {
    let mut found = Vec::new();
    let tokens: Vec<TokenTree> = stream.into_iter().collect();
    let is = |token: &TokenTree, sign| matches!(token, TokenTree::Punct(punct) if punct.as_char() == sign);
    for entry in tokens.split(|token| is(token, ',')).filter(|entry| !entry.is_empty()) {
        // A comma between `<` and `>` of a type parts no entries: what begins with no name is not judged.
        let end = entry.iter().position(|token| is(token, ':')).unwrap_or(entry.len());
        let mut name = String::new();
        for token in entry.get(..end)? {
            match token {
                TokenTree::Ident(part) => name.push_str(&part.to_string()),
                TokenTree::Punct(sign) if sign.as_char() == '-' => name.push('-'),
                TokenTree::Literal(text) => {
                    name = syn::parse2::<syn::LitStr>(TokenTree::Literal(text.clone()).into()).ok()?.value();
                }
                _ => return None,
            }
        }
        let start = entry.first()?.span().start();
        let length = count(name.chars().count().max(1));
        let place = Position { line: count(start.line), column: count(start.column + 1), length };
        found.push(Argument { name, place });
    }
    Some(found)
}

/// How much of a call in a template or a script is read, in bytes.
const MOST: usize = 4_096;

/// What a call in a template or a script gives after its key. `after` begins after the closing quote, at `start`.
pub(super) fn of_text(after: &str, start: Position, is_script: bool) -> Arguments {
    let call = start_of(after);
    let rest = call.trim_start();
    if rest.starts_with(')') {
        // A script's own function may have been given texts that are ready.
        return (!is_script).then(Vec::new);
    }
    let inner = rest.strip_prefix(',')?.trim_start();
    let (body, sign) = match inner.strip_prefix("args!") {
        Some(body) => (body.trim_start(), ':'),
        None if is_script => (inner, ':'),
        None => (inner, '='),
    };
    let opens = body.starts_with(['(', '{', '[']);
    if sign == ':' && !opens {
        return None;
    }
    let body = if opens { body.get(1..)? } else { body };
    let at = call.len() - body.len();
    let mut found = Vec::new();
    for (place, entry) in entries(body)? {
        let name = entry.split(sign).next().unwrap_or_default().trim().trim_matches(['"', '\'']);
        let is_name = |name: &str| {
            name.starts_with(|first: char| first.is_alphabetic() || first == '_')
                && name.chars().all(|letter| letter.is_alphanumeric() || matches!(letter, '_' | '-'))
        };
        let has_value = entry.contains(sign);
        if !is_name(name) || (sign == '=' && !has_value) {
            return None;
        }
        let before = call.get(..at + place + entry.find(name)?)?;
        found.push(Argument { name: name.to_owned(), place: behind(start, before, name) });
    }
    Some(found)
}

/// As much of a text as is read.
fn start_of(text: &str) -> &str {
    let end = (0..=MOST.min(text.len())).rev().find(|end| text.is_char_boundary(*end));
    text.get(..end.unwrap_or_default()).unwrap_or_default()
}

/// The place of a name that some text after a place leads to.
fn behind(start: Position, before: &str, name: &str) -> Position {
    let last = before.rsplit('\n').next().unwrap_or_default();
    let lines = count(before.matches('\n').count());
    let column = count(last.chars().count());
    Position {
        line: start.line.saturating_add(lines),
        column: if lines == 0 { start.column.saturating_add(column) } else { column.saturating_add(1) },
        length: count(name.chars().count()),
    }
}

/// What stands between commas up to the bracket that closes, each with its place; none where it is never closed.
fn entries(body: &str) -> Option<Vec<(usize, &str)>> {
    let (mut depth, mut quote, mut start, mut found) = (0_usize, None, 0, Vec::new());
    for (at, letter) in body.char_indices() {
        match (quote, letter) {
            (Some(open), letter) if letter == open => quote = None,
            (None, '"' | '\'' | '`') => quote = Some(letter),
            (None, '(' | '[' | '{') => depth += 1,
            (None, ')' | ']' | '}') if depth > 0 => depth -= 1,
            (None, ',' | ')' | ']' | '}') if depth == 0 => {
                let entry = body.get(start..at)?;
                if !entry.trim().is_empty() {
                    found.push((start, entry));
                }
                start = at + 1;
                if letter != ',' {
                    return Some(found);
                }
            }
            _ => {}
        }
    }
    None
}
