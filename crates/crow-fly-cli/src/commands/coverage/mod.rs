//! `crow-fly coverage`: how much of the default locale each locale has, by section.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;

use anyhow::Result;
use crow_fly_core::check::{Coverage, TextState};
use crow_fly_core::locale_set::LocaleId;
use serde::Serialize;

use super::Outcome;
use super::check::walk::{self, OfText, Wants};
use crate::arguments::{CoverageArguments, CoverageFormat};
use crate::output::Output;
use crate::project::Project;
use crate::render;

mod page;

/// Counts of texts, and words of the default locale.
#[derive(Clone, Copy, Default, Serialize)]
pub(super) struct Counts {
    #[serde(flatten)]
    pub(super) texts: Coverage,
    /// Words of the default locale.
    pub(super) words: usize,
    /// Those of texts that are untranslated, stale or missing.
    pub(super) words_left: usize,
}

impl Counts {
    const fn add(&mut self, text: &OfText) {
        self.texts.add(text.state);
        self.words += text.words;
        if !text.state.is_done() {
            self.words_left += text.words;
        }
    }
}

/// A locale beside the default locale.
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
    pub(super) state: TextState,
    pub(super) words: usize,
}

/// A text of the default locale, for people.
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
    let columns = Columns::of(locales.iter().map(|locale| &locale.counts.texts));
    let row = |name: String, counts: &Counts| -> Vec<String> {
        let numbers = columns.cells(&counts.texts).chain([counts.words_left, counts.words]);
        [name, format!("{}%", counts.texts.percent())].into_iter().chain(numbers.map(render::cell)).collect()
    };
    let rows = locales.iter().flat_map(|locale| {
        let whole = row(locale.locale.clone(), &locale.counts);
        let wants_sections = what.sections || !what.locale.is_empty();
        let sections = locale.sections.iter().filter(move |_| wants_sections);
        std::iter::once(whole).chain(sections.map(|(name, counts)| row(format!("  {name}"), counts)))
    });
    let head = ["locale", "covered"].into_iter().chain(columns.heads()).chain(["words left", "words"]);
    render::table(output, &head.collect::<Vec<_>>(), rows)?;
    Ok(())
}

/// The columns of a table for how texts are there.
pub(super) const COLUMNS: [&str; 5] = ["translated", "inherited", "untranslated", "stale", "missing"];

/// What stands in them.
pub(super) const fn columns(texts: &Coverage) -> [usize; 5] {
    let Coverage { translated, inherited, untranslated, stale, missing, .. } = *texts;
    [translated, inherited, untranslated, stale, missing]
}

/// The columns that a table needs: those that some locale has texts in, and the first.
pub(super) struct Columns([bool; 5]);

impl Columns {
    pub(super) fn of<'c>(all: impl Iterator<Item = &'c Coverage>) -> Self {
        let mut needed = [true, false, false, false, false];
        for texts in all {
            needed.iter_mut().zip(columns(texts)).for_each(|(is_needed, count)| *is_needed |= count > 0);
        }
        Self(needed)
    }

    pub(super) fn heads(&self) -> impl Iterator<Item = &'static str> {
        COLUMNS.into_iter().zip(self.0).filter(|(_, is_needed)| *is_needed).map(|(name, _)| name)
    }

    pub(super) fn cells(&self, texts: &Coverage) -> impl Iterator<Item = usize> {
        columns(texts).into_iter().zip(self.0).filter(|(_, is_needed)| *is_needed).map(|(count, _)| count)
    }
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
            if !text.state.is_done() {
                let key = format!("{}.{}", text.section, text.key);
                of_locale.left.push(LeftText { key, state: text.state, words: text.words });
            }
        }
        of_locale.percent = of_locale.counts.texts.percent();
        of_locale
    }
}

/// The texts of the default locale by key.
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
