//! Answers that need no handler of the application.

use crate::web::exchange::RequestHead;

/// An answer that needs no handler of the application: texts for scripts, the inspector. Made by
/// [`CrowFly::answer_texts`](crate::CrowFly::answer_texts) and
/// [`CrowFly::answer_inspector`](crate::CrowFly::answer_inspector).
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DirectReply {
    status: u16,
    headers: Vec<(&'static str, String)>,
    body: String,
}

/// The media type of JSON.
pub(super) const JSON: &str = "application/json";

impl DirectReply {
    pub(super) fn new(status: u16, kind: &str, body: String, caching: &str) -> Self {
        let headers = vec![
            ("content-type", kind.to_owned()),
            ("cache-control", caching.to_owned()),
            ("x-content-type-options", "nosniff".to_owned()),
        ];
        Self { status, headers, body }
    }

    /// JSON.
    pub(super) fn json(status: u16, body: String, caching: &str) -> Self {
        Self::new(status, JSON, body, caching)
    }

    /// What no cache keeps.
    pub(crate) fn of(status: u16, kind: &str, body: String) -> Self {
        Self::new(status, kind, body, "no-store")
    }

    pub(crate) fn not_allowed() -> Self {
        Self::json(405, "{}".to_owned(), "no-store").with("allow", "GET, HEAD")
    }

    /// There is nothing here now; a cache must not remember it, since there may be something soon.
    pub(crate) fn not_found() -> Self {
        Self::json(404, "{}".to_owned(), "no-store")
    }

    pub(super) fn unavailable() -> Self {
        Self::json(503, "{}".to_owned(), "no-store").with("retry-after", "2")
    }

    pub(super) fn with(mut self, name: &'static str, value: impl Into<String>) -> Self {
        self.headers.push((name, value.into()));
        self
    }

    /// Names the language of the body: it may differ from the language of the pages around its address.
    pub(super) fn in_language(self, language: &str) -> Self {
        self.with("content-language", language)
    }

    /// The content of an address that has its hash: it never changes.
    pub(super) fn for_ever(kind: &str, body: String) -> Self {
        Self::new(200, kind, body, "public, max-age=31536000, immutable")
    }

    /// An answer that is the same until its tag changes.
    pub(super) fn tagged(
        kind: &str,
        body: String,
        tag: &str,
        head: &impl RequestHead,
        caching: &str,
    ) -> Self {
        let tag = format!("\"{tag}\"");
        // RFC 9110 §13.1.2: any of several, and weak ones compare equal.
        let is_known = |other: &str| {
            let other = other.trim();
            other == "*" || other.strip_prefix("W/").unwrap_or(other) == tag
        };
        let known = head.header("if-none-match").is_some_and(|tags| tags.split(',').any(is_known));
        let (status, body) = if known { (304, String::new()) } else { (200, body) };
        Self::new(status, kind, body, caching).with("etag", tag)
    }

    /// The status.
    pub const fn status(&self) -> u16 {
        self.status
    }

    /// The headers; names are in lower case.
    pub fn headers(&self) -> impl Iterator<Item = (&'static str, &str)> {
        self.headers.iter().map(|(name, value)| (*name, value.as_str()))
    }

    /// The body.
    pub fn body(&self) -> &str {
        &self.body
    }

    /// Takes the body out.
    pub fn into_body(self) -> String {
        self.body
    }
}
