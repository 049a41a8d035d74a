//! What the source holds at one moment is swapped whole: no page mixes old texts and new ones.

use std::time::Duration;

use axum::Router;
use axum::routing::get;
use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, Watching};
use crow_fly::{Config, CrowFly, Translator};
use tokio::time::sleep;

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{CONFIG, answer, crow, pages, said};

#[tokio::test(start_paused = true)]
async fn a_reload_takes_what_has_changed_and_reads_nothing_else() {
    let source = Controlled::titles();
    source.write("en", "trip", "title = 'Trip'");
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""));
    source.reads();
    source.write("en", "home", "title = 'New ferries'");
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""), "until it is told");
    crow.reload().await.unwrap();
    assert_eq!(source.reads(), ["en/home"]);
    assert_eq!(said(&app, "/").await, answer(200, "New ferries", ""));
    crow.reload().await.unwrap();
    assert_eq!((source.reads().len(), crow.health().generation), (0, Some(2)), "nothing has changed");
}

#[tokio::test]
async fn a_translator_keeps_its_generation() {
    let source = Controlled::new(&[("en", "a", "x = 'a1'"), ("en", "b", "x = 'b1'")]);
    let crow = crow(source.clone(), "eager = ['a']");
    let old = crow.translator(&"en".parse().unwrap()).await.unwrap();
    assert_eq!(old.text("a.x"), "a1");
    source.write("en", "a", "x = 'a2'");
    source.write("en", "b", "x = 'b2'");
    crow.reload().await.unwrap();
    assert_eq!(old.text("a.x"), "a1");
    // Its own `b` is gone: that counts as not loaded, rather than as the new one.
    let error = old.load(["b"]).await.unwrap_err();
    assert_eq!(error.to_string(), "the sections b could not be loaded; the log tells why");
    assert_eq!((old.text("a.x"), old.text("b.x")), ("a1".to_owned(), "b.x".to_owned()));
    let new = crow.translator(&"en".parse().unwrap()).await.unwrap();
    new.load(["b"]).await.unwrap();
    assert_eq!((new.text("a.x"), new.text("b.x")), ("a2".to_owned(), "b2".to_owned()));
}

#[tokio::test]
async fn a_change_that_is_met_while_reading_makes_the_next_generation() {
    let source = Controlled::new(&[("en", "a", "x = 'a1'"), ("en", "b", "x = 'b1'")]);
    let crow = crow(source.clone(), "eager = ['a']");
    let old = crow.translator(&"en".parse().unwrap()).await.unwrap();
    source.write("en", "a", "x = 'a2'");
    source.write("en", "b", "x = 'b2'");
    // Nobody reloads: `b` is asked for as it was listed, and is not that any more.
    assert!(old.load(["b"]).await.is_err());
    let new = crow.translator(&"en".parse().unwrap()).await.unwrap();
    assert_eq!((new.text("a.x"), new.text("b.x")), ("a2".to_owned(), "b2".to_owned()));
    assert_eq!(old.text("a.x"), "a1");
}

