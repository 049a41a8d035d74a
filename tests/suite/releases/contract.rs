//! Releases keep the contract of sources, over a store that is disturbed.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex};

use crow_fly::Config;
use crow_fly::release::{Release, Releases};
use crow_fly::source::conformance::{Disturbance, Fixture, failures};
use crow_fly::source::{CatalogSource, Memory};

use crate::releases::faulty::Faulty;
use crate::releases::store;

/// Deploys a release at each change.
struct Deployed {
    objects: Arc<Faulty>,
    files: Mutex<BTreeMap<(String, String), String>>,
}

impl Deployed {
    fn new() -> Self {
        let deployed = Self { objects: Arc::default(), files: Mutex::default() };
        deployed.deploy(&BTreeMap::new());
        deployed
    }

    /// Publishes and activates what goes as a release; returns whether it does.
    fn deploy(&self, files: &BTreeMap<(String, String), String>) -> bool {
        let config = Config::parse("default = 'en'\nlocales = ['en', 'cy', 'pl', 'de']").unwrap();
        let source = Memory::new(files.iter().map(|((locale, section), text)| (locale, section, text)));
        let store = store(&self.objects);
        // The suite writes without waiting: a thread of its own has a runtime of its own.
        let deploy = move || {
            let runtime = tokio::runtime::Builder::new_current_thread().build().unwrap();
            runtime.block_on(async {
                let release = Release::of(&config, &source).await?;
                store.publish(&release).await?;
                store.activate(release.id()).await
            })
        };
        std::thread::spawn(deploy).join().unwrap().is_ok()
    }
}

impl Fixture for Deployed {
    fn source(&self) -> Box<dyn CatalogSource> {
        Box::new(Releases::new(store(&self.objects)))
    }

    fn write(&self, locale: &str, section: &str, bytes: &[u8]) {
        let mut files = self.files.lock().unwrap().clone();
        files.insert((locale.to_owned(), section.to_owned()), String::from_utf8(bytes.to_vec()).unwrap());
        // What cannot be a release is never published.
        if self.deploy(&files) {
            *self.files.lock().unwrap() = files;
        }
    }

    fn remove(&self, locale: &str) {
        let mut files = self.files.lock().unwrap();
        files.retain(|(other, _), _| other != locale);
        assert!(self.deploy(&files));
    }

    fn holds_broken_files(&self) -> bool {
        false
    }

    fn disturb(&self, disturbance: Disturbance) -> bool {
        self.objects.disturb(disturbance);
        true
    }
}

#[tokio::test]
async fn releases_keep_the_contract_of_sources() {
    assert_eq!(failures(&Deployed::new()).await, [""; 0]);
}
