//! Loads are tasks of their own: one for any number of requests, within limits, tried again where they fail.

use std::sync::{Arc, Mutex, mpsc};
use std::time::Duration;

use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, Watching};
use crow_fly::{Config, CrowFly};
use tokio::time::{Instant, advance, sleep, timeout};

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{answer, ask, crow, pages, said};

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn two_hundred_cold_requests_make_one_load_a_section() {
    let source = Controlled::titles();
    source.write("pl", "trip", "title = 'Podróż'");
    let app = crow(source.clone(), "").router(pages());
    assert_eq!((source.lists(), source.reads().len()), (0, 0), "nothing is read at the start");
    let tasks: Vec<_> = (0..200)
        .map(|_| {
            let app = app.clone();
            tokio::spawn(async move { ask(&app, "/pl").await.body })
        })
        .collect();
    for task in tasks {
        assert_eq!(task.await.unwrap(), "Promy");
    }
    let mut reads = source.reads();
    reads.sort();
    assert_eq!(reads, ["en/home", "pl/home", "pl/trip"]);
    assert_eq!(source.lists(), 1);
}

#[tokio::test(start_paused = true)]
async fn a_load_is_finished_though_all_who_wait_leave() {
    let source = Controlled::titles();
    source.hold(true);
    let app = crow(source.clone(), "").router(pages());
    for _ in 0..10 {
        assert!(timeout(Duration::from_millis(200), ask(&app, "/cy")).await.is_err(), "the visitor has left");
    }
    source.hold(false);
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    let mut reads = source.reads();
    reads.sort();
    assert_eq!(reads, ["cy/home", "en/home"], "one load, for all of them");
}

#[tokio::test(start_paused = true)]
async fn the_members_of_a_chain_load_at_the_same_time() {
    let source = Controlled::titles();
    source.hold(true);
    let app = crow(source.clone(), "").router(pages());
    assert!(timeout(Duration::from_millis(200), ask(&app, "/cy")).await.is_err());
    assert_eq!(source.most_open(), 2);
}

#[tokio::test(start_paused = true)]
async fn a_request_waits_two_seconds_and_a_load_may_take_thirty() {
    let source = Controlled::titles();
    source.hold(true);
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert!(timeout(Duration::from_millis(200), ask(&app, "/cy")).await.is_err());
    assert_eq!(crow.health().status.to_string(), "not-loaded", "nobody has waited in vain so far");
    advance(Duration::from_secs(2)).await;
    let started = Instant::now();
    let refused = ask(&app, "/cy").await;
    assert_eq!((refused.status, refused.body.as_str()), (503, ""));
    assert_eq!((refused.cache_control.as_str(), refused.retry_after.as_str()), ("no-store", "2"));
    assert_eq!(started.elapsed().as_secs(), 2);
    assert_eq!(crow.health().status.to_string(), "hanging");
    // Until then it is one load; after it, the source is asked again within a second.
    advance(Duration::from_secs(27)).await;
    assert_eq!(source.reads().len(), 2);
    sleep(Duration::from_secs(3)).await;
    assert_eq!(source.reads().len(), 2, "each of the two is tried again");
    source.hold(false);
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    assert_eq!(crow.health().status.to_string(), "ready");
}

#[tokio::test(start_paused = true)]
async fn limits_are_configured() {
    let source = Controlled::titles();
    source.hold(true);
    let app = crow(source.clone(), "wait-seconds = 0.25\nload-seconds = 5").router(pages());
    let started = Instant::now();
    assert_eq!(ask(&app, "/cy").await.status, 503);
    assert_eq!(started.elapsed().as_millis(), 250);
    source.reads();
    sleep(Duration::from_millis(6_100)).await;
    assert_eq!(source.reads().len(), 2, "after five seconds and a pause");
}

