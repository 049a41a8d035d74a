//! Random sequences of everything that happens to a store of releases and its servers, beside a model of a hundred lines.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt;
use std::sync::{Arc, Mutex};
use std::time::{Duration, SystemTime};

use async_trait::async_trait;
use crow_fly::release::{Release, ReleaseStore, Releases};
use crow_fly::source::{Memory, Overlay};
use crow_fly::{Config, CrowFly, Translator};
use futures_util::stream::{BoxStream, StreamExt, iter};
use http::Extensions;
use object_store::memory::InMemory;
use object_store::path::Path;
use object_store::{
    CopyOptions, Error, GetOptions, GetResult, ListResult, MultipartUpload, ObjectMeta, ObjectStore,
    ObjectStoreExt, PutMultipartOptions, PutOptions, PutPayload, PutResult, Result,
};
use proptest::prelude::*;
use tokio::runtime::{Builder, Runtime};
use tokio::task::JoinHandle;

/// How many different releases there are.
const VERSIONS: usize = 4;

/// How many servers there are.
const SERVERS: usize = 2;

/// How often a server asks.
const POLL: Duration = Duration::from_secs(10);

const SEQUENCE: usize = 30;

#[derive(Clone, Debug)]
enum Step {
    Publish(usize),
    Activate(usize),
    RollBack,
    Clean(usize),
    /// Two actors at once, whose questions to the store come in any order.
    AtOnce(Box<Self>, Box<Self>),
    /// An object of a kind is damaged, emptied or lost: which one, by its place.
    Damage(Kind, usize, bool),
    /// Something else lies among the activations.
    Stray(usize),
    /// The store is as it was some steps ago.
    Restore(usize),
    /// Time goes on, for all objects and servers.
    Days(u64),
    /// The store does not answer, or answers again.
    Away(bool),
    Start(usize),
    Die(usize),
    /// A page begins at a server, and loads its second section after the next poll.
    Page(usize),
    Poll,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Kind {
    File,
    Manifest,
    Pointer,
}

fn step() -> impl Strategy<Value = Step> {
    let version = 0..VERSIONS;
    let actor = prop_oneof![
        3 => version.clone().prop_map(Step::Publish),
        3 => version.clone().prop_map(Step::Activate),
        1 => Just(Step::RollBack),
        2 => (0..3_usize).prop_map(Step::Clean),
    ];
    let kind = prop::sample::select(vec![Kind::File, Kind::Manifest, Kind::Pointer]);
    prop_oneof![
        8 => actor.clone(),
        3 => (0..2_usize, version).prop_map(|(keep, version)| {
            Step::AtOnce(Box::new(Step::Clean(keep)), Box::new(Step::Activate(version)))
        }),
        3 => (actor.clone(), actor).prop_map(|(one, other)| Step::AtOnce(Box::new(one), Box::new(other))),
        2 => (kind, 0..9_usize, any::<bool>()).prop_map(|(kind, place, is_lost)| Step::Damage(kind, place, is_lost)),
        1 => (0..5_usize).prop_map(Step::Stray),
        1 => (1..9_usize).prop_map(Step::Restore),
        2 => (1..4_u64).prop_map(Step::Days),
        1 => any::<bool>().prop_map(Step::Away),
        2 => (0..SERVERS).prop_map(Step::Start),
        1 => (0..SERVERS).prop_map(Step::Die),
        1 => (0..SERVERS).prop_map(Step::Page),
        4 => Just(Step::Poll),
    ]
}

/// A sequence; half of them begin with a store that has old releases.
fn steps() -> impl Strategy<Value = Vec<Step>> {
    let all = (0..VERSIONS).flat_map(|version| [Step::Publish(version), Step::Activate(version)]);
    let old: Vec<Step> = all.chain([Step::Days(3)]).collect();
    (any::<bool>(), prop::collection::vec(step(), 1..=SEQUENCE)).prop_map(move |(is_old, steps)| {
        if is_old { old.iter().cloned().chain(steps).take(SEQUENCE).collect() } else { steps }
    })
}

/// The bytes of each object, and the day that they were written.
type Objects = BTreeMap<Path, (Vec<u8>, u64)>;

/// A store that lies, loses, restores, delays and repeats: what an actor asks for waits while others ask, and times are its own.
#[derive(Debug, Default)]
struct Lying {
    objects: Mutex<Objects>,
    is_away: Mutex<bool>,
    /// Its own clock, in days.
    day: Mutex<u64>,
    /// What decides who waits how long.
    seed: Mutex<u64>,
}

impl fmt::Display for Lying {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a store that lies")
    }
}

