//! Reports of texts that are missing, in another language, or formatted with errors.

use std::error::Error as _;
use std::fmt;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Mutex, PoisonError};

use crow_fly_core::calendar::CalendarChoice;
use crow_fly_core::catalog::split_key;
use crow_fly_core::message::{FormatError, FormatErrorKind};
use crow_fly_core::tag::LanguageTag;
use tracing::{debug, error, trace, warn};

use super::Translator;
use crate::config::MissingText;
use crate::message_ref::MessageRef;
use crate::store::{Counts, Miss, MissKind, Section, is_told};

/// How many failures of a request are kept: each row of a long page may have one.
const MOST_FAILURES: usize = 100;

/// What was not there while a request was answered.
#[derive(Debug, Default)]
pub(super) struct Shortage {
    /// Whether a text was asked for whose section was not in memory.
    not_loaded: AtomicBool,
    /// Whether there are failures.
    failed: AtomicBool,
    /// Whether every failure is kept, whatever the configuration says: a test looks at them.
    kept: AtomicBool,
    /// What fails the request, where missing texts or errors do.
    failures: Mutex<Vec<String>>,
}

/// The file a message is from.
#[derive(Clone, Copy)]
pub(super) struct Place<'t>(&'t Section);

impl<'t> Place<'t> {
    pub(super) const fn new(section: &'t Section) -> Self {
        Self(section)
    }

    /// The file, and the line of a message in it.
    pub(super) fn of<'k>(self, key: &'k str) -> impl fmt::Display + use<'t, 'k> {
        struct Line<'t, 'k>(&'t Section, &'k str);
        impl fmt::Display for Line<'_, '_> {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str(&self.0.file.origin())?;
                match self.0.line(self.1) {
                    Some(line) => write!(f, ":{line}"),
                    None => Ok(()),
                }
            }
        }
        Line(self.0, key)
    }
}

impl Translator {
    /// Has a section loaded that a text was asked for from.
    pub(super) fn ask_for_section(&self, key: &str) {
        let inner = &*self.inner;
        self.note_shortage();
        let Some((section, _)) = split_key(key) else { return };
        if !inner.site.store().ask(&inner.generation, inner.locale, section) {
            return;
        }
        let locale = self.locale();
        let path = inner.request.as_ref().map(super::RequestFacts::path);
        if inner.config().development {
            warn!(
                target: "crow_fly::catalogs", path, section, key, %locale,
                "a text of a section that is not loaded: name the section for this page in `[catalogs.needs]`, or in its handler",
            );
        } else {
            debug!(target: "crow_fly::catalogs", path, section, key, %locale, "a text of a section that is not loaded");
        }
    }

    pub(super) fn report_miss(&self, message: &MessageRef<'_>, miss: Miss) {
        let MessageRef { key, default, .. } = message;
        let key = &**key;
        let (inner, locale) = (&*self.inner, self.locale());
        trace!(target: "crow_fly::texts", key, %locale, "missing");
        let store = inner.site.store();
        Counts::missed();
        if let Some(count) =
            store.misses().count(key, inner.locale, MissKind::Missing(miss)).filter(|count| is_told(*count))
        {
            let file =
                split_key(key).and_then(|(section, _)| inner.generation.file_for(inner.links(), section));
            let sentence = self.sentence(key, miss, inner.config().development && count == 1);
            warn!(target: "crow_fly::misses", key, %locale, file, default = default.is_some(), count, "{sentence}");
        }
        let default_serves = default.is_some() && !self.must_not_fall_back(message, self.default_tag());
        if self.fails_without_text(message) && !default_serves {
            self.fail(self.sentence(key, miss, true));
        }
    }

    /// Why there is no text, and which key was perhaps meant.
    pub(crate) fn sentence(&self, key: &str, miss: Miss, suggests: bool) -> String {
        let inner = &*self.inner;
        let tried: Vec<String> = inner.links().iter().map(|link| format!("`{}`", link.tag)).collect();
        let tried = match tried.split_last() {
            Some((last, others)) if !others.is_empty() => format!("{} or {last}", others.join(", ")),
            _ => tried.concat(),
        };
        let sentence = miss.sentence(key, &tried);
        let near = match miss {
            Miss::NotThere if suggests => inner.generation.nearest_key(inner.links(), key),
            _ => None,
        };
        match near {
            Some(near) => format!("{sentence}; did you mean `{near}`?"),
            None => sentence,
        }
    }

