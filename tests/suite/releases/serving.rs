//! A server on releases: taken whole or refused, after a restart, without a network.

use std::sync::Arc;
use std::time::Duration;

use crow_fly::release::{Release, Releases};
use crow_fly::source::conformance::Disturbance;
use crow_fly::source::{Memory, Overlay};
use crow_fly::{CrowFly, HealthStatus};
use crow_fly_core::message::{CustomFunction, FunctionError, Functions, Invocation};
use crow_fly_core::value::FunctionValue;
use object_store::ObjectStoreExt;
use object_store::path::Path;

use crate::releases::faulty::Faulty;
use crate::releases::{config, deploy, release, store, titles};

fn server(objects: &Arc<Faulty>) -> CrowFly {
    CrowFly::new(config(), Releases::new(store(objects)))
}

/// What the health says, without ids.
fn told(crow: &CrowFly) -> String {
    let health = crow.health();
    let ids = |text: &str| {
        let words = text.split(' ').map(|word| {
            let is_id = |word: &str| word.len() >= 12 && word.bytes().all(|byte| byte.is_ascii_hexdigit());
            let mut parts = word.split_inclusive(['/', '.', ';', '`']).map(|part| {
                let bare = part.trim_end_matches(['/', '.', ';', '`']);
                if is_id(bare) { part.replace(bare, "…") } else { part.to_owned() }
            });
            parts.by_ref().collect::<String>()
        });
        words.collect::<Vec<_>>().join(" ")
    };
    let stale: Vec<String> = health.stale.iter().map(|text| ids(text)).collect();
    let activation = health.activation.map(|number| format!("activation {number}, ")).unwrap_or_default();
    let release = health.release.map(|release| format!("release {}", ids(&release))).unwrap_or_default();
    format!("{}, {activation}{release}\n{}", health.status, stale.join("\n")).trim_end().to_owned()
}

#[tokio::test(start_paused = true)]
async fn a_server_follows_activations_by_two_small_questions() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let crow = server(&objects);
    assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
    assert_eq!(told(&crow), "ready, activation 1, release …");
    objects.asked();
    tokio::time::sleep(Duration::from_secs(100)).await;
    let asked = objects.asked();
    assert!((16..=24).contains(&asked.len()), "{asked:?}");
    let questions =
        ["get ferries/catalogs/active/0000000001.json", "list after ferries/catalogs/active/0000000001.json"];
    assert!(asked.iter().all(|asked| questions.contains(&asked.as_str())), "{asked:?}");

    let before = crow.translator_for("en").await;
    deploy(&store, "2").await;
    tokio::time::sleep(Duration::from_secs(12)).await;
    assert_eq!(titles(&crow).await, "Ferries 2, Fferïau 2");
    assert_eq!(told(&crow), "ready, activation 2, release …");
    assert_eq!(before.text("home.title"), "Ferries 1", "a page that has begun ends with its release");
    store.roll_back().await.unwrap();
    tokio::time::sleep(Duration::from_secs(12)).await;
    assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
}

/// A section that a page loads late comes from the release that the page began with.
#[tokio::test]
async fn a_page_never_mixes_releases() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let config = crow_fly::Config::parse(&format!("{}eager = ['fares']\n", crate::releases::CONFIG)).unwrap();
    let crow = CrowFly::new(config, Releases::new(store.clone()));
    let before = crow.translator_for("en").await;
    for version in ["2", "3"] {
        deploy(&store, version).await;
        crow.reload().await.unwrap();
    }
    before.load(["home"]).await.unwrap();
    assert_eq!(before.text("home.title"), "Ferries 1");
    let after = crow.translator_for("en").await;
    after.load(["home"]).await.unwrap();
    assert_eq!(after.text("home.title"), "Ferries 3");
}

#[tokio::test]
async fn a_release_that_is_damaged_is_refused_until_it_is_mended() {
    for disturbance in [Disturbance::Truncated, Disturbance::Corrupt] {
        let objects = Arc::new(Faulty::default());
        let store = store(&objects);
        deploy(&store, "1").await;
        let crow = server(&objects);
        titles(&crow).await;
        deploy(&store, "2").await;
        objects.disturb(disturbance);
        assert!(crow.reload().await.is_err());
        assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
        assert_eq!(crow.health().status, HealthStatus::Stale);
        let told = told(&crow);
        assert!(told.contains("activation 2, release … is refused: `"), "{told}");
        assert!(told.ends_with("activation 1, release … stays in use"), "{told}");
        objects.disturb(Disturbance::None);
        crow.reload().await.unwrap();
        assert_eq!(titles(&crow).await, "Ferries 2, Fferïau 2");
        assert_eq!(crow.health().status, HealthStatus::Ready);
    }
}

