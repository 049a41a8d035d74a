//! Changes on disk, told by the system.

use std::path::Path;

use notify::{Event, RecursiveMode, Watcher};
use tracing::debug;

use super::{Changed, Watching};

/// Watches a folder and all below it. None where the system cannot: it is listed again and again, then.
pub(super) fn folder(root: &Path, changed: Changed) -> Option<Watching> {
    let told = move |event: notify::Result<Event>| {
        // Reading a file is an event as well.
        if !event.is_ok_and(|event| event.kind.is_access()) {
            changed();
        }
    };
    let watching = notify::recommended_watcher(told)
        .and_then(|mut watcher| watcher.watch(root, RecursiveMode::Recursive).map(|()| watcher));
    match watching {
        Ok(watcher) => Some(Box::new(watcher)),
        Err(error) => {
            debug!(target: "crow_fly::catalogs", folder = %root.display(), %error, "changes cannot be watched: the folder is listed for each request");
            None
        }
    }
}