#[test]
fn a_load_is_started_again_where_its_runtime_has_died() {
    let source = Controlled::titles();
    source.hold(true);
    let crow = crow(source.clone(), "");
    let runtime =
        || tokio::runtime::Builder::new_current_thread().enable_all().start_paused(true).build().unwrap();
    let app = crow.router(pages());
    let first = runtime();
    assert_eq!(first.block_on(ask(&app, "/cy")).status, 503);
    let (waiter, waiting) = (app.clone(), runtime());
    // Somebody on another runtime waits for the load of the first when that one goes.
    let asked = std::thread::spawn(move || waiting.block_on(async { ask(&waiter, "/cy").await }));
    drop(first);
    source.hold(false);
    let found = asked.join().unwrap();
    assert!(matches!(found.status, 200 | 503), "{found:?}");
    assert_eq!(runtime().block_on(said(&app, "/cy")), answer(200, "Fferïau", ""));
}

#[tokio::test(start_paused = true)]
async fn failures_are_retried_with_growing_pauses_and_heal() {
    let source = Controlled::titles();
    source.fail("cy/home", true);
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    // The chain answers meanwhile, and no cache keeps that.
    for _ in 0..5 {
        assert_eq!(said(&app, "/cy").await, answer(200, "Ferries", "no-store"));
    }
    assert_eq!(source.reads().iter().filter(|read| *read == "cy/home").count(), 1, "not tried at once");
    assert_eq!(source.lists(), 1, "a file that cannot be read has not changed");
    assert_eq!(crow.health().status.to_string(), "degraded");
    let mut attempts = Vec::new();
    let started = Instant::now();
    while started.elapsed() < Duration::from_mins(5) {
        sleep(Duration::from_millis(100)).await;
        if source.reads().iter().any(|read| read == "cy/home") {
            attempts.push(started.elapsed().as_secs_f64());
        }
    }
    for (number, pair) in std::iter::once(&0.0).chain(&attempts).collect::<Vec<_>>().windows(2).enumerate() {
        let pause = pair[1] - pair[0];
        let longest = f64::from(1 << number.min(6)).min(60.0);
        assert!(
            pause >= longest / 2.0 - 0.11 && pause <= longest + 0.11,
            "{number}: {pause} in {attempts:?}"
        );
    }
    source.fail("cy/home", false);
    sleep(Duration::from_secs(61)).await;
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    assert_eq!(crow.health().status.to_string(), "ready");
}

#[tokio::test(start_paused = true)]
async fn a_reload_tries_at_once_what_has_failed() {
    let source = Controlled::titles();
    source.fail("cy/home", true);
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "Ferries", "no-store"));
    source.fail("cy/home", false);
    assert_eq!(said(&app, "/cy").await, answer(200, "Ferries", "no-store"), "not before its time");
    crow.reload().await.unwrap();
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    assert_eq!(crow.health().generation, Some(1));
}

#[tokio::test(start_paused = true)]
async fn a_source_that_cannot_be_listed_at_first_heals() {
    let source = Controlled::titles();
    source.fail_lists(3);
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(ask(&app, "/cy").await.status, 503);
    assert_eq!(crow.health().status.to_string(), "failed");
    assert!(
        crow.health().stale[0].contains("the harbour store cannot be read: it is not there"),
        "{:?}",
        crow.health()
    );
    // Nobody asks meanwhile.
    sleep(Duration::from_secs(1 + 2 + 4 + 1)).await;
    assert_eq!(source.lists(), 4);
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
}

#[tokio::test(start_paused = true)]
async fn a_request_may_be_served_without_catalogs() {
    let source = Controlled::titles();
    source.fail_lists(1);
    let app = crow(source, "on-failure = 'serve'").router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "home.title", "no-store"));
}

/// A source whose disk hangs: its reads block threads.
#[derive(Clone, Debug)]
struct HangingDisk {
    inner: Controlled,
    reads: Arc<Mutex<usize>>,
    /// Closed when the disk answers again.
    hangs: Arc<Mutex<mpsc::Receiver<()>>>,
}

