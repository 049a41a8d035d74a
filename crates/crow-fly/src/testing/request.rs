//! Which locale a request gets, and why.

use std::fmt;

use http::request::Parts;

use crate::crow_fly::CrowFly;
use crate::sessions::SessionEntries;
use crate::web::{ExplainedAnswer, ExplainedRequest, KnownOfVisitor, VisitorSettings};

/// A request, to ask which locale it gets, and why. No server is needed.
#[derive(Clone, Debug)]
#[must_use = "nothing is asked until `decide` is called"]
pub struct Request {
    head: Parts,
    known: KnownOfVisitor,
}

impl Request {
    /// A `GET` of a path, with its query.
    ///
    /// # Panics
    /// Where it is not an address that HTTP can carry.
    pub fn get(address: &str) -> Self {
        let request = http::Request::get(address).body(());
        let request = request.unwrap_or_else(|error| panic!("`{address}` is not an address: {error}"));
        Self { head: request.into_parts().0, known: KnownOfVisitor::nothing() }
    }

    /// A request that was made elsewhere.
    pub fn of(head: Parts) -> Self {
        Self { head, known: KnownOfVisitor::nothing() }
    }

    /// The languages that the browser asks for: `pl, en;q=0.5`.
    ///
    /// # Panics
    /// Where the value has control characters.
    pub fn browser_languages(self, ranges: &str) -> Self {
        self.header("accept-language", ranges)
    }

    /// A cookie.
    ///
    /// # Panics
    /// Where the name or the value has control characters.
    pub fn cookie(self, name: &str, value: &str) -> Self {
        self.header("cookie", &format!("{name}={value}"))
    }

    /// A header. Several of one name are several lines.
    ///
    /// # Panics
    /// Where the name or the value is not one that HTTP can carry.
    pub fn header(mut self, name: &str, value: &str) -> Self {
        let parsed = http::HeaderName::try_from(name).ok().zip(http::HeaderValue::from_str(value).ok());
        let (name, value) = parsed.unwrap_or_else(|| panic!("`{name}: {value}` is not a header"));
        self.head.headers.append(name, value);
        self
    }

    /// What the session holds.
    pub fn session(mut self, session: SessionEntries) -> Self {
        self.known = self.known.with_session(session);
        self
    }

    /// The signed-in visitor's settings.
    pub fn visitor(mut self, settings: VisitorSettings) -> Self {
        self.known = self.known.with_settings(settings);
        self
    }

    /// What the application's layer does with the request.
    pub fn decide(self, crow: &CrowFly) -> Decided {
        let request = format!("{} {}", self.head.method, self.head.uri);
        Decided { request, explained: crow.explain(&self.head, &self.known) }
    }
}

/// What the layer does with a request, and why. As text it is the whole decision, source by source.
#[derive(Clone, Debug)]
pub struct Decided {
    request: String,
    explained: ExplainedRequest,
}

impl Decided {
    /// Everything there is to know.
    pub const fn explained(&self) -> &ExplainedRequest {
        &self.explained
    }

    /// The locale; none at the switch address.
    pub fn locale(&self) -> Option<&str> {
        self.explained.decision.as_ref().map(|decision| decision.locale.as_str())
    }

    /// Where it leads to, if it is a redirect.
    pub fn redirect(&self) -> Option<&str> {
        let mut headers = self.explained.headers.iter();
        headers.find(|header| header.name == "location").map(|header| header.value.as_str())
    }

    /// Fails the test where the request gets another locale.
    ///
    /// # Panics
    /// With the whole decision.
    #[track_caller]
    pub fn assert_locale(&self, locale: &str) -> &Self {
        assert!(self.locale() == Some(locale), "`{locale}` was expected:\n{self}");
        self
    }

    /// Fails the test where the request does not lead to an address.
    ///
    /// # Panics
    /// With the whole decision.
    #[track_caller]
    pub fn assert_redirect(&self, address: &str) -> &Self {
        assert!(self.redirect() == Some(address), "a redirect to `{address}` was expected:\n{self}");
        self
    }

    /// Fails the test where the application is not asked for a page in the request's locale.
    ///
    /// # Panics
    /// With the whole decision.
    #[track_caller]
    pub fn assert_served(&self) -> &Self {
        assert!(self.explained.answer == ExplainedAnswer::Serve, "the application was to answer:\n{self}");
        self
    }
}

impl fmt::Display for Decided {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.request, self.explained)?;
        let Some(decision) = &self.explained.decision else { return Ok(()) };
        write!(f, "\n  locale {} by {}", decision.locale, decision.source)?;
        for step in &decision.trace {
            write!(f, "\n  {} is {}", step.source, step.verdict)?;
            if let Some(value) = &step.value {
                write!(f, ": `{value}`")?;
            }
            if !step.why.is_empty() {
                write!(f, " ({})", step.why)?;
            }
        }
        Ok(())
    }
}
