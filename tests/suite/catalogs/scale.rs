//! A large site: 200 locales, 40 sections, 200 messages in each.

use std::fmt::Write as _;
use std::sync::{Arc, Mutex};

use axum::Router;
use axum::routing::get;
use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, Watching};
use crow_fly::{Config, CrowFly, Translator};
use crow_fly_core::catalog::FileFormat;

use crate::catalogs::ask;

const LOCALES: usize = 200;
const SECTIONS: usize = 40;

/// The tags of so many locales: English, and made-up languages (ISO 639-2 leaves `qaa` to `qtz` to everybody).
fn tags() -> Vec<String> {
    let letters = || ('a'..='t').flat_map(|second| ('a'..='z').map(move |third| format!("q{second}{third}")));
    std::iter::once("en".to_owned()).chain(letters().take(LOCALES - 1)).collect()
}

/// A source that makes its texts when they are read.
#[derive(Clone, Debug, Default)]
struct Large {
    lists: Arc<Mutex<usize>>,
    reads: Arc<Mutex<Vec<String>>>,
}

impl CatalogSource for Large {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        *self.lists.lock().unwrap() += 1;
        let files = locales.iter().flat_map(|locale| {
            (0..SECTIONS).map(move |section| {
                ListedFile::section(locale, format!("section-{section}"), FileFormat::Toml, 1)
            })
        });
        let listing = Listing::new(files);
        Answer::ready(Ok(listing))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let name = format!("{}/{}", file.locale(), file.section_name().unwrap());
        let mut text = String::new();
        for message in 0..200 {
            writeln!(text, "message-{message} = 'Message {message} of {name}'").unwrap();
        }
        self.reads.lock().unwrap().push(name);
        Answer::ready(Ok(text.into_bytes()))
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

#[tokio::test]
async fn the_start_reads_no_catalog_and_a_page_its_own_sections() {
    let tags = tags();
    let source = Large::default();
    let config = Config::builder(&tags)
        .development(false)
        .eager(["section-0"])
        .needs("/page/{number}", ["section-7", "section-8"])
        .build()
        .unwrap();
    let crow = CrowFly::new(config, source.clone());
    let page = get(|t: Translator| async move { t.text("section-7.message-7") });
    let app = crow.router(Router::new().route("/page/{number}", page));
    assert_eq!((*source.lists.lock().unwrap(), source.reads.lock().unwrap().len()), (0, 0));
    assert_eq!(ask(&app, "/qem/page/1").await.body, "Message 7 of qem/section-7");
    let mut reads = std::mem::take(&mut *source.reads.lock().unwrap());
    reads.sort();
    let wanted = ["section-0", "section-7", "section-8"];
    let wanted = ["qem", "en"].iter().flat_map(|locale| wanted.map(|section| format!("{locale}/{section}")));
    let mut wanted: Vec<String> = wanted.collect();
    wanted.sort();
    assert_eq!(reads, wanted);
    assert_eq!(ask(&app, "/qem/page/2").await.status, 200);
    assert_eq!((*source.lists.lock().unwrap(), source.reads.lock().unwrap().len()), (1, 0));
    let health = crow.health();
    assert_eq!((health.loads, health.locales.len()), (6, LOCALES));
}
