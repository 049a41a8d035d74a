//! What every source of catalogs must do, as a test: for those who write one of their own.
//!
//! ```
//! use std::collections::BTreeMap;
//! use std::sync::{Arc, Mutex};
//!
//! use crow_fly::source::{FileFormat, is_name};
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
//!         let known = rows.iter().filter(|((locale, section), _)| locales.contains(locale) && is_name(section));
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
use std::sync::Arc;
use std::task::Poll;
use std::time::Duration;

use crow_fly_core::catalog::{FileFormat, SectionSource, is_name};
use tokio::time::timeout;

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

    /// Whether the source may hold files that cannot be read as catalogs. One that refuses them has no such cases.
    fn holds_broken_files(&self) -> bool {
        true
    }

    /// Disturbs what the source reads from, until another disturbance is asked for; returns whether the fixture can.
    /// The cases of those that it cannot are left out.
    fn disturb(&self, disturbance: Disturbance) -> bool {
        disturbance == Disturbance::None
    }
}

/// What may go wrong between a source and its files.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[non_exhaustive]
pub enum Disturbance {
    /// Nothing.
    #[default]
    None,
    /// Answers come late, by a tenth of a second or so.
    Slow,
    /// No answer comes.
    Hanging,
    /// Every answer is an error.
    Failing,
    /// Of every file, only the first half comes.
    Truncated,
    /// Every file comes with other bytes than were written.
    Corrupt,
}

/// What a source does otherwise than the contract of [`CatalogSource`] says; nothing where it keeps it.
pub async fn failures(fixture: &impl Fixture) -> Vec<String> {
    let latin: &[u8] =
        if fixture.holds_broken_files() { b"title = 'caf\xe9'" } else { "title = 'café'".as_bytes() };
    let mut suite = Suite { source: fixture.source().into(), latin, failures: Vec::new() };
    suite.empty().await;
    fixture.write("en", "home", b"title = 'Ferries'");
    fixture.write("en", "booking", latin);
    fixture.write("cy", "home", b"title = 'Fferi'");
    fixture.write("de", "home", b"title = 'Not one of the locales'");
    suite.listed_and_read().await;
    suite.asked_again().await;
    let before = suite.list().await;
    fixture.write("en", "home", b"title = 'New ferries'");
    suite.changed(&before).await;
    suite.changed_while_read(fixture).await;
    fixture.write("pl", "large", &vec![b'#'; SectionSource::MAX_LENGTH + 1000]);
    suite.large().await;
    for name in ["home page", "höme", "home.cy"] {
        fixture.write("en", name, b"title = 'Hostile'");
    }
    suite.hostile_names().await;
    suite.served(fixture).await;
    suite.disturbed(fixture).await;
    let before = suite.list().await;
    fixture.remove("cy");
    suite.gone(&before).await;
    suite.failures
}

/// How long a test waits for an answer that does not come.
const SHORT: Duration = Duration::from_millis(50);

struct Suite {
    source: Arc<dyn CatalogSource>,
    /// A file that is not UTF-8, where the source may hold one.
    latin: &'static [u8],
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
        self.expect(listing.absent().len() == 3, "the locales without files are not listed as absent");
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
        self.expect(listing.absent() == ["pl"], "the locale without files is not listed as absent");
        let read = self.read(&listing, "en", "home").await;
        self.expect(read.as_deref() == Some(b"title = 'Ferries'"), "a file is not read as it was written");
        let read = self.read(&listing, "en", "booking").await;
        let latin = self.latin;
        self.expect(
            read.as_deref() == Some(latin),
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
            let (one, other) = (self.source.read(file), self.source.read(file));
            reads += usize::from(both(one.wait(), other.wait()).await);
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
        let holds = match read {
            Ok(bytes) => bytes == b"title = 'Ferries'",
            Err(error) => error.is_changed(),
        };
        self.expect(
            holds,
            "the new bytes of a file are handed out as the old ones, or an error does not tell",
        );
        let read = self.read(&after, "en", "home").await;
        self.expect(
            read.as_deref() == Some(b"title = 'New ferries'"),
            "a changed file is not read as it is now",
        );
    }

