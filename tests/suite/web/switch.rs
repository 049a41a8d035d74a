//! The switch address and what is remembered.

use std::collections::HashMap;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};

use async_trait::async_trait;
use axum::http::{Method, StatusCode};
use crow_fly::web::VisitorSettings;
use crow_fly::{Config, CrowFly};
use tower_sessions::session::{Id, Record};
use tower_sessions::{MemoryStore, Session, SessionManagerLayer, SessionStore, session_store};

use crate::web::visitor::{Visitor, sign_in};
use crate::web::{CONFIG, app, catalogs, crow, pages};

#[tokio::test]
async fn a_choice_is_remembered_and_leads_back_to_the_page() {
    let app = app(CONFIG);
    let mut visitor = Visitor::of(&app).prefers("pl");
    let answer = visitor.get("/locale?to=cy&return=/sailings/7?a%3Db%26c").await;
    assert_eq!(
        (answer.status, answer.header("location")),
        (StatusCode::FOUND, "/cy/teithiau/7?a=b&c".to_owned())
    );
    insta::assert_snapshot!(answer.header("set-cookie"), @"locale=cy; HttpOnly; SameSite=Lax; Path=/; Max-Age=31536000");
    assert_eq!(answer.header("cache-control"), "private, no-store");
    assert_eq!(visitor.get("/").await.header("location"), "/cy");

    // Who chooses the default stays at the root. Every choice renews the cookie.
    assert_eq!(visitor.get("/locale?to=en&return=/").await.header("location"), "/");
    assert_eq!(visitor.get("/").await.body, "home en words");
    assert!(visitor.get("/locale?to=en&return=/").await.header("set-cookie").starts_with("locale=en;"));
}

#[tokio::test]
async fn a_session_that_exists_remembers_a_choice_and_a_page_restores_nothing() {
    let mut visitor = Visitor::of(&app(CONFIG));
    visitor.get("/locale?to=cy").await;
    assert!(!visitor.cookies.contains_key("id"), "a choice opens no session");
    visitor.sign_in().await;
    visitor.cookies.remove("locale");
    visitor.get("/locale?to=pl").await;
    visitor.cookies.remove("locale");
    assert_eq!(visitor.get("/").await.header("location"), "/pl", "the session knows it");
    let session = visitor.cookies.remove("id").unwrap();
    visitor.cookies.insert("locale".to_owned(), "cy".to_owned());
    assert_eq!(visitor.get("/").await.header("location"), "/cy", "the cookie knows its own");
    visitor.cookies.insert("id".to_owned(), session);
    assert_eq!(visitor.get("/").await.header("location"), "/pl", "the session has not learnt from it");
}

/// A store that counts what is asked of it.
#[derive(Clone, Debug, Default)]
struct Counting {
    sessions: MemoryStore,
    loads: Arc<AtomicUsize>,
    writes: Arc<AtomicUsize>,
}

impl Counting {
    fn loads(&self) -> usize {
        self.loads.load(Ordering::Relaxed)
    }

    fn writes(&self) -> usize {
        self.writes.load(Ordering::Relaxed)
    }
}

#[async_trait]
impl SessionStore for Counting {
    async fn create(&self, record: &mut Record) -> session_store::Result<()> {
        self.writes.fetch_add(1, Ordering::Relaxed);
        self.sessions.create(record).await
    }

    async fn save(&self, record: &Record) -> session_store::Result<()> {
        self.writes.fetch_add(1, Ordering::Relaxed);
        self.sessions.save(record).await
    }

    async fn load(&self, id: &Id) -> session_store::Result<Option<Record>> {
        self.loads.fetch_add(1, Ordering::Relaxed);
        self.sessions.load(id).await
    }

    async fn delete(&self, id: &Id) -> session_store::Result<()> {
        self.writes.fetch_add(1, Ordering::Relaxed);
        self.sessions.delete(id).await
    }
}

#[tokio::test]
async fn reading_pages_creates_no_session_and_sets_no_cookie() {
    let store = Counting::default();
    let app = crow(CONFIG).router(pages()).layer(SessionManagerLayer::new(store.clone()).with_secure(false));
    for turn in 0..1000 {
        let path = ["/", "/sailings/1", "/cy", "/pl/sailings/2", "/EN", "/de", "/assets/x.css"][turn % 7];
        let answer = Visitor::of(&app).with_cookie("locale", "cy").prefers("pl").get(path).await;
        assert_eq!(answer.header("set-cookie"), "", "{path}");
    }
    assert_eq!((store.loads(), store.writes()), (0, 0), "nobody had a session");
}

