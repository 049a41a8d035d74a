//! A source that does what a test says: holds back, fails, changes.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::{Arc, Mutex};

use crow_fly::source::conformance::Disturbance;
use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};
use crow_fly_core::catalog::FileFormat;
use tokio::sync::watch;

/// A source that does what a test says. Clones are the same source.
#[derive(Clone, Debug)]
pub(crate) struct Controlled {
    state: Arc<Mutex<State>>,
    /// Whether reads are held back.
    held: watch::Sender<bool>,
    /// Whether listings are held back, as they were when they began.
    held_lists: watch::Sender<bool>,
}

#[derive(Debug, Default)]
struct State {
    files: BTreeMap<(String, String), (u64, String)>,
    absent: BTreeSet<String>,
    /// The files that cannot be read.
    failing: BTreeSet<String>,
    /// How often listing fails.
    failing_lists: u32,
    /// The files that have been read, in order, as `locale/section`.
    reads: Vec<String>,
    lists: u32,
    /// How many reads have begun and not ended.
    open: usize,
    most_open: usize,
    versions: u64,
    disturbance: Disturbance,
}

impl Controlled {
    pub(crate) fn new(files: &[(&str, &str, &str)]) -> Self {
        let (held, held_lists) = (watch::Sender::new(false), watch::Sender::new(false));
        let source = Self { state: Arc::default(), held, held_lists };
        for (locale, section, text) in files {
            source.write(locale, section, text);
        }
        source
    }

    /// A title in every locale.
    pub(crate) fn titles() -> Self {
        Self::new(&[
            ("en", "home", "title = 'Ferries'\nonly = 'Only English'"),
            ("cy", "home", "title = 'Fferïau'"),
            ("pl", "home", "title = 'Promy'"),
        ])
    }

    fn with<T>(&self, change: impl FnOnce(&mut State) -> T) -> T {
        change(&mut self.state.lock().unwrap())
    }

    /// Writes a file: its version is another one, though the text be the same.
    pub(crate) fn write(&self, locale: &str, section: &str, text: &str) {
        self.with(|state| {
            state.versions += 1;
            let file = (state.versions, text.to_owned());
            state.files.insert((locale.to_owned(), section.to_owned()), file);
            state.absent.remove(locale);
        });
    }

    /// Takes a file away.
    pub(crate) fn remove_file(&self, locale: &str, section: &str) {
        self.with(|state| state.files.remove(&(locale.to_owned(), section.to_owned())));
    }

    /// Takes the whole folder of a locale away.
    pub(crate) fn remove(&self, locale: &str) {
        self.with(|state| {
            state.files.retain(|(other, _), _| other != locale);
            state.absent.insert(locale.to_owned());
        });
    }

    /// Holds reads back, or lets them go on.
    pub(crate) fn hold(&self, held: bool) {
        self.held.send_replace(held);
    }

    /// Holds listings back, or lets them go on.
    pub(crate) fn hold_lists(&self, held: bool) {
        self.held_lists.send_replace(held);
    }

    /// Has a file, `locale/section`, fail or not.
    pub(crate) fn fail(&self, file: &str, fails: bool) {
        self.with(
            |state| if fails { state.failing.insert(file.to_owned()) } else { state.failing.remove(file) },
        );
    }

    pub(crate) fn fail_lists(&self, times: u32) {
        self.with(|state| state.failing_lists = times);
    }

    /// The files that have been read since this was last asked.
    pub(crate) fn reads(&self) -> Vec<String> {
        self.with(|state| std::mem::take(&mut state.reads))
    }

    pub(crate) fn lists(&self) -> u32 {
        self.with(|state| state.lists)
    }

    /// The most reads that were open at the same time.
    pub(crate) fn most_open(&self) -> usize {
        self.with(|state| state.most_open)
    }
}

impl State {
    fn on_the_way(&self, text: &str) -> Vec<u8> {
        match self.disturbance {
            Disturbance::Truncated => text.as_bytes()[..text.len() / 2].to_vec(),
            Disturbance::Corrupt => text.replace('e', "a").into_bytes(),
            _ => text.as_bytes().to_vec(),
        }
    }
}

/// One open read: counted until it is dropped.
struct Open(Controlled);

impl Open {
    fn new(source: &Controlled, name: &str) -> Self {
        source.with(|state| {
            state.reads.push(name.to_owned());
            state.open += 1;
            state.most_open = state.most_open.max(state.open);
        });
        Self(source.clone())
    }
}

impl Drop for Open {
    fn drop(&mut self) {
        self.0.with(|state| state.open -= 1);
    }
}

impl CatalogSource for Controlled {
    fn list<'a>(&'a self, _: &'a [String]) -> Answer<'a, Listing> {
        let listing = self.with(|state| {
            state.lists += 1;
            if state.failing_lists > 0 {
                state.failing_lists -= 1;
                return Err(SourceError::new("the harbour store", "it is not there"));
            }
            let files = state.files.iter().map(|((locale, section), (version, _))| {
                ListedFile::section(locale, section, FileFormat::Toml, *version)
            });
            Ok(state.absent.iter().fold(Listing::new(files), Listing::without))
        });
        if !*self.held_lists.borrow() {
            return Answer::ready(listing);
        }
        Answer::waiting(async move {
            self.held_lists.subscribe().wait_for(|held| !held).await.unwrap();
            listing
        })
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let file = file.clone();
        Answer::waiting(async move {
            let (locale, section) = (file.locale(), file.section_name().unwrap());
            let name = format!("{locale}/{section}");
            let open = Open::new(self, &name);
            self.held.subscribe().wait_for(|held| !held).await.unwrap();
            drop(open);
            self.with(|state| {
                if state.failing.contains(&name) {
                    return Err(SourceError::new(name.clone(), "the disk has a hole"));
                }
                match state.files.get(&(locale.to_owned(), section.to_owned())) {
                    Some((version, text)) if *version == file.version() => Ok(state.on_the_way(text)),
                    _ => Err(SourceError::changed(name.clone())),
                }
            })
        })
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

mod contract {
    use crow_fly::source::conformance::{Disturbance, Fixture, failures};

    use super::*;

    impl Fixture for Controlled {
        fn source(&self) -> Box<dyn CatalogSource> {
            Box::new(self.clone())
        }

        fn write(&self, locale: &str, section: &str, bytes: &[u8]) {
            let text = String::from_utf8_lossy(bytes);
            Self::write(self, locale, section, &text);
        }

        fn remove(&self, locale: &str) {
            Self::remove(self, locale);
        }

        fn disturb(&self, disturbance: Disturbance) -> bool {
            self.hold(disturbance == Disturbance::Hanging);
            self.fail("en/home", disturbance == Disturbance::Failing);
            self.with(|state| state.disturbance = disturbance);
            true
        }
    }

    /// It hands out texts, lists every locale and name, cuts nothing, and does not notice damage: each of them is found.
    #[tokio::test]
    async fn the_suite_finds_what_a_source_does_otherwise() {
        let found = failures(&Controlled::new(&[])).await;
        insta::assert_snapshot!(found.join("\n"), @"
        the locales without files are not listed as absent
        it lists other files than those of the configured locales
        the locale without files is not listed as absent
        bytes that are not UTF-8 are not handed out as they are
        of a file that is too large more is handed out than is read
        a file is listed whose name cannot name a section, or whose locale is not configured
        half a file is handed out as a whole one
        a damaged file is handed out
        ");
    }
}
