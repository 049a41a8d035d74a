//! Answers that are made outside the layer, for a handler that is too slow or panics, in the visitor's language: the
//! address names it, or the visitor's cookie and browser do.

#![allow(clippy::print_stdout, clippy::panic, reason = "an example")]

use std::{panic::AssertUnwindSafe, time::Duration};

use axum::extract::{Request, State};
use axum::http::{StatusCode, header::CONTENT_LANGUAGE};
use axum::middleware::{Next, from_fn_with_state};
use axum::response::{IntoResponse, Response};
use axum::{Router, body::Body, routing::get};
use crow_fly::{Config, CrowFly, source::Memory};
use futures_util::FutureExt as _;
use tower::ServiceExt as _;

/// Around everything: the request's head is kept, since the request goes on.
async fn answered(State(crow): State<CrowFly>, request: Request, next: Next) -> Response {
    let (head, body) = request.into_parts();
    let request = Request::from_parts(head.clone(), body);
    let handled = AssertUnwindSafe(next.run(request)).catch_unwind();
    let (status, key) = match tokio::time::timeout(Duration::from_millis(50), handled).await {
        Ok(Ok(response)) => return response,
        Ok(Err(_panic)) => (StatusCode::INTERNAL_SERVER_ERROR, "errors.broken"),
        Err(_elapsed) => (StatusCode::GATEWAY_TIMEOUT, "errors.slow"),
    };
    // The locale that the page would have had, as the layer decides it.
    let decided = crow.explain(&head, &crow_fly::web::KnownOfVisitor::nothing()).decision;
    let locale = decided.map_or_else(|| crow.preferred(&head).to_string(), |decided| decided.locale);
    let t = crow.translator_for(&locale).await;
    (status, [(CONTENT_LANGUAGE, locale)], t.text(key)).into_response()
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    std::panic::set_hook(Box::new(|_| ()));
    let catalogs = Memory::new([
        ("en", "errors", "slow = 'This takes too long.'\nbroken = 'Something is broken here.'"),
        ("pl", "errors", "slow = 'To trwa zbyt długo.'\nbroken = 'Coś tu nie działa.'"),
    ]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'pl']")?, catalogs);
    let pages = Router::new()
        .route("/slow", get(std::future::pending::<()>))
        .route("/broken", get(async || -> () { panic!("a mistake") }));
    let app = crow.router(pages).layer(from_fn_with_state(crow.clone(), answered));
    for address in ["/pl/slow", "/broken", "/pl/broken"] {
        let answer = app.clone().oneshot(Request::get(address).body(Body::empty())?).await?;
        let status = answer.status();
        let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
        println!("{address}: {status}: {}", String::from_utf8_lossy(&body));
    }
    Ok(())
}
