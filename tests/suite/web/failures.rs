//! Errors of the layer's own have a page: the one that is built in, or the application's.

use axum::Router;
use axum::body::Body;
use axum::response::{Html, IntoResponse};
use axum::routing::get;
use crow_fly::web::{FailureReason, LayerFailure};
use crow_fly::{Config, CrowFly, Translator};
use http::{Request, Response, StatusCode};
use tower::{Layer, ServiceExt};

use crate::catalogs::controlled::Controlled;

/// An application whose catalogs cannot be read, or whose page lacks a text.
fn crow(strict: bool) -> CrowFly {
    let config = format!("default = 'en'\nlocales = ['en', 'cy']\ndevelopment = false\nstrict = {strict}\n");
    let source = Controlled::titles();
    for file in ["en/home", "cy/home"] {
        source.fail(file, !strict);
    }
    CrowFly::new(Config::parse(&config).unwrap(), source)
}

fn pages() -> Router {
    Router::new().route("/", get(|t: Translator| async move { t.text("home.nothing") }))
}

/// Status, the headers that matter, and the body.
async fn told(answer: Response<Body>) -> String {
    let mut told = answer.status().as_u16().to_string();
    for name in ["content-type", "content-language", "cache-control", "retry-after", "text-errors", "x-own"] {
        if let Some(value) = answer.headers().get(name) {
            told.extend(["\n", name, ": ", value.to_str().unwrap()]);
        }
    }
    let body = axum::body::to_bytes(answer.into_body(), 10_000).await.unwrap();
    told + "\n" + std::str::from_utf8(&body).unwrap()
}

fn asking(accept: &str) -> Request<Body> {
    Request::get("/cy").header("accept", accept).body(Body::empty()).unwrap()
}

const BROWSER: &str = "text/html,application/xhtml+xml,application/json;q=0.9,*/*;q=0.8";

#[tokio::test(start_paused = true)]
async fn an_error_of_the_layer_has_a_page_in_axum() {
    let mut pages_told = Vec::new();
    for (strict, accept) in [
        (false, BROWSER),
        (false, "application/problem+json, application/json"),
        (true, BROWSER),
        (true, "application/json"),
    ] {
        let answer = crow(strict).router(pages()).oneshot(asking(accept)).await.unwrap();
        pages_told.push(told(answer).await);
    }
    insta::assert_snapshot!(pages_told.join("\n\n"));
}

#[tokio::test(start_paused = true)]
async fn an_error_of_the_layer_has_the_page_of_the_application() {
    let page = |failure: &LayerFailure| {
        let reason = match failure.reason() {
            FailureReason::NoCatalogs => "no catalogs".to_owned(),
            FailureReason::Texts(texts) => texts.join("; "),
            _ => String::new(),
        };
        let status = StatusCode::from_u16(failure.status()).unwrap();
        let headers = [("x-own", "yes"), ("retry-after", "60")];
        (status, headers, Html(format!("{}: {reason}", failure.locale()))).into_response()
    };
    for (strict, said) in [
        (
            false,
            "503\ncontent-type: text/html; charset=utf-8\ncache-control: no-store\nretry-after: 60\nx-own: yes\ncy: no catalogs",
        ),
        (
            true,
            "500\ncontent-type: text/html; charset=utf-8\ncache-control: no-store\nretry-after: 60\ntext-errors: no text for `home.nothing` in `cy` or `en`\nx-own: yes\ncy: no text for `home.nothing` in `cy` or `en`",
        ),
    ] {
        let app = crow(strict).layer().error_page(page).router(pages());
        assert_eq!(told(app.oneshot(asking(BROWSER)).await.unwrap()).await, said);
        // Around a service of `tower` as around a router.
        let service = crow(strict).layer().error_page(page).layer(pages());
        assert_eq!(told(service.oneshot(asking(BROWSER)).await.unwrap()).await, said);
    }
    // Without one, the answer has no body.
    let service = crow(false).layer().layer(pages());
    let plain = told(service.oneshot(asking(BROWSER)).await.unwrap()).await;
    assert_eq!(plain, "503\ncache-control: no-store\nretry-after: 2\n");
}

#[test]
fn an_error_of_the_middleware_has_a_page_in_actix() {
    use actix_web::{App, HttpResponse, test, web};

    actix_web::rt::System::new().block_on(async {
        let page = |t: Translator| async move { t.text("home.nothing") };
        for (own, strict, accept, status, begins) in [
            (false, false, BROWSER, 503, "<!doctype html>\n<html lang=\"en\">"),
            (false, true, "application/json", 500, "{\"status\":500,\"error\":\"This page has an error\"}"),
            (true, false, BROWSER, 503, "cy 503"),
            (true, true, BROWSER, 500, "cy 500"),
        ] {
            let mut middleware = crow(strict).middleware();
            if own {
                middleware = middleware.error_page(|failure| {
                    let status = actix_web::http::StatusCode::from_u16(failure.status()).unwrap();
                    HttpResponse::build(status).body(format!("{} {}", failure.locale(), failure.status()))
                });
            }
            let app = test::init_service(App::new().route("/", web::get().to(page)).wrap(middleware)).await;
            let request = test::TestRequest::with_uri("/cy").insert_header(("accept", accept)).to_request();
            let answer = test::call_service(&app, request).await;
            assert_eq!(answer.status().as_u16(), status);
            assert_eq!(answer.headers().get("cache-control").unwrap(), "no-store");
            assert_eq!(answer.headers().contains_key("text-errors"), strict);
            let body = test::read_body(answer).await;
            assert!(body.starts_with(begins.as_bytes()), "{body:?}");
        }
    });
}
