//! `crow-fly.toml`: one description of the application's locales that the library and the command line read alike.
//!
//! ```
//! use crow_fly::Config;
//!
//! let config = Config::parse(r#"
//!     default = "en"
//!     locales = ["en", "en-GB", "cy"]
//!
//!     [policy]
//!     sources = ["path", "session", "cookie", "accept-language"]
//! "#)?;
//! assert_eq!(config.policy.set().len(), 3);
//! # Ok::<(), crow_fly::ConfigError>(())
//! ```
//!
//! Every key, its default and what it means stand in `docs/configuration.md`.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use crow_fly_core::chain::Chains;
use crow_fly_core::message::{FormatContext, Functions, Isolation, MarkupHandlers};
use crow_fly_core::policy::{Policy, TimeZoneRule};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use jiff::tz::TimeZone;

mod error;
mod file;

pub use error::ConfigError;

/// The configuration of an application, read and checked.
#[derive(Clone, Debug)]
#[non_exhaustive]
pub struct Config {
    /// The locales, the sources of a decision, and how addresses go with locales.
    pub policy: Policy,
    /// The locales tried for one message.
    pub chains: Chains,
    /// The folder catalogs lie in.
    pub catalogs: PathBuf,
    /// Whether placeholders are set apart from text that may run the other way.
    pub isolation: Isolation,
    /// Functions of the application's own.
    functions: Option<Arc<Functions>>,
    /// What the application makes of its own markup.
    markup: Option<Arc<MarkupHandlers>>,
    /// How a choice is remembered.
    pub remember: RememberConfig,
    /// Where the visitor's time zone is remembered, where one is decided.
    pub time_zone: TimeZoneConfig,
    /// The path of the switch address: `/locale`, below the base, unless said.
    pub switch_path: String,
    /// The query parameter that a `query` source reads: `locale` unless said.
    pub query_parameter: String,
    /// The request header that a `header` source reads: `x-locale` unless said.
    pub header_name: http::HeaderName,
    /// Whether missing texts show a marker and changed files are read again. Unless said, as the program is built: with debug assertions or without.
    pub development: bool,
}

/// How a visitor's choice is remembered.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub struct RememberConfig {
    /// The cookie's name.
    pub cookie: String,
    /// How many days the cookie lives: a year unless said.
    pub days: u32,
    /// The path the cookie is sent to: `/` unless said.
    pub path: String,
    /// The domain the cookie is sent to: unless said, only the host that set it.
    pub domain: Option<String>,
    /// Which requests from other sites carry the cookie: `Lax` unless said.
    pub same_site: SameSite,
    /// Whether the cookie is only sent over HTTPS.
    pub secure: bool,
    /// The key in the session.
    pub session_key: String,
}

/// Where a visitor's time zone is remembered.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub struct TimeZoneConfig {
    /// The cookie's name: `time-zone` unless said.
    pub cookie: String,
    /// The key in the session: `time-zone` unless said.
    pub session_key: String,
}

/// The `SameSite` attribute of a cookie (RFC 6265bis §5.6.7).
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SameSite {
    /// Never from other sites.
    Strict,
    /// From other sites only where the visitor follows a link.
    Lax,
    /// From all sites; needs `secure`.
    None,
}

impl Config {
    /// Reads and checks a configuration file. A relative catalog folder is taken from the file's own folder.
    ///
    /// # Errors
    /// Where the file cannot be read, or says something that cannot be: the error names file, line and column.
    pub fn from_file(path: impl AsRef<Path>) -> Result<Self, ConfigError> {
        let path = path.as_ref();
        let text = std::fs::read_to_string(path).map_err(|source| ConfigError::unreadable(path, source))?;
        let mut config = Self::parse(&text).map_err(|error| error.in_file(path))?;
        if let Some(folder) = path.parent() {
            config.catalogs = folder.join(&config.catalogs);
        }
        Ok(config)
    }

    /// The switch address for a locale, which returns to a page given by its bare path and query.
    pub(crate) fn switch_address(&self, locale: &LanguageTag, page: &str) -> String {
        let mut query = form_urlencoded::Serializer::new(String::new());
        query.append_pair("to", &locale.to_string()).append_pair("return", page);
        format!("{}?{}", self.switch_path, query.finish())
    }

    /// Adds functions that messages may use, beside the standard's: `{$level :harbour:tide}`.
    #[must_use]
    pub fn with_functions(mut self, functions: Functions) -> Self {
        self.functions = Some(Arc::new(functions));
        self
    }

    /// Adds what markup of the application's own becomes in HTML: `{#sailing-link}…{/sailing-link}`.
    #[must_use]
    pub fn with_markup(mut self, markup: MarkupHandlers) -> Self {
        self.markup = Some(Arc::new(markup));
        self
    }

    /// The formats of a locale as the application has them: its isolation, functions, markup and default time zone.
    pub fn format_context(&self, tag: &LanguageTag) -> FormatContext {
        let mut context = FormatContext::of(tag).with_isolation(self.isolation);
        let default = self.policy.time_zone().map(TimeZoneRule::default_zone);
        // The name has been looked up when the configuration was read.
        if let Some(Ok(zone)) = default.map(|name| TimeZone::get(name.as_str())) {
            context = context.with_default_time_zone(zone);
        }
        if let Some(functions) = &self.functions {
            context = context.with_functions(Arc::clone(functions));
        }
        if let Some(markup) = &self.markup {
            context = context.with_markup(Arc::clone(markup));
        }
        context
    }

    /// The time zone of a visitor who names none.
    pub(crate) fn default_time_zone(&self) -> TimeZoneName {
        self.policy.time_zone().map_or(TimeZoneName::UTC, TimeZoneRule::default_zone)
    }

    /// Reads and checks a configuration.
    ///
    /// # Errors
    /// Where it says something that cannot be: the error names line and column.
    pub fn parse(text: &str) -> Result<Self, ConfigError> {
        file::File::read(text)?.check(text)
    }
}
