//! `crow-fly export`: the texts of a locale for translators, as XLIFF or CSV.

use std::collections::BTreeSet;
use std::io::Write;

use anyhow::{Result, bail};
use crow_fly_core::catalog::SourceEntry;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::translation::Units;
use serde_json::json;

use super::Outcome;
use crate::accepted::{Accepted, hash_of, hashes};
use crate::arguments::{ExportArguments, State};
use crate::exchange::{Document, Format, MessageTexts, UnitText};
use crate::output::Output;
use crate::place;
use crate::project::Project;
use crate::render;
use crate::writing::{Disk, replace};

pub(crate) fn run(
    project: &Project,
    what: &ExportArguments,
    disk: &dyn Disk,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let format = Format::of(&what.file)?;
    let locale = project.locale(&what.locale)?;
    // A translator may have worked on it.
    if what.file.exists() && !what.overwrite {
        bail!("{} is there already; import it first, or add `--overwrite`", place::path(&what.file));
    }
    let Exported { document, problems } = document(project, locale, &what.only)?;
    let bytes = format.write(&document)?;
    replace(disk, &what.file, &bytes)?;
    let texts: usize = document.messages.iter().map(|message| message.units.len()).sum();
    let messages = document.messages.len();
    if what.format.is_json() {
        render::json(
            output,
            &json!({ "file": what.file, "locale": what.locale, "messages": messages, "texts": texts, "problems": problems }),
        )?;
    } else {
        let (messages, texts) = (render::count(messages, "message"), render::count(texts, "text"));
        writeln!(output, "{}: {messages}, {texts}", place::path(&what.file))?;
        for problem in &problems {
            render::warning(problem)?;
        }
    }
    Ok(if problems.is_empty() { Outcome::Well } else { Outcome::Found })
}

/// A document, and what could not be put into it.
pub(crate) struct Exported {
    pub(crate) document: Document,
    problems: Vec<String>,
}

/// The texts of a locale in these states; all where none is named.
pub(crate) fn document(project: &Project, locale: LocaleId, only: &[State]) -> Result<Exported> {
    let (set, chains) = (project.config.policy().set(), project.config.chains());
    let reference = set.default_locale();
    if locale == reference {
        bail!("`{}` is the default locale: its texts are what others are translated from", set.text(locale));
    }
    let listing = project.list()?;
    let (known, own) = (project.read(&listing, reference), project.read(&listing, locale));
    let tag = chains.tag(locale);
    let (accepted, known_hashes) =
        (Accepted::read(project.config.checks().accepted())?, hashes(&known.sections));
    let findings = accepted.stale(&tag.to_string(), &own, &known_hashes);
    let outdated: BTreeSet<String> = findings
        .iter()
        .filter_map(|finding| Some(format!("{}.{}", finding.section, finding.key.as_deref()?)))
        .collect();
    let translated = own.texts();
    let mut document = Document {
        source_locale: chains.tag(reference).to_string(),
        target_locale: tag.to_string(),
        messages: Vec::new(),
    };
    let mut problems = Vec::new();
    for (section, source) in &known.sections {
        for entry in source.entries() {
            let key = format!("{section}.{}", entry.key());
            let same = translated.get(&key).copied();
            let state = match same {
                None => State::Untranslated,
                Some(same) if same.is_untranslated() => State::Untranslated,
                Some(_) if outdated.contains(&key) => State::Stale,
                Some(_) => State::Translated,
            };
            if !only.is_empty() && !only.contains(&state) {
                continue;
            }
            // A place that is marked to be filled has the default locale's text: that is not a translation.
            let text = same.filter(|same| !same.is_untranslated()).map(SourceEntry::text);
            let units = match Units::of(entry.text(), text, tag) {
                Ok(units) => units,
                Err(errors) => {
                    problems.push(format!("`{key}` of the default locale has errors: {errors}"));
                    continue;
                }
            };
            let places = units.places().map(ToOwned::to_owned);
            let units = units.units().iter().map(|unit| UnitText {
                form: unit.form().to_owned(),
                hint: unit.hint().map(ToOwned::to_owned),
                source: unit.source().to_vec(),
                target: unit.target().map(<[_]>::to_vec),
                line: 0,
            });
            document.messages.push(MessageTexts {
                key,
                note: entry.note().map(ToOwned::to_owned),
                places,
                state,
                base: same.map(|same| hash_of(same.text())).unwrap_or_default(),
                units: units.collect(),
            });
        }
    }
    Ok(Exported { document, problems })
}
