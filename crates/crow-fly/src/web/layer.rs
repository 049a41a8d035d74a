//! The layer and its service, for `tower`.

use std::error::Error;
use std::fmt;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll};

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::{Decision, Remember, Vary};
use http::HeaderValue;
use http::request::Parts;
use http::uri::{PathAndQuery, Uri};
use http::{Method, Request, Response, StatusCode};
use http_body::Body;
use http_body_util::{BodyExt, Limited};
use tower_layer::Layer;
use tower_service::Service;
use tracing::debug;

use super::facts::SessionEntries;
use super::head::{RequestHead, VisitorSettings};
use super::plan::{self, Inputs, Plan};
use super::reply::Reply;
use super::switch;
use crate::crow_fly::CrowFly;
use crate::scope;
use crate::sessions::{SessionFuture, Sessions};
use crate::store::ChainCatalogs;
use crate::translator::{RequestFacts, Translator, with_query};

/// The layer that decides each request's locale. Made by [`CrowFly::layer`].
///
/// It rewrites the request's path, so it must run before routing. In axum a layer added to a router runs after
/// it: use [`CrowFly::router`], or put the layer around the whole router.
#[derive(Clone)]
pub struct LocaleLayer {
    // One pointer: the layer is cloned for every request.
    parts: Arc<LayerParts>,
}

#[derive(Clone)]
struct LayerParts {
    crow: CrowFly,
    sessions: Option<Arc<dyn Sessions>>,
    visitors: Option<Arc<dyn Visitors>>,
}

/// Finds the settings of a request's signed-in visitor: any function of this shape.
trait Visitors: Send + Sync {
    fn settings<'a>(&self, request: &'a Parts) -> SessionFuture<'a, Option<VisitorSettings>>;
}

impl<F> Visitors for F
where
    F: for<'a> Fn(&'a Parts) -> SessionFuture<'a, Option<VisitorSettings>> + Send + Sync,
{
    fn settings<'a>(&self, request: &'a Parts) -> SessionFuture<'a, Option<VisitorSettings>> {
        self(request)
    }
}

impl LocaleLayer {
    pub(crate) fn new(crow: CrowFly) -> Self {
        #[cfg(feature = "sessions")]
        let sessions: Option<Arc<dyn Sessions>> = Some(Arc::new(crate::sessions::TowerSessions));
        #[cfg(not(feature = "sessions"))]
        let sessions = None;
        Self { parts: Arc::new(LayerParts { crow, sessions, visitors: None }) }
    }

    /// Remembers choices in sessions of another kind than `tower-sessions`.
    #[must_use]
    pub fn with_sessions(mut self, sessions: impl Sessions) -> Self {
        Arc::make_mut(&mut self.parts).sessions = Some(Arc::new(sessions));
        self
    }

    /// Inputs for the signed-in visitor's own settings, where the `visitor` source can matter for a request. Settings
    /// it finds go before those in the request's extensions.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory, web::VisitorSettings};
    /// # async fn profile(_: &str) -> Option<String> { None }
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['visitor']")?;
    /// # let crow = CrowFly::new(config, Memory::default());
    /// let layer = crow.layer().with_visitors(|request| {
    ///     Box::pin(async move {
    ///         let account = request.headers.get("x-account")?.to_str().ok()?;
    ///         Some(VisitorSettings::new().with_locale(profile(account).await?))
    ///     })
    /// });
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    #[must_use]
    pub fn with_visitors<F>(mut self, settings: F) -> Self
    where
        F: for<'a> Fn(&'a Parts) -> SessionFuture<'a, Option<VisitorSettings>> + Send + Sync + 'static,
    {
        Arc::make_mut(&mut self.parts).visitors = Some(Arc::new(settings));
        self
    }
}

impl LayerParts {
    /// The plan for a request, where nobody need be asked for it; not for the switch address.
    fn plan_at_once(&self, parts: &Parts) -> Option<Plan> {
        if switch::is_switch(&self.crow, parts.path()) {
            return None;
        }
        let path_match = self.crow.policy().read(parts.uri.path());
        let inputs = Inputs::of(&self.crow, path_match.as_ref());
        if inputs.session && self.sessions.is_some() || inputs.visitor && self.visitors.is_some() {
            return None;
        }
        let visitor = parts.extensions.get();
        let (plan, remember) = Plan::of(&self.crow, parts, path_match, &SessionEntries::default(), visitor);
        // Without a session there is nothing to remember anything in.
        debug_assert_eq!(remember, Remember::default());
        Some(plan)
    }

    /// What the session holds.
    async fn entries(&self, parts: &Parts) -> SessionEntries {
        let Some(sessions) = self.sessions.as_deref() else { return SessionEntries::default() };
        let config = self.crow.config();
        let mut entries = SessionEntries {
            locale: sessions.read(&parts.extensions, &config.remember.session_key).await,
            ..SessionEntries::default()
        };
        if config.policy.time_zone().is_some() {
            entries.time_zone = sessions.read(&parts.extensions, &config.time_zone.session_key).await;
        }
        entries
    }

    /// Writes into the session; one that cannot remember leaves it to the cookie.
    async fn remember(&self, parts: &Parts, writes: impl Iterator<Item = (&str, &str)>) {
        let Some(sessions) = self.sessions.as_deref() else { return };
        for (key, value) in writes {
            if let Err(error) = sessions.write(&parts.extensions, key, value).await {
                debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
            }
        }
    }
}

