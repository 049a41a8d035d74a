//! The `actix-web` integration: a middleware around the whole application, and extractors.
//!
//! ```
//! use actix_web::{App, test, web};
//! use crow_fly::{Config, CrowFly, Translator, args, source::Memory};
//!
//! # actix_web::rt::System::new().block_on(async {
//! async fn sailing(t: Translator, seats: web::Path<u32>) -> String {
//!     t.text(("booking.seats-left", args! { seats: *seats }))
//! }
//!
//! let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
//! let catalogs = Memory::new([("cy", "booking", "seats-left = '{$seats :integer} sedd ar ôl'")]);
//! let crow = CrowFly::new(config, catalogs);
//! let app = test::init_service(
//!     App::new().route("/seats/{seats}", web::get().to(sailing)).wrap(crow.middleware()),
//! ).await;
//!
//! let answer = test::call_and_read_body(&app, test::TestRequest::with_uri("/cy/seats/4").to_request()).await;
//! assert_eq!(answer, "4 sedd ar ôl");
//! # Ok::<(), Box<dyn std::error::Error>>(()) }).unwrap();
//! ```
//!
//! Sessions of the `actix-session` crate take the feature `actix-sessions`; wrap the session middleware around this
//! one. A signed-in visitor's [`VisitorSettings`] are put into the request's extensions by a middleware around it, or
//! found by [`LocaleMiddleware::visitor_settings`].

use std::fmt;
use std::future::{Future, Ready, ready};
use std::pin::Pin;
use std::rc::Rc;
use std::sync::Arc;

use actix_web::body::{BoxBody, EitherBody, MessageBody};
use actix_web::dev::{Payload, Service, ServiceRequest, ServiceResponse, Transform, forward_ready};
use actix_web::http::StatusCode;
use actix_web::http::header::{
    CACHE_CONTROL, CONTENT_LANGUAGE, CONTENT_TYPE, HeaderName, HeaderValue, LOCATION,
};
use actix_web::http::uri::{PathAndQuery, Uri};
use actix_web::{Error, FromRequest, HttpMessage, HttpRequest, HttpResponse, Responder, ResponseError, web};

use super::exchange::{
    Choice, Exchange, FORM_TIMEOUT, Form, MAX_FORM, PageStep, PassedOn, Reply, RequestHead, ResponseHead,
    Serving, SessionEntries, SessionKeys, SwitchStep, VisitorSettings,
};
use super::extract::{
    MissingLayer, MissingSections, OfTranslator, RequestDecision, RequestLocale, Sections, TranslatorWith,
    translator_of,
};
use super::failure::{self, LayerFailure};
use super::hooks::{Stored, within_limit};
use super::placement;
use crate::browser::DirectReply;
use crate::site::Site;
use crate::store::{Health, MissReport};
use crate::translator::{LocaleRedirect, NotLoaded, Translator};
use crate::typed::TypedTranslator;

/// The boxed future of a hook. Handlers of `actix-web` stay on their thread, and so does this.
pub type LocalHookFuture<'a, T> = Pin<Box<dyn Future<Output = T> + 'a>>;

type FindSettings = dyn for<'a> Fn(&'a HttpRequest) -> LocalHookFuture<'a, Option<VisitorSettings>>;
type MakePage = dyn Fn(&LayerFailure) -> HttpResponse<BoxBody>;
type StoreChoice = dyn for<'a> Fn(&'a HttpRequest, &'a Choice) -> LocalHookFuture<'a, Stored>;

/// The middleware that decides each request's locale. Made by [`CrowFly::middleware`](crate::CrowFly::middleware).
#[derive(Clone, Debug)]
pub struct LocaleMiddleware {
    adapter: Adapter,
}

/// What the middleware does each step with.
#[derive(Clone)]
struct Adapter {
    site: Arc<Site>,
    settings: Option<Rc<FindSettings>>,
    choices: Option<Rc<StoreChoice>>,
    page: Option<Rc<MakePage>>,
}

impl fmt::Debug for Adapter {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Adapter").field("site", &self.site).finish_non_exhaustive()
    }
}

impl LocaleMiddleware {
    pub(crate) const fn new(site: Arc<Site>) -> Self {
        Self { adapter: Adapter { site, settings: None, choices: None, page: None } }
    }

