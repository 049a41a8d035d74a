//! The demo in a real browser: Debian's Chromium, headless. Skipped, with a word, where there is none.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

mod program;

use std::path::Path;
use std::process::Command;

use program::Site;

/// A browser with a profile of its own: what it remembers lasts from one visit to the next.
struct Browser {
    profile: tempfile::TempDir,
}

impl Browser {
    /// None where Chromium is not installed.
    fn new() -> Option<Self> {
        if !Path::new("/usr/bin/chromium").exists() {
            eprintln!(
                "skipped: there is no /usr/bin/chromium; install Debian's package `chromium` to run this test"
            );
            return None;
        }
        Some(Self { profile: tempfile::tempdir().unwrap() })
    }

    /// The page an address leads to, after redirects, as the browser has it.
    fn visit(&self, languages: &str, address: &str) -> String {
        let output = Command::new("/usr/bin/chromium")
            .args(["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run"])
            .args(["--disable-background-networking", "--disable-sync", "--dump-dom"])
            .arg(format!("--accept-lang={languages}"))
            .arg(format!("--user-data-dir={}", self.profile.path().display()))
            .arg(address)
            .output()
            .unwrap();
        String::from_utf8(output.stdout).unwrap()
    }
}

#[test]
fn a_browser_is_led_to_its_language_and_remembers_a_choice() {
    let Some(browser) = Browser::new() else { return };
    let site = Site::open();
    for (languages, language, title) in [
        ("pl,en", "<html lang=\"pl\" dir=\"ltr\">", "Dzisiejsze rejsy"),
        ("ar-EG,en", "<html lang=\"ar\" dir=\"rtl\">", "رحلات اليوم"),
        ("en-AU", "<html lang=\"en-GB\" dir=\"ltr\">", "Today's sailings"),
        ("ja", "<html lang=\"en\" dir=\"ltr\">", "Today's sailings"),
    ] {
        let page = browser.visit(languages, &site.at("/"));
        assert!(page.contains(language) && page.contains(title), "{languages}: {page}");
    }
    // A choice goes through the switch address; the cookie outlives the visit, and so does the browser's own wish.
    let page = browser.visit("pl,en", &site.at("/locale?to=cy&return=/sailings/3"));
    assert!(page.contains("<html lang=\"cy\"") && page.contains("3ydd croesiad y dydd"), "{page}");
    let page = browser.visit("pl,en", &site.at("/"));
    assert!(page.contains("<html lang=\"cy\""), "{page}");
    // An address that names its language is served in it, whatever is remembered.
    let page = browser.visit("pl,en", &site.at("/ar/trip"));
    assert!(page.contains("<html lang=\"ar\" dir=\"rtl\">"), "{page}");
}
