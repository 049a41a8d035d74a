//! A server on releases: taken whole or refused, after a restart, without a network.

use std::sync::Arc;
use std::time::Duration;

use crow_fly::release::{Release, Releases};
use crow_fly::source::conformance::Disturbance;
use crow_fly::source::{Answer, CatalogSource, Changed, ListedFile, Listing, Memory, Overlay, Watching};
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

/// The texts in the binary are the last resort, and the release comes in when it can.
#[tokio::test(start_paused = true)]
async fn a_site_starts_without_its_store_with_the_texts_of_its_binary() {
    let binary = || {
        Memory::new([
            ("en", "home", "title = 'Ferries of the binary'"),
            ("cy", "home", "title = 'Fferïau’r deuaidd'"),
        ])
    };
    let in_binary = "Ferries of the binary, Fferïau’r deuaidd";
    for disturbance in [Disturbance::Failing, Disturbance::Hanging, Disturbance::None] {
        let objects = Arc::new(Faulty::default());
        let store = store(&objects);
        objects.disturb(disturbance);
        let crow = CrowFly::new(config(), Overlay::new(Releases::new(store.clone())).over(binary()));
        let started = tokio::time::Instant::now();
        assert_eq!(titles(&crow).await, in_binary, "{disturbance:?}");
        assert!(started.elapsed() < Duration::from_secs(3), "within the wait: {:?}", started.elapsed());
        let health = crow.health();
        assert_eq!(health.status, HealthStatus::Degraded, "{disturbance:?}");
        assert!(health.findings.iter().any(|text| text.contains("source 1 of the overlay: ")), "{health:?}");
        objects.disturb(Disturbance::None);
        deploy(&store, "1").await;
        tokio::time::sleep(Duration::from_mins(2)).await;
        assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1", "{disturbance:?}");
        assert_eq!(told(&crow), "ready, activation 1, release …");
        assert_eq!(crow.health().generation, Some(2));
        // What it had stays, whatever becomes of the store.
        objects.disturb(disturbance);
        tokio::time::sleep(Duration::from_mins(1)).await;
        assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1", "{disturbance:?}");
        let is_stale = crow.health().status == HealthStatus::Stale;
        assert_eq!(is_stale, disturbance != Disturbance::None, "{:?}", crow.health());
    }
    // Ready-made texts are no site.
    let objects = Arc::new(Faulty::default());
    objects.disturb(Disturbance::Failing);
    let text = format!("{}ready-made = true\n", crate::releases::CONFIG);
    let crow = CrowFly::new(crow_fly::Config::parse(&text).unwrap(), Releases::new(store(&objects)));
    titles(&crow).await;
    assert_eq!(crow.health().status, HealthStatus::Failed);
}

/// A source that needs longer than a page waits comes in all the same.
#[tokio::test(start_paused = true)]
async fn a_slow_source_of_an_overlay_comes_in_later() {
    #[derive(Debug)]
    struct Slow(Memory);
    impl CatalogSource for Slow {
        fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
            Answer::waiting(async {
                tokio::time::sleep(Duration::from_millis(2500)).await;
                self.0.list(locales).wait().await
            })
        }
        fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
            self.0.read(file)
        }
        fn watch(&self, _: Changed) -> Option<Watching> {
            Some(Box::new(()))
        }
    }
    let below = Memory::new([("en", "home", "title = 'Below'"), ("cy", "home", "title = 'Isod'")]);
    let crow = CrowFly::new(config(), Overlay::new(Slow(crate::releases::catalogs("slow"))).over(below));
    assert_eq!(titles(&crow).await, "Below, Isod");
    assert_eq!(crow.health().status, HealthStatus::Degraded);
    tokio::time::sleep(Duration::from_mins(5)).await;
    assert_eq!(titles(&crow).await, "Ferries slow, Fferïau slow");
    assert_eq!(crow.health().status, HealthStatus::Ready);
}

/// One pointer that is damaged, or lies there by mistake, stops neither commands nor servers.
#[tokio::test]
async fn a_damaged_pointer_is_one_damaged_pointer() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    let put = async |name: &str, text: &str| {
        let path = Path::from(format!("ferries/catalogs/active/{name}"));
        objects.put(&path, text.to_owned().into()).await.unwrap();
    };
    let one = deploy(&store, "1").await;
    put("0000000002.json", "").await;
    let starts = server(&objects);
    assert_eq!(titles(&starts).await, "Ferries 1, Fferïau 1");
    insta::assert_snapshot!(told(&starts), @"
    stale, activation 1, release …
    activation 2 cannot be read: EOF while parsing a value at line 1 column 0; activation 1, release … stays in use
    ");
    let history = store.history(9).await.unwrap();
    assert_eq!((history.activations.len(), history.damaged.len()), (1, 1));
    // The highest number is what activating needs.
    let two = release("2").await;
    store.publish(&two).await.unwrap();
    assert_eq!(store.activate(two.id()).await.unwrap().number(), 3);
    starts.reload().await.unwrap();
    assert_eq!(told(&starts), "ready, activation 3, release …");
    assert_eq!(store.roll_back().await.unwrap().release(), one.release());
    store.clean(1).await.unwrap();
    // What is active stays so where its pointer is damaged, and activating it mends it.
    put("0000000004.json", "{").await;
    assert_eq!(store.activate(one.release()).await.unwrap().number(), 5);
    // Names that no activation has.
    for name in [
        "7.json",
        "+0000000009.json",
        "18446744073709551615.json",
        "9999999999.json",
        "0000000000.json",
        "0000000008.JSON",
        "notes.txt",
    ] {
        put(name, &format!("{{\"release\":\"{}\"}}", two.id())).await;
    }
    let starts = server(&objects);
    assert_eq!(titles(&starts).await, "Ferries 1, Fferïau 1");
    let health = starts.health();
    assert_eq!(health.status, HealthStatus::Ready);
    assert_eq!(health.findings.len(), 7, "{:?}", health.findings);
    assert!(health.findings[0].contains("lies among the activations and is none"), "{:?}", health.findings);
    assert_eq!(store.history(9).await.unwrap().strays.len(), 7);
    assert_eq!(store.activate(two.id()).await.unwrap().number(), 6);
    starts.reload().await.unwrap();
    assert_eq!(titles(&starts).await, "Ferries 2, Fferïau 2");
}

