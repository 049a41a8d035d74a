//! The active release as a source of catalogs.

use std::collections::{HashSet, VecDeque};
use std::path::Path;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::time::Duration;

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::finding::Finding;
use crow_fly_core::message::Functions;
use crow_fly_core::rule::Rule;
use tokio::sync::Mutex as AsyncMutex;
use tokio::task::{JoinSet, spawn_blocking};
use tracing::{info, warn};

use super::cache::{Access, Cache};
use super::error::ReleaseError;
use super::id::ReleaseId;
use super::manifest::{ListedFiles, Manifest, ManifestFile};
use super::store::{Activation, History, ReleaseStore, finished};
use crate::config::Parameters;
use crate::source::{
    Answer, Application, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching,
};

/// The active release of a store, as a source of catalogs.
///
/// - A server looks every ten seconds whether there is another activation, and whether its own is still what it was: two small
///   questions.
/// - A new release is taken when all of it has been fetched and is what was published, every file can be read, and the
///   program has what its messages require: functions and markup of the application that it is built into, and the messages
///   that are named by [`requiring`](crate::CrowFlyBuilder::requiring). Otherwise the newest one that can be taken is, or the
///   release before stays; the log and the [health](crate::Health) say why, and it is tried again.
/// - Where the activation that a server runs on is gone from the store, or names another release, two times running, the store
///   was restored: the server takes what is active there, and says so.
/// - What has been fetched is kept in a [folder](Self::with_cache), so that a restart needs no network, or else in memory.
/// - A server that starts and cannot take the active release has the last one it had, or an earlier one.
#[derive(Clone, Debug)]
pub struct Releases(Arc<Inner>);

#[derive(Debug)]
struct Inner {
    store: ReleaseStore,
    cache: Cache,
    /// Who can write in the cache's folder beside its owner.
    access: Access,
    interval: Duration,
    /// What the application has.
    program: OnceLock<Program>,
    /// One look at a time.
    looking: AsyncMutex<()>,
    state: Mutex<State>,
}

/// What messages may require of the program.
struct Program {
    functions: Functions,
    has_markup: Box<dyn Fn(&str) -> bool + Send + Sync>,
    used: Parameters,
}

impl std::fmt::Debug for Program {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Program").field("functions", &self.functions).finish_non_exhaustive()
    }
}

#[derive(Debug, Default)]
struct State {
    /// How many times running its activation was not what it was.
    doubts: u32,
    /// What was found when the store was restored.
    restored: Option<Finding>,
    /// The releases that somebody may still read from, the newest first.
    taken: VecDeque<Arc<Taken>>,
}

/// A release that has been checked.
#[derive(Debug)]
struct Taken {
    activation: Activation,
    files: ListedFiles,
}

/// How many releases are kept for pages that began with them.
const TAKEN: usize = 4;

/// How many activations are tried, from the newest on, where a release cannot be taken.
const TRIED: usize = 6;

/// How many looks have to agree that the store was restored.
const DOUBTS: u32 = 2;

/// How many files are fetched at the same time.
const AT_ONCE: usize = 8;

impl Taken {
    fn name(&self) -> String {
        name(&self.activation)
    }

    fn listing(&self, locales: &[String]) -> Listing {
        let release = self.activation.release().short();
        let listing = self.files.listing(locales, &format!("release {release}: "));
        listing.named(release).activated(self.activation.number())
    }
}

fn name(activation: &Activation) -> String {
    format!("activation {}, release {}", activation.number(), activation.release().short())
}

impl Releases {
    /// The active release of a store.
    pub fn new(store: ReleaseStore) -> Self {
        Self(Arc::new(Inner {
            store,
            cache: Cache::default(),
            access: Access::Nobody,
            interval: Duration::from_secs(10),
            program: OnceLock::new(),
            looking: AsyncMutex::default(),
            state: Mutex::default(),
        }))
    }

    /// Changes one setting; clones made before keep theirs.
    fn with(self, change: impl FnOnce(&mut Inner)) -> Self {
        let mut inner = Arc::try_unwrap(self.0).unwrap_or_else(|shared| Inner {
            store: shared.store.clone(),
            cache: shared.cache.clone(),
            access: shared.access,
            interval: shared.interval,
            program: OnceLock::new(),
            looking: AsyncMutex::default(),
            state: Mutex::default(),
        });
        change(&mut inner);
        Self(Arc::new(inner))
    }

