//! Catalogs with mistakes: what the start, the log, `check` and health say.

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, HealthStatus};
use crow_fly_core::catalog::{FileFormat, SectionSource};
use crow_fly_core::check::{Project, Sections, check};

use super::Log;
use crate::catalogs::controlled::Controlled;

/// A French file, and what the error of the start and the log say.
const FILES: [(&str, &str, &str); 6] = [
    ("title = 'Ferries", "1:17", "invalid literal string, expected `'`"),
    ("title = 'Ferries {$'", "1:20", "a name is missing"),
    ("title = 'Hello {{name}}'", "1:17", "this cannot stand here"),
    (
        "menu = 'Menu'\n[menu]\nfirst = 'Trips'",
        "2:2",
        "`menu` is a message and a group of messages: rename one of the two",
    ),
    ("title = '.match $n one {{One}} * {{{$n}}}'", "1:17", "a selector has no function"),
    ("title = 7", "1:9", "the value is a number, not a text"),
];

#[tokio::test]
async fn a_file_with_a_mistake_is_an_error_at_the_start_and_is_said_once() {
    for (french, place, sentence) in FILES {
        let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en', 'fr']").unwrap();
        let catalogs = Memory::new([("en", "home", "title = 'Ferries'"), ("fr", "home", french)]);
        let crow = CrowFly::new(config, catalogs);
        let (log, _guard) = Log::begin();
        let said = crow.load_all().await.unwrap_err().to_string();
        let at_start = format!("fr/home:{place}: {sentence}; ");
        assert_eq!(said.matches(&at_start).count(), 1, "{said}");
        crow.translator_for("fr").await;
        log.says_once(&format!("{sentence} place=\"memory: fr/home.toml:{place}\""));
        // A message that does not compile and a file that cannot be read to its end are treated alike.
        let health = crow.health();
        assert_eq!(health.status, HealthStatus::Degraded, "{french}");
        let error = health.locales[1].sections[0].error.clone().unwrap();
        assert_eq!(error, format!("memory: fr/home.toml:{place}: {sentence}"));
        assert_eq!(health.locales[0].status, HealthStatus::Ready);
    }
}

/// A message of the default locale that compiles, what is right of it in the others, and what `check` says and how it helps.
const MESSAGES: [(&str, &str, &str, &str); 10] = [
    (
        "Hello {user.name}",
        "Bonjour",
        "`{user.name}` is the word itself, not a value",
        "write `{$name}`, and give it in the code: `args! { name: user.name }`",
    ),
    (
        "Hello {name}",
        "Bonjour",
        "`{name}` is the word itself, not a value",
        "write `{$name}`, and give it in the code: `args! { name }`",
    ),
    ("Hello {name}", "Bonjour", "`{name}` is the word itself", "write `{$name}`"),
    ("{5 :nubmer}", "{5 :number}", "there is no function `:nubmer`", "did you mean `:number`?"),
    (
        "{5 :currency currency=EUX}",
        "{5 :currency currency=EUR}",
        "there is no currency `EUX`",
        "write a code of ISO 4217, such as `EUR`",
    ),
    (
        "{5 :unit unit=kilometr}",
        "{5 :unit unit=kilometer}",
        "the option `unit` cannot be `kilometr`",
        "write a unit as CLDR names it, such as `kilometer-per-hour`",
    ),
    (
        "{|2026-03-01T10:00:00Z| :time timeZone=|Europe/Lisbn|}",
        "{|2026-03-01T10:00:00Z| :time timeZone=|Europe/Lisbon|}",
        "the option `timeZone` cannot be `|Europe/Lisbn|`",
        "write a name of the IANA database, such as `Europe/Warsaw`",
    ),
    ("Hello {#b}you", "{#b}{/b}", "`b` is opened and not closed", "close it: `{/b}`"),
    (
        "{$n :number minimumFractionDigits=x}",
        "{$n :number}",
        "the option `minimumFractionDigits` cannot be `x`",
        "docs/messages.md",
    ),
    (
        "Hello ${name}",
        "Bonjour",
        "readers see `${name}` as it stands",
        "write a variable in braces: `{$name}`",
    ),
];

#[test]
fn a_message_with_a_mistake_is_a_finding_of_its_own_catalog() {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'fr', 'cy']").unwrap();
    let (set, chains) = (config.policy().set(), config.chains());
    let section = |text: &str| {
        let source = SectionSource::read(format!("title = {text:?}").as_bytes(), FileFormat::Toml);
        Sections::from([("home".to_owned(), source)])
    };
    for (message, right, sentence, help) in MESSAGES {
        let texts = [message, right, right];
        let project = set.iter().zip(texts).map(|((id, _), text)| (id, section(text))).collect::<Project>();
        let findings = check(set, chains, &project);
        assert!(findings.iter().all(|finding| finding.locale == "en"), "{findings:?}");
        assert_eq!(findings.len(), 1, "{message}: {findings:?}");
        assert!(findings[0].text.contains(sentence) && findings[0].help.contains(help), "{findings:?}");
    }
}

const CONFIG: &str = "development = false\ndefault = 'en'\nlocales = ['en', 'en-GB', 'fr']\n";

fn whole() -> Controlled {
    Controlled::new(&[
        ("en", "home", "title = 'Ferries'\nhelp = 'Help'"),
        ("en", "legal", "terms = 'Terms'"),
        ("en-GB", "home", "title = 'Ferries'"),
        ("fr", "home", "title = 'Traversiers'\nhelp = 'Aide'"),
        ("fr", "legal", "terms = 'Conditions'"),
    ])
}

