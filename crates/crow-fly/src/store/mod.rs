//! The catalogs that are in memory, and how they come there.
//!
//! What the source has at one moment is a [`Generation`], which is swapped whole. Readers never wait on writers: a
//! lookup takes no lock. Sections are loaded by tasks of their own, once for any number of requests, and a request waits
//! for them no longer than the configuration says.

use std::collections::BTreeMap;
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError, Weak};

use arc_swap::ArcSwapOption;
use crow_fly_core::catalog::KeyHasher;
use crow_fly_core::direction::Direction;
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use tokio::sync::Semaphore;
use tokio::time::{Instant, timeout_at};

use crate::config::Config;
use crate::source::{CatalogSource, Listing, Watching};

mod blocking;
mod chain_index;
mod complete;
mod generation;
mod health;
mod load_all;
mod loads;
mod memory;
mod misses;
mod needs;
mod observe;
mod refresh;
mod running;
mod section;
mod section_names;
mod sections;
mod state;

pub(crate) use complete::Lacking;
pub use generation::Miss;
pub(crate) use generation::{Generation, Hit, Lookup};
pub use health::{Health, HealthStatus, LocaleHealth, SectionHealth};
pub use load_all::CatalogsError;
pub use misses::{MissCount, MissKind, MissReport};
pub(crate) use misses::{Misses, is_told};
pub(crate) use needs::CatalogNeeds;
pub(crate) use observe::Counts;
pub(crate) use section::{Link, Section};

use blocking::Blocking;
use complete::{Counted, LostSection};
use loads::{Loads, Waiting, Wanted};

/// The catalogs of all locales. Cheap to clone.
#[derive(Clone, Debug)]
pub(crate) struct CatalogStore(Arc<Inner>);

#[derive(Debug)]
struct Inner {
    source: Arc<dyn CatalogSource>,
    config: Arc<Config>,
    /// The tags of all locales that have catalogs.
    locales: Vec<String>,
    /// For each of them, its chain: made when it is first needed.
    chains: Box<[OnceLock<Box<[Link]>>]>,
    hasher: KeyHasher,
    current: ArcSwapOption<Generation>,
    /// All generations that somebody may still read.
    living: Mutex<Vec<Weak<Generation>>>,
    /// What there is before the source has been listed.
    nothing: Arc<Generation>,
    /// The one load of a listing.
    listings: Arc<Loads<()>>,
    /// What the last listing has found about files that are not read.
    found: Mutex<Vec<Finding>>,
    /// Why the current generation is not the newest.
    stale: Mutex<Option<Stale>>,
    /// What the source says of the current listing.
    told: Mutex<Told>,
    /// The sections that had texts in the language of their locale, and have none any more.
    lost: Mutex<Vec<LostSection>>,
    incomplete: Mutex<Counted>,
    /// The locales whose chains are larger than the budget, and by how many bytes they are there.
    crowded: Mutex<BTreeMap<LocaleId, usize>>,
    /// In development, whether the source may have changed.
    changed: Arc<AtomicBool>,
    watching: OnceLock<Option<Watching>>,
    /// No more files than this are read at the same time.
    reads: Semaphore,
    /// The work of a source that blocks.
    blocking: Blocking,
    /// Counts the passes that look for sections that were not used.
    epoch: Arc<AtomicU32>,
    maintained: AtomicBool,
    polled: AtomicBool,
    misses: Misses,
    counts: Counts,
}

/// Why the current generation is not the newest.
#[derive(Clone, Debug)]
struct Stale {
    since: Instant,
    findings: Vec<Finding>,
}

/// What the source says of a listing.
#[derive(Clone, Debug, Default)]
struct Told {
    /// Its name, for people.
    name: Option<String>,
    activation: Option<u64>,
    /// Why sources are left out.
    left_out: Vec<Finding>,
}

/// The catalogs that a request gets.
#[derive(Clone, Debug)]
pub(crate) struct Loaded {
    pub(crate) generation: Arc<Generation>,
    pub(crate) completeness: Completeness,
}

/// How much of what was needed is there.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Completeness {
    All,
    /// Some sections, or some locales of the chain, are not in memory.
    Part,
    /// Nothing of the chain is.
    Nothing,
}

/// How many files are read at the same time.
const READS: usize = 16;

