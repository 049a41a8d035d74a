//! Sections and groups as modules, messages as types.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use crow_fly_core::catalog::SourceEntry;
use crow_fly_core::message::Message;

use crate::field::{Field, FieldKind};
use crate::name::{BadName, camel, snake};
use crate::problem::Problem;
use crate::read::SourceFile;

/// A section or a group; the outermost module has the sections.
#[derive(Debug, Default)]
pub(crate) struct Module {
    /// What it is in the catalogs: `booking.form`.
    pub(crate) path: String,
    pub(crate) modules: BTreeMap<String, Self>,
    pub(crate) messages: BTreeMap<String, MessageType>,
    /// Where its name comes from.
    place: Place,
}

/// A message as a type.
#[derive(Debug)]
pub(crate) struct MessageType {
    /// The whole key.
    pub(crate) key: String,
    pub(crate) fields: Vec<Field>,
    /// Where it is, its note, its source.
    pub(crate) file: String,
    pub(crate) line: u32,
    pub(crate) note: Option<String>,
    pub(crate) source: String,
}

/// Where a name comes from.
#[derive(Clone, Debug, Default)]
struct Place {
    /// The name in the catalog.
    name: String,
    file: String,
    line: u32,
}

impl Place {
    fn problem(&self, text: String, help: impl Into<String>) -> Problem {
        Problem { file: self.file.clone(), line: self.line, text, help: help.into() }
    }

    fn bad_name(&self, what: &str, error: BadName) -> Problem {
        let name = &self.name;
        match error {
            BadName::Keyword => {
                let text = format!("the {what} `{name}` is a word of Rust, and cannot be a name there");
                self.problem(text, format!("rename it, such as `{name}-text`"))
            }
            BadName::Characters => {
                let text = format!("the {what} `{name}` cannot be a name in Rust");
                self.problem(text, "begin it with an ASCII letter, and use letters, digits, `-` and `_`")
            }
        }
    }

    fn collision(&self, what: &str, rust: &str, other: &Self) -> Problem {
        let text = format!(
            "the {what}s `{}` and `{}` ({}:{}) are both `{rust}` in Rust",
            self.name, other.name, other.file, other.line
        );
        self.problem(text, "rename one of the two")
    }
}

/// A message by its key, before names are given.
struct Entry<'f> {
    file: &'f SourceFile,
    line: u32,
    source: SourceEntry,
}

impl Module {
    /// The messages of some files; of two with one key the later one's. What is wrong goes to `problems`.
    pub(crate) fn of(files: &[SourceFile], problems: &mut Vec<Problem>) -> Self {
        let mut entries: BTreeMap<(String, String), Entry<'_>> = BTreeMap::new();
        for file in files {
            for (section, source) in file.sections() {
                for problem in source.problems() {
                    let finding = problem.finding("", &section);
                    problems.push(Problem {
                        file: file.path.clone(),
                        line: finding.place.map_or(0, |place| place.line),
                        text: finding.text,
                        help: finding.help,
                    });
                }
                for (entry, line) in source.entries().iter().zip(source.entry_lines()) {
                    if !entry.is_untranslated() {
                        let key = (section.clone(), entry.key().to_owned());
                        entries.insert(key, Entry { file, line, source: entry.clone() });
                    }
                }
            }
        }
        let mut root = Self::default();
        for ((section, key), entry) in &entries {
            root.add(section, key, entry, problems);
        }
        root
    }

    fn add(&mut self, section: &str, key: &str, entry: &Entry<'_>, problems: &mut Vec<Problem>) {
        let place =
            |name: &str| Place { name: name.to_owned(), file: entry.file.path.clone(), line: entry.line };
        if section == "sections" {
            let text = "the section `sections` is a module of its own in Rust".to_owned();
            return problems.push(place(section).problem(text, "rename the section"));
        }
        let Some(mut module) = self.module(&place(section), "section", section, problems) else { return };
        let mut path = section.to_owned();
        let mut names = key.split('.').peekable();
        while let Some(name) = names.next() {
            let place = place(name);
            if names.peek().is_none() {
                return module.message(&place, &format!("{section}.{key}"), entry, problems);
            }
            let _ = write!(path, ".{name}");
            let Some(inner) = module.module(&place, "group", &path, problems) else { return };
            module = inner;
        }
    }

