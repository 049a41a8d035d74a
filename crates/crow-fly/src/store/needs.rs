//! What a page needs of the catalogs.

use crow_fly_core::locale_set::LocaleId;

use crate::config::{Config, MatchingPages, NeededSections};

/// The catalogs a request needs: sections of a locale's chain, or all of them.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct CatalogNeeds {
    pub(crate) locale: LocaleId,
    /// The page patterns that the request's path matches.
    pub(crate) pages: MatchingPages,
}

impl CatalogNeeds {
    /// What a page in a locale needs, given by its bare path; without one, what every page needs.
    pub(crate) fn of(config: &Config, locale: LocaleId, path: Option<&str>) -> Self {
        let pages = path.map_or_else(MatchingPages::new, |path| config.catalogs.pages(path));
        Self { locale, pages }
    }

    /// The sections; none where all are needed.
    pub(crate) fn sections<'c>(&self, config: &'c Config) -> Option<NeededSections<'c>> {
        // In a test all texts are there, whoever has named their sections.
        if config.strict { None } else { config.catalogs.sections(&self.pages) }
    }
}
