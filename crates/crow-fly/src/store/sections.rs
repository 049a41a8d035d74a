//! The task that loads a section: reads its file, compiles it, puts it into its place, and tries again where it fails.

use std::sync::Arc;
use std::sync::atomic::Ordering;
use std::time::Duration;

use crow_fly_core::catalog::{Catalog, KeyHasher, SectionSource};
use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;
use tokio::sync::oneshot;
use tokio::time::{sleep, timeout};
use tracing::{Instrument, debug, debug_span, error, info, warn};

use super::generation::Generation;
use super::loads::{Failure, Ticket, Wanted, now};
use super::section::{Link, Section};
use super::{CatalogStore, Counts, state};
use crate::source::{Answer, ListedFile, SourceError, Way};

/// Why a file is not in memory.
#[derive(Debug)]
pub(super) enum ReadError {
    /// The source has no answer.
    Source(SourceError),
    /// It did not answer in time.
    TimedOut(Duration),
    /// Its thread has ended without an answer.
    Panicked,
}

impl ReadError {
    pub(super) const fn is_changed(&self) -> bool {
        matches!(self, Self::Source(error) if error.is_changed())
    }

    pub(super) fn failure(&self) -> Failure {
        match self {
            Self::Source(error) => {
                let cause = std::error::Error::source(error);
                let text = cause.map_or_else(|| error.to_string(), |cause| format!("{error}: {cause}"));
                Failure { text, hangs: error.is_hanging() }
            }
            Self::TimedOut(limit) => {
                Failure { text: format!("the source has not answered within {limit:?}"), hangs: true }
            }
            Self::Panicked => Failure { text: "it could not be compiled".to_owned(), hangs: false },
        }
    }
}

/// The finding of a file that cannot be read.
pub(super) fn unreadable(file: &ListedFile, failure: &Failure) -> Finding {
    Finding::of_file(
        Rule::UnreadableFile,
        file.locale(),
        file.section_name().unwrap_or_default(),
        &*failure.text,
        "put a regular file in its place, and let the server read it; it is tried again",
    )
}

impl CatalogStore {
    /// Starts the task of a load.
    pub(super) fn start(&self, generation: &Arc<Generation>, place: usize, ticket: Ticket<usize>) {
        let (store, generation) = (self.clone(), Arc::clone(generation));
        tokio::spawn(async move { store.load_place(generation, place, ticket).await });
    }

    async fn load_place(self, generation: Arc<Generation>, place: usize, ticket: Ticket<usize>) {
        let Some(file) = generation.file(place).cloned() else { return ticket.succeed() };
        let error = match self.read(&file).await {
            Err(error) => error,
            Ok(section) => {
                let has_errors = section.has_errors();
                self.publish(&generation, place, Arc::new(section));
                self.maintain();
                ticket.succeed();
                if has_errors {
                    self.await_repair(generation).await;
                }
                return;
            }
        };
        // What has changed is in the next generation, which has it before this one says that it has not.
        if error.is_changed() {
            self.relist().await;
        }
        let failure = error.failure();
        self.0.counts.failed();
        let text = failure.text.clone();
        let pause = ticket.fail(failure);
        error!(
            target: "crow_fly::catalogs",
            locale = file.locale(), section = file.section_name(), place = file.origin(), reason = text,
            again_in = ?pause, "a section cannot be loaded",
        );
        generation.allow_asking(place);
        // Nobody waits for a store that is gone, or tries again for a generation that nobody reads.
        let (store, same) = (Arc::downgrade(&self.0), Arc::downgrade(&generation));
        drop((self, generation));
        sleep(pause).await;
        if let (Some(inner), Some(generation)) = (store.upgrade(), same.upgrade()) {
            Box::pin(Self(inner).retry(generation, place)).await;
        }
    }

    /// Tries again: with a new listing, since it may be the file that was mended.
    async fn retry(self, generation: Arc<Generation>, place: usize) {
        self.relist().await;
        let current = self.0.current.load_full();
        if current.is_some_and(|current| current.number == generation.number)
            && let Wanted::Start(ticket, _) = generation.loads.want(place)
        {
            self.load_place(generation, place, ticket).await;
        }
    }

    /// Lists the source again and again until a broken file has changed: it may have been half written.
    pub(super) async fn await_repair(self, generation: Arc<Generation>) {
        if generation.awaits_repair.swap(true, Ordering::Relaxed) {
            return;
        }
        let (number, weak) = (generation.number, Arc::downgrade(&self.0));
        // Nobody is kept waiting, or in memory, for a repair.
        drop((self, generation));
        for failures in 0.. {
            sleep(state::pause(failures, fastrand::f64())).await;
            let Some(inner) = weak.upgrade() else { return };
            let store = Self(inner);
            store.relist().await;
            if store.0.current.load().as_ref().is_none_or(|current| current.number != number) {
                return;
            }
        }
    }

    /// Puts a section into its place, in this generation and in the current one where that is the same with less in
    /// memory.
    fn publish(&self, generation: &Generation, place: usize, section: Arc<Section>) {
        section.mark(self.epoch());
        if let Some(current) =
            self.0.current.load_full().filter(|current| current.number == generation.number)
        {
            current.publish(place, Arc::clone(&section));
        }
        generation.publish(place, section);
        Counts::in_memory(generation.bytes());
    }

