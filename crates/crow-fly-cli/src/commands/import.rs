//! `crow-fly import`: translations back into the catalogs. Everything is checked before a file is touched.

use std::collections::BTreeMap;
use std::fs;
use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly::LanguageTag;
use crow_fly_core::catalog::{SectionSource, SourceEntry, split_key};
use crow_fly_core::check::{Checker, Sections};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::rule::Rule;
use crow_fly_core::translation::{Piece, Units};
use serde::Serialize;

use super::Outcome;
use crate::accepted::{Accepted, hash_of};
use crate::arguments::{ImportArguments, State};
use crate::edits::Edits;
use crate::exchange::{AtLine, Document, Format, MessageTexts};
use crate::place::Misplaced;
use crate::project::{LocaleCatalogs, Project};
use crate::render;

/// The largest file that is read, in bytes.
const MAX_LENGTH: u64 = 256 << 20;

/// A text that is changed.
#[derive(Serialize)]
struct Change {
    key: String,
    before: Option<String>,
    after: String,
}

/// A message that is not taken.
#[derive(Serialize)]
struct Refused {
    key: String,
    line: u32,
    why: String,
}

/// What an import does.
#[derive(Default, Serialize)]
struct Plan {
    locale: String,
    changed: Vec<Change>,
    /// Keys whose translation stays, and is up to date.
    accepted: Vec<String>,
    refused: Vec<Refused>,
}

pub(crate) fn run(project: &Project, what: &ImportArguments, output: &mut dyn Write) -> Result<Outcome> {
    let file = what.file.display();
    let format = Format::of(&what.file)?;
    let about = fs::metadata(&what.file).with_context(|| format!("{file} cannot be read"))?;
    if about.len() > MAX_LENGTH {
        bail!("{file} has {} bytes; {MAX_LENGTH} are read at most", about.len());
    }
    let text = fs::read_to_string(&what.file).with_context(|| format!("{file} cannot be read"))?;
    let document = format.read(&text).map_err(|error| match error.downcast_ref::<AtLine>() {
        Some(at) => Misplaced::in_line(&file, at.line, format!("{error:#}")).into(),
        None => error.context(format!("{file} cannot be read")),
    })?;
    let locale = project.locale(&document.target_locale)?;
    let reference = project.config.policy().set().default_locale();
    if locale == reference {
        bail!("the file is for the default locale, whose texts are written in its catalogs");
    }
    let listing = project.list()?;
    let (known, own) = (project.read(&listing, reference), project.read(&listing, locale));
    let import = Import {
        project,
        tag: project.config.chains().tag(locale),
        locale,
        known: known.texts(),
        texts: own.texts(),
        own: &own,
        accepted: Accepted::read(project.config.checks().accepted())?,
    };
    let plan = import.plan(&document, &what.only);
    let is_taken = plan.refused.is_empty() || what.skip_refused;
    if what.write && is_taken && plan.has_changes() {
        import.write(&plan)?;
    }
    if what.format.is_json() {
        render::json(output, &plan)?;
    } else {
        plan.print(&file.to_string(), what, is_taken, output)?;
    }
    Ok(if plan.refused.is_empty() { Outcome::Well } else { Outcome::Found })
}

/// The catalogs that translations go to.
struct Import<'p> {
    project: &'p Project,
    tag: &'p LanguageTag,
    locale: LocaleId,
    /// The reference's messages, and those of the locale.
    known: BTreeMap<String, &'p SourceEntry>,
    texts: BTreeMap<String, &'p SourceEntry>,
    own: &'p LocaleCatalogs,
    accepted: Accepted,
}

