//! What answers say of themselves: their language, what they depend on, and who may keep them.

use std::borrow::Cow;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::{Decision, Vary};
use http::HeaderValue;

use super::head::ResponseHead;
use super::reply::Reply;
use crate::config::{Area, Config};
use crate::translator::Translator;

/// What an answer of the application's lacks.
#[derive(Clone, Debug)]
pub(super) struct Announcement {
    locale: LocaleId,
    vary: Vary,
    /// The number of the area.
    area: usize,
    /// Whether a part of the texts was not there, so that the answer is not the page as it should be.
    is_partial: bool,
}

impl Announcement {
    pub(super) const fn of(decision: &Decision, area: usize) -> Self {
        Self { locale: decision.locale, vary: decision.vary(), area, is_partial: false }
    }

    /// Records that a part of the texts is not there.
    pub(super) const fn forbid_storing(&mut self) {
        self.is_partial = true;
    }

    /// Adds it to an answer; the result is to be answered in place of that where texts were missing and the configuration
    /// says that this fails a request.
    pub(super) fn finish(&self, translator: &Translator, answer: &mut impl ResponseHead) -> Option<Reply> {
        self.add_to(answer, translator.config(), translator.has_met_a_shortage());
        let failures = translator.failures();
        (!failures.is_empty()).then(|| Reply::failed_texts(&failures))
    }

    /// Adds it to an answer. Where a text was not there, no cache keeps the answer, whatever the application sets.
    fn add_to(&self, head: &mut impl ResponseHead, config: &Config, lacked_texts: bool) {
        if self.is_partial || lacked_texts {
            head.set("cache-control", HeaderValue::from_static("no-store"));
        }
        head.set_missing("content-language", || config.content_language(self.locale));
        let area = config.area(self.area);
        vary(head, self.vary.clone(), area);
        // What follows the visitor's own time zone or formats is for this visitor; an application may say otherwise.
        if area.makes_pages_private() {
            head.set_missing("cache-control", || HeaderValue::from_static("private"));
        }
    }
}

/// Adds the request headers that answers depend on to those that are there; all in one line, since there are shared
/// caches that only read one.
pub(super) fn vary(head: &mut impl ResponseHead, names: Vary, area: &Area) {
    let mut names = names.peekable();
    if names.peek().is_none() {
        return;
    }
    let mut line = Cow::Borrowed("");
    for there in head.lines("vary").filter_map(|line| std::str::from_utf8(line).ok()) {
        push(&mut line, Cow::Owned(there.trim().to_owned()));
    }
    for name in names {
        let name = match &area.header_name {
            Some(header) if name == "header" => Cow::Owned(header.to_string()),
            _ => Cow::Borrowed(name),
        };
        let is_there = |other: &str| other == "*" || other.eq_ignore_ascii_case(&name);
        if !line.split(',').map(str::trim).any(is_there) {
            push(&mut line, name);
        }
    }
    let line = match line {
        Cow::Borrowed(names) => Ok(HeaderValue::from_static(names)),
        Cow::Owned(names) => HeaderValue::try_from(names),
    };
    // Names of headers, and what the application set itself.
    if let Ok(line) = line {
        head.set("vary", line);
    }
}

/// Adds to a list; the usual ones need no new text.
fn push(list: &mut Cow<'static, str>, name: Cow<'static, str>) {
    match (&**list, &*name) {
        ("", _) => *list = name,
        ("Cookie", "Accept-Language") => *list = Cow::Borrowed("Cookie, Accept-Language"),
        _ => {
            let list = list.to_mut();
            list.push_str(", ");
            list.push_str(&name);
        }
    }
}
