//! Every source over real requests: hosts, queries, headers, the visitor's own setting; other policies than the usual.

use std::collections::HashMap;
use std::sync::{Arc, Mutex};

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::{Request, StatusCode};
use axum::routing::get;
use crow_fly::sessions::{SessionEntry, Sessions};
use crow_fly::web::{HookFuture, VisitorSettings};
use crow_fly::{Config, CrowFly, Translator, within};
use http::Extensions;
use tower::ServiceExt;

use crate::web::visitor::Visitor;
use crate::web::{app, catalogs, crow, pages};

const NEGOTIATED: &str = r#"
default = "en"
locales = ["en", "en-GB", "cy", "pl", "ar"]

[policy]
sources = ["query", "header", "host", "visitor", "cookie", "accept-language"]
query = "lang"
header = "x-words"
hosts = { "promy.example" = "pl" }
"#;

/// Asks once, with headers, and perhaps as a signed-in visitor; status, language, `Vary`, body.
async fn ask(
    app: &Router,
    path: &str,
    headers: &[(&str, &str)],
    visitor: Option<&str>,
) -> (u16, String, String, String) {
    let mut request = Request::builder().uri(path);
    for (name, value) in headers {
        request = request.header(*name, *value);
    }
    if let Some(visitor) = visitor {
        request = request.extension(VisitorSettings::new().with_locale(visitor));
    }
    let response = app.clone().oneshot(request.body(Body::empty()).unwrap()).await.unwrap();
    let header = |name: &str| {
        let values = response.headers().get_all(name).iter().map(|value| value.to_str().unwrap());
        values.collect::<Vec<_>>().join(", ")
    };
    let (status, language, vary) = (response.status().as_u16(), header("content-language"), header("vary"));
    let body = to_bytes(response.into_body(), 1 << 16).await.unwrap();
    (status, language, vary, String::from_utf8(body.to_vec()).unwrap())
}

#[tokio::test]
async fn without_prefixes_each_source_has_its_turn() {
    let app = app(NEGOTIATED);
    for (path, headers, visitor, language, vary) in [
        ("/?lang=cy", &[("x-words", "pl")][..], None, "cy", ""),
        ("/?lang=cy%20", &[], None, "cy", ""),
        ("/?lang=de&lang=cy", &[("x-words", "pl")], None, "pl", "x-words, Cookie, Accept-Language"),
        ("/?language=cy", &[("x-words", "pl")], None, "pl", "x-words, Cookie, Accept-Language"),
        ("/", &[("x-words", "EN_gb")], None, "en-GB", "x-words, Cookie, Accept-Language"),
        ("/", &[("x-words", "../x"), ("host", "promy.example:8080")], None, "pl", "x-words"),
        ("http://promy.example/", &[], None, "pl", "x-words"),
        ("/", &[("host", "cy.ferries.example")], None, "en", "x-words, Cookie, Accept-Language"),
        ("/", &[("cookie", "locale=ar")], Some("en-AU"), "en-GB", "x-words, Cookie, Accept-Language"),
        ("/", &[("cookie", "locale=ar")], Some("ja"), "ar", "x-words, Cookie, Accept-Language"),
        ("/", &[("cookie", "locale=ar")], Some("nonsense!"), "ar", "x-words, Cookie, Accept-Language"),
        ("/", &[("accept-language", "gsw, pl;q=0.3")], None, "pl", "x-words, Cookie, Accept-Language"),
        ("/", &[], None, "en", "x-words, Cookie, Accept-Language"),
    ] {
        let answer = ask(&app, path, headers, visitor).await;
        assert_eq!(
            (answer.0, answer.1.as_str(), answer.2.as_str()),
            (200, language, vary),
            "{path} {headers:?} {visitor:?}"
        );
    }
}

#[tokio::test]
async fn without_prefixes_an_address_stays_what_it_is() {
    let app = app(NEGOTIATED);
    for path in ["/cy", "/de", "/CY/x", "/en"] {
        assert_eq!(ask(&app, path, &[], None).await.0, 404, "{path} is a page like any other");
    }
    let mut visitor = Visitor::of(&app);
    let answer = visitor.get("/locale?to=pl&return=/sailings/3").await;
    assert_eq!(answer.header("location"), "/sailings/3");
    assert_eq!(visitor.get("/sailings/3").await.header("content-language"), "pl");
}

