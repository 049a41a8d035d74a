//! Catalogs: loaded when needed, once; texts from the chain, from code, and a marker.

use std::time::Duration;

use axum::Router;
use crow_fly::source::Directory;
use crow_fly::{Config, CrowFly, args, say};

use crate::web::visitor::Visitor;
use crate::web::{CONFIG, crow, pages};

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
    for locale in ["en-GB", "cy", "pl", "ar"] {
        std::fs::create_dir_all(folder.path().join(locale)).unwrap();
        std::fs::write(folder.path().join(locale).join("other.toml"), "").unwrap();
    }
    let (developing, running) = (app(true), app(false));
    for app in [&developing, &running] {
        assert_eq!(Visitor::of(app).get("/").await.body, "home en first");
        assert_eq!(Visitor::of(app).get("/cy").await.body, "home cy first");
    }
    write("en", "and the second");
    shows(&developing, "/cy", "home cy and the second").await;
    shows(&developing, "/", "home en and the second").await;
    write("cy", "geiriau");
    shows(&developing, "/cy", "home cy geiriau").await;
    assert_eq!(Visitor::of(&running).get("/cy").await.body, "home cy first");
}

/// Waits until a page is as it should be. Where the system tells of changes, it does so a moment after them.
async fn shows(app: &Router, path: &str, body: &str) {
    let shown = async {
        while Visitor::of(app).get(path).await.body != body {
            tokio::task::yield_now().await;
        }
    };
    assert!(tokio::time::timeout(Duration::from_secs(10), shown).await.is_ok(), "{path} never shows {body}");
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
