//! From a request to plain facts.

use std::borrow::Cow;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::{Facts, LocaleSource, SessionValue, TimeZoneFacts};
use crow_fly_core::time_zone::TimeZoneName;
use percent_encoding::percent_decode_str;
use smallvec::SmallVec;

use super::cookies;
use super::head::{RequestHead, without_port};
use super::settings::VisitorSettings;
use crate::config::{Area, Config};
use crate::sessions::{SessionEntries, SessionEntry};
use crate::site::Site;

/// What a request says, owned where it must be.
pub(super) struct HeadFacts<'r> {
    host: Option<&'r str>,
    query_value: Option<Cow<'r, str>>,
    header_value: Option<&'r str>,
    cookie: Option<&'r str>,
    accept_lines: SmallVec<[&'r [u8]; 2]>,
    zone_cookie: Option<Cow<'r, str>>,
}

impl<'r> HeadFacts<'r> {
    pub(super) fn of(head: &'r impl RequestHead, config: &Config, area: &Area) -> Self {
        let uses = |source| area.policy.sources().contains(&source);
        let query_value = head.query().filter(|_| uses(LocaleSource::Query)).and_then(|query| {
            let mut pairs = form_urlencoded::parse(query.as_bytes());
            pairs.find(|(name, _)| *name == area.query_parameter).map(|(_, value)| value)
        });
        let header = area.header_name.as_ref().filter(|_| uses(LocaleSource::Header));
        let cookie = if uses(LocaleSource::Cookie) {
            cookies::first_usable(head, &config.remember.cookie, |value| {
                area.policy.locale_named(value).is_some()
            })
        } else {
            None
        };
        let zone_cookie =
            if area.policy.time_zone().is_some_and(|rule| rule.sources().contains(&LocaleSource::Cookie)) {
                cookies::first_usable(head, &config.time_zone.cookie, |value| {
                    decoded(value).is_some_and(|name| name.parse::<TimeZoneName>().is_ok())
                })
            } else {
                None
            };
        Self {
            host: if uses(LocaleSource::Host) { host(head, config) } else { None },
            query_value,
            header_value: header.and_then(|name| head.header(name.as_str())),
            cookie,
            accept_lines: head.lines("accept-language").collect(),
            zone_cookie: zone_cookie.and_then(decoded),
        }
    }

    pub(super) fn facts<'f>(
        &'f self,
        head: &'f impl RequestHead,
        session: &'f SessionEntries,
        visitor: Option<&'f VisitorSettings>,
    ) -> Facts<'f> {
        Facts {
            path: head.path(),
            query: head.query(),
            is_page: head.is_page(),
            host: self.host,
            query_value: self.query_value.as_deref(),
            header_value: self.header_value,
            visitor: visitor.and_then(|settings| settings.locale.as_deref()),
            session: value(&session.locale),
            cookie: self.cookie,
            accept_lines: &self.accept_lines,
            time_zone: TimeZoneFacts {
                visitor: visitor.and_then(|settings| settings.time_zone.as_deref()),
                session: value(&session.time_zone),
                cookie: self.zone_cookie.as_deref(),
            },
        }
    }
}

/// What a request says by its address alone.
pub(super) fn of_address(head: &impl RequestHead) -> Facts<'_> {
    Facts { path: head.path(), query: head.query(), is_page: head.is_page(), ..Facts::default() }
}

/// The visitor's host: as a proxy says it, in the header that the configuration names, else as it was asked for.
fn host<'r>(head: &'r impl RequestHead, config: &Config) -> Option<&'r str> {
    let forwarded = config.forwarded_host.as_ref().and_then(|name| head.header(name.as_str()));
    // Of several proxies the first one has met the visitor.
    let forwarded = forwarded.and_then(|hosts| hosts.split(',').next()).map(str::trim);
    match forwarded.filter(|host| !host.is_empty()) {
        Some(host) => Some(without_port(host)),
        None => head.host(),
    }
}

/// The locale that a request's head prefers, whatever its address.
pub(crate) fn preferred(site: &Site, head: &impl RequestHead) -> LocaleId {
    let (_, area) = site.config().area_of(head.path());
    let read = HeadFacts::of(head, site.config(), area);
    area.policy.preferred(&read.facts(head, &SessionEntries::default(), None))
}

/// Scripts that set the cookie encode the slash in a zone's name, or do not.
fn decoded(value: &str) -> Option<Cow<'_, str>> {
    percent_decode_str(value).decode_utf8().ok()
}

const fn value(entry: &SessionEntry) -> SessionValue<'_> {
    match entry {
        SessionEntry::NoSession | SessionEntry::NoLayer => SessionValue::None,
        SessionEntry::Empty => SessionValue::Empty,
        SessionEntry::Text(text) => SessionValue::Text(text.as_str()),
        SessionEntry::OtherShape => SessionValue::OtherShape,
    }
}
