//! The object store of releases: publish, activate, roll back, clean.

use std::collections::{BTreeSet, HashSet};
use std::fmt;
use std::sync::Arc;
use std::time::Duration;

use object_store::path::Path;
use object_store::{Error, ObjectMeta, ObjectStore, ObjectStoreExt, PutMode, PutOptions, PutPayload};
use serde::{Deserialize, Serialize};
use tokio::task::JoinSet;

use super::error::ReleaseError;
use super::id::{ReleaseId, Sha256Hash};
use super::manifest::{Manifest, ManifestFile};
use super::package::Release;

/// Releases in an object store: a bucket of any cloud, or a folder. Cheap to clone.
#[derive(Clone)]
pub struct ReleaseStore {
    store: Arc<dyn ObjectStore>,
    prefix: Path,
}

impl fmt::Debug for ReleaseStore {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("ReleaseStore")
            .field("store", &self.store.to_string())
            .field("prefix", &self.prefix)
            .finish()
    }
}

/// An activation of a release: from then on it is the active one, until the next.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Activation {
    number: u64,
    release: ReleaseId,
}

impl Activation {
    /// Its number, from 1.
    pub const fn number(&self) -> u64 {
        self.number
    }

    /// The release.
    pub const fn release(&self) -> ReleaseId {
        self.release
    }
}

/// What [`ReleaseStore::clean`] has deleted.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[non_exhaustive]
pub struct Cleaned {
    /// Releases whose manifest is gone.
    pub releases: Vec<ReleaseId>,
    /// How many files are gone.
    pub files: usize,
    /// How many bytes they had.
    pub bytes: u64,
}

/// An activation as it is stored.
#[derive(Deserialize, Serialize)]
struct Pointer {
    release: ReleaseId,
    /// Tells an activation from another one of the same release: of one that is tried again it is known whose it is.
    #[serde(default)]
    token: String,
}

/// How many objects are asked for at the same time.
const AT_ONCE: usize = 16;

/// How long an object that nothing needs stays: a deployment may be about to need it.
const YOUNG: Duration = Duration::from_hours(24);

impl ReleaseStore {
    /// Releases in a store.
    pub fn new(store: Arc<dyn ObjectStore>) -> Self {
        Self { store, prefix: Path::default() }
    }

    /// Releases below a prefix of a store: `ferries/catalogs`.
    #[must_use]
    pub fn below(mut self, prefix: &str) -> Self {
        self.prefix = Path::from(prefix);
        self
    }

    fn folder(&self, name: &str) -> Path {
        self.prefix.clone().join(name)
    }

    pub(super) fn file(&self, hash: Sha256Hash) -> Path {
        self.folder("files").join(hash.to_string())
    }

    pub(super) fn release(&self, id: ReleaseId) -> Path {
        self.folder("releases").join(format!("{id}.json"))
    }

    fn pointer(&self, number: u64) -> Path {
        // So many digits that names sort like numbers.
        self.folder("active").join(format!("{number:010}.json"))
    }

    /// Reads an object of at most so many bytes; none where there is none.
    pub(super) async fn read(&self, path: &Path, most: u64) -> Result<Option<Vec<u8>>, ReleaseError> {
        let found = match self.store.get(path).await {
            Ok(found) => found,
            Err(Error::NotFound { .. }) => return Ok(None),
            Err(error) => return Err(ReleaseError::store(path, error)),
        };
        if found.meta.size > most {
            let reason = format!("it has {} bytes, and should have no more than {most}", found.meta.size);
            return Err(ReleaseError::damaged(path, reason));
        }
        let bytes = found.bytes().await.map_err(|error| ReleaseError::store(path, error))?;
        Ok(Some(bytes.to_vec()))
    }

    /// Writes an object over what is there.
    pub(super) async fn write(&self, path: &Path, bytes: Vec<u8>) -> Result<(), ReleaseError> {
        let put = self.store.put(path, PutPayload::from(bytes)).await;
        put.map(drop).map_err(|error| ReleaseError::store(path, error))
    }

