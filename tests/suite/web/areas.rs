//! Areas: parts of a site with policies of their own, beside pages whose address says the language.

use axum::Router;
use axum::routing::get;
use crow_fly::Translator;
use tower_sessions::{MemoryStore, SessionManagerLayer};

use crate::web::crow;
use crate::web::visitor::{Visitor, sign_in};

const CONFIG: &str = "
default = 'en'
locales = ['en', 'en-GB', 'cy', 'pl', 'ar']
[policy]
skip = ['/api/files']
[areas.'/api']
sources = ['header', 'accept-language']
header = 'x-language'
matching = 'closest'
[areas.'/api/old']
sources = ['query']
[areas.'/account']
sources = ['cookie', 'accept-language']
time-zone = 'visitor'
[time-zone]
default = 'Europe/London'
";

fn app() -> Router {
    let told = |t: Translator, uri: http::Uri| async move {
        format!("{} {} {uri} {} {}", t.locale(), t.text("home.words"), t.path("/sailings"), t.time_zone())
    };
    crow(CONFIG).router(Router::new().fallback(get(told)))
}

#[tokio::test]
async fn an_area_decides_by_its_own_policy_with_the_same_catalogs() {
    let app = app();
    for (path, headers, body, vary) in [
        ("/api/x", &[][..], "en words /api/x /sailings Europe/London", "x-language, Accept-Language"),
        (
            "/api/x",
            &[("x-language", "cy")],
            "cy geiriau /api/x /cy/sailings Europe/London",
            "x-language, Accept-Language",
        ),
        // Values are matched by closeness where the area says so.
        (
            "/api/x",
            &[("x-language", "en-AU")],
            "en-GB British words /api/x /en-GB/sailings Europe/London",
            "x-language, Accept-Language",
        ),
        (
            "/api/x",
            &[("x-language", "ja"), ("accept-language", "pl")],
            "pl słowa /api/x /pl/sailings Europe/London",
            "x-language, Accept-Language",
        ),
        (
            "/api",
            &[("accept-language", "ar-EG")],
            "ar كلمات /api /ar/sailings Europe/London",
            "x-language, Accept-Language",
        ),
        // The cookie is not one of its sources, nor is the zone the visitor's.
        (
            "/api/x?a",
            &[("cookie", "locale=cy; time-zone=Asia/Tokyo")],
            "en words /api/x?a /sailings Europe/London",
            "x-language, Accept-Language",
        ),
        // The innermost area counts.
        (
            "/api/old/x?locale=cy",
            &[("x-language", "pl")],
            "cy geiriau /api/old/x?locale=cy /cy/sailings Europe/London",
            "",
        ),
        (
            "/api/old/x?locale=cy-GB",
            &[("x-language", "pl")],
            "en words /api/old/x?locale=cy-GB /sailings Europe/London",
            "",
        ),
        (
            "/account",
            &[("cookie", "locale=cy; time-zone=Asia/Tokyo")],
            "cy geiriau /account /cy/sailings Asia/Tokyo",
            "Cookie, Accept-Language",
        ),
        // Everything else is the site's.
        ("/apiary", &[("x-language", "cy")], "en words /apiary /sailings Europe/London", ""),
        (
            "/cy/x",
            &[("x-language", "pl"), ("cookie", "time-zone=Asia/Tokyo")],
            "cy geiriau /x /cy/sailings Europe/London",
            "",
        ),
    ] {
        let answer = Visitor::of(&app).get_with(path, headers).await;
        assert_eq!((answer.status.as_u16(), answer.body.as_str()), (200, body), "{path} {headers:?}");
        assert_eq!(answer.header("vary"), vary, "{path} {headers:?}");
        let private = path == "/account";
        assert_eq!(answer.header("cache-control") == "private", private, "{path} {headers:?}");
    }
}

#[tokio::test]
async fn a_choice_is_remembered_where_an_area_reads_it() {
    let app = app();
    let mut visitor = Visitor::of(&app);
    // Only the account follows the visitor's time zone.
    let answer = visitor.get("/locale?time-zone=asia/tokyo&return=/account").await;
    assert_eq!((answer.status.as_u16(), answer.header("location").as_str()), (302, "/account"));
    assert!(visitor.get("/account").await.body.ends_with("Asia/Tokyo"));
    assert!(visitor.get("/x").await.body.ends_with("Europe/London"));
    // Only the account reads sessions.
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'cookie']\n[areas.'/account']\nsources = ['session']\n";
    let page = Router::new().fallback(|t: Translator| async move { t.locale().to_string() });
    let sessions = SessionManagerLayer::new(MemoryStore::default()).with_secure(false);
    let app = crow(config).router(page).layer(axum::middleware::from_fn(sign_in)).layer(sessions);
    let mut visitor = Visitor::of(&app);
    visitor.sign_in().await;
    visitor.get("/locale?to=cy").await;
    visitor.cookies.remove("locale");
    assert_eq!(visitor.get("/account").await.body, "cy");
}

#[tokio::test]
async fn an_area_has_no_prefixes_and_is_never_redirected() {
    let app = app();
    let mut visitor = Visitor::of(&app).with_cookie("locale", "cy").prefers("pl");
    let answer = visitor.get("/api").await;
    assert_eq!((answer.status.as_u16(), answer.header("content-language")), (200, "pl".to_owned()));
    // Behind a prefix there is no such page; what is skipped inside of it stays skipped.
    let behind = visitor.get("/cy/api/x").await;
    assert_eq!(
        (behind.body.as_str(), behind.header("content-language")),
        ("en words /cy/api/x /sailings Europe/London", String::new())
    );
    assert_eq!(visitor.get("/api/files/x").await.header("content-language"), "");
    // Links to it have no prefix, and a choice returns there.
    let t = crow(CONFIG).translator(&"cy".parse().unwrap()).await.unwrap();
    assert_eq!((t.path("/api/x?a"), t.path("/apiary")), ("/api/x?a".to_owned(), "/cy/apiary".to_owned()));
    assert_eq!(visitor.get("/locale?to=ar&return=/account").await.header("location"), "/account");
    assert_eq!(visitor.get("/account").await.header("content-language"), "ar");
}
