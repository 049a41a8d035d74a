//! What handlers take of a request, in every framework: the translator, or a part of what it knows.

use std::fmt;

use crow_fly_core::policy::Decision;
use crow_fly_core::tag::LanguageTag;

#[cfg(any(feature = "axum", feature = "actix"))]
use super::passed_on::PassedOn;
use crate::translator::Translator;

/// The locale of the request, for handlers that need no more.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RequestLocale(pub LanguageTag);

/// The decision of the request: which source decided, and what the others said.
#[derive(Clone, Debug)]
pub struct RequestDecision(pub Decision);

/// No translator is there: the layer did not run for this request.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct MissingLayer;

impl MissingLayer {
    /// What a visitor sees.
    #[cfg(any(feature = "axum", feature = "actix"))]
    pub(super) const BODY: &'static str = "Internal Server Error";

    /// Tells the developer what was forgotten.
    #[cfg(any(feature = "axum", feature = "actix"))]
    pub(super) fn log(self) {
        tracing::error!(target: "crow_fly::layer", "{self}");
    }
}

impl fmt::Display for MissingLayer {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a handler asks for a translator, but the layer has not run for this request; in axum, build the router with `CrowFly::router`, in actix-web, wrap the application in `CrowFly::middleware`")
    }
}

impl std::error::Error for MissingLayer {}

/// The translator of a request; one that was passed on untouched gets it where it is asked for.
#[cfg(any(feature = "axum", feature = "actix"))]
pub(super) async fn translator_of(
    translator: Option<Translator>,
    passed_on: Option<PassedOn>,
) -> Option<Translator> {
    match (translator, passed_on) {
        (Some(translator), _) => Some(translator),
        (None, Some(passed_on)) => Some(passed_on.translator().await),
        (None, None) => None,
    }
}

/// What can be had from a request's translator.
#[cfg_attr(
    not(any(feature = "axum", feature = "actix")),
    expect(dead_code, reason = "only extractors use it")
)]
pub(crate) trait OfTranslator: Sized {
    fn of(translator: &Translator) -> Option<Self>;
}

impl OfTranslator for Translator {
    fn of(translator: &Translator) -> Option<Self> {
        Some(translator.clone())
    }
}

impl OfTranslator for RequestLocale {
    fn of(translator: &Translator) -> Option<Self> {
        Some(Self(translator.locale().clone()))
    }
}

impl OfTranslator for RequestDecision {
    fn of(translator: &Translator) -> Option<Self> {
        translator.decision().cloned().map(Self)
    }
}
