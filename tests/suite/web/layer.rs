//! The layer: prefixes, redirects, headers, and requests that mean ill.

use axum::Router;
use axum::http::{Method, StatusCode};
use axum::routing::get;
use crow_fly::{Translator, current};
use tower::ServiceExt;

use crate::web::visitor::Visitor;
use crate::web::{CONFIG, app, crow};

#[tokio::test]
async fn the_prefix_is_stripped_before_routing_and_the_language_announced() {
    let app = app(CONFIG);
    for (path, body, language) in [
        ("/", "home en words", "en"),
        ("/cy", "home cy geiriau", "cy"),
        ("/en-GB", "home en-GB British words", "en-GB"),
        ("/cy/teithiau/7?a=b%20c", "sailing cy /sailings/7?a=b%20c /cy/teithiau/1?a=b", "cy"),
        ("/sailings/7", "sailing en /sailings/7 /sailings/1?a=b", "en"),
        ("/ar/hello/%3Cb%3E", "مرحبا <bdi>&lt;b&gt;</bdi>", "ar"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!((answer.status, answer.body.as_str()), (StatusCode::OK, body), "{path}");
        assert_eq!(answer.header("content-language"), language, "{path}");
    }
}

#[tokio::test]
async fn what_the_answer_depends_on_is_said_and_nothing_else() {
    let app = app(CONFIG);
    for (path, vary) in
        [("/", "Cookie, Accept-Language"), ("/cy", ""), ("/sailings/1", ""), ("/assets/x.css", "")]
    {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!(answer.header("vary"), vary, "{path}");
    }
    let answer = Visitor::of(&app).get("/assets/x.css").await;
    assert_eq!((answer.body.as_str(), answer.header("content-language")), ("css words", String::new()));

    let tagged = Router::new().route(
        "/",
        get(|_: Translator| async {
            ([("vary", "accept-encoding, cookie"), ("content-language", "la")], "x")
        }),
    );
    let answer = Visitor::of(&crow(CONFIG).router(tagged)).get("/").await;
    assert_eq!(answer.header("vary"), "accept-encoding, cookie, Accept-Language");
    assert_eq!(answer.header("content-language"), "la");
}

#[tokio::test]
async fn a_first_visit_goes_to_the_visitors_language() {
    let app = app(CONFIG);
    let answer = Visitor::of(&app).prefers("de, pl;q=0.8, en;q=0.5").get("/?a=b").await;
    assert_eq!((answer.status, answer.header("location")), (StatusCode::FOUND, "/pl?a=b".to_owned()));
    assert_eq!(answer.header("vary"), "Cookie, Accept-Language");
    assert!(answer.header("cache-control").contains("private"));
    for (visitor, path) in [
        (Visitor::of(&app).prefers("en, pl"), "/"),
        (Visitor::of(&app).prefers("ja"), "/"),
        (Visitor::of(&app), "/"),
        (Visitor::of(&app).prefers("pl").with_cookie("locale", "en"), "/"),
        (Visitor::of(&app).prefers("pl"), "/sailings/1"),
        (Visitor::of(&app).prefers("pl"), "/cy"),
    ] {
        let mut visitor = visitor;
        assert_eq!(visitor.get(path).await.status, StatusCode::OK);
    }
    let post = Visitor::of(&app).prefers("pl").ask(Method::POST, "/", "").await;
    assert_eq!(post.status, StatusCode::METHOD_NOT_ALLOWED);
}

#[tokio::test]
async fn an_address_has_one_spelling_and_what_is_no_prefix_is_the_applications() {
    let app = app(CONFIG);
    for (path, location) in [
        ("/CY/x?q=1", "/cy/x?q=1"),
        ("/cy/", "/cy"),
        ("/en", "/"),
        ("/en-gb/sailings/1", "/en-GB/sailings/1"),
        ("/cy/sailings/1", "/cy/teithiau/1"),
        ("/en//evil.example", "/.//evil.example"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!(
            (answer.status, answer.header("location")),
            (StatusCode::PERMANENT_REDIRECT, location.to_owned()),
            "{path}"
        );
    }
    for (path, body) in [
        ("/de", "missing en"),
        ("/de/sailings/1", "missing en"),
        ("/cyx", "missing en"),
        ("/cy%2Fx", "missing en"),
        ("/./cy", "missing en"),
        ("/cy/nothing", "missing cy"),
        ("//cy", "missing en"),
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!((answer.status, answer.body.as_str()), (StatusCode::NOT_FOUND, body), "{path}");
    }
    // Whatever languages there are: what is not a prefix is the application's, its pages and its own 404.
    let greedy = crow(CONFIG).router(Router::new().fallback(|| async { "yes" }));
    for path in ["/my/plots", "/id/7", "/run", "/cat", "/sun", "/to", "/no", "/de/x", "/zh-Hant"] {
        assert_eq!(Visitor::of(&greedy).prefers("pl").get(path).await.status, StatusCode::OK, "{path}");
        let posted = Visitor::of(&greedy).ask(Method::POST, path, "").await;
        assert_eq!((posted.status, posted.body.as_str()), (StatusCode::OK, "yes"), "{path}");
    }
}

#[tokio::test]
async fn hostile_requests_get_the_next_source() {
    let app = app(CONFIG);
    let long = "a".repeat(100_000);
    let thousand = vec!["x1-y"; 1000].join(",") + ",pl";
    for (visitor, what) in [
        (Visitor::of(&app).prefers(b"\xff\xfe\x80"), "bytes that are no text"),
        (Visitor::of(&app).prefers(&long), "a header of 100 kB"),
        (Visitor::of(&app).prefers(&thousand), "a thousand ranges"),
        (Visitor::of(&app).with_cookie("locale", "../../etc/passwd"), "a path"),
        (Visitor::of(&app).with_cookie("locale", "%7B%22v%22%3A1%7D"), "another application's cookie"),
        (Visitor::of(&app).with_cookie("locale", &long), "a cookie of 100 kB"),
        (Visitor::of(&app).with_cookie("locale", "cy\"; Path=/evil"), "a cookie with quotes"),
        (Visitor::of(&app).with_cookie("other", "locale=cy"), "a cookie that holds a pair"),
        (Visitor::of(&app).with_cookie("xlocale", "cy"), "a cookie of a longer name"),
        (Visitor::of(&app).with_cookie("id", "forged"), "a forged session"),
        (Visitor::of(&app).with_cookie("a", "b; locale=xx; locale=de"), "a cookie twice, and not one usable"),
        (Visitor::of(&app).with_cookie("a", "b;;;=;locale;=locale=cy;"), "a header of broken pairs"),
        (Visitor::of(&app).with_cookie("locale", "cy\tSet-Cookie: x=y"), "a cookie with a tab"),
    ] {
        let mut visitor = visitor;
        let answer = visitor.get("/").await;
        assert_eq!((answer.status, answer.body.as_str()), (StatusCode::OK, "home en words"), "{what}");
    }
    // Of several cookies of one name the first usable one counts.
    for cookies in ["b; locale=xx; locale=cy; locale=pl", "b; locale=; locale=cy", "b; locale=cy; locale=pl"]
    {
        let answer = Visitor::of(&app).with_cookie("a", cookies).get("/").await;
        assert_eq!(answer.header("location"), "/cy", "{cookies}");
    }
    // Behind what cannot be used, the next source counts.
    let answer = Visitor::of(&app).with_cookie("locale", "../x").prefers(b"\xff, cy;q=0.4").get("/").await;
    assert_eq!(answer.header("location"), "/cy");
    for path in [
        "/%ff%fe",
        "/cy/%2e%2e/%2e%2e/etc/passwd",
        "/cy/..%2f..%2fhome.toml",
        "/%00",
        "/cy/%0d%0aSet-Cookie:x",
        "/../../etc/passwd",
    ] {
        let answer = Visitor::of(&app).get(path).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{path}");
        assert!(answer.header("set-cookie").is_empty());
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn two_visitors_never_get_each_others_language() {
    let slow = Router::new().route(
        "/slow",
        get(|t: Translator| async move {
            // Between two looks, other requests run on the same threads.
            let before = current().unwrap().locale().clone();
            tokio::task::yield_now().await;
            let spawned = tokio::spawn(async { current().is_none() }).await.unwrap();
            let after = current().unwrap().text("home.words");
            format!("{} {before} {after} {spawned}", t.locale())
        }),
    );
    let app = crow(CONFIG).router(slow);
    let words = [("cy", "geiriau"), ("pl", "słowa"), ("ar", "كلمات"), ("en-GB", "British words")];
    let tasks: Vec<_> = (0..2000)
        .map(|at| {
            let (locale, words) = words[at % words.len()];
            let app = app.clone();
            tokio::spawn(async move {
                let answer = Visitor::of(&app).get(&format!("/{locale}/slow")).await;
                assert_eq!(answer.body, format!("{locale} {locale} {words} true"));
            })
        })
        .collect();
    for task in tasks {
        task.await.unwrap();
    }
    assert!(current().is_none());
}

#[tokio::test]
async fn without_the_layer_a_visitor_sees_nothing_of_our_internals() {
    let app: Router = Router::new().route("/", get(|t: Translator| async move { t.text("home.words") }));
    let request = http::Request::get("/").body(axum::body::Body::empty()).unwrap();
    let answer = app.oneshot(request).await.unwrap();
    assert_eq!(answer.status(), StatusCode::INTERNAL_SERVER_ERROR);
    let body = axum::body::to_bytes(answer.into_body(), 1000).await.unwrap();
    insta::assert_snapshot!(String::from_utf8_lossy(&body), @"Internal Server Error");
}
