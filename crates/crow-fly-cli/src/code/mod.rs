//! Texts in code and templates: where the application names its keys.

use std::collections::{BTreeMap, HashSet};
use std::fs;
use std::ops::Range;
use std::path::{Path, PathBuf};

use anyhow::{Result, bail};
use crow_fly_core::finding::Position;
use ignore::WalkBuilder;
use proc_macro2::{Delimiter, LineColumn, TokenStream, TokenTree};

mod arguments;

pub(crate) use arguments::{Argument, Arguments};

/// A text in code that may be a key.
pub(crate) struct Literal {
    text: String,
    pub(crate) place: Position,
    /// The bytes of the text in the file, where it stands there as it is.
    pub(crate) bytes: Option<Range<usize>>,
    /// Whether it is plainly the key of a call of ours: `t.text("…")`.
    pub(crate) is_asked: bool,
    /// The names of the arguments that it is given, where they can be read.
    pub(crate) arguments: Arguments,
    /// The text of `say("…").or("…")`, for as long as no catalog has the key.
    pub(crate) default: Option<String>,
}

impl Literal {
    pub(crate) fn text(&self) -> &str {
        &self.text
    }
}

/// The calls whose first argument is a key.
const CALLS: [&str; 8] = ["text", "html", "parts", "marked", "say", "has", "has_when_loaded", "origin"];

/// Those of them that give a text, and so need its arguments.
const SAYING: [&str; 4] = ["text", "html", "parts", "marked"];

/// The attribute that marks an element for scripts; those that mark its attributes begin with it.
const MARK: &str = "data-text";

/// The largest file that is read, in bytes.
const MAX_LENGTH: u64 = 8 << 20;

/// How deep brackets of code may be nested: texts that are deeper are not seen.
pub(crate) const MAX_DEPTH: usize = 128;

/// A file of code.
pub(crate) struct CodeFile {
    pub(crate) text: String,
    pub(crate) literals: Vec<Literal>,
    /// Whether something in it is nested too deep to be seen.
    pub(crate) is_too_deep: bool,
    /// Where each line begins.
    lines: Vec<usize>,
    /// The names in it: of types and modules, for messages that are types.
    names: HashSet<String>,
}

impl CodeFile {
    /// Whether it names a message's type, `booking::SeatsLeft`, or takes its module and its name in by other ways.
    pub(crate) fn names_type(&self, path: &[String]) -> bool {
        let mut last = path.iter().rev().take(2);
        !path.is_empty() && last.all(|name| self.names.contains(name))
    }

    /// The line of a place, to be shown; none where it is too long for that, as in a script that was made small.
    pub(crate) fn shown_line(&self, place: Position) -> Option<String> {
        self.line(place).filter(|line| line.len() <= 1_000).map(ToOwned::to_owned)
    }

    /// The line of a place.
    pub(crate) fn line(&self, place: Position) -> Option<&str> {
        let start = *self.lines.get((place.line as usize).checked_sub(1)?)?;
        self.text.get(start..)?.lines().next()
    }
}

/// Whether a file is one that keys are searched for in.
pub(crate) fn is_code(file: &Path) -> bool {
    Language::of(file).is_some()
}

/// The code below some folders, by path.
pub(crate) fn files(folders: &[PathBuf], attributes: &[String]) -> Result<BTreeMap<String, CodeFile>> {
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
            let Literals { found: literals, is_too_deep } = language.literals(&text, attributes);
            let (names, lines) = (names(&text), line_starts(&text));
            found.insert(shown, CodeFile { text, literals, is_too_deep, lines, names });
        }
    }
    Ok(found)
}

fn line_starts(text: &str) -> Vec<usize> {
    std::iter::once(0).chain(text.match_indices('\n').map(|(at, _)| at + 1)).collect()
}

/// The names in code: letters, digits and `_`.
fn names(text: &str) -> HashSet<String> {
    let is_part = |letter: char| letter.is_alphanumeric() || letter == '_';
    text.split(|letter| !is_part(letter)).filter(|name| !name.is_empty()).map(str::to_owned).collect()
}

