//! The adapter for `tower`: a layer and its service, over the types of the `http` crate.

use std::error::Error;
use std::future::Future;
use std::pin::Pin;
use std::task::{Context, Poll, ready};

use http::request::Parts;
use http::uri::{PathAndQuery, Uri};
use http::{HeaderName, HeaderValue, Request, Response, StatusCode};
use http_body::Body;
use http_body_util::{BodyExt, LengthLimitError, Limited};
use pin_project_lite::pin_project;
use tower_layer::Layer;
use tower_service::Service;
use tracing::{debug, warn};

#[cfg(feature = "axum")]
use crow_fly_core::route::is_below;

use super::announce::Announcement;
use super::exchange::{
    Choice, Exchange, FORM_TIMEOUT, Input, MAX_FORM, Reply, SessionEntries, SessionKeys, Step,
    VisitorSettings,
};
use super::head::HttpHead;
use super::serving::Serving;
use crate::crow_fly::CrowFly;
use crate::scope::{Within, call_within};

/// The layer that decides each request's locale. Made by [`CrowFly::layer`].
///
/// It rewrites the request's path, so it must run before routing. In axum a layer added to a router runs after
/// it: use [`CrowFly::router`], or put the layer around the whole router.
#[derive(Clone, Debug)]
pub struct LocaleLayer {
    crow: CrowFly,
}

impl LocaleLayer {
    pub(crate) const fn new(crow: CrowFly) -> Self {
        Self { crow }
    }
}

impl<S> Layer<S> for LocaleLayer {
    type Service = LocaleService<S>;

    fn layer(&self, inner: S) -> LocaleService<S> {
        LocaleService { inner, crow: self.crow.clone() }
    }
}

/// The service of [`LocaleLayer`].
#[derive(Clone, Debug)]
pub struct LocaleService<S> {
    inner: S,
    crow: CrowFly,
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
        let mut exchange = Exchange::new(&self.crow);
        match exchange.step(&HttpHead::of(&request), Input::Begin) {
            // Nearly every request waits for nothing but the application: its future is kept small.
            Step::Serve(serving) => serve(serving, ready, request),
            step => {
                let exchange = Box::new(exchange);
                Box::pin(carry_out(self.crow.clone(), exchange, step, ready, request))
            }
        }
    }
}

/// Does what each step says.
async fn carry_out<S, B, R>(
    crow: CrowFly,
    mut exchange: Box<Exchange>,
    mut step: Step,
    mut inner: S,
    request: Request<B>,
) -> Result<Response<R>, S::Error>
where
    S: Service<Request<B>, Response = Response<R>>,
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
    R: Default,
{
    let (mut parts, body) = request.into_parts();
    let mut body = Some(body);
    loop {
        let input = match step {
            Step::Session(keys) => session(&crow, &parts, &keys).await,
            Step::VisitorSettings => settings(&crow, &parts).await,
            Step::Form => match body.take() {
                Some(body) => form(body).await,
                None => Input::Nothing,
            },
            Step::Remember(choice) => remember(&crow, &parts, &choice).await,
            Step::Catalogs(needs) => Input::Catalogs(crow.load(needs).await),
            Step::Respond(reply) => return Ok(into_response(&reply)),
            // The body is only taken at the switch address, which is answered.
            Step::PassOn(passed_on) => match body {
                Some(body) => {
                    #[cfg(feature = "axum")]
                    warn_of_nesting(&crow, &parts);
                    parts.extensions.insert(passed_on);
                    return inner.call(Request::from_parts(parts, body)).await;
                }
                None => return Ok(into_response(&Reply::empty(404))),
            },
            Step::Serve(serving) => match body {
                Some(body) => return serve(serving, inner, Request::from_parts(parts, body)).await,
                None => return Ok(into_response(&Reply::empty(404))),
            },
        };
        step = exchange.step(&HttpHead::of_parts(&parts), input);
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
            *response = into_response(&reply);
        }
        Poll::Ready(answer)
    }
}

/// Logs, once, that a router around this one has taken the base off, and the configuration does not know.
#[cfg(feature = "axum")]
fn warn_of_nesting(crow: &CrowFly, parts: &Parts) {
    let base = crow.policy().routes().base();
    let original = parts.extensions.get::<axum::extract::OriginalUri>();
    if original.is_some_and(|original| is_below(base, original.path())) && !is_below(base, parts.uri.path()) {
        crow.warn_of_nesting(parts.uri.path());
    }
}

async fn session(crow: &CrowFly, parts: &Parts, keys: &SessionKeys) -> Input {
    let Some(sessions) = crow.sessions() else { return Input::Nothing };
    let mut entries = SessionEntries::new(sessions.read(&parts.extensions, keys.locale()).await);
    if let Some(key) = keys.time_zone() {
        entries = entries.with_time_zone(sessions.read(&parts.extensions, key).await);
    }
    Input::Session(entries)
}

async fn settings(crow: &CrowFly, parts: &Parts) -> Input {
    let found = match crow.find_settings() {
        Some(find) => find(parts).await,
        None => None,
    };
    let found = found.or_else(|| parts.extensions.get::<VisitorSettings>().cloned());
    found.map_or(Input::Nothing, Input::VisitorSettings)
}

async fn remember(crow: &CrowFly, parts: &Parts, choice: &Choice) -> Input {
    if let Some(sessions) = crow.sessions() {
        for (key, value) in choice.session_writes() {
            if let Err(error) = sessions.write(&parts.extensions, key, value).await {
                debug!(target: "crow_fly::sessions", key, %error, "the session cannot remember");
            }
        }
    }
    if let Some(store) = crow.store_choice()
        && let Err(error) = store(parts, choice).await
    {
        warn!(target: "crow_fly::switch", %error, "the application cannot store a visitor's choice");
    }
    Input::Nothing
}

/// A posted form, within its limits; what breaks off counts as none.
async fn form<B>(body: B) -> Input
where
    B: Body,
    B::Error: Into<Box<dyn Error + Send + Sync>>,
{
    match tokio::time::timeout(FORM_TIMEOUT, Limited::new(body, MAX_FORM).collect()).await {
        Err(_) => Input::FormTooSlow,
        Ok(Err(error)) if error.is::<LengthLimitError>() => Input::FormTooLarge,
        Ok(Err(_)) => Input::Nothing,
        Ok(Ok(form)) => Input::Form(form.to_bytes().to_vec()),
    }
}

pub(super) fn into_response<R: Default>(reply: &Reply) -> Response<R> {
    let mut response = Response::new(R::default());
    *response.status_mut() = StatusCode::from_u16(reply.status()).unwrap_or(StatusCode::NOT_FOUND);
    for (name, value) in reply.headers() {
        if let Ok(value) = HeaderValue::from_str(value) {
            response.headers_mut().append(HeaderName::from_static(name), value);
        }
    }
    response
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
