//! A visitor with cookies: asks an application's service, and keeps what it is told to keep.

use std::collections::BTreeMap;

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::header::{COOKIE, HeaderMap, SET_COOKIE};
use axum::http::{HeaderValue, Method, Request, StatusCode};
use axum::middleware::Next;
use axum::response::Response;
use tower::ServiceExt;
use tower_sessions::Session;

pub(crate) struct Visitor {
    app: Router,
    pub(crate) cookies: BTreeMap<String, String>,
    accept_lines: Vec<HeaderValue>,
    headers: Vec<(&'static str, HeaderValue)>,
}

/// An application's own sign-in, which opens a session at `/sign-in`: for `axum::middleware::from_fn`.
pub(crate) async fn sign_in(session: Session, request: axum::extract::Request, next: Next) -> Response {
    if request.uri().path() == "/sign-in" {
        session.insert("account", 7).await.unwrap();
    }
    next.run(request).await
}

pub(crate) struct Answer {
    pub(crate) status: StatusCode,
    pub(crate) headers: HeaderMap,
    pub(crate) body: String,
}

impl Visitor {
    pub(crate) fn of(app: &Router) -> Self {
        Self { app: app.clone(), cookies: BTreeMap::new(), accept_lines: Vec::new(), headers: Vec::new() }
    }

    /// Prefers languages, one header line each time.
    pub(crate) fn prefers(mut self, header: impl AsRef<[u8]>) -> Self {
        self.accept_lines.push(HeaderValue::from_bytes(header.as_ref()).unwrap());
        self
    }

    pub(crate) fn with_cookie(mut self, name: &str, value: &str) -> Self {
        self.cookies.insert(name.to_owned(), value.to_owned());
        self
    }

    /// Has a session from now on, as the application's own [`sign_in`] makes one.
    pub(crate) async fn sign_in(&mut self) {
        self.get("/sign-in").await;
        assert!(self.cookies.contains_key("id"), "the sign-in opens a session");
    }

    /// Asks with a header more.
    pub(crate) async fn get_with(&mut self, path: &str, headers: &[(&'static str, &str)]) -> Answer {
        self.headers =
            headers.iter().map(|(name, value)| (*name, HeaderValue::from_str(value).unwrap())).collect();
        let answer = self.get(path).await;
        self.headers.clear();
        answer
    }

    pub(crate) async fn get(&mut self, path: &str) -> Answer {
        self.ask(Method::GET, path, "").await
    }

    pub(crate) async fn ask(&mut self, method: Method, path: &str, form: &str) -> Answer {
        let mut request = Request::builder().method(method).uri(path);
        let headers = request.headers_mut().unwrap();
        for line in &self.accept_lines {
            headers.append("accept-language", line.clone());
        }
        for (name, value) in &self.headers {
            headers.append(*name, value.clone());
        }
        let cookies: Vec<_> = self.cookies.iter().map(|(name, value)| format!("{name}={value}")).collect();
        if !cookies.is_empty() {
            headers.insert(COOKIE, HeaderValue::from_bytes(cookies.join("; ").as_bytes()).unwrap());
        }
        let response =
            self.app.clone().oneshot(request.body(Body::from(form.to_owned())).unwrap()).await.unwrap();
        let (parts, body) = response.into_parts();
        for cookie in parts.headers.get_all(SET_COOKIE) {
            let (name, rest) = cookie.to_str().unwrap().split_once('=').unwrap();
            self.cookies.insert(name.to_owned(), rest.split(';').next().unwrap().to_owned());
        }
        let body = String::from_utf8(to_bytes(body, 1 << 20).await.unwrap().to_vec()).unwrap();
        Answer { status: parts.status, headers: parts.headers, body }
    }
}

impl Answer {
    pub(crate) fn header(&self, name: &str) -> String {
        self.headers.get_all(name).iter().map(|value| value.to_str().unwrap()).collect::<Vec<_>>().join(", ")
    }
}