    /// Keeps what is fetched in a folder, which is made where it does not exist, for its owner alone. Every server has one of its
    /// own. What lies in it is checked like what comes from the store.
    ///
    /// # Errors
    /// Where the folder cannot be made, and where everybody can write in it.
    pub fn with_cache(self, folder: impl AsRef<Path>) -> std::io::Result<Self> {
        let (cache, access) = Cache::in_folder(folder.as_ref())?;
        Ok(self.with(|inner| (inner.cache, inner.access) = (cache, access)))
    }

    /// Looks for another activation this often; every ten seconds by default.
    #[must_use]
    pub fn polled_every(self, interval: Duration) -> Self {
        self.with(|inner| inner.interval = interval)
    }
}

impl Inner {
    fn current(&self) -> Option<Arc<Taken>> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner).taken.front().cloned()
    }

    /// What there is now: the newest release that can be taken, or the one that stays in its place and why.
    async fn look(self: &Arc<Self>, locales: &[String]) -> Result<Listing, ReleaseError> {
        let _one = self.looking.lock().await;
        let current = self.current();
        let news = match self.news(current.as_deref()).await {
            Ok(news) => news,
            Err(error) => {
                let current = match current {
                    Some(current) => Some(current),
                    None => self.last(locales).await,
                };
                let Some(current) = current else { return Err(error) };
                return Ok(self.listing(&current, locales).with_stale(unreachable(&error, &current)));
            }
        };
        let (history, is_restored) = match (news, &current) {
            (News::None, Some(current)) => return Ok(self.listing(current, locales)),
            (News::Doubtful(reason), Some(current)) => {
                let text = format!("{reason}; {} stays in use", current.name());
                return Ok(self
                    .listing(current, locales)
                    .with_stale(of_store(text, "see whether the store was restored")));
            }
            (News::Activations(history), _) => (history, false),
            (News::Restored(history), _) => (history, true),
            (News::None | News::Doubtful(_), None) => (History::default(), false),
        };
        self.newest(history, current.filter(|_| !is_restored), is_restored, locales).await
    }

    /// Takes the newest of some activations that can be taken, above the current one.
    async fn newest(
        self: &Arc<Self>,
        history: History,
        current: Option<Arc<Taken>>,
        is_restored: bool,
        locales: &[String],
    ) -> Result<Listing, ReleaseError> {
        let floor = current.as_ref().map_or(0, |current| current.activation.number());
        let left = self.current();
        let mut refused: Vec<(Activation, ReleaseError)> = Vec::new();
        let mut taken = None;
        for activation in history.activations.iter().filter(|activation| activation.number() > floor) {
            match self.take(activation.clone(), locales).await {
                Ok(newer) => {
                    taken = Some(newer);
                    break;
                }
                Err(error) => refused.push((activation.clone(), error)),
            }
        }
        let is_taken = taken.is_some();
        let stays = match taken.or(current).or_else(|| left.clone()) {
            Some(stays) => Some(stays),
            None => self.last(locales).await,
        };
        let Some(stays) = stays else {
            let error = refused.into_iter().next().map(|(_, error)| error);
            return Err(error.unwrap_or(ReleaseError::NoneActive));
        };
        if is_restored
            && is_taken
            && let Some(left) = left
        {
            self.note_restored(&left, &stays);
        }
        let mut listing = self.listing(&stays, locales);
        let above = stays.activation.number();
        for (number, reason) in history.damaged.iter().filter(|(number, _)| *number > above) {
            let text = format!("activation {number} cannot be read: {reason}; {} stays in use", stays.name());
            listing = listing.with_stale(of_release(text, "activate a release: the next number counts"));
        }
        // The newest counts: of those below it the next one that can be taken is in use.
        if let Some((activation, error)) = refused.first() {
            let text = format!(
                "{} is refused: {}; {} stays in use",
                name(activation),
                error.problem(),
                stays.name()
            );
            listing = listing.with_stale(of_release(text, error.help()));
        }
        if !is_taken && refused.is_empty() && history.damaged.is_empty() {
            listing = listing.with_stale(unreachable(&ReleaseError::NoneActive, &stays));
        }
        for stray in &history.strays {
            let text = format!("`{stray}` lies among the activations and is none");
            listing = listing
                .with_finding(odd(text, "delete it: activations are made by `crow-fly release activate`"));
        }
        Ok(listing)
    }

    /// A release as a listing, with what is known of its store and its cache.
    fn listing(&self, taken: &Taken, locales: &[String]) -> Listing {
        let mut listing = taken.listing(locales);
        if self.access == Access::Group {
            let text = "others than this program's user can write in the cache of releases".to_owned();
            listing = listing.with_finding(odd(text, "take the right to write away from the group"));
        }
        let restored = self.state.lock().unwrap_or_else(PoisonError::into_inner).restored.clone();
        restored.into_iter().fold(listing, Listing::with_finding)
    }

    /// Says, until the next activation, that the store was restored.
    fn note_restored(&self, left: &Taken, taken: &Taken) {
        let text = format!(
            "the store of releases was restored: {} is not in it any more, and {} is active there",
            left.name(),
            taken.name()
        );
        let finding = odd(text, "activate the release that is wanted");
        let mut state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
        (state.doubts, state.restored) = (0, Some(finding));
    }

    /// What the store has that the current release is not.
    async fn news(&self, current: Option<&Taken>) -> Result<News, ReleaseError> {
        let Some(current) = current else { return Ok(News::Activations(self.store.history(TRIED).await?)) };
        let (number, release) = (current.activation.number(), current.activation.release());
        let reason = match self.store.release_of(number).await {
            Ok(Some(there)) if there == release => None,
            Ok(Some(there)) => {
                Some(format!("activation {number} is release {} in the store now", there.short()))
            }
            Ok(None) => Some(format!("activation {number} is not in the store any more")),
            // A damaged pointer is no other one.
            Err(ReleaseError::Damaged { .. }) => None,
            Err(error) => return Err(error),
        };
        let doubts = {
            let mut state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
            state.doubts = if reason.is_some() { state.doubts.saturating_add(1) } else { 0 };
            state.doubts
        };
        match reason {
            Some(reason) if doubts < DOUBTS => Ok(News::Doubtful(reason)),
            Some(_) => Ok(News::Restored(self.store.history(TRIED).await?)),
            None if self.store.has_newer(number).await? => {
                Ok(News::Activations(self.store.history(TRIED).await?))
            }
            None => Ok(News::None),
        }
    }

    /// Fetches and checks a release, and makes it the current one.
    async fn take(
        self: &Arc<Self>,
        activation: Activation,
        locales: &[String],
    ) -> Result<Arc<Taken>, ReleaseError> {
        let id = activation.release();
        let manifest = self.manifest(id).await?;
        self.check(&manifest)?;
        let taken = Arc::new(Taken { activation, files: ListedFiles::of(&manifest) });
        let wanted: HashSet<&str> = locales.iter().map(String::as_str).collect();
        let mut jobs = JoinSet::new();
        for (listed, file) in taken.files.iter().filter(|(listed, _)| wanted.contains(listed.locale())) {
            let (inner, listed, file) = (Arc::clone(self), listed.clone(), file.clone());
            jobs.spawn(async move {
                let bytes = inner.file(&file).await?;
                readable(listed, &file, bytes).await
            });
            if jobs.len() >= AT_ONCE {
                finished(jobs.join_next().await)?;
            }
        }
        while let Some(job) = jobs.join_next().await {
            finished(Some(job))?;
        }
        info!(target: "crow_fly::catalogs", release = %id, activation = taken.activation.number(), "release taken");
        {
            let mut state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
            // A later activation than the restored store's first one: it is known again.
            state.restored = None;
            state.taken.push_front(Arc::clone(&taken));
            state.taken.truncate(TAKEN);
        }
        self.note(&taken).await;
        Ok(taken)
    }

    /// Checks that the program goes with a release.
    fn check(&self, manifest: &Manifest) -> Result<(), ReleaseError> {
        // Without an application there is nothing to hold it against.
        let Some(program) = self.program.get() else { return Ok(()) };
        manifest.check(&program.functions, &*program.has_markup, &program.used)
    }

    /// Notes the release for the next start, and drops what no release that is kept needs. Without it the server runs all
    /// the same.
    async fn note(&self, taken: &Taken) {
        let kept: HashSet<String> = {
            let state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
            let of_one = |taken: &Arc<Taken>| {
                let files = taken.files.iter().map(|(_, file)| Cache::file(file.sha256()));
                files.chain([Cache::release(taken.activation.release())]).collect::<Vec<_>>()
            };
            state.taken.iter().flat_map(of_one).collect()
        };
        let noted = match self.cache.note_last(&taken.activation).await {
            Ok(()) => self.cache.retain(kept).await,
            error => error,
        };
        if let Err(error) = noted {
            warn!(target: "crow_fly::catalogs", %error, "the release cannot be noted for the next start");
        }
    }

    /// The release that a server had last, for one that starts and can have none from the store.
    async fn last(self: &Arc<Self>, locales: &[String]) -> Option<Arc<Taken>> {
        let last = self.cache.last().await?;
        self.take(last, locales).await.ok()
    }

    async fn manifest(&self, id: ReleaseId) -> Result<Manifest, ReleaseError> {
        let name = Cache::release(id);
        if let Some(json) = self.cache.read(&name, Manifest::MAX_LENGTH as u64).await
            && ReleaseId::of(&json) == id
        {
            return Manifest::from_json(&json);
        }
        let (manifest, json) = self.store.manifest_and_json(id).await?;
        self.keep(&name, json).await;
        Ok(manifest)
    }

    /// The bytes of a file: from the cache, or else from the store; checked in both cases.
    async fn file(&self, file: &ManifestFile) -> Result<Vec<u8>, ReleaseError> {
        let name = Cache::file(file.sha256());
        if let Some(bytes) = self.cache.read(&name, file.bytes()).await
            && file.verify(&bytes).is_ok()
        {
            return Ok(bytes);
        }
        let stored = self.store.read(&self.store.file(file.sha256()), file.bytes()).await?;
        let bytes = stored.ok_or_else(|| ReleaseError::Incomplete(vec![file.path().to_owned()]))?;
        file.verify(&bytes)?;
        self.keep(&name, bytes.clone()).await;
        Ok(bytes)
    }

    /// Keeps something in the cache. Where it cannot, it is fetched again when it is needed.
    async fn keep(&self, name: &str, bytes: Vec<u8>) {
        if let Err(error) = self.cache.write(name, bytes).await {
            warn!(target: "crow_fly::catalogs", %error, "what was fetched cannot be kept");
        }
    }

    async fn read(&self, listed: &ListedFile) -> Result<Vec<u8>, SourceError> {
        let found = {
            let state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
            state.taken.iter().find_map(|taken| taken.files.get(listed).cloned())
        };
        let file = found.ok_or_else(|| SourceError::changed(listed.origin()))?;
        self.file(&file).await.map_err(|error| SourceError::new(listed.origin(), error))
    }
}

