//! What the store counts, through the `metrics` facade.

#![cfg(feature = "metrics")]
#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use metrics_util::debugging::DebuggingRecorder;

#[tokio::test]
async fn loads_misses_and_generations_are_counted_without_labels() {
    let recorder = DebuggingRecorder::new();
    let snapshots = recorder.snapshotter();
    recorder.install().unwrap();
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[catalogs]\neager = ['home']\nmax-megabytes = 0\n";
    let catalogs = Memory::new([("en", "home", "title = 'Ferries'"), ("en", "trip", "title = 'Trip'")]);
    let crow = CrowFly::new(Config::parse(config).unwrap(), catalogs);
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    t.load(["trip"]).await.unwrap();
    t.text("home.nothing");
    let mut names = Vec::new();
    for (key, ..) in snapshots.snapshot().into_vec() {
        assert_eq!(key.key().labels().count(), 0, "{key:?}");
        names.push(format!("{:?} {}", key.kind(), key.key().name()));
    }
    names.sort();
    insta::assert_snapshot!(names.join("\n"), @"
    Counter crow_fly_misses_total
    Counter crow_fly_section_bytes_total
    Counter crow_fly_section_drops_total
    Counter crow_fly_section_loads_total
    Gauge crow_fly_generation
    Gauge crow_fly_generation_start_seconds
    Gauge crow_fly_generations_in_memory
    Gauge crow_fly_section_bytes
    Histogram crow_fly_section_load_seconds
    ");
}
