//! Missing texts: what is said, and what is kept of them.

use crow_fly::{Config, CrowFly, MissKind, MissReport, MissingText, Part, say};

use crate::catalogs::CONFIG;
use crate::catalogs::controlled::Controlled;

async fn translator(settings: &str) -> (CrowFly, crow_fly::Translator) {
    let config = Config::parse(&format!("{settings}\n{CONFIG}")).unwrap();
    let crow = CrowFly::new(config, Controlled::titles());
    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    (crow, t)
}

#[tokio::test]
async fn what_is_said_follows_the_application_and_the_call() {
    for (settings, said) in [
        ("development = true", "⟦home.nothing⟧"),
        ("development = false", "home.nothing"),
        ("development = true\nmessages.missing = 'empty'", ""),
        ("development = true\nmessages.missing = 'key'", "home.nothing"),
        ("development = false\nmessages.missing = 'marker'", "⟦home.nothing⟧"),
        ("messages.missing = 'error'", "home.nothing"),
    ] {
        let (_, t) = translator(settings).await;
        assert_eq!(t.text("home.nothing"), said, "{settings}");
        assert_eq!(t.html("home.nothing").as_str(), said, "{settings}");
        assert_eq!(t.parts("home.nothing"), [Part::Fallback { source: said.to_owned() }], "{settings}");
        assert_eq!(t.text(say("home.nothing").missing(MissingText::Empty)), "");
        assert_eq!(t.text(say("home.nothing").or("New").missing(MissingText::Empty)), "New");
    }
}

#[tokio::test]
async fn misses_are_counted_by_key_and_locale() {
    let (crow, t) = translator("development = false").await;
    assert!(crow.misses().is_empty());
    for _ in 0..3 {
        t.text("home.nothing");
        t.text("home.title");
    }
    t.text("nosection");
    t.text(say("home.new").or("New"));
    t.html("home.only");
    assert_eq!(t.has("home.never-said"), crow_fly::Presence::No);
    insta::assert_snapshot!(serde_json::to_string_pretty(&crow.misses()).unwrap(), @r#"
    [
      {
        "key": "home.nothing",
        "locale": "cy",
        "kind": "missing",
        "reason": "not-there",
        "count": 3
      },
      {
        "key": "home.new",
        "locale": "cy",
        "kind": "missing",
        "reason": "not-there",
        "count": 1
      },
      {
        "key": "home.only",
        "locale": "cy",
        "kind": "fell-back",
        "count": 1
      },
      {
        "key": "nosection",
        "locale": "cy",
        "kind": "missing",
        "reason": "no-section",
        "count": 1
      }
    ]
    "#);
    assert!(crow.misses().iter().any(|miss| miss.kind == MissKind::FellBack));
    assert_eq!(crow.health().misses, 4);
    assert!(!crow.misses().is_empty());
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("misses.json");
    crow.misses().write(&file).unwrap();
    let read = MissReport::from_json(&std::fs::read_to_string(&file).unwrap()).unwrap();
    assert_eq!(read, crow.misses());
    assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 1);
}

#[tokio::test]
async fn the_reason_is_the_one_that_is_nearest_to_a_text() {
    let broken = "a = 'x {$'";
    let group = "[a]\nb = 'x'";
    for (welsh, english, reason) in [
        ("", "", "not-there"),
        (group, "", "group"),
        ("", group, "group"),
        (broken, "", "broken"),
        (broken, group, "broken"),
        (group, broken, "broken"),
    ] {
        let config = Config::parse(&format!("development = false\n{CONFIG}")).unwrap();
        let source = Controlled::new(&[("cy", "home", welsh), ("en", "home", english), ("pl", "home", "")]);
        let crow = CrowFly::new(config, source);
        crow.translator(&"cy".parse().unwrap()).await.unwrap().text("home.a");
        let misses = serde_json::to_value(crow.misses()).unwrap();
        assert_eq!(misses[0]["reason"], reason, "{welsh:?} {english:?}");
    }
}
