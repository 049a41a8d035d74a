//! The store: what is published, activated, rolled back and cleaned.

use std::fs::File;
use std::path::Path as FilePath;
use std::sync::Arc;
use std::time::{Duration, SystemTime};

use crow_fly::release::{Activation, Cleaned, Manifest, Release, ReleaseError, ReleaseStore};
use crow_fly::source::{Directory, Memory};
use object_store::local::LocalFileSystem;
use object_store::path::Path;
use object_store::{ObjectStore, ObjectStoreExt};

use crate::releases::faulty::Faulty;
use crate::releases::{config, deploy, release, store};

#[tokio::test]
async fn a_release_says_what_it_holds_and_what_its_messages_require() {
    let one = release("1").await;
    insta::assert_snapshot!(String::from_utf8(one.manifest().to_json()).unwrap());
    assert_eq!(one.id(), release("1").await.id(), "the same catalogs make the same release");
    assert_ne!(one.id(), release("2").await.id());
    assert_eq!(Manifest::from_json(&one.manifest().to_json()).unwrap(), *one.manifest());
}

#[tokio::test]
async fn no_release_is_made_of_catalogs_with_errors() {
    let told = async |catalogs: Memory| Release::of(&config(), &catalogs).await.unwrap_err().to_string();
    let broken = Memory::new([("en", "home", "title = 'Ferries {$'\nhelp = 7"), ("cy", "home", "")]);
    insta::assert_snapshot!(told(broken).await);
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("en")).unwrap();
    std::fs::write(folder.path().join("en/home.toml"), "title = 'Ferries'").unwrap();
    let error = Release::of(&config(), &Directory::new(folder.path())).await.unwrap_err();
    assert_eq!(error.problem(), "the catalogs have an error:\n  there are no catalogs of `cy`");
}

#[tokio::test]
async fn what_is_published_is_not_written_again_and_what_is_damaged_is() {
    let objects = Arc::new(Faulty::default());
    let (store, release) = (store(&objects), release("1").await);
    store.publish(&release).await.unwrap();
    objects.asked();
    store.publish(&release).await.unwrap();
    let puts = |asked: Vec<String>| asked.into_iter().filter(|asked| asked.starts_with("put ")).count();
    assert_eq!(puts(objects.asked()), 2, "what shows the time, and the manifest");
    let file = format!("ferries/catalogs/files/{}", release.manifest().files()[0].sha256());
    objects.put(&Path::from(file), "other".into()).await.unwrap();
    objects.asked();
    store.publish(&release).await.unwrap();
    assert_eq!(puts(objects.asked()), 3);
}

#[tokio::test]
async fn of_two_deployments_at_the_same_time_one_wins() {
    for _ in 0..20 {
        let store = store(&Arc::default());
        deploy(&store, "1").await;
        let (two, three) = (release("2").await, release("3").await);
        store.publish(&two).await.unwrap();
        store.publish(&three).await.unwrap();
        let (one, other) = tokio::join!(
            tokio::spawn({
                let (store, id) = (store.clone(), two.id());
                async move { store.activate(id).await }
            }),
            tokio::spawn({
                let (store, id) = (store.clone(), three.id());
                async move { store.activate(id).await }
            }),
        );
        let results = [one.unwrap(), other.unwrap()];
        let activations = store.activations(10).await.unwrap();
        let won = results.iter().filter(|result| result.is_ok()).count();
        // One after the other, both may win: then there are three. Never do two have the same number.
        assert_eq!(activations.len(), 1 + won);
        for result in results {
            match result {
                Ok(activation) => assert!(activations.contains(&activation)),
                Err(ReleaseError::Taken { number, active }) => {
                    assert_eq!((number, active), (2, activations[0].release()));
                }
                Err(error) => panic!("{error}"),
            }
        }
    }
}

#[tokio::test]
async fn one_rolls_back_by_activating_an_earlier_release() {
    let store = store(&Arc::default());
    assert!(matches!(store.roll_back().await, Err(ReleaseError::NoneActive)));
    let one = deploy(&store, "1").await;
    assert!(matches!(store.roll_back().await, Err(ReleaseError::NoneEarlier)));
    let two = deploy(&store, "2").await;
    assert_eq!(store.activate(two.release()).await.unwrap(), two, "it is active already");
    let back = store.roll_back().await.unwrap();
    assert_eq!((back.number(), back.release()), (3, one.release()));
    // Nobody comes back to what was left, unless by its name.
    assert!(matches!(store.roll_back().await, Err(ReleaseError::NoneEarlier)));
    assert_eq!(store.history(9).await.unwrap().left, [two.release()]);
    let three = deploy(&store, "3").await;
    assert_eq!(store.earlier().await.unwrap(), one.release());
    assert_eq!(store.roll_back_to(two.release()).await.unwrap().release(), two.release());
    assert_eq!(store.history(9).await.unwrap().left, [three.release()]);
    assert_eq!(store.roll_back().await.unwrap().release(), one.release());
    // What is activated again is not left any more.
    store.activate(three.release()).await.unwrap();
    assert_eq!(store.history(9).await.unwrap().left, [two.release()]);
    let numbers: Vec<u64> = store.activations(3).await.unwrap().iter().map(Activation::number).collect();
    assert_eq!(numbers, [7, 6, 5]);
}

