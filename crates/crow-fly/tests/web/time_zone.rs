//! The visitor's time zone, and what a signed-in visitor has set, over real requests.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use axum::Router;
use axum::routing::get;
use crow_fly::Translator;
use crow_fly::web::{RequestDecision, RequestLocale, VisitorSettings};
use tower::Layer;
use tower_sessions::{MemoryStore, SessionManagerLayer};

use crate::crow;
use crate::visitor::Visitor;

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['path', 'visitor', 'session', 'cookie', 'accept-language']
skip = ['/assets']
[time-zone]
default = 'Europe/London'
";

fn pages() -> Router {
    let told = |t: Translator, RequestDecision(decision): RequestDecision| async move {
        format!(
            "{} {} {}",
            t.locale(),
            t.time_zone(),
            decision.time_zone.map_or("none", |zone| zone.source.as_str())
        )
    };
    Router::new()
        .route("/", get(told))
        .route("/trip", get(told))
        .route("/assets/locale", get(|locale: Option<RequestLocale>| async move { format!("{locale:?}") }))
        .route("/locale-only", get(|RequestLocale(locale): RequestLocale| async move { locale.to_string() }))
}

fn app(config: &str) -> Router {
    crow(config).router(pages()).layer(SessionManagerLayer::new(MemoryStore::default()).with_secure(false))
}

#[tokio::test]
async fn a_time_zone_comes_from_the_cookie_or_the_default() {
    let app = app(CONFIG);
    for (cookie, told) in [
        (None, "en Europe/London default"),
        (Some("Europe/Warsaw"), "en Europe/Warsaw cookie"),
        (Some("europe%2Fwarsaw"), "en Europe/Warsaw cookie"),
        (Some("Etc/GMT+5"), "en Etc/GMT+5 cookie"),
        (Some("../../etc/passwd"), "en Europe/London default"),
        (Some("Atlantis/Quay"), "en Europe/London default"),
        (Some("%ff"), "en Europe/London default"),
        (Some(""), "en Europe/London default"),
    ] {
        let mut visitor = Visitor::of(&app);
        if let Some(cookie) = cookie {
            visitor = visitor.with_cookie("time-zone", cookie);
        }
        let answer = visitor.get("/trip").await;
        assert_eq!(answer.body, told, "{cookie:?}");
        assert_eq!(answer.header("vary"), "Cookie", "{cookie:?}");
    }
}

#[tokio::test]
async fn a_time_zone_is_chosen_remembered_and_restored_as_a_locale_is() {
    let app = app(CONFIG);
    let mut visitor = Visitor::of(&app);
    let answer = visitor.get("/locale?time-zone=asia/tokyo&return=/pl/trip?a=b").await;
    assert_eq!((answer.status.as_u16(), answer.header("location").as_str()), (302, "/pl/trip?a=b"));
    assert_eq!(visitor.cookies.get("time-zone").map(String::as_str), Some("Asia/Tokyo"));
    assert_eq!(visitor.get("/pl/trip").await.body, "pl Asia/Tokyo session");
    // A new session, and the cookie: the first request restores it, the next ones find it.
    visitor.cookies.remove("id");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Asia/Tokyo cookie");
    visitor.cookies.remove("time-zone");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Asia/Tokyo session");

    let both = visitor.get("/locale?to=cy&time-zone=UTC&return=/trip").await;
    assert_eq!(both.header("location"), "/cy/trip");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy UTC session");
    for refused in
        ["/locale?time-zone=Atlantis/Quay&return=/", "/locale?time-zone=&return=/", "/locale?return=/"]
    {
        assert_eq!(visitor.get(refused).await.status, 400, "{refused}");
    }
}

#[tokio::test]
async fn without_a_time_zone_in_the_configuration_nobody_is_asked() {
    let app = app("default = 'en'\nlocales = ['en', 'cy']\n");
    let answer = Visitor::of(&app).with_cookie("time-zone", "Europe/Warsaw").get("/trip").await;
    assert_eq!((answer.body.as_str(), answer.header("vary").as_str()), ("en UTC none", ""));
    assert_eq!(Visitor::of(&app).get("/locale?time-zone=UTC").await.status, 400);
}

#[tokio::test]
async fn a_visitors_settings_are_asked_for_where_they_matter() {
    let asked = Arc::new(AtomicUsize::new(0));
    let counter = Arc::clone(&asked);
    let layer = crow(CONFIG).layer().with_visitors(move |request| {
        counter.fetch_add(1, Ordering::Relaxed);
        let account = request.headers.get("cookie").is_some();
        Box::pin(async move {
            tokio::task::yield_now().await;
            account.then(|| VisitorSettings::new().with_locale("pl-PL").with_time_zone("Europe/Warsaw"))
        })
    });
    let app = Router::new().fallback_service(layer.layer(pages()));
    let mut visitor = Visitor::of(&app).with_cookie("account", "7");
    assert_eq!(visitor.get("/").await.header("location"), "/pl");
    assert_eq!(visitor.get("/pl/trip").await.body, "pl Europe/Warsaw visitor");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Europe/Warsaw visitor");
    assert_eq!(asked.load(Ordering::Relaxed), 3);
    assert_eq!(visitor.get("/assets/locale").await.body, "None");
    assert_eq!(asked.load(Ordering::Relaxed), 3, "nobody is asked for a style sheet");
    assert_eq!(Visitor::of(&app).get("/locale-only").await.body, "en");
}
