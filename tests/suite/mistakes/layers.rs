//! A layer in the wrong place: what the log says at the first request that shows it.

use actix_web::http::StatusCode;
use axum::Router;
use axum::body::Body;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator};
use http::Request;
use tower::ServiceExt;

use super::Log;

fn crow(policy: &str) -> CrowFly {
    let config = format!("default = 'en'\nlocales = ['en', 'cy']\n[policy]\n{policy}\n");
    let catalogs = [("en", "home", "title = 'Ferries'"), ("cy", "home", "title = 'Fferïau'")];
    CrowFly::new(Config::parse(&config).unwrap(), Memory::new(catalogs))
}

fn pages() -> Router {
    let page = || get(|t: Translator| async move { format!("{} {}", t.text("home.title"), t.path("/")) });
    Router::new().route("/", page()).route("/trips", page()).route("/trips/{id}", page())
}

async fn ask(app: &Router, path: &str) -> (u16, String) {
    let answer = app.clone().oneshot(Request::get(path).body(Body::empty()).unwrap()).await.unwrap();
    let status = answer.status().as_u16();
    let body = axum::body::to_bytes(answer.into_body(), 10_000).await.unwrap();
    (status, String::from_utf8_lossy(&body).into_owned())
}

/// What is said, and at which request.
#[tokio::test]
async fn a_layer_in_the_wrong_place_is_said_once() {
    let plain = "sources = ['path', 'cookie']";
    let based = "base = '/shop'";
    let rows: [(&str, Router, &str, &str, &str); 9] = [
        (
            "the layer stands inside of the router",
            pages().layer(crow(plain).layer()),
            "/trips",
            "the layer runs after routing: addresses with the prefix of a locale find no page",
            "help=\"put it around the whole router: `crow.router(pages)`\"",
        ),
        (
            "the same for a router with only a home page",
            Router::new().route("/", get(|| async {})).layer(crow(plain).layer()),
            "/",
            "the layer runs after routing",
            "path=\"/\"",
        ),
        (
            "the same in a router that is nested",
            Router::new().nest("/shop", pages().layer(crow("base = '/shop'\nbase-stripped = true").layer())),
            "/shop/trips/7",
            "the layer runs after routing",
            "path=\"/trips/7\"",
        ),
        (
            "two layers",
            {
                let crow = crow(plain);
                crow.router(crow.router(pages()))
            },
            "/cy/trips",
            "the layer is put around these pages twice: the inner one changes nothing",
            "help=\"leave one of the two out\"",
        ),
        (
            "a base that the configuration does not know",
            Router::new().nest_service("/shop", crow(plain).router(pages())),
            "/shop/cy/trips",
            "a router around this one takes `/shop` off, which the configuration does not know: links lead past it",
            "help=\"set `base = \\\"/shop\\\"` and `base-stripped = true` in `[policy]`\"",
        ),
        (
            "a base that is known, and not that it is taken off",
            Router::new().nest_service("/shop", crow(based).router(pages())),
            "/shop/trips",
            "a router around this one takes `/shop` off",
            "help=\"set `base-stripped = true` in `[policy]`\"",
        ),
        (
            "another base",
            Router::new().nest_service("/shop", crow("base = '/app'\nbase-stripped = true").router(pages())),
            "/shop",
            "a router around this one takes `/shop` off",
            "set `base = \\\"/shop\\\"`",
        ),
        (
            "no layer of sessions",
            crow("sources = ['session']").router(pages()),
            "/trips",
            "`session` is one of the sources, but no layer of sessions has run for this request",
            "help=\"add the layer of sessions last: it then runs first\"",
        ),
        (
            "no layer",
            pages(),
            "/trips",
            "a handler asks for a translator, but the layer has not run for this request",
            "build the router with `CrowFly::router`",
        ),
    ];
    for (mistake, app, path, sentence, help) in rows {
        let (log, _guard) = Log::begin();
        ask(&app, path).await;
        if mistake != "no layer" {
            ask(&app, path).await;
        }
        let text = log.text();
        assert_eq!(text.matches(sentence).count(), 1, "{mistake}\n{text}");
        assert!(text.contains(help), "{mistake}\n{text}");
        assert_eq!(text.lines().count(), 1, "{mistake}\n{text}");
    }
}

/// An inner layer changes nothing: the page is that of the outer one.
#[tokio::test]
async fn the_inner_of_two_layers_changes_nothing() {
    let crow = crow("sources = ['path', 'accept-language']\nredirect = 'everywhere'\nskip = ['/assets']");
    let app = crow.router(crow.router(pages().route("/assets/x", get(|| async { "x" }))));
    assert_eq!(ask(&app, "/cy/trips").await, (200, "Fferïau /cy".to_owned()));
    assert_eq!(ask(&app, "/assets/x").await, (200, "x".to_owned()));
    // The pages of another application keep their own layer.
    let other = self::crow("").router(pages());
    let within = self::crow("").router(Router::new().nest_service("/other", other));
    assert_eq!(ask(&within, "/other/cy/trips").await.1, "Fferïau /cy");
}