#[tokio::test]
async fn every_locale_may_have_a_prefix() {
    let app = app("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nbare-default = false\n");
    for (path, status, location) in [
        ("/", 302, "/en"),
        ("/?a=b", 302, "/en?a=b"),
        ("/en", 200, ""),
        ("/cy/sailings/1", 200, ""),
        ("/sailings/1", 200, ""),
        ("/nowhere", 404, ""),
        ("/EN", 308, "/en"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!(
            (answer.status.as_u16(), answer.header("location").as_str()),
            (status, location),
            "{path}"
        );
    }
    let answer = Visitor::of(&app).prefers("cy").get("/").await;
    assert_eq!(answer.header("location"), "/cy");
}

#[tokio::test]
async fn preferences_may_redirect_from_everywhere_or_nowhere() {
    let config =
        |rule: &str| format!("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nredirect = '{rule}'\n");
    let everywhere = app(&config("everywhere"));
    let answer = Visitor::of(&everywhere).prefers("cy").get("/sailings/1?a").await;
    assert_eq!(
        (answer.status, answer.header("location")),
        (StatusCode::FOUND, "/cy/sailings/1?a".to_owned())
    );
    assert_eq!(
        Visitor::of(&everywhere).prefers("cy").get(&answer.header("location")).await.status,
        StatusCode::OK
    );
    let never = app(&config("never"));
    let answer = Visitor::of(&never).prefers("cy").get("/").await;
    assert_eq!((answer.status, answer.header("vary")), (StatusCode::OK, String::new()));
}

#[tokio::test]
async fn an_application_may_live_below_a_path() {
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nbase = '/shop'\n";
    let inner = Router::new().route(
        "/shop/cart",
        get(|t: Translator| async move {
            format!("{} {} {}", t.locale(), t.original_path().unwrap(), t.path("/shop/cart"))
        }),
    );
    let outside = Router::new().route("/status", get(|| async { "well" })).merge(inner);
    let app = crow(config).router(outside);
    assert_eq!(Visitor::of(&app).get("/shop/cy/cart").await.body, "cy /shop/cy/cart /shop/cy/cart");
    assert_eq!(Visitor::of(&app).get("/shop/cart").await.body, "en /shop/cart /shop/cart");
    let status = Visitor::of(&app).get("/status").await;
    assert_eq!((status.body.as_str(), status.header("content-language")), ("well", String::new()));
    let switched = Visitor::of(&app).get("/shop/locale?to=cy&return=/shop/cart").await;
    assert_eq!(switched.header("location"), "/shop/cy/cart");
}

/// Sessions of another kind: a table by a request header.
#[derive(Clone, Debug, Default)]
struct Table(Arc<Mutex<HashMap<String, String>>>);

impl Sessions for Table {
    fn read<'a>(&'a self, _: &'a Extensions, key: &'a str) -> HookFuture<'a, SessionEntry> {
        let found = self.0.lock().unwrap().get(key).cloned();
        Box::pin(async move { found.map_or(SessionEntry::Empty, SessionEntry::Text) })
    }

    fn write<'a>(
        &'a self,
        _: &'a Extensions,
        key: &'a str,
        value: &'a str,
    ) -> HookFuture<'a, Result<(), Box<dyn std::error::Error + Send + Sync>>> {
        if value == "ar" {
            return Box::pin(async { Err("this table takes no Arabic".into()) });
        }
        self.0.lock().unwrap().insert(key.to_owned(), value.to_owned());
        Box::pin(async { Ok(()) })
    }
}

#[tokio::test]
async fn another_session_crate_is_a_trait_away() {
    let sessions = Table::default();
    let config = "default = 'en'\nlocales = ['en', 'cy', 'ar']\n[remember]\nsession-key = 'words'\n";
    let config = Config::parse(config).unwrap();
    let app = CrowFly::new(config, catalogs()).layer().sessions(sessions.clone()).router(pages());
    sessions.0.lock().unwrap().insert("account".to_owned(), "7".to_owned());
    Visitor::of(&app).get("/locale?to=cy").await;
    assert_eq!(sessions.0.lock().unwrap().get("words").map(String::as_str), Some("cy"));
    assert_eq!(Visitor::of(&app).get("/").await.header("location"), "/cy");
    // A session that cannot remember leaves it to the cookie.
    sessions.0.lock().unwrap().clear();
    let mut visitor = Visitor::of(&app);
    assert_eq!(visitor.get("/locale?to=ar").await.header("location"), "/ar");
    assert_eq!(visitor.get("/").await.header("location"), "/ar");
}

#[tokio::test]
async fn a_path_is_local_under_every_policy() {
    for policy in ["", "bare-default = false", "sources = ['cookie']", "base = '/shop'", "skip = ['/assets']"]
    {
        let crow = crow(&format!("default = 'en'\nlocales = ['en', 'cy']\n[policy]\n{policy}\n"));
        for locale in ["en", "cy"] {
            let translator = crow.translator(&locale.parse().unwrap()).await.unwrap();
            for path in [
                "//evil.example",
                "/\\evil.example",
                "/\t/evil.example",
                "https://evil.example",
                "\\\\evil.example",
                "",
                "?a",
            ] {
                let address = translator.path(path);
                assert!(crow_fly_core::route::is_local(&address), "{policy} {locale} {path:?}: {address}");
            }
            assert!(translator.path("/caffè?a=b#c").ends_with("/caff%C3%A8?a=b#c"));
        }
    }
}