#[tokio::test(start_paused = true)]
async fn what_has_become_worse_is_not_taken() {
    let source = Controlled::titles();
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    for path in ["/", "/cy", "/pl"] {
        said(&app, path).await;
    }
    // A broken file, with a good one beside it: neither is taken.
    source.write("en", "home", "title = 'New'\nx = ");
    source.write("cy", "home", "title = 'Newydd'");
    let error = crow.reload().await.unwrap_err();
    insta::assert_snapshot!(error, @"
    the catalogs have an error:
      en/home:2:5: string values must be quoted, expected literal string; correct the file; messages after the mistake may be missing until then
    ");
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    let health = crow.health();
    assert_eq!((health.status.to_string().as_str(), health.generation), ("stale", Some(1)));
    assert!(health.stale[0].starts_with("en/home:2:"), "{:?}", health.stale);
    // It heals by itself.
    source.write("en", "home", "title = 'New'");
    sleep(Duration::from_secs(5)).await;
    assert_eq!(said(&app, "/cy").await, answer(200, "Newydd", ""));
    assert_eq!(crow.health().status.to_string(), "ready");
    // A file that cannot be read, a folder that is gone, a source that is gone.
    source.write("pl", "home", "title = 'Nowe'");
    source.fail("pl/home", true);
    let error = crow.reload().await.unwrap_err().to_string();
    assert!(error.contains("pl/home: pl/home cannot be read: the disk has a hole"), "{error}");
    source.fail("pl/home", false);
    source.remove("cy");
    let error = crow.reload().await.unwrap_err().to_string();
    assert!(error.contains("there are no catalogs of `cy`"), "{error}");
    source.fail_lists(1);
    let error = crow.reload().await.unwrap_err().to_string();
    assert!(error.contains("the harbour store cannot be read"), "{error}");
    assert_eq!(said(&app, "/cy").await, answer(200, "Newydd", ""));
    assert_eq!(said(&app, "/pl").await, answer(200, "Promy", ""));
}

#[tokio::test]
async fn the_generation_is_a_part_of_an_entity_tag() {
    let source = Controlled::titles();
    let tagged = Router::new().route("/", get(|t: Translator| async move { t.etag(7).unwrap() }));
    let crow =
        CrowFly::builder(Config::parse(CONFIG).unwrap()).catalogs(source.clone()).revision("1").build();
    let app = crow.router(tagged);
    let (_, first, _) = said(&app, "/").await;
    assert_eq!(said(&app, "/").await.1, first);
    source.write("cy", "home", "title = 'Newydd'");
    crow.reload().await.unwrap();
    assert_ne!(said(&app, "/").await.1, first);
}

#[tokio::test]
async fn in_development_a_change_shows_at_the_next_request_and_a_broken_save_does_not() {
    let source = Controlled::titles();
    let config = Config::parse(&format!("development = true\n{CONFIG}")).unwrap();
    let crow = CrowFly::new(config, source.clone());
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await.1, "Fferïau");
    source.write("cy", "home", "title = 'Newydd'");
    assert_eq!(said(&app, "/cy").await.1, "Newydd");
    source.write("cy", "home", "title = 'Newydd");
    assert_eq!(said(&app, "/cy").await.1, "Newydd");
    assert_eq!(crow.health().stale.len(), 1);
    source.write("cy", "home", "title = 'Gwell'");
    assert_eq!(said(&app, "/cy").await.1, "Gwell");
    // A section that was not there before.
    source.write("cy", "news", "title = 'Newyddion'");
    assert_eq!(said(&app, "/cy/say/news.title").await.1, "Newyddion");
}

#[tokio::test(start_paused = true)]
async fn the_next_generation_goes_on_with_what_was_being_tried() {
    let source = Controlled::titles();
    source.fail("cy/home", true);
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "Ferries", "no-store"));
    source.write("pl", "home", "title = 'Nowe'");
    crow.reload().await.unwrap();
    assert_eq!(crow.health().generation, Some(2));
    // Nobody asks for Welsh, and it is tried all the same.
    source.fail("cy/home", false);
    source.reads();
    sleep(Duration::from_secs(5)).await;
    assert_eq!(source.reads(), ["cy/home"]);
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
}

#[tokio::test(start_paused = true)]
async fn a_file_that_is_broken_in_two_generations_is_repaired_in_a_third() {
    let source = Controlled::titles();
    source.write("cy", "home", "title = 'Fferïau'\nx =");
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", "no-store"));
    source.write("cy", "home", "title = 'Fferïau newydd'\nx =");
    sleep(Duration::from_secs(5)).await;
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau newydd", "no-store"));
    source.write("cy", "home", "title = 'Fferïau newydd'");
    // The pauses have grown meanwhile.
    sleep(Duration::from_mins(1)).await;
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau newydd", ""));
    assert_eq!(crow.health().living_generations, 1);
}

