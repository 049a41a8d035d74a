//! Where catalogs lie, which sections a page needs, and what is done where they cannot be loaded.

use std::path::PathBuf;
use std::time::Duration;

use crow_fly_core::catalog::{CatalogPath, is_name};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::route::PathPattern;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::translation::PseudoLocale;
use smallvec::SmallVec;
use toml::Spanned;

use super::ConfigError;
use super::check::duration;
use super::file::{CatalogsTable, OnFailure};
use super::locales::tag;

/// The configuration of catalogs.
#[derive(Clone, Debug)]
pub(crate) struct CatalogsConfig {
    /// The folder they lie in.
    pub(crate) directory: PathBuf,
    /// The sections every page needs; none where all sections of a locale load together.
    eager: Option<Vec<String>>,
    /// The sections that pages need, by their bare path.
    needs: Vec<PageNeeds>,
    /// The locales that need no catalogs of their own.
    pub(crate) inherits: Vec<LocaleId>,
    /// The sections whose texts may be in another language of the chain; where they are named, all others are declared to
    /// be complete.
    pub(crate) may_fall_back: Option<Vec<String>>,
    /// Whether texts that come ready-made lie below.
    pub(crate) ready_made: bool,
    /// Whether pseudo-locales are made from the default locale in development.
    pub(crate) pseudo_locales: bool,
    /// How long a request waits for a load.
    pub(crate) wait: Duration,
    /// How long a load may take.
    pub(crate) load_limit: Duration,
    /// Whether a request is refused where nothing of its chain is in memory.
    pub(crate) refuses: bool,
    /// After what time a section that nobody uses is dropped.
    pub(crate) idle: Option<Duration>,
    /// About how many bytes sections may take.
    pub(crate) most_bytes: Option<usize>,
}

#[derive(Clone, Debug)]
struct PageNeeds {
    page: PathPattern,
    sections: Vec<String>,
}

/// The places of the page patterns that match a path.
pub(crate) type MatchingPages = SmallVec<[u16; 4]>;

/// The sections that a page needs.
pub(crate) type NeededSections<'c> = SmallVec<[&'c str; 8]>;

impl CatalogsConfig {
    /// Whether all sections of a locale load together: nothing says which ones a page needs.
    pub(crate) const fn loads_all(&self) -> bool {
        self.eager.is_none()
    }

    /// The pages, by their place, that a bare path is one of.
    pub(crate) fn pages(&self, path: &str) -> MatchingPages {
        let matching = self.needs.iter().enumerate().filter(|(_, needs)| needs.page.matches(path));
        matching.filter_map(|(place, _)| u16::try_from(place).ok()).collect()
    }

    /// The sections that some pages need, and those that every page does; none where all do.
    pub(crate) fn sections(&self, pages: &[u16]) -> Option<NeededSections<'_>> {
        let eager = self.eager.as_ref()?;
        let pages = pages.iter().filter_map(|place| self.needs.get(usize::from(*place)));
        Some(eager.iter().chain(pages.flat_map(|needs| &needs.sections)).map(String::as_str).collect())
    }

    /// All sections that pages need: they stay in memory.
    pub(crate) fn declared(&self) -> impl Iterator<Item = &str> {
        let needs = self.needs.iter().flat_map(|needs| &needs.sections);
        self.eager.iter().flatten().chain(needs).map(String::as_str)
    }

    /// All sections that the configuration names: those that pages need, and those that may fall back.
    pub(crate) fn named(&self) -> impl Iterator<Item = &str> {
        self.declared().chain(self.may_fall_back.iter().flatten().map(String::as_str))
    }
}

impl CatalogsTable {
    /// Checks the table. `all` are the locales that have catalogs.
    pub(super) fn check<'l>(
        &self,
        text: &str,
        is_skipped: impl Fn(&str) -> bool,
        all: impl Iterator<Item = (LocaleId, &'l LanguageTag)>,
    ) -> Result<CatalogsConfig, ConfigError> {
        let mut eager = self.eager.as_ref().map(|names| sections(text, names)).transpose()?;
        let mut needs = Vec::new();
        for (path, names) in &self.needs {
            let page = PathPattern::parse(path.get_ref()).map_err(|error| {
                ConfigError::at(
                    text,
                    path.span(),
                    format!("`{}` is not a path: {error}", path.get_ref().escape_debug()),
                )
            })?;
            if is_skipped(path.get_ref()) {
                return Err(ConfigError::at(
                    text,
                    path.span(),
                    "this path is skipped, so that nothing is loaded before its pages",
                )
                .with_help("load what they need in their handlers, by `t.load`"));
            }
            needs.push(PageNeeds { page, sections: sections(text, names)? });
        }
        if !needs.is_empty() {
            eager.get_or_insert_default();
        }
        let all: Vec<_> = all.collect();
        let mut inherits = Vec::new();
        for locale in &self.inherits {
            let tag = tag(text, locale)?;
            let Some((id, _)) = all.iter().find(|(_, known)| **known == tag) else {
                return Err(ConfigError::at(
                    text,
                    locale.span(),
                    format!("`{tag}` is not one of the locales"),
                )
                .with_help("name a locale of `locales` or `catalog-only`"));
            };
            inherits.push(*id);
        }
        let pseudo_locales = self.pseudo_locales.unwrap_or_default();
        if pseudo_locales {
            let made = all.iter().filter(|(_, tag)| PseudoLocale::of(tag).is_some());
            inherits.extend(made.map(|(id, _)| *id));
        }
        Ok(CatalogsConfig {
            directory: self.directory.clone().unwrap_or_else(|| "catalogs".to_owned()).into(),
            eager,
            needs,
            inherits,
            may_fall_back: self.may_fall_back.as_ref().map(|names| sections(text, names)).transpose()?,
            ready_made: self.ready_made.unwrap_or_default(),
            pseudo_locales,
            wait: duration(text, self.wait_seconds.as_ref(), 2.0)?,
            load_limit: duration(text, self.load_seconds.as_ref(), 30.0)?,
            refuses: self.on_failure != Some(OnFailure::Serve),
            idle: self
                .idle_minutes
                .as_ref()
                .map(|minutes| duration(text, Some(minutes), 0.0))
                .transpose()?
                .map(|time| time * 60),
            most_bytes: self.max_megabytes.map(|megabytes| megabytes.saturating_mul(1_000_000)),
        })
    }
}

fn sections(text: &str, names: &[Spanned<String>]) -> Result<Vec<String>, ConfigError> {
    let checked = |name: &Spanned<String>| {
        if is_name(name.get_ref()) {
            return Ok(name.get_ref().clone());
        }
        let error = format!("`{}` {}", name.get_ref().escape_debug(), CatalogPath::NO_SECTION);
        Err(ConfigError::at(text, name.span(), error)
            .with_help("use the name of its file without `.toml`: `booking`"))
    };
    names.iter().map(checked).collect()
}
