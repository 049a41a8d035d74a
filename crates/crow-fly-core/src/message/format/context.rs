//! The formatting context (UTS #35 part 9, "Formatting Context"): the function context, and what the application adds.

use alloc::sync::Arc;
use core::ops::Deref;

use jiff::tz::TimeZone;

use super::markup::{Links, MarkupHandlers};
use crate::function_context::FunctionContext;
use crate::message::function::custom::Functions;
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

/// What messages are formatted with: the [`FunctionContext`] of a locale, which it derefs to, the functions and the markup
/// of the application, and how placeholders are isolated.
#[derive(Clone, Debug)]
pub struct FormatContext {
    pub(super) function: FunctionContext,
    pub(super) functions: Option<Arc<Functions>>,
    pub(super) markup: Option<Arc<MarkupHandlers>>,
    pub(super) links: Option<Links>,
    pub(super) isolation: Isolation,
    /// The longest output, in bytes.
    pub(super) longest: usize,
}

/// The longest output of a message where nobody says otherwise, in bytes.
const LONGEST: usize = 1 << 20;

impl Deref for FormatContext {
    type Target = FunctionContext;

    fn deref(&self) -> &FunctionContext {
        &self.function
    }
}

impl FormatContext {
    /// The context of a locale: words and formats alike, without a time zone.
    pub fn of(tag: &LanguageTag) -> Self {
        Self {
            function: FunctionContext::of(tag),
            functions: None,
            markup: None,
            links: None,
            isolation: Isolation::Default,
            longest: LONGEST,
        }
    }

    /// Sets how long one text, piece of HTML or list of parts may be, in bytes. Default: 1 MiB. Of a longer one nothing is shown but
    /// U+FFFD, and one error, [`TooLong`](crate::message::FormatErrorKind::TooLong), is reported.
    #[must_use]
    pub const fn with_longest(mut self, bytes: usize) -> Self {
        self.longest = bytes;
        self
    }

    /// Writes numbers and dates as another tag of the same language does; plural categories stay those of the words.
    #[must_use]
    pub fn with_formats(mut self, tag: &LanguageTag) -> Self {
        self.function.set_formats(tag);
        self
    }

    /// Shows moments in a time zone. An option of the message goes before it; it goes before the zone a value comes with.
    #[must_use]
    pub fn with_time_zone(mut self, zone: TimeZone) -> Self {
        self.function.zones.named = Some(zone);
        self
    }

    /// Shows moments that have no zone of their own in a time zone, where no other is named, by the locale (`-u-tz-`)
    /// neither: UTC by default.
    #[must_use]
    pub fn with_default_time_zone(mut self, zone: TimeZone) -> Self {
        self.function.zones.default = Some(zone);
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

    /// Sets where links to the application's own pages lead: `{#a href=|/sailings|}`.
    #[must_use]
    pub fn with_links(mut self, links: Links) -> Self {
        self.links = Some(links);
        self
    }

    /// Sets how placeholders are isolated.
    #[must_use]
    pub const fn with_isolation(mut self, isolation: Isolation) -> Self {
        self.isolation = isolation;
        self
    }

    /// The same context for another locale.
    pub(super) fn in_locale(&self, tag: &LanguageTag) -> Self {
        Self {
            function: self.function.in_locale(tag),
            functions: self.functions.clone(),
            markup: self.markup.clone(),
            links: self.links.clone(),
            isolation: self.isolation,
            longest: self.longest,
        }
    }
}
