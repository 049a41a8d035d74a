//! What the store counts, for people and for metrics.

use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Duration;

/// What the store has done since the program started.
#[derive(Debug, Default)]
pub(crate) struct Counts {
    loads: AtomicU64,
    failures: AtomicU64,
    drops: AtomicU64,
    generations: AtomicU64,
}

impl Counts {
    #[cfg_attr(not(feature = "metrics"), expect(unused_variables, reason = "only metrics take them"))]
    pub(super) fn loaded(&self, elapsed: Duration, bytes: usize) {
        self.loads.fetch_add(1, Ordering::Relaxed);
        #[cfg(feature = "metrics")]
        {
            metrics::counter!("crow_fly_section_loads_total").increment(1);
            metrics::histogram!("crow_fly_section_load_seconds").record(elapsed.as_secs_f64());
            metrics::counter!("crow_fly_section_bytes_total").increment(bytes as u64);
        }
    }

    pub(super) fn failed(&self) {
        self.failures.fetch_add(1, Ordering::Relaxed);
        #[cfg(feature = "metrics")]
        metrics::counter!("crow_fly_load_failures_total").increment(1);
    }

    pub(super) fn dropped(&self, sections: usize) {
        self.drops.fetch_add(sections as u64, Ordering::Relaxed);
        #[cfg(feature = "metrics")]
        metrics::counter!("crow_fly_section_drops_total").increment(sections as u64);
    }

    pub(super) fn swapped(&self) {
        self.generations.fetch_add(1, Ordering::Relaxed);
        #[cfg(feature = "metrics")]
        metrics::counter!("crow_fly_generations_total").increment(1);
    }

    /// Counts a text that was missing. The store itself keeps those by key.
    pub(crate) fn missed() {
        #[cfg(feature = "metrics")]
        metrics::counter!("crow_fly_misses_total").increment(1);
    }

    /// Files read, loads and listings that failed, sections dropped, generations.
    pub(super) fn all(&self) -> (u64, u64, u64, u64) {
        let read = |count: &AtomicU64| count.load(Ordering::Relaxed);
        (read(&self.loads), read(&self.failures), read(&self.drops), read(&self.generations))
    }
}
