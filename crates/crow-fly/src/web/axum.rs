//! The adapter for axum: a router that is localized before it routes, and extractors.

use std::convert::Infallible;

use axum::Router;
use axum::extract::{FromRequestParts, OptionalFromRequestParts};
use axum::response::{IntoResponse, Response};
use axum::routing::any;
use http::StatusCode;
use http::header::{CACHE_CONTROL, CONTENT_TYPE, LOCATION};
use http::request::Parts;
use tower_layer::Layer;

use super::exchange::PassedOn;
use super::extract::{
    MissingLayer, MissingSections, OfTranslator, RequestDecision, RequestLocale, Sections, TranslatorWith,
    translator_of,
};
use super::redirect::LocaleRedirect;
use crate::browser::DirectReply;
use crate::crow_fly::CrowFly;
use crate::store::{Health, MissReport};
use crate::translator::{NotLoaded, Translator};
use crate::typed::TypedTranslator;

impl CrowFly {
    /// Puts the layer around a whole router, so that a request's prefix is stripped before it is routed.
    ///
    /// Add the session layer to the result: it then runs first. The router around the layer costs a few per cent of
    /// a small page; an application that wants those serves `crow.layer().layer(pages)` itself, by axum's
    /// `ServiceExt::into_make_service`.
    ///
    /// ```
    /// use axum::{routing::get, Router};
    /// use crow_fly::{CrowFly, Translator};
    ///
    /// fn app(crow: &CrowFly) -> Router {
    ///     let pages = Router::new().route("/", get(|t: Translator| async move { t.text("home.title") }));
    ///     crow.router(pages)
    /// }
    /// ```
    ///
    /// - **`fallback`** for pages that do not exist belongs to `pages`: it then has a translator. The result has a
    ///   fallback already, which is the layer.
    /// - **`merge`** adds routes that the layer never sees: `Router::new().route("/health", get(health)).merge(app(&crow))`.
    ///   They are asked for by their path as it is; `skip` is for paths whose handlers stand among `pages`.
    /// - **`nest_service`** and `nest` take a path off before the layer sees it. With `base = "/app"` and
    ///   `base-stripped = true` in the configuration, `Router::new().nest_service("/app", app(&crow))` has addresses such
    ///   as `/app/cy/trip`, and handlers that know them as `/trip`. `nest` is the same without `/app/`. Without `nest` the routes of `pages` have the base themselves, and `base` alone is enough.
    pub fn router(&self, pages: Router) -> Router {
        Router::new().fallback_service(self.layer().layer(pages))
    }
}

impl CrowFly {
    /// A router that answers requests for texts by address, below the path of `[browser]` in the configuration: see
    /// [`answer_texts`](Self::answer_texts). Merge it beside the router of the pages. It has no routes where no section is
    /// public.
    ///
    /// ```
    /// # use axum::Router;
    /// # fn app(crow: &crow_fly::CrowFly, pages: Router) -> Router {
    /// Router::new().merge(crow.texts_router()).merge(crow.router(pages))
    /// # }
    /// ```
    pub fn texts_router(&self) -> Router {
        let browser = &self.config().browser;
        if browser.sections.is_empty() {
            return Router::new();
        }
        let crow = self.clone();
        let answer = async move |head: Parts| crow.answer_texts(&head).await;
        Router::new().route(&format!("{}/{{*texts}}", browser.path), any(answer))
    }

    /// A router that answers requests for the inspector, below `/inspector`: see
    /// [`answer_inspector`](Self::answer_inspector). Merge it beside the router of the pages. In production it has no
    /// routes.
    pub fn inspector_router(&self) -> Router {
        if self.journal().is_none() {
            return Router::new();
        }
        let crow = self.clone();
        let answer = async move |head: Parts| crow.answer_inspector(&head).await;
        Router::new().route("/inspector", any(answer.clone())).route("/inspector/{page}", any(answer))
    }
}

impl IntoResponse for DirectReply {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status()).unwrap_or(StatusCode::NOT_FOUND);
        let mut response = Response::new(axum::body::Body::empty());
        *response.status_mut() = status;
        for (name, value) in self.headers() {
            if let Ok(value) = http::HeaderValue::from_str(value) {
                response.headers_mut().append(name, value);
            }
        }
        *response.body_mut() = axum::body::Body::from(self.into_body());
        response
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
        super::tower::into_response(&super::exchange::unavailable())
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
