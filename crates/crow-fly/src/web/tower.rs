//! The adapter for `tower`: a layer and its service, over the types of the `http` crate.

use std::error::Error;
use std::fmt;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll, ready};

use http::request::Parts;
use http::uri::{PathAndQuery, Uri};
use http::{Request, Response};
use http_body::Body;
use http_body_util::{BodyExt, LengthLimitError, Limited};
use pin_project_lite::pin_project;
use tower_layer::Layer;
use tower_service::Service;
use tracing::{debug, warn};

use super::announce::Announcement;
use super::exchange::{
    Choice, Exchange, FORM_TIMEOUT, Form, MAX_FORM, PageStep, Serving, SessionEntries, SessionKeys,
    SwitchStep, VisitorSettings,
};
use super::head::HttpHead;
use super::hooks::{FindSettings, StoreChoice, Stored};
use super::placement;
use crate::scope::{Within, call_within};
use crate::sessions::{HookFuture, Sessions};
use crate::site::Site;

/// The layer that decides each request's locale. Made by [`CrowFly::layer`](crate::CrowFly::layer).
///
/// It rewrites the request's path, so it must run before routing. In axum a layer added to a router runs after
/// it: use [`CrowFly::router`](crate::CrowFly::router), or [`router`](Self::router) of a layer with hooks.
///
/// ```
/// use crow_fly::{Config, CrowFly, source::Memory, web::VisitorSettings};
/// # async fn profile(_: &str) -> Option<String> { None }
/// # async fn store(_: &str, _: String) -> Result<(), std::io::Error> { Ok(()) }
///
/// let config = Config::parse(
///     "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'visitor', 'cookie']",
/// )?;
/// let crow = CrowFly::new(config, Memory::new([("cy", "home", "title = 'Croeso'")]));
/// let layer = crow
///     .layer()
///     .visitor_settings(|request| {
///         Box::pin(async move {
///             let account = request.headers.get("x-account")?.to_str().ok()?;
///             Some(VisitorSettings::new().with_locale(profile(account).await?))
///         })
///     })
///     .store_choice(|request, choice| {
///         Box::pin(async move {
///             let account = request.headers.get("x-account").and_then(|value| value.to_str().ok());
///             if let (Some(account), Some(locale)) = (account, choice.locale()) {
///                 store(account, locale.to_string()).await?;
///             }
///             Ok(())
///         })
///     });
/// # let _ = layer;
/// # Ok::<(), crow_fly::ConfigError>(())
/// ```
#[derive(Clone, Debug)]
#[must_use = "a layer does nothing until it is put around pages"]
pub struct LocaleLayer {
    adapter: Arc<Adapter>,
}

/// What the layer does each step with.
#[derive(Clone)]
struct Adapter {
    site: Arc<Site>,
    sessions: Option<Arc<dyn Sessions>>,
    settings: Option<Arc<FindSettings>>,
    choices: Option<Arc<StoreChoice>>,
}

impl fmt::Debug for Adapter {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Adapter")
            .field("site", &self.site)
            .field("sessions", &self.sessions)
            .finish_non_exhaustive()
    }
}

impl LocaleLayer {
    pub(crate) fn new(site: Arc<Site>) -> Self {
        #[cfg(feature = "sessions")]
        let sessions: Option<Arc<dyn Sessions>> = Some(Arc::new(crate::sessions::TowerSessions));
        #[cfg(not(feature = "sessions"))]
        let sessions = None;
        Self { adapter: Arc::new(Adapter { site, sessions, settings: None, choices: None }) }
    }

    /// Remembers choices in sessions of another kind than `tower-sessions`.
    pub fn sessions(mut self, sessions: impl Sessions) -> Self {
        Arc::make_mut(&mut self.adapter).sessions = Some(Arc::new(sessions));
        self
    }

