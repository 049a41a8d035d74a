//! Keys in code and templates: what the application asks for, beside what its catalogs have.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::Path;

use crow_fly::core::catalog::split_key;
use crow_fly::core::check::KeySet;
use crow_fly::core::finding::{Finding, Position, Severity};
use crow_fly::core::rule::Rule;
use crow_fly::core::suggest::nearest;
use ignore::WalkBuilder;
use proc_macro2::{Delimiter, LineColumn, TokenStream, TokenTree};

use super::walk::Located;
use crate::project::Project;

/// A text in code that may be a key.
struct Literal {
    text: String,
    place: Position,
    /// Whether it is plainly the key of a call of ours: `t.text("…")`.
    is_asked: bool,
}

/// The calls whose first argument is a key.
const CALLS: [&str; 7] = ["text", "html", "parts", "say", "has", "has_when_loaded", "origin"];

/// The ends of names of files, which look like keys.
const FILE_ENDS: [&str; 22] = [
    "html", "htm", "css", "js", "mjs", "json", "toml", "rs", "txt", "md", "svg", "png", "jpg", "jpeg", "gif",
    "webp", "ico", "xml", "csv", "pdf", "j2", "jinja",
];

/// Checks the code that the configuration names, if any.
pub(super) fn check(project: &Project, keys: &KeySet) -> Vec<Located> {
    let checks = project.config.checks();
    if checks.code().is_empty() {
        return Vec::new();
    }
    let mut known: BTreeSet<String> = keys.keys().collect();
    let own = known.clone();
    let reference = project.config.policy().set().default_locale();
    if let Some(ready_made) = project.ready_made(reference, crow_fly::source::ReadyMade::SECTION) {
        let section = crow_fly::source::ReadyMade::SECTION;
        known.extend(ready_made.entries().iter().map(|entry| format!("{section}.{}", entry.key())));
    }
    let sections: BTreeSet<&str> = known.iter().filter_map(|key| Some(split_key(key)?.0)).collect();
    let groups: BTreeSet<&str> =
        known.iter().flat_map(|key| key.match_indices('.').filter_map(|(at, _)| key.get(..at))).collect();
    let (mut used, mut found) = (BTreeSet::new(), Vec::new());
    for (file, literal) in literals(checks.code()) {
        let text = &literal.text;
        if known.contains(text) {
            used.insert(text.clone());
            continue;
        }
        let Some((section, rest)) = split_key(text).filter(|_| is_key(text)) else { continue };
        let end = rest.rsplit('.').next().unwrap_or_default();
        let is_file = FILE_ENDS.contains(&end) && !literal.is_asked;
        let is_ours = sections.contains(section) || literal.is_asked;
        if !is_ours || is_file || groups.contains(text.as_str()) || checks.is_made_at_run_time(text) {
            continue;
        }
        let rule = if literal.is_asked { Rule::UnknownKey } else { Rule::KeyLikeText };
        let near = nearest(text, known.iter().cloned());
        let help = near.map_or_else(
            || "add the message to the default locale, or name the key in `keys` of `[check]`".to_owned(),
            |near| format!("did you mean `{near}`?"),
        );
        let text = match rule {
            Rule::UnknownKey => format!("the code asks for `{text}`, which no catalog has"),
            _ => format!("`{text}` has the form of a key that no catalog has"),
        };
        let mut finding = Finding::of_file(rule, rule.severity(), "", "", text, help);
        finding.place = Some(literal.place);
        let line = fs::read_to_string(&file).ok();
        let line =
            line.and_then(|text| text.lines().nth(literal.place.line as usize - 1).map(ToOwned::to_owned));
        found.push(Located { file, finding, line });
    }
    for key in own.iter().filter(|key| !used.contains(*key) && !checks.is_made_at_run_time(key)) {
        let Some((section, name)) = split_key(key) else { continue };
        let locale = project.config.chains().tag(reference).to_string();
        let text = "nothing in the code asks for it".to_owned();
        let help = "delete it in all locales, or name it in `keys` of `[check]` where it is made at run time";
        let mut finding = Finding::of_file(Rule::UnusedKey, Severity::Note, &locale, section, text, help);
        finding.key = Some(name.to_owned());
        found.push(Located::of(project, finding));
    }
    found
}

