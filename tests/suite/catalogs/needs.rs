//! Sections come into memory before the handler: all of a locale, or those that are declared.

use axum::Router;
use axum::routing::get;
use crow_fly::web::{MissingSections, Sections, TranslatorWith};
use crow_fly::{Config, NotLoaded, Presence, Translator};

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{CONFIG, answer, ask, crow, pages, said};

fn site() -> Controlled {
    let source = Controlled::titles();
    for (locale, word) in [("en", "Book"), ("cy", "Archebu")] {
        source.write(locale, "booking", &format!("title = '{word}'\nlate = '{word} late'"));
        source.write(locale, "prices", "fare = 'Fare'");
        source.write(locale, "news", &format!("title = 'News {locale}'"));
    }
    source
}

fn sorted(source: &Controlled) -> Vec<String> {
    let mut reads = source.reads();
    reads.sort();
    reads
}

#[tokio::test]
async fn with_nothing_declared_a_locales_sections_load_together() {
    let source = site();
    let app = crow(source.clone(), "").router(pages());
    ask(&app, "/").await;
    assert_eq!(sorted(&source), ["en/booking", "en/home", "en/news", "en/prices"]);
}

#[tokio::test]
async fn what_is_declared_for_a_page_is_there_before_its_handler() {
    let source = site();
    let catalogs = "eager = ['home']\n[catalogs.needs]\n'/say/{key}' = ['booking', 'prices']\n'/news/{*path}' = ['news']\n[paths]\n'/news/{id}' = { cy = '/newyddion/{id}' }";
    let news = Router::new().route("/news/{id}", get(|t: Translator| async move { t.text("news.title") }));
    let app = crow(source.clone(), catalogs).router(pages().merge(news));
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    assert_eq!(sorted(&source), ["cy/home", "en/home"]);
    assert_eq!(said(&app, "/cy/say/booking.title").await, answer(200, "Archebu", ""));
    assert_eq!(sorted(&source), ["cy/booking", "cy/prices", "en/booking", "en/prices"]);
    // By the bare path, also where the address is translated.
    assert_eq!(said(&app, "/cy/newyddion/7").await, answer(200, "News cy", ""));
    assert_eq!(sorted(&source), ["cy/news", "en/news"]);
    assert_eq!(said(&app, "/cy/say/booking.title").await, answer(200, "Archebu", ""));
    assert_eq!(sorted(&source), [""; 0]);
}

/// The pages of an area load what they need, whatever the prefixes of the site skip.
#[tokio::test]
async fn an_area_loads_what_its_pages_need() {
    let source = site();
    let catalogs = "eager = ['home']\n[catalogs.needs]\n'/say/{*rest}' = ['booking']\n'/say/{key}' = ['prices']\n[areas.'/say']\nsources = ['accept-language']\n[policy]\nskip = ['/say/files']";
    let app = crow(source.clone(), catalogs).router(pages());
    assert_eq!(said(&app, "/say/booking.title").await, answer(200, "Book", ""));
    assert_eq!(sorted(&source), ["en/booking", "en/home", "en/prices"]);
    // What is skipped in an area is skipped.
    let refused = format!("{CONFIG}[catalogs]\n{}", catalogs.replace("'/say/{key}'", "'/say/files/x'"));
    let error = Config::parse(&refused).unwrap_err().to_string();
    assert!(error.contains("this path is skipped, so that nothing is loaded before its pages"), "{error}");
}

/// Code on a skipped path that cannot wait has what every page needs.
#[tokio::test(start_paused = true)]
async fn code_that_cannot_wait_has_what_every_page_needs_on_skipped_paths() {
    let files = Router::new().route(
        "/files/x",
        get(|| async {
            let t = crow_fly::current().unwrap();
            format!("{} {}", t.text("home.title"), t.text("booking.title"))
        }),
    );
    let catalogs = "eager = ['home']\n[policy]\nskip = ['/files']";
    let source = site();
    let app = crow(source.clone(), catalogs).router(files.clone());
    assert_eq!(said(&app, "/files/x").await, answer(200, "Ferries booking.title", ""));
    // A source that hangs holds one of these requests back, as long as a page waits, and no other.
    let source = site();
    source.hold(true);
    let app = crow(source.clone(), catalogs).router(files);
    let mut waited = Vec::new();
    for _ in 0..3 {
        let begun = tokio::time::Instant::now();
        assert_eq!(said(&app, "/files/x").await, answer(200, "home.title booking.title", ""));
        waited.push(begun.elapsed().as_secs());
    }
    assert_eq!(waited, [2, 0, 0]);
}

struct Booking;

impl Sections for Booking {
    const NAMES: &'static [&'static str] = &["booking"];
}

async fn loading(t: Translator) -> Result<String, NotLoaded> {
    assert_eq!((t.has("booking.title"), t.has("home.nothing")), (Presence::NotLoaded, Presence::No));
    assert_eq!(t.keys("booking"), None);
    t.load(["booking"]).await?;
    assert_eq!((t.has("booking.title"), t.has("booking.nothing")), (Presence::Yes, Presence::No));
    assert_eq!(t.keys("booking").unwrap(), ["booking.title", "booking.late"]);
    assert!(t.has_when_loaded("prices.fare").await && !t.has_when_loaded("news.fare").await);
    Ok(t.text("booking.title"))
}

