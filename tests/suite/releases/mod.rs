//! Releases: published, activated, rolled back, cleaned; taken whole by servers, or refused.

mod contract;
mod faulty;
mod model;
mod publishing;
mod serving;

use std::sync::Arc;

use crow_fly::release::{Activation, Release, ReleaseStore};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use object_store::ObjectStore;

use faulty::Faulty;

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'cy']\ndevelopment = false\n[catalogs]\nload-seconds = 3\nwait-seconds = 3\n";

fn config() -> Config {
    Config::parse(CONFIG).unwrap()
}

/// Two locales whose titles say a version.
fn catalogs(version: &str) -> Memory {
    Memory::new([
        ("en", "home", format!("title = 'Ferries {version}'\nseats = '{{$seats :integer}} seats'")),
        ("cy", "home", format!("title = 'Fferïau {version}'")),
        ("en", "fares", "fare = '{$fare :currency currency=EUR}'".to_owned()),
    ])
}

async fn release(version: &str) -> Release {
    Release::of(&config(), &catalogs(version)).await.unwrap()
}

fn store(objects: &Arc<Faulty>) -> ReleaseStore {
    ReleaseStore::new(Arc::clone(objects) as Arc<dyn ObjectStore>).below("ferries/catalogs")
}

/// Publishes and activates.
async fn deploy(store: &ReleaseStore, version: &str) -> Activation {
    let release = release(version).await;
    store.publish(&release).await.unwrap();
    store.activate(release.id()).await.unwrap()
}

/// The titles in both locales.
async fn titles(crow: &CrowFly) -> String {
    let (english, welsh) = (crow.translator_for("en").await, crow.translator_for("cy").await);
    format!("{}, {}", english.text("home.title"), welsh.text("home.title"))
}
