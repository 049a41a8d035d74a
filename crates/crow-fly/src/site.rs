//! What the engine, translators and pages share of an application: its configuration, its catalogs, and what is kept of its
//! requests.

use std::fmt;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

use crow_fly_core::data;
use crow_fly_core::finding::Finding;
use crow_fly_core::policy::Policy;
#[cfg(feature = "actix")]
use crow_fly_core::route::is_below;
use jiff::Timestamp;
use tracing::warn;

use crate::config::Config;
use crate::journal::Journal;
use crate::menu::MenuNames;
use crate::public_sections::PublicSections;
use crate::source::{Application, CatalogSource};
use crate::store::CatalogStore;

/// Where the time that counts as now comes from.
pub(crate) type Clock = Box<dyn Fn() -> Timestamp + Send + Sync>;

/// One application. Made once; everything that serves a request has a pointer to it.
pub(crate) struct Site {
    config: Arc<Config>,
    store: CatalogStore,
    revision: Option<String>,
    /// Where the time comes from, if not from the system.
    clock: Option<Clock>,
    public_sections: PublicSections,
    menu_names: MenuNames,
    /// The last requests, where there is an inspector.
    journal: Option<Journal>,
    pub(crate) once: OnceEach,
    /// How often a hook has not answered in time.
    late_hooks: AtomicU64,
}

impl fmt::Debug for Site {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Site")
            .field("config", &self.config)
            .field("store", &self.store)
            .field("revision", &self.revision)
            .finish_non_exhaustive()
    }
}

impl Site {
    pub(crate) fn new(
        config: Config,
        catalogs: Box<dyn CatalogSource>,
        revision: Option<String>,
        clock: Option<Clock>,
    ) -> Self {
        warn_of_left_out(&config);
        catalogs.built_into(&Application::new(&config));
        let config = Arc::new(config);
        Self {
            store: CatalogStore::new(catalogs, Arc::clone(&config)),
            menu_names: MenuNames::new(config.site.policy.set()),
            journal: config.inspector.then(Journal::default),
            public_sections: PublicSections::default(),
            revision,
            clock,
            config,
            once: OnceEach::default(),
            late_hooks: AtomicU64::new(0),
        }
    }

    /// Whether a path is one of texts for scripts, or of the inspector: in `actix-web` their routes stand inside the middleware.
    #[cfg(feature = "actix")]
    pub(crate) fn answers(&self, path: &str) -> bool {
        let browser = &self.config.browser;
        let is_text = || !browser.sections.is_empty() && is_below(&browser.path, path);
        self.journal.is_some() && is_below("/inspector", path) || is_text()
    }

    pub(crate) fn config(&self) -> &Config {
        &self.config
    }

    pub(crate) fn policy(&self) -> &Policy {
        &self.config.site.policy
    }

    pub(crate) const fn store(&self) -> &CatalogStore {
        &self.store
    }

    pub(crate) const fn journal(&self) -> Option<&Journal> {
        self.journal.as_ref()
    }

    pub(crate) const fn menu_names(&self) -> &MenuNames {
        &self.menu_names
    }

    pub(crate) const fn public_sections(&self) -> &PublicSections {
        &self.public_sections
    }

    /// Counts a hook that has not answered in time.
    pub(crate) fn count_late_hook(&self) -> u64 {
        self.late_hooks.fetch_add(1, Ordering::Relaxed) + 1
    }

    /// The time that counts as now.
    pub(crate) fn now(&self) -> Timestamp {
        self.clock.as_ref().map_or_else(Timestamp::now, |clock| clock())
    }

    pub(crate) fn revision(&self) -> Option<&str> {
        self.revision.as_deref()
    }
}

/// What is said or done once for an application.
#[derive(Debug, Default)]
pub(crate) struct OnceEach {
    pub(crate) plain_http: Once,
    /// A router around the layer takes a base off that the configuration does not know.
    #[cfg(feature = "axum")]
    pub(crate) base: Once,
    /// The layer runs after routing.
    #[cfg(any(feature = "axum", feature = "actix"))]
    pub(crate) routed: Once,
    /// The layer runs twice for one request.
    pub(crate) twice: Once,
    /// Sessions are asked for, and the adapter has none.
    pub(crate) no_sessions: Once,
    /// Sessions are asked for, and their layer has not run.
    pub(crate) no_session_layer: Once,
    /// A stored time zone is none.
    pub(crate) stored_zone: Once,
    /// A mail is made, and no origin is configured.
    pub(crate) no_origin: Once,
    /// What every page needs is loaded before the first request on a skipped path.
    pub(crate) skipped: Once,
}

/// Something that happens once.
#[derive(Debug, Default)]
pub(crate) struct Once(AtomicBool);

impl Once {
    /// Whether this is the first time.
    pub(crate) fn is_first(&self) -> bool {
        !self.0.swap(true, Ordering::Relaxed)
    }
}

/// Logs the locales that this program has no data of, or not their calendar.
fn warn_of_left_out(config: &Config) {
    let set = config.policy().set();
    let left_out: Vec<String> =
        set.iter().filter(|(_, tag)| data::is_left_out(tag)).map(|(_, tag)| tag.to_string()).collect();
    if !left_out.is_empty() {
        warn!(
            target: "crow_fly::catalogs",
            locales = left_out.join(" "),
            "the data of these locales is left out of the program: their numbers, dates, lists and names are those of \
             no language; add them to the build script's `locale_data`, or switch the feature `full-data` on"
        );
    }
    for (locale, finding) in config.absent_calendars() {
        let Finding { text, help, .. } = finding;
        warn!(target: "crow_fly::catalogs", locale, "{text}; {help}");
    }
}
