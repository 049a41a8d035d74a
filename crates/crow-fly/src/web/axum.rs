//! The adapter for axum: a router that is localized before it routes, and extractors.

use std::convert::Infallible;

use axum::Router;
use axum::body::Body;
use axum::extract::{FromRequestParts, OptionalFromRequestParts};
use axum::response::{IntoResponse, Response};
use http::StatusCode;
use http::header::{CACHE_CONTROL, CONTENT_LANGUAGE, CONTENT_TYPE, LOCATION};
use http::request::Parts;
use tower_layer::Layer;

use super::LocaleLayer;
use super::exchange::{PassedOn, Reply};
use super::extract::{
    MissingLayer, MissingSections, OfTranslator, RequestDecision, RequestLocale, Sections, TranslatorWith,
    translator_of,
};
use super::failure::{self, ErrorPage, LayerFailure};
use super::reply;
use crate::browser::DirectReply;
use crate::store::{Health, MissReport};
use crate::translator::{LocaleRedirect, NotLoaded, Translator};
use crate::typed::TypedTranslator;

impl<P: ErrorPage<Body> + Clone> LocaleLayer<P> {
    /// Puts this layer around a whole router: as [`CrowFly::router`](crate::CrowFly::router), for a layer with hooks.
    ///
    /// ```
    /// use axum::Router;
    /// # use crow_fly::{CrowFly, sessions::Sessions};
    ///
    /// fn app(crow: &CrowFly, sessions: impl Sessions, pages: Router) -> Router {
    ///     crow.layer().sessions(sessions).router(pages)
    /// }
    /// ```
    ///
    /// A router of handlers with state has it before: `crow.router(pages.with_state(state))`.
    pub fn router(self, pages: impl Pages) -> Router {
        Router::new().fallback_service(self.map_page(OrBuiltIn).layer(pages.into_router()))
    }
}

/// The page that is built in, where there is no other.
#[derive(Clone, Copy, Debug)]
struct OrBuiltIn<P>(P);

impl<P: ErrorPage<Body>> ErrorPage<Body> for OrBuiltIn<P> {
    fn answer(&self, failure: &LayerFailure) -> Option<Response> {
        Some(self.0.answer(failure).unwrap_or_else(|| error_page(failure)))
    }
}

fn error_page(failure: &LayerFailure) -> Response {
    let (kind, body) = failure::built_in(failure);
    let status = StatusCode::from_u16(failure.status()).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
    (status, [(CONTENT_TYPE, kind), (CONTENT_LANGUAGE, "en")], body).into_response()
}

/// The pages of an application: a router that lacks no state.
#[diagnostic::on_unimplemented(
    message = "the pages lack their state",
    label = "call `.with_state(…)` on this router first",
    note = "the layer stands around a whole router: `crow.router(pages.with_state(state))`"
)]
pub trait Pages: sealed::Sealed {
    #[doc(hidden)]
    fn into_router(self) -> Router;
}

impl Pages for Router {
    fn into_router(self) -> Router {
        self
    }
}

mod sealed {
    pub trait Sealed {}

    impl Sealed for axum::Router {}
}

impl IntoResponse for DirectReply {
    fn into_response(self) -> Response {
        let (status, headers) = (self.status(), self.headers().collect::<Vec<_>>());
        let response = reply::response(status, headers.into_iter(), ());
        response.map(|()| Body::from(self.body().to_owned()))
    }
}

impl IntoResponse for MissingLayer {
    /// A plain 500: what was forgotten is in the log.
    fn into_response(self) -> Response {
        self.log();
        (StatusCode::INTERNAL_SERVER_ERROR, MissingLayer::BODY).into_response()
    }
}

impl IntoResponse for MissingSections {
    fn into_response(self) -> Response {
        match self {
            Self::Layer(missing) => missing.into_response(),
            Self::NotLoaded(error) => error.into_response(),
        }
    }
}

impl IntoResponse for NotLoaded {
    /// 503, which no cache keeps: for handlers that cannot do without their sections.
    fn into_response(self) -> Response {
        tracing::warn!(target: "crow_fly::catalogs", "{self}");
        Reply::unavailable().into_response()
    }
}

impl IntoResponse for Health {
    /// JSON: 200 where pages can be served, 503 otherwise.
    fn into_response(self) -> Response {
        let headers = [(CONTENT_TYPE, "application/json"), (CACHE_CONTROL, "no-store")];
        (self.http_status(), headers, self.to_json()).into_response()
    }
}

impl IntoResponse for MissReport {
    /// JSON.
    fn into_response(self) -> Response {
        ([(CONTENT_TYPE, "application/json"), (CACHE_CONTROL, "no-store")], self.to_json()).into_response()
    }
}

impl IntoResponse for LocaleRedirect {
    fn into_response(self) -> Response {
        let headers = [(LOCATION, self.address.as_str()), (CACHE_CONTROL, Self::CACHE_CONTROL)];
        (StatusCode::SEE_OTHER, headers).into_response()
    }
}

async fn translator(parts: &Parts) -> Option<Translator> {
    let translator = parts.extensions.get::<Translator>().cloned();
    translator_of(translator, parts.extensions.get::<PassedOn>().cloned()).await
}

/// One extractor, required and optional, for each thing that can be had from the translator.
macro_rules! extractor {
    ($($type:ty),*) => {$(
        impl<S: Send + Sync> FromRequestParts<S> for $type {
            type Rejection = MissingLayer;

            async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, MissingLayer> {
                translator(parts).await.as_ref().and_then(Self::of).ok_or(MissingLayer)
            }
        }

        impl<S: Send + Sync> OptionalFromRequestParts<S> for $type {
            type Rejection = Infallible;

            async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Option<Self>, Infallible> {
                Ok(translator(parts).await.as_ref().and_then(Self::of))
            }
        }
    )*};
}

extractor!(Translator, RequestLocale, RequestDecision);

impl<S: Send + Sync, T: Sections> FromRequestParts<S> for TypedTranslator<T> {
    type Rejection = MissingSections;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, MissingSections> {
        TranslatorWith::from_request_parts(parts, state).await.map(Self::from)
    }
}

impl<S: Send + Sync, T: Sections> FromRequestParts<S> for TranslatorWith<T> {
    type Rejection = MissingSections;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, MissingSections> {
        Self::of(translator(parts).await).await
    }
}
