//! What every source of catalogs must do, as a test: for those who write one of their own.
//!
//! ```
//! use std::collections::BTreeMap;
//! use std::sync::{Arc, Mutex};
//!
//! use crow_fly::core::catalog::FileFormat;
//! use crow_fly::source::conformance::{self, Fixture};
//! use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};
//!
//! /// Catalogs in a table of the application's own: version and bytes, by locale and section.
//! #[derive(Clone, Debug, Default)]
//! struct Table(Arc<Mutex<BTreeMap<(String, String), (u64, Vec<u8>)>>>);
//!
//! impl CatalogSource for Table {
//!     fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
//!         let rows = self.0.lock().unwrap();
//!         let known = rows.iter().filter(|((locale, _), _)| locales.contains(locale));
//!         let files = known.map(|((locale, section), (version, _))| {
//!             ListedFile::section(locale, section, FileFormat::Toml, *version)
//!         });
//!         let mut listing = Listing::new(files);
//!         for locale in locales.iter().filter(|locale| !rows.keys().any(|(other, _)| other == *locale)) {
//!             listing = listing.without(locale);
//!         }
//!         Answer::ready(Ok(listing))
//!     }
//!
//!     fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
//!         let key = (file.locale().to_owned(), file.section_name().unwrap_or_default().to_owned());
//!         Answer::ready(match self.0.lock().unwrap().get(&key) {
//!             Some((version, bytes)) if *version == file.version() => {
//!                 Ok(bytes.iter().copied().take(file.most_bytes()).collect())
//!             }
//!             _ => Err(SourceError::changed(file.origin())),
//!         })
//!     }
//!
//!     fn watch(&self, _: Changed) -> Option<Watching> {
//!         None
//!     }
//! }
//!
//! impl Fixture for Table {
//!     fn source(&self) -> Box<dyn CatalogSource> {
//!         Box::new(self.clone())
//!     }
//!
//!     fn write(&self, locale: &str, section: &str, bytes: &[u8]) {
//!         let mut rows = self.0.lock().unwrap();
//!         let version = rows.values().map(|(version, _)| version + 1).max().unwrap_or(1);
//!         rows.insert((locale.to_owned(), section.to_owned()), (version, bytes.to_vec()));
//!     }
//!
//!     fn remove(&self, locale: &str) {
//!         self.0.lock().unwrap().retain(|(other, _), _| other != locale);
//!     }
//! }
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() {
//! assert_eq!(conformance::failures(&Table::default()).await, [""; 0]);
//! # }
//! ```

use std::future::poll_fn;
use std::pin::pin;
use std::task::Poll;

use crow_fly_core::catalog::{SectionSource, is_name};

use super::{CatalogSource, ListedFile, Listing};
use crate::config::Config;
use crate::crow_fly::CrowFly;

/// A place for catalogs that a test can write to, and the source that reads it. It is empty at first.
pub trait Fixture {
    /// The source.
    fn source(&self) -> Box<dyn CatalogSource>;

    /// Writes a section of a locale, new or over the one that is there.
    fn write(&self, locale: &str, section: &str, bytes: &[u8]);

    /// Takes all sections of a locale away.
    fn remove(&self, locale: &str);
}

/// What a source does otherwise than the contract of [`CatalogSource`] says; nothing where it keeps it.
pub async fn failures(fixture: &impl Fixture) -> Vec<String> {
    let mut suite = Suite { source: fixture.source(), failures: Vec::new() };
    suite.empty().await;
    fixture.write("en", "home", b"title = 'Ferries'");
    fixture.write("en", "booking", b"title = 'caf\xe9'");
    fixture.write("cy", "home", b"title = 'Fferi'");
    fixture.write("de", "home", b"title = 'Not one of the locales'");
    suite.listed_and_read().await;
    suite.asked_again().await;
    let before = suite.list().await;
    fixture.write("en", "home", b"title = 'New ferries'");
    suite.changed(&before).await;
    fixture.write("pl", "large", &vec![b'#'; SectionSource::MAX_LENGTH + 1000]);
    suite.large().await;
    suite.served(fixture).await;
    let before = suite.list().await;
    fixture.remove("cy");
    suite.gone(&before).await;
    suite.failures
}

struct Suite {
    source: Box<dyn CatalogSource>,
    failures: Vec<String>,
}

/// The locales that are configured.
fn locales() -> Vec<String> {
    ["en", "cy", "pl"].map(str::to_owned).to_vec()
}

fn find<'l>(listing: &'l Listing, locale: &str, section: &str) -> Option<&'l ListedFile> {
    let is_it = |file: &&ListedFile| file.locale() == locale && file.section_name() == Some(section);
    listing.files().iter().find(is_it)
}

impl Suite {
    fn expect(&mut self, holds: bool, failure: &str) {
        if !holds {
            self.failures.push(failure.to_owned());
        }
    }

