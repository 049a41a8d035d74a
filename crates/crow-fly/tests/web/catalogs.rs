//! Catalogs: loaded when needed, once; texts from the chain, from code, and a marker.

use std::sync::Arc;
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use crow_fly::source::{CatalogSource, Directory, Loading, Memory, SourceError};
use crow_fly::{Config, CrowFly, args, say};

use crate::visitor::Visitor;
use crate::{CONFIG, catalogs, crow, pages};

/// A source that counts what it is asked, and takes its time.
#[derive(Debug, Clone, Default)]
struct Counted {
    loads: Arc<Mutex<Vec<String>>>,
    failures: Arc<AtomicUsize>,
}

impl CatalogSource for Counted {
    fn load<'a>(&'a self, locale: &'a str) -> Loading<'a> {
        self.loads.lock().unwrap().push(locale.to_owned());
        Box::pin(async move {
            for _ in 0..50 {
                tokio::task::yield_now().await;
            }
            if self
                .failures
                .fetch_update(Ordering::SeqCst, Ordering::SeqCst, |left| left.checked_sub(1))
                .is_ok()
            {
                return Err(SourceError::new("a made-up place", "it is not there"));
            }
            catalogs().load(locale).await
        })
    }

    fn fingerprint(&self, _: &str) -> Option<u64> {
        None
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn two_hundred_requests_cause_one_load() {
    let source = Counted::default();
    let app = CrowFly::new(Config::parse(CONFIG).unwrap(), source.clone()).router(pages());
    assert!(source.loads.lock().unwrap().is_empty(), "nothing is read at the start");
    let tasks: Vec<_> = (0..200)
        .map(|_| {
            let app = app.clone();
            tokio::spawn(async move { Visitor::of(&app).get("/pl").await.body })
        })
        .collect();
    for task in tasks {
        assert_eq!(task.await.unwrap(), "home pl słowa");
    }
    assert_eq!(*source.loads.lock().unwrap(), ["pl", "en"]);
}

#[tokio::test]
async fn a_failed_load_is_not_tried_at_once_and_the_chain_serves() {
    let source = Counted::default();
    source.failures.store(1, Ordering::SeqCst);
    let app = CrowFly::new(Config::parse(CONFIG).unwrap(), source.clone()).router(pages());
    for _ in 0..5 {
        assert_eq!(Visitor::of(&app).get("/cy").await.body, "home cy words");
    }
    assert_eq!(*source.loads.lock().unwrap(), ["cy", "en"]);
}

#[tokio::test]
async fn texts_come_from_the_chain_then_from_code_then_a_marker() {
    let crow = crow(&format!("development = true\n{CONFIG}"));
    let welsh = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    let british = crow.translator(&"en-GB".parse().unwrap()).await.unwrap();
    assert_eq!(british.text("home.words"), "British words");
    assert_eq!(british.text("home.only-english"), "Only English");
    assert_eq!(british.html("home.only-english").as_str(), "Only <b>English</b>");
    assert_eq!(
        welsh.html("home.only-english").as_str(),
        "<span lang=\"en\" dir=\"ltr\">Only <b>English</b></span>"
    );
    assert_eq!(welsh.text(say("home.new").with(args! { n: 1234 }).or("{$n} new")), "1,234 new");
    assert_eq!(welsh.html(say("home.new").or("new")).as_str(), "<span lang=\"en\" dir=\"ltr\">new</span>");
    for key in ["home.nothing", "home.group", "home.broken", "nosuch.key", "nosection", ""] {
        assert_eq!(welsh.text(key), format!("⟦{key}⟧"), "{key}");
    }
    assert_eq!(welsh.html("home.<b>").as_str(), "⟦home.&lt;b&gt;⟧");
    assert_eq!(welsh.text(say("home.nothing").or("{$")), "⟦home.nothing⟧");
    assert!(crow.translator(&"de".parse().unwrap()).await.is_none());

    let production = self::crow(&format!("development = false\n{CONFIG}"));
    assert_eq!(
        production.translator(&"cy".parse().unwrap()).await.unwrap().text("home.nothing"),
        "home.nothing"
    );
}

#[tokio::test]
async fn a_directory_is_read_by_locale_and_nothing_outside_it() {
    let folder = tempfile::tempdir().unwrap();
    let write = |path: &str, text: &str| {
        let path = folder.path().join(path);
        std::fs::create_dir_all(path.parent().unwrap()).unwrap();
        std::fs::write(path, text).unwrap();
    };
    write("catalogs/en/home.toml", "words = 'from disk'");
    write("catalogs/en/notes.txt", "not a catalog");
    write("catalogs/en/bad name.toml", "x = 'y'");
    write("crow-fly.toml", "default = 'en'\nlocales = ['en', 'cy']");
    let crow = CrowFly::from_file(folder.path().join("crow-fly.toml")).unwrap();
    assert_eq!(crow.translator(&"cy".parse().unwrap()).await.unwrap().text("home.words"), "from disk");
    let directory = Directory::new(folder.path().join("catalogs"));
    assert_eq!(
        directory.read("en").unwrap().iter().map(|file| file.section.as_str()).collect::<Vec<_>>(),
        ["home"]
    );
    assert!(directory.read("nosuch").unwrap().is_empty());
    assert!(Memory::default().load("en").await.unwrap().is_empty());
}

#[tokio::test]
async fn in_development_a_changed_text_shows_on_reload() {
    let folder = tempfile::tempdir().unwrap();
    let write = |locale: &str, text: &str| {
        std::fs::create_dir_all(folder.path().join(locale)).unwrap();
        std::fs::write(folder.path().join(locale).join("home.toml"), format!("words = '{text}'")).unwrap();
    };
    let app = |development: bool| {
        let config = Config::parse(&format!("development = {development}\n{CONFIG}")).unwrap();
        CrowFly::new(config, Directory::new(folder.path())).router(pages())
    };
    write("en", "first");
    let (developing, running) = (app(true), app(false));
    for app in [&developing, &running] {
        assert_eq!(Visitor::of(app).get("/").await.body, "home en first");
        assert_eq!(Visitor::of(app).get("/cy").await.body, "home cy first");
    }
    write("en", "and the second");
    assert_eq!(Visitor::of(&developing).get("/cy").await.body, "home cy and the second");
    assert_eq!(Visitor::of(&developing).get("/").await.body, "home en and the second");
    write("cy", "geiriau");
    assert_eq!(Visitor::of(&developing).get("/cy").await.body, "home cy geiriau");
    assert_eq!(Visitor::of(&running).get("/cy").await.body, "home cy first");
}

#[tokio::test]
async fn placeholders_are_isolated_unless_the_configuration_says_no() {
    for (isolation, text, html) in [
        ("default", "Hello, \u{2068}Mair\u{2069}", "Hello, <bdi>Mair</bdi>"),
        ("none", "Hello, Mair", "Hello, Mair"),
    ] {
        let crow = crow(&format!("{CONFIG}\n[messages]\nisolation = '{isolation}'"));
        let english = crow.translator(&"en".parse().unwrap()).await.unwrap();
        assert_eq!(english.text(("home.hello", args! { name: "Mair" })), text);
        assert_eq!(english.html(("home.hello", args! { name: "Mair" })).as_str(), html);
        assert_eq!(english.text(say("home.new").with(args! { name: "Mair" }).or("Hello, {$name}")), text);
    }
}