#[tokio::test]
async fn a_session_is_read_where_the_outcome_can_depend_on_it_and_a_stale_one_is_nothing() {
    let store = Counting::default();
    let sessions = || SessionManagerLayer::new(store.clone()).with_secure(false);
    let stale = Id::default().to_string();
    for (sources, path, reads) in [
        ("['path', 'session', 'cookie']", "/", 1),
        ("['path', 'session', 'cookie']", "/sailings/1", 0),
        ("['path', 'session', 'cookie']", "/cy", 0),
        ("['path', 'session', 'cookie']", "/CY", 0),
        ("['path', 'session', 'cookie']", "/assets/x.css", 0),
        // A source before it decides.
        ("['path', 'cookie', 'session']", "/", 0),
        ("['cookie', 'session']", "/sailings/1", 0),
        ("['session', 'cookie']", "/sailings/1", 1),
        ("['path', 'cookie']", "/", 0),
    ] {
        let config = format!(
            "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nskip = ['/assets']\nsources = {sources}\n"
        );
        let app = crow(&config).router(pages()).layer(sessions());
        let before = store.loads();
        let answer = Visitor::of(&app).with_cookie("id", &stale).with_cookie("locale", "cy").get(path).await;
        assert!(answer.status.is_success() || answer.status.is_redirection(), "{sources} {path}");
        assert_eq!(store.loads() - before, reads, "{sources} {path}");
    }
    assert_eq!(store.writes(), 0);
    // Without `session` among the sources a choice leaves sessions alone, too.
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'cookie']\n";
    let app = crow(config).router(pages()).layer(axum::middleware::from_fn(sign_in)).layer(sessions());
    let mut visitor = Visitor::of(&app);
    visitor.sign_in().await;
    let (loads, writes) = (store.loads(), store.writes());
    visitor.get("/locale?to=cy").await;
    assert_eq!((store.loads(), store.writes()), (loads, writes));
}

#[tokio::test]
async fn a_form_may_be_posted_and_return_to_the_address_in_the_bar() {
    let mut visitor = Visitor::of(&app(CONFIG));
    let answer = visitor.ask(Method::POST, "/locale", "to=pl&return=%2Fcy%2Fteithiau%2F7%3Fa").await;
    assert_eq!(
        (answer.status, answer.header("location")),
        (StatusCode::SEE_OTHER, "/pl/sailings/7?a".to_owned())
    );
    let answer = visitor.ask(Method::POST, "/locale?return=/EN-gb/x", "to=cy").await;
    assert_eq!(answer.header("location"), "/cy/x");
    let refused = visitor.ask(Method::DELETE, "/locale?to=cy", "").await;
    assert_eq!(
        (refused.status, refused.header("allow")),
        (StatusCode::METHOD_NOT_ALLOWED, "GET, HEAD, POST".to_owned())
    );
}

#[tokio::test]
async fn what_is_not_a_choice_is_refused_and_nothing_is_remembered() {
    let app = app(CONFIG);
    for query in
        ["", "to=", "to=de&return=/", "to=../../etc&return=/", "to=cy%0d%0aX:y&return=/", "time-zone=UTC"]
    {
        let mut visitor = Visitor::of(&app);
        let answer = visitor.get(&format!("/locale?{query}")).await;
        assert_eq!(answer.status, StatusCode::BAD_REQUEST, "{query}");
        assert!(visitor.cookies.is_empty() && answer.header("location").is_empty(), "{query}");
    }
    let huge = format!("to=cy&return=/{}", "a".repeat(100_000));
    let refused = Visitor::of(&app).ask(Method::POST, "/locale", &huge).await;
    assert_eq!(refused.status, StatusCode::PAYLOAD_TOO_LARGE);
}

/// A form that never comes to its end.
struct Endless;

impl http_body::Body for Endless {
    type Data = axum::body::Bytes;
    type Error = std::convert::Infallible;

    fn poll_frame(
        self: std::pin::Pin<&mut Self>,
        _: &mut std::task::Context<'_>,
    ) -> std::task::Poll<Option<Result<http_body::Frame<Self::Data>, Self::Error>>> {
        std::task::Poll::Pending
    }
}

