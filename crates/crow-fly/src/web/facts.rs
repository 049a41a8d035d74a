//! From an HTTP request to plain facts.

use std::borrow::Cow;

use crow_fly_core::policy::{Facts, SessionValue, Source};
use http::Method;
use http::header::HOST;
use http::request::Parts;

use super::cookies;
use super::extensions::VisitorLocale;
use crate::config::Config;
use crate::sessions::SessionEntry;

/// What a request says, owned where it must be.
pub(super) struct RequestReading<'r> {
    query_value: Option<Cow<'r, str>>,
    accept_lines: Vec<&'r [u8]>,
}

impl<'r> RequestReading<'r> {
    pub(super) fn of(parts: &'r Parts, config: &Config) -> Self {
        let uses = |source| config.policy.sources().contains(&source);
        let query = parts.uri.query().filter(|_| uses(Source::Query)).unwrap_or_default();
        let query_value =
            form_urlencoded::parse(query.as_bytes()).find(|(name, _)| *name == config.query_parameter);
        Self {
            query_value: query_value.map(|(_, value)| value),
            accept_lines: parts
                .headers
                .get_all("accept-language")
                .iter()
                .map(http::HeaderValue::as_bytes)
                .collect(),
        }
    }

    pub(super) fn facts<'f>(
        &'f self,
        parts: &'f Parts,
        config: &Config,
        session: &'f SessionEntry,
    ) -> Facts<'f> {
        Facts {
            path: parts.uri.path(),
            query: parts.uri.query(),
            is_page: matches!(parts.method, Method::GET | Method::HEAD),
            host: host(parts),
            query_value: self.query_value.as_deref(),
            header_value: parts.headers.get(&config.header_name).and_then(|value| value.to_str().ok()),
            visitor: parts.extensions.get::<VisitorLocale>().map(|visitor| visitor.0.as_str()),
            session: match session {
                SessionEntry::NoSession => SessionValue::None,
                SessionEntry::Empty => SessionValue::Empty,
                SessionEntry::Text(text) => SessionValue::Text(text),
                SessionEntry::OtherShape => SessionValue::OtherShape,
            },
            cookie: cookies::read(&parts.headers, &config.remember.cookie),
            accept_lines: &self.accept_lines,
        }
    }
}

/// The host without port: of the address where it has one (HTTP/2), of the header otherwise.
fn host(parts: &Parts) -> Option<&str> {
    parts.uri.host().or_else(|| {
        let host = parts.headers.get(HOST)?.to_str().ok()?;
        Some(
            host.rsplit_once(':')
                .filter(|(_, port)| port.bytes().all(|byte| byte.is_ascii_digit()))
                .map_or(host, |(host, _)| host),
        )
    })
}