    /// Writes an object where there is none; returns whether it did.
    async fn create(&self, path: &Path, bytes: Vec<u8>) -> Result<bool, ReleaseError> {
        let options = PutOptions::from(PutMode::Create);
        match self.store.put_opts(path, PutPayload::from(bytes), options).await {
            Ok(_) => Ok(true),
            Err(Error::AlreadyExists { .. } | Error::Precondition { .. }) => Ok(false),
            Err(error) => Err(ReleaseError::store(path, error)),
        }
    }

    async fn delete(&self, path: &Path) -> Result<(), ReleaseError> {
        match self.store.delete(path).await {
            Ok(()) | Err(Error::NotFound { .. }) => Ok(()),
            Err(error) => Err(ReleaseError::store(path, error)),
        }
    }

    async fn objects(&self, folder: &str) -> Result<Vec<ObjectMeta>, ReleaseError> {
        let folder = self.folder(folder);
        let listed = self.store.list_with_delimiter(Some(&folder)).await;
        listed.map(|listed| listed.objects).map_err(|error| ReleaseError::store(folder, error))
    }

    /// Publishes a release: its files, then its manifest. What is there already is not written again. Nothing changes for
    /// servers until it is [activated](Self::activate).
    ///
    /// # Errors
    /// Where the store cannot be read or written.
    pub async fn publish(&self, release: &Release) -> Result<(), ReleaseError> {
        let mut jobs = JoinSet::new();
        for (hash, bytes) in release.files() {
            let (store, bytes) = (self.clone(), bytes.to_vec());
            jobs.spawn(async move {
                let path = store.file(hash);
                // It is read: one that is damaged is written again.
                let known = store.read(&path, bytes.len() as u64).await;
                if known.is_ok_and(|known| known.as_deref() == Some(&bytes)) {
                    return Ok(());
                }
                store.write(&path, bytes).await
            });
            if jobs.len() >= AT_ONCE {
                finished(jobs.join_next().await)?;
            }
        }
        while let Some(job) = jobs.join_next().await {
            finished(Some(job))?;
        }
        self.write(&self.release(release.id()), release.json().to_vec()).await
    }

    /// Activates a published release: creates the next number. Where it is active already, nothing is created.
    ///
    /// # Errors
    /// [`Taken`](ReleaseError::Taken) where another deployment has just activated one; where the release is not there, or
    /// lacks files; and where the store cannot be read or written.
    pub async fn activate(&self, release: ReleaseId) -> Result<Activation, ReleaseError> {
        let manifest = self.manifest(release).await?;
        let present: HashSet<Path> =
            self.objects("files").await?.into_iter().map(|object| object.location).collect();
        let is_missing = |file: &&ManifestFile| !present.contains(&self.file(file.sha256()));
        let missing: Vec<String> =
            manifest.files().iter().filter(is_missing).map(|file| file.path().to_owned()).collect();
        if !missing.is_empty() {
            return Err(ReleaseError::Incomplete(missing));
        }
        let active = self.activations(1).await?.pop();
        let number = match active {
            Some(active) if active.release == release => return Ok(active),
            Some(active) => active.number.saturating_add(1),
            None => 1,
        };
        let token = format!("{:016x}", fastrand::u64(..));
        let pointer = Pointer { release, token: token.clone() };
        let json =
            serde_json::to_vec(&pointer).map_err(|error| ReleaseError::store("an activation", error))?;
        let path = self.pointer(number);
        if self.create(&path, json).await? {
            return Ok(Activation { number, release });
        }
        // Where the answer to the first try was lost, it is ours.
        match self.read_pointer(number).await? {
            Some(pointer) if pointer.token == token => Ok(Activation { number, release }),
            Some(pointer) => Err(ReleaseError::Taken { number, active: pointer.release }),
            None => Err(ReleaseError::damaged(path, "it is there and is not")),
        }
    }

    /// Activates the release that was active before the active one.
    ///
    /// # Errors
    /// Where there was none, and as [`activate`](Self::activate).
    pub async fn roll_back(&self) -> Result<Activation, ReleaseError> {
        let activations = self.activations(usize::MAX).await?;
        let active = activations.first().ok_or(ReleaseError::NoneActive)?;
        let earlier = activations.iter().find(|earlier| earlier.release != active.release);
        self.activate(earlier.ok_or(ReleaseError::NoneActive)?.release).await
    }