impl Import<'_> {
    fn plan(&self, document: &Document, only: &[State]) -> Plan {
        let mut plan = Plan { locale: self.tag.to_string(), ..Plan::default() };
        let mut lines = BTreeMap::new();
        for message in &document.messages {
            if !only.is_empty() && !only.contains(&message.state) {
                continue;
            }
            let line = message.units.first().map_or(0, |unit| unit.line);
            match self.message(message) {
                Ok(Taken::Same) => {}
                Ok(Taken::Accepted) => plan.accepted.push(message.key.clone()),
                Ok(Taken::Changed(_)) if lines.contains_key(&message.key) => {
                    let why = "the file has it twice".to_owned();
                    plan.refused.push(Refused { key: message.key.clone(), line, why });
                }
                Ok(Taken::Changed(change)) => {
                    lines.insert(message.key.clone(), line);
                    plan.changed.push(change);
                }
                Err((line, why)) => plan.refused.push(Refused { key: message.key.clone(), line, why }),
            }
        }
        for change in std::mem::take(&mut plan.changed) {
            match self.mistake(&change) {
                None => plan.changed.push(change),
                Some(why) => {
                    let line = lines.get(&change.key).copied().unwrap_or_default();
                    plan.refused.push(Refused { key: change.key, line, why });
                }
            }
        }
        plan.refused.sort_by_key(|refused| refused.line);
        plan
    }

    /// What happens to a message; else the line and why it is not taken.
    fn message(&self, message: &MessageTexts) -> Result<Taken, (u32, String)> {
        let line = message.units.first().map_or(0, |unit| unit.line);
        let refuse = |line: u32, why: &str| Err((line, why.to_owned()));
        let Some(known) = self.known.get(&message.key) else {
            return refuse(line, "the default locale has no such message any more");
        };
        let own = self.texts.get(&message.key).copied();
        let base = own.map(|own| hash_of(own.text())).unwrap_or_default();
        let marked = own.is_some_and(SourceEntry::is_untranslated);
        let own = own.filter(|own| !own.is_untranslated()).map(SourceEntry::text);
        let units = Units::of(known.text(), own, self.tag).map_err(|errors| (line, errors.to_string()))?;
        let mut targets = vec![None; units.units().len()];
        let mut is_changed = false;
        for text in &message.units {
            let Some(at) = units.units().iter().position(|unit| unit.form() == text.form) else {
                return Err((text.line, format!("the message has no form `{}`", text.form)));
            };
            let Some((unit, target)) = units.units().get(at).zip(targets.get_mut(at)) else { continue };
            if Piece::join(unit.source()) != Piece::join(&text.source) {
                return refuse(
                    text.line,
                    "the default locale's text has changed since the export; export it again",
                );
            }
            let before = unit.target().map(Piece::join);
            match (before, text.target.as_deref().map(Piece::join)) {
                (Some(_), None) => {
                    return refuse(
                        text.line,
                        "the translation is empty: it would delete the one that is there",
                    );
                }
                (before, Some(after)) if before.as_deref() != Some(after.as_str()) => {
                    is_changed = true;
                    target.clone_from(&text.target);
                }
                _ => {}
            }
        }
        if !is_changed {
            let is_stale = || {
                let hash = hash_of(known.text());
                self.accepted.is_stale(&self.tag.to_string(), &message.key, &hash)
            };
            let is_accepted = message.state == State::Translated && !marked && own.is_some() && is_stale();
            return Ok(if is_accepted { Taken::Accepted } else { Taken::Same });
        }
        if base != message.base {
            return refuse(line, "the catalog has changed since the export; export it again");
        }
        let after = units.with_targets(&targets).map_err(|error| (line, error.to_string()))?;
        Ok(Taken::Changed(Change { key: message.key.clone(), before: own.map(ToOwned::to_owned), after }))
    }

    /// Why a new text is not taken: a mistake in it, or something that would be lost.
    fn mistake(&self, change: &Change) -> Option<String> {
        let (section, name) = split_key(&change.key)?;
        let known = self.known.get(&change.key)?;
        let note = self.texts.get(&change.key).and_then(|own| own.note());
        let alone = |text: &str, note: Option<&str>| {
            Sections::from([(section.to_owned(), SectionSource::from_toml(&as_toml(name, text, note)))])
        };
        let (of_reference, own) = (alone(known.text(), known.note()), alone(&change.after, note));
        let config = &self.project.config;
        let (set, chains, settings) = (config.policy().set(), config.chains(), config.checks().settings());
        // Each text by itself: of a file only a hundred findings are told.
        let report = Checker::new(set, chains, &of_reference, settings).check(self.locale, &own, &[]);
        let loses =
            [Rule::MissingParameter, Rule::MissingMarkup, Rule::MissingMarkupOption, Rule::MissingSelectKey];
        let refuses = |finding: &&Finding| {
            finding.severity == Severity::Error
                || loses.contains(&finding.rule)
                || finding.rule == Rule::MoreFindings
        };
        let finding = report.findings.iter().find(refuses)?;
        Some(format!("{}; {}", finding.text, finding.help))
    }

    fn write(&self, plan: &Plan) -> Result<()> {
        let file = self.project.config.checks().accepted();
        let (mut edits, mut accepted) = (Edits::new(self.project), Accepted::read(file)?);
        let locale = self.tag.to_string();
        for change in &plan.changed {
            let Some((section, name)) = split_key(&change.key) else { continue };
            let (file, of_section) = edits.file(&locale, section, self.own)?;
            let key = of_section.key(section, name);
            file.set(&key, &change.after)?;
            file.unmark(&key);
        }
        edits.write()?;
        let keys = plan.changed.iter().map(|change| &change.key).chain(&plan.accepted);
        for key in keys {
            let Some(known) = self.known.get(key) else { continue };
            accepted.accept_one(&locale, key, &hash_of(known.text()));
        }
        accepted.write(file)
    }
}

/// What happens to a message.
enum Taken {
    Same,
    /// The translation stays, and is up to date.
    Accepted,
    Changed(Change),
}

/// A message by itself, as a file.
fn as_toml(name: &str, text: &str, note: Option<&str>) -> String {
    let mut file = String::new();
    for line in note.iter().flat_map(|note| note.lines()) {
        file.extend(["# ", line, "\n"]);
    }
    file.push_str(&SectionSource::toml_line(name, text));
    file
}

impl Plan {
    const fn has_changes(&self) -> bool {
        !self.changed.is_empty() || !self.accepted.is_empty()
    }

    fn print(
        &self,
        file: &str,
        what: &ImportArguments,
        is_taken: bool,
        output: &mut dyn Write,
    ) -> Result<()> {
        for Change { key, before, after } in &self.changed {
            writeln!(output, "{key}")?;
            render::change(output, before.as_deref(), Some(after))?;
        }
        for Refused { key, line, why } in &self.refused {
            writeln!(output, "{file}:{line}:1: {key} is refused: {why}")?;
        }
        for key in &self.accepted {
            writeln!(output, "{key}: the translation stays, and is up to date")?;
        }
        let changed = render::count(self.changed.len() + self.accepted.len(), "text");
        let refused = render::count(self.refused.len(), "message");
        if !self.refused.is_empty() {
            writeln!(output, "{refused} refused")?;
        }
        match (self.has_changes(), is_taken, what.write) {
            (false, ..) => writeln!(output, "nothing to change")?,
            (_, false, _) => {
                writeln!(output, "nothing is written; `--skip-refused` takes the others: {changed}")?;
            }
            (_, true, true) => writeln!(output, "{changed} written")?,
            (_, true, false) => writeln!(output, "{changed} to change; to write: add `--write`")?,
        }
        Ok(())
    }
}