/// What stands in the right place, in all the ways that the documentation shows, is not blamed.
#[tokio::test]
async fn a_layer_in_the_right_place_is_silent() {
    let plain = "sources = ['path', 'cookie']";
    let stripped = "base = '/shop'\nbase-stripped = true";
    let rows: [(&str, Router, &[&str]); 6] = [
        ("around the router", crow(plain).router(pages()), &["/", "/cy", "/cy/trips/7", "/nothing"]),
        (
            "beside others",
            Router::new().route("/health", get(|| async {})).merge(crow(plain).router(pages())),
            &["/health", "/cy/trips"],
        ),
        (
            "nested with its base",
            Router::new().nest_service("/shop", crow(stripped).router(pages())),
            &["/shop", "/shop/", "/shop/cy", "/shop/cy/trips/7"],
        ),
        (
            "nested with its base, by `nest`",
            Router::new().nest("/shop", crow(stripped).router(pages())),
            &["/shop", "/shop/cy/trips/7"],
        ),
        (
            "a route that takes all",
            Router::new().route_service("/{*all}", crow(plain).layer_around(pages())),
            &["/cy/trips", "/trips"],
        ),
        (
            "inside, where no prefixes are read",
            pages().layer(crow("sources = ['cookie']").layer()),
            &["/", "/trips"],
        ),
    ];
    for (place, app, paths) in rows {
        let (log, _guard) = Log::begin();
        for path in paths {
            ask(&app, path).await;
        }
        assert_eq!(log.text(), "", "{place}");
    }
}

trait LayerAround {
    fn layer_around(&self, pages: Router) -> crow_fly::web::LocaleService<Router>;
}

impl LayerAround for CrowFly {
    fn layer_around(&self, pages: Router) -> crow_fly::web::LocaleService<Router> {
        tower::Layer::layer(&self.layer(), pages)
    }
}

/// The same mistakes in `actix-web`.
#[test]
fn a_middleware_in_the_wrong_place_is_said_once() {
    use actix_web::{App, test, web};

    actix_web::rt::System::new().block_on(async {
        async fn page(t: Translator) -> String {
            t.text("home.title")
        }
        let crow = || crow("sources = ['path', 'cookie']");
        let (log, guard) = Log::begin();
        let scope = web::scope("/shop").route("/trips", web::get().to(page)).wrap(crow().middleware());
        let app = test::init_service(App::new().service(scope)).await;
        for _ in 0..2 {
            let answer =
                test::call_service(&app, test::TestRequest::with_uri("/shop/trips").to_request()).await;
            assert_eq!(answer.status(), StatusCode::OK);
        }
        log.says_once("the layer runs after routing: addresses with the prefix of a locale find no page");
        log.says_once("wrap the whole application: `App::new().….wrap(crow.middleware())`");
        drop(guard);

        let (log, guard) = Log::begin();
        let crow = crow();
        let twice = App::new().route("/trips", web::get().to(page));
        let app = test::init_service(twice.wrap(crow.middleware()).wrap(crow.middleware())).await;
        for _ in 0..2 {
            let asked = test::TestRequest::with_uri("/cy/trips").to_request();
            assert_eq!(test::call_and_read_body(&app, asked).await, "Fferïau");
        }
        log.says_once("the layer is put around these pages twice");
        // A path that the router decodes is no reason to blame the place of the middleware.
        let decoded = test::TestRequest::with_uri("/cy/%74rips").to_request();
        test::call_service(&app, decoded).await;
        assert_eq!(log.text().lines().count(), 1, "{}", log.text());
        drop(guard);
    });
}

/// A stored zone that is none is the application's mistake: it is said once, and the next source is asked.
#[tokio::test]
async fn a_stored_time_zone_that_is_none_is_said_once() {
    use crow_fly::web::VisitorSettings;

    let policy = "sources = ['path']\ntime-zone = 'visitor'\n[time-zone]\npages = ['/trips']";
    let layer = crow(policy).layer().visitor_settings(|_| {
        Box::pin(async { Some(VisitorSettings::new().with_time_zone("Mars/Olympus")) })
    });
    let page = get(|t: Translator| async move { t.time_zone().to_string() });
    let app = layer.router(Router::new().fallback(page));
    let (log, _guard) = Log::begin();
    // On other pages nobody asks for a zone.
    assert_eq!(ask(&app, "/").await, (200, "UTC".to_owned()));
    assert_eq!(log.text(), "");
    for _ in 0..2 {
        assert_eq!(ask(&app, "/cy/trips").await, (200, "UTC".to_owned()));
    }
    log.says_once("a stored time zone is not one: the next source is asked time_zone=\"Mars/Olympus\" source=\"visitor\"");
    let mail = crow(policy).translator_for_mail("cy", "Mars/Olympus").await;
    assert_eq!(mail.time_zone().to_string(), "UTC");
    log.says_once("a stored time zone is not one: the default is used");
    log.says_once("there is no origin: addresses in mail are not whole");
    assert_eq!(log.text().lines().count(), 3, "{}", log.text());
}