    /// The last activations, the active one first.
    ///
    /// # Errors
    /// Where the store cannot be read, or one of them is damaged.
    pub async fn activations(&self, most: usize) -> Result<Vec<Activation>, ReleaseError> {
        let mut activations = Vec::new();
        for number in self.numbers().await?.into_iter().rev().take(most) {
            if let Some(pointer) = self.read_pointer(number).await? {
                activations.push(Activation { number, release: pointer.release });
            }
        }
        Ok(activations)
    }

    /// The ids of all published releases.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn releases(&self) -> Result<Vec<ReleaseId>, ReleaseError> {
        let objects = self.objects("releases").await?;
        Ok(objects
            .iter()
            .filter_map(|object| object.location.filename()?.strip_suffix(".json")?.parse().ok())
            .collect())
    }

    /// The release whose id begins with a text.
    ///
    /// # Errors
    /// Where there is none, or several, and where the store cannot be read.
    pub async fn find(&self, start: &str) -> Result<ReleaseId, ReleaseError> {
        let releases = self.releases().await?;
        let mut found = releases.into_iter().filter(|id| id.to_string().starts_with(start));
        match (found.next(), found.next()) {
            (Some(id), None) if !start.is_empty() => Ok(id),
            (Some(_), Some(_)) => Err(ReleaseError::Ambiguous(start.to_owned())),
            _ => Err(ReleaseError::Unknown(start.to_owned())),
        }
    }

    /// The manifest of a release.
    ///
    /// # Errors
    /// Where it is not there or not what was published, and where the store cannot be read.
    pub async fn manifest(&self, id: ReleaseId) -> Result<Manifest, ReleaseError> {
        Ok(self.manifest_and_json(id).await?.0)
    }

    /// The manifest of a release, and the bytes it was published as.
    pub(super) async fn manifest_and_json(&self, id: ReleaseId) -> Result<(Manifest, Vec<u8>), ReleaseError> {
        let path = self.release(id);
        let json = self.read(&path, Manifest::MAX_LENGTH as u64).await?;
        let json = json.ok_or_else(|| ReleaseError::Unknown(id.to_string()))?;
        if ReleaseId::of(&json) != id {
            return Err(ReleaseError::damaged(path, "its bytes are not those that were published"));
        }
        Ok((Manifest::from_json(&json)?, json))
    }

    /// The bytes of a file of a release.
    ///
    /// # Errors
    /// Where it is not there or not what was published, and where the store cannot be read.
    pub async fn file_bytes(&self, file: &ManifestFile) -> Result<Vec<u8>, ReleaseError> {
        let path = self.file(file.sha256());
        let bytes = self.read(&path, file.bytes()).await?;
        let bytes = bytes.ok_or_else(|| ReleaseError::damaged(&path, "it is not there"))?;
        if Sha256Hash::of(&bytes) != file.sha256() {
            return Err(ReleaseError::damaged(path, "its bytes are not those that were published"));
        }
        Ok(bytes)
    }

    /// Deletes what none of the last `keep` activations needs, where it was not written within a day before the newest
    /// object: a deployment may be about to need it. Activations themselves stay.
    ///
    /// # Errors
    /// Where the store cannot be read or written. What has been deleted until then is gone.
    pub async fn clean(&self, keep: usize) -> Result<Cleaned, ReleaseError> {
        let (files, manifests) = (self.objects("files").await?, self.objects("releases").await?);
        // Only the times of the store count: the clock of this machine may be wrong.
        let newest = files.iter().chain(&manifests).map(|object| object.last_modified).max();
        let is_old = |object: &ObjectMeta| {
            let age = newest.and_then(|newest| (newest - object.last_modified).to_std().ok());
            age.is_some_and(|age| age > YOUNG)
        };
        let mut kept: BTreeSet<ReleaseId> = BTreeSet::new();
        kept.extend(self.activations(keep.max(1)).await?.iter().map(Activation::release));
        let mut cleaned = Cleaned::default();
        let mut old = Vec::new();
        for object in &manifests {
            let name = object.location.filename().and_then(|name| name.strip_suffix(".json"));
            let Some(id) = name.and_then(|name| name.parse::<ReleaseId>().ok()) else { continue };
            if kept.contains(&id) {
                continue;
            }
            if is_old(object) {
                old.push((id, object.location.clone()));
            } else {
                kept.insert(id);
            }
        }
        let mut needed = HashSet::new();
        for id in kept {
            match self.manifest(id).await {
                Ok(manifest) => needed.extend(manifest.files().iter().map(|file| self.file(file.sha256()))),
                // It was cleaned before, when fewer were kept.
                Err(ReleaseError::Unknown(_)) => {}
                // Nobody knows what a kept release needs: nothing is deleted.
                Err(error) => return Err(error),
            }
        }
        // The manifests first: what is stopped half-way leaves files without a release, not a release without files.
        for (id, path) in old {
            self.delete(&path).await?;
            cleaned.releases.push(id);
        }
        let is_left =
            |object: &&ObjectMeta| !needed.contains(&object.location) && is_old(object) && is_ours(object);
        for object in files.iter().filter(is_left) {
            self.delete(&object.location).await?;
            cleaned.files += 1;
            cleaned.bytes += object.size;
        }
        Ok(cleaned)
    }

    /// The numbers of all activations, sorted.
    async fn numbers(&self) -> Result<Vec<u64>, ReleaseError> {
        let objects = self.objects("active").await?;
        let number = |object: &ObjectMeta| object.location.filename()?.strip_suffix(".json")?.parse().ok();
        let mut numbers: Vec<u64> = objects.iter().filter_map(number).collect();
        numbers.sort_unstable();
        Ok(numbers)
    }

    /// Notes, in a cache, which release a server had last.
    pub(super) async fn note_last(&self, activation: &Activation) -> Result<(), ReleaseError> {
        let json = serde_json::to_vec(&(activation.number, activation.release));
        let json = json.map_err(|error| ReleaseError::store("last.json", error))?;
        self.write(&self.folder("last.json"), json).await
    }

    /// The release that a server had last, as its cache says.
    pub(super) async fn last(&self) -> Result<Option<Activation>, ReleaseError> {
        let path = self.folder("last.json");
        let Some(json) = self.read(&path, 4096).await? else { return Ok(None) };
        let (number, release) =
            serde_json::from_slice(&json).map_err(|error| ReleaseError::damaged(path, error))?;
        Ok(Some(Activation { number, release }))
    }

    /// Drops all files and manifests but those of some releases out of a cache.
    pub(super) async fn retain(&self, kept: &HashSet<Path>) -> Result<(), ReleaseError> {
        for folder in ["files", "releases"] {
            for object in self.objects(folder).await? {
                if is_ours(&object) && !kept.contains(&object.location) {
                    self.delete(&object.location).await?;
                }
            }
        }
        Ok(())
    }

    /// Whether there is an activation: one small question to the store.
    pub(super) async fn has_activation(&self, number: u64) -> Result<bool, ReleaseError> {
        let path = self.pointer(number);
        match self.store.head(&path).await {
            Ok(_) => Ok(true),
            Err(Error::NotFound { .. }) => Ok(false),
            Err(error) => Err(ReleaseError::store(path, error)),
        }
    }

    async fn read_pointer(&self, number: u64) -> Result<Option<Pointer>, ReleaseError> {
        let path = self.pointer(number);
        let Some(json) = self.read(&path, 4096).await? else { return Ok(None) };
        serde_json::from_slice(&json).map(Some).map_err(|error| ReleaseError::damaged(path, error))
    }
}

/// Whether an object is named by a hash, as all of ours are: others that lie beside them are never deleted.
fn is_ours(object: &ObjectMeta) -> bool {
    let name = object.location.filename().unwrap_or_default();
    name.strip_suffix(".json").unwrap_or(name).parse::<Sha256Hash>().is_ok()
}

/// The result of a job that has ended; well where there was none.
pub(super) fn finished(
    job: Option<Result<Result<(), ReleaseError>, tokio::task::JoinError>>,
) -> Result<(), ReleaseError> {
    match job {
        None => Ok(()),
        Some(job) => job.map_err(|error| ReleaseError::store("a file", error))?,
    }
}