#[tokio::test]
async fn the_cookie_is_what_the_configuration_says() {
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[remember]\ncookie = 'words'\ndays = 30\npath = '/shop'\ndomain = 'ferries.example'\nsame-site = 'strict'\nsecure = true\n";
    let answer = Visitor::of(&crow(config).router(pages())).get("/locale?to=cy").await;
    insta::assert_snapshot!(answer.header("set-cookie"), @"words=cy; HttpOnly; SameSite=Strict; Secure; Path=/shop; Domain=ferries.example; Max-Age=2592000");
}

#[tokio::test]
async fn numbers_may_follow_the_visitors_region() {
    let config = "default = 'en'\nlocales = ['en', 'ar']\n[policy]\nformats = 'visitor'\n";
    let page = Router::new().route(
        "/n",
        get(|t: Translator| async move {
            t.text(crow_fly::say("a.b").with(crow_fly::args! { n: 1234.5 }).or("{$n}"))
        }),
    );
    let catalogs = crow_fly::source::Memory::new([("ar", "a", "b = '{$n}'"), ("en", "a", "b = '{$n}'")]);
    let app = CrowFly::new(Config::parse(config).unwrap(), catalogs).router(page);
    for (path, header, text) in [
        ("/n", "en-DE", "1.234,5"),
        ("/n", "de, en-CH;q=0.5", "1'234.5"),
        ("/n", "en-IN-u-nu-deva", "१,२३४.५"),
        ("/ar/n", "ar-EG", "\u{2067}١٬٢٣٤٫٥\u{2069}"),
        ("/ar/n", "en-GB", "\u{2067}1,234.5\u{2069}"),
    ] {
        let answer = Visitor::of(&app).prefers(header).get(path).await;
        assert!(answer.header("vary").contains("Accept-Language"), "{path} {header}");
        assert_eq!(answer.body, text, "{path} {header}");
    }
}

#[tokio::test]
async fn dates_may_follow_the_visitors_calendar() {
    let config = "default = 'en'\nlocales = ['en', 'th']\nstrict = true\n[policy]\nformats = 'visitor'\n[messages]\nmissing = 'error'\n";
    let page = Router::new().route(
        "/{day}",
        get(|t: Translator, day: axum::extract::Path<String>| async move {
            t.text(("a.b", crow_fly::args! { d: day.0 }))
        }),
    );
    let text = "b = '{$d :date length=long}'";
    let catalogs = crow_fly::source::Memory::new([("en", "a", text), ("th", "a", text)]);
    let app = CrowFly::new(Config::parse(config).unwrap(), catalogs).router(page);
    for (path, header, text) in [
        ("/2026-12-02", "en-GB", "2 December 2026"),
        ("/2026-12-02", "en-TH", "December 2, 2569 BE"),
        ("/2026-12-02", "en-TH-u-ca-gregory", "December 2, 2026"),
        ("/2026-12-02", "en-u-ca-hebrew", "22 Kislev 5787"),
        ("/2026-12-02", "en-u-rg-irzzzz", "Azar 11, 1405 AP"),
        ("/th/2026-12-02", "th", "2 ธันวาคม 2569"),
        ("/th/2026-12-02", "th-u-ca-gregory", "2 ธันวาคม ค.ศ. 2026"),
        // What a visitor asks for in vain makes no error, in strict mode either.
        ("/2026-12-02", "en-u-ca-chinese", "December 2, 2026"),
        ("/th/2026-12-02", "th-u-ca-nonsense", "2 ธันวาคม 2569"),
        ("/1700-12-02", "en-u-ca-persian", "December 2, 1700"),
    ] {
        let answer = Visitor::of(&app).prefers(header).get(path).await;
        assert_eq!((answer.status.as_u16(), answer.body.as_str()), (200, text), "{path} {header}");
        assert!(answer.header("vary").contains("Accept-Language"), "{path} {header}");
    }
}

#[tokio::test]
async fn a_translator_needs_no_request() {
    let crow = crow(crate::web::CONFIG);
    let mail = |locale: &'static str| {
        let crow = crow.clone();
        async move {
            let translator = crow.translator(&locale.parse().unwrap()).await.unwrap();
            within(translator, async { crow_fly::current().unwrap().text("home.words") }).await
        }
    };
    let (welsh, polish) = tokio::join!(mail("cy"), mail("pl"));
    assert_eq!((welsh.as_str(), polish.as_str()), ("geiriau", "słowa"));
    let welsh = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    assert!(welsh.decision().is_none());
    assert_eq!(welsh.path("/sailings/7"), "/cy/teithiau/7");
    assert_eq!(welsh.path_in(&"pl".parse().unwrap(), "/sailings").as_deref(), Some("/pl/sailings"));
    assert_eq!(welsh.path_in(&"de".parse().unwrap(), "/sailings"), None);
    assert_eq!(welsh.menu().iter().filter(|item| item.current).count(), 1);
    assert_eq!(welsh.direction().as_str(), "ltr");
}
