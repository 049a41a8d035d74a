//! What the store counts, for people and for metrics.

use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Duration;

const LOADS: &str = "crow_fly_section_loads_total";
const BYTES_LOADED: &str = "crow_fly_section_bytes_total";
const FAILURES: &str = "crow_fly_load_failures_total";
const DROPS: &str = "crow_fly_section_drops_total";
const MISSES: &str = "crow_fly_misses_total";
const GENERATION: &str = "crow_fly_generation";
const GENERATION_START: &str = "crow_fly_generation_start_seconds";
const LIVING: &str = "crow_fly_generations_in_memory";
const BYTES: &str = "crow_fly_section_bytes";

/// What the store has done since the program started.
#[derive(Debug, Default)]
pub(crate) struct Counts {
    loads: AtomicU64,
    failures: AtomicU64,
    drops: AtomicU64,
    generations: AtomicU64,
}

impl Counts {
    /// Nothing so far. Every counter and gauge exists from here on, so that what has not happened is a zero, and no gap.
    pub(super) fn new() -> Self {
        for name in [LOADS, BYTES_LOADED, FAILURES, DROPS, MISSES] {
            facade::count(name, 0);
        }
        for name in [GENERATION, GENERATION_START, LIVING, BYTES] {
            facade::set(name, 0);
        }
        Self::default()
    }

    pub(super) fn loaded(&self, elapsed: Duration, bytes: usize) {
        self.loads.fetch_add(1, Ordering::Relaxed);
        facade::count(LOADS, 1);
        facade::count(BYTES_LOADED, bytes);
        facade::record("crow_fly_section_load_seconds", elapsed);
    }

    pub(super) fn failed(&self) {
        self.failures.fetch_add(1, Ordering::Relaxed);
        facade::count(FAILURES, 1);
    }

    pub(super) fn dropped(&self, sections: usize, bytes: usize) {
        self.drops.fetch_add(sections as u64, Ordering::Relaxed);
        facade::count(DROPS, sections);
        Self::in_memory(bytes);
    }

    pub(super) fn swapped(&self, number: u64, bytes: usize) {
        self.generations.fetch_add(1, Ordering::Relaxed);
        facade::set(GENERATION, number);
        Self::in_memory(bytes);
        let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH);
        facade::set(GENERATION_START, now.map_or(0, |time| time.as_secs()));
    }

    /// Tells how many generations are in memory.
    pub(super) fn living(generations: usize) {
        facade::set(LIVING, generations as u64);
    }

    /// Tells how many bytes the sections of a generation take.
    pub(super) fn in_memory(bytes: usize) {
        facade::set(BYTES, bytes as u64);
    }

    /// Counts a text that was missing. The store itself keeps those by key.
    pub(crate) fn missed() {
        facade::count(MISSES, 1);
    }

    /// Files read, loads and listings that failed, sections dropped, generations.
    pub(super) fn all(&self) -> (u64, u64, u64, u64) {
        let read = |count: &AtomicU64| count.load(Ordering::Relaxed);
        (read(&self.loads), read(&self.failures), read(&self.drops), read(&self.generations))
    }
}

/// The `metrics` facade. No key, path or other word of a visitor's ever becomes a label.
#[cfg(feature = "metrics")]
mod facade {
    use std::time::Duration;

    pub(super) fn count(name: &'static str, by: usize) {
        metrics::counter!(name).increment(by as u64);
    }

    pub(super) fn record(name: &'static str, time: Duration) {
        metrics::histogram!(name).record(time.as_secs_f64());
    }

    #[allow(clippy::cast_precision_loss, reason = "gauges are floating-point numbers")]
    pub(super) fn set(name: &'static str, value: u64) {
        metrics::gauge!(name).set(value as f64);
    }
}

/// The same without the facade.
#[cfg(not(feature = "metrics"))]
mod facade {
    use std::time::Duration;

    pub(super) const fn count(_: &'static str, _: usize) {}

    pub(super) const fn record(_: &'static str, _: Duration) {}

    pub(super) const fn set(_: &'static str, _: u64) {}
}