impl CatalogStore {
    pub(crate) fn new(source: Box<dyn CatalogSource>, config: Arc<Config>) -> Self {
        let locales: Vec<String> = config.chains.all().map(|(_, tag)| tag.to_string()).collect();
        let hasher = KeyHasher::default();
        let epoch = Arc::new(AtomicU32::new(1));
        let nothing =
            Arc::new(Generation::new(0, 0, &mut Listing::default(), &locales, |_| false, &hasher, &epoch));
        Self(Arc::new(Inner {
            source: source.into(),
            chains: locales.iter().map(|_| OnceLock::new()).collect(),
            locales,
            hasher,
            current: ArcSwapOption::empty(),
            living: Mutex::default(),
            nothing,
            listings: Arc::default(),
            found: Mutex::default(),
            stale: Mutex::default(),
            told: Mutex::default(),
            lost: Mutex::default(),
            incomplete: Mutex::default(),
            crowded: Mutex::default(),
            changed: Arc::new(AtomicBool::new(true)),
            watching: OnceLock::new(),
            reads: Semaphore::new(READS),
            blocking: Blocking::default(),
            epoch,
            maintained: AtomicBool::new(false),
            polled: AtomicBool::new(false),
            misses: Misses::default(),
            counts: Counts::new(),
            config,
        }))
    }

    /// The chain of a locale, with what its texts are formatted with.
    pub(crate) fn links(&self, locale: LocaleId) -> &[Link] {
        let Some(chain) = self.0.chains.get(locale.index()) else { return &[] };
        chain.get_or_init(|| {
            let chains = &self.0.config.chains;
            let page = chains.tag(locale);
            let link = |id: &LocaleId| {
                let tag = chains.tag(*id).clone();
                Link {
                    locale: *id,
                    direction: Direction::of(&tag),
                    reads_like_page: tag.reads_like(page),
                    is_same_language: tag.language() == page.language(),
                    context: self.0.config.format_context(&tag, locale),
                    tag,
                }
            };
            chains.of(locale).iter().map(link).collect()
        })
    }

    pub(crate) fn misses(&self) -> &Misses {
        &self.0.misses
    }

    /// The epoch that uses are marked with.
    fn epoch(&self) -> u32 {
        self.0.epoch.load(Ordering::Relaxed)
    }

    /// Whether the source must be listed before a request is answered: in development, where it may have changed.
    fn must_look(&self) -> bool {
        if !self.0.config.development {
            return false;
        }
        let watching = self.0.watching.get_or_init(|| {
            let changed = Arc::clone(&self.0.changed);
            self.0.source.watch(Box::new(move || changed.store(true, Ordering::Release)))
        });
        watching.is_none() || self.0.changed.load(Ordering::Acquire)
    }

    /// The generation for a request where nothing need be loaded, or looked at, for it.
    pub(crate) fn ready(&self, needs: &CatalogNeeds) -> Option<Arc<Generation>> {
        if self.must_look() {
            return None;
        }
        let generation = self.0.current.load_full()?;
        let (sections, links) = (needs.sections(&self.0.config), self.links(needs.locale));
        let is_ready = generation.is_complete(links, sections.as_deref());
        // The first request that finds all of a chain has the index of it made.
        let lacks_index = sections.is_none() && generation.lacks_index(needs.locale);
        (is_ready && !lacks_index).then_some(generation)
    }

    /// The generation for a request, with what it needs loaded where that can be had in time.
    pub(crate) async fn load(&self, needs: &CatalogNeeds) -> Loaded {
        let deadline = self.deadline();
        if self.must_look() {
            self.0.changed.store(false, Ordering::Release);
            let _ = timeout_at(deadline, self.relist()).await;
            self.forgive();
        }
        let sections = needs.sections(&self.0.config);
        let links = self.links(needs.locale);
        loop {
            let Some(generation) = self.0.current.load_full() else {
                let listing = self.want_listing();
                let is_over = match listing {
                    Some(waiting) => timeout_at(deadline, waiting.over()).await.is_ok(),
                    None => self.0.current.load().is_some(),
                };
                if is_over {
                    continue;
                }
                return Loaded { completeness: Completeness::Nothing, ..self.unloaded() };
            };
            // It is in memory until this request has it, whatever the budget.
            let _awaited = generation.await_places(links, sections.as_deref());
            let waiting = self.want(&generation, links, sections.as_deref());
            if waiting.is_empty() || timeout_at(deadline, all_over(waiting)).await.is_err() {
                let completeness = generation.completeness(links, sections.as_deref());
                self.note_size(&generation, links, sections.as_deref());
                if completeness == Completeness::All && sections.is_none() && generation.takes_index(links) {
                    self.start_index(&generation, needs.locale);
                }
                if completeness != Completeness::All {
                    // The task that lists it again may have died with its runtime.
                    self.want_listing();
                }
                return Loaded { generation, completeness };
            }
        }
    }

    /// Has a thread that may block make the index of a chain. Nobody waits for it: until it is there, and where it never
    /// is, lookups walk along the chain.
    fn start_index(&self, generation: &Arc<Generation>, locale: LocaleId) {
        let (store, generation) = (self.clone(), Arc::clone(generation));
        tokio::task::spawn_blocking(move || generation.make_index(store.links(locale)));
    }

    /// The current generation, whatever is in memory of it.
    pub(crate) fn current(&self) -> Arc<Generation> {
        self.0.current.load_full().unwrap_or_else(|| Arc::clone(&self.0.nothing))
    }