    /// Finds the signed-in visitor's own settings, where the `visitor` source can matter for a request.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory, web::VisitorSettings};
    /// # async fn profile(_: &str) -> Option<String> { None }
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['visitor']")?;
    /// # let crow = CrowFly::new(config, Memory::default());
    /// let middleware = crow.middleware().visitor_settings(|request| {
    ///     Box::pin(async move {
    ///         let account = request.headers().get("x-account")?.to_str().ok()?;
    ///         Some(VisitorSettings::new().with_locale(profile(account).await?))
    ///     })
    /// });
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    #[must_use]
    pub fn visitor_settings<F>(mut self, find: F) -> Self
    where
        F: for<'a> Fn(&'a HttpRequest) -> LocalHookFuture<'a, Option<VisitorSettings>> + 'static,
    {
        self.adapter.settings = Some(Rc::new(find));
        self
    }

    /// Stores what a signed-in visitor chooses at the switch address, so that their settings agree with it.
    #[must_use]
    pub fn store_choice<F>(mut self, store: F) -> Self
    where
        F: for<'a> Fn(&'a HttpRequest, &'a Choice) -> LocalHookFuture<'a, Stored> + 'static,
    {
        self.adapter.choices = Some(Rc::new(store));
        self
    }
}

impl LocaleMiddleware {
    /// Makes the whole answer for an error of the middleware's own: 503 where no catalogs can be loaded, 500 where texts are missing and
    /// the configuration says that this fails a request. Without it there is a short page. The headers that it lacks are added.
    #[must_use]
    pub fn error_page(mut self, page: impl Fn(&LayerFailure) -> HttpResponse<BoxBody> + 'static) -> Self {
        self.adapter.page = Some(Rc::new(page));
        self
    }
}

impl<S, B> Transform<S, ServiceRequest> for LocaleMiddleware
where
    S: Service<ServiceRequest, Response = ServiceResponse<B>, Error = Error> + 'static,
    B: MessageBody + 'static,
{
    type Response = ServiceResponse<EitherBody<B>>;
    type Error = Error;
    type Transform = MiddlewareService<S>;
    type InitError = ();
    type Future = Ready<Result<Self::Transform, ()>>;

    fn new_transform(&self, service: S) -> Self::Future {
        #[cfg(not(feature = "actix-sessions"))]
        placement::require_sessions(
            &self.adapter.site,
            "switch the feature `actix-sessions` on, or take `session` out of `sources`",
        );
        ready(Ok(MiddlewareService { adapter: self.adapter.clone(), inner: Rc::new(service) }))
    }
}

/// The service of [`LocaleMiddleware`].
#[derive(Debug)]
pub struct MiddlewareService<S> {
    adapter: Adapter,
    inner: Rc<S>,
}

impl<S, B> Service<ServiceRequest> for MiddlewareService<S>
where
    S: Service<ServiceRequest, Response = ServiceResponse<B>, Error = Error> + 'static,
    B: MessageBody + 'static,
{
    type Response = ServiceResponse<EitherBody<B>>;
    type Error = Error;
    type Future = Pin<Box<dyn Future<Output = Result<Self::Response, Error>>>>;

    forward_ready!(inner);

    fn call(&self, request: ServiceRequest) -> Self::Future {
        Box::pin(carry_out(self.adapter.clone(), Rc::clone(&self.inner), request))
    }
}