    /// A file that is written to while it is read is the old one, or an error.
    async fn changed_while_read(&mut self, fixture: &impl Fixture) {
        let source = Arc::clone(&self.source);
        fixture.write("pl", "home", b"title = 'before'");
        for turn in 0..10 {
            let listing = self.list().await;
            let Some(file) = find(&listing, "pl", "home") else {
                return self.expect(false, "a file that was added is not listed");
            };
            let before = self.source.read(file).wait().await;
            let mut reading = pin!(source.read(file).wait());
            let begun = poll_fn(|context| Poll::Ready(reading.as_mut().poll(context))).await;
            fixture.write("pl", "home", format!("title = 'after {turn}, and longer by {turn}'").as_bytes());
            let read = match begun {
                Poll::Ready(read) => read,
                Poll::Pending => reading.await,
            };
            let is_other = read.is_ok_and(|bytes| before.is_ok_and(|before| before != bytes));
            self.expect(!is_other, "a file that is written to while it is read is handed out as the old one");
        }
    }

    async fn hostile_names(&mut self) {
        let listing = self.list().await;
        let is_good = |file: &ListedFile| {
            file.section_name().is_none_or(is_name) && locales().contains(&file.locale().to_owned())
        };
        self.expect(
            listing.files().iter().all(is_good),
            "a file is listed whose name cannot name a section, or whose locale is not configured",
        );
        for (locale, section) in [("..", "home"), ("en", "../en/home"), ("", ""), ("en/../../etc", "passwd")]
        {
            let file = ListedFile::section(locale, section, FileFormat::Toml, 1);
            let read = self.source.read(&file).wait().await;
            self.expect(read.is_err(), "a file that was never listed is handed out");
        }
    }

    /// Slow, hanging, failing, damaged on the way; and well again.
    async fn disturbed(&mut self, fixture: &impl Fixture) {
        let listing = self.list().await;
        let Some(file) = find(&listing, "en", "home").cloned() else {
            return self.expect(false, "a file is not listed any more");
        };
        let whole = self.source.read(&file).wait().await.ok();
        self.expect(whole.is_some(), "a file that is listed cannot be read");
        for (disturbance, failure) in [
            (Disturbance::Slow, "a slow answer is not the right one"),
            (Disturbance::Failing, "a file is handed out that cannot be read"),
            (Disturbance::Truncated, "half a file is handed out as a whole one"),
            (Disturbance::Corrupt, "a damaged file is handed out"),
        ] {
            if !fixture.disturb(disturbance) {
                continue;
            }
            let read = self.source.read(&file).wait().await;
            let holds = match (&read, disturbance) {
                (read, Disturbance::Slow) => read.as_ref().ok() == whole.as_ref(),
                // It may have been kept.
                (Ok(read), _) => Some(read) == whole.as_ref(),
                (Err(error), _) => !error.to_string().is_empty(),
            };
            self.expect(holds, failure);
        }
        if fixture.disturb(Disturbance::Hanging) {
            for _ in 0..5 {
                let hanging = timeout(SHORT, self.source.read(&file).wait()).await;
                let holds = match hanging {
                    Ok(Ok(read)) => Some(read) == whole,
                    _ => true,
                };
                self.expect(holds, "a hanging read is answered with something else");
                let _ = timeout(SHORT, self.source.list(&locales()).wait()).await;
            }
        }
        fixture.disturb(Disturbance::None);
        let read = self.source.read(&file).wait().await.ok();
        self.expect(read.is_some() && read == whole, "after a disturbance a file is not read as before");
        let after = self.list().await;
        self.expect(after.identity() == listing.identity(), "after a disturbance the listing is another one");
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
        let is_old = |bytes: Vec<u8>| bytes.starts_with(b"title = 'Fferi");
        self.expect(read.map_or(true, is_old), "of a file that is gone other bytes are handed out");
        let after = self.list().await;
        self.expect(find(&after, "cy", "home").is_none(), "a file that is gone is listed");
        self.expect(
            after.absent().iter().any(|locale| locale == "cy"),
            "a locale that has lost its files is not listed as absent",
        );
    }
}

/// Whether two futures that run at the same time both end well.
async fn both<T, E>(
    one: impl Future<Output = Result<T, E>>,
    other: impl Future<Output = Result<T, E>>,
) -> bool {
    let (mut one, mut other) = (pin!(one), pin!(other));
    let (mut of_one, mut of_other) = (None, None);
    poll_fn(|context| {
        if of_one.is_none() {
            of_one = ended(one.as_mut().poll(context));
        }
        if of_other.is_none() {
            of_other = ended(other.as_mut().poll(context));
        }
        match (of_one, of_other) {
            (Some(one), Some(other)) => Poll::Ready(one && other),
            _ => Poll::Pending,
        }
    })
    .await
}

/// Whether a future has ended well; none while it runs.
fn ended<T, E>(poll: Poll<Result<T, E>>) -> Option<bool> {
    match poll {
        Poll::Ready(result) => Some(result.is_ok()),
        Poll::Pending => None,
    }
}