    /// Finds the signed-in visitor's own settings, where the `visitor` source can matter for a request. What it finds
    /// goes before settings in the request's extensions.
    pub fn visitor_settings<F>(mut self, find: F) -> Self
    where
        F: for<'a> Fn(&'a Parts) -> HookFuture<'a, Option<VisitorSettings>> + Send + Sync + 'static,
    {
        Arc::make_mut(&mut self.adapter).settings = Some(Arc::new(find));
        self
    }

    /// Stores what a signed-in visitor chooses at the switch address. An application whose `visitor` source comes
    /// before `session` and `cookie` needs it: otherwise the stored setting wins over every choice.
    pub fn store_choice<F>(mut self, store: F) -> Self
    where
        F: for<'a> Fn(&'a Parts, &'a Choice) -> HookFuture<'a, Stored> + Send + Sync + 'static,
    {
        Arc::make_mut(&mut self.adapter).choices = Some(Arc::new(store));
        self
    }
}

impl<S> Layer<S> for LocaleLayer {
    type Service = LocaleService<S>;

    fn layer(&self, inner: S) -> LocaleService<S> {
        if self.adapter.sessions.is_none() {
            let help = "switch the feature `sessions` on, give the layer others by `.sessions(…)`, or take `session` out of `sources`";
            placement::require_sessions(&self.adapter.site, help);
        }
        LocaleService { inner, adapter: Arc::clone(&self.adapter) }
    }
}

/// The service of [`LocaleLayer`].
#[derive(Clone, Debug)]
pub struct LocaleService<S> {
    inner: S,
    adapter: Arc<Adapter>,
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
        if self.adapter.has_run(&request) {
            return Box::pin(ready.call(request));
        }
        #[cfg(feature = "axum")]
        placement::axum::check(&self.adapter.site, request.uri().path(), request.extensions());
        match Exchange::begin(&self.adapter.site, &HttpHead::of(&request)) {
            // Nearly every request waits for nothing but the application: its future is kept small.
            Exchange::Page(PageStep::Serve(serving)) => serve(serving, ready, request),
            Exchange::Page(step) => Box::pin(page(Arc::clone(&self.adapter), Box::new(step), ready, request)),
            Exchange::Switch(step) => {
                let adapter = Arc::clone(&self.adapter);
                Box::pin(async move { Ok(switch(&adapter, step, request).await) })
            }
        }
    }
}

/// Does what each step of a page says.
async fn page<S, B, R>(
    adapter: Arc<Adapter>,
    step: Box<PageStep>,
    mut inner: S,
    request: Request<B>,
) -> Result<Response<R>, S::Error>
where
    S: Service<Request<B>, Response = Response<R>>,
    R: Default,
{
    let (mut parts, body) = request.into_parts();
    let mut step = *step;
    loop {
        step = match step {
            PageStep::Session(asked) => {
                let entries = adapter.session(&parts, &asked.keys()).await;
                asked.answer(&HttpHead::of_parts(&parts), entries)
            }
            PageStep::VisitorSettings(asked) => {
                let settings = adapter.settings(&parts).await;
                asked.answer(&HttpHead::of_parts(&parts), settings)
            }
            PageStep::Catalogs(asked) => asked.load(&HttpHead::of_parts(&parts)).await,
            PageStep::Respond(reply) => return Ok(reply.into_response()),
            PageStep::PassOn(passed_on) => {
                parts.extensions.insert(passed_on.clone());
                return passed_on.call(|| inner.call(Request::from_parts(parts, body))).await;
            }
            PageStep::Serve(serving) => {
                return serve(serving, inner, Request::from_parts(parts, body)).await;
            }
        };
    }
}

/// Does what each step of the switch address says.
async fn switch<B, R>(adapter: &Adapter, mut step: SwitchStep, request: Request<B>) -> Response<R>
where
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default,
{
    let (parts, body) = request.into_parts();
    let mut body = Some(body);
    loop {
        step = match step {
            SwitchStep::Form(asked) => {
                let form = match body.take() {
                    Some(body) => form(body).await,
                    None => Form::Missing,
                };
                asked.answer(&HttpHead::of_parts(&parts), form)
            }
            SwitchStep::Session(asked) => {
                let entries = adapter.session(&parts, asked.keys()).await;
                asked.answer(&entries)
            }
            SwitchStep::Remember(remembering) => {
                adapter.remember(&parts, remembering.choice()).await;
                return remembering.done().into_response();
            }
            SwitchStep::Respond(reply) => return reply.into_response(),
        };
    }
}

