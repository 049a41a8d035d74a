//! The `actix-web` integration: a middleware around the whole application, and extractors.
//!
//! ```
//! use actix_web::{App, test, web};
//! use crow_fly::{Config, CrowFly, Translator, args, source::Memory};
//!
//! # #[actix_web::main] async fn main() -> Result<(), Box<dyn std::error::Error>> {
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
//! # Ok(()) }
//! ```
//!
//! Sessions of the `actix-session` crate take the feature `actix-sessions`; wrap the session middleware around this
//! one. A signed-in visitor's [`VisitorSettings`] are put into the request's extensions by a middleware around it.

use std::borrow::Cow;
use std::future::{Future, Ready, ready};
use std::pin::Pin;
use std::rc::Rc;

use actix_web::body::{BoxBody, EitherBody, MessageBody};
use actix_web::dev::{Payload, Service, ServiceRequest, ServiceResponse, Transform, forward_ready};
use actix_web::http::header::{HeaderMap, HeaderName, HeaderValue};
use actix_web::http::uri::{PathAndQuery, Uri};
use actix_web::http::{Method, StatusCode};
use actix_web::{Error, FromRequest, HttpMessage, HttpRequest, HttpResponse, ResponseError, web};

use crate::crow_fly::CrowFly;
use crate::scope;
use crate::translator::{RequestFacts, Translator, with_query};
use crate::web::adapter::{self, Inputs, Plan, Reply, RequestHead, ResponseHead, SessionEntries};
use crate::web::{MissingLayer, OfTranslator, RequestDecision, RequestLocale, VisitorSettings};

impl CrowFly {
    /// The middleware of an `actix-web` application: wrap it around the whole application, and the session
    /// middleware around it.
    pub fn middleware(&self) -> LocaleMiddleware {
        LocaleMiddleware { crow: self.clone() }
    }
}

/// The middleware that decides each request's locale. Made by [`CrowFly::middleware`].
#[derive(Clone, Debug)]
pub struct LocaleMiddleware {
    crow: CrowFly,
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
        ready(Ok(MiddlewareService { crow: self.crow.clone(), inner: Rc::new(service) }))
    }
}

/// The service of [`LocaleMiddleware`].
#[derive(Debug)]
pub struct MiddlewareService<S> {
    crow: CrowFly,
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
        Box::pin(answer(self.crow.clone(), Rc::clone(&self.inner), request))
    }
}

async fn answer<S, B>(
    crow: CrowFly,
    inner: Rc<S>,
    mut request: ServiceRequest,
) -> Result<ServiceResponse<EitherBody<B>>, Error>
where
    S: Service<ServiceRequest, Response = ServiceResponse<B>, Error = Error>,
    B: MessageBody,
{
    if adapter::is_switch(&crow, request.path()) {
        let form = if request.method() == Method::POST { form(&mut request).await } else { Vec::new() };
        let reply = match adapter::choose(&crow, &request, &form) {
            Ok(choice) => {
                remember(&request, adapter::session_writes(&crow, choice.remember));
                choice.reply
            }
            Err(reply) => reply,
        };
        return Ok(request.into_response(into_response(&reply)).map_into_right_body());
    }
    let path_match = crow.policy().read(RequestHead::path(&request));
    let inputs = Inputs::of(&crow, path_match.as_ref());
    let entries = if inputs.session { entries(&crow, &request) } else { SessionEntries::default() };
    let visitor = request.extensions().get::<VisitorSettings>().cloned();
    let (plan, to_remember) = Plan::of(&crow, &request, path_match, &entries, visitor.as_ref());
    remember(&request, adapter::session_writes(&crow, to_remember));
    let (decision, missing) = match plan {
        Plan::Reply(reply) => return Ok(request.into_response(into_response(&reply)).map_into_right_body()),
        Plan::Untouched => return inner.call(request).await.map(ServiceResponse::map_into_left_body),
        Plan::Serve { decision, missing } => (decision, missing),
    };

    let (locale, vary) = (decision.locale, decision.vary());
    let catalogs = crow.store().chain(locale).await;
    let facts = RequestFacts::new(decision, request.uri().path(), request.uri().query());
    if let Some(uri) = with_path(request.uri(), facts.path()) {
        request.match_info_mut().get_mut().update(&uri);
        request.head_mut().uri = uri;
    }
    let translator = crow.translate(catalogs, locale, Some(facts));
    request.extensions_mut().insert(translator.clone());

    let mut response = scope::within(translator, inner.call(request)).await?;
    if missing && response.status().is_success() {
        *response.response_mut().status_mut() = StatusCode::NOT_FOUND;
    }
    adapter::announce(response.headers_mut(), &crow, crow.policy().set().text(locale), vary);
    Ok(response.map_into_left_body())
}

