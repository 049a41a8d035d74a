//! A source that stalls, fails, truncates and changes, under load.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;

use axum::Router;
use axum::routing::get;
use crow_fly::Translator;
use proptest::prelude::*;

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{ask, crow};

/// A page of texts that all tell the release they are from: those of three sections, in two locales.
fn page() -> Router {
    Router::new().route(
        "/",
        get(|t: Translator| async move {
            let mut said = Vec::new();
            for section in ["a", "b", "c"] {
                said.push(t.text(format!("{section}.own").as_str()));
                tokio::task::yield_now().await;
                said.push(t.text(format!("{section}.only-english").as_str()));
            }
            said.join(" ")
        }),
    )
}

/// Writes all files of a release; a half-written one has a mistake at its end.
fn release(source: &Controlled, number: usize, half: Option<usize>) {
    for (place, section) in ["a", "b", "c"].into_iter().enumerate() {
        let end = if half == Some(place) { "\nx =" } else { "" };
        source.write("en", section, &format!("own = '{number}'\nonly-english = '{number}'{end}"));
        source.write("cy", section, &format!("own = '{number}'"));
    }
}

/// What happens to the source.
#[derive(Clone, Debug)]
enum Trouble {
    Hold(bool),
    Fail(&'static str, bool),
    FailLists(u32),
    Release,
    HalfRelease(usize),
    Reload,
    Wait(u64),
}

fn trouble() -> impl Strategy<Value = Trouble> {
    let file = prop_oneof![Just("en/a"), Just("cy/a"), Just("cy/b"), Just("en/c")];
    prop_oneof![
        any::<bool>().prop_map(Trouble::Hold),
        (file, any::<bool>()).prop_map(|(file, fails)| Trouble::Fail(file, fails)),
        (0..3u32).prop_map(Trouble::FailLists),
        Just(Trouble::Release),
        (0..3usize).prop_map(Trouble::HalfRelease),
        Just(Trouble::Reload),
        (0..5_000u64).prop_map(Trouble::Wait),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, ..ProptestConfig::default() })]

    #[test]
    fn no_request_fails_no_page_is_mixed_and_all_heals(troubles in proptest::collection::vec(trouble(), 1..25)) {
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().start_paused(true).build().unwrap();
        runtime.block_on(async {
            let source = Controlled::new(&[("pl", "a", "own = '0'")]);
            release(&source, 0, None);
            let crow = crow(source.clone(), "wait-seconds = 0.1\nload-seconds = 2");
            let app = crow.router(page());
            let mut number = 0;
            assert_eq!(ask(&app, "/cy").await.body, "0 0 0 0 0 0");
            for trouble in troubles {
                match trouble {
                    Trouble::Hold(held) => source.hold(held),
                    Trouble::Fail(file, fails) => source.fail(file, fails),
                    Trouble::FailLists(times) => source.fail_lists(times),
                    Trouble::Release => {
                        number += 1;
                        release(&source, number, None);
                    }
                    Trouble::HalfRelease(half) => {
                        number += 1;
                        release(&source, number, Some(half));
                    }
                    Trouble::Reload => {
                        let _ = tokio::time::timeout(Duration::from_millis(50), crow.reload()).await;
                    }
                    Trouble::Wait(time) => tokio::time::sleep(Duration::from_millis(time)).await,
                }
                for path in ["/", "/cy"] {
                    let answer = ask(&app, path).await;
                    assert_eq!(answer.status, 200, "{path}");
                    let mut said: Vec<&str> = answer.body.split(' ').collect();
                    said.dedup();
                    assert_eq!(said.len(), 1, "a page of one release: {}", answer.body);
                }
            }
            // All is well with the source again: so it is with the pages, within the longest pause and two loads.
            source.hold(false);
            source.fail_lists(0);
            for file in ["en/a", "cy/a", "cy/b", "en/c"] {
                source.fail(file, false);
            }
            release(&source, number + 1, None);
            let _ = crow.reload().await;
            tokio::time::sleep(Duration::from_secs(65)).await;
            assert_eq!(crow.health().status.as_str(), "ready", "{:?}", crow.health());
            let healed = ask(&app, "/cy").await;
            assert_eq!((healed.body, healed.cache_control), (format!("{0} {0} {0} {0} {0} {0}", number + 1), String::new()));
        });
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_thousand_generations_are_swapped_under_sixty_four_readers() {
    let source = Controlled::new(&[("pl", "a", "own = '0'")]);
    release(&source, 0, None);
    let crow = crow(source.clone(), "");
    crow.load_all().await.unwrap();
    let before = crow.health().bytes;
    let (over, pages) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicUsize::new(0)));
    let readers: Vec<_> = (0..64)
        .map(|reader| {
            let (crow, over, pages) = (crow.clone(), Arc::clone(&over), Arc::clone(&pages));
            tokio::spawn(async move {
                while !over.load(Ordering::Relaxed) {
                    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
                    let first = t.text("a.own");
                    // Some are slow, and hold what they have while others come and go.
                    for _ in 0..if reader % 8 == 0 { 200 } else { 1 } {
                        for key in ["a.only-english", "b.own", "c.only-english"] {
                            assert_eq!(t.text(key), first);
                        }
                        tokio::task::yield_now().await;
                    }
                    pages.fetch_add(1, Ordering::Relaxed);
                }
            })
        })
        .collect();
    let mut most = 0;
    for number in 1..=1_000 {
        release(&source, number, None);
        crow.reload().await.unwrap();
        most = most.max(crow.health().living_generations);
    }
    over.store(true, Ordering::Relaxed);
    for reader in readers {
        reader.await.unwrap();
    }
    assert!(pages.load(Ordering::Relaxed) > 64);
    assert!(most <= 64 + 2, "{most} generations in memory: more than one for each reader, and the new one");
    assert_eq!(crow.health().living_generations, 1, "the others are gone with their readers");
    let health = crow.health();
    assert_eq!(health.generation, Some(1_001));
    assert!(health.bytes < before + before / 2, "{} of {before} at first", health.bytes);
    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    assert_eq!(t.text("b.only-english"), "1000");
}
