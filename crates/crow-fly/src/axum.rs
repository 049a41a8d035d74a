//! The axum integration: an extractor, and a router that is localized before it routes.

use std::fmt;

use axum::Router;
use axum::extract::{FromRequestParts, OptionalFromRequestParts};
use axum::response::{IntoResponse, Response};
use http::StatusCode;
use http::request::Parts;
use tower_layer::Layer;

use crate::crow_fly::CrowFly;
use crate::translator::Translator;

impl CrowFly {
    /// Puts the layer around a whole router, so that a request's prefix is stripped before it is routed.
    ///
    /// Add the session layer to the result: it then runs first.
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
    pub fn router(&self, pages: Router) -> Router {
        Router::new().fallback_service(self.layer().layer(pages))
    }
}

/// No translator is there: the layer did not run for this request.
#[derive(Clone, Copy, Debug)]
pub struct MissingLayer;

impl fmt::Display for MissingLayer {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("no translator for this request: did you build the router with `CrowFly::router`, or add `CrowFly::layer` around it?")
    }
}

impl std::error::Error for MissingLayer {}

impl IntoResponse for MissingLayer {
    fn into_response(self) -> Response {
        (StatusCode::INTERNAL_SERVER_ERROR, self.to_string()).into_response()
    }
}

impl<S: Send + Sync> FromRequestParts<S> for Translator {
    type Rejection = MissingLayer;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, MissingLayer> {
        parts.extensions.get::<Self>().cloned().ok_or(MissingLayer)
    }
}

impl<S: Send + Sync> OptionalFromRequestParts<S> for Translator {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Option<Self>, Self::Rejection> {
        Ok(parts.extensions.get::<Self>().cloned())
    }
}