impl fmt::Debug for LocaleLayer {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("LocaleLayer")
            .field("crow", &self.parts.crow)
            .field("sessions", &self.parts.sessions)
            .finish_non_exhaustive()
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
        let mut ready = std::mem::replace(&mut self.inner, fresh);
        let layer = Arc::clone(&self.layer.parts);
        let (mut parts, body) = request.into_parts();
        match layer.plan_at_once(&parts) {
            None => Box::pin(answer(layer, ready, parts, body)),
            // Nearly every request waits for nothing but the application: its future is kept small.
            Some(Plan::Serve { decision, missing }) => match layer.crow.store().loaded(decision.locale) {
                Some(catalogs) => {
                    let serving = Serving::begin(&layer.crow, &mut parts, decision, missing, catalogs);
                    let answer = ready.call(Request::from_parts(parts, body));
                    Box::pin(serving.finish(layer, answer))
                }
                None => Box::pin(carry_out(layer, ready, parts, body, Plan::Serve { decision, missing })),
            },
            Some(plan) => Box::pin(carry_out(layer, ready, parts, body, plan)),
        }
    }
}

/// Inputs for what the decision needs, decides, and carries it out.
async fn answer<S, B, R>(
    layer: Arc<LayerParts>,
    inner: S,
    parts: Parts,
    body: B,
) -> Result<Response<R>, S::Error>
where
    S: Service<Request<B>, Response = Response<R>>,
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default,
{
    let crow = &layer.crow;
    if switch::is_switch(crow, parts.path()) {
        let form = if parts.method == Method::POST { form(body).await } else { Vec::new() };
        return Ok(match switch::choose(crow, &parts, &form) {
            Ok(choice) => {
                layer.remember(&parts, plan::session_writes(crow, choice.remember)).await;
                into_response(choice.reply)
            }
            Err(reply) => into_response(reply),
        });
    }
    let path_match = crow.policy().read(parts.uri.path());
    let inputs = Inputs::of(crow, path_match.as_ref());
    let entries = if inputs.session { layer.entries(&parts).await } else { SessionEntries::default() };
    let visitor = match &layer.visitors {
        Some(visitors) if inputs.visitor => visitors.settings(&parts).await,
        _ => None,
    };
    let visitor = visitor.as_ref().or_else(|| parts.extensions.get());
    let (plan, remember) = Plan::of(crow, &parts, path_match, &entries, visitor);
    layer.remember(&parts, plan::session_writes(crow, remember)).await;
    carry_out(layer, inner, parts, body, plan).await
}

async fn carry_out<S, B, R>(
    layer: Arc<LayerParts>,
    mut inner: S,
    mut parts: Parts,
    body: B,
    plan: Plan,
) -> Result<Response<R>, S::Error>
where
    S: Service<Request<B>, Response = Response<R>>,
    R: Default,
{
    match plan {
        Plan::Reply(reply) => Ok(into_response(reply)),
        Plan::Untouched => inner.call(Request::from_parts(parts, body)).await,
        Plan::Serve { decision, missing } => {
            let catalogs = layer.crow.store().chain(decision.locale).await;
            let serving = Serving::begin(&layer.crow, &mut parts, decision, missing, catalogs);
            let answer = inner.call(Request::from_parts(parts, body));
            serving.finish(layer, answer).await
        }
    }
}

/// A request that the application answers.
struct Serving {
    translator: Translator,
    locale: LocaleId,
    vary: Vary,
    missing: bool,
}

impl Serving {
    /// Makes the request what the application is asked: without prefix, with its translator.
    fn begin(
        crow: &CrowFly,
        parts: &mut Parts,
        decision: Decision,
        missing: bool,
        catalogs: Arc<ChainCatalogs>,
    ) -> Self {
        let (locale, vary) = (decision.locale, decision.vary());
        let facts = RequestFacts::new(decision, parts.uri.path(), parts.uri.query());
        if let Some(uri) = with_path(&parts.uri, facts.path()) {
            parts.uri = uri;
        }
        let translator = crow.translate(catalogs, locale, Some(facts));
        parts.extensions.insert(translator.clone());
        Self { translator, locale, vary, missing }
    }

    /// Adds to the application's answer what it lacks.
    async fn finish<R, E>(
        self,
        layer: Arc<LayerParts>,
        answer: impl Future<Output = Result<Response<R>, E>>,
    ) -> Result<Response<R>, E> {
        let mut response = scope::within(self.translator, answer).await?;
        if self.missing && response.status().is_success() {
            *response.status_mut() = StatusCode::NOT_FOUND;
        }
        let crow = &layer.crow;
        plan::announce(response.headers_mut(), crow, crow.policy().set().text(self.locale), self.vary);
        Ok(response)
    }
}

/// A posted form, as far as one that names a locale can be; a longer one counts as none.
async fn form<B>(body: B) -> Vec<u8>
where
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
{
    let collected = Limited::new(body, switch::MAX_FORM).collect().await;
    collected.map_or_else(|_| Vec::new(), |body| body.to_bytes().to_vec())
}

fn into_response<R: Default>(reply: Reply) -> Response<R> {
    let mut response = Response::new(R::default());
    *response.status_mut() = StatusCode::from_u16(reply.status).unwrap_or(StatusCode::NOT_FOUND);
    for (name, value) in reply.headers {
        if let Ok(value) = HeaderValue::try_from(value) {
            response.headers_mut().append(name, value);
        }
    }
    response
}

/// The address with another path; none where that is no path, which one from another address always is.
fn with_path(uri: &Uri, path: &str) -> Option<Uri> {
    if uri.path() == path {
        return None;
    }
    let path_and_query = PathAndQuery::try_from(with_query(path, uri.query()));
    let mut parts = uri.clone().into_parts();
    parts.path_and_query = Some(path_and_query.ok()?);
    Uri::from_parts(parts).ok()
}
