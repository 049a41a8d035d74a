//! What locales lack of the default locale's texts, in their own language.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt;
use std::sync::{Arc, PoisonError};

use crow_fly_core::catalog::split_key;
use crow_fly_core::locale_set::LocaleId;
use tracing::warn;

use super::CatalogStore;
use super::generation::Generation;
use super::section::Link;

/// What a section of a locale lacks.
#[derive(Clone, Debug)]
pub(crate) struct Lacking {
    pub(crate) locale: LocaleId,
    pub(crate) section: String,
    /// The keys in the section, of texts that are not there in the locale's language.
    pub(crate) keys: Vec<String>,
    /// How many texts the default locale has in it.
    pub(crate) of: usize,
}

/// How many keys are listed.
const LISTED: usize = 5;

impl fmt::Display for Lacking {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (count, of) = (self.keys.len(), self.of);
        let listed: Vec<String> = self.keys.iter().take(LISTED).map(|key| format!("`{key}`")).collect();
        let texts = if count == 1 { "text" } else { "texts" };
        write!(f, "`{}` lacks {count} {texts} of {of} in its language: {}", self.section, listed.join(", "))?;
        match count.saturating_sub(LISTED) {
            0 => Ok(()),
            more => write!(f, " and {more} more"),
        }
    }
}

/// What was counted last, and of what.
#[derive(Debug, Default)]
pub(super) struct Counted {
    generation: u64,
    loads: u64,
    lacking: Arc<Vec<Lacking>>,
}

/// A section that had texts in the language of its locale, and has none any more.
#[derive(Clone, Debug)]
pub(super) struct LostSection {
    pub(super) locale: LocaleId,
    pub(super) section: String,
    /// The file that had them.
    pub(super) file: String,
}

/// The sections that a chain has texts of in its own language, and the file of each; none where a file that may have any is not
/// in memory.
fn sections_in_language(generation: &Generation, links: &[Link]) -> Option<BTreeMap<String, String>> {
    let mut sections = BTreeMap::new();
    for link in links.iter().filter(|link| link.is_same_language) {
        for place in generation.places(link.locale, None) {
            let (Some(file), section) = (generation.file(place), generation.section(place)) else { continue };
            match (file.section_name(), section) {
                (Some(_), Some(section)) if section.catalog.is_empty() => {}
                (Some(name), _) => {
                    sections.entry(name.to_owned()).or_insert_with(|| file.origin());
                }
                (None, None) => return None,
                (None, Some(section)) => {
                    for name in section.catalog.keys().filter_map(split_key).map(|(name, _)| name) {
                        if !sections.contains_key(name) {
                            sections.insert(name.to_owned(), file.origin());
                        }
                    }
                }
            }
        }
    }
    Some(sections)
}

impl CatalogStore {
    /// What is missing of the sections that are declared to be complete; nothing where the configuration declares none. It is
    /// counted anew where something has been loaded.
    pub(super) fn incomplete(&self, generation: &Generation) -> Arc<Vec<Lacking>> {
        if self.0.config.catalogs.may_fall_back.is_none() {
            return Arc::default();
        }
        let loads = self.0.counts.all().0;
        let mut counted = self.0.incomplete.lock().unwrap_or_else(PoisonError::into_inner);
        if (counted.generation, counted.loads) != (generation.number, loads) {
            let lacking = Arc::new(self.lacking_of(generation));
            *counted = Counted { generation: generation.number, loads, lacking };
        }
        Arc::clone(&counted.lacking)
    }

    /// What locales lack of the current generation, as far as it is in memory: by locale and section. Drafts are unfinished
    /// by design.
    pub(crate) fn lacking(&self) -> Vec<Lacking> {
        self.lacking_of(&self.current())
    }

    fn lacking_of(&self, generation: &Generation) -> Vec<Lacking> {
        let config = &self.0.config;
        let set = config.policy().set();
        let reference = keys_in_language(generation, self.links(set.default_locale()));
        let mut lacking = Vec::new();
        for (locale, tag) in set.iter().filter(|(id, _)| !set.is_draft(*id)) {
            let links = self.links(locale);
            for (section, names) in &reference {
                if config.may_fall_back(tag, section) || !is_in_memory(generation, links, section) {
                    continue;
                }
                let is_there = |name: &&String| {
                    let mut own = links.iter().filter(|link| link.is_same_language);
                    own.any(|link| generation.has_message(link.locale, section, name))
                };
                let keys: Vec<String> = names.iter().filter(|name| !is_there(name)).cloned().collect();
                if !keys.is_empty() {
                    lacking.push(Lacking { locale, section: section.clone(), keys, of: names.len() });
                }
            }
        }
        lacking
    }

    /// Notes the sections that had texts in the language of a locale, and have none in the next generation, although another
    /// language of the chain has some: each is logged once, and health says it until it has texts again.
    pub(super) fn note_lost(&self, current: &Generation, next: &Generation) {
        let mut lost = Vec::new();
        let before = self.lost();
        for (locale, tag) in self.0.config.policy().set().iter() {
            let links = self.links(locale);
            let Some(has) = sections_in_language(next, links) else { continue };
            let had = sections_in_language(current, links).unwrap_or_default();
            let noted = before.iter().filter(|lost| lost.locale == locale);
            let noted: BTreeMap<&str, &LostSection> =
                noted.map(|lost| (lost.section.as_str(), lost)).collect();
            let all: BTreeSet<&str> = had.keys().map(String::as_str).chain(noted.keys().copied()).collect();
            for section in all.into_iter().filter(|section| !has.contains_key(*section)) {
                let mut others = links.iter().filter(|link| !link.is_same_language);
                let falls_back =
                    others.any(|link| next.places(link.locale, Some(&[section])).next().is_some());
                if !falls_back || self.0.config.may_fall_back(tag, section) {
                    continue;
                }
                if let Some(noted) = noted.get(section) {
                    lost.push((*noted).clone());
                    continue;
                }
                let file = had.get(section).cloned().unwrap_or_default();
                warn!(
                    target: "crow_fly::catalogs", locale = %tag, section, place = file,
                    help = "put the texts back, or name the section in `may-fall-back` of `[catalogs]`",
                    "the section has lost its texts: they come in another language of the chain",
                );
                lost.push(LostSection { locale, section: section.to_owned(), file });
            }
        }
        *self.0.lost.lock().unwrap_or_else(PoisonError::into_inner) = lost;
    }

    /// The sections that have lost the texts in their locale's language.
    pub(super) fn lost(&self) -> Vec<LostSection> {
        self.0.lost.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }
}

/// The texts of a chain in its own language, by section; of what is in memory.
fn keys_in_language(generation: &Generation, links: &[Link]) -> BTreeMap<String, BTreeSet<String>> {
    let mut keys: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for link in links.iter().filter(|link| link.is_same_language) {
        for place in generation.places(link.locale, None) {
            let Some(section) = generation.section(place) else { continue };
            for key in section.catalog.keys() {
                let (name, key) = match section.file.section_name() {
                    Some(name) => (name, key),
                    None => match split_key(key) {
                        Some(split) => split,
                        None => continue,
                    },
                };
                keys.entry(name.to_owned()).or_default().insert(key.to_owned());
            }
        }
    }
    keys
}

/// Whether all files that a section of a chain's own language may be in are in memory.
fn is_in_memory(generation: &Generation, links: &[Link], section: &str) -> bool {
    let own = links.iter().filter(|link| link.is_same_language);
    own.flat_map(|link| generation.places(link.locale, Some(&[section])).collect::<Vec<_>>())
        .all(|place| generation.section(place).is_some())
}