/// Does what each step says.
async fn carry_out<S, B>(
    adapter: Adapter,
    inner: Rc<S>,
    mut request: ServiceRequest,
) -> Result<ServiceResponse<EitherBody<B>>, Error>
where
    S: Service<ServiceRequest, Response = ServiceResponse<B>, Error = Error>,
    B: MessageBody,
{
    if adapter.has_run(&request) || adapter.site.answers(request.path()) {
        return inner.call(request).await.map(ServiceResponse::map_into_left_body);
    }
    // Around the whole application nothing of the path has been matched. The router decodes it: it is compared with itself.
    if request.match_info().unprocessed() != request.match_info().as_str() {
        let help = "wrap the whole application: `App::new().….wrap(crow.middleware())`";
        placement::warn_of_routed(&adapter.site, request.path(), help);
    }
    let mut step = match Exchange::begin(&adapter.site, &request) {
        Exchange::Page(step) => step,
        Exchange::Switch(step) => {
            let reply = adapter.switch(step, &mut request).await;
            return Ok(request.into_response(into_response(&reply)).map_into_right_body());
        }
    };
    loop {
        step = match step {
            PageStep::Session(asked) => {
                let entries = session(&request, &asked.keys());
                asked.answer(&request, entries)
            }
            PageStep::VisitorSettings(asked) => match adapter.find_settings(&request).await {
                Some(settings) => asked.answer(&request, settings),
                None => asked.unanswered(&request),
            },
            PageStep::Catalogs(asked) => asked.load(&request).await,
            PageStep::Respond(reply) => {
                return Ok(request.into_response(adapter.answer(&reply)).map_into_right_body());
            }
            PageStep::PassOn(passed_on) => {
                request.extensions_mut().insert(passed_on.clone());
                let answer = passed_on.call(|| inner.call(request)).await;
                return answer.map(ServiceResponse::map_into_left_body);
            }
            PageStep::Serve(serving) => return serve(&adapter, serving, &inner, request).await,
        };
    }
}

/// Has the application answer.
async fn serve<S, B>(
    adapter: &Adapter,
    mut serving: Serving,
    inner: &S,
    mut request: ServiceRequest,
) -> Result<ServiceResponse<EitherBody<B>>, Error>
where
    S: Service<ServiceRequest, Response = ServiceResponse<B>, Error = Error>,
    B: MessageBody,
{
    if let Some(uri) = serving.take_address().and_then(|address| with_address(request.uri(), address)) {
        request.match_info_mut().get_mut().update(&uri);
        request.head_mut().uri = uri;
    }
    request.extensions_mut().insert(serving.translator().clone());
    let mut response = serving.call(|| inner.call(request)).await?;
    Ok(match serving.finish(&mut response) {
        Some(reply) => response.into_response(adapter.answer(&reply)).map_into_right_body(),
        None => response.map_into_left_body(),
    })
}

impl Adapter {
    /// Whether the middleware of this application has run for a request already.
    fn has_run(&self, request: &ServiceRequest) -> bool {
        let extensions = request.extensions();
        placement::has_run(&self.site, request.path(), extensions.get(), extensions.get())
    }

    /// What the middleware answers itself: with a page, where it is an error.
    fn answer(&self, reply: &Reply) -> HttpResponse<BoxBody> {
        let Some(failure) = reply.failure() else { return into_response(reply) };
        let mut page = match &self.page {
            Some(page) => page(failure),
            None => built_in(failure),
        };
        for (name, value) in reply.headers() {
            let name = HeaderName::from_static(name);
            if let (Ok(value), false) = (HeaderValue::from_str(value), page.headers().contains_key(&name)) {
                page.headers_mut().insert(name, value);
            }
        }
        page
    }

    /// Does what each step of the switch address says.
    async fn switch(&self, mut step: SwitchStep, request: &mut ServiceRequest) -> Reply {
        loop {
            step = match step {
                SwitchStep::Form(asked) => {
                    let form = form(request).await;
                    asked.answer(request, form)
                }
                SwitchStep::Session(asked) => {
                    let entries = session(request, asked.keys());
                    asked.answer(&entries)
                }
                SwitchStep::Remember(remembering) => {
                    self.remember(request, remembering.choice()).await;
                    return remembering.done();
                }
                SwitchStep::Respond(reply) => return reply,
            };
        }
    }

    /// The settings of the visitor; none where the application has not answered in time.
    async fn find_settings(&self, request: &ServiceRequest) -> Option<Option<VisitorSettings>> {
        let found = match &self.settings {
            Some(find) => {
                let path = request.path();
                within_limit(&self.site, "visitor_settings", path, find(request.request())).await?
            }
            None => None,
        };
        Some(found.or_else(|| request.extensions().get::<VisitorSettings>().cloned()))
    }