/// Whether a file can be read: a release with one that cannot be is refused.
async fn readable(listed: ListedFile, file: &ManifestFile, bytes: Vec<u8>) -> Result<(), ReleaseError> {
    let read = spawn_blocking(move || {
        let source = SectionSource::read(&bytes, listed.format());
        source.problems().first().map(|problem| problem.finding(listed.locale(), "").text)
    });
    match read.await {
        Ok(None) => Ok(()),
        Ok(Some(problem)) => Err(ReleaseError::damaged(file.path(), problem)),
        Err(error) => Err(ReleaseError::damaged(file.path(), error)),
    }
}

/// What a look at the store brings.
enum News {
    None,
    /// The activation is not what it was: why.
    Doubtful(String),
    Activations(History),
    Restored(History),
}

fn unreachable(error: &ReleaseError, stays: &Taken) -> Finding {
    of_store(format!("{}; {} stays in use", error.problem(), stays.name()), error.help())
}

/// What a person should see to, and visitors do not notice.
fn odd(text: String, help: &'static str) -> Finding {
    Finding::of_file(Rule::OddReleases, "", "", text, help)
}

fn of_store(text: String, help: &'static str) -> Finding {
    Finding::of_file(Rule::UnreachableReleases, "", "", text, help)
}

fn of_release(text: String, help: &'static str) -> Finding {
    Finding::of_file(Rule::RefusedRelease, "", "", text, help)
}

impl CatalogSource for Releases {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        Answer::waiting(async move {
            let looked = self.0.look(locales).await;
            looked.map_err(|error| SourceError::new("the store of releases", error))
        })
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let file = file.clone();
        Answer::waiting(async move { self.0.read(&file).await })
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        // It is polled, in development as well.
        Some(Box::new(()))
    }

    fn poll_interval(&self) -> Option<Duration> {
        Some(self.0.interval)
    }

    fn built_into(&self, application: &Application<'_>) {
        let _ = self.0.program.set(Program {
            functions: application.functions(),
            has_markup: application.markup(),
            used: application.used().clone(),
        });
    }
}