#[tokio::test]
async fn a_reload_does_not_take_a_listing_that_has_begun_before_it() {
    let source = Controlled::titles();
    let crow = crow(source.clone(), "");
    crow.load_all().await.unwrap();
    source.hold_lists(true);
    let reload = || {
        let crow = crow.clone();
        tokio::spawn(async move { crow.reload().await.map_err(|error| error.to_string()) })
    };
    let first = reload();
    while source.lists() < 2 {
        tokio::task::yield_now().await;
    }
    source.write("cy", "home", "title = 'Fferïau newydd'");
    let second = reload();
    tokio::task::yield_now().await;
    source.hold_lists(false);
    second.await.unwrap().unwrap();
    assert_eq!(crow.translator_for("cy").await.text("home.title"), "Fferïau newydd");
    first.await.unwrap().unwrap();
    assert_eq!(source.lists(), 3);
}

/// A source that is asked every hundred seconds.
#[derive(Debug)]
struct Polled(Controlled);

impl CatalogSource for Polled {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        self.0.list(locales)
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        self.0.read(file)
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }

    fn poll_interval(&self) -> Option<Duration> {
        Some(Duration::from_secs(100))
    }
}

#[tokio::test(start_paused = true)]
async fn a_source_is_polled_about_as_often_as_it_asks_for() {
    let source = Controlled::titles();
    let crow = crow(Polled(source.clone()), "");
    crow.translator_for("en").await;
    // A tenth earlier or later.
    sleep(Duration::from_secs(89)).await;
    assert_eq!(source.lists(), 1);
    sleep(Duration::from_secs(22)).await;
    assert_eq!(source.lists(), 2);
    for _ in 0..10 {
        sleep(Duration::from_secs(100)).await;
    }
    assert!((10..=13).contains(&source.lists()), "{}", source.lists());
}

#[test]
fn polling_goes_on_in_the_next_runtime() {
    let source = Controlled::titles();
    let crow = crow(Polled(source.clone()), "");
    for lists in [2, 4] {
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().start_paused(true).build();
        runtime.unwrap().block_on(async {
            crow.reload().await.unwrap();
            sleep(Duration::from_secs(111)).await;
        });
        // The reload, and one poll; then the task dies with its runtime.
        assert_eq!(source.lists(), lists);
    }
}

#[tokio::test(start_paused = true)]
async fn a_broken_file_is_looked_at_until_it_is_repaired() {
    let source = Controlled::titles();
    source.write("cy", "home", "x =");
    let crow = crow(source.clone(), "");
    crow.translator_for("cy").await;
    assert_eq!(crow.health().status.as_str(), "degraded");
    sleep(Duration::from_mins(1)).await;
    assert!(source.lists() > 3, "{}", source.lists());
    source.write("cy", "home", "title = 'Fferïau'");
    sleep(Duration::from_secs(90)).await;
    assert_eq!((crow.health().status.as_str(), crow.health().generation), ("ready", Some(2)));
    let lists = source.lists();
    sleep(Duration::from_mins(5)).await;
    assert_eq!(source.lists(), lists, "nothing is waited for any more");
}

#[test]
fn a_listing_whose_task_has_died_is_begun_again_by_a_request_that_lacks_something() {
    let runtime = || tokio::runtime::Builder::new_current_thread().enable_all().start_paused(true).build();
    let source = Controlled::titles();
    source.fail("cy/home", true);
    let crow = crow(source.clone(), "");
    runtime().unwrap().block_on(async {
        crow.translator_for("cy").await;
        source.fail_lists(1);
        crow.reload().await.unwrap_err();
    });
    let lists = source.lists();
    runtime().unwrap().block_on(async {
        sleep(Duration::from_secs(61)).await;
        assert_eq!(source.lists(), lists, "nobody has asked");
        crow.translator_for("en").await;
        tokio::task::yield_now().await;
        assert_eq!(source.lists(), lists, "everything is there");
        crow.translator_for("cy").await;
        tokio::task::yield_now().await;
        assert_eq!(source.lists(), lists + 1);
    });
}