    /// Reads and compiles a file, within the limit of a load.
    pub(super) async fn read(&self, file: &ListedFile) -> Result<Section, ReadError> {
        let span = debug_span!(
            target: "crow_fly::catalogs", "load section",
            locale = file.locale(), section = file.section_name(), from = file.origin(),
        );
        let (listed, hasher) = (file.clone(), self.0.hasher.clone());
        let started = now();
        let compile = move |source: &SectionSource| compile(&listed, source, &hasher);
        let section = self.read_limited(file, compile).instrument(span).await?;
        debug!(target: "crow_fly::catalogs", locale = file.locale(), section = file.section_name(), from = file.origin(), "read");
        log_findings(file, &section);
        let elapsed = now().saturating_sub(started);
        self.0.counts.loaded(elapsed, section.bytes);
        info!(
            target: "crow_fly::catalogs",
            locale = file.locale(), section = file.section_name(), messages = section.catalog.len(), ?elapsed,
            "section loaded",
        );
        Ok(section)
    }

    /// The source of a file, read again. None where it cannot be read; a warning tells why.
    pub(crate) async fn read_source(&self, file: &ListedFile) -> Option<SectionSource> {
        match self.read_limited(file, SectionSource::clone).await {
            Ok(source) => Some(source),
            Err(error) => {
                let reason = error.failure().text;
                warn!(target: "crow_fly::catalogs", place = file.origin(), reason, "the source of a message cannot be read");
                None
            }
        }
    }

    /// The sources of a section along a chain, the nearest first; of a locale, the uppermost layer first. None where one
    /// of the files cannot be read.
    pub(crate) async fn section_sources(
        &self,
        generation: &Generation,
        links: &[Link],
        section: &str,
    ) -> Option<Vec<(usize, SectionSource)>> {
        let mut sources = Vec::new();
        for (link, id) in links.iter().map(|link| link.locale).enumerate() {
            for place in generation.places_in_order(id, Some(&[section])) {
                let Some(file) = generation.file(place) else { continue };
                let source = self.read_source(file).await?;
                let source = match file.section_name() {
                    Some(_) => Some(source),
                    None => source.into_sections().remove(section),
                };
                sources.extend(source.map(|source| (link, source)));
            }
        }
        Some(sources)
    }

    /// Reads a file within the limit of a load, and makes something of it away from the async workers.
    async fn read_limited<T: Send + 'static>(
        &self,
        file: &ListedFile,
        make: impl FnOnce(&SectionSource) -> T + Send + 'static,
    ) -> Result<T, ReadError> {
        let limit = self.0.config.catalogs.load_limit;
        let read = timeout(limit, self.read_unlimited(file, make)).await;
        read.unwrap_or(Err(ReadError::TimedOut(limit)))
    }

    async fn read_unlimited<T: Send + 'static>(
        &self,
        file: &ListedFile,
        make: impl FnOnce(&SectionSource) -> T + Send + 'static,
    ) -> Result<T, ReadError> {
        let listed = file.clone();
        let (sender, answer) = oneshot::channel();
        // Held until the section is there. The semaphore is never closed.
        let _turn;
        match self.0.source.read(file).into_way() {
            // Reading and compiling are one work where both block.
            Way::Blocking(read) => {
                let place = self.0.blocking.turn(&file.origin()).await;
                _turn = self.0.reads.acquire().await;
                tokio::task::spawn_blocking(move || {
                    let bytes = read();
                    drop(place);
                    match bytes {
                        Ok(bytes) => send(&listed, &bytes, make, sender),
                        Err(error) => drop(sender.send(Err(ReadError::Source(error)))),
                    }
                });
            }
            way => {
                _turn = self.0.reads.acquire().await;
                let bytes = Answer::from_way(way).wait().await.map_err(ReadError::Source)?;
                tokio::task::spawn_blocking(move || send(&listed, &bytes, make, sender));
            }
        }
        answer.await.unwrap_or(Err(ReadError::Panicked))
    }
}

/// Makes something of a file, for whoever waits for it.
fn send<T>(
    file: &ListedFile,
    bytes: &[u8],
    make: impl FnOnce(&SectionSource) -> T,
    sender: oneshot::Sender<Result<T, ReadError>>,
) {
    let mut source = SectionSource::read(bytes, file.format());
    if file.section_name().is_none() {
        source = source.with_all_sections();
    }
    // Nobody waits for what the source has held to be given back. Where nobody waits at all, nothing is lost.
    let _ = sender.send(Ok(make(&source)));
}

fn compile(file: &ListedFile, source: &SectionSource, hasher: &KeyHasher) -> Section {
    let section = file.section_name().unwrap_or_default();
    let (catalog, findings) = Catalog::compile_hashed(file.locale(), section, source, hasher);
    Section::new(catalog, file, findings, source.is_broken())
}

fn log_findings(file: &ListedFile, section: &Section) {
    for finding in &section.findings {
        let place = finding.place.map(|place| place.to_string()).unwrap_or_default();
        warn!(
            target: "crow_fly::catalogs",
            place = format!("{}:{place}", file.origin()), key = finding.key, rule = finding.rule.id(), help = finding.help,
            "{}", finding.text,
        );
    }
}
