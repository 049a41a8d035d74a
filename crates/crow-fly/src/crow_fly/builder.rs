//! What an application is made from.

use std::fmt;
use std::sync::Arc;

use crow_fly_core::message::{Functions, MarkupHandlers};
use jiff::Timestamp;

use super::CrowFly;
use crate::config::Config;
use crate::site::{Clock, Site};
use crate::source::{CatalogSource, Directory, Overlay, PseudoLocales, ReadyMade};

/// What an application is made from besides its configuration. Made by [`CrowFly::builder`].
///
/// ```
/// use crow_fly::{Config, CrowFly, source::Memory};
///
/// let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
/// let crow = CrowFly::builder(config)
///     .catalogs(Memory::new([("cy", "home", "title = 'Croeso'")]))
///     .revision("2026-11-25.1")
///     .build();
/// # Ok::<(), crow_fly::ConfigError>(())
/// ```
#[must_use = "it makes nothing until it is built"]
pub struct CrowFlyBuilder {
    config: Config,
    catalogs: Option<Box<dyn CatalogSource>>,
    revision: Option<String>,
    clock: Option<Clock>,
}

impl fmt::Debug for CrowFlyBuilder {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("CrowFlyBuilder").field("config", &self.config).finish_non_exhaustive()
    }
}

impl CrowFlyBuilder {
    pub(super) const fn new(config: Config) -> Self {
        Self { config, catalogs: None, revision: None, clock: None }
    }

    /// Where catalogs come from. Default: the configuration's folder.
    pub fn catalogs(mut self, source: impl CatalogSource) -> Self {
        self.catalogs = Some(Box::new(source));
        self
    }

    /// Functions of the application's own that messages may use, beside the standard's: `{$level :harbour:tide}`.
    ///
    /// ```
    /// use crow_fly::{args, source::Memory, Config, CrowFly};
    /// use crow_fly::{FunctionError, FunctionValue, Functions, Invocation, Value};
    ///
    /// fn knots(call: &Invocation<'_>) -> Result<FunctionValue, FunctionError> {
    ///     match call.operand() {
    ///         Some(Value::Integer(speed)) => Ok(FunctionValue::text(format!("{speed} kn"))),
    ///         _ => Err(FunctionError::bad_operand().because("a speed is an integer")),
    ///     }
    /// }
    ///
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// let functions = Functions::new().with("harbour:knots", knots);
    /// let crow = CrowFly::builder(Config::builder(["en"]).build()?)
    ///     .catalogs(Memory::new([("en", "home", "speed = '{$speed :harbour:knots}'")]))
    ///     .functions(functions)
    ///     .build();
    /// let t = crow.translator_for("en").await;
    /// assert!(t.text(("home.speed", args! { speed: 12 })).contains("12 kn"));
    /// # Ok(()) }
    /// ```
    pub fn functions(mut self, functions: Functions) -> Self {
        self.config.set_functions(functions);
        self
    }

    /// What markup of the application's own becomes in HTML: `{#sailing-link}…{/sailing-link}`.
    pub fn markup(mut self, markup: MarkupHandlers) -> Self {
        self.config.set_markup(markup);
        self
    }

    /// The messages that the application uses, each with the parameters that it gives them: `msg::MESSAGES` of generated types. A
    /// release (`release::Releases`) that lacks one of them, or whose message needs another parameter, is refused.
    pub fn requiring<'m>(mut self, messages: impl IntoIterator<Item = (&'m str, &'m [&'m str])>) -> Self {
        let owned = |(key, parameters): (&str, &[&str])| {
            (key.to_owned(), parameters.iter().map(|name| (*name).to_owned()).collect())
        };
        self.config.used = messages.into_iter().map(owned).collect();
        self
    }

    /// The version of the program, such as a build number: with it [`Translator::etag`](crate::Translator::etag) gives entity tags, which
    /// change whenever the program does.
    pub fn revision(mut self, revision: impl Into<String>) -> Self {
        self.revision = Some(revision.into());
        self
    }

    /// The clock that translators read the time from that counts as now: for tests of pages that say relative times. Default: that of
    /// the system.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, source::Memory, Config, CrowFly};
    /// let now = "2026-05-01T09:30:00Z".parse()?;
    /// let crow = CrowFly::builder(Config::builder(["en"]).build()?)
    ///     .catalogs(Memory::new([("en", "home", "leaves = 'It leaves {$moment :crow:relative}.'")]))
    ///     .clock(move || now)
    ///     .build();
    /// let t = crow.translator_for("en").await;
    /// let moment: jiff::Timestamp = "2026-05-01T09:50:00Z".parse()?;
    /// assert_eq!(t.text(("home.leaves", args! { moment })), "It leaves in 20 minutes.");
    /// # Ok(()) }
    /// ```
    pub fn clock(mut self, clock: impl Fn() -> Timestamp + Send + Sync + 'static) -> Self {
        self.clock = Some(Box::new(clock));
        self
    }

    /// Builds the application. No catalog is read before it is needed.
    pub fn build(self) -> CrowFly {
        let Self { config, catalogs, revision, clock } = self;
        let catalogs = catalogs.unwrap_or_else(|| Box::new(Directory::new(config.catalogs())));
        let catalogs = if config.development && config.catalogs.pseudo_locales {
            let set = config.policy().set();
            Box::new(PseudoLocales::new(catalogs, set.tag(set.default_locale())))
        } else {
            catalogs
        };
        let catalogs = if config.catalogs.ready_made {
            Box::new(Overlay::new(catalogs).supplemented_by(ReadyMade))
        } else {
            catalogs
        };
        CrowFly { site: Arc::new(Site::new(config, catalogs, revision, clock)) }
    }
}
