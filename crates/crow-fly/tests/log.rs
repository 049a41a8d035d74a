//! What the log says. Alone in its binary: a log is of the whole process.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::sync::{Arc, Mutex};

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use tracing_subscriber::filter::LevelFilter;
use tracing_subscriber::fmt::MakeWriter;

/// The log of a test, as lines.
#[derive(Clone, Default)]
struct Log(Arc<Mutex<Vec<u8>>>);

impl std::io::Write for Log {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0.lock().unwrap().extend_from_slice(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

impl MakeWriter<'_> for Log {
    type Writer = Self;

    fn make_writer(&self) -> Self {
        self.clone()
    }
}

#[tokio::test]
async fn the_log_says_what_was_read_and_what_was_missing() {
    let log = Log::default();
    tracing_subscriber::fmt()
        .with_writer(log.clone())
        .with_ansi(false)
        .without_time()
        .with_max_level(LevelFilter::DEBUG)
        .init();
    let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']").unwrap();
    let catalogs = Memory::new([
        ("en", "home", "only-english = 'Only English'"),
        ("cy", "home", "hello = 'Helo, {$name}: {$seats :number}'\nwords = 'geiriau'\nbroken = '{$'"),
    ]);
    let welsh = CrowFly::new(config, catalogs).translator(&"cy".parse().unwrap()).await.unwrap();
    welsh.text("home.only-english");
    welsh.text("home.nothing");
    welsh.text("home.hello");
    let _ = welsh.with_time_zone("US/Pacific-New".parse().unwrap());
    let lines = String::from_utf8(log.0.lock().unwrap().clone()).unwrap();
    for part in [
        "from=\"memory: cy/home\" messages=3",
        "place=\"memory: cy/home:3:13\"",
        "catalogs loaded locale=cy sections=1 messages=3 elapsed=",
        "the zone database does not have this time zone: the default is used; update the database time_zone=US/Pacific-New",
        "the text is in another language of the chain key=\"home.only-english\" locale=cy from=en",
        "no catalog of the chain has this message key=\"home.nothing\" locale=cy",
        "a message was formatted with errors key=\"home.hello\" locale=cy errors=no argument was given for `{$name}`; no argument was given for `{$seats}`",
    ] {
        assert!(lines.contains(part), "{part} is not in\n{lines}");
    }
    assert_eq!(lines.matches("formatted with errors").count(), 1, "{lines}");
}
