//! The core through its public face.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a test fails by panicking")]

mod accept;
mod arguments;
mod calendars;
mod canonical;
mod catalogs;
mod chains;
mod checks;
mod decimals;
mod demo_locales;
mod errors;
mod every_locale;
mod extremes;
mod functions;
mod laws;
mod lists;
mod matching;
mod message_laws;
mod messages;
mod moments;
mod names;
mod number_laws;
mod numbers;
#[cfg(all(feature = "chrono", feature = "time"))]
mod other_crates;
mod policy;
mod routes;
mod rules;
mod standard;
mod tags;
mod titles;
mod toml_files;
mod translation;
mod tree;

use crow_fly_core::tag::LanguageTag;
use proptest::prelude::ProptestConfig;

/// So many cases of a law that takes long; `PROPTEST_CASES` asks for others, as `xtask -- proof laws` does.
fn cases(usual: u32) -> ProptestConfig {
    let config = ProptestConfig::default();
    if std::env::var_os("PROPTEST_CASES").is_some() {
        config
    } else {
        ProptestConfig { cases: usual, ..config }
    }
}

/// A tag that is known to be well-formed.
fn tag(text: &str) -> LanguageTag {
    LanguageTag::parse(text).unwrap()
}

#[test]
fn locales_of_the_demo_write_what_they_write_with_the_data_of_their_languages_alone() {
    demo_locales::check();
}
