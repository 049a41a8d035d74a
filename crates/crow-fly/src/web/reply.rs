//! What Crow Fly answers itself.

use std::borrow::Cow;

use crow_fly_core::tag::LanguageTag;
use http::{HeaderName, HeaderValue, Response, StatusCode};

use super::failure::{FailureReason, LayerFailure};
use super::head::ResponseHead;

/// How long browsers and caches keep that a page has another address: long enough to save requests, short enough to
/// outlive a mistake in the configuration.
const MOVED: &str = "max-age=3600";

/// How many seconds a visitor is asked to wait where catalogs cannot be loaded: about as long as the first pauses between
/// attempts.
const RETRY_AFTER: &str = "2";

/// An answer that the application is not asked for: a status and headers. It has no body.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reply {
    status: u16,
    headers: Vec<(&'static str, Cow<'static, str>)>,
    failure: Option<Box<LayerFailure>>,
}

impl Reply {
    /// The error that this answers, where it is one that a page can be made for: the whole answer is then that page, with the headers of
    /// this reply that it lacks.
    pub fn failure(&self) -> Option<&LayerFailure> {
        self.failure.as_deref()
    }

    /// The status.
    pub const fn status(&self) -> u16 {
        self.status
    }

    /// The headers: names in lower case, values of printable ASCII. A name may come more than once.
    pub fn headers(&self) -> impl Iterator<Item = (&'static str, &str)> {
        self.headers.iter().map(|(name, value)| (*name, &**value))
    }

    /// The answer in the types of the crate `http`, with an empty body.
    pub fn into_response<B: Default>(self) -> Response<B> {
        response(self.status, self.headers(), B::default())
    }

    pub(super) const fn empty(status: u16) -> Self {
        Self { status, headers: Vec::new(), failure: None }
    }

    /// A redirect: 308 to the one address a page has, 302 and 303 for this visitor only.
    pub(super) fn redirect(status: u16, location: String) -> Self {
        // What is not a header's value cannot come from a parsed address; then the page does not exist.
        if !location.bytes().all(|byte| matches!(byte, b'!'..=b'~')) {
            return Self::empty(404);
        }
        let caches = if status == 308 { MOVED } else { "private, no-store" };
        Self {
            status,
            headers: vec![("location", Cow::Owned(location)), ("cache-control", Cow::Borrowed(caches))],
            failure: None,
        }
    }

    /// A page whose texts have failed: what was the matter stands in the log and in a header.
    pub(super) fn failed_texts(failures: Vec<String>, locale: &LanguageTag, wants_json: bool) -> Self {
        for failure in &failures {
            tracing::error!(target: "crow_fly::misses", failure, "a text fails the request");
        }
        let printable = |letter: char| if matches!(letter, ' '..='~') { letter } else { '?' };
        let told: String = failures.join("; ").chars().map(printable).take(2_000).collect();
        let mut reply = Self::empty(500);
        reply.add("text-errors", told);
        reply.add("cache-control", "no-store");
        reply.of_failure(LayerFailure::new(locale.clone(), FailureReason::Texts(failures), wants_json))
    }

    /// No text can be shown: the visitor may come again soon.
    pub(super) fn unavailable() -> Self {
        let mut reply = Self::empty(503);
        reply.add("retry-after", RETRY_AFTER);
        reply.add("cache-control", "no-store");
        reply
    }

    pub(super) fn of_failure(mut self, failure: LayerFailure) -> Self {
        self.failure = Some(Box::new(failure));
        self
    }

    /// A page in place of the empty answer: with the headers that it lacks.
    pub(super) fn with_page<B>(&self, mut page: Response<B>) -> Response<B> {
        for (name, value) in self.headers() {
            if let Ok(value) = HeaderValue::from_str(value) {
                page.headers_mut().entry(HeaderName::from_static(name)).or_insert(value);
            }
        }
        page
    }

    pub(super) fn add(&mut self, name: &'static str, value: impl Into<Cow<'static, str>>) {
        self.headers.push((name, value.into()));
    }
}

impl ResponseHead for Reply {
    fn status(&self) -> u16 {
        self.status
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers.iter().filter(move |(other, _)| *other == name).map(|(_, value)| value.as_bytes())
    }

    fn set(&mut self, name: &'static str, value: HeaderValue) {
        self.headers.retain(|(other, _)| *other != name);
        // The engine's own values are printable ASCII.
        if let Ok(value) = value.to_str() {
            self.add(name, value.to_owned());
        }
    }
}

/// A response of the crate `http`. What is no header is left out.
pub(super) fn response<'r, B>(
    status: u16,
    headers: impl Iterator<Item = (&'static str, &'r str)>,
    body: B,
) -> Response<B> {
    let mut response = Response::new(body);
    *response.status_mut() = StatusCode::from_u16(status).unwrap_or(StatusCode::NOT_FOUND);
    for (name, value) in headers {
        if let Ok(value) = HeaderValue::from_str(value) {
            response.headers_mut().append(HeaderName::from_static(name), value);
        }
    }
    response
}