impl Lying {
    /// Lets others go first, or fails.
    async fn asked(&self) -> Result<()> {
        let turns = {
            let mut seed = self.seed.lock().unwrap();
            *seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            (*seed >> 33) % 4
        };
        for _ in 0..turns {
            tokio::task::yield_now().await;
        }
        self.answers()
    }

    fn answers(&self) -> Result<()> {
        if *self.is_away.lock().unwrap() {
            return Err(Error::Generic { store: "harbour", source: "the quay is closed".into() });
        }
        Ok(())
    }

    fn now(&self) -> u64 {
        *self.day.lock().unwrap()
    }

    /// The objects as those of a store in memory, whose times are ours.
    async fn as_memory(&self, only: Option<&Path>) -> InMemory {
        let memory = InMemory::new();
        let objects = self.objects.lock().unwrap().clone();
        for (path, (bytes, _)) in objects.into_iter().filter(|(path, _)| only.is_none_or(|only| only == path))
        {
            memory.put(&path, bytes.into()).await.unwrap();
        }
        memory
    }

    fn dated(&self, mut meta: ObjectMeta) -> ObjectMeta {
        let day = self.objects.lock().unwrap().get(&meta.location).map_or(0, |(_, day)| *day);
        let time = SystemTime::UNIX_EPOCH.checked_add(Duration::from_hours(24 * day));
        meta.last_modified = time.unwrap().into();
        meta
    }

    fn names(&self, kind: Kind) -> Vec<Path> {
        let folder = match kind {
            Kind::File => "files/",
            Kind::Manifest => "releases/",
            Kind::Pointer => "active/",
        };
        let objects = self.objects.lock().unwrap();
        objects.keys().filter(|path| path.as_ref().starts_with(folder)).cloned().collect()
    }
}

#[async_trait]
impl ObjectStore for Lying {
    async fn put_opts(&self, location: &Path, payload: PutPayload, options: PutOptions) -> Result<PutResult> {
        self.asked().await?;
        let bytes: Vec<u8> = payload.iter().flat_map(|part| part.to_vec()).collect();
        let day = self.now();
        let mut objects = self.objects.lock().unwrap();
        if matches!(options.mode, object_store::PutMode::Create) && objects.contains_key(location) {
            let path = location.to_string();
            return Err(Error::AlreadyExists { path, source: "it is there".into() });
        }
        objects.insert(location.clone(), (bytes, day));
        Ok(PutResult { e_tag: None, version: None, extensions: Extensions::default() })
    }

    async fn put_multipart_opts(&self, _: &Path, _: PutMultipartOptions) -> Result<Box<dyn MultipartUpload>> {
        unimplemented!("nothing is that large")
    }

    async fn get_opts(&self, location: &Path, options: GetOptions) -> Result<GetResult> {
        self.asked().await?;
        let found = self.as_memory(Some(location)).await.get_opts(location, options).await?;
        Ok(GetResult { meta: self.dated(found.meta.clone()), ..found })
    }

    fn delete_stream(&self, locations: BoxStream<'static, Result<Path>>) -> BoxStream<'static, Result<Path>> {
        // They are few: what is to be deleted is known at once.
        let locations: Vec<Result<Path>> =
            futures_util::FutureExt::now_or_never(locations.collect()).unwrap_or_default();
        if let Err(error) = self.answers() {
            return iter([Err(error)]).boxed();
        }
        let mut objects = self.objects.lock().unwrap();
        locations.iter().flatten().for_each(|path| drop(objects.remove(path)));
        iter(locations).boxed()
    }

    fn list(&self, prefix: Option<&Path>) -> BoxStream<'static, Result<ObjectMeta>> {
        if let Err(error) = self.answers() {
            return iter([Err(error)]).boxed();
        }
        let all: Vec<(Path, usize)> = self
            .objects
            .lock()
            .unwrap()
            .iter()
            .map(|(path, (bytes, _))| (path.clone(), bytes.len()))
            .collect();
        let prefix = prefix.map(ToString::to_string).unwrap_or_default();
        let meta = |(location, size): (Path, usize)| {
            let meta = ObjectMeta {
                location,
                last_modified: SystemTime::UNIX_EPOCH.into(),
                size: size as u64,
                e_tag: None,
                version: None,
            };
            Ok(self.dated(meta))
        };
        let below = all.into_iter().filter(|(path, _)| path.as_ref().starts_with(&prefix));
        iter(below.map(meta).collect::<Vec<_>>()).boxed()
    }