    /// A module in this one.
    fn module(
        &mut self,
        place: &Place,
        what: &str,
        path: &str,
        problems: &mut Vec<Problem>,
    ) -> Option<&mut Self> {
        let name = match snake(&place.name) {
            Ok(name) => name,
            Err(error) => {
                let problem = place.bad_name(what, error);
                // Each message of it would tell it again.
                if !problems.iter().any(|known| known.text == problem.text) {
                    problems.push(problem);
                }
                return None;
            }
        };
        let module = self.modules.entry(name.clone()).or_insert_with(|| Self {
            path: path.to_owned(),
            place: place.clone(),
            ..Self::default()
        });
        if module.place.name != place.name {
            let problem = place.collision(what, &name, &module.place);
            if !problems.iter().any(|known| known.text == problem.text) {
                problems.push(problem);
            }
            return None;
        }
        Some(module)
    }

    fn message(&mut self, place: &Place, key: &str, entry: &Entry<'_>, problems: &mut Vec<Problem>) {
        let name = match camel(&place.name) {
            Ok(name) => name,
            Err(error) => return problems.push(place.bad_name("message", error)),
        };
        let source = entry.source.text();
        let message = match Message::parse(source) {
            Ok(message) => message,
            Err(errors) => {
                return problems.extend(errors.iter().map(|error| {
                    place.problem(format!("the message `{key}` has an error: {error}"), error.help())
                }));
            }
        };
        let fields = fields(&message, place, problems);
        let new = MessageType {
            key: key.to_owned(),
            fields,
            file: place.file.clone(),
            line: place.line,
            note: entry.source.note().map(str::to_owned),
            source: source.to_owned(),
        };
        // The enums of earlier messages are in the same module: their names are taken, too.
        let taken = |other: &str, types: &MessageType| {
            types.choices(other).any(|(choice, _)| choice == name)
                || new.choices(&name).any(|(choice, _)| choice == other)
        };
        let other = self.messages.iter().find(|(other, types)| **other == name || taken(other, types));
        if let Some((_, other)) = other {
            let other =
                Place { name: last(&other.key).to_owned(), file: other.file.clone(), line: other.line };
            return problems.push(place.collision("message", &name, &other));
        }
        self.messages.insert(name, new);
    }
}

impl MessageType {
    /// The enums of its fields: each with its name and its variants.
    pub(crate) fn choices<'m>(
        &'m self,
        name: &'m str,
    ) -> impl Iterator<Item = (String, &'m [(String, String)])> {
        self.fields.iter().filter_map(move |field| match &field.kind {
            FieldKind::Choice(variants) => {
                Some((format!("{name}{}", camel(&field.parameter).ok()?), variants.as_slice()))
            }
            _ => None,
        })
    }
}

fn last(key: &str) -> &str {
    key.rsplit('.').next().unwrap_or(key)
}

fn fields(message: &Message, place: &Place, problems: &mut Vec<Problem>) -> Vec<Field> {
    let mut fields: Vec<Field> = Vec::new();
    for parameter in message.parameters() {
        let own = Place { name: format!("${}", parameter.name), ..place.clone() };
        match snake(&parameter.name) {
            Err(error) => problems.push(own.bad_name("parameter", error)),
            Ok(name) => {
                if let Some(other) = fields.iter().find(|field| field.name == name) {
                    let other = Place { name: format!("${}", other.parameter), ..place.clone() };
                    problems.push(own.collision("parameter", &name, &other));
                    continue;
                }
                let kind = FieldKind::of(message, &parameter.name, parameter.kind);
                fields.push(Field { parameter: parameter.name.to_string(), name, kind });
            }
        }
    }
    fields
}
