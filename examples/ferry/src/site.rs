//! The site: its routes, its session, its languages.

use axum::Router;
use axum::http::header::CONTENT_TYPE;
use axum::routing::get;
use crow_fly::CrowFly;
use tower_sessions::cookie::SameSite;
use tower_sessions::{MemoryStore, SessionManagerLayer};

use crate::pages;

/// Where the site would be found if there were one: search engines want whole addresses.
pub(crate) const ORIGIN: &str = "https://saltmarsh-ferries.example";

/// The whole site. Handlers know nothing of prefixes, cookies or headers: the router around them does.
pub(crate) fn site(crow: &CrowFly) -> Router {
    let pages = Router::new()
        .route("/", get(pages::home))
        .route("/sailings/{id}", get(pages::sailing).post(pages::book))
        .route("/trip", get(pages::trip))
        .route(
            "/assets/ferry.css",
            get(|| async {
                ([(CONTENT_TYPE, "text/css; charset=utf-8")], include_str!("../assets/ferry.css"))
            }),
        )
        .fallback(pages::missing);
    // The session layer stands outside, so that a choice of language can be read from the session and kept in it.
    let sessions = SessionManagerLayer::new(MemoryStore::default())
        .with_name("saltmarsh-session")
        // The demo is served without HTTPS, and a link from elsewhere must find the visitor's session.
        .with_secure(false)
        .with_same_site(SameSite::Lax);
    // For operators: beside the layer, so that they have no language.
    let (health, misses) = (crow.clone(), crow.clone());
    Router::new()
        .route("/health", get(async move || health.health()))
        .route("/misses", get(async move || misses.misses()))
        .merge(crow.router(pages).layer(sessions))
}
