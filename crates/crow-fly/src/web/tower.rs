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
    Choice, Exchange, FORM_TIMEOUT, Form, MAX_FORM, PageStep, Reply, Serving, SessionEntries, SessionKeys,
    SwitchStep, VisitorSettings,
};
use super::failure::{ErrorPage, LayerFailure, NoErrorPage};
use super::head::HttpHead;
use super::hooks::{FindSettings, StoreChoice, Stored, within_limit};
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
pub struct LocaleLayer<P = NoErrorPage> {
    adapter: Arc<Adapter>,
    page: P,
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
        Self {
            adapter: Arc::new(Adapter { site, sessions, settings: None, choices: None }),
            page: NoErrorPage,
        }
    }
}

impl<P> LocaleLayer<P> {
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

impl<P> LocaleLayer<P> {
    /// The same layer with what makes its page from the one before.
    #[cfg(feature = "axum")]
    pub(super) fn map_page<Q>(self, page: impl FnOnce(P) -> Q) -> LocaleLayer<Q> {
        LocaleLayer { adapter: self.adapter, page: page(self.page) }
    }
}

impl LocaleLayer {
    /// Makes the whole answer for an error of the layer's own: 503 where no catalogs can be loaded, 500 where texts are missing and the
    /// configuration says that this fails a request. Without it such an answer has no body;
    /// [`CrowFly::router`](crate::CrowFly::router) has a short page.
    ///
    /// The headers of the layer that the page lacks are added: no cache keeps it.
    ///
    /// ```
    /// use http::Response;
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    ///
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
    /// let layer = crow.layer().error_page(|failure| {
    ///     let sorry = if failure.locale().language() == "cy" { "Ddim ar gael" } else { "Not available" };
    ///     let mut page = Response::new(sorry.to_owned());
    ///     *page.status_mut() = http::StatusCode::from_u16(failure.status()).unwrap_or_default();
    ///     page
    /// });
    /// # let _ = layer;
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn error_page<F, R>(self, page: F) -> LocaleLayer<F>
    where
        F: Fn(&LayerFailure) -> Response<R> + Clone + Send + Sync + 'static,
    {
        LocaleLayer { adapter: self.adapter, page }
    }
}

impl<S, P: Clone> Layer<S> for LocaleLayer<P> {
    type Service = LocaleService<S, P>;

    fn layer(&self, inner: S) -> LocaleService<S, P> {
        if self.adapter.sessions.is_none() {
            let help = "switch the feature `sessions` on, give the layer others by `.sessions(…)`, or take `session` out of `sources`";
            placement::require_sessions(&self.adapter.site, help);
        }
        LocaleService { inner, adapter: Arc::clone(&self.adapter), page: self.page.clone() }
    }
}

/// The service of [`LocaleLayer`].
#[derive(Clone, Debug)]
pub struct LocaleService<S, P = NoErrorPage> {
    inner: S,
    adapter: Arc<Adapter>,
    page: P,
}

impl<S, P, B, R> Service<Request<B>> for LocaleService<S, P>
where
    P: ErrorPage<R> + Clone,
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
            Exchange::Page(PageStep::Serve(serving)) => serve(serving, ready, self.page.clone(), request),
            Exchange::Page(step) => {
                let page = self.page.clone();
                Box::pin(self::page(Arc::clone(&self.adapter), Box::new(step), ready, page, request))
            }
            Exchange::Switch(step) => {
                let adapter = Arc::clone(&self.adapter);
                Box::pin(async move { Ok(switch(&adapter, step, request).await) })
            }
        }
    }
}

/// Does what each step of a page says.
async fn page<S, P, B, R>(
    adapter: Arc<Adapter>,
    step: Box<PageStep>,
    mut inner: S,
    page: P,
    request: Request<B>,
) -> Result<Response<R>, S::Error>
where
    P: ErrorPage<R>,
    S: Service<Request<B>, Response = Response<R>>,
    R: Default,
{
    let (mut parts, body) = request.into_parts();
    let mut step = *step;
    loop {
        step = match step {
            PageStep::Session(asked) => match adapter.session(&parts, &asked.keys()).await {
                Some(entries) => asked.answer(&HttpHead::of_parts(&parts), entries),
                None => asked.unanswered(&HttpHead::of_parts(&parts)),
            },
            PageStep::VisitorSettings(asked) => match adapter.settings(&parts).await {
                Some(settings) => asked.answer(&HttpHead::of_parts(&parts), settings),
                None => asked.unanswered(&HttpHead::of_parts(&parts)),
            },
            PageStep::Catalogs(asked) => asked.load(&HttpHead::of_parts(&parts)).await,
            PageStep::Respond(reply) => return Ok(answer(reply, &page)),
            PageStep::PassOn(passed_on) => {
                parts.extensions.insert(passed_on.clone());
                return passed_on.call(|| inner.call(Request::from_parts(parts, body))).await;
            }
            PageStep::Serve(serving) => {
                return serve(serving, inner, page, Request::from_parts(parts, body)).await;
            }
        };
    }
}

