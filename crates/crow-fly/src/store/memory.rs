//! Sections that nobody uses leave memory again, where the configuration says so.

use std::sync::atomic::Ordering;
use std::sync::{Arc, PoisonError};

use tokio::time::sleep;
use tracing::{debug, warn};

use super::CatalogStore;
use super::generation::Generation;
use super::running::Running;
use super::section::Link;

impl CatalogStore {
    /// Called after each load: holds the budget, and has sections dropped that are not used for long.
    pub(super) fn maintain(&self) {
        let catalogs = &self.0.config.catalogs;
        if let Some(most) = catalogs.most_bytes {
            self.hold_budget(most);
        }
        let Some(idle) = catalogs.idle else { return };
        if self.0.maintained.swap(true, Ordering::Relaxed) {
            return;
        }
        let guard = Running::new(&self.0, |inner| &inner.maintained);
        // The first pass finds nothing idle: nobody knows what came before it.
        let (mut before, mut begun) = (0, self.begin_epoch());
        tokio::spawn(async move {
            loop {
                // Two passes make an idle time: what was not used between them goes.
                sleep(idle / 2).await;
                let Some(inner) = guard.inner.upgrade() else { return };
                let store = Self(inner);
                store.drop_unused_since(before);
                // Loads begin epochs, too, where there is a budget: what counts is the epoch at a pass.
                (before, begun) = (begun, store.begin_epoch());
            }
        });
    }

    /// Begins a new epoch, and returns it.
    fn begin_epoch(&self) -> u32 {
        self.0.epoch.fetch_add(1, Ordering::Relaxed).wrapping_add(1)
    }

    /// Drops the sections that were not used since an epoch began.
    fn drop_unused_since(&self, epoch: u32) {
        let Some(current) = self.0.current.load_full() else { return };
        let is_idle =
            |place: &usize| current.section(*place).is_some_and(|section| section.last_used() < epoch);
        let idle: Vec<usize> = self.droppable(&current).filter(is_idle).collect();
        self.drop_places(&current, &idle);
    }

    /// Drops the sections that were used longest ago until the others fit into a budget.
    fn hold_budget(&self, most: usize) {
        // What is used from now on is newer than what was loaded before.
        self.begin_epoch();
        let Some(current) = self.0.current.load_full() else { return };
        let mut bytes = current.bytes();
        if bytes <= most {
            return;
        }
        let last_used = |place: &usize| current.section(*place).map(|section| section.last_used());
        let mut places: Vec<usize> = self.droppable(&current).collect();
        places.sort_by_key(last_used);
        let mut dropped = Vec::new();
        for place in places {
            if bytes <= most {
                break;
            }
            bytes -= current.section(place).map_or(0, |section| section.bytes).min(bytes);
            dropped.push(place);
        }
        self.drop_places(&current, &dropped);
    }

    /// Notes, once for a locale and generation, that the texts of one chain are larger than the budget: they are loaded again and
    /// again, each time for those that wait for them.
    pub(super) fn note_size(&self, generation: &Generation, links: &[Link], sections: Option<&[&str]>) {
        let (Some(most), Some(link)) = (self.0.config.catalogs.most_bytes, links.first()) else { return };
        let bytes = generation.bytes_of(links, sections);
        if bytes <= most {
            return;
        }
        let mut crowded = self.0.crowded.lock().unwrap_or_else(PoisonError::into_inner);
        if crowded.insert(link.locale, bytes).is_none() {
            warn!(
                target: "crow_fly::catalogs", locale = %link.tag, bytes, budget = most,
                help = "raise `max-megabytes` in `[catalogs]`, or name what pages need in `needs`",
                "the texts of one locale and its chain are larger than `max-megabytes`: they are loaded again and again",
            );
        }
    }

    /// The places in memory that no page is declared to need, and that nobody waits for.
    fn droppable<'g>(&'g self, generation: &'g Generation) -> impl Iterator<Item = usize> + 'g {
        let catalogs = &self.0.config.catalogs;
        let is_declared =
            move |place: usize| match generation.file(place).and_then(|file| file.section_name()) {
                Some(name) => catalogs.declared().any(|declared| declared == name),
                // A file with all sections has those, too.
                None => catalogs.declared().next().is_some(),
            };
        generation
            .all_places()
            .filter(move |place| generation.section(*place).is_some() && !is_declared(*place))
            .filter(|place| !generation.is_awaited(*place))
    }

    fn drop_places(&self, current: &Arc<Generation>, places: &[usize]) {
        if places.is_empty() {
            return;
        }
        let mut is_dropped = vec![false; places.iter().max().map_or(0, |last| last + 1)];
        for place in places {
            if let Some(dropped) = is_dropped.get_mut(*place) {
                *dropped = true;
            }
        }
        let kept = Arc::new(current.keeping(|place| !is_dropped.get(place).copied().unwrap_or(false)));
        self.is_born(&kept);
        let bytes = kept.bytes();
        let previous = self.0.current.compare_and_swap(current, Some(kept));
        // Where a newer generation has come meanwhile, it stays.
        if previous.as_ref().is_some_and(|previous| Arc::ptr_eq(previous, current)) {
            for place in places {
                current.loads.forget(*place);
            }
            self.0.counts.dropped(places.len(), bytes);
            debug!(target: "crow_fly::catalogs", sections = places.len(), "sections dropped from memory");
        }
    }
}
