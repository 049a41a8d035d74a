//! The adapters: each asks the site in its own way, and gives back what it answers.

use std::collections::BTreeMap;
use std::convert::Infallible;
use std::fmt::Write as _;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use actix_session::storage::CookieSessionStore;
use actix_session::{SessionExt, SessionMiddleware};
use actix_web::HttpMessage;
use axum::Router;
use axum::body::{Body, to_bytes};
use crow_fly::sessions::{SessionEntry, Sessions};
use crow_fly::web::{ExplainedAnswer, HookFuture, KnownOfVisitor, LocaleService, Stored};
use crow_fly::{CrowFly, Translator, current};
use http::{Extensions, Request, Response};
use tower::{Layer, Service, ServiceExt};

use crate::conformance::own;
use crate::conformance::site::{
    Answer, Ask, HEADERS, MORE, POLICIES, Session, catalogs, config, page, status,
};

/// Asks every adapter all rows; panics with the first rows that are answered otherwise than is expected.
pub(crate) async fn check(rows: &[(Answer, Ask)]) {
    let mut wrong = Vec::new();
    let mut compare = |adapter: &str, expected: &Answer, ask: &Ask, mut got: Answer| {
        let mut expected = expected.clone();
        if ask.method == "HEAD" {
            // Whether a handler's body is cut off is the framework's.
            (expected.body, got.body) = (String::new(), String::new());
        }
        expected.headers.sort();
        got.headers.sort();
        if expected != got {
            wrong.push(format!("{adapter}: {ask:?}\n expected {expected:?}\n got      {got:?}"));
        }
    };
    let crows: BTreeMap<&str, CrowFly> =
        POLICIES.iter().chain(&MORE).map(|policy| (policy.name, crow(policy.name))).collect();
    let actix = Actix::new().await;
    for (expected, ask) in rows {
        let crow = crows.get(ask.policy).unwrap();
        compare("tower", expected, ask, by_tower(crow, ask).await);
        compare("axum", expected, ask, by_axum(crow, ask).await);
        compare("one's own", expected, ask, by_own(crow, ask).await);
        compare("explain", expected, ask, by_explain(crow, ask));
        compare("actix-web", expected, ask, actix.ask(ask).await);
    }
    let mut shown = String::new();
    wrong.iter().take(8).for_each(|wrong| writeln!(shown, "{wrong}").unwrap());
    assert!(wrong.is_empty(), "{} answers of {} are wrong:\n{shown}", wrong.len(), rows.len() * 5);
}

pub(crate) fn crow(policy: &str) -> CrowFly {
    CrowFly::new(config(policy), catalogs())
}

/// The session a request brings along, and whether it was written.
#[derive(Clone, Debug, Default)]
struct RequestSession {
    session: Session,
    written: Arc<AtomicBool>,
}

#[derive(Debug)]
struct RequestSessions;

impl Sessions for RequestSessions {
    fn read<'a>(&'a self, request: &'a Extensions, key: &'a str) -> HookFuture<'a, SessionEntry> {
        Box::pin(async move {
            // As a session in a store: not there at once.
            tokio::task::yield_now().await;
            let session = request.get::<RequestSession>().unwrap().session;
            match (key, session) {
                ("locale", Session::Text(text)) => SessionEntry::Text(text.to_owned()),
                ("locale", Session::OtherShape) => SessionEntry::OtherShape,
                (_, Session::None) => SessionEntry::NoSession,
                _ => SessionEntry::Empty,
            }
        })
    }

    fn write<'a>(&'a self, request: &'a Extensions, _: &'a str, _: &'a str) -> HookFuture<'a, Stored> {
        let session = request.get::<RequestSession>().unwrap();
        assert_ne!(session.session, Session::None, "a session is written that is not there");
        session.written.store(true, Ordering::Relaxed);
        Box::pin(async { Ok(()) })
    }
}

/// The translator of a request, and the current one beside it: the same. On a skipped path, which has none, the current one is in
/// the default locale.
fn translator(extensions: &Extensions) -> Option<Translator> {
    let translator = extensions.get::<Translator>().cloned();
    let locale = |translator: &Option<Translator>| translator.as_ref().map(|t| t.locale().to_string());
    assert_eq!(locale(&translator).or_else(|| Some("en".to_owned())), locale(&current()));
    translator
}

fn request(ask: &Ask) -> (Request<Body>, Arc<AtomicBool>) {
    let mut request = Request::builder().method(ask.method).uri(ask.target);
    for (name, value) in &ask.headers {
        request = request.header(*name, *value);
    }
    let session = RequestSession { session: ask.session, ..RequestSession::default() };
    let written = Arc::clone(&session.written);
    request = request.extension(session);
    if let Some(settings) = ask.settings() {
        request = request.extension(settings);
    }
    (request.body(Body::from(ask.form)).unwrap(), written)
}

