//! The library beside the programs it is deployed with: a session store and a shared cache, as Debian packages them, and
//! an S3 server from Python's packages. Each test starts its own. Where the program is not installed the test is skipped, and says so; with
//! `REQUIRE_NEIGHBOURS=1` it fails.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

mod bucket;
mod program;
mod redis;
mod shared_cache;

use axum::Router;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator};

/// One page that says which locale it is in.
fn site(config: &str) -> Router {
    let catalogs = Memory::new([
        ("en", "home", "words = 'words'"),
        ("cy", "home", "words = 'geiriau'"),
        ("pl", "home", "words = 'słowa'"),
    ]);
    let page = |t: Translator| async move { format!("{} {}", t.locale(), t.text("home.words")) };
    CrowFly::new(Config::parse(config).unwrap(), catalogs).router(Router::new().fallback(get(page)))
}
