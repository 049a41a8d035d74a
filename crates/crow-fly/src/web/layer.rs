//! The layer and its service.

use std::error::Error;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll};

use crow_fly_core::policy::{Decision, Facts, Outcome, Source};
use http::uri::{PathAndQuery, Uri};
use http::{Method, Request, Response, StatusCode};
use http_body::Body;
use tower_layer::Layer;
use tower_service::Service;
use tracing::debug;

use super::extensions::OriginalPath;
use super::facts::RequestReading;
use super::{respond, switch};
use crate::crow_fly::CrowFly;
use crate::scope;
use crate::sessions::{SessionEntry, Sessions};
use crate::translator::RequestFacts;

/// The layer that decides each request's locale. Made by [`CrowFly::layer`].
///
/// It rewrites the request's path, so it must run before routing. In axum a layer added to a router runs after
/// it: use [`CrowFly::router`], or put the layer around the whole router.
#[derive(Clone, Debug)]
pub struct LocaleLayer {
    crow: CrowFly,
    sessions: Option<Arc<dyn Sessions>>,
}

impl LocaleLayer {
    pub(crate) fn new(crow: CrowFly) -> Self {
        #[cfg(feature = "sessions")]
        let sessions: Option<Arc<dyn Sessions>> = Some(Arc::new(crate::sessions::TowerSessions));
        #[cfg(not(feature = "sessions"))]
        let sessions = None;
        Self { crow, sessions }
    }

    /// Remembers choices in sessions of another kind than `tower-sessions`.
    #[must_use]
    pub fn with_sessions(mut self, sessions: impl Sessions) -> Self {
        self.sessions = Some(Arc::new(sessions));
        self
    }
}

impl<S> Layer<S> for LocaleLayer {
    type Service = LocaleService<S>;

    fn layer(&self, inner: S) -> LocaleService<S> {
        LocaleService { inner, layer: self.clone() }
    }
}

/// The service of [`LocaleLayer`].
#[derive(Clone, Debug)]
pub struct LocaleService<S> {
    inner: S,
    layer: LocaleLayer,
}

impl<S, B, R> Service<Request<B>> for LocaleService<S>
where
    S: Service<Request<B>, Response = Response<R>> + Clone + Send + 'static,
    S::Future: Send,
    B: Body + Send + 'static,
    B::Data: Send,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default + 'static,
{
    type Response = Response<R>;
    type Error = S::Error;
    type Future = Pin<Box<dyn Future<Output = Result<Response<R>, S::Error>> + Send>>;

    fn poll_ready(&mut self, cx: &mut Context<'_>) -> Poll<Result<(), S::Error>> {
        self.inner.poll_ready(cx)
    }

    fn call(&mut self, request: Request<B>) -> Self::Future {
        // The service that was polled ready must be the one that is called.
        let fresh = self.inner.clone();
        let ready = std::mem::replace(&mut self.inner, fresh);
        Box::pin(answer(self.layer.clone(), ready, request))
    }
}

async fn answer<S, B, R>(
    layer: LocaleLayer,
    mut inner: S,
    request: Request<B>,
) -> Result<Response<R>, S::Error>
where
    S: Service<Request<B>, Response = Response<R>>,
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default,
{
    let LocaleLayer { crow, sessions } = layer;
    let (mut parts, body) = request.into_parts();
    if switch::is_switch(&crow, parts.uri.path()) {
        return Ok(switch::answer(&crow, sessions.as_deref(), &parts, body).await);
    }
    let config = crow.config();
    let reading = RequestReading::of(&parts, config);
    let mut session = SessionEntry::NoSession;
    if let Some(sessions) = sessions.as_deref() {
        // Reading a session may ask another machine: only where its answer can matter.
        if config.policy.asks(Source::Session, parts.uri.path()) {
            session = sessions.read(&parts.extensions, &config.remember.session_key).await;
        }
    }
    let facts = reading.facts(&parts, config, &session);
    let decision = config.policy.decide(&facts);
    log(&crow, &facts, &decision);
    if let (Some(sessions), Some(locale)) = (sessions.as_deref(), decision.remember.session) {
        let locale = config.policy.set().text(locale);
        if let Err(error) = sessions.write(&parts.extensions, &config.remember.session_key, locale).await {
            debug!(target: "crow_fly::sessions", %error, "the session cannot be restored from the cookie");
        }
    }

    let mut exists = true;
    let path = match &decision.outcome {
        Outcome::Redirect { status, location } => {
            let mut response = respond::redirect(*status, location);
            respond::vary(response.headers_mut(), decision.vary(), config);
            return Ok(response);
        }
        Outcome::Serve(path) => path.clone(),
        Outcome::Skip => {
            drop(reading);
            return inner.call(Request::from_parts(parts, body)).await;
        }
        // The application shows its own page for what does not exist; nothing but a page may be asked of it.
        Outcome::NotFound if matches!(parts.method, Method::GET | Method::HEAD) => {
            exists = false;
            parts.uri.path().to_owned()
        }
        _ => return Ok(respond::not_found()),
    };
    let catalogs = crow.store().chain(decision.locale).await;
    let (locale, vary) = (decision.locale, decision.vary());
    let query = parts.uri.query().map(str::to_owned);
    parts.extensions.insert(OriginalPath(parts.uri.path().to_owned()));
    if let Some(uri) = with_path(&parts.uri, &path) {
        parts.uri = uri;
    }
    let request_facts = RequestFacts { decision, path, query };
    let translator = crow.translate(catalogs, request_facts.decision.locale, Some(request_facts));
    parts.extensions.insert(translator.clone());

    let mut response = scope::within(translator, inner.call(Request::from_parts(parts, body))).await?;
    if !exists && response.status().is_success() {
        *response.status_mut() = StatusCode::NOT_FOUND;
    }
    respond::content_language(response.headers_mut(), crow.policy().set().text(locale));
    respond::vary(response.headers_mut(), vary, crow.config());
    Ok(response)
}

/// The address with another path; none where that is no path, which one from another address always is.
fn with_path(uri: &Uri, path: &str) -> Option<Uri> {
    if uri.path() == path {
        return None;
    }
    let path_and_query = match uri.query() {
        Some(query) => PathAndQuery::try_from(format!("{path}?{query}")),
        None => PathAndQuery::try_from(path),
    };
    let mut parts = uri.clone().into_parts();
    parts.path_and_query = Some(path_and_query.ok()?);
    Uri::from_parts(parts).ok()
}

/// One event for each decision; the words are only made where somebody listens.
fn log(crow: &CrowFly, facts: &Facts<'_>, decision: &Decision) {
    if tracing::enabled!(target: "crow_fly::decisions", tracing::Level::DEBUG) {
        let explanation = crow.policy().explain(facts, decision);
        debug!(
            target: "crow_fly::decisions",
            path = facts.path, locale = explanation.locale, source = %explanation.source, outcome = explanation.outcome,
            trace = ?explanation.trace,
            "decided",
        );
    }
}
