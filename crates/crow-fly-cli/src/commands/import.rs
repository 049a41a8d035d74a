//! `crow-fly import`: translations back into the catalogs. Everything is checked before a file is touched.

use std::collections::BTreeMap;
use std::fs;
use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly::LanguageTag;
use crow_fly::core::catalog::{SectionSource, SourceEntry, split_key};
use crow_fly::core::check::{Checker, Sections};
use crow_fly::core::finding::{Finding, Severity};
use crow_fly::core::locale_set::LocaleId;
use crow_fly::core::rule::Rule;
use crow_fly::core::translation::{Piece, Units};
use serde::Serialize;

use super::Outcome;
use crate::accepted::{Accepted, hash_of};
use crate::arguments::ImportArguments;
use crate::exchange::{Document, Format, MessageTexts, State};
use crate::project::{Edits, LocaleCatalogs, Project};
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

pub(crate) fn run(
    project: &Project,
    what: &ImportArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let file = what.file.display();
    let format = Format::of(&what.file)?;
    let about = fs::metadata(&what.file).with_context(|| format!("{file} cannot be read"))?;
    if about.len() > MAX_LENGTH {
        bail!("{file} has {} bytes; {MAX_LENGTH} are read at most", about.len());
    }
    let text = fs::read_to_string(&what.file).with_context(|| format!("{file} cannot be read"))?;
    let document = format.read(&text).with_context(|| format!("{file} cannot be read"))?;
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
    };
    let plan = import.plan(&document, &what.only)?;
    let is_taken = plan.refused.is_empty() || what.skip_refused;
    if what.write && is_taken {
        import.write(&plan)?;
    }
    if json {
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
}

impl Import<'_> {
    fn plan(&self, document: &Document, only: &[State]) -> Result<Plan> {
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
        for finding in self.check(&plan.changed)? {
            let key = format!("{}.{}", finding.section, finding.key.as_deref().unwrap_or_default());
            plan.changed.retain(|change| change.key != key);
            let line = lines.get(&key).copied().unwrap_or_default();
            plan.refused.push(Refused { key, line, why: format!("{}; {}", finding.text, finding.help) });
        }
        plan.refused.sort_by_key(|refused| refused.line);
        Ok(plan)
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
            let is_accepted = message.state == State::Translated && !marked && own.is_some();
            return Ok(if is_accepted { Taken::Accepted } else { Taken::Same });
        }
        if base != message.base {
            return refuse(line, "the catalog has changed since the export; export it again");
        }
        let after = units.with_targets(&targets).map_err(|error| (line, error.to_string()))?;
        Ok(Taken::Changed(Change { key: message.key.clone(), before: own.map(ToOwned::to_owned), after }))
    }

    /// What is wrong with new texts, or would be lost by them.
    fn check(&self, changed: &[Change]) -> Result<Vec<Finding>> {
        let mut texts: BTreeMap<&str, [serde_json::Map<String, serde_json::Value>; 2]> = BTreeMap::new();
        for change in changed {
            let Some((section, name)) = split_key(&change.key) else { continue };
            let [known, own] = texts.entry(section).or_default();
            let text = self.known.get(&change.key).map_or("", |entry| entry.text());
            known.insert(name.to_owned(), text.into());
            own.insert(name.to_owned(), change.after.as_str().into());
        }
        let mut sections = [Sections::new(), Sections::new()];
        for (section, maps) in texts {
            for (map, sections) in maps.iter().zip(&mut sections) {
                let text = serde_json::to_string(map)?;
                sections.insert(section.to_owned(), SectionSource::from_json(&text));
            }
        }
        let [known, own] = &sections;
        let config = &self.project.config;
        let checker = Checker::new(config.policy().set(), config.chains(), known, config.checks().settings());
        let loses =
            [Rule::MissingParameter, Rule::MissingMarkup, Rule::MissingMarkupOption, Rule::MissingSelectKey];
        let mut findings = checker.check(self.locale, own, &[]).findings;
        findings.retain(|finding| {
            finding.key.is_some() && (finding.severity == Severity::Error || loses.contains(&finding.rule))
        });
        Ok(findings)
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

impl Plan {
    fn print(
        &self,
        file: &str,
        what: &ImportArguments,
        is_taken: bool,
        output: &mut dyn Write,
    ) -> Result<()> {
        let indented = |text: &str| text.replace('\n', "\n    ");
        for Change { key, before, after } in &self.changed {
            writeln!(output, "{key}")?;
            if let Some(before) = before {
                writeln!(output, "  - {}", indented(before))?;
            }
            writeln!(output, "  + {}", indented(after))?;
        }
        for Refused { key, line, why } in &self.refused {
            writeln!(output, "{file}:{line}: {key} is not taken: {why}")?;
        }
        let changed = render::count(self.changed.len(), "text");
        let refused = render::count(self.refused.len(), "message");
        if !self.refused.is_empty() {
            writeln!(output, "{refused} not taken")?;
        }
        match (self.changed.is_empty(), is_taken, what.write) {
            (true, ..) => writeln!(output, "nothing to change")?,
            (_, false, _) => {
                writeln!(output, "nothing is written; `--skip-refused` takes the others: {changed}")?;
            }
            (_, true, true) => writeln!(output, "{changed} written")?,
            (_, true, false) => writeln!(output, "{changed} to change; add `--write` to do it")?,
        }
        Ok(())
    }
}