async fn by<S>(service: S, ask: &Ask) -> Answer
where
    S: Service<Request<Body>, Response = Response<Body>, Error = Infallible>,
{
    let (request, written) = request(ask);
    let response = service.oneshot(request).await.unwrap();
    let mut answer = Answer { status: response.status().as_u16(), ..Answer::default() };
    for name in HEADERS {
        for value in response.headers().get_all(name) {
            answer.header(name, value.to_str().unwrap());
        }
    }
    answer.body = String::from_utf8(to_bytes(response.into_body(), 1 << 16).await.unwrap().to_vec()).unwrap();
    answer.session_written = written.load(Ordering::Relaxed);
    answer
}

/// The layer around a service that works while it is called, not only when its future runs.
async fn by_tower(crow: &CrowFly, ask: &Ask) -> Answer {
    let inner = tower::service_fn(|request: Request<Body>| {
        let target = request.uri().path_and_query().unwrap().to_string();
        let (status, body) = page(translator(request.extensions()).as_ref(), &target);
        let response = Response::builder().status(status).body(Body::from(body)).unwrap();
        std::future::ready(Ok::<_, Infallible>(response))
    });
    let service: LocaleService<_> = crow.layer().sessions(RequestSessions).layer(inner);
    by(service, ask).await
}

async fn by_axum(crow: &CrowFly, ask: &Ask) -> Answer {
    let pages = Router::new().fallback(|request: axum::extract::Request| async move {
        let target = request.uri().path_and_query().unwrap().to_string();
        let (status, body) = page(translator(request.extensions()).as_ref(), &target);
        (http::StatusCode::from_u16(status).unwrap(), body)
    });
    by(crow.layer().sessions(RequestSessions).router(pages), ask).await
}

pub(crate) async fn by_own(crow: &CrowFly, ask: &Ask) -> Answer {
    let mut request = own::Request {
        method: ask.method.to_owned(),
        path: ask.path().to_owned(),
        query: ask.query().map(str::to_owned),
        headers: ask.headers.iter().map(|(name, value)| ((*name).to_owned(), (*value).to_owned())).collect(),
        body: ask.form.into(),
        session: ask.session,
        account: ask.settings(),
        ..own::Request::default()
    };
    let response = own::respond(crow, &mut request, async |request: &own::Request| {
        let target = match &request.query {
            Some(query) => format!("{}?{query}", request.path),
            None => request.path.clone(),
        };
        let (status, body) = page(request.translator.as_ref(), &target);
        own::Response { status, headers: Vec::new(), body }
    })
    .await;
    Answer {
        status: response.status,
        headers: response.headers,
        body: response.body,
        session_written: request.session_written,
    }
}

/// What `explain` says, as an answer: the application's part is made from what it says the application is asked.
fn by_explain(crow: &CrowFly, ask: &Ask) -> Answer {
    let (request, _) = request(ask);
    let mut known = KnownOfVisitor::nothing().with_session(ask.session.entries()).with_form(ask.form);
    if let Some(settings) = ask.settings() {
        known = known.with_settings(settings);
    }
    let explained = crow.explain(&request.into_parts().0, &known);
    let mut answer = Answer::default();
    for header in &explained.headers {
        answer.header(header.name, header.value.as_str());
    }
    answer.session_written = explained.choice.as_ref().is_some_and(|choice| !choice.session_keys.is_empty());
    answer.status = explained.status.unwrap_or_default();
    match explained.answer {
        ExplainedAnswer::PassOn => {
            answer.status = status(ask.target);
            answer.body = format!("no locale no words {}", ask.target);
        }
        ExplainedAnswer::Serve => {
            let decision = explained.decision.unwrap();
            let path = decision.target.unwrap_or_else(|| ask.path().to_owned());
            let target = ask.query().map_or(path.clone(), |query| format!("{path}?{query}"));
            answer.status = explained.status.unwrap_or_else(|| status(&target));
            if let Some(address) = explained.if_not_found.filter(|_| answer.status == 404) {
                answer.status = 308;
                answer.headers.retain(|(name, _)| name == "vary");
                answer.header("location", address);
                answer.header("cache-control", "max-age=3600");
                return answer;
            }
            let words = [("en", "words"), ("cy", "geiriau"), ("pl", "słowa")];
            let words = words.iter().find(|(locale, _)| *locale == decision.locale).unwrap().1;
            answer.body = format!("{} {words} {target}", decision.locale);
        }
        _ => {}
    }
    answer
}

type ActixAnswer = actix_web::dev::ServiceResponse<actix_web::body::BoxBody>;
type ActixApp = Box<dyn AsyncApp>;

/// An application of `actix-web`, whose own type cannot be written.
trait AsyncApp {
    fn call(&self, request: actix_http::Request)
    -> std::pin::Pin<Box<dyn Future<Output = ActixAnswer> + '_>>;
}