/// A posted form, as far as one that names a locale can be; a longer one counts as none.
async fn form(request: &mut ServiceRequest) -> Vec<u8> {
    let Ok(payload) = request.extract::<web::Payload>().await else { return Vec::new() };
    match payload.to_bytes_limited(adapter::MAX_FORM).await {
        Ok(Ok(body)) => body.to_vec(),
        _ => Vec::new(),
    }
}

#[cfg(feature = "actix-sessions")]
fn entries(crow: &CrowFly, request: &ServiceRequest) -> SessionEntries {
    use crate::sessions::SessionEntry;

    let session = actix_session::SessionExt::get_session(request);
    let read = |key: &str| match session.get::<serde_json::Value>(key) {
        Ok(None) => SessionEntry::Empty,
        Ok(Some(serde_json::Value::String(text))) => SessionEntry::Text(text),
        _ => SessionEntry::OtherShape,
    };
    let config = crow.config();
    SessionEntries {
        locale: read(&config.remember.session_key),
        time_zone: read(&config.time_zone.session_key),
    }
}

#[cfg(feature = "actix-sessions")]
fn remember<'w>(request: &ServiceRequest, writes: impl Iterator<Item = (&'w str, &'w str)>) {
    let session = actix_session::SessionExt::get_session(request);
    for (key, value) in writes {
        if let Err(error) = session.insert(key, value) {
            tracing::debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
        }
    }
}

#[cfg(not(feature = "actix-sessions"))]
fn entries(_: &CrowFly, _: &ServiceRequest) -> SessionEntries {
    SessionEntries::default()
}

#[cfg(not(feature = "actix-sessions"))]
fn remember<'w>(_: &ServiceRequest, _: impl Iterator<Item = (&'w str, &'w str)>) {}

fn into_response(reply: &Reply) -> HttpResponse<BoxBody> {
    let status = StatusCode::from_u16(reply.status).unwrap_or(StatusCode::NOT_FOUND);
    let mut response = HttpResponse::new(status);
    for (name, value) in &reply.headers {
        if let Ok(value) = HeaderValue::from_str(value) {
            response.headers_mut().append(HeaderName::from_static(name), value);
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

impl RequestHead for ServiceRequest {
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
        self.head().uri.host()
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers().get_all(name).map(HeaderValue::as_bytes)
    }
}

impl ResponseHead for HeaderMap {
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.get_all(name).map(HeaderValue::as_bytes)
    }

    fn set(&mut self, name: &'static str, value: Cow<'static, str>) {
        if let Ok(value) = HeaderValue::from_str(&value) {
            self.insert(HeaderName::from_static(name), value);
        }
    }
}

impl ResponseError for MissingLayer {}

/// One extractor for each thing that can be had from the translator; `actix-web` makes the optional ones.
macro_rules! extractor {
    ($($type:ty),*) => {$(
        impl FromRequest for $type {
            type Error = MissingLayer;
            type Future = Ready<Result<Self, MissingLayer>>;

            fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
                ready(request.extensions().get::<Translator>().and_then(Self::of).ok_or(MissingLayer))
            }
        }
    )*};
}

extractor!(Translator, RequestLocale, RequestDecision);
