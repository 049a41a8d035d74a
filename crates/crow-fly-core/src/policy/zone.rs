//! The visitor's time zone: decided as the locale is, by sources in order, but never by an address.

use alloc::vec::Vec;

use super::source::Sources;
use super::{LocaleSource, SessionValue, TimeZoneFacts};
use crate::route::PathPattern;
use crate::time_zone::TimeZoneName;

/// Who decides the time zone.
#[derive(Clone, Debug)]
pub struct TimeZoneRule {
    sources: Vec<LocaleSource>,
    /// The pages that follow the visitor; all where none are named.
    pages: Option<Vec<PathPattern>>,
    pub(super) default: TimeZoneName,
}

/// The time zone decided, and by whom.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub struct TimeZoneChoice {
    /// The time zone.
    pub name: TimeZoneName,
    /// `visitor`, `session`, `cookie` or `default`.
    pub source: LocaleSource,
}

impl TimeZoneRule {
    /// The sources that can name a time zone, in the usual order.
    pub const SOURCES: &'static [LocaleSource] =
        &[LocaleSource::Visitor, LocaleSource::Session, LocaleSource::Cookie];

    /// This zone for every visitor.
    pub const fn new(default: TimeZoneName) -> Self {
        Self { sources: Vec::new(), pages: None, default }
    }

    /// Follows the visitor's own time zone, by these sources, first to last. Those that cannot name a time zone are left out.
    #[must_use]
    pub fn with_sources(mut self, sources: impl IntoIterator<Item = LocaleSource>) -> Self {
        self.sources = sources.into_iter().filter(|source| Self::SOURCES.contains(source)).collect();
        self
    }

    /// Follows the visitor on some pages only, by the patterns of their bare paths: the others have the default, and stay the same for
    /// all visitors.
    #[must_use]
    pub fn with_pages(mut self, pages: impl IntoIterator<Item = PathPattern>) -> Self {
        self.pages = Some(pages.into_iter().collect());
        self
    }

    /// The sources, first to last.
    pub fn sources(&self) -> &[LocaleSource] {
        &self.sources
    }

    /// The time zone where no source names one.
    pub const fn default_zone(&self) -> TimeZoneName {
        self.default
    }

    /// Whether it follows the visitor, not only the default: on some page.
    pub fn follows_visitor(&self) -> bool {
        !self.sources.is_empty()
    }

    /// Whether it follows the visitor on a page, given by its bare path.
    pub fn follows_visitor_on(&self, page: &str) -> bool {
        let is_named = |pages: &Vec<PathPattern>| pages.iter().any(|pattern| pattern.matches(page));
        self.follows_visitor() && self.pages.as_ref().is_none_or(is_named)
    }

    pub(super) const fn default_choice(&self) -> TimeZoneChoice {
        TimeZoneChoice { name: self.default, source: LocaleSource::Default }
    }

    pub(super) fn choose(&self, facts: &TimeZoneFacts<'_>) -> TimeZoneChoice {
        let named = |source: &LocaleSource| {
            let name = value(facts, *source)?.parse().ok()?;
            Some(TimeZoneChoice { name, source: *source })
        };
        self.sources.iter().find_map(named).unwrap_or(self.default_choice())
    }

    /// The sources that pages depend on.
    pub(super) fn depends_on(&self) -> Sources {
        let mut depends_on = Sources::none();
        self.sources.iter().for_each(|source| depends_on.insert(*source));
        depends_on
    }

    /// The first source that has not been asked, where no source before it names a zone.
    pub(super) fn next_to_ask(
        &self,
        facts: &TimeZoneFacts<'_>,
        asked: impl Fn(LocaleSource) -> bool,
    ) -> Option<LocaleSource> {
        let names = |source| value(facts, source).is_some_and(|text| text.parse::<TimeZoneName>().is_ok());
        let open = self.sources.iter().find(|source| !asked(**source) || names(**source));
        open.copied().filter(|source| !asked(*source))
    }
}

pub(super) fn value<'r>(facts: &TimeZoneFacts<'r>, source: LocaleSource) -> Option<&'r str> {
    match source {
        LocaleSource::Visitor => facts.visitor,
        LocaleSource::Cookie => facts.cookie,
        LocaleSource::Session => match facts.session {
            SessionValue::Text(text) => Some(text),
            SessionValue::None | SessionValue::Empty | SessionValue::OtherShape => None,
        },
        // A policy takes no others for a zone.
        LocaleSource::Path
        | LocaleSource::Host
        | LocaleSource::Query
        | LocaleSource::Header
        | LocaleSource::AcceptLanguage
        | LocaleSource::Default => None,
    }
}