/// Of several releases that cannot be taken, the newest that can be is taken.
#[tokio::test]
async fn the_newest_release_that_is_whole_is_taken() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let running = server(&objects);
    titles(&running).await;
    deploy(&store, "2").await;
    deploy(&store, "3").await;
    let file = release("3").await.manifest().files()[0].sha256();
    objects.delete(&Path::from(format!("ferries/catalogs/files/{file}"))).await.unwrap();
    for crow in [&running, &server(&objects)] {
        let _ = crow.reload().await;
        assert_eq!(titles(crow).await, "Ferries 2, Fferïau 2");
        assert_eq!(crow.health().status, HealthStatus::Stale);
    }
    // Publishing the same texts again repairs them.
    store.publish(&release("3").await).await.unwrap();
    running.reload().await.unwrap();
    assert_eq!(told(&running), "ready, activation 3, release …");
}

/// Servers notice that their store was restored, in two looks.
#[tokio::test(start_paused = true)]
async fn a_restored_store_is_noticed() {
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    for version in ["1", "2", "3"] {
        deploy(&store, version).await;
    }
    let crow = server(&objects);
    assert_eq!(titles(&crow).await, "Ferries 3, Fferïau 3");
    let pointer = |number: u64| Path::from(format!("ferries/catalogs/active/{number:010}.json"));
    // Two days are lost.
    objects.delete(&pointer(2)).await.unwrap();
    objects.delete(&pointer(3)).await.unwrap();
    let _ = crow.reload().await;
    assert_eq!(titles(&crow).await, "Ferries 3, Fferïau 3", "one look is none");
    assert!(
        told(&crow)
            .contains("activation 3 is not in the store any more; activation 3, release … stays in use"),
        "{}",
        told(&crow)
    );
    tokio::time::sleep(Duration::from_secs(25)).await;
    assert_eq!(titles(&crow).await, "Ferries 1, Fferïau 1");
    assert_eq!(told(&crow), "ready, activation 1, release …");
    let findings = crow.health().findings;
    assert!(
        findings[0].contains("the store of releases was restored: activation 3, release "),
        "{findings:?}"
    );
    // Other releases get the numbers that were lost.
    deploy(&store, "4").await;
    tokio::time::sleep(Duration::from_secs(25)).await;
    assert_eq!(titles(&crow).await, "Ferries 4, Fferïau 4");
    assert!(crow.health().findings.is_empty(), "it is known again");
    let five = release("5").await;
    store.publish(&five).await.unwrap();
    let text = format!("{{\"release\":\"{}\"}}", five.id());
    objects.put(&pointer(2), text.into()).await.unwrap();
    tokio::time::sleep(Duration::from_secs(35)).await;
    assert_eq!(titles(&crow).await, "Ferries 5, Fferïau 5");
    // A store that has vanished is not well.
    for number in 1..=2 {
        objects.delete(&pointer(number)).await.unwrap();
    }
    tokio::time::sleep(Duration::from_mins(1)).await;
    assert_eq!(titles(&crow).await, "Ferries 5, Fferïau 5");
    assert_eq!(crow.health().status, HealthStatus::Stale);
    assert!(told(&crow).contains("no release is active"), "{}", told(&crow));
}

#[cfg(unix)]
#[tokio::test]
async fn a_cache_is_private_and_nothing_in_it_hangs_a_start() {
    use std::os::unix::fs::PermissionsExt;

    let folder = tempfile::tempdir().unwrap();
    let objects = Arc::new(Faulty::default());
    let store = store(&objects);
    deploy(&store, "1").await;
    let cache = folder.path().join("cache");
    let server = || CrowFly::new(config(), Releases::new(store.clone()).with_cache(&cache).unwrap());
    assert_eq!(titles(&server()).await, "Ferries 1, Fferïau 1");
    let own = cache.join("fetched-releases");
    let mode = |path: &std::path::Path| std::fs::metadata(path).unwrap().permissions().mode() & 0o777;
    assert_eq!((mode(&cache), mode(&own), mode(&own.join("files"))), (0o700, 0o700, 0o700));
    // Pipes in place of what was fetched.
    let mut pipes = vec![own.join("last.json")];
    for part in ["files", "releases"] {
        pipes.extend(std::fs::read_dir(own.join(part)).unwrap().map(|entry| entry.unwrap().path()));
    }
    for path in pipes {
        std::fs::remove_file(&path).unwrap();
        assert!(std::process::Command::new("mkfifo").arg(&path).status().unwrap().success());
    }
    assert_eq!(titles(&server()).await, "Ferries 1, Fferïau 1");
    // Others can write: reported; everybody can: refused.
    let set = |mode| std::fs::set_permissions(&cache, std::fs::Permissions::from_mode(mode)).unwrap();
    set(0o770);
    let crow = server();
    titles(&crow).await;
    assert!(
        crow.health().findings[0].contains("can write in the cache of releases"),
        "{:?}",
        crow.health().findings
    );
    set(0o777);
    let error = Releases::new(store.clone()).with_cache(&cache).unwrap_err();
    assert!(error.to_string().starts_with("everybody can write in it"), "{error}");
}