    async fn list(&mut self) -> Listing {
        let locales = locales();
        let listed = self.source.list(&locales).wait().await;
        listed.unwrap_or_else(|error| {
            self.failures.push(format!("it cannot be listed: {error}"));
            Listing::default()
        })
    }

    async fn read(&self, listing: &Listing, locale: &str, section: &str) -> Option<Vec<u8>> {
        self.source.read(find(listing, locale, section)?).wait().await.ok()
    }

    async fn empty(&mut self) {
        let listing = self.list().await;
        self.expect(listing.files().is_empty(), "a source that is empty lists files");
        self.expect(listing.absent().len() == 3, "the locales without files are not said to be without");
    }

    async fn listed_and_read(&mut self) {
        let listing = self.list().await;
        let mut names: Vec<_> = listing
            .files()
            .iter()
            .map(|file| (file.locale(), file.section_name().unwrap_or_default()))
            .collect();
        names.sort_unstable();
        self.expect(
            names == [("cy", "home"), ("en", "booking"), ("en", "home")],
            "it lists other files than those of the configured locales",
        );
        self.expect(
            names.iter().all(|(_, section)| is_name(section)),
            "it lists what is not the name of a section",
        );
        self.expect(listing.absent() == ["pl"], "the locale without files is not said to be without");
        let read = self.read(&listing, "en", "home").await;
        self.expect(read.as_deref() == Some(b"title = 'Ferries'"), "a file is not read as it was written");
        let read = self.read(&listing, "en", "booking").await;
        self.expect(
            read.as_deref() == Some(b"title = 'caf\xe9'"),
            "bytes that are not UTF-8 are not handed out as they are",
        );
    }

    /// Listings of the same files are the same; answers may be dropped, and asked for many at a time.
    async fn asked_again(&mut self) {
        let (one, other) = (self.list().await, self.list().await);
        self.expect(one.identity() == other.identity(), "two listings of the same files are not the same");
        let Some(file) = find(&one, "en", "home") else { return };
        {
            // Begun, and left.
            let mut left = pin!(self.source.read(file).wait());
            poll_fn(|context| {
                let _ = left.as_mut().poll(context);
                Poll::Ready(())
            })
            .await;
        }
        let mut reads = 0;
        for _ in 0..20 {
            let (one, other) = tokio::join!(self.source.read(file).wait(), self.source.read(file).wait());
            reads += usize::from(one.is_ok() && other.is_ok());
        }
        self.expect(reads == 20, "a file cannot be read twice at the same time");
    }

    async fn changed(&mut self, before: &Listing) {
        let after = self.list().await;
        self.expect(before.identity() != after.identity(), "a listing does not change with a file");
        let version = |listing: &Listing, section| find(listing, "en", section).map(ListedFile::version);
        self.expect(
            version(before, "home") != version(&after, "home"),
            "the version of a changed file stays",
        );
        self.expect(
            version(before, "booking") == version(&after, "booking"),
            "the version of another file changes",
        );
        let Some(old) = find(before, "en", "home") else { return };
        let read = self.source.read(old).wait().await;
        self.expect(
            read.is_err_and(|error| error.is_changed()),
            "a file that has changed since it was listed is handed out, or its error does not say so",
        );
        let read = self.read(&after, "en", "home").await;
        self.expect(
            read.as_deref() == Some(b"title = 'New ferries'"),
            "a changed file is not read as it is now",
        );
    }

    async fn large(&mut self) {
        let listing = self.list().await;
        let read = self.read(&listing, "pl", "large").await;
        self.expect(
            read.is_none_or(|bytes| bytes.len() <= SectionSource::MAX_LENGTH + 1),
            "of a file that is too large more is handed out than is read",
        );
    }

    /// Through the store: texts come, and change.
    async fn served(&mut self, fixture: &impl Fixture) {
        let config = Config::builder(["en", "cy", "pl"]).development(false).build();
        let Ok(config) = config else { return };
        let crow = CrowFly::new(config, fixture.source());
        let welsh = crow.translator_for("cy").await.text("home.title");
        self.expect(welsh == "Fferi", "a text does not come through the store");
        fixture.write("cy", "home", b"title = 'Fferi newydd'");
        let reloaded = crow.reload().await;
        let welsh = crow.translator_for("cy").await.text("home.title");
        self.expect(
            reloaded.is_ok() && welsh == "Fferi newydd",
            "a changed text does not come through the store",
        );
    }

    async fn gone(&mut self, before: &Listing) {
        let Some(old) = find(before, "cy", "home") else { return };
        let read = self.source.read(old).wait().await;
        self.expect(read.is_err(), "a file that is gone is handed out");
        let after = self.list().await;
        self.expect(find(&after, "cy", "home").is_none(), "a file that is gone is listed");
        self.expect(
            after.absent().iter().any(|locale| locale == "cy"),
            "a locale that has lost its files is not said to be without",
        );
    }
}