impl CatalogSource for HangingDisk {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        self.inner.list(locales)
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let (reads, hangs) = (Arc::clone(&self.reads), Arc::clone(&self.hangs));
        let _ = file;
        Answer::blocking(move || {
            *reads.lock().unwrap() += 1;
            let _ = hangs.lock().unwrap().recv();
            Ok(b"title = 'Ferries'".to_vec())
        })
    }

    fn watch(&self, changed: Changed) -> Option<Watching> {
        self.inner.watch(changed)
    }
}

#[tokio::test]
async fn a_text_outside_of_a_runtime_leaves_the_load_to_a_later_one() {
    let source = Controlled::titles();
    source.write("en", "trip", "title = 'Trip'");
    let crow = crow(source.clone(), "eager = ['home']");
    // Welsh has no such section: nothing is begun for it.
    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    source.reads();
    let there = t.clone();
    let thread = std::thread::spawn(move || there.text("trip.title"));
    assert_eq!(thread.join().unwrap(), "trip.title");
    assert!(source.reads().is_empty());
    assert_eq!(t.text("trip.title"), "trip.title");
    tokio::task::yield_now().await;
    assert_eq!(source.reads(), ["en/trip"]);
    // The load is on its way: no other text begins one.
    t.text("trip.title");
    assert_eq!(t.load(["trip"]).await.map(|()| t.text("trip.title")).ok().as_deref(), Some("Trip"));
    assert!(source.reads().is_empty());
    assert_eq!((crow.health().loads, crow.health().failures), (3, 0));
}

/// A source that never tells what files it has.
#[derive(Debug)]
struct Silent;

impl CatalogSource for Silent {
    fn list<'a>(&'a self, _: &'a [String]) -> Answer<'a, Listing> {
        Answer::waiting(std::future::pending())
    }

    fn read(&self, _: &ListedFile) -> Answer<'_, Vec<u8>> {
        Answer::waiting(std::future::pending())
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

#[tokio::test(start_paused = true)]
async fn a_source_that_lists_nothing_hangs_once_a_request_has_waited_in_vain() {
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en', 'cy']\n");
    let crow = CrowFly::new(config.unwrap(), Silent);
    let app = crow.router(pages());
    let status = || crow.health().status.to_string();
    assert_eq!(status(), "not-loaded");
    assert!(timeout(Duration::from_millis(200), ask(&app, "/cy")).await.is_err());
    assert_eq!(status(), "not-loaded", "a source may take a moment");
    assert_eq!(ask(&app, "/cy").await.status, 503);
    assert_eq!(status(), "hanging");
    // After half a minute the load is given up, and begun again.
    sleep(Duration::from_secs(29)).await;
    assert_eq!(status(), "hanging");
    assert_eq!((crow.health().failures, crow.health().generation), (1, None));
}

#[tokio::test]
async fn a_disk_that_hangs_holds_one_thread_for_each_file() {
    let (answer_again, hangs) = mpsc::channel();
    let source = HangingDisk {
        inner: Controlled::new(&[("en", "home", "")]),
        reads: Arc::default(),
        hangs: Arc::new(Mutex::new(hangs)),
    };
    let config = "development = false\ndefault = 'en'\nlocales = ['en']\n[catalogs]\nwait-seconds = 0.01\nload-seconds = 0.02\n";
    let crow = CrowFly::new(Config::parse(config).unwrap(), source.clone());
    let app = crow.router(pages());
    // Long enough for the load to be given up, and begun again.
    while crow.health().failures < 3 {
        assert_eq!(ask(&app, "/").await.status, 503);
        let _ = timeout(Duration::from_millis(5), crow.reload()).await;
    }
    assert_eq!(*source.reads.lock().unwrap(), 1, "the file is not opened again while it hangs");
    assert_eq!(crow.health().status.as_str(), "hanging");
    drop(answer_again);
    while ask(&app, "/").await.status == 503 {}
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""));
}
