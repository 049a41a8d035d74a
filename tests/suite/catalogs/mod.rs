//! Catalogs on their way into memory: loads, generations, failures, files; through requests and the public calls.

pub(crate) mod controlled;
mod directory;
mod embedded;
mod failures;
mod generations;
mod http;
mod loads;
mod memory;
mod misses;
mod needs;
mod operation;
mod overlay;
mod scale;
mod storm;

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::Request;
use axum::routing::get;
use crow_fly::source::CatalogSource;
use crow_fly::{Config, CrowFly, Translator};
use tower::ServiceExt;

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'cy', 'pl']\n";

/// An application over a source, with settings in `[catalogs]`.
fn crow(source: impl CatalogSource, catalogs: &str) -> CrowFly {
    let config = format!("development = false\n{CONFIG}[catalogs]\n{catalogs}\n");
    CrowFly::new(Config::parse(&config).unwrap(), source)
}

/// What an answer says.
#[derive(Debug, PartialEq, Eq)]
struct Answer {
    status: u16,
    body: String,
    cache_control: String,
    retry_after: String,
    text_errors: String,
}

/// One page that says one text, at `/`, and one that says any text, at `/say/{key}`.
fn pages() -> Router {
    Router::new()
        .route("/", get(|t: Translator| async move { t.text("home.title") }))
        .route(
            "/say/{key}",
            get(|t: Translator, axum::extract::Path(key): axum::extract::Path<String>| async move { t.text(&key) }),
        )
}

async fn ask(app: &Router, path: &str) -> Answer {
    let request = Request::get(path).body(Body::empty()).unwrap();
    let (head, body) = app.clone().oneshot(request).await.unwrap().into_parts();
    let body = to_bytes(body, 1 << 20).await.unwrap();
    let header = |name: &str| {
        head.headers.get(name).map(|value| value.to_str().unwrap().to_owned()).unwrap_or_default()
    };
    let mut body = String::from_utf8(body.to_vec()).unwrap();
    // The page for errors has a test of its own.
    if body.starts_with("<!doctype html>") {
        body.clear();
    }
    Answer {
        status: head.status.as_u16(),
        body,
        cache_control: header("cache-control"),
        retry_after: header("retry-after"),
        text_errors: header("text-errors"),
    }
}

/// Asks, and gives status, body and `Cache-Control`.
async fn said(app: &Router, path: &str) -> (u16, String, String) {
    let Answer { status, body, cache_control, .. } = ask(app, path).await;
    (status, body, cache_control)
}

fn answer(status: u16, body: &str, cache_control: &str) -> (u16, String, String) {
    (status, body.to_owned(), cache_control.to_owned())
}