#[tokio::test]
async fn each_way_of_being_wrong_is_told() {
    let file = release("2").await.manifest().files()[0].sha256();
    let file = format!("ferries/catalogs/files/{file}");
    let manifest = format!("ferries/catalogs/releases/{}.json", release("2").await.id());
    let pointer = "ferries/catalogs/active/0000000002.json".to_owned();
    let unknown = format!("{{\"release\":\"{}\"}}", "0".repeat(64));
    let mut tellings = Vec::new();
    for (name, path, bytes) in [
        ("a file is gone", &file, None),
        ("a file is longer", &file, Some("title = 'A much longer text than there was before it'")),
        ("a file is shorter", &file, Some("")),
        ("the manifest is gone", &manifest, None),
        ("the manifest is another one", &manifest, Some("{\"format\": 1, \"files\": []}")),
        ("the activation is not JSON", &pointer, Some("<html>404</html>")),
        ("the activation is of a release that does not exist", &pointer, Some(unknown.as_str())),
    ] {
        let objects = Arc::new(Faulty::default());
        let store = store(&objects);
        deploy(&store, "1").await;
        let crow = server(&objects);
        titles(&crow).await;
        deploy(&store, "2").await;
        let path = Path::from(path.clone());
        let before = objects.get(&path).await.unwrap().bytes().await.unwrap();
        match bytes {
            None => objects.delete(&path).await.unwrap(),
            Some(bytes) => drop(objects.put(&path, bytes.to_owned().into()).await.unwrap()),
        }
        assert!(crow.reload().await.is_err(), "{name}");
        assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1", "{name}");
        tellings.push(format!("{name}:\n{}", told(&crow)));
        objects.put(&path, before.into()).await.unwrap();
        crow.reload().await.unwrap();
        assert_eq!(titles(&crow).await, "Ferries 2, Fferïau 2", "{name}");
    }
    insta::assert_snapshot!(tellings.join("\n\n"));
}

struct Tide;

impl CustomFunction for Tide {
    fn call(&self, _: &Invocation<'_>) -> Result<FunctionValue, FunctionError> {
        Ok(FunctionValue::text("high"))
    }
}

#[tokio::test]
async fn a_release_that_needs_what_the_program_lacks_is_refused() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let used: [(&str, &[&str]); 2] = [("home.seats", &["seats"]), ("home.title", &[])];
    let program = || CrowFly::builder(config()).requiring(used).catalogs(Releases::new(store.clone()));
    let plain = program().build();
    let harbour = program().functions(Functions::new().with("harbour:tide", Tide)).build();
    titles(&plain).await;
    titles(&harbour).await;
    let mut tellings = Vec::new();
    for (home, serves) in [
        ("title = 'Tide {:harbour:tide}'\nseats = '{$seats :integer}'", true),
        ("title = 'Tide {:harbour:sand}'\nseats = '{$seats :integer}'", false),
        ("title = '{5 :currency currency=XXQ}'\nseats = '{$seats :integer}'", false),
        ("title = '{5 :unit unit=saltmarsh}'\nseats = '{$seats :integer}'", false),
        ("title = 'Seats'\nplaces = '{$seats :integer}'", false),
        ("title = 'Seats'\nseats = '{$seats :integer} on the {$boat}'", false),
        ("title = 'Seats'\nseats = 'Some seats'", true),
    ] {
        let catalogs = Memory::new([("en", "home", home), ("cy", "home", "")]);
        let release = Release::of(&config(), &catalogs).await;
        let Ok(release) = release else { panic!("{home}: {}", release.unwrap_err()) };
        store.publish(&release).await.unwrap();
        store.activate(release.id()).await.unwrap();
        let is_taken = [plain.reload().await.is_ok(), harbour.reload().await.is_ok()];
        assert_eq!(is_taken[1], serves, "{home}");
        assert_eq!(is_taken[0], serves && !home.contains("harbour"), "{home}");
        tellings.push(format!("{home}:\n{}", told(&plain)));
    }
    insta::assert_snapshot!(tellings.join("\n\n"));
}

