//! Texts that are not there, or in another language: what the log, a script and a test say.

use crow_fly::source::Memory;
use crow_fly::testing::{self, Strict};
use crow_fly::{Config, CrowFly, args, say};
use http::Request;

use super::Log;

const HOME: &str =
    "welcome = 'Welcome'\nonly-english = 'Help'\nhello = 'Hello, {$name}'\n[menu]\nfirst = 'Trips'";

fn crow(more: &str) -> CrowFly {
    let config = format!("default = 'en'\nlocales = ['en', 'fr']\n{more}\n");
    let french = "welcome = 'Bienvenue'\nhello = 'Bonjour {$nom}'\nbroken = '{$'";
    let catalogs = [("en", "home", HOME), ("en", "legal", "terms = 'Terms'"), ("fr", "home", french)];
    CrowFly::new(Config::parse(&config).unwrap(), Memory::new(catalogs))
}

/// What is asked for in French, and the sentence in development.
const TEXTS: [(&str, &str); 10] = [
    ("home.welcom", "no text for `home.welcom` in `fr` or `en`; did you mean `home.welcome`?"),
    ("hoem.welcome", "no text for `hoem.welcome` in `fr` or `en`; did you mean `home.welcome`?"),
    ("home.menu.frist", "no text for `home.menu.frist` in `fr` or `en`; did you mean `home.menu.first`?"),
    ("home.something-else", "no text for `home.something-else` in `fr` or `en` key="),
    ("quay.title", "no text for `quay.title` in `fr` or `en` key="),
    ("home.menu", "`home.menu` is a group of texts, not one, in `fr` or `en`"),
    ("welcome", "`welcome` names no section: write `section.name`"),
    (
        "home.broken",
        "the text for `home.broken` has errors in `fr` or `en` key=\"home.broken\" locale=fr file=\"memory: fr/home.toml\"",
    ),
    (
        "home.only-english",
        "the text is in another language of the chain key=\"home.only-english\" locale=fr from=en",
    ),
    ("home.hello", "no argument was given for `{$nom}`; give the argument `nom`"),
];

#[tokio::test]
async fn a_text_that_is_not_there_is_said_once() {
    let crow = crow("development = true");
    let t = crow.translator_for("fr").await;
    for (key, sentence) in TEXTS {
        let (log, _guard) = Log::begin();
        let said = t.text((key, args! { name: "Mair" }));
        if key != "home.hello" {
            t.text(key);
        }
        log.says_once(sentence);
        assert_eq!(log.text().lines().count(), 1, "{said}: {}", log.text());
    }
    // In production nobody searches for what was meant: `check --misses` does.
    let (log, _guard) = Log::begin();
    self::crow("development = false").translator_for("fr").await.text("home.welcom");
    assert!(!log.text().contains("did you mean"), "{}", log.text());
    log.says_once("no text for `home.welcom` in `fr` or `en` key=\"home.welcom\" locale=fr file=\"memory: fr/home.toml\"");
}

/// A script that asks for a text is answered as the log says it, in development.
#[tokio::test]
async fn a_script_is_told_what_is_wrong() {
    let browser = "[browser]\nsections = ['home']";
    for (query, sentence) in [
        ("key=home.welcom", "no text for `home.welcom` in `fr` or `en`; did you mean `home.welcome`?"),
        ("key=home.menu", "`home.menu` is a group of texts, not one, in `fr` or `en`"),
        ("key=legal.terms", "`legal` is not one of the public sections: add it to `sections` of `[browser]`"),
    ] {
        let address = format!("/texts/fr?{query}");
        let ask = async |development: bool| {
            let crow = crow(&format!("development = {development}\n{browser}"));
            let reply = crow.answer_texts(&Request::get(&address).body(()).unwrap().into_parts().0).await;
            (reply.status(), reply.into_body())
        };
        let (log, _guard) = Log::begin();
        let (status, body) = ask(true).await;
        let body: serde_json::Value = serde_json::from_str(&body).unwrap();
        assert_eq!((status, body["errors"][0].as_str()), (404, Some(sentence)));
        assert_eq!(log.text().contains(sentence), query != "key=legal.terms", "{}", log.text());
        // Visitors are told nothing, and fill no log.
        let (log, _guard) = Log::begin();
        assert_eq!(ask(false).await, (404, "{}".to_owned()));
        assert!(!log.text().contains("no text for"), "{}", log.text());
    }
}

