//! At start and in operation: all catalogs at once, health, a strict mode for tests.

use std::error::Error as _;

use axum::Router;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args};

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{CONFIG, ask, crow, pages};

#[tokio::test]
async fn all_catalogs_can_be_loaded_at_start_with_every_finding() {
    let source = Controlled::titles();
    let crow = crow(source.clone(), "eager = ['home']");
    assert_eq!(crow.load_all().await.unwrap(), []);
    assert_eq!(source.reads().len(), 3);
    source.write("cy", "trip", "a = 'x {$'\nb = 3\n");
    source.write("pl", "trip", "a = 'x'");
    source.fail("pl/trip", true);
    let broken = self::crow(source, "eager = ['hoem', 'trip']");
    let error = broken.load_all().await.unwrap_err();
    insta::assert_snapshot!(error, @"
    the catalogs have 4 errors:
      the configuration names a section `hoem` that no locale has; did you mean `home`?
      cy/trip:1:10: a name is missing; write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first
      cy/trip:2:5: the value is a number, not a text; put the message in quotes
      pl/trip: pl/trip cannot be read: the disk has a hole; put a regular file in its place, and let the server read it; it is tried again
    ");
    assert_eq!(error.findings().len(), 4);
    assert!(error.source().is_none());
    // What can be loaded is.
    assert_eq!(ask(&broken.router(pages()), "/cy").await.body, "Fferïau");
}

#[tokio::test]
async fn health_is_a_page_of_json() {
    let crow = crow(Controlled::titles(), "");
    let pages = pages();
    let (health, app) = (crow.clone(), crow.router(pages));
    let app = Router::new().route("/health", get(move || async move { health.health() })).merge(app);
    let before = ask(&app, "/health").await;
    assert_eq!((before.status, before.cache_control.as_str()), (200, "no-store"));
    assert!(before.body.contains("\"status\": \"not-loaded\""), "{}", before.body);
    ask(&app, "/cy").await;
    ask(&app, "/cy/say/home.only").await;
    let after = ask(&app, "/health").await.body;
    let volatile = ["\"identity\"", "\"age_seconds\"", "\"bytes\""];
    let shown = after.lines().map(|line| match line.split_once(':') {
        Some((name, value)) if volatile.contains(&name.trim_start()) && value != " null," => {
            format!("{name}: …")
        }
        _ => line.to_owned(),
    });
    insta::assert_snapshot!(shown.collect::<Vec<_>>().join("\n"), @r#"
    {
      "status": "ready",
      "generation": 1,
      "identity": …
      "release": null,
      "activation": null,
      "age_seconds": …
      "stale": [],
      "stale_seconds": null,
      "findings": [],
      "locales": [
        {
          "locale": "en",
          "status": "ready",
          "sections": [
            {
              "section": "home",
              "file": "en/home.toml",
              "status": "ready",
              "messages": 2,
              "bytes": …
              "error": null
            }
          ]
        },
        {
          "locale": "cy",
          "status": "ready",
          "sections": [
            {
              "section": "home",
              "file": "cy/home.toml",
              "status": "ready",
              "messages": 1,
              "bytes": …
              "error": null
            }
          ]
        },
        {
          "locale": "pl",
          "status": "not-loaded",
          "sections": [
            {
              "section": "home",
              "file": "pl/home.toml",
              "status": "not-loaded",
              "messages": null,
              "bytes": null,
              "error": null
            }
          ]
        }
      ],
      "bytes": …
      "loads": 2,
      "failures": 0,
      "drops": 0,
      "generations": 1,
      "living_generations": 1,
      "misses": 1
    }
    "#);

    let failing = Controlled::titles();
    failing.fail_lists(1);
    let crow = self::crow(failing, "");
    let (health, app) = (crow.clone(), crow.router(self::pages()));
    let app = Router::new().route("/health", get(move || async move { health.health() })).merge(app);
    ask(&app, "/cy").await;
    assert_eq!(ask(&app, "/health").await.status, 503);
}

#[tokio::test]
async fn health_tells_a_file_that_fails_from_one_that_is_not_needed() {
    let source = Controlled::titles();
    source.fail("cy/home", true);
    let crow = crow(source, "");
    crow.translator_for("cy").await;
    let health = crow.health();
    let told = health.locales.iter().map(|locale| {
        let section = &locale.sections[0];
        format!("{} {} {}", locale.status, section.status, section.error.as_deref().unwrap_or("-"))
    });
    insta::assert_snapshot!(told.collect::<Vec<_>>().join("\n"), @"
    ready ready -
    failed failed cy/home cannot be read: the disk has a hole
    not-loaded not-loaded -
    ");
    assert_eq!(health.status.as_str(), "degraded");
}

#[tokio::test(start_paused = true)]
async fn in_strict_mode_a_missing_text_or_an_error_fails_the_request() {
    let source = Controlled::titles();
    source.write("en", "seats", "left = '{$n :integer} left'");
    let pages = Router::new()
        .route("/good", get(|t: Translator| async move { t.text(("seats.left", args! { n: 3 })) }))
        .route("/default", get(|t: Translator| async move { t.text(crow_fly::say("home.new").or("New")) }))
        .route(
            "/missing",
            get(|t: Translator| async move { t.text("home.nothing") + &t.text("home.nothing-é") }),
        )
        .route("/wrong", get(|t: Translator| async move { t.html("seats.left").into_string() }));
    let config = format!("strict = true\n{CONFIG}[catalogs]\neager = []\n");
    let crow = CrowFly::new(Config::parse(&config).unwrap(), source.clone());
    let app = crow.router(pages);
    // Loads are waited for as long as they may take, and nobody need name sections.
    source.hold(true);
    let held = source.clone();
    tokio::spawn(async move {
        tokio::time::sleep(std::time::Duration::from_secs(20)).await;
        held.hold(false);
    });
    let good = ask(&app, "/good").await;
    assert_eq!((good.status, good.body.as_str()), (200, "3 left"));
    assert_eq!(ask(&app, "/default").await.status, 200);
    let missing = ask(&app, "/cy/missing").await;
    assert_eq!((missing.status, missing.cache_control.as_str()), (500, "no-store"));
    insta::assert_snapshot!(missing.text_errors, @"no text for `home.nothing` in `cy` or `en`; no text for `home.nothing-?` in `cy` or `en`");
    insta::assert_snapshot!(ask(&app, "/wrong").await.text_errors, @"seats.left (en, en/seats.toml:1): no argument was given for `{$n}`; give the argument `n`");
}

#[tokio::test]
async fn a_catalog_in_memory_is_never_stale() {
    let crow = CrowFly::new(
        Config::parse(CONFIG).unwrap(),
        Memory::json([("cy", "home", "{\"title\": \"Fferïau\"}")]),
    );
    assert_eq!(ask(&crow.router(pages()), "/cy").await.body, "Fferïau");
    crow.reload().await.unwrap();
    let health = crow.health();
    assert_eq!((health.status.as_str(), health.generation, health.loads), ("ready", Some(1), 1));
}
