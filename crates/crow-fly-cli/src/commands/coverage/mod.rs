//! `crow-fly coverage`: how much of the reference each locale has, by section.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::io::Write;

use anyhow::{Context, Result};
use crow_fly_core::check::TextState;
use crow_fly_core::locale_set::LocaleId;
use serde::Serialize;

use super::Outcome;
use super::check::walk::{self, OfText, Wants};
use crate::arguments::CoverageArguments;
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
        let state = State::of(text);
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
#[derive(Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub(super) enum State {
    Translated,
    Untranslated,
    Stale,
}

impl State {
    fn of(text: &OfText) -> Self {
        match text.state {
            TextState::Own if text.is_stale => Self::Stale,
            TextState::Own | TextState::FromChain => Self::Translated,
            TextState::Untranslated | TextState::Missing => Self::Untranslated,
        }
    }

    pub(super) const fn name(self) -> &'static str {
        match self {
            Self::Translated => "translated",
            Self::Untranslated => "untranslated",
            Self::Stale => "stale",
        }
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

pub(crate) fn run(
    project: &Project,
    what: &CoverageArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<BTreeSet<_>>>()?;
    let checked = walk::check(project, &only, Wants::Texts)?;
    let reference = project.config.policy().set().default_locale();
    let locales: Vec<LocaleCoverage> = checked
        .texts
        .iter()
        .filter(|(id, _)| **id != reference)
        .map(|(id, texts)| LocaleCoverage::new(project, *id, texts))
        .collect();
    if let Some(file) = &what.html {
        let title = project.config.chains().tag(reference).to_string();
        let page = page::page(&title, &locales, &texts(project, reference)?);
        fs::write(file, page).with_context(|| format!("{} cannot be written", file.display()))?;
    }
    if json {
        render::json(output, &locales)?;
        return Ok(Outcome::Well);
    }
    let rows = locales.iter().flat_map(|locale| {
        let whole = row(locale.locale.clone(), &locale.counts);
        let wants_sections = what.sections || !what.locale.is_empty();
        let sections = locale.sections.iter().filter(move |_| wants_sections);
        std::iter::once(whole).chain(sections.map(|(name, counts)| row(format!("  {name}"), counts)))
    });
    let head = ["locale", "covered", "translated", "untranslated", "stale", "words left", "of"];
    render::table(output, &head, rows)?;
    if let Some(file) = &what.html {
        writeln!(output, "\n{} written", file.display())?;
    }
    Ok(Outcome::Well)
}

fn row(name: String, counts: &Counts) -> Vec<String> {
    let say = |count: usize| if count == 0 { "–".to_owned() } else { count.to_string() };
    let Counts { translated, untranslated, stale, words, words_left } = *counts;
    let numbers = [translated, untranslated, stale, words_left, words];
    [name, format!("{}%", counts.percent())].into_iter().chain(numbers.map(say)).collect()
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
            let state = State::of(text);
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
