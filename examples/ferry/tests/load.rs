//! Many visitors at once, in every language, over real connections: nobody gets another's words.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

mod program;

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use program::Site;
use reqwest::Client;
use reqwest::redirect::Policy;

const CONNECTIONS: usize = 64;

/// A bounded run; `FERRY_REQUESTS=100000` makes it a long one.
fn requests() -> usize {
    std::env::var("FERRY_REQUESTS").ok().and_then(|count| count.parse().ok()).unwrap_or(6_400)
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn no_visitor_gets_another_ones_language() {
    let site = Arc::new(Site::open());
    let asked = Arc::new(AtomicUsize::new(0));
    let pages = [
        ("/", "<html lang=\"en\"", "7 sailings"),
        ("/cy", "<html lang=\"cy\"", "7 hwyliad"),
        ("/pl", "<html lang=\"pl\"", "7 rejsów"),
        ("/ar", "<html lang=\"ar\" dir=\"rtl\"", "رحلات"),
        ("/en-GB/sailings/1", "<html lang=\"en-GB\"", "Reserve"),
        ("/pl/sailings/3", "<html lang=\"pl\"", "Zostały 3 miejsca"),
        ("/cy/sailings/5", "<html lang=\"cy\"", "6 sedd ar ôl"),
    ];
    let each = requests() / CONNECTIONS;
    let visitors: Vec<_> = (0..CONNECTIONS)
        .map(|visitor| {
            let (site, asked) = (Arc::clone(&site), Arc::clone(&asked));
            tokio::spawn(async move {
                // A client a visitor: each has a connection of its own.
                let client = Client::builder().redirect(Policy::none()).no_proxy().build().unwrap();
                for turn in 0..each {
                    let (path, language, words) = pages[(visitor + turn) % pages.len()];
                    let response = client.get(site.at(path)).send().await.unwrap();
                    let announced = response.headers()["content-language"].to_str().unwrap().to_owned();
                    let html = response.text().await.unwrap();
                    assert!(html.contains(language) && html.contains(words), "{path}: {html}");
                    assert!(language.contains(&announced), "{path}: {announced}");
                    asked.fetch_add(1, Ordering::Relaxed);
                }
            })
        })
        .collect();
    for visitor in visitors {
        visitor.await.unwrap();
    }
    assert_eq!(asked.load(Ordering::Relaxed), each * CONNECTIONS);
}
