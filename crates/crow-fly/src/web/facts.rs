//! From a request to plain facts.

use std::borrow::Cow;

use crow_fly_core::policy::{Facts, LocaleSource, SessionValue, TimeZoneFacts};
use percent_encoding::percent_decode_str;
use smallvec::SmallVec;

use super::cookies;
use super::head::{RequestHead, VisitorSettings};
use crate::config::Config;
use crate::sessions::SessionEntry;

/// What the session holds under Crow Fly's keys.
#[derive(Debug, Default)]
pub(crate) struct SessionEntries {
    pub(crate) locale: SessionEntry,
    pub(crate) time_zone: SessionEntry,
}

/// What a request says, owned where it must be.
pub(super) struct RequestReading<'r> {
    query_value: Option<Cow<'r, str>>,
    accept_lines: SmallVec<[&'r [u8]; 2]>,
    zone_cookie: Option<Cow<'r, str>>,
}

impl<'r> RequestReading<'r> {
    pub(super) fn of(head: &'r impl RequestHead, config: &Config) -> Self {
        let uses = |source| config.policy.sources().contains(&source);
        let query = head.query().filter(|_| uses(LocaleSource::Query)).unwrap_or_default();
        let query_value =
            form_urlencoded::parse(query.as_bytes()).find(|(name, _)| *name == config.query_parameter);
        let zone_cookie =
            config.policy.time_zone().and_then(|_| cookies::read(head, &config.time_zone.cookie));
        Self {
            query_value: query_value.map(|(_, value)| value),
            accept_lines: head.lines("accept-language").collect(),
            // Scripts that set the cookie encode its slash, or do not.
            zone_cookie: zone_cookie.and_then(|value| percent_decode_str(value).decode_utf8().ok()),
        }
    }

    pub(super) fn facts<'f>(
        &'f self,
        head: &'f impl RequestHead,
        config: &Config,
        session: &'f SessionEntries,
        visitor: Option<&'f VisitorSettings>,
    ) -> Facts<'f> {
        Facts {
            path: head.path(),
            query: head.query(),
            is_page: head.is_page(),
            host: host(head),
            query_value: self.query_value.as_deref(),
            header_value: line(head, config.header_name.as_str()),
            visitor: visitor.and_then(|settings| settings.locale.as_deref()),
            session: value(&session.locale),
            cookie: cookies::read(head, &config.remember.cookie),
            accept_lines: &self.accept_lines,
            time_zone: TimeZoneFacts {
                visitor: visitor.and_then(|settings| settings.time_zone.as_deref()),
                session: value(&session.time_zone),
                cookie: self.zone_cookie.as_deref(),
            },
        }
    }
}

const fn value(entry: &SessionEntry) -> SessionValue<'_> {
    match entry {
        SessionEntry::NoSession => SessionValue::None,
        SessionEntry::Empty => SessionValue::Empty,
        SessionEntry::Text(text) => SessionValue::Text(text.as_str()),
        SessionEntry::OtherShape => SessionValue::OtherShape,
    }
}

/// The first line of a header, where it is text.
fn line<'r>(head: &'r impl RequestHead, name: &str) -> Option<&'r str> {
    head.lines(name).next().and_then(|line| std::str::from_utf8(line).ok())
}

/// The host without port: of the address where it has one (HTTP/2), of the header otherwise.
fn host(head: &impl RequestHead) -> Option<&str> {
    head.authority().or_else(|| {
        let host = line(head, "host")?;
        Some(
            host.rsplit_once(':')
                .filter(|(_, port)| port.bytes().all(|byte| byte.is_ascii_digit()))
                .map_or(host, |(host, _)| host),
        )
    })
}