#[tokio::test]
async fn a_server_that_starts_without_a_network_has_the_last_release_it_had() {
    let folder = tempfile::tempdir().unwrap();
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    let server = || {
        let releases = Releases::new(store.clone()).with_cache(folder.path().join("cache")).unwrap();
        CrowFly::new(config(), releases)
    };
    objects.disturb(Disturbance::Failing);
    let without_any = server();
    assert_eq!(titles(&without_any).await, "home.title, home.title");
    assert_eq!(without_any.health().status, HealthStatus::Failed);

    objects.disturb(Disturbance::None);
    deploy(&store, "1").await;
    let running = server();
    assert_eq!(titles(&running).await, "Ferries 1, Fferïau 1");
    deploy(&store, "2").await;
    objects.disturb(Disturbance::Failing);
    let restarted = server();
    assert_eq!(titles(&restarted).await, "Ferries 1, Fferïau 1");
    insta::assert_snapshot!(told(&restarted), @"
    stale, activation 1, release …
    the store has no answer about `ferries/catalogs/active`: Generic harbour error: the quay is closed; activation 1, release … stays in use
    ");
    // What was running goes on, and says it.
    assert!(running.reload().await.is_err());
    assert_eq!(titles(&running).await, "Ferries 1, Fferïau 1");

    objects.disturb(Disturbance::None);
    restarted.reload().await.unwrap();
    assert_eq!(titles(&restarted).await, "Ferries 2, Fferïau 2");

    // A cache whose files are damaged is fetched again, and is no release by itself.
    for entry in std::fs::read_dir(folder.path().join("cache/fetched-releases/files")).unwrap() {
        std::fs::write(entry.unwrap().path(), "x").unwrap();
    }
    assert_eq!(titles(&server()).await, "Ferries 2, Fferïau 2");
    // What no release needs that is kept has left the cache.
    let kept = std::fs::read_dir(folder.path().join("cache/fetched-releases/files")).unwrap().count();
    assert_eq!(kept, 3);
}

/// Somebody names the folder of the store as the cache: what was published stays.
#[tokio::test]
async fn a_cache_deletes_nothing_that_is_not_its_own() {
    let folder = tempfile::tempdir().unwrap();
    let files = object_store::local::LocalFileSystem::new_with_prefix(folder.path()).unwrap();
    let store = crow_fly::release::ReleaseStore::new(Arc::new(files));
    let crow = CrowFly::new(config(), Releases::new(store.clone()).with_cache(folder.path()).unwrap());
    let first = deploy(&store, "0").await;
    for version in ["1", "2", "3", "4", "5", "6"] {
        deploy(&store, version).await;
        crow.reload().await.unwrap();
        assert_eq!(titles(&crow).await, format!("Ferries {version}, Fferïau {version}"));
    }
    assert_eq!(store.releases().await.unwrap().len(), 7);
    store.activate(first.release()).await.unwrap();
    crow.reload().await.unwrap();
    assert_eq!(titles(&crow).await, "Ferries 0, Fferïau 0");
}

#[tokio::test]
async fn a_server_that_starts_and_cannot_take_the_active_release_has_an_earlier_one() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    deploy(&store, "2").await;
    let file = release("2").await.manifest().files()[0].sha256();
    objects.delete(&Path::from(format!("ferries/catalogs/files/{file}"))).await.unwrap();
    let crow = server(&objects);
    assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
    insta::assert_snapshot!(told(&crow), @"
    stale, activation 1, release …
    activation 2, release … is refused: the store lacks files of the release: cy/home.toml; activation 1, release … stays in use
    ");
}

#[tokio::test(start_paused = true)]
async fn a_store_that_hangs_is_waited_for_by_nobody() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let crow = server(&objects);
    titles(&crow).await;
    objects.disturb(Disturbance::Hanging);
    tokio::time::sleep(Duration::from_mins(1)).await;
    let started = tokio::time::Instant::now();
    assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
    assert_eq!(started.elapsed(), Duration::ZERO);
    assert_eq!(crow.health().status, HealthStatus::Stale);
    objects.disturb(Disturbance::None);
    deploy(&store, "2").await;
    tokio::time::sleep(Duration::from_secs(150)).await;
    assert_eq!(titles(&crow).await, "Ferries 2, Fferïau 2");
    assert_eq!(crow.health().status, HealthStatus::Ready);
}

#[tokio::test]
async fn releases_may_lie_above_other_catalogs() {
    let objects = Arc::new(Faulty::default());
    deploy(&store(&objects), "1").await;
    let below = Memory::new([("en", "home", "title = 'A site'\nhelp = 'Help'")]);
    let crow = CrowFly::new(config(), Overlay::new(Releases::new(store(&objects))).over(below));
    let t = crow.translator_for("en").await;
    assert_eq!((t.text("home.title"), t.text("home.help")), ("Ferries 1".into(), "Help".into()));
    assert!(t.origin("home.title").unwrap().file().starts_with("release "));
    assert_eq!(told(&crow), "ready, activation 1, release …");
}