    /// Writes a choice; where the application takes too long, it goes on in a task of its own.
    async fn remember(&self, request: &ServiceRequest, choice: &Choice) {
        write_session(request, choice);
        let Some(store) = self.choices.clone() else { return };
        let (of_task, choice) = (request.request().clone(), choice.clone());
        let stored = actix_web::rt::spawn(async move {
            if let Err(error) = store(&of_task, &choice).await {
                tracing::warn!(target: "crow_fly::switch", %error, "the application cannot store a visitor's choice");
            }
        });
        within_limit(&self.site, "store_choice", request.path(), stored).await;
    }
}

/// A posted form, within its limits; what breaks off counts as none.
async fn form(request: &mut ServiceRequest) -> Form {
    let Ok(payload) = request.extract::<web::Payload>().await else { return Form::Missing };
    match tokio::time::timeout(FORM_TIMEOUT, payload.to_bytes_limited(MAX_FORM)).await {
        Err(_) => Form::TooSlow,
        Ok(Err(_)) => Form::TooLarge,
        Ok(Ok(Err(_))) => Form::Missing,
        Ok(Ok(Ok(form))) => Form::Read(form.to_vec()),
    }
}

#[cfg(feature = "actix-sessions")]
fn session(request: &ServiceRequest, keys: &SessionKeys) -> SessionEntries {
    use crate::sessions::SessionEntry;

    let session = actix_session::SessionExt::get_session(request);
    if session.entries().is_empty() {
        return SessionEntries::default();
    }
    let read = |key: &str| match session.get::<serde_json::Value>(key) {
        Ok(None) => SessionEntry::Empty,
        Ok(Some(serde_json::Value::String(text))) => SessionEntry::Text(text),
        _ => SessionEntry::OtherShape,
    };
    let mut entries = SessionEntries::new(read(keys.locale()));
    if let Some(key) = keys.time_zone() {
        entries = entries.with_time_zone(read(key));
    }
    entries
}

#[cfg(feature = "actix-sessions")]
fn write_session(request: &ServiceRequest, choice: &Choice) {
    let session = actix_session::SessionExt::get_session(request);
    for (key, value) in choice.session_writes() {
        if let Err(error) = session.insert(key, value) {
            tracing::debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
        }
    }
}

#[cfg(not(feature = "actix-sessions"))]
fn session(_: &ServiceRequest, _: &SessionKeys) -> SessionEntries {
    SessionEntries::default()
}

#[cfg(not(feature = "actix-sessions"))]
fn write_session(_: &ServiceRequest, _: &Choice) {}

fn built_in(failure: &LayerFailure) -> HttpResponse<BoxBody> {
    let (kind, body) = failure::built_in(failure);
    let status = StatusCode::from_u16(failure.status()).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
    HttpResponse::build(status)
        .insert_header((CONTENT_TYPE, kind))
        .insert_header((CONTENT_LANGUAGE, "en"))
        .body(body)
}

fn into_response(reply: &Reply) -> HttpResponse<BoxBody> {
    let status = StatusCode::from_u16(reply.status()).unwrap_or(StatusCode::NOT_FOUND);
    let mut response = HttpResponse::new(status);
    for (name, value) in reply.headers() {
        if let Ok(value) = HeaderValue::from_str(value) {
            response.headers_mut().append(HeaderName::from_static(name), value);
        }
    }
    response
}

/// The address with another path and query; none where they are not, which those from another address always are.
fn with_address(uri: &Uri, address: String) -> Option<Uri> {
    let path_and_query = PathAndQuery::try_from(address).ok()?;
    let mut parts = uri.clone().into_parts();
    parts.path_and_query = Some(path_and_query);
    Uri::from_parts(parts).ok()
}

macro_rules! head {
    ($($request:ty),*) => {$(
        impl RequestHead for $request {
            fn method(&self) -> &str {
                self.head().method.as_str()
            }

            fn path(&self) -> &str {
                self.head().uri.path()
            }

            fn query(&self) -> Option<&str> {
                self.head().uri.query()
            }

            fn authority(&self) -> Option<&str> {
                self.head().uri.authority().map(actix_web::http::uri::Authority::as_str)
            }

            fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
                self.headers().get_all(name).map(HeaderValue::as_bytes)
            }
        }
    )*};
}

head!(ServiceRequest, HttpRequest);

impl<B> ResponseHead for ServiceResponse<B> {
    fn status(&self) -> u16 {
        self.status().as_u16()
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers().get_all(name).map(HeaderValue::as_bytes)
    }

