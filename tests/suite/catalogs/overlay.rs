//! Sources one above the other: merged by key in each locale, before the chain goes on.

use std::time::Duration;

use crow_fly::source::{CatalogSource, Directory, Memory, Overlay};
use crow_fly::{Config, CrowFly, HealthStatus};

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{CONFIG, answer, crow, pages, said};

fn ready_made() -> Memory {
    Memory::new([
        ("en", "home", "title = 'A site'\nhelp = 'Help'\nonly = 'Only below'"),
        ("cy", "home", "help = 'Cymorth'"),
        ("pl", "form", "required = 'To pole jest wymagane'"),
    ])
}

/// A text, and where it comes from, in a locale.
async fn told(crow: &CrowFly, locale: &str, key: &str) -> String {
    let t = crow.translator_for(locale).await;
    let origin = t.origin(key).map_or_else(|| "nowhere".to_owned(), |origin| origin.to_string());
    format!("{} ({origin})", t.text(key))
}

#[tokio::test]
async fn a_message_is_that_of_the_uppermost_source_of_its_locale() {
    let own = Controlled::titles();
    for declared in ["", "eager = ['home', 'form']"] {
        let crow = crow(Overlay::new(own.clone()).over(ready_made()), declared);
        for (locale, key, expected) in [
            ("en", "home.title", "Ferries (en, en/home.toml:1)"),
            ("en", "home.help", "Help (en, memory: en/home.toml:2)"),
            ("cy", "home.title", "Fferïau (cy, cy/home.toml:1)"),
            // Text of the product in the visitor's language goes before English text of the site.
            ("cy", "home.help", "Cymorth (cy, memory: cy/home.toml:1)"),
            ("pl", "home.only", "Only English (en, en/home.toml:2)"),
            ("pl", "form.required", "To pole jest wymagane (pl, memory: pl/form.toml:1)"),
            ("en", "form.required", "form.required (nowhere)"),
        ] {
            assert_eq!(told(&crow, locale, key).await, expected, "{locale} {key} {declared}");
        }
        let t = crow.translator_for("en").await;
        assert_eq!(t.keys("home").unwrap(), ["home.title", "home.only", "home.help"]);
    }
}

#[tokio::test]
async fn each_source_changes_by_itself_and_pages_never_mix_generations() {
    let files = [("en", "home", "help = 'Help'"), ("cy", "home", "help = 'Cymorth'")];
    let (own, below) = (Controlled::titles(), Controlled::new(&files));
    let crow = crow(Overlay::new(own.clone()).over(below.clone()), "");
    crow.translator_for("cy").await;
    let before = crow.translator_for("en").await;
    assert_eq!((before.text("home.title"), before.text("home.help")), ("Ferries".into(), "Help".into()));
    own.reads();
    below.reads();
    below.write("en", "home", "help = 'Ask us'\ntitle = 'Not this'");
    crow.reload().await.unwrap();
    let after = crow.translator_for("en").await;
    assert_eq!((after.text("home.title"), after.text("home.help")), ("Ferries".into(), "Ask us".into()));
    assert_eq!(before.text("home.help"), "Help");
    assert_eq!(crow.health().living_generations, 2, "one translator still has the first");
    let welsh = crow.translator_for("cy").await;
    assert_eq!((welsh.text("home.title"), welsh.text("home.help")), ("Fferïau".into(), "Cymorth".into()));
    let reads = (own.reads(), below.reads());
    assert_eq!(reads, (vec![], vec!["en/home".to_owned()]), "what has not changed is not read again");

    // A broken save below costs nothing above.
    below.write("en", "home", "help = 'Ask us");
    assert!(crow.reload().await.is_err());
    assert_eq!(crow.translator_for("en").await.text("home.help"), "Ask us");
    assert_eq!(crow.health().stale.len(), 1);
}

#[tokio::test]
async fn overlays_may_lie_above_overlays() {
    let (client, product) = (Memory::new([("en", "home", "title = 'Client'")]), Controlled::titles());
    let crow = crow(Overlay::new(client).over(Overlay::new(product).over(ready_made())), "");
    assert_eq!(told(&crow, "en", "home.title").await, "Client (en, memory: en/home.toml:1)");
    assert_eq!(told(&crow, "en", "home.only").await, "Only English (en, en/home.toml:2)");
    assert_eq!(told(&crow, "en", "home.help").await, "Help (en, memory: en/home.toml:2)");
}

#[tokio::test]
async fn what_one_source_says_is_said_of_the_overlay() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("en")).unwrap();
    std::fs::write(folder.path().join("en/home.toml"), "title = 'Ferries'").unwrap();
    std::fs::create_dir(folder.path().join("fr")).unwrap();
    let locales = ["en", "cy", "pl"].map(str::to_owned);
    let overlay = Overlay::new(Directory::new(folder.path())).over(ready_made());
    let listing = overlay.list(&locales).wait().await.unwrap();
    assert_eq!((listing.files().len(), listing.absent()), (4, &["cy".to_owned(), "pl".to_owned()][..]));
    assert_eq!(listing.findings().len(), 1);
    // The disk is read by a thread that may block, as it is without an overlay.
    assert_eq!(format!("{:?}", overlay.list(&locales)), "Answer::blocking");
    assert_eq!(overlay.poll_interval(), None::<Duration>);

    let gone = Overlay::new(Directory::new(folder.path().join("gone"))).over(ready_made());
    let crow = CrowFly::new(Config::parse(&format!("development = false\n{CONFIG}")).unwrap(), gone);
    assert_eq!(said(&crow.clone().router(pages()), "/").await, answer(200, "A site", ""));
    let health = crow.health();
    assert_eq!(health.status, HealthStatus::Degraded);
    assert!(health.findings[0].contains("source 1 of the overlay: "), "{:?}", health.findings);
}