    /// What there is before the source has been listed, for those who need no texts.
    pub(crate) fn unloaded(&self) -> Loaded {
        Loaded { generation: Arc::clone(&self.0.nothing), completeness: Completeness::All }
    }

    /// Until when a request that begins now waits. In strict mode, as long as a load may take.
    fn deadline(&self) -> Instant {
        let catalogs = &self.0.config.catalogs;
        Instant::now() + if self.0.config.strict { catalogs.load_limit * 2 } else { catalogs.wait }
    }

    /// Loads sections of a chain into a generation, whether it is the current one or not; waits as a request does.
    pub(crate) async fn load_sections(
        &self,
        generation: &Arc<Generation>,
        locale: LocaleId,
        sections: &[&str],
    ) -> Completeness {
        let (deadline, links) = (self.deadline(), self.links(locale));
        let _awaited = generation.await_places(links, Some(sections));
        loop {
            let waiting = self.want(generation, links, Some(sections));
            if waiting.is_empty() || timeout_at(deadline, all_over(waiting)).await.is_err() {
                return generation.completeness(links, Some(sections));
            }
        }
    }

    /// Starts one load for a section that a text has asked for and that is not in memory; returns whether it did.
    pub(crate) fn ask(&self, generation: &Arc<Generation>, locale: LocaleId, section: &str) -> bool {
        let mut started = false;
        for place in generation.unasked(self.links(locale), section) {
            // Without a runtime there is no task to start: a later text may be luckier.
            if tokio::runtime::Handle::try_current().is_err() {
                generation.allow_asking(place);
                continue;
            }
            started |= self.want_place(generation, place).is_some();
        }
        started
    }

    /// Starts the loads of what is missing; returns what is to be waited for.
    fn want(&self, generation: &Arc<Generation>, links: &[Link], sections: Option<&[&str]>) -> Vec<Waiting> {
        let mut waiting = Vec::new();
        for link in links {
            for place in generation.places(link.locale, sections) {
                if generation.section(place).is_none() {
                    waiting.extend(self.want_place(generation, place));
                }
            }
        }
        waiting
    }

    fn want_place(&self, generation: &Arc<Generation>, place: usize) -> Option<Waiting> {
        if self.take_from_current(generation, place) {
            return None;
        }
        let mut wanted = generation.loads.want(place);
        // It may have been loaded a moment ago; or loaded, and dropped before that was noted.
        if matches!(wanted, Wanted::Done) && !self.take_from_current(generation, place) {
            generation.loads.forget(place);
            wanted = generation.loads.want(place);
        }
        match wanted {
            Wanted::Start(ticket, waiting) => {
                self.start(generation, place, ticket);
                Some(waiting)
            }
            Wanted::Join(waiting) => Some(waiting),
            Wanted::Done | Wanted::Refused => None,
        }
    }

    /// Takes a section from the current generation, where that is the same one with more in memory than this copy of it
    /// has; returns whether the section is there.
    fn take_from_current(&self, generation: &Generation, place: usize) -> bool {
        let current = self.0.current.load();
        let current = current.as_ref().filter(|current| current.number == generation.number);
        if let Some(section) = current.and_then(|current| current.section(place)) {
            generation.publish(place, Arc::clone(section));
        }
        generation.section(place).is_some()
    }

    /// How many generations are read by somebody, the current one included.
    fn living(&self) -> usize {
        let mut living = self.0.living.lock().unwrap_or_else(PoisonError::into_inner);
        living.retain(|generation| generation.strong_count() > 0);
        living.len()
    }

    /// Notes that there is another generation that somebody may read.
    fn is_born(&self, generation: &Arc<Generation>) {
        let living = self.living();
        self.0.living.lock().unwrap_or_else(PoisonError::into_inner).push(Arc::downgrade(generation));
        Counts::living(living + 1);
    }

    /// What the last listing has found about files that are not read.
    fn found(&self) -> Vec<Finding> {
        self.0.found.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Lets what has failed be tried again at once: somebody says that it may be mended.
    fn forgive(&self) {
        if let Some(current) = self.0.current.load_full() {
            current.loads.forget_failures();
        }
    }

    /// Finds out why the current generation is not the newest.
    fn stale(&self) -> Option<Stale> {
        self.0.stale.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }
}

impl Generation {
    /// How much is there of a chain, or of some sections of it.
    fn completeness(&self, links: &[Link], sections: Option<&[&str]>) -> Completeness {
        if self.is_complete(links, sections) {
            return Completeness::All;
        }
        let is_there = |place: usize| self.section(place).is_some_and(|section| !section.catalog.is_empty());
        if links.iter().any(|link| self.places(link.locale, sections).any(is_there)) {
            return Completeness::Part;
        }
        // A file that should have texts, or a locale that should have files.
        Completeness::Nothing
    }
}

async fn all_over(waiting: Vec<Waiting>) {
    for one in waiting {
        one.over().await;
    }
}
