//! Requests and responses as the adapters' frameworks hold them: what Crow Fly reads of the one, and adds to the
//! other.

use std::borrow::Cow;

use http::HeaderMap;
use http::request::Parts;

/// What is read of a request.
pub(crate) trait RequestHead {
    /// `GET`, `POST`, …
    fn method(&self) -> &str;
    /// The path, percent-encoded as it came.
    fn path(&self) -> &str;
    /// The query, without `?`.
    fn query(&self) -> Option<&str>;
    /// The host of the address, where that has one (HTTP/2).
    fn authority(&self) -> Option<&str>;
    /// The lines of a header.
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]>;

    /// Whether the request asks for a page.
    fn is_page(&self) -> bool {
        matches!(self.method(), "GET" | "HEAD")
    }
}

/// What is added to a response.
pub(crate) trait ResponseHead {
    /// The lines of a header.
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]>;
    /// Sets a header to one line; what is no header's value is left out.
    fn set(&mut self, name: &'static str, value: Cow<'static, str>);
}

/// The signed-in visitor's own settings, for the `visitor` source: an application's own layer, before this one, puts
/// them into the request's extensions, or [`LocaleLayer::with_visitors`](super::LocaleLayer::with_visitors) asks for
/// them.
///
/// ```
/// # use crow_fly::web::VisitorSettings;
/// let settings = VisitorSettings::new().with_locale("cy").with_time_zone("Europe/London");
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct VisitorSettings {
    pub(crate) locale: Option<String>,
    pub(crate) time_zone: Option<String>,
}

impl VisitorSettings {
    /// Nothing set.
    pub fn new() -> Self {
        Self::default()
    }

    /// Sets the locale: a language tag; one that is none is passed over, and the trace says so.
    #[must_use]
    pub fn with_locale(mut self, locale: impl Into<String>) -> Self {
        self.locale = Some(locale.into());
        self
    }

    /// Sets the time zone: a name of the IANA database.
    #[must_use]
    pub fn with_time_zone(mut self, time_zone: impl Into<String>) -> Self {
        self.time_zone = Some(time_zone.into());
        self
    }
}

impl RequestHead for Parts {
    fn method(&self) -> &str {
        self.method.as_str()
    }

    fn path(&self) -> &str {
        self.uri.path()
    }

    fn query(&self) -> Option<&str> {
        self.uri.query()
    }

    fn authority(&self) -> Option<&str> {
        self.uri.host()
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers.get_all(name).iter().map(http::HeaderValue::as_bytes)
    }
}

impl ResponseHead for HeaderMap {
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.get_all(name).iter().map(http::HeaderValue::as_bytes)
    }

    fn set(&mut self, name: &'static str, value: Cow<'static, str>) {
        let value = match value {
            Cow::Borrowed(value) => Some(http::HeaderValue::from_static(value)),
            Cow::Owned(value) => http::HeaderValue::try_from(value).ok(),
        };
        if let Some(value) = value {
            self.insert(name, value);
        }
    }
}
