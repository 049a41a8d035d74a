//! What the log says. Alone in its binary: a log is of the whole process.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::sync::{Arc, Mutex};

use axum::Router;
use axum::body::Body;
use axum::http::Request;
use axum::routing::get;
use crow_fly::source::{Directory, Memory};
use crow_fly::{Config, CrowFly, Translator};
use tower::ServiceExt;
use tracing_subscriber::filter::LevelFilter;
use tracing_subscriber::fmt::MakeWriter;

/// The log of a test, as lines.
#[derive(Clone, Default)]
struct Log(Arc<Mutex<Vec<u8>>>);

impl std::io::Write for Log {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0.lock().unwrap().extend_from_slice(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

impl MakeWriter<'_> for Log {
    type Writer = Self;

    fn make_writer(&self) -> Self {
        self.clone()
    }
}

/// The log as it is so far.
fn said(log: &Log) -> String {
    String::from_utf8(log.0.lock().unwrap().clone()).unwrap()
}

/// Asks for a page with some headers.
async fn ask(app: &Router, path: &str, headers: &[(&str, &str)]) -> u16 {
    let request =
        headers.iter().fold(Request::get(path), |request, (name, value)| request.header(*name, *value));
    app.clone().oneshot(request.body(Body::empty()).unwrap()).await.unwrap().status().as_u16()
}

/// In development: the page and the section that is to be declared for it.
async fn what_is_to_be_declared_is_in_the_log(log: &Log) {
    let config = "development = true\ndefault = 'en'\nlocales = ['en']\n[catalogs]\neager = []\n";
    let catalogs = Memory::new([("en", "booking", "title = 'Book'")]);
    // Two texts of one page are told of once.
    let texts = |t: Translator| async move { t.text("booking.title") + &t.text("booking.title") };
    let page = Router::new().route("/book", get(texts));
    let app = CrowFly::new(Config::parse(config).unwrap(), catalogs).router(page);
    assert_eq!(ask(&app, "/book", &[]).await, 200);
    let line = "a text of a section that is not loaded: name the section for this page in `[catalogs.needs]`, or in its handler path=\"/book\" section=\"booking\" key=\"booking.title\" locale=en";
    assert_eq!(said(log).matches(line).count(), 1, "{}", said(log));
}

/// A section of the configuration that no locale has, and a file that is not read: told once, however often it is listed.
async fn a_misspelled_section_is_in_the_log(log: &Log) {
    let config =
        "development = false\ndefault = 'en'\nlocales = ['en']\n[catalogs]\neager = ['quay', 'hoem']\n";
    let catalogs = Memory::new([("en", "quay", "title = 'Quay'")]);
    CrowFly::new(Config::parse(config).unwrap(), catalogs).translator_for("en").await;
    let told = |section: &str| {
        let line = format!("the configuration names a section that no locale has section=\"{section}\"");
        said(log).matches(&line).count()
    };
    assert_eq!((told("hoem"), told("quay")), (1, 0), "{}", said(log));

    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("en")).unwrap();
    std::fs::write(folder.path().join("en/the quay.toml"), "").unwrap();
    std::fs::write(folder.path().join("en/quay.toml"), "title = 'Quay'").unwrap();
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en']").unwrap();
    let crow = CrowFly::new(config, Directory::new(folder.path()));
    crow.translator_for("en").await;
    for title in ["title = 'The quay'", "title = 'A quay'"] {
        std::fs::write(folder.path().join("en/quay.toml"), title).unwrap();
        crow.reload().await.unwrap();
    }
    assert_eq!(said(log).matches("the quay.toml` is not read").count(), 1, "{}", said(log));
    // A mistake that keeps the catalogs as they are, too.
    std::fs::write(folder.path().join("en/quay.toml"), "title = 'The").unwrap();
    for _ in 0..2 {
        assert!(crow.reload().await.is_err());
    }
    assert_eq!(said(log).matches("the catalogs stay as they were").count(), 1, "{}", said(log));
}

