//! `crow-fly import`: translations back into the catalogs. Everything is checked before a file is touched.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;

use anyhow::{Result, bail};
use crow_fly::LanguageTag;
use crow_fly_core::catalog::{SectionSource, SourceEntry, split_key};
use crow_fly_core::check::{Checker, Sections};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::Message;
use crow_fly_core::rule::Rule;
use crow_fly_core::translation::{Piece, Units};
use serde::Serialize;

use super::Outcome;
use crate::accepted::{Accepted, hash_of};
use crate::arguments::{ImportArguments, State};
use crate::edits::Edits;
use crate::exchange::{AtLine, Document, Format, MessageTexts};
use crate::output::Output;
use crate::place::Misplaced;
use crate::project::{LocaleCatalogs, Project};
use crate::render;
use crate::writing::Writing;
use crate::{place, reading};

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
    /// The rule that the text breaks.
    rule: Option<Rule>,
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
    /// Keys whose layout cannot be kept.
    laid_out_anew: Vec<String>,
    /// What `check` will say of texts that are taken.
    warnings: Vec<Refused>,
}

pub(crate) fn run(
    project: &Project,
    what: &ImportArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let file = place::path(&what.file);
    let format = Format::of(&what.file)?;
    let text = reading::text(&what.file)?;
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
    let mut notes = Vec::new();
    if let Some(writing) = writing.filter(|_| is_taken && plan.has_changes()) {
        notes = import.write(&plan, writing)?;
    }
    if what.format.is_json() {
        render::json(output, &plan)?;
    } else {
        plan.print(&file, what, is_taken, output)?;
        notes.iter().try_for_each(render::note)?;
    }
    Ok(if plan.refused.is_empty() { Outcome::Well } else { Outcome::Found })
}

/// The catalogs that translations go to.
struct Import<'p> {
    project: &'p Project,
    tag: &'p LanguageTag,
    locale: LocaleId,
    /// The default locale's messages, and those of the locale.
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
                    plan.refused.push(Refused { key: message.key.clone(), line, rule: None, why });
                }
                Ok(Taken::Changed(change)) => {
                    lines.insert(message.key.clone(), line);
                    plan.changed.push(change);
                }
                Err((line, why)) => {
                    plan.refused.push(Refused { key: message.key.clone(), line, rule: None, why });
                }
            }
        }
        for change in std::mem::take(&mut plan.changed) {
            let line = lines.get(&change.key).copied().unwrap_or_default();
            let told = |finding: &Finding| Refused {
                key: change.key.clone(),
                line,
                rule: Some(finding.rule),
                why: format!("{}; {}", finding.text, finding.help),
            };
            let findings = self.findings(&change);
            let mistakes: Vec<&Finding> = findings.iter().filter(|finding| refuses(finding)).collect();
            if mistakes.is_empty() {
                plan.warnings.extend(findings.iter().map(told));
                if is_laid_out_anew(&change) {
                    plan.laid_out_anew.push(change.key.clone());
                }
                plan.changed.push(change);
            } else {
                plan.refused.extend(mistakes.into_iter().map(told));
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
        let mut given = targets.clone();
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
            if let Some(given) = given.get_mut(at) {
                given.clone_from(&text.target);
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
        // It is what was exported: nobody has worked on it there, only here.
        if units.with_targets(&given).is_ok_and(|exported| hash_of(&exported) == message.base) {
            return Ok(Taken::Same);
        }
        if base != message.base {
            return refuse(line, "the catalog has changed since the export; export it again");
        }
        let after = units.with_targets(&targets).map_err(|error| (line, error.to_string()))?;
        Ok(Taken::Changed(Change { key: message.key.clone(), before: own.map(ToOwned::to_owned), after }))
    }

    /// What `check` will find in a new text once it is there.
    fn findings(&self, change: &Change) -> Vec<Finding> {
        let Some(((section, name), known)) = split_key(&change.key).zip(self.known.get(&change.key)) else {
            return Vec::new();
        };
        // The mark of a place to be filled goes when it is.
        let note = self.texts.get(&change.key).and_then(|own| own.note()).unwrap_or_default();
        let is_mark = |line: &&str| line.trim() == SourceEntry::UNTRANSLATED;
        let note: Vec<&str> = note.lines().filter(|line| !is_mark(line)).collect();
        let note = (!note.is_empty()).then(|| note.join("\n"));
        let alone = |text: &str, note: Option<&str>| {
            Sections::from([(section.to_owned(), SectionSource::from_toml(&as_toml(name, text, note)))])
        };
        let (of_reference, own) = (alone(known.text(), known.note()), alone(&change.after, note.as_deref()));
        let config = &self.project.config;
        let (set, chains, settings) = (config.policy().set(), config.chains(), config.checks().settings());
        // Each text by itself: of a file only a hundred findings are told.
        Checker::new(set, chains, &of_reference, settings).check(self.locale, &own, &[]).findings
    }

    /// Writes what is taken; returns what is good to know about it.
    fn write(&self, plan: &Plan, writing: &Writing<'_>) -> Result<Vec<String>> {
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
        let keys = plan.changed.iter().map(|change| &change.key).chain(&plan.accepted);
        for key in keys {
            let Some(known) = self.known.get(key) else { continue };
            accepted.accept_one(&locale, key, &hash_of(known.text()));
        }
        let mut changes = edits.changes()?;
        changes.push(accepted.change()?);
        writing.write(changes)?;
        Ok(edits.laid_out_anew())
    }
}

/// Whether a translation loses its own layout: it had one, and has that of all messages now.
fn is_laid_out_anew(change: &Change) -> bool {
    let is_canonical = |text: &str| Message::parse(text).is_ok_and(|message| message.to_string() == text);
    let has_frame = |text: &str| text.trim_start().starts_with('.');
    let before = change.before.as_ref().filter(|before| has_frame(before));
    before.is_some_and(|before| !is_canonical(before)) && is_canonical(&change.after)
}

/// Whether a text with this finding is not taken: it has a mistake, or something would be lost.
fn refuses(finding: &Finding) -> bool {
    let loses =
        [Rule::MissingParameter, Rule::MissingMarkup, Rule::MissingMarkupOption, Rule::MissingSelectKey];
    finding.severity == Severity::Error || loses.contains(&finding.rule) || finding.rule == Rule::MoreFindings
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
        output: &mut Output<'_>,
    ) -> Result<()> {
        for Change { key, before, after } in &self.changed {
            writeln!(output, "{key}")?;
            render::change(output, before.as_deref(), Some(after))?;
        }
        for Refused { key, line, rule, why } in &self.refused {
            let rule = rule.map(|rule| format!(" [{rule}]")).unwrap_or_default();
            writeln!(output, "{file}:{line}:1: {key} is refused: {why}{rule}")?;
        }
        for Refused { key, line, rule, why } in &self.warnings {
            let rule = rule.map(|rule| format!(" [{rule}]")).unwrap_or_default();
            writeln!(output, "{file}:{line}:1: {key} is taken, and `check` will report: {why}{rule}")?;
        }
        for key in &self.laid_out_anew {
            writeln!(output, "{key} is laid out anew: its variants or declarations are others")?;
        }
        for key in &self.accepted {
            writeln!(output, "{key}: the translation stays, and is up to date")?;
        }
        let changed = render::count(self.changed.len() + self.accepted.len(), "text");
        let keys: BTreeSet<&str> = self.refused.iter().map(|refused| refused.key.as_str()).collect();
        let refused = render::count(keys.len(), "message");
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