    async fn list_with_delimiter(&self, prefix: Option<&Path>) -> Result<ListResult> {
        self.asked().await?;
        let objects = self.list(prefix).collect::<Vec<_>>().await.into_iter().collect::<Result<_>>()?;
        Ok(ListResult { common_prefixes: Vec::new(), objects, extensions: Extensions::default() })
    }

    async fn copy_opts(&self, _: &Path, _: &Path, _: CopyOptions) -> Result<()> {
        unimplemented!("nothing is copied")
    }
}

/// What there is, by rules of a few lines.
impl Lying {
    /// The version that a release is of, where all of it is in the store.
    fn whole(&self, releases: &[Release], id: &str) -> Option<usize> {
        let objects = self.objects.lock().unwrap();
        let version = releases.iter().position(|release| release.id().to_string() == id)?;
        let release = &releases[version];
        let is = |path: String, bytes: &[u8]| {
            objects.get(&Path::from(path)).is_some_and(|(there, _)| there == bytes)
        };
        let manifest = is(format!("releases/{id}.json"), &release.manifest().to_json());
        let files = release.manifest().files().iter();
        (manifest
            && files.into_iter().all(|file| {
                is(format!("files/{}", file.sha256()), release.file_bytes(file).unwrap_or_default())
            }))
        .then_some(version)
    }

    /// The activations that can be read, the newest first.
    fn pointers(&self) -> Vec<(u64, String)> {
        let objects = self.objects.lock().unwrap();
        let pointer = |(path, (bytes, _)): (&Path, &(Vec<u8>, u64))| {
            let digits = path.as_ref().strip_prefix("active/")?.strip_suffix(".json")?;
            let number: u64 = digits.parse().ok().filter(|_| digits.len() == 10)?;
            let json: serde_json::Value = serde_json::from_slice(bytes).ok()?;
            (number > 0 && number < 1_000_000).then_some((number, json["release"].as_str()?.to_owned()))
        };
        let mut all: Vec<_> = objects.iter().filter_map(pointer).collect();
        all.sort_unstable_by(|one, other| other.cmp(one));
        all
    }
}

struct Server {
    crow: CrowFly,
    /// A page that has begun, with the title that it has shown.
    page: Option<(Translator, String)>,
    /// The activation that it had last.
    seen: Option<u64>,
}

struct World {
    runtime: Runtime,
    store: Arc<Lying>,
    releases: Vec<Release>,
    servers: Vec<Option<Server>>,
    caches: Vec<tempfile::TempDir>,
    past: Vec<Objects>,
    /// Whether the store has lost something since the last look: then a server may go back.
    is_disturbed: bool,
}

fn config() -> Config {
    let text = "default = 'en'\nlocales = ['en']\ndevelopment = false\n[catalogs]\neager = ['home']\nload-seconds = 3\nwait-seconds = 3\n";
    Config::parse(text).unwrap()
}

impl World {
    fn new(seed: u64) -> Self {
        let runtime = Builder::new_current_thread().enable_all().start_paused(true).build().unwrap();
        let releases = runtime.block_on(async {
            let mut releases = Vec::new();
            for version in 0..VERSIONS {
                let texts = Memory::new([
                    ("en", "home", format!("title = 'Ferries {version}'")),
                    ("en", "fares", format!("title = 'Fares {version}'")),
                    ("en", "same", "title = 'Same'".to_owned()),
                ]);
                releases.push(Release::of(&config(), &texts).await.unwrap());
            }
            releases
        });
        let store = Arc::new(Lying { seed: Mutex::new(seed), day: Mutex::new(10), ..Lying::default() });
        let caches = (0..SERVERS).map(|_| tempfile::tempdir().unwrap()).collect();
        let servers = (0..SERVERS).map(|_| None).collect();
        Self { runtime, store, releases, servers, caches, past: Vec::new(), is_disturbed: false }
    }

    fn releases_of(&self) -> ReleaseStore {
        ReleaseStore::new(Arc::clone(&self.store) as Arc<dyn ObjectStore>)
    }

    /// What a deployment does; its errors are its own.
    fn actor(&self, step: &Step) -> JoinHandle<()> {
        let (store, step) = (self.releases_of(), step.clone());
        let release = match step {
            Step::Publish(version) | Step::Activate(version) => Some(self.releases[version].clone()),
            _ => None,
        };
        self.runtime.spawn(async move {
            match (step, release) {
                (Step::Publish(_), Some(release)) => drop(store.publish(&release).await),
                (Step::Activate(_), Some(release)) => drop(store.activate(release.id()).await),
                (Step::RollBack, _) => drop(store.roll_back().await),
                (Step::Clean(keep), _) => drop(store.clean(keep).await),
                _ => {}
            }
        })
    }