#[tokio::test(start_paused = true)]
async fn a_form_that_does_not_arrive_is_not_waited_for() {
    let request = http::Request::post("/locale?to=cy").body(axum::body::Body::new(Endless)).unwrap();
    let begun = tokio::time::Instant::now();
    let answer = tower::ServiceExt::oneshot(app(CONFIG), request).await.unwrap();
    assert_eq!((answer.status(), answer.headers().get("set-cookie")), (StatusCode::REQUEST_TIMEOUT, None));
    assert!(begun.elapsed() < std::time::Duration::from_secs(10));
}

#[tokio::test]
async fn a_return_address_leads_nowhere_else_and_never_spoils_a_choice() {
    let app = app(CONFIG);
    let long = format!("/sailings/7?{}", "a=b&".repeat(1500));
    for (back, location) in [
        // What cannot be used becomes the home page.
        ("https://evil.example/", "/cy"),
        ("javascript:alert(1)", "/cy"),
        ("", "/cy"),
        ("\0", "/cy"),
        ("sailings/7", "/cy"),
        ("/locale?to=pl", "/cy"),
        // What a page of this site may have in its address is kept, and is local.
        ("//evil.example", "/cy//evil.example"),
        ("/\\evil.example", "/cy/%5Cevil.example"),
        ("/\t/evil.example", "/cy/%09/evil.example"),
        ("/a\r\nSet-Cookie: x=y", "/cy/a%0D%0ASet-Cookie:%20x=y"),
        ("/caffè?q=tè#top", "/cy/caff%C3%A8?q=t%C3%A8#top"),
        ("/%ff", "/cy/%ff"),
        ("/assets/x.css", "/assets/x.css"),
        (&long, &long.replace("/sailings", "/cy/teithiau")),
    ] {
        let query = form_urlencoded::Serializer::new(String::new()).append_pair("return", back).finish();
        let answer = Visitor::of(&app).get(&format!("/locale?to=cy&{query}")).await;
        assert_eq!(
            (answer.status, answer.header("location").as_str()),
            (StatusCode::FOUND, location),
            "{back:?}"
        );
        assert!(answer.header("set-cookie").starts_with("locale=cy;"), "{back:?}");
    }
    // Each page's own menu leads back to it.
    let english = Visitor::of(&app).get("/locale?to=en&return=//evil.example").await;
    assert_eq!(english.header("location"), "/.//evil.example");
}

#[tokio::test]
async fn without_a_return_address_the_page_a_visitor_comes_from_is_returned_to() {
    let app = app(CONFIG);
    for (back, referer, location) in [
        ("", "http://ferries.example/pl/sailings/7?a=b", "/cy/teithiau/7?a=b"),
        ("&return=https://evil.example", "https://FERRIES.example/sailings/7", "/cy/teithiau/7"),
        ("&return=/sailings/1", "http://ferries.example/sailings/7", "/cy/teithiau/1"),
        ("", "https://evil.example/sailings/7", "/cy"),
        ("", "https://ferries.example.evil.example/x", "/cy"),
        ("", "https://ferries.example:8080/x", "/cy"),
        ("", "ferries.example/x", "/cy"),
        ("", "https://ferries.example//evil.example", "/cy//evil.example"),
        ("", "https://ferries.example/locale?to=pl", "/cy"),
    ] {
        let headers = [("host", "ferries.example"), ("referer", referer)];
        let answer = Visitor::of(&app).get_with(&format!("/locale?to=cy{back}"), &headers).await;
        assert_eq!(answer.header("location"), location, "{back} {referer}");
    }
}

