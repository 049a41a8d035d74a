//! The site: its routes, its session, its languages.

use axum::Router;
use axum::http::header::{CONTENT_SECURITY_POLICY, CONTENT_TYPE};
use axum::http::{HeaderValue, Response};
use axum::middleware::map_response;
use axum::routing::{MethodRouter, get};
use crow_fly::CrowFly;
use tower_sessions::cookie::SameSite;
use tower_sessions::{MemoryStore, SessionManagerLayer};

use crate::pages;
use crate::timetable::{SAILINGS, Sailing};
use crate::tour;

/// Where the site would be found if there were one: search engines want whole addresses.
pub(crate) const ORIGIN: &str = "https://saltmarsh-ferries.example";

/// The whole site. Handlers know nothing of prefixes, cookies or headers: the router around them does.
pub(crate) fn site(crow: &CrowFly) -> Router {
    let pages = Router::new()
        .route("/", get(pages::home))
        .route("/sailings/{id}", get(pages::sailing).post(pages::book))
        .route("/trip", get(pages::trip))
        .route("/sailings/{id}/seats", get(pages::seats))
        .route("/assets/booking.js", asset(SCRIPT, include_str!("../assets/booking.js")))
        .route("/assets/language.js", asset(SCRIPT, include_str!("../assets/language.js")))
        .route("/assets/ferry.css", asset("text/css; charset=utf-8", include_str!("../assets/ferry.css")))
        .fallback(pages::missing);
    // The session layer stands outside, so that a choice of language can be read from the session and kept in it.
    let sessions = SessionManagerLayer::new(MemoryStore::default())
        .with_name("saltmarsh-session")
        // The demo is served without HTTPS, and a link from elsewhere must find the visitor's session.
        .with_secure(false)
        .with_same_site(SameSite::Lax);
    // For operators: beside the layer, so that they have no language.
    let (health, misses) = (crow.clone(), crow.clone());
    let sitemap = crow.sitemap(ORIGIN, pages_of_all());
    Router::new()
        .route("/health", get(async move || health.health()))
        .route("/misses", get(async move || misses.misses()))
        .route("/tour", get(async || axum::response::Html(tour::page().into_string())))
        .route("/sitemap.xml", get(async move || ([(CONTENT_TYPE, "application/xml")], sitemap)))
        .merge(crow.texts_router())
        .merge(crow.inspector_router())
        .merge(crow.router(pages).layer(sessions))
        .layer(map_response(protected))
}

/// The pages that are the same for every visitor: for search engines, and to be written ahead of time. A trip is one visitor's.
pub(crate) fn pages_of_all() -> impl Iterator<Item = String> {
    SAILINGS.iter().map(Sailing::path).chain(["/".to_owned()])
}

const SCRIPT: &str = "text/javascript; charset=utf-8";

fn asset(kind: &'static str, content: &'static str) -> MethodRouter {
    get(async move || ([(CONTENT_TYPE, kind)], content))
}

/// A strict policy: scripts and styles are files of the site's own, and scripts make no HTML of texts. What pages hand to scripts
/// is no script.
async fn protected<B>(mut response: Response<B>) -> Response<B> {
    const POLICY: HeaderValue = HeaderValue::from_static(
        "default-src 'self'; img-src 'self' data:; frame-ancestors 'none'; require-trusted-types-for 'script'; trusted-types 'none'",
    );
    response.headers_mut().insert(CONTENT_SECURITY_POLICY, POLICY);
    response
}
