//! The object store of releases: publish, activate, roll back, clean.

use std::collections::{BTreeSet, HashMap, HashSet};
use std::fmt;
use std::future::poll_fn;
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
    pub(super) const fn new(number: u64, release: ReleaseId) -> Self {
        Self { number, release }
    }

    /// Its number, from 1.
    pub const fn number(&self) -> u64 {
        self.number
    }

    /// The release.
    pub const fn release(&self) -> ReleaseId {
        self.release
    }
}

/// The activations of a store, with what is wrong beside them.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[non_exhaustive]
pub struct History {
    /// Those that can be read, the newest first.
    pub activations: Vec<Activation>,
    /// The numbers of those that cannot be read, each with the reason, the newest first. Servers and commands go on past them.
    pub damaged: Vec<(u64, String)>,
    /// What else lies beside the activations and is none: names of objects. Nobody reads it.
    pub strays: Vec<String>,
    /// The releases that somebody has rolled back from, and nobody has activated since.
    pub left: Vec<ReleaseId>,
    /// The highest number there is, damaged or not; 0 where there is none.
    highest: u64,
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
    /// Objects whose time is ahead of the store's own clock. Nothing is deleted while there are any.
    pub ahead: Vec<String>,
}

/// An activation as it is stored.
#[derive(Deserialize, Serialize)]
struct Pointer {
    release: ReleaseId,
    /// Tells an activation from another one of the same release: of one that is tried again it is known whose it is.
    #[serde(default)]
    token: String,
    /// The release that was rolled back from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    left: Option<ReleaseId>,
}

/// How many objects are asked for at the same time.
const AT_ONCE: usize = 16;

/// How long an object that nothing needs stays: a deployment may be about to need it.
const YOUNG: Duration = Duration::from_hours(24);

