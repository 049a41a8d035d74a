//! The active release as a source of catalogs.

use std::collections::{BTreeMap, BTreeSet, HashSet, VecDeque};
use std::path::Path;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::message::Functions;
use crow_fly_core::rule::Rule;
use object_store::local::LocalFileSystem;
use object_store::memory::InMemory;
use tokio::sync::Mutex as AsyncMutex;
use tokio::task::{JoinSet, spawn_blocking};
use tracing::{info, warn};

use super::error::ReleaseError;
use super::id::ReleaseId;
use super::manifest::{ListedFiles, Manifest, ManifestFile, Parameters};
use super::store::{Activation, ReleaseStore, finished};
use crate::source::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};

/// The active release of a store, as a source of catalogs.
///
/// - A server looks every ten seconds whether there is another activation: one small question.
/// - A new release is taken when all of it has been fetched and is what was published, every file can be read, and the
///   program has what its messages require. Otherwise the release before stays; the log and the
///   [health](crate::Health) say why, and it is tried again.
/// - What has been fetched is kept in a [folder](Self::with_cache), so that a restart needs no network, or else in memory.
/// - A server that starts and cannot take the active release has the last one it had, or an earlier one.
#[derive(Clone, Debug)]
pub struct Releases(Arc<Inner>);

#[derive(Debug)]
struct Inner {
    store: ReleaseStore,
    cache: ReleaseStore,
    interval: Duration,
    functions: Option<Functions>,
    used: Parameters,
    /// One look at a time.
    looking: AsyncMutex<()>,
    state: Mutex<State>,
}

#[derive(Debug, Default)]
struct State {
    /// The releases that somebody may still read from, the newest first.
    taken: VecDeque<Arc<Taken>>,
}

/// A release that has been checked.
#[derive(Debug)]
struct Taken {
    activation: Activation,
    files: ListedFiles,
}

/// The folder in the cache's folder that is this program's own: what is not needed any more is deleted there, and nowhere
/// else, whatever folder was named.
const CACHE: &str = "fetched-releases";

/// How many releases are kept for pages that began with them.
const TAKEN: usize = 4;

/// How many earlier activations are tried where the active release cannot be used.
const EARLIER: usize = 5;

/// How many files are fetched at the same time.
const AT_ONCE: usize = 8;

impl Taken {
    fn name(&self) -> String {
        name(&self.activation)
    }

    fn listing(&self, locales: &[String]) -> Listing {
        let release = self.activation.release().short();
        let listing = self.files.listing(locales, &format!("release {release}: "));
        listing.named(self.name())
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
            cache: ReleaseStore::new(Arc::new(InMemory::new())),
            interval: Duration::from_secs(10),
            functions: None,
            used: Parameters::new(),
            looking: AsyncMutex::default(),
            state: Mutex::default(),
        }))
    }

    /// Changes one setting; clones made before keep theirs.
    fn with(self, change: impl FnOnce(&mut Inner)) -> Self {
        let mut inner = Arc::try_unwrap(self.0).unwrap_or_else(|shared| Inner {
            store: shared.store.clone(),
            cache: shared.cache.clone(),
            interval: shared.interval,
            functions: shared.functions.clone(),
            used: shared.used.clone(),
            looking: AsyncMutex::default(),
            state: Mutex::default(),
        });
        change(&mut inner);
        Self(Arc::new(inner))
    }

    /// Keeps what is fetched in a folder, which is made where it is not there. Every server has one of its own.
    ///
    /// # Errors
    /// Where the folder cannot be made.
    pub fn with_cache(self, folder: impl AsRef<Path>) -> std::io::Result<Self> {
        let folder = folder.as_ref();
        std::fs::create_dir_all(folder)?;
        let files = LocalFileSystem::new_with_prefix(folder).map_err(std::io::Error::other)?;
        Ok(self.with(|inner| inner.cache = ReleaseStore::new(Arc::new(files)).below(CACHE)))
    }

    /// Looks for another activation this often; every ten seconds by default.
    #[must_use]
    pub fn polled_every(self, interval: Duration) -> Self {
        self.with(|inner| inner.interval = interval)
    }

    /// The application's own functions. With them, a release whose messages need others is refused.
    #[must_use]
    pub fn with_functions(self, functions: Functions) -> Self {
        self.with(|inner| inner.functions = Some(functions))
    }

    /// The messages that this program uses, with the parameters it gives them. A release that lacks one of them, or whose
    /// message needs another parameter, is refused.
    #[must_use]
    pub fn requiring<'m>(self, messages: impl IntoIterator<Item = (&'m str, &'m [&'m str])>) -> Self {
        let owned = |(key, parameters): (&str, &[&str])| {
            let parameters: BTreeSet<String> = parameters.iter().map(|name| (*name).to_owned()).collect();
            (key.to_owned(), parameters)
        };
        let used: BTreeMap<_, _> = messages.into_iter().map(owned).collect();
        self.with(|inner| inner.used = used)
    }
}