/// Does what each step of the switch address says.
async fn switch<B, R>(adapter: &Arc<Adapter>, mut step: SwitchStep, request: Request<B>) -> Response<R>
where
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default,
{
    let (parts, body) = request.into_parts();
    let (parts, mut body) = (Arc::new(parts), Some(body));
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
                asked.answer(&entries.unwrap_or_default())
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
fn serve<S, P, B, R>(
    serving: Serving,
    mut inner: S,
    page: P,
    mut request: Request<B>,
) -> Pin<Box<Answering<S::Future, P>>>
where
    S: Service<Request<B>, Response = Response<R>>,
{
    let (translator, address, announcement) = serving.into_parts();
    if let Some(address) = address {
        readdress(request.uri_mut(), address);
    }
    request.extensions_mut().insert(translator.clone());
    Box::pin(Answering { answer: call_within(translator, || inner.call(request)), announcement, page })
}

/// What the layer answers itself: with a page, where it is an error, and somebody makes one.
fn answer<P: ErrorPage<R>, R: Default>(reply: Reply, page: &P) -> Response<R> {
    match reply.failure().and_then(|failure| page.answer(failure)) {
        Some(page) => reply.with_page(page),
        None => reply.into_response(),
    }
}

pin_project! {
    /// The application's answer, with what it lacks.
    struct Answering<F, P> {
        #[pin]
        answer: Within<F>,
        announcement: Announcement,
        page: P,
    }
}

impl<F, P, R, E> Future for Answering<F, P>
where
    P: ErrorPage<R>,
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
            *response = self::answer(reply, this.page);
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

    /// What the session has; none where it has not answered in time.
    async fn session(&self, parts: &Parts, keys: &SessionKeys) -> Option<SessionEntries> {
        let Some(sessions) = &self.sessions else { return Some(SessionEntries::default()) };
        let path = parts.uri.path();
        let read = async {
            let mut entries = SessionEntries::new(sessions.read(&parts.extensions, keys.locale()).await);
            if let Some(key) = keys.time_zone() {
                entries = entries.with_time_zone(sessions.read(&parts.extensions, key).await);
            }
            entries
        };
        let entries = within_limit(&self.site, "sessions", path, read).await?;
        placement::require_session_layer(&self.site, path, &entries);
        Some(entries)
    }

    /// The settings of the visitor; none where the application has not answered in time.
    async fn settings(&self, parts: &Parts) -> Option<Option<VisitorSettings>> {
        let found = match &self.settings {
            Some(find) => within_limit(&self.site, "visitor_settings", parts.uri.path(), find(parts)).await?,
            None => None,
        };
        Some(found.or_else(|| parts.extensions.get::<VisitorSettings>().cloned()))
    }

    /// Writes a choice, in tasks of their own: what takes too long goes on, and the visitor does not wait for it.
    async fn remember(self: &Arc<Self>, parts: &Arc<Parts>, choice: &Choice) {
        let path = parts.uri.path();
        if self.sessions.is_some() && choice.session_writes().next().is_some() {
            let (adapter, parts, choice) = (Arc::clone(self), Arc::clone(parts), choice.clone());
            let write = tokio::spawn(async move { adapter.write_session(&parts, &choice).await });
            within_limit(&self.site, "sessions", path, write).await;
        }
        if self.choices.is_some() {
            let (adapter, parts, choice) = (Arc::clone(self), Arc::clone(parts), choice.clone());
            let store = tokio::spawn(async move { adapter.store_choice(&parts, &choice).await });
            within_limit(&self.site, "store_choice", path, store).await;
        }
    }

    async fn write_session(&self, parts: &Parts, choice: &Choice) {
        let Some(sessions) = &self.sessions else { return };
        for (key, value) in choice.session_writes() {
            if let Err(error) = sessions.write(&parts.extensions, key, value).await {
                debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
            }
        }
    }

    async fn store_choice(&self, parts: &Parts, choice: &Choice) {
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
