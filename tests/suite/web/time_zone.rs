//! The visitor's time zone, and what a signed-in visitor has set, over real requests.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use axum::Router;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::web::{RequestDecision, RequestLocale, VisitorSettings};
use crow_fly::{Config, CrowFly, Translator, args, say};
use crow_fly_core::datetime::DateValue;
use tower_sessions::{MemoryStore, SessionManagerLayer};

use crate::web::visitor::Visitor;
use crate::web::{catalogs, crow};

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['path', 'visitor', 'session', 'cookie', 'accept-language']
skip = ['/assets']
time-zone = 'visitor'
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
        assert_eq!(answer.header("cache-control"), "private", "{cookie:?}");
    }
}

#[tokio::test]
async fn a_time_zone_is_chosen_and_remembered_as_a_locale_is() {
    let app = crow(CONFIG).router(pages()).layer(axum::middleware::from_fn(crate::web::visitor::sign_in));
    let app = app.layer(SessionManagerLayer::new(MemoryStore::default()).with_secure(false));
    let mut visitor = Visitor::of(&app);
    visitor.sign_in().await;
    let answer = visitor.get("/locale?time-zone=asia/tokyo&return=/pl/trip?a=b").await;
    assert_eq!((answer.status.as_u16(), answer.header("location").as_str()), (302, "/pl/trip?a=b"));
    assert_eq!(visitor.cookies.get("time-zone").map(String::as_str), Some("Asia/Tokyo"));
    assert_eq!(visitor.get("/pl/trip").await.body, "pl Asia/Tokyo session");
    // Without the session the cookie is the next source, and nothing is restored from it.
    let session = visitor.cookies.remove("id").unwrap();
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Asia/Tokyo cookie");
    assert!(!visitor.cookies.contains_key("id"));
    visitor.cookies.remove("time-zone");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Europe/London default");
    visitor.cookies.insert("id".to_owned(), session);

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
async fn unless_a_policy_follows_the_visitor_the_default_applies_and_pages_stay_cacheable() {
    let app = app("default = 'en'\nlocales = ['en', 'cy']\n[time-zone]\ndefault = 'Europe/London'\n");
    let answer = Visitor::of(&app).with_cookie("time-zone", "Europe/Warsaw").get("/cy/trip").await;
    assert_eq!(answer.body, "cy Europe/London default");
    assert_eq!((answer.header("vary"), answer.header("cache-control")), (String::new(), String::new()));
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
    let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), catalogs());
    let layer = crow.layer().visitor_settings(move |request| {
        counter.fetch_add(1, Ordering::Relaxed);
        let account = request.headers.get("cookie").is_some();
        Box::pin(async move {
            tokio::task::yield_now().await;
            account.then(|| VisitorSettings::new().with_locale("pl-PL").with_time_zone("Europe/Warsaw"))
        })
    });
    let app = layer.router(pages());
    let mut visitor = Visitor::of(&app).with_cookie("account", "7");
    assert_eq!(visitor.get("/").await.header("location"), "/pl");
    assert_eq!(visitor.get("/pl/trip").await.body, "pl Europe/Warsaw visitor");
    assert_eq!(visitor.get("/cy/trip").await.body, "cy Europe/Warsaw visitor");
    assert_eq!(asked.load(Ordering::Relaxed), 3);
    assert_eq!(visitor.get("/assets/locale").await.body, "Some(RequestLocale(LanguageTag(en)))");
    assert_eq!(asked.load(Ordering::Relaxed), 3, "nobody is asked for a style sheet");
    assert_eq!(Visitor::of(&app).get("/locale-only").await.body, "en");
}

fn sailings() -> Memory {
    Memory::new([
        ("en", "sailing", "leaves = 'Leaves at {$at :time}'\nonly-english = 'Leaves at {$at :time}'"),
        ("pl", "sailing", "leaves = 'Odpływa o {$at :time}'"),
    ])
}

/// The three kinds of texts of one moment: the locale's own, one that fell back, and a default text.
fn texts(t: &Translator, at: &DateValue) -> String {
    let own = t.text(("sailing.leaves", args! { at: at.clone() }));
    let fallback = t.text(("sailing.only-english", args! { at: at.clone() }));
    let default = t.text(say("sailing.nothing").with(args! { at: at.clone() }).or("Default: {$at :time}"));
    let html = t.html(("sailing.only-english", args! { at: at.clone() })).into_string();
    assert!(html.contains(&fallback), "{html}: {fallback}");
    format!("{own}; {fallback}; {default}").replace('\u{202f}', " ")
}

#[tokio::test]
async fn a_visitors_zone_holds_in_texts_that_fell_back_and_in_default_texts() {
    let told = |t: Translator| async move { texts(&t, &DateValue::parse("2026-06-01T12:00:00Z").unwrap()) };
    let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), sailings());
    let app = crow.router(Router::new().route("/trip", get(told)));
    let answer = Visitor::of(&app).with_cookie("time-zone", "Asia/Tokyo").get("/pl/trip").await;
    assert_eq!(answer.body, "Odpływa o 21:00; Leaves at 9:00 PM; Default: 9:00 PM");
    let answer = Visitor::of(&app).get("/pl/trip").await;
    assert_eq!(answer.body, "Odpływa o 13:00; Leaves at 1:00 PM; Default: 1:00 PM");
    // A name of CLDR's list that the zone database does not have: the default.
    let answer = Visitor::of(&app).with_cookie("time-zone", "US/Pacific-New").get("/pl/trip").await;
    assert_eq!(answer.body, "Odpływa o 13:00; Leaves at 1:00 PM; Default: 1:00 PM");
}

#[tokio::test]
async fn without_a_request_the_value_goes_before_the_default_and_the_caller_before_the_value() {
    let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), sailings());
    let moment = DateValue::parse("2026-06-01T12:00:00Z").unwrap();
    let warsaw = DateValue::parse("2026-06-01T12:00:00+02:00[Europe/Warsaw]").unwrap();
    let polish = crow.translator(&"pl".parse().unwrap()).await.unwrap();
    assert_eq!(polish.time_zone().as_str(), "Europe/London");
    assert_eq!(texts(&polish, &moment), "Odpływa o 13:00; Leaves at 1:00 PM; Default: 1:00 PM");
    assert_eq!(texts(&polish, &warsaw), "Odpływa o 12:00; Leaves at 12:00 PM; Default: 12:00 PM");
    let tokyo = polish.clone().with_time_zone("Asia/Tokyo".parse().unwrap());
    assert_eq!(tokyo.time_zone().as_str(), "Asia/Tokyo");
    assert_eq!(texts(&tokyo, &moment), "Odpływa o 21:00; Leaves at 9:00 PM; Default: 9:00 PM");
    assert_eq!(texts(&tokyo, &warsaw), "Odpływa o 19:00; Leaves at 7:00 PM; Default: 7:00 PM");
    let missing = tokyo.clone().with_time_zone("US/Pacific-New".parse().unwrap());
    assert_eq!(missing.time_zone().as_str(), "Asia/Tokyo");
    let revised = CrowFly::builder(Config::parse(CONFIG).unwrap()).catalogs(sailings()).revision("1").build();
    let polish = revised.translator(&"pl".parse().unwrap()).await.unwrap();
    assert_ne!(polish.etag(1), polish.clone().with_time_zone("Asia/Tokyo".parse().unwrap()).etag(1));
}
