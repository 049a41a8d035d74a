//! Keys in code and templates: what the application asks for, beside what its catalogs have.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

use anyhow::{Result, bail};
use crow_fly::core::catalog::{is_name, split_key};
use crow_fly::core::check::KeySet;
use crow_fly::core::finding::{Finding, Position, Severity};
use crow_fly::core::rule::Rule;
use crow_fly::core::suggest::nearest;
use crow_fly::source::ReadyMade;
use ignore::WalkBuilder;
use proc_macro2::{Delimiter, LineColumn, TokenStream, TokenTree};

use crate::located::Located;
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

/// How many unknown keys are worth a search through all known ones for what was meant.
const MOST_SUGGESTIONS: usize = 100;

/// The largest file that is read, in bytes.
const MAX_LENGTH: u64 = 8 << 20;

/// Checks the code that the configuration names, if any.
pub(super) fn check(project: &Project, keys: &KeySet) -> Result<Vec<Located>> {
    let checks = project.config.checks();
    if checks.code().is_empty() {
        return Ok(Vec::new());
    }
    let mut known: BTreeSet<String> = keys.keys().collect();
    let own = known.clone();
    let reference = project.config.policy().set().default_locale();
    if let Some(ready_made) = project.ready_made(reference, ReadyMade::SECTION) {
        let section = ReadyMade::SECTION;
        known.extend(ready_made.entries().iter().map(|entry| format!("{section}.{}", entry.key())));
    }
    let sections: BTreeSet<&str> = known.iter().filter_map(|key| Some(split_key(key)?.0)).collect();
    let groups: BTreeSet<&str> =
        known.iter().flat_map(|key| key.match_indices('.').filter_map(|(at, _)| key.get(..at))).collect();
    let (mut used, mut found) = (BTreeSet::new(), Vec::new());
    let files = files(checks.code())?;
    let literals =
        files.iter().flat_map(|(path, file)| file.literals.iter().map(move |one| (path, file, one)));
    for (path, file, literal) in literals {
        let text = &literal.text;
        if known.contains(text) {
            used.insert(text.clone());
            continue;
        }
        let Some((section, rest)) = split_key(text).filter(|_| is_key(text)) else { continue };
        let end = rest.rsplit('.').next().unwrap_or_default();
        let is_file = FILE_ENDS.contains(&end) && !literal.is_asked;
        // Others have calls of these names, too: the section tells whether it is one of ours, or one that is misspelled.
        let is_meant =
            || literal.is_asked && nearest(section, sections.iter().map(ToString::to_string)).is_some();
        let is_ours = sections.contains(section) || is_meant();
        if !is_ours || is_file || groups.contains(text.as_str()) || checks.is_made_at_run_time(text) {
            continue;
        }
        let rule = if literal.is_asked { Rule::UnknownKey } else { Rule::KeyLikeText };
        let near = (found.len() < MOST_SUGGESTIONS).then(|| nearest(text, known.iter().cloned())).flatten();
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
        let line = file.lines.get(literal.place.line.saturating_sub(1) as usize).cloned();
        found.push(Located { file: path.clone(), finding, line });
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
    Ok(found)
}

/// Whether a text has the form of a key: names with full stops between them.
fn is_key(text: &str) -> bool {
    text.split('.').all(is_name)
}

/// A file of code.
struct CodeFile {
    lines: Vec<String>,
    literals: Vec<Literal>,
}

/// The code below some folders, by path.
fn files(folders: &[PathBuf]) -> Result<BTreeMap<String, CodeFile>> {
    let mut found = BTreeMap::new();
    for folder in folders {
        if !folder.exists() {
            bail!("{} is not there; correct `code` in `[check]`", folder.display());
        }
        // Ignored and hidden files are left out.
        for entry in WalkBuilder::new(folder).require_git(false).build().flatten() {
            let path = entry.path();
            let is_read = entry.metadata().is_ok_and(|about| about.is_file() && about.len() <= MAX_LENGTH);
            let Some(language) = Language::of(path).filter(|_| is_read) else { continue };
            // What is not UTF-8 is not code.
            let Ok(text) = fs::read_to_string(path) else { continue };
            let shown = path.strip_prefix(".").unwrap_or(path).display().to_string();
            let lines = text.lines().map(ToOwned::to_owned).collect();
            found.insert(shown, CodeFile { lines, literals: language.literals(&text) });
        }
    }
    Ok(found)
}

/// What a file is written in.
#[derive(Clone, Copy)]
enum Language {
    Rust,
    Template,
}

impl Language {
    fn of(path: &Path) -> Option<Self> {
        match path.extension()?.to_str()? {
            "rs" => Some(Self::Rust),
            "html" | "htm" | "j2" | "jinja" | "jinja2" | "txt" | "xml" => Some(Self::Template),
            _ => None,
        }
    }

    fn literals(self, text: &str) -> Vec<Literal> {
        match self {
            // What is no Rust yet has no texts that could be told from the rest.
            Self::Rust => text.parse().map(|tokens| of_tokens(tokens, false)).unwrap_or_default(),
            Self::Template => of_template(text),
        }
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
        let (mut rest, mut column) = (line, 1);
        while let Some((before, quoted)) = rest.find(['"', '\'']).map(|start| rest.split_at(start)) {
            // The quote, and what comes after it.
            let Some((quote, inner)) = quoted.split_at_checked(1) else { break };
            rest = inner;
            column += before.chars().count() + 1;
            let Some((text, after)) = inner.split_once(quote) else { continue };
            let call = before.trim_end_matches(['(', ' ']);
            let name = call.rsplit(|letter: char| !letter.is_alphanumeric() && letter != '_').next();
            let is_asked = call.len() < before.len() && name.is_some_and(|name| CALLS.contains(&name));
            let count = |number: usize| u32::try_from(number).unwrap_or(u32::MAX);
            let length = text.chars().count();
            let place =
                Position { line: count(number + 1), column: count(column), length: count(length.max(1)) };
            found.push(Literal { text: text.to_owned(), place, is_asked });
            // Quotes may be in quotes of the other kind: `href="{{ t.path('x') }}"`.
            if !text.contains(['{', '(']) {
                rest = after;
                column += length + 1;
            }
        }
    }
    found
}
