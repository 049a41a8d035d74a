//! `crow-fly coverage`: how much of the reference each locale has, by section.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;

use anyhow::Result;
use crow_fly_core::check::TextState;
use crow_fly_core::locale_set::LocaleId;
use serde::Serialize;

use super::Outcome;
use super::check::walk::{self, OfText, Wants};
use crate::arguments::{CoverageArguments, CoverageFormat, State};
use crate::output::Output;
use crate::project::Project;
use crate::render;

mod page;

/// Counts of texts, and words of the reference.
#[derive(Clone, Copy, Default, Serialize)]
pub(super) struct Counts {
    /// With a text in the language, of their own or of the chain.
    pub(super) translated: usize,
    /// Without one, or marked as untranslated.
    pub(super) untranslated: usize,
    /// With a text whose reference has changed since it was accepted.
    pub(super) stale: usize,
    /// Words of the reference.
    pub(super) words: usize,
    /// Those of texts that are untranslated or stale.
    pub(super) words_left: usize,
}

impl Counts {
    fn add(&mut self, text: &OfText) {
        let state = state_of(text);
        match state {
            State::Translated => self.translated += 1,
            State::Untranslated => self.untranslated += 1,
            State::Stale => self.stale += 1,
        }
        self.words += text.words;
        if state != State::Translated {
            self.words_left += text.words;
        }
    }

    pub(super) const fn total(&self) -> usize {
        self.translated + self.untranslated + self.stale
    }

    /// Translated texts in whole percent, rounded down.
    pub(super) fn percent(&self) -> usize {
        (self.translated * 100).checked_div(self.total()).unwrap_or(100)
    }
}

/// What there is to do for a text.
const fn state_of(text: &OfText) -> State {
    match text.state {
        TextState::Own if text.is_stale => State::Stale,
        TextState::Own | TextState::FromChain => State::Translated,
        TextState::Untranslated | TextState::Missing => State::Untranslated,
    }
}

/// A locale beside the reference.
#[derive(Serialize)]
pub(super) struct LocaleCoverage {
    pub(super) locale: String,
    #[serde(flatten)]
    pub(super) counts: Counts,
    pub(super) percent: usize,
    pub(super) sections: BTreeMap<String, Counts>,
    /// What is left to do.
    pub(super) left: Vec<LeftText>,
}

/// A text that is left to do.
#[derive(Serialize)]
pub(super) struct LeftText {
    pub(super) key: String,
    pub(super) state: State,
    pub(super) words: usize,
}

/// A text of the reference, for people.
pub(super) struct ReferenceText {
    pub(super) text: String,
    pub(super) note: Option<String>,
}

pub(crate) fn run(project: &Project, what: &CoverageArguments, output: &mut Output<'_>) -> Result<Outcome> {
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<BTreeSet<_>>>()?;
    let checked = walk::check(project, &only, Wants::Texts)?;
    let reference = project.config.policy().set().default_locale();
    let locales: Vec<LocaleCoverage> = checked
        .texts
        .iter()
        .filter(|(id, _)| **id != reference)
        .map(|(id, texts)| LocaleCoverage::new(project, *id, texts))
        .collect();
    match what.format {
        CoverageFormat::Json => render::json(output, &locales)?,
        CoverageFormat::Html => {
            let title = project.config.chains().tag(reference).to_string();
            output.write_all(page::page(&title, &locales, &texts(project, reference)?).as_bytes())?;
        }
        CoverageFormat::Text => table(&locales, what, output)?,
    }
    Ok(Outcome::Well)
}

fn table(locales: &[LocaleCoverage], what: &CoverageArguments, output: &mut Output<'_>) -> Result<()> {
    let rows = locales.iter().flat_map(|locale| {
        let whole = row(locale.locale.clone(), &locale.counts);
        let wants_sections = what.sections || !what.locale.is_empty();
        let sections = locale.sections.iter().filter(move |_| wants_sections);
        std::iter::once(whole).chain(sections.map(|(name, counts)| row(format!("  {name}"), counts)))
    });
    let head = ["locale", "covered", "translated", "untranslated", "stale", "words left", "words"];
    render::table(output, &head, rows)?;
    Ok(())
}

fn row(name: String, counts: &Counts) -> Vec<String> {
    let Counts { translated, untranslated, stale, words, words_left } = *counts;
    let numbers = [translated, untranslated, stale, words_left, words];
    [name, format!("{}%", counts.percent())].into_iter().chain(numbers.map(render::cell)).collect()
}

impl LocaleCoverage {
    fn new(project: &Project, id: LocaleId, texts: &[OfText]) -> Self {
        let mut of_locale = Self {
            locale: project.config.chains().tag(id).to_string(),
            counts: Counts::default(),
            percent: 0,
            sections: BTreeMap::new(),
            left: Vec::new(),
        };
        for text in texts {
            of_locale.counts.add(text);
            of_locale.sections.entry(text.section.clone()).or_default().add(text);
            let state = state_of(text);
            if state != State::Translated {
                let key = format!("{}.{}", text.section, text.key);
                of_locale.left.push(LeftText { key, state, words: text.words });
            }
        }
        of_locale.percent = of_locale.counts.percent();
        of_locale
    }
}

/// The texts of the reference by key.
fn texts(project: &Project, reference: LocaleId) -> Result<BTreeMap<String, ReferenceText>> {
    let own = project.read(&project.list()?, reference);
    let mut texts = BTreeMap::new();
    for (section, source) in &own.sections {
        for entry in source.entries() {
            let text =
                ReferenceText { text: entry.text().to_owned(), note: entry.note().map(ToOwned::to_owned) };
            texts.insert(format!("{section}.{}", entry.key()), text);
        }
    }
    Ok(texts)
}
