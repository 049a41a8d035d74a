//! What handlers take of a request, in every framework: the translator, or a part of what it knows.

use std::fmt;
use std::marker::PhantomData;
use std::ops::Deref;

use crow_fly_core::policy::Decision;
use crow_fly_core::tag::LanguageTag;

#[cfg(any(feature = "axum", feature = "actix"))]
use crate::passed_on::PassedOn;
use crate::translator::{NotLoaded, Translator};

/// The locale of the request, for handlers that need no more.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RequestLocale(pub LanguageTag);

/// The decision of the request: which source decided, and what the others had.
#[derive(Clone, Debug)]
pub struct RequestDecision(pub Decision);

/// Names the sections that a handler's texts are in: see [`TranslatorWith`].
///
/// ```
/// struct Booking;
///
/// impl crow_fly::web::Sections for Booking {
///     const NAMES: &'static [&'static str] = &["booking", "prices"];
/// }
/// ```
pub trait Sections {
    /// The names of the sections.
    const NAMES: &'static [&'static str];
}

/// The translator of the request, with sections in memory: an extractor for handlers whose sections the configuration does
/// not name.
///
/// Where nothing of them can be loaded, the request is answered with 503, unless the configuration says `on-failure =
/// "serve"`.
///
/// ```
/// use crow_fly::web::{Sections, TranslatorWith};
///
/// struct Booking;
///
/// impl Sections for Booking {
///     const NAMES: &'static [&'static str] = &["booking"];
/// }
///
/// async fn page(t: TranslatorWith<Booking>) -> String {
///     t.text("booking.title")
/// }
/// # let _ = page;
/// ```
pub struct TranslatorWith<S> {
    translator: Translator,
    sections: PhantomData<fn() -> S>,
}

impl<S> Deref for TranslatorWith<S> {
    type Target = Translator;

    fn deref(&self) -> &Translator {
        &self.translator
    }
}

impl<S> fmt::Debug for TranslatorWith<S> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("TranslatorWith").field(&self.translator).finish()
    }
}

impl<S: Sections> TranslatorWith<S> {
    /// Takes the translator out.
    pub fn into_inner(self) -> Translator {
        self.translator
    }

    /// Brings the sections into memory.
    #[cfg(any(feature = "axum", feature = "actix"))]
    pub(super) async fn of(translator: Option<Translator>) -> Result<Self, MissingSections> {
        let translator = translator.ok_or(MissingSections::Layer(MissingLayer))?;
        match translator.load(S::NAMES).await {
            Err(error) if !error.is_partial() && translator.config().catalogs.refuses => {
                Err(MissingSections::NotLoaded(error))
            }
            // A part of the chain is enough, and what there is of it goes without being kept.
            _ => Ok(Self { translator, sections: PhantomData }),
        }
    }
}

/// Why there is no [`TranslatorWith`].
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum MissingSections {
    /// The layer did not run for this request: it is answered with 500.
    Layer(MissingLayer),
    /// No locale of the chain has the sections in memory: it is answered with 503.
    NotLoaded(NotLoaded),
}

impl fmt::Display for MissingSections {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Layer(error) => error.fmt(f),
            Self::NotLoaded(error) => error.fmt(f),
        }
    }
}

crow_fly_core::debug_as_shown!(MissingSections);

impl std::error::Error for MissingSections {}

/// No translator is there: the layer did not run for this request.
#[derive(Clone, Copy, PartialEq, Eq)]
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

crow_fly_core::debug_as_shown!(MissingLayer);

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