/// Has the application answer.
fn serve<S, B, R>(serving: Serving, mut inner: S, mut request: Request<B>) -> Pin<Box<Answering<S::Future>>>
where
    S: Service<Request<B>, Response = Response<R>>,
{
    let (translator, address, announcement) = serving.into_parts();
    if let Some(address) = address {
        readdress(request.uri_mut(), address);
    }
    request.extensions_mut().insert(translator.clone());
    Box::pin(Answering { answer: call_within(translator, || inner.call(request)), announcement })
}

pin_project! {
    /// The application's answer, with what it lacks.
    struct Answering<F> {
        #[pin]
        answer: Within<F>,
        announcement: Announcement,
    }
}

impl<F, R, E> Future for Answering<F>
where
    F: Future<Output = Result<Response<R>, E>>,
    R: Default,
{
    type Output = F::Output;

    fn poll(self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<F::Output> {
        let this = self.project();
        let mut within = this.answer;
        let mut answer = ready!(within.as_mut().poll(context));
        if let Ok(response) = &mut answer
            && let Some(translator) = within.translator()
            && let Some(reply) = this.announcement.finish(translator, response)
        {
            *response = reply.into_response();
        }
        Poll::Ready(answer)
    }
}

impl Adapter {
    /// Whether the layer of this application has run for a request already.
    fn has_run<B>(&self, request: &Request<B>) -> bool {
        let extensions = request.extensions();
        placement::has_run(&self.site, request.uri().path(), extensions.get(), extensions.get())
    }

    async fn session(&self, parts: &Parts, keys: &SessionKeys) -> SessionEntries {
        let Some(sessions) = &self.sessions else { return SessionEntries::default() };
        let mut entries = SessionEntries::new(sessions.read(&parts.extensions, keys.locale()).await);
        if let Some(key) = keys.time_zone() {
            entries = entries.with_time_zone(sessions.read(&parts.extensions, key).await);
        }
        placement::require_session_layer(&self.site, parts.uri.path(), &entries);
        entries
    }

    async fn settings(&self, parts: &Parts) -> Option<VisitorSettings> {
        let found = match &self.settings {
            Some(find) => find(parts).await,
            None => None,
        };
        found.or_else(|| parts.extensions.get::<VisitorSettings>().cloned())
    }

    async fn remember(&self, parts: &Parts, choice: &Choice) {
        if let Some(sessions) = &self.sessions {
            for (key, value) in choice.session_writes() {
                if let Err(error) = sessions.write(&parts.extensions, key, value).await {
                    debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
                }
            }
        }
        if let Some(store) = &self.choices
            && let Err(error) = store(parts, choice).await
        {
            warn!(target: "crow_fly::switch", %error, "the application cannot store a visitor's choice");
        }
    }
}

/// A posted form, within its limits; what breaks off counts as none.
async fn form<B>(body: B) -> Form
where
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
{
    match tokio::time::timeout(FORM_TIMEOUT, Limited::new(body, MAX_FORM).collect()).await {
        Err(_) => Form::TooSlow,
        Ok(Err(error)) if error.is::<LengthLimitError>() => Form::TooLarge,
        Ok(Err(_)) => Form::Missing,
        Ok(Ok(form)) => Form::Read(form.to_bytes().to_vec()),
    }
}

/// Gives an address another path and query. What is not one, which those from another address never are, changes
/// nothing.
fn readdress(uri: &mut Uri, address: String) {
    let Ok(path_and_query) = PathAndQuery::try_from(address) else { return };
    let mut parts = std::mem::take(uri).into_parts();
    parts.path_and_query = Some(path_and_query);
    // The other parts are those of an address, and so is the whole.
    *uri = Uri::from_parts(parts).unwrap_or_default();
}