/// What a file is written in.
#[derive(Clone, Copy)]
enum Language {
    Rust,
    Template,
    Script,
}

impl Language {
    fn of(path: &Path) -> Option<Self> {
        // Declarations of TypeScript are made from the catalogs: they ask for nothing.
        if path.to_str()?.ends_with(".d.ts") {
            return None;
        }
        match path.extension()?.to_str()? {
            "rs" => Some(Self::Rust),
            "html" | "htm" | "j2" | "jinja" | "jinja2" | "txt" | "xml" => Some(Self::Template),
            "js" | "mjs" | "ts" => Some(Self::Script),
            _ => None,
        }
    }

    fn literals(self, text: &str, attributes: &[String]) -> Literals {
        match self {
            // What is no Rust yet has no texts that could be told from the rest.
            Self::Rust => text.parse().map(|tokens| Literals::of_rust(text, tokens)).unwrap_or_default(),
            Self::Template | Self::Script => {
                let found = of_template(text, attributes, matches!(self, Self::Script));
                Literals { found, is_too_deep: false }
            }
        }
    }
}

/// The texts of a file.
#[derive(Default)]
struct Literals {
    found: Vec<Literal>,
    is_too_deep: bool,
}

impl Literals {
    fn of_rust(file: &str, tokens: TokenStream) -> Self {
        let mut is_too_deep = false;
        let found = of_tokens(file, tokens, false, 0, &mut is_too_deep);
        Self { found, is_too_deep }
    }
}

/// The string literals of Rust, those in macros included.
fn of_tokens(
    file: &str,
    tokens: TokenStream,
    is_call: bool,
    depth: usize,
    is_too_deep: &mut bool,
) -> Vec<Literal> {
    if depth > MAX_DEPTH {
        *is_too_deep = true;
        return Vec::new();
    }
    let mut found: Vec<Literal> = Vec::new();
    // Whether what comes first in the next parentheses is a key.
    let (mut calls, mut is_first) = (false, true);
    // The key of `say("…")`, while its chain of calls goes on, and whether the next parentheses are those of `or`.
    let (mut said, mut is_default, mut is_with): (Option<usize>, bool, bool) = (None, false, false);
    let mut name = String::new();
    for token in tokens {
        match token {
            TokenTree::Group(group) => {
                let opens = group.delimiter() == Delimiter::Parenthesis;
                // `t.text(("key", args!(…)))`
                let is_key = opens && (calls || is_call && is_first);
                let is_saying = opens && calls && SAYING.contains(&name.as_str());
                let mut inner = of_tokens(file, group.stream(), is_key, depth + 1, is_too_deep);
                if let Some(literal) = inner.first_mut().filter(|literal| is_saying && literal.is_asked) {
                    literal.arguments = literal.arguments.take().or_else(|| arguments::of_call(&group));
                }
                if is_with && opens {
                    if let Some(literal) = said.and_then(|at| found.get_mut(at)) {
                        literal.arguments = arguments::of_with(&group);
                    }
                    found.extend(inner);
                } else if is_default && opens {
                    let default = inner.first().filter(|_| inner.len() == 1).map(|one| one.text.clone());
                    if let Some(literal) = said.and_then(|at| found.get_mut(at)) {
                        literal.default = default;
                    }
                } else if name == "say" && opens && inner.first().is_some_and(|first| first.is_asked) {
                    said = Some(found.len());
                    found.extend(inner);
                } else {
                    found.extend(inner);
                }
                (calls, is_first, is_default, is_with) = (false, false, false, false);
            }
            TokenTree::Ident(ident) => {
                name = ident.to_string();
                calls = CALLS.contains(&name.as_str());
                is_default = said.is_some() && name == "or";
                is_with = said.is_some() && name == "with";
                is_first = false;
            }
            TokenTree::Literal(literal) => {
                let span = literal.span();
                let LineColumn { line, column } = span.start();
                if let Ok(text) = syn::parse2::<syn::LitStr>(TokenTree::Literal(literal).into()) {
                    let text = text.value();
                    let token = span.byte_range();
                    let inside = file.get(token.clone()).and_then(|token| token.find(&text));
                    let bytes = inside.map(|at| token.start + at..token.start + at + text.len());
                    let place = Position {
                        line: count(line),
                        column: count(column + 2),
                        length: count(text.chars().count().max(1)),
                    };
                    found.push(Literal {
                        text,
                        place,
                        bytes,
                        is_asked: is_call && is_first,
                        arguments: None,
                        default: None,
                    });
                }
                (calls, is_first, said) = (false, false, None);
            }
            // `say("…").with(…).or("…")`
            TokenTree::Punct(sign) if sign.as_char() == '.' => calls = false,
            TokenTree::Punct(_) => (calls, said) = (false, None),
        }
    }
    found
}