    fn run(&mut self, step: &Step) {
        self.past.push(self.store.objects.lock().unwrap().clone());
        match step {
            Step::Publish(_) | Step::Activate(_) | Step::RollBack | Step::Clean(_) => {
                let actor = self.actor(step);
                self.runtime.block_on(actor).unwrap();
            }
            Step::AtOnce(one, other) => {
                let (one, other) = (self.actor(one), self.actor(other));
                self.runtime.block_on(async { (one.await.unwrap(), other.await.unwrap()) });
            }
            Step::Damage(kind, place, is_lost) => {
                let names = self.store.names(*kind);
                if let Some(name) = names.get(place % names.len().max(1)) {
                    self.is_disturbed |= *kind == Kind::Pointer;
                    let mut objects = self.store.objects.lock().unwrap();
                    if *is_lost {
                        objects.remove(name);
                    } else if let Some((bytes, _)) = objects.get_mut(name) {
                        bytes.truncate(bytes.len() / 2);
                    }
                }
            }
            Step::Stray(which) => {
                let names = [
                    "7.json",
                    "+0000000009.json",
                    "18446744073709551615.json",
                    "9999999999.json",
                    "notes.txt",
                ];
                let path = Path::from(format!("active/{}", names[*which]));
                self.store.objects.lock().unwrap().insert(path, (b"{}".to_vec(), 1));
            }
            Step::Restore(steps) => {
                if let Some(objects) = self.past.iter().rev().nth(*steps) {
                    self.store.objects.lock().unwrap().clone_from(objects);
                    self.is_disturbed = true;
                }
            }
            Step::Days(days) => *self.store.day.lock().unwrap() += days,
            Step::Away(is_away) => *self.store.is_away.lock().unwrap() = *is_away,
            Step::Start(server) => {
                let below = Memory::new([
                    ("en", "home", "title = 'Ferries of the binary'"),
                    ("en", "fares", "title = 'Fares of the binary'"),
                ]);
                let releases = Releases::new(self.releases_of()).polled_every(POLL);
                let releases = releases.with_cache(self.caches[*server].path()).unwrap();
                let crow = CrowFly::new(config(), Overlay::new(releases).over(below));
                self.servers[*server] = Some(Server { crow, page: None, seen: None });
                self.look(*server);
            }
            Step::Die(server) => self.servers[*server] = None,
            Step::Page(server) => {
                if let Some(Server { crow, page, .. }) = &mut self.servers[*server] {
                    let crow = crow.clone();
                    let t = self.runtime.block_on(async { crow.translator_for("en").await });
                    let title = t.text("home.title");
                    *page = Some((t, title));
                }
            }
            Step::Poll => {
                self.runtime.block_on(async { tokio::time::sleep(POLL + POLL / 5).await });
                for server in 0..SERVERS {
                    self.finish_page(server);
                    self.look(server);
                }
            }
        }
    }

    /// A page that has begun loads the rest of what it shows.
    fn finish_page(&mut self, server: usize) {
        let Some(Server { page, .. }) = &mut self.servers[server] else { return };
        let Some((t, title)) = page.take() else { return };
        let is_loaded = self.runtime.block_on(async { t.load(["fares"]).await.is_ok() });
        if is_loaded && t.origin("fares.title").is_some() {
            let fares = t.text("fares.title").replace("Fares", "Ferries");
            assert_eq!(fares, title, "a page never shows two releases");
        }
    }

    /// What a server shows now: a whole release or the texts of its binary, and no earlier activation than before.
    fn look(&mut self, server: usize) {
        let Some(Server { crow, seen, .. }) = &mut self.servers[server] else { return };
        let crow = crow.clone();
        let title = self.runtime.block_on(async { crow.translator_for("en").await.text("home.title") });
        let health = crow.health();
        match health.activation {
            Some(now) => {
                let shown = title.strip_prefix("Ferries ").and_then(|version| version.parse::<usize>().ok());
                let short = shown.map(|version| self.releases[version].id().short());
                assert_eq!(short, health.release, "{title}");
                assert!(
                    self.is_disturbed || seen.is_none_or(|seen| now >= seen),
                    "activation {now} after {seen:?}"
                );
                *seen = Some(now);
            }
            None => assert_eq!(title, "Ferries of the binary", "{health:?}"),
        }
    }

