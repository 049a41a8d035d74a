//! What the store counts, through the `metrics` facade.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use metrics_util::debugging::{DebugValue, DebuggingRecorder};

#[tokio::test]
async fn loads_misses_and_generations_are_counted_without_labels() {
    let recorder = DebuggingRecorder::new();
    let snapshots = recorder.snapshotter();
    recorder.install().unwrap();
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[catalogs]\neager = ['home']\nmax-megabytes = 0\n";
    let catalogs = Memory::new([
        ("en", "home", "title = 'Ferries'"),
        ("en", "trip", "title = 'Trip'"),
        ("en", "news", "title = 'News'"),
    ]);
    let crow = CrowFly::new(Config::parse(config).unwrap(), catalogs);
    // From the first moment on.
    let zeros = snapshots.snapshot().into_vec();
    assert!(zeros.iter().all(
        |(.., value)| matches!(value, DebugValue::Counter(0)) || *value == DebugValue::Gauge(0.0.into())
    ));
    assert_eq!(zeros.len(), 9);
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    // What somebody has waited for stays until the next load.
    t.load(["trip"]).await.unwrap();
    t.load(["news"]).await.unwrap();
    t.text("home.nothing");
    let mut told = Vec::new();
    for (key, _, _, value) in snapshots.snapshot().into_vec() {
        assert_eq!(key.key().labels().count(), 0, "{key:?}");
        let name = key.key().name();
        let value = match value {
            // How many bytes a catalog takes, and what time it is, may change.
            DebugValue::Counter(count) if !name.contains("bytes") => count.to_string(),
            DebugValue::Gauge(value) if !name.contains("bytes") && !name.ends_with("seconds") => {
                value.to_string()
            }
            _ => "…".to_owned(),
        };
        told.push(format!("{:?} {name} {value}", key.kind()));
    }
    told.sort();
    insta::assert_snapshot!(told.join("\n"), @"
    Counter crow_fly_load_failures_total 0
    Counter crow_fly_misses_total 1
    Counter crow_fly_section_bytes_total …
    Counter crow_fly_section_drops_total 1
    Counter crow_fly_section_loads_total 3
    Gauge crow_fly_generation 1
    Gauge crow_fly_generation_start_seconds …
    Gauge crow_fly_generations_in_memory 2
    Gauge crow_fly_section_bytes …
    Histogram crow_fly_section_load_seconds …
    ");
}