    pub(super) fn report_fallback(&self, message: &MessageRef<'_>, from: &LanguageTag) {
        let (store, key, locale) = (self.inner.site.store(), &*message.key, self.locale());
        let count = store.misses().count(key, self.inner.locale, MissKind::FellBack);
        if let Some(count) = count.filter(|count| is_told(*count)) {
            warn!(target: "crow_fly::misses", key, %locale, %from, count, "the text is in another language of the chain");
        }
        if self.fails_without_text(message) && self.must_not_fall_back(message, from) {
            self.fail(format!("the text for `{key}` in `{locale}` is in another language: `{from}`"));
        }
    }

    /// Whether a message without a text fails the request, or the test.
    fn fails_without_text(&self, message: &MessageRef<'_>) -> bool {
        message.missing.unwrap_or(self.inner.config().missing) == MissingText::Error || self.keeps_failures()
    }

    /// Whether a text of another language counts as missing: in tests it does, unless the configuration lets it fall back.
    fn must_not_fall_back(&self, message: &MessageRef<'_>, from: &LanguageTag) -> bool {
        let (config, locale) = (self.inner.config(), self.locale());
        let section = split_key(&message.key).map_or("", |(section, _)| section);
        (config.strict || self.keeps_failures())
            && from.language() != locale.language()
            && !config.may_fall_back(locale, section)
    }

    pub(super) fn report_errors(&self, key: &str, place: Option<&Place<'_>>, errors: &[FormatError]) {
        let told = |error: &FormatError| match error.source() {
            Some(cause) => format!("{error}: {cause}"),
            None => error.to_string(),
        };
        let joined =
            |errors: &[&FormatError]| errors.iter().map(|error| told(error)).collect::<Vec<_>>().join(" | ");
        // A visitor's own calendar may not have the day: that is nothing to mend.
        let (of_visitor, errors): (Vec<_>, Vec<_>) = errors.iter().partition(|error| {
            error.kind() == FormatErrorKind::NoCalendar && self.calendar_is_the_visitors()
        });
        if !of_visitor.is_empty() {
            let (formats, errors) = (self.formats(), joined(&of_visitor));
            debug!(target: "crow_fly::messages", key, %formats, %errors, "a date is not in the visitor's calendar");
        }
        if errors.is_empty() {
            return;
        }
        let errors = joined(&errors);
        let place =
            place.map_or_else(|| "a default text in code".to_owned(), |place| place.of(key).to_string());
        let locale = self.locale();
        warn!(target: "crow_fly::messages", key, %locale, place, %errors, "a message was formatted with errors");
        if self.inner.config().strict || self.keeps_failures() {
            self.fail(format!("{key} ({locale}, {place}): {errors}"));
        }
    }

    /// Whether dates are in another calendar than the locale's, since the visitor's own formats say so.
    fn calendar_is_the_visitors(&self) -> bool {
        CalendarChoice::of(self.formats()).calendar() != CalendarChoice::of(self.locale()).calendar()
    }

    /// Notes what fails the request. A mail or a job has none that could fail: it goes to the log.
    fn fail(&self, failure: String) {
        if self.inner.request.is_none() && !self.keeps_failures() {
            return error!(target: "crow_fly::misses", failure, "a text fails, and there is no request to fail");
        }
        let shortage = &self.inner.shortage;
        shortage.failed.store(true, Ordering::Relaxed);
        let mut failures = shortage.failures.lock().unwrap_or_else(PoisonError::into_inner);
        if failures.len() < MOST_FAILURES {
            failures.push(failure);
        }
    }

    /// What fails the request: missing texts and errors, where the configuration says that they do.
    pub(crate) fn failures(&self) -> Vec<String> {
        if !self.inner.shortage.failed.load(Ordering::Relaxed) {
            return Vec::new();
        }
        self.inner.shortage.failures.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Whether a test looks at the failures.
    fn keeps_failures(&self) -> bool {
        self.inner.shortage.kept.load(Ordering::Relaxed)
    }

    /// Keeps every failure from now on.
    pub(crate) fn keep_failures(&self) {
        self.inner.shortage.kept.store(true, Ordering::Relaxed);
    }

    /// The failures until now; they are gone then.
    pub(crate) fn take_failures(&self) -> Vec<String> {
        let mut failures = self.inner.shortage.failures.lock().unwrap_or_else(PoisonError::into_inner);
        std::mem::take(&mut *failures)
    }

    /// Notes that the page is not as it should be: no cache keeps it.
    pub(super) fn note_shortage(&self) {
        self.inner.shortage.not_loaded.store(true, Ordering::Relaxed);
    }

    /// Whether a text was asked for whose section was not in memory.
    pub(crate) fn has_met_a_shortage(&self) -> bool {
        self.inner.shortage.not_loaded.load(Ordering::Relaxed)
    }
}