#[tokio::test]
async fn a_release_is_found_by_the_beginning_of_its_id_and_activated_when_it_is_whole() {
    let objects = Arc::new(Faulty::default());
    let (store, release) = (store(&objects), release("1").await);
    let id = release.id().to_string();
    assert!(matches!(store.activate(release.id()).await, Err(ReleaseError::Unknown(_))));
    store.publish(&release).await.unwrap();
    assert_eq!(store.find(&id[..6]).await.unwrap(), release.id());
    for wrong in ["", "x", &id.to_uppercase()] {
        assert!(
            matches!(store.find(wrong).await, Err(ReleaseError::Unknown(_) | ReleaseError::Ambiguous(_))),
            "{wrong}"
        );
    }
    let file = format!("ferries/catalogs/files/{}", release.manifest().files()[0].sha256());
    objects.delete(&Path::from(file)).await.unwrap();
    let error = store.activate(release.id()).await.unwrap_err();
    assert_eq!(
        error.to_string(),
        "the store lacks files of the release: cy/home.toml; publish the release again"
    );
    assert_eq!(error.help(), "publish the release again");
    let manifest = format!("ferries/catalogs/releases/{id}.json");
    objects.put(&Path::from(manifest.clone()), "{}".into()).await.unwrap();
    let error = store.activate(release.id()).await.unwrap_err().to_string();
    assert_eq!(
        error,
        format!(
            "`{manifest}` is damaged: its bytes are not those that were published; publish the release again, and activate it"
        )
    );
}

/// Makes everything in a folder older.
fn make_older(folder: &FilePath, days: u64) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            make_older(&path, days);
        } else {
            let file = File::options().write(true).open(path).unwrap();
            let time = SystemTime::now() - Duration::from_secs(days * 24 * 60 * 60);
            file.set_modified(time).unwrap();
        }
    }
}

#[tokio::test]
async fn old_releases_are_cleaned_and_what_others_need_stays() {
    let folder = tempfile::tempdir().unwrap();
    let files = LocalFileSystem::new_with_prefix(folder.path()).unwrap();
    let store = ReleaseStore::new(Arc::new(files) as Arc<dyn ObjectStore>);
    let one = deploy(&store, "1").await;
    let forgotten = release("never active").await;
    store.publish(&forgotten).await.unwrap();
    assert_eq!(store.clean(1).await.unwrap(), Cleaned::default(), "a deployment may be under way");
    make_older(folder.path(), 3);
    // Whoever publishes it again is about to need it.
    store.publish(&forgotten).await.unwrap();
    assert_eq!(store.clean(1).await.unwrap(), Cleaned::default());
    make_older(folder.path(), 3);
    let two = deploy(&store, "2").await;
    let three = deploy(&store, "3").await;
    let cleaned = store.clean(3).await.unwrap();
    assert_eq!((cleaned.releases, cleaned.files), (vec![forgotten.id()], 2), "the fares are in all of them");
    make_older(folder.path(), 3);
    let four = deploy(&store, "4").await;
    let cleaned = store.clean(2).await.unwrap();
    assert_eq!((cleaned.releases.len(), cleaned.files), (2, 4));
    let mut left = store.releases().await.unwrap();
    left.sort_unstable();
    let mut expected = [three.release(), four.release()];
    expected.sort_unstable();
    assert_eq!(left, expected);
    assert!(matches!(store.activate(one.release()).await, Err(ReleaseError::Unknown(_))));
    assert!(matches!(store.activate(two.release()).await, Err(ReleaseError::Unknown(_))));
    assert_eq!(store.activate(three.release()).await.unwrap().number(), 5);
    // What lies beside them is nobody's business of ours.
    let photo = folder.path().join("files/harbour.jpg");
    std::fs::write(&photo, "a photo").unwrap();
    std::fs::write(folder.path().join("releases/notes.json"), "{}").unwrap();
    make_older(folder.path(), 30);
    deploy(&store, "5").await;
    store.clean(1).await.unwrap();
    assert!(photo.exists() && folder.path().join("releases/notes.json").exists());
    // More are kept than there are: what was cleaned before is no obstacle.
    assert_eq!(store.clean(100).await.unwrap(), Cleaned::default());
}