    /// After a disturbance has ended, all is well in two polls, and deploying makes it so whatever was damaged.
    fn ends_well(&mut self) {
        *self.store.is_away.lock().unwrap() = false;
        let wanted = self
            .store
            .pointers()
            .into_iter()
            .find_map(|(number, id)| Some((number, self.store.whole(&self.releases, &id)?)));
        let is_top_damaged = self.store.names(Kind::Pointer).len() != self.store.pointers().len();
        let (alive, polls) = (self.servers.iter().flatten().count(), 4);
        for _ in 0..polls {
            self.runtime.block_on(async { tokio::time::sleep(POLL * 2).await });
        }
        if let Some((number, version)) = wanted.filter(|_| !is_top_damaged) {
            for Server { crow, .. } in self.servers.iter().flatten() {
                let health = crow.health();
                // One whose cache has more than the store may run a later one that is still there.
                let pointers = self.store.pointers();
                let is_there = |now: u64| {
                    let id = pointers.iter().find(|(number, _)| *number == now).map(|(_, id)| &id[..12]);
                    id == health.release.as_deref()
                };
                let has_it =
                    health.activation.is_some_and(|now| now == number || now > number && is_there(now));
                let text =
                    self.runtime.block_on(async { crow.translator_for("en").await.text("home.title") });
                assert!(
                    has_it,
                    "{text} instead of activation {number}, version {version}: {health:?} of {alive}"
                );
            }
        }
        let release = self.releases[VERSIONS - 1].clone();
        let store = self.releases_of();
        self.runtime.block_on(async {
            store.publish(&release).await.unwrap();
            store.activate(release.id()).await.unwrap();
        });
        let (_, id) = &self.store.pointers()[0];
        assert_eq!(self.store.whole(&self.releases, id), Some(VERSIONS - 1), "what is active is whole");
        for _ in 0..polls {
            self.runtime.block_on(async { tokio::time::sleep(POLL * 2).await });
        }
        for server in 0..SERVERS {
            self.is_disturbed = true;
            self.look(server);
            if let Some(Server { crow, .. }) = &self.servers[server] {
                let text =
                    self.runtime.block_on(async { crow.translator_for("en").await.text("home.title") });
                assert_eq!(text, format!("Ferries {}", VERSIONS - 1), "{:?}", crow.health());
            }
        }
    }
}

/// What was deleted by a cleaning needs nobody: the releases of the last activations are whole where they were before.
fn cleaning_keeps_what_is_active(world: &World, before: Option<String>, step: &Step) {
    if let (Step::Clean(_), Some(active)) = (step, before) {
        assert!(
            world.store.whole(&world.releases, &active).is_some(),
            "{step:?} has deleted a part of {active}"
        );
    }
}

fn holds(steps: &[Step], seed: u64) {
    let mut world = World::new(seed);
    for step in steps {
        let active = world.store.pointers().first().map(|(_, id)| id.clone());
        let active = active.filter(|id| world.store.whole(&world.releases, id).is_some());
        // Of what is activated while nothing is disturbed, all is there.
        let pointers: BTreeSet<u64> = world.store.pointers().into_iter().map(|(number, _)| number).collect();
        world.run(step);
        cleaning_keeps_what_is_active(&world, active, step);
        if matches!(step, Step::Activate(_) | Step::RollBack | Step::AtOnce(..))
            && let Some((number, id)) = world.store.pointers().first()
            && !pointers.contains(number)
        {
            assert!(
                world.store.whole_or_damaged(&world.releases, id),
                "activation {number} is not whole after {step:?}"
            );
        }
    }
    world.ends_well();
}

impl Lying {
    /// Whether a release has all its objects, damaged ones among them: whoever activates sees that they are there.
    fn whole_or_damaged(&self, releases: &[Release], id: &str) -> bool {
        let objects = self.objects.lock().unwrap();
        let Some(release) = releases.iter().find(|release| release.id().to_string() == id) else {
            return false;
        };
        let is_there = |path: String| objects.contains_key(&Path::from(path));
        is_there(format!("releases/{id}.json"))
            && release.manifest().files().iter().all(|file| is_there(format!("files/{}", file.sha256())))
    }
}

proptest! {
    #![proptest_config(ProptestConfig {
        // As many as some seconds hold; `xtask -- proof releases` has 100,000.
        cases: std::env::var("PROPTEST_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(200),
        failure_persistence: None,
        max_shrink_iters: 2000,
        ..ProptestConfig::default()
    })]

    #[test]
    fn whatever_happens_to_a_store_its_servers_serve(steps in steps(), seed in any::<u64>()) {
        holds(&steps, seed);
    }
}
