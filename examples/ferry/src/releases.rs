//! Catalogs from releases, where the site is started with `--releases FOLDER`.

use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

use anyhow::{Context, Result};
use crow_fly::release::{ReleaseStore, Releases};
use crow_fly::source::Overlay;
use object_store::local::LocalFileSystem;

/// The active release of a store that is a folder. A bucket is another `ObjectStore`, and the rest is the same.
pub(crate) fn of(folder: &Path, cache: Option<&Path>) -> Result<Overlay> {
    // The folder may be away while the site starts: then it has what its cache has, or else what the program has.
    let files = LocalFileSystem::new();
    let place = object_store::path::Path::from_absolute_path(std::path::absolute(folder)?)
        .with_context(|| format!("{} cannot be a folder of releases", folder.display()))?;
    let store = ReleaseStore::new(Arc::new(files)).below(place.as_ref());
    let releases = Releases::new(store).polled_every(Duration::from_secs(1));
    let releases = match cache {
        Some(cache) => {
            releases.with_cache(cache).with_context(|| format!("{} cannot be made", cache.display()))?
        }
        None => releases,
    };
    // The texts that the program was built with are the last resort.
    Ok(Overlay::new(releases).over(ferry_messages::texts()))
}