/// In a test a text in another language is missing, unless the configuration lets it fall back.
#[tokio::test]
async fn a_text_in_another_language_fails_a_test() {
    let english = "the text for `home.only-english` in `fr` is in another language: `en`";
    for (more, failures) in [
        ("", &[english, "no text for `home.new` in `fr` or `en`"][..]),
        ("[catalogs]\nmay-fall-back = ['legal']", &[english, "no text for `home.new` in `fr` or `en`"]),
        ("[catalogs]\nmay-fall-back = ['home']", &[]),
        ("[catalogs]\ninherits = ['fr']", &[]),
    ] {
        let strict = Strict::new(crow(more).translator_for("fr").await);
        strict.text("home.only-english");
        strict.text(say("home.new").or("New"));
        assert_eq!(strict.take_failures(), failures, "{more}");
    }
    // A locale that has its texts from one of its own language is complete.
    let config = Config::parse(
        "default = 'en'\nlocales = ['en', 'en-GB', 'zh-Hans', 'zh-Hant']\n[chains]\nzh-Hant = ['zh-Hans']",
    );
    let catalogs = Memory::new([("en", "home", "title = 'Ferries'"), ("zh-Hans", "home", "title = '渡轮'")]);
    let crow = CrowFly::new(config.unwrap(), catalogs);
    for locale in ["en-GB", "zh-Hant"] {
        let strict = Strict::new(crow.translator_for(locale).await);
        strict.text("home.title");
        assert_eq!(strict.take_failures(), [""; 0], "{locale}");
    }
}

#[tokio::test]
async fn what_is_not_complete_is_listed_by_locale_and_section() {
    let complete =
        "development = false\ndefault = 'en'\nlocales = ['en', 'en-GB', 'cy', 'gd']\ndrafts = ['gd']\n";
    let catalogs = || {
        Memory::new([
            ("en", "home", HOME),
            ("en", "legal", "terms = 'Terms'"),
            ("en-GB", "home", "welcome = 'Hello'"),
            ("cy", "home", "welcome = 'Croeso'\nhello = '{$name}'\n[menu]\nfirst = 'Teithiau'"),
            ("gd", "home", ""),
        ])
    };
    let listed = async |more: &str| {
        let crow = CrowFly::new(Config::parse(&format!("{complete}{more}")).unwrap(), catalogs());
        let task = tokio::spawn(async move { testing::assert_complete(&crow).await });
        let panic = task.await.err().map(tokio::task::JoinError::into_panic);
        panic.map(|panic| *panic.downcast::<String>().unwrap()).unwrap_or_default()
    };
    insta::assert_snapshot!(listed("").await);
    let legal = listed("[catalogs]\nmay-fall-back = ['legal']").await;
    assert!(legal.contains("`home`") && !legal.contains("`legal`"), "{legal}");
    assert_eq!(listed("[catalogs]\nmay-fall-back = ['legal', 'home']").await, "");
    assert_eq!(listed("[catalogs]\ninherits = ['cy']").await, "");
}

/// The configuration's `strict` for whole requests.
#[tokio::test]
async fn in_strict_mode_a_text_in_another_language_fails_the_request() {
    use axum::Router;
    use axum::routing::get;
    use tower::ServiceExt;

    let page = get(|t: crow_fly::Translator| async move { t.text("home.only-english") });
    for (more, status) in [("", 500), ("[catalogs]\nmay-fall-back = ['home']", 200)] {
        let app = crow(&format!("strict = true\n{more}")).router(Router::new().route("/", page.clone()));
        for (path, status) in [("/", 200), ("/fr", status)] {
            let request = Request::get(path).body(axum::body::Body::empty()).unwrap();
            let answer = app.clone().oneshot(request).await.unwrap();
            assert_eq!(answer.status().as_u16(), status, "{more} {path}");
        }
    }
}

/// A text that is too long is as one that is missing, with one error; a script gets none of it.
#[tokio::test]
async fn a_text_that_is_too_long_is_as_one_that_is_missing() {
    let crow = crow("development = true\n[messages]\nmax-kilobytes = 1\n[browser]\nsections = ['home']");
    let t = crow.translator_for("en").await;
    let name = "x".repeat(1020);
    let (log, _guard) = Log::begin();
    assert_eq!(t.text(("home.hello", args! { name: &name })), "⟦home.hello⟧");
    assert_eq!(t.html(("home.hello", args! { name: &name })).as_str(), "⟦home.hello⟧");
    assert_eq!(
        t.with_isolation(crow_fly::Isolation::None).text(("home.hello", args! { name: "Mair" })),
        "Hello, Mair"
    );
    let said = "errors=the text would be longer than 1024 bytes; ";
    assert_eq!(log.text().matches(said).count(), 2, "one for each text\n{}", log.text());
    // What a visitor sends shows at most 64 kB.
    let config = "default = 'en'\nlocales = ['en']\n[browser]\nsections = ['home']";
    let echo = format!("echo = '{}'", "{$x}".repeat(50));
    let crow = CrowFly::new(Config::parse(config).unwrap(), Memory::new([("en", "home", echo.as_str())]));
    for (length, status) in [(1300, 200), (1400, 422)] {
        let address = format!("/texts/en?key=home.echo&x={}", "y".repeat(length));
        let reply = crow.answer_texts(&Request::get(address).body(()).unwrap().into_parts().0).await;
        assert_eq!(reply.status(), status, "{length}: {:.200}", reply.body());
    }
}
