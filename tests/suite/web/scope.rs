//! The current translator: in the call of a service, in one layer inside another, in a body that is streamed.

use std::convert::Infallible;
use std::pin::Pin;
use std::task::{Context, Poll};

use axum::Router;
use axum::body::{Body, Bytes};
use axum::http::Request;
use axum::routing::get;
use crow_fly::{Translator, current, within};
use futures_core::Stream;
use http_body::Body as _;
use tower::{Layer, Service, ServiceExt};

use crate::web::visitor::Visitor;
use crate::web::{CONFIG, crow};

fn locale() -> String {
    current().map_or_else(|| "none".to_owned(), |translator| translator.locale().to_string())
}

#[tokio::test]
async fn it_is_there_while_a_service_is_called_and_gone_afterwards() {
    let inner = tower::service_fn(|_: Request<Body>| {
        let called = locale();
        async move {
            let running = locale();
            tokio::task::yield_now().await;
            Ok::<_, Infallible>(http::Response::new(Body::from(format!("{called} {running} {}", locale()))))
        }
    });
    let mut service = crow(CONFIG).layer().layer(inner);
    let request = |path: &str| Request::get(path).body(Body::empty()).unwrap();
    // Once to load the catalogs, once with all of them in memory.
    for _ in 0..2 {
        let answer = service.ready().await.unwrap().call(request("/cy/x")).await.unwrap();
        let body = axum::body::to_bytes(answer.into_body(), 100).await.unwrap();
        assert_eq!(body, "cy cy cy");
        assert_eq!(locale(), "none");
    }
}

#[tokio::test]
async fn one_layer_inside_another_has_its_own_and_gives_back_the_outer_one() {
    // A shop inside a site, with languages of its own, told by a cookie.
    let shop = "default = 'pl'\nlocales = ['pl', 'en']\n[policy]\nsources = ['cookie']\n";
    let inner = crow(shop).router(
        Router::new().fallback(|t: Translator| async move { format!("{} {}", t.locale(), locale()) }),
    );
    let around = axum::middleware::from_fn(
        |request: axum::extract::Request, next: axum::middleware::Next| async move {
            let before = locale();
            let answer = next.run(request).await;
            let body = axum::body::to_bytes(answer.into_body(), 100).await.unwrap();
            format!("{before} [{}] {}", String::from_utf8_lossy(&body), locale())
        },
    );
    let site = crow(CONFIG).router(Router::new().nest_service("/shop", inner).layer(around));
    assert_eq!(Visitor::of(&site).get("/cy/shop/x").await.body, "cy [pl pl] cy");
    assert_eq!(locale(), "none");
}

#[tokio::test]
async fn a_call_that_panics_leaves_nothing_behind() {
    let translator = crow(CONFIG).translator(&"cy".parse().unwrap()).await.unwrap();
    let panics = tokio::spawn(within(translator, async {
        assert_eq!(locale(), "cy");
        panic!("a handler panics");
    }));
    assert!(panics.await.unwrap_err().is_panic());
    assert_eq!(locale(), "none");
}

/// Three chunks that say the current locale when they are made.
struct Chunks(u8);

impl Stream for Chunks {
    type Item = Result<Bytes, Infallible>;

    fn poll_next(mut self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<Option<Self::Item>> {
        if self.0 == 6 {
            return Poll::Ready(None);
        }
        self.0 += 1;
        if self.0 % 2 == 1 {
            context.waker().wake_by_ref();
            return Poll::Pending;
        }
        Poll::Ready(Some(Ok(Bytes::from(format!("{} ", locale())))))
    }

    fn size_hint(&self) -> (usize, Option<usize>) {
        (0, Some(3))
    }
}

#[tokio::test]
async fn a_streamed_body_carries_it_along() {
    let pages = Router::new()
        .route("/carried", get(|t: Translator| async move { Body::from_stream(within(t, Chunks(0))) }))
        .route(
            "/whole",
            get(|t: Translator| async move {
                let body = within(t, Body::from_stream(Chunks(0)));
                assert!(!body.is_end_stream() && body.size_hint().lower() == 0);
                Body::new(body)
            }),
        )
        .route("/forgotten", get(|_: Translator| async move { Body::from_stream(Chunks(0)) }));
    let app = crow(CONFIG).router(pages);
    for (path, body) in
        [("/cy/carried", "cy cy cy "), ("/pl/whole", "pl pl pl "), ("/cy/forgotten", "none none none ")]
    {
        assert_eq!(Visitor::of(&app).get(path).await.body, body, "{path}");
    }
}