fn count(number: usize) -> u32 {
    u32::try_from(number).unwrap_or(u32::MAX)
}

/// The quoted texts of a template, in either kind of quotes.
fn of_template(file: &str, attributes: &[String], is_script: bool) -> Vec<Literal> {
    let mut found: Vec<Literal> = Vec::new();
    let mut start = 0;
    for (number, whole) in file.split_inclusive('\n').enumerate() {
        let line = whole.trim_end_matches(['\n', '\r']);
        let end = start + line.len();
        start += whole.len();
        let (mut rest, mut column) = (line, 1);
        let mut said = None;
        while let Some((before, quoted)) = rest.find(['"', '\'']).map(|start| rest.split_at(start)) {
            // The quote, and what comes after it.
            let Some((quote, inner)) = quoted.split_at_checked(1) else { break };
            rest = inner;
            column += before.chars().count() + 1;
            let Some((text, after)) = inner.split_once(quote) else { continue };
            let call = before.trim_end_matches(['(', ' ']);
            let name = call.rsplit(|letter: char| !letter.is_alphanumeric() && letter != '_').next();
            let name = name.filter(|_| call.len() < before.len()).unwrap_or_default();
            let attribute = before.trim_end().strip_suffix('=').map(str::trim_end).unwrap_or_default();
            let attribute = attribute.rsplit([' ', '\t', '<']).next().unwrap_or_default();
            let is_attribute = |name: &String| attribute == name;
            // `t.show(element, "…")`
            let shows =
                |(_, between): (&str, &str)| between.ends_with(',') && !between.contains(['(', ')', ';']);
            let is_shown = is_script && before.trim_end().rsplit_once(".show(").is_some_and(shows);
            let is_mark =
                attribute.strip_prefix(MARK).is_some_and(|rest| rest.is_empty() || rest.starts_with('-'));
            let is_asked =
                CALLS.contains(&name) || is_shown || is_mark || attributes.iter().any(is_attribute);
            // `say("…").or("…")`
            if let Some(literal) = said.and_then(|at: usize| found.get_mut(at)).filter(|_| name == "or") {
                literal.default = Some(text.to_owned());
                said = None;
                rest = after;
                column += text.chars().count() + 1;
                continue;
            }
            said = (name == "say").then_some(found.len()).or(said);
            let length = text.chars().count();
            let place =
                Position { line: count(number + 1), column: count(column), length: count(length.max(1)) };
            let at = end - inner.len();
            let bytes = Some(at..at + text.len());
            // What follows may go on in further lines.
            let behind = at + text.len() + quote.len();
            let is_saying = SAYING.contains(&name) || is_shown || name == "say" && !is_script;
            let behind_key = Position { column: count(column + length + 1), ..place };
            let arguments = file
                .get(behind..)
                .filter(|_| is_saying)
                .and_then(|rest| arguments::of_text(rest, behind_key, is_script));
            // Those of `say` may come later.
            let arguments = arguments.filter(|found| name != "say" || !found.is_empty());
            found.push(Literal { text: text.to_owned(), place, bytes, is_asked, arguments, default: None });
            // Quotes may be in quotes of the other kind: `href="{{ t.path('x') }}"`.
            if !text.contains(['{', '(']) {
                rest = after;
                column += length + 1;
            }
        }
    }
    found
}