/// How far an activation's number may be above the one before it. Numbers are counted one by one; what is further away was not
/// made by a deployment, and would leave no number after it.
const FURTHEST: u64 = 1_000_000;

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

    /// Publishes a release: its files, then its manifest. What is there already is not written again, unless it is damaged, or so
    /// old that it could be cleaned. Nothing changes for servers until it is [activated](Self::activate).
    ///
    /// # Errors
    /// Where the store cannot be read or written.
    pub async fn publish(&self, release: &Release) -> Result<(), ReleaseError> {
        let clock = self.clock().await?;
        let files = release.files().map(|(hash, bytes)| (self.file(hash), bytes.to_vec()));
        let mut jobs = JoinSet::new();
        for (path, bytes) in files {
            let (store, clock) = (self.clone(), clock.clone());
            jobs.spawn(async move { store.renew(&path, bytes, &clock).await });
            if jobs.len() >= AT_ONCE {
                finished(jobs.join_next().await)?;
            }
        }
        while let Some(job) = jobs.join_next().await {
            finished(Some(job))?;
        }
        self.write(&self.release(release.id()), release.json().to_vec()).await
    }

    /// Writes an object, where it is not there as it should be, or is old.
    async fn renew(&self, path: &Path, bytes: Vec<u8>, clock: &ObjectMeta) -> Result<(), ReleaseError> {
        // It is read: one that is damaged is written again.
        if let Ok(found) = self.store.get(path).await
            && age(clock, &found.meta).is_some_and(|age| age < YOUNG / 2)
            && found.meta.size == bytes.len() as u64
            && found.bytes().await.is_ok_and(|known| *known == *bytes)
        {
            return Ok(());
        }
        self.write(path, bytes).await
    }

    /// An object that was just written: its time is that of the store's own clock. The clock of this machine may be wrong.
    async fn clock(&self) -> Result<ObjectMeta, ReleaseError> {
        let path = self.folder("clock");
        self.write(&path, b"the time of this object is the store's".to_vec()).await?;
        self.store.head(&path).await.map_err(|error| ReleaseError::store(&path, error))
    }

    /// Activates a published release: creates the next number. Where the release is active already, nothing is created: the
    /// activation that it has is returned.
    ///
    /// # Errors
    /// [`Taken`](ReleaseError::Taken) where another deployment has just activated one; where the release is not there, or
    /// lacks files; and where the store cannot be read or written.
    pub async fn activate(&self, release: ReleaseId) -> Result<Activation, ReleaseError> {
        self.point_to(release, None).await
    }

    async fn point_to(
        &self,
        release: ReleaseId,
        left: Option<ReleaseId>,
    ) -> Result<Activation, ReleaseError> {
        self.check(release).await?;
        let history = self.history(usize::MAX).await?;
        if let Some(active) = history.active_at_the_top().filter(|active| active.release == release) {
            return Ok(active.clone());
        }
        // What a `clean` may be about to delete is new again.
        self.touch(release).await?;
        let activation = self.create_pointer(history.highest, release, left).await?;
        // Another process may have deleted what was there a moment ago.
        if let Err(error) = self.check(release).await {
            if let Some(before) = history.activations.first()
                && before.release != release
            {
                self.create_pointer(activation.number, before.release, Some(release)).await?;
            }
            return Err(error);
        }
        Ok(activation)
    }

    /// Creates the activation after a number.
    async fn create_pointer(
        &self,
        highest: u64,
        release: ReleaseId,
        left: Option<ReleaseId>,
    ) -> Result<Activation, ReleaseError> {
        let number = highest.saturating_add(1);
        let token = format!("{:016x}", fastrand::u64(..));
        let pointer = Pointer { release, token: token.clone(), left };
        let json =
            serde_json::to_vec(&pointer).map_err(|error| ReleaseError::store("an activation", error))?;
        let path = self.pointer(number);
        if self.create(&path, json).await? {
            return Ok(Activation { number, release });
        }
        // Where the answer to the first try was lost, it is ours.
        match self.read_pointer(number).await {
            Ok(Some(pointer)) if pointer.token == token => Ok(Activation { number, release }),
            Ok(Some(pointer)) => Err(ReleaseError::Taken { number, active: pointer.release }),
            Ok(None) => Err(ReleaseError::damaged(path, "it is there and is not")),
            Err(error) => Err(error),
        }
    }

    /// Whether a release is whole: its manifest is what was published, and all its files are there.
    async fn check(&self, release: ReleaseId) -> Result<(), ReleaseError> {
        let manifest = self.manifest(release).await?;
        let present: HashSet<Path> =
            self.objects("files").await?.into_iter().map(|object| object.location).collect();
        let is_missing = |file: &&ManifestFile| !present.contains(&self.file(file.sha256()));
        let missing: Vec<String> =
            manifest.files().iter().filter(is_missing).map(|file| file.path().to_owned()).collect();
        if missing.is_empty() { Ok(()) } else { Err(ReleaseError::Incomplete(missing)) }
    }

    /// Writes what is old of a release again, so that it is new.
    async fn touch(&self, release: ReleaseId) -> Result<(), ReleaseError> {
        let (manifest, json) = self.manifest_and_json(release).await?;
        let times: HashMap<Path, ObjectMeta> = self
            .objects("files")
            .await?
            .into_iter()
            .map(|object| (object.location.clone(), object))
            .collect();
        let clock = self.clock().await?;
        for file in manifest.files() {
            let path = self.file(file.sha256());
            let is_young =
                times.get(&path).and_then(|about| age(&clock, about)).is_some_and(|age| age < YOUNG / 2);
            if !is_young {
                self.write(&path, self.file_bytes(file).await?).await?;
            }
        }
        self.renew(&self.release(release), json, &clock).await
    }

    /// Activates the release that was active before: see [`earlier`](Self::earlier). What is left is written down, so that
    /// nobody rolls back to it.
    ///
    /// # Errors
    /// Where there is none, and as [`activate`](Self::activate).
    pub async fn roll_back(&self) -> Result<Activation, ReleaseError> {
        self.roll_back_to(self.earlier().await?).await
    }

    /// Activates a release in place of the active one, which is written down as one to be left.
    ///
    /// # Errors
    /// Where no release is active, and as [`activate`](Self::activate).
    pub async fn roll_back_to(&self, release: ReleaseId) -> Result<Activation, ReleaseError> {
        let history = self.history(usize::MAX).await?;
        let active = history.activations.first().ok_or(ReleaseError::NoneActive)?.release;
        self.point_to(release, (active != release).then_some(active)).await
    }

    /// The release that [`roll_back`](Self::roll_back) leads to: the newest that was active before the active one, is whole, and
    /// was not rolled back from itself.
    ///
    /// # Errors
    /// Where there is none, and where the store cannot be read.
    pub async fn earlier(&self) -> Result<ReleaseId, ReleaseError> {
        let history = self.history(usize::MAX).await?;
        let active = history.activations.first().ok_or(ReleaseError::NoneActive)?.release;
        let mut tried = BTreeSet::from([active]);
        for Activation { release, .. } in &history.activations {
            if !history.left.contains(release) && tried.insert(*release) && self.check(*release).await.is_ok()
            {
                return Ok(*release);
            }
        }
        Err(ReleaseError::NoneEarlier)
    }

    /// The last activations that can be read, the active one first.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn activations(&self, most: usize) -> Result<Vec<Activation>, ReleaseError> {
        Ok(self.history(most).await?.activations)
    }

    /// The last activations, with those that are damaged, and what lies beside them.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn history(&self, most: usize) -> Result<History, ReleaseError> {
        let (numbers, strays) = self.numbers().await?;
        let mut history =
            History { strays, highest: numbers.last().copied().unwrap_or(0), ..History::default() };
        let (mut left, mut named) = (Vec::new(), BTreeSet::new());
        for number in numbers.into_iter().rev() {
            if history.activations.len() >= most {
                break;
            }
            match self.read_pointer(number).await {
                Ok(Some(pointer)) => {
                    // From the newest on: what counts is what was done with a release last.
                    named.insert(pointer.release);
                    if let Some(release) = pointer.left.filter(|release| named.insert(*release)) {
                        left.push(release);
                    }
                    history.activations.push(Activation { number, release: pointer.release });
                }
                Ok(None) => {}
                Err(ReleaseError::Damaged { reason, .. }) => history.damaged.push((number, reason)),
                Err(error) => return Err(error),
            }
        }
        history.left = left;
        Ok(history)
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

    /// Deletes what none of the last `keep` activations needs, where the store has not written it within a day: a deployment may
    /// be about to need it. Activations themselves stay. Each object is looked at once more just before it is deleted, and what a
    /// release that was activated meanwhile needs is written again.
    ///
    /// # Errors
    /// Where the store cannot be read or written. What has been deleted until then is gone.
    pub async fn clean(&self, keep: usize) -> Result<Cleaned, ReleaseError> {
        let (files, manifests) = (self.objects("files").await?, self.objects("releases").await?);
        // After they were listed: none of them is newer.
        let clock = self.clock().await?;
        let mut cleaned = Cleaned::default();
        let ahead =
            files.iter().chain(&manifests).filter(|object| object.last_modified > clock.last_modified);
        cleaned.ahead = ahead.map(|object| object.location.to_string()).collect();
        if !cleaned.ahead.is_empty() {
            return Ok(cleaned);
        }
        let (mut kept, mut old) = (self.kept(keep).await?, Vec::new());
        for object in &manifests {
            let name = object.location.filename().and_then(|name| name.strip_suffix(".json"));
            match name.and_then(|name| name.parse::<ReleaseId>().ok()) {
                Some(id) if kept.contains(&id) => {}
                Some(id) if is_old(&clock, object) => old.push(id),
                // A young one is as good as kept.
                Some(id) => drop(kept.insert(id)),
                None => {}
            }
        }
        let mut needed = self.needed(&kept).await?;
        // The activations once more, after everything else was read.
        let activated: BTreeSet<ReleaseId> = self.kept(keep).await?.difference(&kept).copied().collect();
        needed.extend(self.needed(&activated).await?);
        let mut deleted = Vec::new();
        // The manifests first: what is stopped half-way leaves files without a release, not a release without files.
        for id in old.into_iter().filter(|id| !activated.contains(id)) {
            if let Some(object) = self.delete_old(&self.release(id), &clock).await? {
                deleted.push(object);
                cleaned.releases.push(id);
            }
        }
        let is_left = |object: &&ObjectMeta| {
            !needed.contains(&object.location) && is_old(&clock, object) && is_ours(object)
        };
        for object in files.iter().filter(is_left) {
            if let Some(gone) = self.delete_old(&object.location, &clock).await? {
                deleted.push(gone);
                cleaned.files += 1;
                cleaned.bytes += object.size;
            }
        }
        self.bring_back(keep, &deleted, &mut cleaned).await?;
        Ok(cleaned)
    }

    /// The releases of the last activations.
    async fn kept(&self, keep: usize) -> Result<BTreeSet<ReleaseId>, ReleaseError> {
        Ok(self.activations(keep.max(1)).await?.iter().map(Activation::release).collect())
    }

    /// The files that releases need.
    async fn needed(&self, releases: &BTreeSet<ReleaseId>) -> Result<HashSet<Path>, ReleaseError> {
        let mut needed = HashSet::new();
        for id in releases {
            match self.manifest(*id).await {
                Ok(manifest) => needed.extend(manifest.files().iter().map(|file| self.file(file.sha256()))),
                // It was cleaned before, when fewer were kept.
                Err(ReleaseError::Unknown(_)) => {}
                // Nobody knows what a kept release needs: nothing is deleted.
                Err(error) => return Err(error),
            }
        }
        Ok(needed)
    }

    /// Deletes an object, where it is still old; returns what it was.
    async fn delete_old(
        &self,
        path: &Path,
        clock: &ObjectMeta,
    ) -> Result<Option<(Path, Vec<u8>)>, ReleaseError> {
        let found = match self.store.get(path).await {
            Ok(found) if is_old(clock, &found.meta) => found,
            Ok(_) | Err(Error::NotFound { .. }) => return Ok(None),
            Err(error) => return Err(ReleaseError::store(path, error)),
        };
        let bytes = found.bytes().await.map_err(|error| ReleaseError::store(path, error))?;
        self.delete(path).await?;
        Ok(Some((path.clone(), bytes.to_vec())))
    }

    /// Writes again what a release needs that was activated while its objects were deleted.
    async fn bring_back(
        &self,
        keep: usize,
        deleted: &[(Path, Vec<u8>)],
        cleaned: &mut Cleaned,
    ) -> Result<(), ReleaseError> {
        let kept = self.kept(keep).await?;
        let manifests = deleted.iter().filter(|(path, _)| kept.iter().any(|id| self.release(*id) == *path));
        for (path, bytes) in manifests {
            self.write(path, bytes.clone()).await?;
            cleaned.releases.retain(|id| self.release(*id) != *path);
        }
        let needed = self.needed(&kept).await?;
        for (path, bytes) in deleted.iter().filter(|(path, _)| needed.contains(path)) {
            self.write(path, bytes.clone()).await?;
            cleaned.files = cleaned.files.saturating_sub(1);
            cleaned.bytes = cleaned.bytes.saturating_sub(bytes.len() as u64);
        }
        Ok(())
    }

    /// The numbers of all activations, sorted, and the names beside them that are none.
    async fn numbers(&self) -> Result<(Vec<u64>, Vec<String>), ReleaseError> {
        let (mut numbers, mut strays) = (Vec::new(), Vec::new());
        for object in self.objects("active").await? {
            match self.number(&object) {
                Some(number) => numbers.push(number),
                None => strays.push(object.location.filename().unwrap_or_default().to_owned()),
            }
        }
        numbers.sort_unstable();
        let mut before = 0;
        let is_counted =
            |number: &u64| number.saturating_sub(std::mem::replace(&mut before, *number)) <= FURTHEST;
        let counted: Vec<u64> = numbers.iter().copied().take_while(is_counted).collect();
        let absurd = numbers.get(counted.len()..).unwrap_or_default();
        strays.extend(absurd.iter().map(|number| format!("{number:010}.json")));
        Ok((counted, strays))
    }

    /// Whether there are activations after a number: one small question to the store.
    pub(super) async fn has_newer(&self, number: u64) -> Result<bool, ReleaseError> {
        let folder = self.folder("active");
        let mut newer = self.store.list_with_offset(Some(&folder), &self.pointer(number));
        loop {
            match poll_fn(|context| newer.as_mut().poll_next(context)).await {
                None => return Ok(false),
                Some(Err(error)) => return Err(ReleaseError::store(folder, error)),
                Some(Ok(object)) => {
                    let found = self.number(&object).filter(|found| *found > number);
                    if found.is_some_and(|found| found - number <= FURTHEST) {
                        return Ok(true);
                    }
                }
            }
        }
    }

    /// The number of an activation; none for another object. Only the name that a number is written as counts.
    fn number(&self, object: &ObjectMeta) -> Option<u64> {
        let name = object.location.filename()?;
        let number: u64 = name.strip_suffix(".json")?.parse().ok()?;
        (number > 0 && self.pointer(number).filename() == Some(name)).then_some(number)
    }

    /// The release that an activation names; none where it is not there.
    pub(super) async fn release_of(&self, number: u64) -> Result<Option<ReleaseId>, ReleaseError> {
        Ok(self.read_pointer(number).await?.map(|pointer| pointer.release))
    }

    async fn read_pointer(&self, number: u64) -> Result<Option<Pointer>, ReleaseError> {
        let path = self.pointer(number);
        let Some(json) = self.read(&path, 4096).await? else { return Ok(None) };
        serde_json::from_slice(&json).map(Some).map_err(|error| ReleaseError::damaged(path, error))
    }
}

impl History {
    /// The active release, where the newest activation can be read.
    fn active_at_the_top(&self) -> Option<&Activation> {
        self.activations.first().filter(|active| active.number == self.highest)
    }
}

/// How old an object is; none where its time is ahead.
fn age(clock: &ObjectMeta, object: &ObjectMeta) -> Option<Duration> {
    (clock.last_modified - object.last_modified).to_std().ok()
}

fn is_old(clock: &ObjectMeta, object: &ObjectMeta) -> bool {
    age(clock, object).is_some_and(|age| age > YOUNG)
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