impl Inner {
    fn current(&self) -> Option<Arc<Taken>> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner).taken.front().cloned()
    }

    /// What there is now: the active release, or the one that stays in its place and why.
    async fn look(self: &Arc<Self>, locales: &[String]) -> Result<Listing, ReleaseError> {
        let _one = self.looking.lock().await;
        let current = self.current();
        let reason = match self.newer(current.as_deref()).await {
            Ok(None) => match &current {
                Some(current) => return Ok(current.listing(locales)),
                None => Reason::of(ReleaseError::NoneActive, None),
            },
            Ok(Some(activation)) => match self.take(activation.clone(), locales).await {
                Ok(taken) => return Ok(taken.listing(locales)),
                Err(error) => Reason::of(error, Some(activation)),
            },
            Err(error) => Reason::of(error, None),
        };
        let fallback = match current {
            Some(current) => Some(current),
            None => self.fallback(reason.activation.as_ref(), locales).await,
        };
        let Some(fallback) = fallback else { return Err(reason.error) };
        Ok(fallback.listing(locales).with_stale(reason.finding(&fallback)))
    }

    /// The newest activation, where it is newer than the current one.
    async fn newer(&self, current: Option<&Taken>) -> Result<Option<Activation>, ReleaseError> {
        if let Some(current) = current
            && !self.store.has_activation(current.activation.number().saturating_add(1)).await?
        {
            return Ok(None);
        }
        Ok(self.store.activations(1).await?.pop())
    }

    /// Fetches and checks a release, and makes it the current one.
    async fn take(
        self: &Arc<Self>,
        activation: Activation,
        locales: &[String],
    ) -> Result<Arc<Taken>, ReleaseError> {
        let id = activation.release();
        let manifest = self.manifest(id).await?;
        manifest.check(self.functions.as_ref(), &self.used)?;
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
            state.taken.push_front(Arc::clone(&taken));
            state.taken.truncate(TAKEN);
        }
        self.note(&taken).await;
        Ok(taken)
    }

    /// Notes the release for the next start, and drops what no release that is kept needs. Without it the server runs all
    /// the same.
    async fn note(&self, taken: &Taken) {
        let kept: HashSet<_> = {
            let state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
            let of_one = |taken: &Arc<Taken>| {
                let files = taken.files.iter().map(|(_, file)| self.cache.file(file.sha256()));
                files.chain([self.cache.release(taken.activation.release())]).collect::<Vec<_>>()
            };
            state.taken.iter().flat_map(of_one).collect()
        };
        let noted = match self.cache.note_last(&taken.activation).await {
            Ok(()) => self.cache.retain(&kept).await,
            error => error,
        };
        if let Err(error) = noted {
            let cause = std::error::Error::source(&error).map(ToString::to_string);
            warn!(target: "crow_fly::catalogs", %error, cause, "the release cannot be noted for the next start");
        }
    }

    /// A release for a server that starts and cannot take the active one: the last it had, or else an earlier one.
    async fn fallback(
        self: &Arc<Self>,
        refused: Option<&Activation>,
        locales: &[String],
    ) -> Option<Arc<Taken>> {
        let last = self.cache.last().await.ok().flatten();
        let earlier = match refused {
            Some(_) => self.store.activations(EARLIER + 1).await.unwrap_or_default(),
            None => Vec::new(),
        };
        for activation in last.into_iter().chain(earlier) {
            if Some(&activation) != refused
                && let Ok(taken) = self.take(activation, locales).await
            {
                return Some(taken);
            }
        }
        None
    }

    async fn manifest(&self, id: ReleaseId) -> Result<Manifest, ReleaseError> {
        let path = self.cache.release(id);
        if let Ok(Some(json)) = self.cache.read(&path, Manifest::MAX_LENGTH as u64).await
            && ReleaseId::of(&json) == id
        {
            return Manifest::from_json(&json);
        }
        let (manifest, json) = self.store.manifest_and_json(id).await?;
        self.keep(&path, json).await;
        Ok(manifest)
    }

    /// The bytes of a file: from the cache, or else from the store; checked in both cases.
    async fn file(&self, file: &ManifestFile) -> Result<Vec<u8>, ReleaseError> {
        let path = self.cache.file(file.sha256());
        if let Ok(Some(bytes)) = self.cache.read(&path, file.bytes()).await
            && file.verify(&bytes).is_ok()
        {
            return Ok(bytes);
        }
        let stored = self.store.read(&self.store.file(file.sha256()), file.bytes()).await?;
        let bytes = stored.ok_or_else(|| ReleaseError::Incomplete(vec![file.path().to_owned()]))?;
        file.verify(&bytes)?;
        self.keep(&path, bytes.clone()).await;
        Ok(bytes)
    }

    /// Keeps something in the cache. Where it cannot, it is fetched again when it is needed.
    async fn keep(&self, path: &object_store::path::Path, bytes: Vec<u8>) {
        if let Err(error) = self.cache.write(path, bytes).await {
            let cause = std::error::Error::source(&error).map(ToString::to_string);
            warn!(target: "crow_fly::catalogs", %error, cause, "what was fetched cannot be kept");
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

/// Why the newest release is not the current one.
struct Reason {
    error: ReleaseError,
    /// The activation, where it is known.
    activation: Option<Activation>,
}

impl Reason {
    const fn of(error: ReleaseError, activation: Option<Activation>) -> Self {
        Self { error, activation }
    }

    fn finding(&self, stays: &Taken) -> Finding {
        let (error, stays) = (self.error.problem(), stays.name());
        let (rule, text) = match &self.activation {
            Some(activation) => (
                Rule::RefusedRelease,
                format!("{} is refused: {error}; {stays} stays in use", name(activation)),
            ),
            None => (Rule::UnreachableReleases, format!("{error}; {stays} stays in use")),
        };
        Finding::of_file(rule, Severity::Error, "", "", text, self.error.help())
    }
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
}
