//! An error that the layer answers itself: why, in which locale, and the page that says so.

use std::fmt;

use crow_fly_core::tag::LanguageTag;
use http::Response;

use super::head::RequestHead;

/// An error that the layer answers itself: what an error page is made from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LayerFailure {
    locale: LanguageTag,
    reason: FailureReason,
    wants_json: bool,
}

/// Why the layer answers with an error.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum FailureReason {
    /// 503: nothing of the chain's catalogs is in memory, and it cannot be loaded in time.
    NoCatalogs,
    /// 500: texts are missing or have errors, and the configuration says that this fails a request. One sentence each.
    Texts(Vec<String>),
}

impl LayerFailure {
    pub(super) const fn new(locale: LanguageTag, reason: FailureReason, wants_json: bool) -> Self {
        Self { locale, reason, wants_json }
    }

    /// The locale that was decided for the request. Its texts may be missing.
    pub const fn locale(&self) -> &LanguageTag {
        &self.locale
    }

    /// Why.
    pub const fn reason(&self) -> &FailureReason {
        &self.reason
    }

    /// The status: 503 or 500.
    pub const fn status(&self) -> u16 {
        match self.reason {
            FailureReason::NoCatalogs => 503,
            FailureReason::Texts(_) => 500,
        }
    }

    /// Whether the request asks for JSON, and not for HTML (`Accept`).
    pub const fn wants_json(&self) -> bool {
        self.wants_json
    }
}

impl fmt::Display for LayerFailure {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.reason {
            FailureReason::NoCatalogs => f.write_str("the texts of this page cannot be loaded right now"),
            FailureReason::Texts(failures) => {
                write!(f, "texts of this page are missing or have errors: {}", failures.join("; "))
            }
        }
    }
}

impl std::error::Error for LayerFailure {}

/// Whether a request asks for JSON, and not for HTML.
pub(super) fn wants_json(head: &impl RequestHead) -> bool {
    let lines = head.lines("accept").filter_map(|line| std::str::from_utf8(line).ok());
    let kinds =
        lines.flat_map(|line| line.split(',')).map(|range| range.split(';').next().unwrap_or(range).trim());
    let (mut json, mut html) = (false, false);
    for kind in kinds {
        json |= kind.eq_ignore_ascii_case("application/json") || kind.ends_with("+json");
        html |= kind.eq_ignore_ascii_case("text/html");
    }
    json && !html
}

/// What makes the whole answer for an error of the layer's. A function does; without one the answer has no body, and in axum the
/// one that is built in.
pub trait ErrorPage<R>: Send + Sync + 'static {
    /// The answer; none where the one without a body, or the one that is built in, is right.
    fn answer(&self, failure: &LayerFailure) -> Option<Response<R>>;
}

/// No page: an answer without a body, or the one that is built in.
#[derive(Clone, Copy, Debug)]
pub struct NoErrorPage;

impl<R> ErrorPage<R> for NoErrorPage {
    fn answer(&self, _: &LayerFailure) -> Option<Response<R>> {
        None
    }
}

impl<R, F> ErrorPage<R> for F
where
    F: Fn(&LayerFailure) -> Response<R> + Send + Sync + 'static,
{
    fn answer(&self, failure: &LayerFailure) -> Option<Response<R>> {
        Some(self(failure))
    }
}

/// The page that is built in, in plain English: its type and its text.
#[cfg(any(feature = "axum", feature = "actix"))]
pub(super) fn built_in(failure: &LayerFailure) -> (&'static str, String) {
    let (title, text) = match failure.reason {
        FailureReason::NoCatalogs => ("This page cannot be shown right now", "Please try again in a moment."),
        FailureReason::Texts(_) => ("This page has an error", "We have taken note of it."),
    };
    if failure.wants_json {
        return ("application/json", format!("{{\"status\":{},\"error\":\"{title}\"}}", failure.status()));
    }
    let page = format!(
        "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" \
         content=\"width=device-width\">\n<title>{title}</title>\n<h1>{title}</h1>\n<p>{text}</p>\n"
    );
    ("text/html; charset=utf-8", page)
}
