//! `crow-fly export`: the texts of a locale for translators, as XLIFF or CSV.

use std::collections::BTreeSet;
use std::fs;
use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly::LanguageTag;
use crow_fly_core::catalog::SourceEntry;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::Message;
use crow_fly_core::message::model::Body;
use crow_fly_core::number::{Category, PluralRules, PluralType};
use crow_fly_core::translation::Units;
use serde_json::json;

use super::Outcome;
use crate::accepted::{Accepted, hash_of, hashes};
use crate::arguments::ExportArguments;
use crate::exchange::{Document, Format, MessageTexts, State, UnitText};
use crate::project::Project;
use crate::render;

pub(crate) fn run(
    project: &Project,
    what: &ExportArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let format = Format::of(&what.file)?;
    let locale = project.locale(&what.locale)?;
    // A translator may have worked on it.
    if what.file.exists() && !what.overwrite {
        bail!("{} is there already; import it first, or add `--overwrite`", what.file.display());
    }
    let Exported { document, problems } = document(project, locale, &what.only)?;
    let bytes = format.write(&document)?;
    fs::write(&what.file, bytes).with_context(|| format!("{} cannot be written", what.file.display()))?;
    let texts: usize = document.messages.iter().map(|message| message.units.len()).sum();
    let messages = document.messages.len();
    if json {
        render::json(
            output,
            &json!({ "file": what.file, "locale": what.locale, "messages": messages, "texts": texts, "problems": problems }),
        )?;
    } else {
        let (messages, texts) = (render::count(messages, "message"), render::count(texts, "text"));
        writeln!(output, "{}: {messages}, {texts}", what.file.display())?;
        for problem in &problems {
            writeln!(anstream::stderr(), "warning: {problem}")?;
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
            // A place that is marked to be filled has the reference's text: that is not a translation.
            let text = same.filter(|same| !same.is_untranslated()).map(SourceEntry::text);
            let units = match Units::of(entry.text(), text, tag) {
                Ok(units) => units,
                Err(errors) => {
                    problems.push(format!("`{key}` of the default locale has errors: {errors}"));
                    continue;
                }
            };
            let hints = Hints::of(entry.text(), tag);
            let units = units.units().iter().map(|unit| UnitText {
                form: unit.form().to_owned(),
                hint: hints.of_form(unit.form()),
                source: unit.source().to_vec(),
                target: unit.target().map(<[_]>::to_vec),
                line: 0,
            });
            document.messages.push(MessageTexts {
                key,
                note: entry.note().map(ToOwned::to_owned),
                state,
                base: same.map(|same| hash_of(same.text())).unwrap_or_default(),
                units: units.collect(),
            });
        }
    }
    Ok(Exported { document, problems })
}

/// What numbers have which form, for people.
struct Hints(Vec<PluralRules>);

impl Hints {
    /// One set of rules for each selector.
    fn of(text: &str, tag: &LanguageTag) -> Self {
        let Ok(Message { body: Body::Match { selectors, .. }, declarations }) = Message::parse(text) else {
            return Self(Vec::new());
        };
        let is_ordinal = declarations.iter().any(|declaration| {
            let options = declaration.value.function.iter().flat_map(|function| &function.options);
            options.into_iter().any(|option| option.name == "select" && option.value.to_string() == "ordinal")
        });
        let plural = if is_ordinal { PluralType::Ordinal } else { PluralType::Cardinal };
        Self(selectors.iter().map(|_| PluralRules::of(tag, plural)).collect())
    }

    /// `few: numbers like 2–4, 22–24`
    fn of_form(&self, form: &str) -> Option<String> {
        let hint = |(key, rules): (&str, &PluralRules)| {
            let samples = rules.samples(Category::from_keyword(key)?);
            let whole = samples.split("@decimal").next()?.trim().trim_start_matches("@integer").trim();
            let some: Vec<&str> = whole.split(',').map(str::trim).take(4).collect();
            (!whole.is_empty()).then(|| format!("{key}: numbers like {}", some.join(", ").replace('~', "–")))
        };
        let hints: Vec<String> = form.split(' ').zip(&self.0).filter_map(hint).collect();
        (!hints.is_empty()).then(|| hints.join("; "))
    }
}
