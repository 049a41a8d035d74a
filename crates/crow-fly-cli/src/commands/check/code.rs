//! Keys in code and templates: what the application asks for, beside what its catalogs have.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::Result;
use crow_fly::source::ReadyMade;
use crow_fly_core::catalog::{SectionSource, SourceEntry, is_name, split_key};
use crow_fly_core::check::KeySet;
use crow_fly_core::finding::{Finding, Position};
use crow_fly_core::message::Message;
use crow_fly_core::rule::Rule;
use crow_fly_core::suggest::nearest;

use crate::code::{self, Argument, CodeFile, Literal};
use crate::located::Located;
use crate::project::{LocaleCatalogs, Project};

/// The ends of names of files, which look like keys.
const FILE_ENDS: [&str; 22] = [
    "html", "htm", "css", "js", "mjs", "json", "toml", "rs", "txt", "md", "svg", "png", "jpg", "jpeg", "gif",
    "webp", "ico", "xml", "csv", "pdf", "j2", "jinja",
];

/// How many unknown keys are worth a search through all known ones for what was meant.
const MOST_SUGGESTIONS: usize = 100;

/// Checks the code that the configuration names, if any, beside the catalogs of the default locale.
pub(super) fn check(project: &Project, of_reference: &LocaleCatalogs, keys: &KeySet) -> Result<Vec<Located>> {
    let checks = project.config.checks();
    if checks.code().is_empty() {
        return Ok(Vec::new());
    }
    let mut known: BTreeSet<String> = keys.keys().collect();
    let own = known.clone();
    let reference = project.config.policy().set().default_locale();
    let ready_made = project.ready_made(reference, ReadyMade::SECTION);
    if let Some(ready_made) = &ready_made {
        let section = ReadyMade::SECTION;
        known.extend(ready_made.entries().iter().map(|entry| format!("{section}.{}", entry.key())));
    }
    let sections: BTreeSet<&str> = known.iter().filter_map(|key| Some(split_key(key)?.0)).collect();
    let groups: BTreeSet<&str> =
        known.iter().flat_map(|key| key.match_indices('.').filter_map(|(at, _)| key.get(..at))).collect();
    let (mut used, mut found) = (BTreeSet::new(), Vec::new());
    let files = code::files(checks.code(), checks.attributes())?;
    for (path, _) in files.iter().filter(|(_, file)| file.is_too_deep) {
        let (rule, depth) = (Rule::UnreadCode, code::MAX_DEPTH);
        let text = format!("brackets are nested more than {depth} deep: keys that are deeper are not seen");
        let help = "nest them less, or name the keys in `keys` of `[check]`";
        let finding = Finding::of_file(rule, "", "", text, help);
        found.push(Located { file: path.clone(), finding, line: None });
    }
    let mut messages = Messages {
        texts: of_reference.texts(),
        ready_made: ready_made.as_ref(),
        parameters: BTreeMap::new(),
    };
    // Whether a section that nobody has is nearly one of ours.
    let mut misspelled: BTreeMap<&str, bool> = BTreeMap::new();
    let literals =
        files.iter().flat_map(|(path, file)| file.literals.iter().map(move |one| (path, file, one)));
    for (path, file, literal) in literals {
        let text = literal.text();
        if known.contains(text) {
            used.insert(text.to_owned());
            messages.check(path, file, literal, &mut found);
            continue;
        }
        let Some((section, rest)) = split_key(text).filter(|_| has_form_of_key(text)) else { continue };
        let end = rest.rsplit('.').next().unwrap_or_default();
        let is_file = FILE_ENDS.contains(&end) && !literal.is_asked;
        // Others have calls of these names, too: the section tells whether it is one of ours, or one that is misspelled.
        let is_ours = sections.contains(section)
            || literal.is_asked
                && *misspelled
                    .entry(section)
                    .or_insert_with(|| nearest(section, sections.iter().map(ToString::to_string)).is_some());
        if !is_ours || is_file || groups.contains(text) || checks.is_made_at_run_time(text) {
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
        let mut finding = Finding::of_file(rule, "", "", text, help);
        finding.place = Some(literal.place);
        let line = file.shown_line(literal.place);
        found.push(Located { file: path.clone(), finding, line });
    }
    // A message that is a type has no key in code.
    let is_said = |key: &str| {
        let path = crow_fly_codegen::rust_path(key);
        path.is_some_and(|path| files.values().any(|file| file.names_type(&path)))
    };
    for key in own.iter().filter(|key| !used.contains(*key) && !checks.is_made_at_run_time(key)) {
        if is_said(key) {
            continue;
        }
        let Some((section, name)) = split_key(key) else { continue };
        let locale = project.config.chains().tag(reference).to_string();
        let text = "nothing in the code asks for it".to_owned();
        let help = "delete it in all locales, or name it in `keys` of `[check]` where it is made at run time";
        let mut finding = Finding::of_file(Rule::UnusedKey, &locale, section, text, help);
        finding.key = Some(name.to_owned());
        found.push(Located::of(project, finding));
    }
    Ok(found)
}

/// The messages of the default locale, and what each is shown with.
struct Messages<'m> {
    texts: BTreeMap<String, &'m SourceEntry>,
    ready_made: Option<&'m SectionSource>,
    parameters: BTreeMap<String, Vec<String>>,
}

impl Messages<'_> {
    /// Holds the arguments that code gives to a message against those that it has.
    fn check(&mut self, path: &str, file: &CodeFile, literal: &Literal, found: &mut Vec<Located>) {
        let Some(arguments) = &literal.arguments else { return };
        let parameters = self.of(literal.text());
        let is_given = |name: &String| arguments.iter().any(|argument| argument.name == *name);
        let missing: Vec<&String> = parameters.iter().filter(|name| !is_given(name)).collect();
        let mut add = |rule: Rule, place: Position, text: String, help: String| {
            let mut finding = Finding::of_file(rule, "", "", text, help);
            finding.place = Some(place);
            found.push(Located { file: path.to_owned(), line: file.shown_line(place), finding });
        };
        for Argument { name, place } in
            arguments.iter().filter(|argument| !parameters.contains(&argument.name))
        {
            let near = nearest(name, missing.iter().map(ToString::to_string));
            let help = match near {
                Some(near) => format!("did you mean `{near}`?"),
                None => "delete it, or show it in the message".to_owned(),
            };
            add(
                Rule::SurplusArgument,
                *place,
                format!("`{}` has no parameter `${name}`", literal.text()),
                help,
            );
        }
        for name in missing {
            let text = format!("`{}` shows `${name}`, which is not given here", literal.text());
            add(
                Rule::MissingArgument,
                literal.place,
                text,
                "give it, or take it out of the message".to_owned(),
            );
        }
    }

    /// The parameters of a message; none where it has errors.
    fn of(&mut self, key: &str) -> &[String] {
        let (texts, ready_made) = (&self.texts, self.ready_made);
        self.parameters.entry(key.to_owned()).or_insert_with(|| {
            let own = texts.get(key).copied();
            let ready_made = || {
                let name = split_key(key).filter(|(section, _)| *section == ReadyMade::SECTION)?.1;
                ready_made?.entries().iter().find(|entry| entry.key() == name)
            };
            let message = own.or_else(ready_made).and_then(|entry| Message::parse(entry.text()).ok());
            let parameters = message.map(|message| message.parameters()).unwrap_or_default();
            parameters.iter().map(|parameter| parameter.name.to_string()).collect()
        })
    }
}

/// Whether a text has the form of a key, also of one that is longer than is read: no catalog has that.
fn has_form_of_key(text: &str) -> bool {
    text.split('.').all(is_name)
}
