//! The formatting context (UTS #35 part 9): what formatting must know of a locale, computed once.

use alloc::sync::Arc;

use jiff::tz::TimeZone;

use super::function::custom::Functions;
use super::markup::MarkupHandlers;
use crate::datetime::DatePatterns;
use crate::direction::Direction;
use crate::list::ListPatterns;
use crate::number::{NumberLocale, NumberPatterns, PluralRules, PluralType};
use crate::tag::LanguageTag;

/// Whether placeholders are set apart from text that runs the other way (UTS #35 part 9, "Handling
/// Bidirectional Text").
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Isolation {
    /// The standard's default strategy: each placeholder is isolated, unless it and the message are known to run
    /// from left to right. Text gets U+2066–U+2069, HTML gets `<bdi>`.
    #[default]
    Default,
    /// Nothing is isolated.
    None,
}

/// The time zones of a caller.
#[derive(Clone, Debug, Default)]
pub(crate) struct Zones {
    /// The one it has named: moments are shown in it.
    pub(crate) named: Option<TimeZone>,
    /// The one of moments that have none of their own.
    pub(crate) default: Option<TimeZone>,
}

/// The formatting context of a locale: its plural rules and direction, and its patterns of numbers, dates and lists.
#[derive(Clone, Debug)]
pub struct FormatContext {
    pub(super) tag: LanguageTag,
    pub(super) direction: Direction,
    pub(super) cardinal: PluralRules,
    pub(super) ordinal: PluralRules,
    pub(super) numbers: NumberLocale,
    pub(super) number_patterns: NumberPatterns,
    pub(super) dates: DatePatterns,
    pub(super) lists: ListPatterns,
    pub(super) zones: Zones,
    pub(super) functions: Option<Arc<Functions>>,
    pub(super) markup: Option<Arc<MarkupHandlers>>,
    pub(super) isolation: Isolation,
}

impl FormatContext {
    /// The context of a locale: words and formats alike, without a time zone.
    pub fn of(tag: &LanguageTag) -> Self {
        let tag = &*tag.as_canonical();
        let cardinal = PluralRules::of(tag, PluralType::Cardinal);
        Self {
            tag: tag.clone(),
            direction: Direction::of(tag),
            cardinal,
            ordinal: PluralRules::of(tag, PluralType::Ordinal),
            numbers: NumberLocale::of(tag),
            number_patterns: NumberPatterns::of(tag, cardinal),
            dates: DatePatterns::of(tag),
            lists: ListPatterns::of(tag),
            zones: Zones::default(),
            functions: None,
            markup: None,
            isolation: Isolation::Default,
        }
    }

    /// The locale of the words, canonical.
    pub const fn tag(&self) -> &LanguageTag {
        &self.tag
    }

    /// The time zone moments are shown in, where the caller has named one.
    pub const fn time_zone(&self) -> Option<&TimeZone> {
        self.zones.named.as_ref()
    }

    /// Writes numbers and dates as another tag of the same language does; plural categories stay those of the words.
    #[must_use]
    pub fn with_formats(mut self, tag: &LanguageTag) -> Self {
        self.numbers = NumberLocale::of(tag);
        self.number_patterns = NumberPatterns::of(tag, self.cardinal);
        self.dates = DatePatterns::of(tag);
        self
    }

    /// Shows moments in a time zone. An option of the message goes before it; it goes before the zone a value comes with.
    #[must_use]
    pub fn with_time_zone(mut self, zone: TimeZone) -> Self {
        self.zones.named = Some(zone);
        self
    }

    /// Shows moments that have no zone of their own in a time zone, where no other is named: UTC unless said.
    #[must_use]
    pub fn with_default_time_zone(mut self, zone: TimeZone) -> Self {
        self.zones.default = Some(zone);
        self
    }

    /// Adds functions of the application's own.
    #[must_use]
    pub fn with_functions(mut self, functions: Arc<Functions>) -> Self {
        self.functions = Some(functions);
        self
    }

    /// Adds what the application makes of its own markup in HTML.
    #[must_use]
    pub fn with_markup(mut self, markup: Arc<MarkupHandlers>) -> Self {
        self.markup = Some(markup);
        self
    }

    /// Sets how placeholders are isolated.
    #[must_use]
    pub const fn with_isolation(mut self, isolation: Isolation) -> Self {
        self.isolation = isolation;
        self
    }
}
