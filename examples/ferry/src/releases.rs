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
    let files = LocalFileSystem::new_with_prefix(folder)
        .with_context(|| format!("{} is not a folder of releases", folder.display()))?;
    // A release that lacks a message of this program, or needs a parameter that it does not give, is refused.
    let releases = Releases::new(ReleaseStore::new(Arc::new(files)))
        .polled_every(Duration::from_secs(1))
        .requiring(ferry_messages::MESSAGES.iter().copied());
    let releases = match cache {
        Some(cache) => {
            releases.with_cache(cache).with_context(|| format!("{} cannot be made", cache.display()))?
        }
        None => releases,
    };
    // The texts that the program was built with are the last resort.
    Ok(Overlay::new(releases).over(ferry_messages::texts()))
}
