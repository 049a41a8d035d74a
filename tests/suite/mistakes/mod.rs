//! Mistakes as newcomers make them: what is done, and the one sentence that says so, where it was made. Those that the compiler
//! reports stand in `crates/crow-fly-codegen/tests/compile`, those of catalogs in the documentation of their rules.

mod catalogs;
mod layers;
mod texts;

use std::sync::{Arc, LazyLock, Mutex};

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use tracing::Dispatch;
use tracing::subscriber::NoSubscriber;
use tracing_subscriber::filter::LevelFilter;
use tracing_subscriber::fmt::MakeWriter;

/// The log of one test, as lines: of the test's own thread.
#[derive(Clone, Default)]
pub(crate) struct Log(Arc<Mutex<Vec<u8>>>);

impl Log {
    /// A log that is written until the guard is dropped.
    pub(crate) fn begin() -> (Self, tracing::subscriber::DefaultGuard) {
        // With one subscriber alone, an event that another thread meets first would be switched off for all threads.
        static SECOND: LazyLock<Dispatch> = LazyLock::new(|| Dispatch::new(NoSubscriber::new()));
        LazyLock::force(&SECOND);
        let log = Self::default();
        let subscriber = tracing_subscriber::fmt()
            .with_writer(log.clone())
            .with_ansi(false)
            .without_time()
            .with_max_level(LevelFilter::WARN)
            .finish();
        let guard = tracing_subscriber::util::SubscriberInitExt::set_default(subscriber);
        (log, guard)
    }

    pub(crate) fn text(&self) -> String {
        String::from_utf8(self.0.lock().unwrap().clone()).unwrap()
    }

    /// Fails where a sentence is not there once.
    #[track_caller]
    pub(crate) fn says_once(&self, sentence: &str) {
        let text = self.text();
        assert_eq!(text.matches(sentence).count(), 1, "{sentence}\n{text}");
    }
}

/// What a configuration has beside its locales, and the sentence of the error.
const CONFIGURATIONS: [(&str, &str); 20] = [
    (
        "[policy]\nsource = ['cookie']",
        "line 4, column 1: `source` is not a key of this table; did you mean `sources`?",
    ),
    ("polcy = 1", "line 3, column 1: `polcy` is not a key of this table; did you mean `policy`?"),
    ("[policy]\nredirect = 'rot'", "line 4, column 12: `rot` cannot be written here; did you mean `root`?"),
    ("[messages]\nmissing = 'keys'", "line 4, column 11: `keys` cannot be written here; did you mean `key`?"),
    ("[catalogs]\nfolder = 'x'", "line 4, column 1: `folder` is not a key of this table; its keys are "),
    (
        "[paths]\n'/basket/:id' = { fr = '/panier/{id}' }",
        "line 4, column 1: `/basket/:id`: `:id` is not how a parameter is written here; write `{id}`",
    ),
    (
        "[paths]\n'/basket/{id}' = { fr = '/panier/:id' }",
        "`/panier/:id`: `:id` is not how a parameter is written here; write `{id}`",
    ),
    (
        "[paths]\n'/basket/<int:id>' = { fr = '/panier/{id}' }",
        "`<int:id>` is not how a parameter is written here; write `{id}`",
    ),
    (
        "[paths]\n'/help/*' = { fr = '/aide/{*rest}' }",
        "`*` is not how a parameter is written here; write `{*rest}`",
    ),
    (
        "[catalogs.needs]\n'/basket/:id' = ['basket']",
        "`:id` is not how a parameter is written here; write `{id}`",
    ),
    (
        "[policy]\nsources = ['cookie', 'path']",
        "line 4, column 22: `path` comes first: one address has one language; write `sources = [\"path\", \"cookie\"]`",
    ),
    (
        "[policy]\nsources = ['cookie', 'accept-language', 'path']",
        "write `sources = [\"path\", \"cookie\", \"accept-language\"]`",
    ),
    (
        "[policy]\nsources = ['default', 'cookie']",
        "`default` comes last: what stands after it is never asked; leave it out, or write it last",
    ),
    ("[policy]\nsources = ['cokie']", "did you mean `cookie`?"),
    (
        "[switch]\npath = '/language'\n[paths]\n'/language' = { fr = '/langue' }",
        "`/language` is the switch address, and cannot be in `[paths]`, too; give one of the two another path",
    ),
    (
        "[catalogs.needs]\n'/locale' = ['home']",
        "`/locale` is the switch address, and cannot be in `needs`, too",
    ),
    (
        "[areas.'/locale']\nsources = ['accept-language']",
        "`/locale` is the switch address, and cannot be in `[areas]`, too",
    ),
    (
        "[browser]\nsections = ['home']\n[catalogs.needs]\n'/texts' = ['home']",
        "`/texts` is the path of texts for scripts, and cannot be in `needs`, too",
    ),
    ("[check.rules]\nmising-key = { level = 'off', reason = 'x' }", "did you mean `missing-key`?"),
    (
        "[policy.prefixes]\nde = 'deutsch'",
        "`de` is not one of the locales; add it to `locales`, or correct it",
    ),
];

#[test]
fn a_mistake_in_the_configuration_is_said_where_it_is() {
    for (written, said) in CONFIGURATIONS {
        // The locales come first, so that tables may follow.
        let text = format!("default = 'en'\nlocales = ['en', 'fr']\n{written}\n");
        let error = Config::parse(&text).unwrap_err();
        let shown = error.to_string();
        assert!(shown.contains(said), "{written}:\n{shown}");
        assert!(shown.matches("did you mean").count() <= 1, "{shown}");
        // What `main` prints of it.
        assert_eq!(format!("{error:?}"), shown, "{written}");
    }
}

impl std::io::Write for Log {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0.lock().unwrap().extend_from_slice(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

impl MakeWriter<'_> for Log {
    type Writer = Self;

    fn make_writer(&self) -> Self {
        self.clone()
    }
}

/// Errors that a `main` may return print for people.
#[tokio::test]
async fn what_main_returns_is_read_by_people() {
    let unreadable = Config::from_file("nowhere/crow-fly.toml").unwrap_err();
    assert_eq!(
        format!("{unreadable:?}"),
        "nowhere/crow-fly.toml: the configuration cannot be read; name the file, or work in the folder it lies in: \
         No such file or directory (os error 2)"
    );
    let config = Config::parse("default = 'en'\nlocales = ['en']\ndevelopment = false").unwrap();
    let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Ferries {$'")]));
    let broken = crow.load_all().await.unwrap_err();
    assert_eq!(format!("{broken:?}"), broken.to_string());
    assert!(broken.to_string().contains("home"), "{broken}");
    let tag = "en_".parse::<crow_fly::LanguageTag>().unwrap_err();
    assert_eq!(format!("{tag:?}"), tag.to_string());
}
