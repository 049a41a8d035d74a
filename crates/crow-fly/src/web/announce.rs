//! What answers say of themselves: their language, what they depend on, and who may keep them.

use std::borrow::Cow;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::{Decision, LocaleSource, Sources};
use http::HeaderValue;

use super::failure::wants_json;
use super::head::{RequestHead, ResponseHead};
use super::reply::Reply;
use crate::config::{Area, Config, MissingText};
use crate::translator::{Translator, with_query};

/// What an answer of the application's lacks.
#[derive(Clone, Debug)]
pub(super) struct Announcement {
    locale: LocaleId,
    depends_on: Sources,
    /// The number of the area.
    area: usize,
    kept_by: KeptBy,
    /// Whether a 404 may be that of an address in another language.
    may_be_elsewhere: bool,
    /// Whether an error is to be JSON; only looked at where missing texts fail requests.
    wants_json: bool,
}

/// Who may keep an answer.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum KeptBy {
    /// As the application says.
    Anybody,
    /// The visitor's browser, unless the application says otherwise: the page follows the visitor in more than the address.
    Visitor,
    /// Nobody: it is not the page as it should be.
    Nobody,
}

impl Announcement {
    pub(super) fn of(head: &impl RequestHead, decision: &Decision, config: &Config, area: usize) -> Self {
        Self {
            wants_json: (config.strict || config.missing == MissingText::Error) && wants_json(head),
            may_be_elsewhere: decision.source == LocaleSource::Path && head.is_page(),
            locale: decision.locale,
            depends_on: decision.depends_on(),
            area,
            kept_by: if config.area(area).makes_private(decision) {
                KeptBy::Visitor
            } else {
                KeptBy::Anybody
            },
        }
    }

    /// Records that a part of the texts is not there.
    pub(super) const fn forbid_storing(&mut self) {
        self.kept_by = KeptBy::Nobody;
    }

    /// Adds it to an answer; the result is to be answered in place of that: where texts were missing and the configuration
    /// says that this fails a request, and where there is no such page, and the address is one in another language.
    pub(super) fn finish(&self, translator: &Translator, answer: &mut impl ResponseHead) -> Option<Reply> {
        self.add_to(answer, translator.config(), translator.has_met_a_shortage());
        let failures = translator.failures();
        if !failures.is_empty() {
            return Some(Reply::failed_texts(failures, translator.locale(), self.wants_json));
        }
        if answer.status() != 404 || !self.may_be_elsewhere {
            return None;
        }
        let config = translator.config();
        let location = elsewhere(config, translator.original_path()?, translator.original_query())?;
        let mut reply = Reply::redirect(308, location);
        vary(&mut reply, self.depends_on, config.area(self.area));
        Some(reply)
    }

    /// Adds it to an answer. Where a text was not there, no cache keeps the answer, whatever the application sets.
    fn add_to(&self, head: &mut impl ResponseHead, config: &Config, lacked_texts: bool) {
        if self.kept_by == KeptBy::Nobody || lacked_texts {
            head.set("cache-control", HeaderValue::from_static("no-store"));
        }
        head.set_missing("content-language", || config.content_language(self.locale));
        let area = config.area(self.area);
        vary(head, self.depends_on, area);
        // What follows the visitor's own time zone or formats is for this visitor; an application may say otherwise.
        if self.kept_by == KeptBy::Visitor {
            head.set_missing("cache-control", || HeaderValue::from_static("private"));
        }
    }
}

/// The address of a page whose path is written in another language than its prefix says.
pub(super) fn elsewhere(config: &Config, path: &str, query: Option<&str>) -> Option<String> {
    let address = config.policy().routes().address_of_other_language(path)?;
    Some(with_query(&address, query))
}

/// The request header that a source is read from. The host and the query are parts of the address.
fn header_of(source: LocaleSource, area: &Area) -> Option<Cow<'static, str>> {
    match source {
        LocaleSource::Path | LocaleSource::Host | LocaleSource::Query | LocaleSource::Default => None,
        LocaleSource::Header => area.header_name.as_ref().map(|name| Cow::Owned(name.to_string())),
        // Who has signed in is known by a session, which is known by a cookie.
        LocaleSource::Visitor | LocaleSource::Session | LocaleSource::Cookie => Some(Cow::Borrowed("Cookie")),
        LocaleSource::AcceptLanguage => Some(Cow::Borrowed("Accept-Language")),
    }
}

/// Adds the request headers that answers depend on to those that are there; all in one line, since there are shared
/// caches that only read one.
pub(super) fn vary(head: &mut impl ResponseHead, sources: Sources, area: &Area) {
    if sources.is_empty() {
        return;
    }
    let mut line = Cow::Borrowed("");
    for there in head.lines("vary").filter_map(|line| std::str::from_utf8(line).ok()) {
        push(&mut line, Cow::Owned(there.trim().to_owned()));
    }
    let mut before = Cow::Borrowed("");
    for name in sources.iter().filter_map(|source| header_of(source, area)) {
        let is_there = |other: &str| other == "*" || other.eq_ignore_ascii_case(&name);
        // Several sources are read from one header.
        if name != before && !line.split(',').map(str::trim).any(is_there) {
            push(&mut line, name.clone());
        }
        before = name;
    }
    let line = match line {
        Cow::Borrowed("") => return,
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