impl<S> AsyncApp for S
where
    S: actix_web::dev::Service<actix_http::Request, Response = ActixAnswer, Error = actix_web::Error>,
{
    fn call(
        &self,
        request: actix_http::Request,
    ) -> std::pin::Pin<Box<dyn Future<Output = ActixAnswer> + '_>> {
        Box::pin(async move { actix_web::dev::Service::call(self, request).await.unwrap() })
    }
}

/// The sites by `actix-web`, and a cookie for each kind of session.
struct Actix {
    apps: BTreeMap<&'static str, ActixApp>,
    cookies: BTreeMap<String, String>,
}

impl Actix {
    async fn new() -> Self {
        let mut apps: BTreeMap<&'static str, ActixApp> = BTreeMap::new();
        for policy in POLICIES.iter().chain(&MORE) {
            apps.insert(policy.name, Box::new(Self::app(policy.name).await));
        }
        let mut cookies = BTreeMap::new();
        for session in [
            Session::Empty,
            Session::Text("cy"),
            Session::Text("en"),
            Session::Text("pl"),
            Session::Text("de"),
            Session::OtherShape,
        ] {
            let made = actix_web::test::TestRequest::with_uri("/assets/x.css")
                .append_header(("x-make", format!("{session:?}")));
            let answer = apps.get("usual").unwrap().call(made.to_request()).await;
            let cookie = answer.response().cookies().find(|cookie| cookie.name() == "id").unwrap();
            cookies.insert(format!("{session:?}"), cookie.stripped().to_string());
        }
        Self { apps, cookies }
    }

    async fn app(
        policy: &str,
    ) -> impl actix_web::dev::Service<actix_http::Request, Response = ActixAnswer, Error = actix_web::Error> + use<>
    {
        use actix_web::body::MessageBody;
        use actix_web::{App, HttpRequest, HttpResponse, web};

        let crow = CrowFly::builder(config(policy)).catalogs(catalogs()).build();
        let handler = |request: HttpRequest| async move {
            let translator = request.extensions().get::<Translator>().cloned();
            let locale =
                |translator: &Option<Translator>| translator.as_ref().map(|t| t.locale().to_string());
            // On a skipped path code that cannot wait has the default locale.
            assert_eq!(locale(&translator).or_else(|| Some("en".to_owned())), locale(&current()));
            let target = request.uri().path_and_query().unwrap().to_string();
            let (status, body) = page(translator.as_ref(), &target);
            HttpResponse::build(actix_web::http::StatusCode::from_u16(status).unwrap()).body(body)
        };
        // Makes a session of a kind, as an application does.
        let make = |request: actix_web::dev::ServiceRequest, next: actix_web::middleware::Next<_>| async move {
            let session = request.get_session();
            match request.headers().get("x-make").map(|value| value.to_str().unwrap()) {
                None => {}
                Some("Empty") => session.insert("account", 7).unwrap(),
                Some("OtherShape") => session.insert("locale", 7).unwrap(),
                Some(text) => session.insert("locale", text.split('"').nth(1).unwrap()).unwrap(),
            }
            next.call(request).await
        };
        let sessions =
            SessionMiddleware::builder(CookieSessionStore::default(), actix_web::cookie::Key::from(&[7; 64]));
        let boxed = |request: actix_web::dev::ServiceRequest, next: actix_web::middleware::Next<_>| async move {
            let response = next.call(request).await?;
            Ok(response.map_body(|_, body: actix_web::body::EitherBody<_, _>| MessageBody::boxed(body)))
        };
        actix_web::test::init_service(
            App::new()
                .default_service(web::to(handler))
                .wrap(crow.middleware())
                .wrap(actix_web::middleware::from_fn(boxed))
                .wrap(actix_web::middleware::from_fn(make))
                .wrap(sessions.cookie_secure(false).build()),
        )
        .await
    }

    async fn ask(&self, ask: &Ask) -> Answer {
        let method = actix_web::http::Method::from_bytes(ask.method.as_bytes()).unwrap();
        let mut request =
            actix_web::test::TestRequest::with_uri(ask.target).method(method).set_payload(ask.form);
        for (name, value) in &ask.headers {
            request = request.append_header((*name, *value));
        }
        if let Some(cookie) = self.cookies.get(&format!("{:?}", ask.session)) {
            request = request.append_header(("cookie", cookie.as_str()));
        }
        let request = request.to_request();
        if let Some(settings) = ask.settings() {
            request.extensions_mut().insert(settings);
        }
        let response = self.apps.get(ask.policy).unwrap().call(request).await;
        let mut answer = Answer { status: response.status().as_u16(), ..Answer::default() };
        for name in HEADERS {
            for value in response.headers().get_all(name) {
                let value = value.to_str().unwrap();
                if name == "set-cookie" && value.starts_with("id=") {
                    answer.session_written = true;
                } else {
                    answer.header(name, value);
                }
            }
        }
        let body = actix_web::body::to_bytes(response.into_body()).await.unwrap();
        answer.body = String::from_utf8(body.to_vec()).unwrap();
        answer
    }
}