#[tokio::test]
async fn a_handler_names_its_sections_by_an_extractor_or_a_call() {
    let source = site();
    let booking = Router::new()
        .route("/book", get(|t: TranslatorWith<Booking>| async move { t.text("booking.title") }))
        .route("/load", get(loading));
    let app = crow(source.clone(), "eager = ['home']").router(booking.clone());
    assert_eq!(said(&app, "/cy/load").await, answer(200, "Archebu", ""));
    let app = crow(source.clone(), "eager = ['home']").router(booking.clone());
    assert_eq!(said(&app, "/cy/book").await, answer(200, "Archebu", ""));
    // In one locale of the chain is enough, but not for a cache.
    source.fail("cy/booking", true);
    let app = crow(source.clone(), "eager = ['home']").router(booking.clone());
    assert_eq!(said(&app, "/cy/book").await, answer(200, "Book", "no-store"));
    let app = crow(source.clone(), "eager = ['home']").router(booking.clone());
    assert_eq!(said(&app, "/cy/load").await, answer(503, "", "no-store"), "the handler insists");
    source.fail("en/booking", true);
    let app = crow(source.clone(), "eager = ['home']").router(booking.clone());
    let refused = ask(&app, "/cy/book").await;
    assert_eq!((refused.status, refused.retry_after.as_str()), (503, "2"));
    let app = crow(source, "eager = ['home']\non-failure = 'serve'").router(booking.clone());
    assert_eq!(said(&app, "/cy/book").await, answer(200, "booking.title", "no-store"));
    let error = MissingSections::Layer(crow_fly::MissingLayer).to_string();
    assert!(error.starts_with("a handler asks for a translator"), "{error}");
}

#[tokio::test]
async fn a_section_that_nobody_named_is_answered_from_the_chain_and_loaded_once() {
    let source = site();
    let crow = crow(source.clone(), "eager = ['home']\n[chains]\npl = ['cy']");
    let app = crow.router(pages());
    ask(&app, "/").await;
    source.reads();
    source.hold(true);
    for _ in 0..20 {
        assert_eq!(said(&app, "/say/booking.title").await, answer(200, "booking.title", "no-store"));
    }
    source.hold(false);
    // A call waits for the load that the texts have started.
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    t.load(["booking"]).await.unwrap();
    assert_eq!(source.reads(), ["en/booking"]);
    assert_eq!(said(&app, "/say/booking.title").await, answer(200, "Book", ""));
    // Where a nearer locale may have it, the text of a farther one is preliminary.
    t.load(["booking"]).await.unwrap();
    let welsh = said(&app, "/cy/say/booking.title").await;
    assert_eq!(welsh, answer(200, "Book", "no-store"));
}

#[tokio::test]
async fn a_text_without_a_runtime_asks_for_nothing() {
    let source = site();
    let crow = crow(source.clone(), "eager = ['home']");
    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    let inner = t.clone();
    let text = std::thread::spawn(move || inner.text("booking.title")).join().unwrap();
    assert_eq!(text, "booking.title");
    source.reads();
    // On a runtime a later text may.
    t.text("booking.title");
    t.load(["booking"]).await.unwrap();
    assert_eq!(sorted(&source), ["cy/booking", "en/booking"]);
}

#[test]
fn needs_are_checked() {
    for (catalogs, error) in [
        (
            "eager = ['home page']",
            "`home page` cannot name a section; use the name of its file without `.toml`: `booking`",
        ),
        ("[catalogs.needs]\n'say' = ['home']", "`say` is not a path: a path pattern begins with one slash"),
        (
            "[catalogs.needs]\n'/assets/x' = ['home']\n[policy]\nskip = ['/assets']",
            "this path is skipped, so that nothing is loaded before its pages",
        ),
        ("inherits = ['de']", "`de` is not one of the locales"),
        ("wait-seconds = 0", "`0` is not a time to wait"),
        ("load-seconds = nan", "`NaN` is not a time to wait"),
        ("idle-minutes = -1", "`-1` is not a time to wait"),
        ("on-failure = 'panic'", "`panic` cannot be written here; write one of `refuse`, `serve`"),
    ] {
        let found = Config::parse(&format!("{CONFIG}[catalogs]\n{catalogs}")).unwrap_err().to_string();
        assert!(found.contains(error), "{catalogs}: {found}");
    }
    let built = Config::builder(["en", "cy"])
        .eager(["home"])
        .needs("/say/{key}", ["booking"])
        .inherits(["cy"])
        .wait_seconds(1.0)
        .load_seconds(10.0)
        .serve_without_catalogs()
        .idle_minutes(30.0)
        .max_megabytes(64)
        .build();
    assert!(built.is_ok(), "{built:?}");
}