/// What is wrong around the application: told once, in words that say what to do.
async fn what_was_forgotten_is_in_the_log(log: &Log) {
    let page = || Router::new().route("/", get(|t: Translator| async move { t.text("home.words") }));
    assert_eq!(ask(&page(), "/", &[]).await, 500);
    assert!(said(log).contains(
        "ERROR crow_fly::layer: a handler asks for a translator, but the layer has not run for this request"
    ));

    let built = |secure: &str| {
        let text = format!("default = 'en'\nlocales = ['en', 'cy']\n[remember]\nsecure = {secure}\n");
        CrowFly::new(Config::parse(&text).unwrap(), Memory::default()).router(page())
    };
    let shop = CrowFly::new(
        Config::parse("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nbase = '/shop'\n").unwrap(),
        Memory::default(),
    );
    let nested = Router::new().nest("/shop", shop.router(Router::new().route("/cart", get(async || "cart"))));
    for path in ["/shop/cart", "/shop/cart"] {
        assert_eq!(ask(&nested, path, &[]).await, 200);
    }
    assert_eq!(said(log).matches("set `base-stripped = true` in `[policy]`").count(), 1, "{}", said(log));

    let warning = "a choice was made over plain HTTP: browsers do not keep its cookie, which is `Secure`";
    let here = ("host", "ferries.example");
    let app = built("true");
    for headers in [
        &[here][..],
        &[here, ("referer", "https://ferries.example/")],
        &[here, ("referer", "http://elsewhere.example/")],
        &[("host", "localhost:4080"), ("referer", "http://localhost:4080/")],
        &[here, ("x-forwarded-proto", "https"), ("referer", "http://ferries.example/")],
    ] {
        assert_eq!(ask(&app, "/locale?to=cy", headers).await, 302);
        assert!(!said(log).contains(warning), "{headers:?}");
    }
    let plain = [here, ("referer", "http://ferries.example/")];
    ask(&built("false"), "/locale?to=cy", &plain).await;
    assert!(!said(log).contains(warning));
    ask(&app, "/locale?to=cy", &plain).await;
    ask(&app, "/locale?to=cy", &plain).await;
    ask(&app, "/locale?to=cy", &[here, ("x-forwarded-proto", "http")]).await;
    assert_eq!(said(log).matches(warning).count(), 1, "it is said once");
    ask(&app, "/locale?to=de", &[]).await;
    assert!(
        said(log).contains("a choice was refused reason=\"`to` is not one of the application's locales\"")
    );
    ask(&app, "/cy/x", &[]).await;
    assert!(
        said(log).contains("decided path=\"/cy/x\" locale=\"cy\" source=path outcome=\"serve\""),
        "{}",
        said(log)
    );
}

#[tokio::test]
async fn the_log_says_what_was_read_and_what_was_missing() {
    let log = Log::default();
    tracing_subscriber::fmt()
        .with_writer(log.clone())
        .with_ansi(false)
        .without_time()
        .with_max_level(LevelFilter::TRACE)
        .init();
    let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']").unwrap();
    let catalogs = Memory::new([
        ("en", "home", "only-english = 'Only English'"),
        ("cy", "home", "hello = 'Helo, {$name}: {$seats :number}'\nwords = 'geiriau'\nbroken = '{$'"),
    ]);
    let welsh = CrowFly::new(config, catalogs).translator(&"cy".parse().unwrap()).await.unwrap();
    welsh.text("home.only-english");
    welsh.text("home.nothing");
    welsh.text("home.hello");
    let _ = welsh.clone().with_time_zone("US/Pacific-New".parse().unwrap());
    let lines = said(&log);
    for part in [
        "read locale=\"cy\" section=\"home\" from=\"memory: cy/home.toml\"",
        "place=\"memory: cy/home.toml:3:13\"",
        "generation of catalogs generation=1 identity=",
        "section loaded locale=\"cy\" section=\"home\" messages=3 elapsed=",
        "the zone database does not have this time zone: the default is used; update the database time_zone=US/Pacific-New",
        "the text is in another language of the chain key=\"home.only-english\" locale=cy from=en",
        "no text for `home.nothing` in `cy` or `en` key=\"home.nothing\" locale=cy file=\"memory: cy/home.toml\" default=false count=1",
        "a message was formatted with errors key=\"home.hello\" locale=cy place=\"memory: cy/home.toml:1\" errors=no argument was given for `{$name}`; give the argument `name` | no argument was given for `{$seats}`; give the argument `seats`",
    ] {
        assert!(lines.contains(part), "{part} is not in\n{lines}");
    }
    assert_eq!(lines.matches("formatted with errors").count(), 1, "{lines}");
    assert!(
        lines.contains("found key=\"home.hello\" locale=cy from=cy place=memory: cy/home.toml:1"),
        "where each key was found: {lines}"
    );
    for _ in 0..200 {
        welsh.text("home.nothing");
    }
    assert_eq!(said(&log).matches("no text for `home.nothing`").count(), 3, "at 1, 10 and 100");
    what_is_to_be_declared_is_in_the_log(&log).await;
    a_misspelled_section_is_in_the_log(&log).await;
    what_was_forgotten_is_in_the_log(&log).await;
}
