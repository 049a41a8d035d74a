//! `crow-fly gather`: default texts given in code, as messages of the default locale.

use std::collections::BTreeMap;
use std::io::Write;

use anyhow::{Result, bail};
use crow_fly_core::catalog::{SectionSource, is_key, split_key};
use crow_fly_core::message::Message;
use serde::Serialize;

use super::Outcome;
use crate::arguments::GatherArguments;
use crate::code;
use crate::edits::Edits;
use crate::output::Output;
use crate::place::Place;
use crate::project::Project;
use crate::render;
use crate::writing::Writing;

/// A default text in code.
#[derive(Serialize)]
struct Gathered {
    key: String,
    text: String,
    /// Where it stands: `src/pages.rs:12:9`.
    #[serde(serialize_with = "render::as_text")]
    place: Place,
    /// The file it goes to.
    file: String,
}

pub(crate) fn run(
    project: &Project,
    what: &GatherArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let folders = project.config.checks().code();
    if folders.is_empty() {
        bail!(
            "the configuration names no folders of code: write them to `code` in `[check]`, as in `code = [\"src\"]`"
        );
    }
    let reference = project.config.policy().set().default_locale();
    let locale = project.config.chains().tag(reference).to_string();
    let own = project.read(&project.list()?, reference);
    let known = |section: &str, name: &str| {
        let source = own.sections.get(section)?;
        source.entries().iter().find(|entry| entry.key() == name).map(|entry| entry.text().to_owned())
    };
    let mut edits = Edits::new(project);
    let mut found: BTreeMap<String, Gathered> = BTreeMap::new();
    let mut problems = Vec::new();
    for (path, file) in code::files(folders, &[])? {
        for literal in &file.literals {
            let Some(text) = &literal.default else { continue };
            let (key, place) = (literal.text(), Place::new(&*path, literal.place));
            let Some((section, name)) = split_key(key).filter(|_| is_key(key)) else {
                let most = SectionSource::MAX_KEY_LENGTH;
                problems.push(format!(
                    "{place}: `{key}` is not a key: write `section.name`, with {most} bytes at most"
                ));
                continue;
            };
            if let Err(errors) = Message::parse(text) {
                problems.push(format!("{place}: the text of `{key}` has errors: {errors}"));
                continue;
            }
            if let Some(known) = known(section, name) {
                if known != *text {
                    problems.push(format!("{place}: `{key}` has another text in `{locale}`, which is used"));
                }
                continue;
            }
            if let Some(other) = found.get(key) {
                if other.text != *text {
                    problems.push(format!("{place}: `{key}` has another text at {}", other.place));
                }
                continue;
            }
            let (to, of_section) = edits.file(&locale, section, &own)?;
            match to.set(&of_section.key(section, name), text) {
                Ok(()) => {
                    let gathered =
                        Gathered { key: key.to_owned(), text: text.clone(), place, file: of_section.origin };
                    found.insert(key.to_owned(), gathered);
                }
                Err(error) => problems.push(format!("{place}: {error:#}")),
            }
        }
    }
    if let Some(writing) = writing {
        writing.write(edits.changes()?)?;
    }
    if what.format.is_json() {
        let gathered: Vec<&Gathered> = found.values().collect();
        render::json(output, &serde_json::json!({ "gathered": gathered, "problems": problems }))?;
    } else {
        for Gathered { key, text, place, file } in found.values() {
            writeln!(output, "{key} ({place}) → {file}\n  {}", text.replace('\n', "\n  "))?;
        }
        for problem in &problems {
            render::warning(problem)?;
        }
        edits.laid_out_anew().iter().try_for_each(render::note)?;
        let count = render::count(found.len(), "text");
        match (found.is_empty(), what.write) {
            (true, _) if problems.is_empty() => {
                writeln!(output, "no texts to gather: the default locale has all keys with a default text")?;
            }
            (true, _) => writeln!(output, "no texts to gather")?,
            (false, true) => writeln!(output, "{count} gathered")?,
            (false, false) => writeln!(output, "{count}; to write them: crow-fly gather --write")?,
        }
    }
    Ok(if problems.is_empty() { Outcome::Well } else { Outcome::Found })
}
