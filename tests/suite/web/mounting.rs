//! An application that is mounted below a path: by its own routes, by `nest`, behind a proxy.

use axum::Router;
use axum::routing::get;
use crow_fly::Translator;

use crate::web::crow;
use crate::web::visitor::Visitor;

const HEAD: &str =
    "default = 'en'\nlocales = ['en', 'cy', 'pl']\n[policy]\nbase = '/app'\nskip = ['/app/assets']\n";

/// Pages that say their locale, the path they are asked for, and a link.
fn pages(base: &'static str) -> Router {
    let page = move |t: Translator, uri: http::Uri| async move {
        format!("{} {uri} {}", t.locale(), t.path(format!("{base}/trip")))
    };
    let menu = |t: Translator| async move { t.menu().remove(1).address };
    Router::new()
        .route(&format!("{base}/menu"), get(menu))
        .route(if base.is_empty() { "/" } else { base }, get(page))
        .fallback(get(page))
}

/// What visitors see is the same, however the base comes off.
async fn check(app: Router, base: &str) {
    for (path, body) in [
        ("/app", "en {}/ /app/trip"),
        ("/app/trip", "en {}/trip /app/trip"),
        ("/app/cy", "cy {}/ /app/cy/trip"),
        ("/app/cy/trip?a=b", "cy {}/trip?a=b /app/cy/trip"),
        ("/app/de", "en {}/de /app/trip"),
        ("/app/cy/menu", "/app/locale?to=cy&return={%}%2Fmenu"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        // Handlers know the path with the base, or without it; `/app` itself is a path of its own.
        let body = body.replace("{%}", &base.replace('/', "%2F")).replace("{}", base);
        let without_slash = body.replace("en /app/ ", "en /app ");
        assert!(answer.body == body || answer.body == without_slash, "{path}: {} is not {body}", answer.body);
    }
    for (path, location) in
        [("/app/CY/trip", "/app/cy/trip"), ("/app/cy/", "/app/cy"), ("/app/en/trip", "/app/trip")]
    {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!((answer.status.as_u16(), answer.header("location").as_str()), (308, location), "{path}");
    }
    assert_eq!(Visitor::of(&app).prefers("pl").get("/app").await.header("location"), "/app/pl");
    // The switch, with the address in the browser's bar, by the menu, by the referer, and without any.
    for (back, referer, location) in [
        ("&return=/app/cy/trip?a", "", "/app/pl/trip?a"),
        (if base.is_empty() { "&return=/trip" } else { "&return=/app/trip" }, "", "/app/pl/trip"),
        ("", "https://ferries.example/app/cy/trip", "/app/pl/trip"),
    ] {
        let headers = [("host", "ferries.example"), ("referer", referer)];
        let answer = Visitor::of(&app).get_with(&format!("/app/locale?to=pl{back}"), &headers).await;
        assert_eq!(
            (answer.status.as_u16(), answer.header("location").as_str()),
            (302, location),
            "{back} {referer}"
        );
    }
}

#[tokio::test]
async fn routes_may_have_the_base_themselves() {
    let app = crow(HEAD).router(pages("/app"));
    check(app.clone(), "/app").await;
    assert_eq!(Visitor::of(&app).prefers("pl").get("/app/").await.header("location"), "/app/pl");
    let outside = Visitor::of(&app).get("/other").await;
    assert_eq!(
        (outside.body.as_str(), outside.header("content-language")),
        ("en /other /app/trip", String::new())
    );
}

#[tokio::test]
async fn a_router_may_be_nested_beside_others() {
    let config = HEAD.replace("skip = ['/app/assets']", "skip = ['/assets']\nbase-stripped = true");
    let other = Router::new().route("/health", get(|| async { "well" }));
    let app = other.clone().nest_service("/app", crow(&config).router(pages("")));
    check(app.clone(), "").await;
    assert_eq!(Visitor::of(&app).prefers("pl").get("/app/").await.header("location"), "/app/pl");
    // `nest` has no route for `/app/`; all else is the same.
    check(other.nest("/app", crow(&config).router(pages(""))), "").await;
    assert_eq!(Visitor::of(&app).get("/health").await.body, "well");
    let t = crow(&config).translator_for("cy").await;
    assert_eq!(
        (t.path("/assets/x.css"), t.path("/trip")),
        ("/app/assets/x.css".to_owned(), "/app/cy/trip".to_owned())
    );
    assert_eq!(t.alternates("https://ferries.example").links()[1].address, "https://ferries.example/app/cy");
}

#[tokio::test]
async fn a_proxy_may_take_the_base_off() {
    let config = HEAD.replace("skip = ['/app/assets']", "base-stripped = true");
    let app = crow(&config).router(pages(""));
    let answer = Visitor::of(&app).get("/cy/trip").await;
    assert_eq!(answer.body, "cy /trip /app/cy/trip");
    assert_eq!(Visitor::of(&app).prefers("pl").get("/").await.header("location"), "/app/pl");
    assert_eq!(Visitor::of(&app).get("/locale?to=pl&return=/trip").await.header("location"), "/app/pl/trip");
    assert_eq!(Visitor::of(&app).get("/locale?to=pl").await.header("location"), "/app/pl");
    let negotiated = crow(&format!("{config}sources = ['cookie']\n")).router(pages(""));
    assert_eq!(
        Visitor::of(&negotiated).get("/locale?to=pl&return=/trip").await.header("location"),
        "/app/trip"
    );
}

#[tokio::test]
async fn other_routers_may_be_merged_and_the_fallback_is_one_of_the_pages() {
    let pages =
        Router::new().route("/x", get(|t: Translator| async move { format!("x {}", t.locale()) })).fallback(
            |t: Translator| async move { (http::StatusCode::NOT_FOUND, format!("no page {}", t.locale())) },
        );
    let health =
        Router::new().route("/health", get(|t: Option<Translator>| async move { t.is_none().to_string() }));
    let app = health.merge(crow("default = 'en'\nlocales = ['en', 'cy']\n").router(pages));
    for (path, status, body) in [
        ("/x", 200, "x en"),
        ("/cy/x", 200, "x cy"),
        ("/cy/y", 404, "no page cy"),
        ("/health", 200, "true"),
        ("/cy/health", 404, "no page cy"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!((answer.status.as_u16(), answer.body.as_str()), (status, body), "{path}");
    }
}

#[tokio::test]
async fn a_forwarded_host_is_believed_from_the_header_that_is_named() {
    let config = |more: &str| {
        format!(
            "default = 'en'\nlocales = ['en', 'pl']\n[policy]\nsources = ['host']\n{more}hosts = {{ 'promy.example' = 'pl' }}\n"
        )
    };
    let page = || Router::new().fallback(|t: Translator| async move { t.locale().to_string() });
    let forwarded = [("host", "10.0.0.7:8080"), ("x-forwarded-host", "promy.example:443, proxy.example")];
    let named = crow(&config("forwarded-host = 'x-forwarded-host'\n")).router(page());
    assert_eq!(Visitor::of(&named).get_with("/", &forwarded).await.body, "pl");
    assert_eq!(Visitor::of(&named).get_with("/", &[("host", "promy.example")]).await.body, "pl");
    let unnamed = crow(&config("")).router(page());
    assert_eq!(Visitor::of(&unnamed).get_with("/", &forwarded).await.body, "en");
}