#[tokio::test]
async fn only_what_a_visitor_does_is_remembered() {
    let app = app(CONFIG);
    for (headers, remembered) in [
        (&[][..], true),
        (&[("sec-fetch-site", "same-origin"), ("sec-fetch-dest", "empty")], true),
        (&[("sec-fetch-site", "none"), ("sec-fetch-dest", "document")], true),
        (&[("sec-fetch-site", "cross-site"), ("sec-fetch-dest", "document")], true),
        (&[("sec-fetch-site", "cross-site"), ("sec-fetch-dest", "image")], false),
        (&[("sec-fetch-site", "cross-site"), ("sec-fetch-dest", "iframe")], false),
        (&[("sec-fetch-site", "cross-site")], false),
        (&[("sec-purpose", "prefetch")], false),
        (&[("sec-purpose", "prefetch;prerender")], false),
        (&[("purpose", "prefetch")], false),
        (&[("sec-purpose", "preview")], true),
    ] {
        let answer = Visitor::of(&app).get_with("/locale?to=cy&return=/sailings/1", headers).await;
        assert_eq!(answer.header("location"), "/cy/teithiau/1", "{headers:?}");
        assert_eq!(!answer.header("set-cookie").is_empty(), remembered, "{headers:?}");
    }
    let head = Visitor::of(&app).ask(Method::HEAD, "/locale?to=cy", "").await;
    assert_eq!((head.status, head.header("set-cookie")), (StatusCode::FOUND, String::new()));
}

#[tokio::test]
async fn a_signed_in_visitors_choice_is_stored_by_the_application() {
    let accounts = Arc::new(Mutex::new(HashMap::from([("7", "pl".to_owned())])));
    let (known, stored) = (Arc::clone(&accounts), Arc::clone(&accounts));
    let config = "default = 'en'\nlocales = ['en', 'cy', 'pl']\n[policy]\nsources = ['path', 'visitor', 'session', 'cookie']\n";
    let layer = CrowFly::new(Config::parse(config).unwrap(), catalogs())
        .layer()
        .visitor_settings(move |_| {
            let locale = known.lock().unwrap().get("7").cloned();
            Box::pin(async move { Some(VisitorSettings::new().with_locale(locale?)) })
        })
        .store_choice(move |request, choice| {
            let stored = Arc::clone(&stored);
            Box::pin(async move {
                if request.headers.contains_key("x-broken") {
                    return Err("the database is away".into());
                }
                let locale = choice.locale().map(ToString::to_string).unwrap_or_default();
                stored.lock().unwrap().insert("7", locale);
                Ok(())
            })
        });
    let app = layer.router(pages());
    let mut visitor = Visitor::of(&app);
    assert_eq!(visitor.get("/").await.header("location"), "/pl");
    visitor.get("/locale?to=cy").await;
    assert_eq!(accounts.lock().unwrap().get("7").map(String::as_str), Some("cy"));
    assert_eq!(visitor.get("/").await.header("location"), "/cy", "the choice wins from now on");
    // Where it cannot be stored, the cookie is set all the same.
    let answer = visitor.get_with("/locale?to=en", &[("x-broken", "1")]).await;
    assert!(answer.header("set-cookie").starts_with("locale=en;"));
}

#[tokio::test]
async fn sessions_of_another_shape_are_passed_over() {
    let sessions = SessionManagerLayer::new(MemoryStore::default()).with_secure(false);
    let spoil = axum::middleware::from_fn(
        |session: Session, request: axum::extract::Request, next: axum::middleware::Next| async move {
            session.insert("locale", ["cy"]).await.unwrap();
            next.run(request).await
        },
    );
    let app = crow(CONFIG).router(pages()).layer(spoil).layer(sessions);
    assert_eq!(Visitor::of(&app).get("/").await.body, "home en words");
    assert_eq!(Visitor::of(&app).prefers("pl").get("/").await.header("location"), "/pl");
}

#[tokio::test]
async fn the_menu_is_the_configuration() {
    let menu = axum::Router::new().route(
        "/page",
        axum::routing::get(|t: crow_fly::Translator| async move {
            let line = |item: &crow_fly::MenuItem| {
                format!("{} {} {} {}", item.locale, item.own_name, item.address, item.current)
            };
            t.menu().iter().map(line).collect::<Vec<_>>().join("\n")
        }),
    );
    let answer = Visitor::of(&crow(CONFIG).router(menu)).get("/cy/page?a=b").await;
    insta::assert_snapshot!(answer.body, @r"
    en English /locale?to=en&return=%2Fpage%3Fa%3Db false
    en-GB British English /locale?to=en-GB&return=%2Fpage%3Fa%3Db false
    cy Cymraeg /locale?to=cy&return=%2Fpage%3Fa%3Db true
    pl polski /locale?to=pl&return=%2Fpage%3Fa%3Db false
    ar العربية /locale?to=ar&return=%2Fpage%3Fa%3Db false
    ");
}
