//! The library through its public face: an application is built, and asked over its service.

mod announce;
mod areas;
mod bounds;
mod browser;
mod catalogs;
mod configuration;
mod failures;
mod formats;
mod hooks;
mod inspector;
mod layer;
mod links;
mod mounting;
mod pages;
mod preferences;
mod scope;
mod sources;
mod switch;
mod templates;
mod time_zone;
mod visitor;

use axum::Router;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args};
use tower_sessions::{MemoryStore, SessionManagerLayer};

const CONFIG: &str = r#"
default = "en"
locales = ["en", "en-GB", "cy", "pl", "ar"]

[policy]
skip = ["/assets"]

[paths]
"/sailings/{id}" = { cy = "/teithiau/{id}" }
"#;

fn catalogs() -> Memory {
    Memory::new([
        (
            "en",
            "home",
            "hello = 'Hello, {$name}'\nwords = 'words'\nonly-english = 'Only {#b}English{/b}'\n[group]\nkey = 'x'\n",
        ),
        ("en-GB", "home", "words = 'British words'"),
        ("cy", "home", "hello = 'Helo, {$name}'\nwords = 'geiriau'\nbroken = '{$'"),
        ("pl", "home", "hello = 'Cześć, {$name}'\nwords = 'słowa'"),
        ("ar", "home", "hello = 'مرحبا {$name}'\nwords = 'كلمات'"),
    ])
}

fn crow(config: &str) -> CrowFly {
    CrowFly::new(Config::parse(config).unwrap(), catalogs())
}

/// Pages that tell what they were asked, and by whom.
fn pages() -> Router {
    Router::new()
        .route(
            "/",
            get(|t: Translator| async move { format!("home {} {}", t.locale(), t.text("home.words")) }),
        )
        .route(
            "/sailings/{id}",
            get(|t: Translator, uri: http::Uri| async move {
                format!("sailing {} {uri} {}", t.locale(), t.path("/sailings/1?a=b"))
            }),
        )
        .route(
            "/hello/{name}",
            get(|t: Translator, axum::extract::Path(name): axum::extract::Path<String>| async move {
                t.html(("home.hello", args! { name: &name })).into_string()
            }),
        )
        .route(
            "/assets/x.css",
            get(|t: Option<Translator>| async move {
                // Code that cannot wait has what every page needs, in the default locale.
                assert_eq!(crow_fly::current().map(|t| t.text("home.words")).as_deref(), Some("words"));
                format!("css {}", t.map_or_else(|| "none".to_owned(), |t| t.text("home.words")))
            }),
        )
        .fallback(
            |t: Translator| async move { (http::StatusCode::NOT_FOUND, format!("missing {}", t.locale())) },
        )
}

fn app(config: &str) -> Router {
    let sessions = SessionManagerLayer::new(MemoryStore::default()).with_secure(false);
    crow(config).router(pages()).layer(axum::middleware::from_fn(visitor::sign_in)).layer(sessions)
}