/// Whether a text has the form of a key: names with full stops between them.
fn is_key(text: &str) -> bool {
    text.split('.').all(crow_fly::core::catalog::is_name)
}

/// All texts in the code below some folders, with their files.
fn literals(folders: &[std::path::PathBuf]) -> Vec<(String, Literal)> {
    let mut found = BTreeMap::new();
    for folder in folders {
        // Ignored and hidden files are left out.
        for entry in WalkBuilder::new(folder).require_git(false).build().flatten() {
            let path = entry.path();
            if !path.is_file() {
                continue;
            }
            let Ok(text) = fs::read_to_string(path) else { continue };
            found.insert(path.strip_prefix(".").unwrap_or(path).display().to_string(), of_file(path, &text));
        }
    }
    found
        .into_iter()
        .flat_map(|(file, literals)| literals.into_iter().map(move |one| (file.clone(), one)))
        .collect()
}

fn of_file(path: &Path, text: &str) -> Vec<Literal> {
    let extension = path.extension().and_then(|extension| extension.to_str()).unwrap_or_default();
    match extension {
        "rs" => text.parse::<TokenStream>().map(|tokens| of_tokens(tokens, false)).unwrap_or_default(),
        "html" | "htm" | "j2" | "jinja" | "jinja2" | "txt" | "xml" => of_template(text),
        _ => Vec::new(),
    }
}

/// The string literals of Rust, those in macros included.
fn of_tokens(tokens: TokenStream, is_call: bool) -> Vec<Literal> {
    let mut found = Vec::new();
    // Whether what comes first in the next parentheses is a key.
    let (mut calls, mut is_first) = (false, true);
    for token in tokens {
        match token {
            TokenTree::Group(group) => {
                let opens = group.delimiter() == Delimiter::Parenthesis;
                // `t.text(("key", args!(…)))`
                let is_key = opens && (calls || is_call && is_first);
                found.extend(of_tokens(group.stream(), is_key));
                (calls, is_first) = (false, false);
            }
            TokenTree::Ident(name) => {
                calls = CALLS.iter().any(|call| name == call);
                is_first = false;
            }
            TokenTree::Literal(literal) => {
                let LineColumn { line, column } = literal.span().start();
                if let Ok(text) = syn::parse2::<syn::LitStr>(TokenTree::Literal(literal).into()) {
                    let text = text.value();
                    let count = |number: usize| u32::try_from(number).unwrap_or(u32::MAX);
                    let place = Position {
                        line: count(line),
                        column: count(column + 2),
                        length: count(text.chars().count().max(1)),
                    };
                    found.push(Literal { text, place, is_asked: is_call && is_first });
                }
                (calls, is_first) = (false, false);
            }
            TokenTree::Punct(_) => calls = false,
        }
    }
    found
}

/// The quoted texts of a template, in either kind of quotes.
fn of_template(text: &str) -> Vec<Literal> {
    let mut found = Vec::new();
    for (number, line) in text.lines().enumerate() {
        let mut rest = line;
        while let Some(start) = rest.find(['"', '\'']) {
            let (before, quoted) = rest.split_at(start);
            let quote = quoted.chars().next().unwrap_or('"');
            let Some(end) = quoted[1..].find(quote) else {
                rest = &quoted[1..];
                continue;
            };
            let text = &quoted[1..=end];
            let call = before.trim_end_matches(['(', ' ']);
            let name = call
                .rsplit(|letter: char| !letter.is_alphanumeric() && letter != '_')
                .next()
                .unwrap_or_default();
            let is_asked = call.len() < before.len() && CALLS.contains(&name);
            let column = line.len() - rest.len() + start + 1;
            let count = |number: usize| u32::try_from(number).unwrap_or(u32::MAX);
            let columns = line[..column].chars().count();
            let place = Position {
                line: count(number + 1),
                column: count(columns + 1),
                length: count(text.chars().count().max(1)),
            };
            found.push(Literal { text: text.to_owned(), place, is_asked });
            // Quotes may stand in quotes of the other kind: `href="{{ t.path('x') }}"`.
            rest = &quoted[1..];
            if is_key(text) || text.is_empty() || !text.contains(['{', '(']) {
                rest = &quoted[end + 2..];
            }
        }
    }
    found
}