    fn set(&mut self, name: &'static str, value: http::HeaderValue) {
        // The framework has types of an older version of the crate.
        if let Ok(value) = HeaderValue::from_bytes(value.as_bytes()) {
            self.headers_mut().insert(HeaderName::from_static(name), value);
        }
    }
}

impl ResponseError for MissingLayer {
    /// A plain 500: what was forgotten is in the log.
    fn error_response(&self) -> HttpResponse<BoxBody> {
        self.log();
        HttpResponse::InternalServerError().body(Self::BODY)
    }
}

impl ResponseError for MissingSections {
    fn error_response(&self) -> HttpResponse<BoxBody> {
        match self {
            Self::Layer(missing) => missing.error_response(),
            Self::NotLoaded(error) => error.error_response(),
        }
    }
}

impl ResponseError for NotLoaded {
    /// 503, which no cache keeps: for handlers that cannot do without their sections.
    fn error_response(&self) -> HttpResponse<BoxBody> {
        tracing::warn!(target: "crow_fly::catalogs", "{self}");
        into_response(&Reply::unavailable())
    }
}

impl Responder for DirectReply {
    type Body = BoxBody;

    fn respond_to(self, _: &HttpRequest) -> HttpResponse<BoxBody> {
        let mut response =
            HttpResponse::build(StatusCode::from_u16(self.status()).unwrap_or(StatusCode::NOT_FOUND));
        for header in self.headers() {
            response.append_header(header);
        }
        response.body(self.into_body())
    }
}

impl Responder for Health {
    type Body = BoxBody;

    /// JSON: 200 where pages can be served, 503 otherwise.
    fn respond_to(self, _: &HttpRequest) -> HttpResponse<BoxBody> {
        let status = StatusCode::from_u16(self.http_status().as_u16()).unwrap_or(StatusCode::OK);
        HttpResponse::build(status)
            .insert_header((CONTENT_TYPE, "application/json"))
            .insert_header((CACHE_CONTROL, "no-store"))
            .body(self.to_json())
    }
}

impl Responder for MissReport {
    type Body = BoxBody;

    /// JSON.
    fn respond_to(self, _: &HttpRequest) -> HttpResponse<BoxBody> {
        HttpResponse::Ok()
            .insert_header((CONTENT_TYPE, "application/json"))
            .insert_header((CACHE_CONTROL, "no-store"))
            .body(self.to_json())
    }
}

impl Responder for LocaleRedirect {
    type Body = BoxBody;

    fn respond_to(self, _: &HttpRequest) -> HttpResponse<BoxBody> {
        HttpResponse::SeeOther()
            .insert_header((LOCATION, self.address))
            .insert_header((CACHE_CONTROL, Self::CACHE_CONTROL))
            .finish()
    }
}

/// The translator of a request.
fn translator(request: &HttpRequest) -> impl Future<Output = Option<Translator>> + use<> {
    let translator = request.extensions().get::<Translator>().cloned();
    let passed_on = request.extensions().get::<PassedOn>().cloned();
    translator_of(translator, passed_on)
}

impl<T: Sections + 'static> FromRequest for TypedTranslator<T> {
    type Error = MissingSections;
    type Future = LocalHookFuture<'static, Result<Self, MissingSections>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let translator = TranslatorWith::from_request(request, payload);
        Box::pin(async move { translator.await.map(Self::from) })
    }
}

impl<T: Sections + 'static> FromRequest for TranslatorWith<T> {
    type Error = MissingSections;
    type Future = LocalHookFuture<'static, Result<Self, MissingSections>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let translator = translator(request);
        Box::pin(async move { Self::of(translator.await).await })
    }
}

/// One extractor for each thing that can be had from the translator; `actix-web` makes the optional ones.
macro_rules! extractor {
    ($($type:ty),*) => {$(
        impl FromRequest for $type {
            type Error = MissingLayer;
            type Future = LocalHookFuture<'static, Result<Self, MissingLayer>>;

            fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
                let translator = translator(request);
                Box::pin(async move { translator.await.as_ref().and_then(Self::of).ok_or(MissingLayer) })
            }
        }
    )*};
}

extractor!(Translator, RequestLocale, RequestDecision);