/// What health says of a locale, and what it says of its sections that are not well.
fn health(crow: &CrowFly, locale: &str) -> (HealthStatus, Vec<String>) {
    let health = crow.health();
    let of_locale = health.locales.iter().find(|other| other.locale == locale).unwrap();
    let said = of_locale.sections.iter().filter_map(|section| {
        Some(format!("{} {}: {}", section.section, section.file, section.error.as_ref()?))
    });
    (of_locale.status, said.collect())
}

/// A section that had texts in the locale's language, and answers in another one, is no silent matter.
#[tokio::test]
async fn a_section_that_loses_its_language_degrades_its_locale() {
    let source = whole();
    let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), source.clone());
    crow.load_all().await.unwrap();
    assert_eq!(crow.health().status, HealthStatus::Ready);
    let (log, _guard) = Log::begin();
    // The file goes; then another change comes.
    source.remove_file("fr", "legal");
    crow.reload().await.unwrap();
    source.write("en", "home", "title = 'Boats'\nhelp = 'Help'");
    crow.reload().await.unwrap();
    let lost = "legal fr/legal.toml: it has lost its texts: they come in another language of the chain";
    assert_eq!(health(&crow, "fr"), (HealthStatus::Degraded, vec![lost.to_owned()]));
    assert_eq!(health(&crow, "en-GB").0, HealthStatus::Ready);
    log.says_once("the section has lost its texts: they come in another language of the chain locale=fr section=\"legal\" place=\"fr/legal.toml\"");
    // Texts that are back, an empty file, and one that nobody else has any more.
    source.write("fr", "legal", "terms = 'Conditions'");
    crow.reload().await.unwrap();
    crow.load_all().await.unwrap();
    assert_eq!(health(&crow, "fr"), (HealthStatus::Ready, vec![]));
    source.write("fr", "legal", "");
    crow.reload().await.unwrap();
    assert_eq!(health(&crow, "fr").0, HealthStatus::Degraded);
    source.remove_file("fr", "legal");
    source.remove_file("en", "legal");
    crow.reload().await.unwrap();
    assert_eq!(health(&crow, "fr"), (HealthStatus::Ready, vec![]));
    // It may fall back on purpose.
    let source = whole();
    let config = format!("{CONFIG}[catalogs]\nmay-fall-back = ['legal']\n");
    let crow = CrowFly::new(Config::parse(&config).unwrap(), source.clone());
    crow.load_all().await.unwrap();
    source.remove_file("fr", "legal");
    crow.reload().await.unwrap();
    assert_eq!(crow.health().status, HealthStatus::Ready);
}

/// What is declared to be complete, and is not, is degraded; what is half translated by plan is ready.
#[tokio::test]
async fn health_holds_what_is_declared_complete() {
    let source = whole();
    source.write("fr", "home", "title = 'Traversiers'");
    source.remove_file("fr", "legal");
    for (catalogs, french) in [
        ("", (HealthStatus::Ready, vec![])),
        (
            "may-fall-back = []",
            (
                HealthStatus::Degraded,
                vec![
                    "home fr/home.toml: `home` lacks 1 text of 2 in its language: `help`".to_owned(),
                    "legal : `legal` lacks 1 text of 1 in its language: `terms`".to_owned(),
                ],
            ),
        ),
        (
            "may-fall-back = ['legal']",
            (
                HealthStatus::Degraded,
                vec!["home fr/home.toml: `home` lacks 1 text of 2 in its language: `help`".to_owned()],
            ),
        ),
        ("may-fall-back = ['legal', 'home']", (HealthStatus::Ready, vec![])),
        ("may-fall-back = []\ninherits = ['fr']", (HealthStatus::Ready, vec![])),
    ] {
        let config = Config::parse(&format!("{CONFIG}[catalogs]\n{catalogs}\n")).unwrap();
        let crow = CrowFly::new(config, source.clone());
        crow.load_all().await.unwrap();
        assert_eq!(health(&crow, "fr"), french, "{catalogs}");
        assert_eq!(health(&crow, "en-GB").0, HealthStatus::Ready, "{catalogs}");
        let whole = if french.1.is_empty() { HealthStatus::Ready } else { HealthStatus::Degraded };
        assert_eq!(crow.health().status, whole, "{catalogs}");
    }
    // A section that may fall back is one of the sections.
    let config = Config::parse(&format!("{CONFIG}[catalogs]\nmay-fall-back = ['leagl']\n")).unwrap();
    let error = CrowFly::new(config, whole()).load_all().await.unwrap_err().to_string();
    assert!(
        error.contains("the configuration names a section `leagl` that no locale has; did you mean `legal`?")
    );
}

/// A message that does not compile is refused by a reload, as a file that cannot be read to its end.
#[tokio::test]
async fn a_reload_refuses_a_message_with_an_error_as_it_refuses_a_file() {
    for broken in ["title = 'Traversiers {$'\nhelp = 'Aide'", "title = 'Traversiers"] {
        let source = whole();
        let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), source.clone());
        crow.load_all().await.unwrap();
        source.write("fr", "home", broken);
        let error = crow.reload().await.unwrap_err().to_string();
        assert!(error.contains("fr/home:1:"), "{error}");
        let t = crow.translator_for("fr").await;
        assert_eq!(
            (t.text("home.title"), crow.health().status),
            ("Traversiers".to_owned(), HealthStatus::Stale)
        );
        source.write("fr", "home", "title = 'Ferrys'\nhelp = 'Aide'");
        crow.reload().await.unwrap();
        assert_eq!(crow.translator_for("fr").await.text("home.title"), "Ferrys");
        assert_eq!(crow.health().status, HealthStatus::Ready);
    }
}
