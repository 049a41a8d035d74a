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
//! assert_eq!(config.policy().set().len(), 3);
//! # Ok::<(), crow_fly::ConfigError>(())
//! ```
//!
//! Every key, its default and what it means stand in `docs/configuration.md`. The same settings can be made in code, by
//! [`Config::builder`].

use std::collections::{BTreeMap, BTreeSet};
use std::path::{MAIN_SEPARATOR, Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use crow_fly_core::calendar::{Calendar, CalendarChoice};
use crow_fly_core::chain::Chains;
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::{FormatContext, Functions, Isolation, Links, MarkupHandlers};
use crow_fly_core::policy::{Decision, Policy, TimeZoneRule};
use crow_fly_core::route::is_below;
use crow_fly_core::rule::Rule;
use crow_fly_core::suggest::nearest;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::translation::PseudoLocale;
use http::HeaderValue;
use jiff::tz::TimeZone;

use crate::sessions::SessionKeys;

mod builder;
mod catalogs;
mod check;
mod checks;
mod error;
mod file;
mod locales;

pub use builder::{AreaBuilder, ConfigBuilder};
pub(crate) use catalogs::{CatalogsConfig, MatchingPages, NeededSections};
pub use checks::CheckConfig;
pub use crow_fly_core::policy::{FormatsRule, LocaleSource, Matching, RedirectRule};
pub use error::ConfigError;

/// The configuration of an application, checked.
#[derive(Clone, Debug)]
pub struct Config {
    /// The site as a whole.
    pub(crate) site: Area,
    /// What `Content-Language` says of each locale, in the order of the set.
    content_languages: Box<[HeaderValue]>,
    /// Parts of it with policies of their own, longest paths first.
    pub(crate) areas: Vec<Area>,
    pub(crate) chains: Chains,
    pub(crate) catalogs: CatalogsConfig,
    checks: CheckConfig,
    /// The text that is shown for a missing message.
    pub(crate) missing: MissingText,
    /// Whether a missing text, or an error in one, fails the request.
    pub(crate) strict: bool,
    pub(crate) isolation: Isolation,
    /// The longest text, in bytes.
    pub(crate) longest: usize,
    /// Functions of the application's own.
    functions: Option<Arc<Functions>>,
    /// What the application makes of its own markup.
    markup: Option<Arc<MarkupHandlers>>,
    /// The folder of the file that it was read from; empty where there is none.
    pub(crate) folder: PathBuf,
    /// The messages that the application uses, with the parameters that it gives them.
    pub(crate) used: Parameters,
    pub(crate) remember: RememberConfig,
    pub(crate) time_zone: TimeZoneConfig,
    /// The path of the switch address.
    pub(crate) switch_path: String,
    /// What addresses of ours begin with: the base, where that is taken off what is asked for.
    pub(crate) stripped_base: String,
    /// How long a hook of the application may take: sessions, visitor's settings, stored choices.
    pub(crate) hook_limit: Duration,
    /// The request header in which a proxy names the host.
    pub(crate) forwarded_host: Option<http::HeaderName>,
    pub(crate) development: bool,
    /// Whether there is an inspector.
    pub(crate) inspector: bool,
    /// Scheme and host of the site, for whole addresses.
    pub(crate) origin: Option<String>,
    /// The names that are given for the menu.
    pub(crate) names: BTreeMap<LocaleId, String>,
    pub(crate) browser: BrowserConfig,
}

/// The parameters of messages, by key.
pub(crate) type Parameters = BTreeMap<String, BTreeSet<String>>;

/// What scripts may ask for.
#[derive(Clone, Debug)]
pub(crate) struct BrowserConfig {
    /// The sections whose texts have addresses.
    pub(crate) sections: Vec<String>,
    /// The path of those.
    pub(crate) path: String,
}

impl BrowserConfig {
    /// Whether a section is public.
    pub(crate) fn has(&self, section: &str) -> bool {
        self.sections.iter().any(|public| public == section)
    }
}

/// A part of the site with a policy of its own.
#[derive(Clone, Debug)]
pub(crate) struct Area {
    /// The path it begins at; empty for the whole site.
    pub(crate) path: String,
    /// The locales, the sources of a decision, and how addresses go with locales.
    pub(crate) policy: Arc<Policy>,
    /// The query parameter that a `query` source reads.
    pub(crate) query_parameter: String,
    /// The request header that a `header` source reads.
    pub(crate) header_name: Option<http::HeaderName>,
}

impl Area {
    /// Whether a page depends on more of a visitor than the address: on their time zone or their formats.
    pub(crate) fn makes_private(&self, decision: &Decision) -> bool {
        decision.follows_visitor_zone() || self.policy.formats() == FormatsRule::Visitor
    }
}

/// How a visitor's choice is remembered.
#[derive(Clone, Debug)]
pub(crate) struct RememberConfig {
    pub(crate) cookie: String,
    pub(crate) days: u32,
    pub(crate) path: String,
    pub(crate) domain: Option<String>,
    pub(crate) same_site: SameSite,
    pub(crate) secure: bool,
    pub(crate) session_key: Arc<str>,
    /// Whether `session` is written among the sources, and not only one of the usual ones.
    pub(crate) names_sessions: bool,
}

/// Where a visitor's time zone is remembered.
#[derive(Clone, Debug)]
pub(crate) struct TimeZoneConfig {
    pub(crate) cookie: String,
    pub(crate) session_key: Arc<str>,
}

/// The `SameSite` attribute of a cookie (RFC 6265bis §5.6.7).
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum SameSite {
    /// Never from other sites.
    Strict,
    /// From other sites only where the visitor follows a link.
    #[default]
    Lax,
    /// From all sites; needs `secure`.
    None,
}

/// The text that is shown for a missing message: one that neither the chain nor the code has.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum MissingText {
    /// The key in a visible marker, `⟦booking.title⟧`: the default in development.
    Marker,
    /// The key: the default otherwise.
    Key,
    /// Nothing.
    Empty,
    /// The key; and the request is answered with 500. The default in strict mode.
    Error,
    /// The key and its arguments, `booking.seats-left(seats: 3)`, in place of a default text, too: for tests.
    KeyAndArguments,
}

impl Config {
    /// Reads and checks a configuration file. A relative catalog folder is taken from the file's own folder.
    ///
    /// # Errors
    /// Where the file cannot be read, or has a setting that is impossible: the error names file, line and column.
    pub fn from_file(path: impl AsRef<Path>) -> Result<Self, ConfigError> {
        let path = path.as_ref();
        let text = std::fs::read_to_string(path).map_err(|source| ConfigError::unreadable(path, source))?;
        let mut config = Self::parse(&text).map_err(|error| error.in_file(path))?;
        if let Some(folder) = path.parent() {
            config.catalogs.directory = folder.join(&config.catalogs.directory);
            folder.clone_into(&mut config.folder);
            config.checks.below(folder);
        }
        Ok(config)
    }

    /// The switch address for a locale, which returns to a page given by its bare path and query.
    pub(crate) fn switch_address(&self, locale: &LanguageTag, page: &str) -> String {
        let mut query = form_urlencoded::Serializer::new(String::new());
        query.append_pair("to", &locale.to_string()).append_pair("return", page);
        format!("{}{}?{}", self.stripped_base, self.switch_path, query.finish())
    }

    /// The address that texts for scripts are below, as browsers ask for it; none where no section is public.
    pub(crate) fn texts_address(&self) -> Option<String> {
        let browser = &self.browser;
        (!browser.sections.is_empty()).then(|| format!("{}{}", self.stripped_base, browser.path))
    }

    /// The address of a page, given by its bare path, in a locale: with the origin, where there is one.
    pub(crate) fn whole_address(&self, locale: LocaleId, path: &str) -> String {
        let path = self.site.policy.path(locale, path);
        self.origin.as_ref().map_or_else(|| path.clone(), |origin| format!("{origin}{path}"))
    }

    /// A text whose paths begin in the folder of the configuration.
    pub(crate) fn relative(&self, text: String) -> String {
        if self.folder.as_os_str().is_empty() {
            return text;
        }
        text.replace(&format!("{}{MAIN_SEPARATOR}", self.folder.display()), "")
    }

    /// The same settings as in a file, made in code. The first locale is the default until another one is named.
    ///
    /// ```
    /// use crow_fly::Config;
    /// use crow_fly::config::{LocaleSource, RedirectRule};
    ///
    /// let config = Config::builder(["en", "cy"])
    ///     .sources([LocaleSource::Path, LocaleSource::Cookie])
    ///     .redirect(RedirectRule::Never)
    ///     .cookie("saltmarsh-locale")
    ///     .build()?;
    /// assert_eq!(config.policy().set().len(), 2);
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn builder(locales: impl IntoIterator<Item = impl Into<String>>) -> ConfigBuilder {
        ConfigBuilder::new(locales.into_iter().map(Into::into))
    }

    /// The locales, the sources of a decision, and how addresses go with locales.
    pub fn policy(&self) -> &Policy {
        &self.site.policy
    }

    /// The policy of the area that a path is in: see `docs/configuration.md`.
    pub fn policy_at(&self, path: &str) -> &Policy {
        &self.area_of(path).1.policy
    }

    /// The locales tried for one message.
    pub const fn chains(&self) -> &Chains {
        &self.chains
    }

    /// The application's settings for checks.
    pub const fn checks(&self) -> &CheckConfig {
        &self.checks
    }

    /// Whether a locale is made from the default locale in development: it has no catalogs of its own.
    pub fn is_pseudo_locale(&self, tag: &LanguageTag) -> bool {
        self.catalogs.pseudo_locales && PseudoLocale::of(tag).is_some()
    }

    /// The sections that `[catalogs]` names and no locale has, each with a finding. `names` are those that there are, and `has`
    /// says whether there is one, perhaps in a file that has not been read.
    pub fn unknown_sections(&self, names: &[&str], has: impl Fn(&str) -> bool) -> Vec<(&str, Finding)> {
        let unknown = self.catalogs.named().filter(|section| !has(section));
        let finding = |section| {
            let near = nearest(section, names.iter().map(ToString::to_string));
            let help = near.map_or_else(
                || "add its file, or take it out of `[catalogs]`".to_owned(),
                |near| format!("did you mean `{near}`?"),
            );
            let text = format!("the configuration names a section `{section}` that no locale has");
            (section, Finding::of_file(Rule::UnknownSection, "", "", text, help))
        };
        unknown.map(finding).collect()
    }

    /// The locales that ask for a calendar which this program does not have, each with a finding.
    pub fn absent_calendars(&self) -> Vec<(String, Finding)> {
        let finding = |tag: &LanguageTag| {
            let choice = CalendarChoice::of(tag);
            let (asked, used) = (choice.lacking()?, choice.calendar());
            let text =
                format!("the locale `{tag}` asks for the calendar `{asked}`, and its dates are in `{used}`");
            let help = match Calendar::named(asked) {
                Some(_) => "switch on the feature `calendars`, or name the locale in the build script's `locale_data`".to_owned(),
                None => format!("take `-u-ca-{asked}` out of the tag: there is no such calendar here"),
            };
            let locale = tag.to_string();
            Some((locale.clone(), Finding::of_file(Rule::NoCalendar, &locale, "", text, help)))
        };
        self.policy().set().iter().filter_map(|(_, tag)| finding(tag)).collect()
    }

    /// Whether texts that come ready-made lie below the application's own.
    pub const fn has_ready_made_texts(&self) -> bool {
        self.catalogs.ready_made
    }

    /// Whether the texts of a section, in a locale, may be in another language of the chain.
    pub(crate) fn may_fall_back(&self, locale: &LanguageTag, section: &str) -> bool {
        self.checks.settings().may_fall_back(&locale.to_string(), section)
    }

    /// The folder of the catalogs.
    pub fn catalogs(&self) -> &Path {
        &self.catalogs.directory
    }

    /// Whether missing texts show a marker and changed files are read again.
    pub const fn is_development(&self) -> bool {
        self.development
    }

    /// The path of the switch address.
    pub fn switch_path(&self) -> &str {
        &self.switch_path
    }

    /// The keys that the visitor's session is read under.
    pub fn session_keys(&self) -> SessionKeys {
        SessionKeys::new(
            Arc::clone(&self.remember.session_key),
            self.remembers_zone_in_session().then(|| Arc::clone(&self.time_zone.session_key)),
        )
    }

    /// Whether a locale is read from sessions anywhere.
    pub(crate) fn remembers_locale_in_session(&self) -> bool {
        self.any_area(|area| area.policy.sources().contains(&LocaleSource::Session))
    }

    /// Whether a time zone is read from sessions anywhere.
    pub(crate) fn remembers_zone_in_session(&self) -> bool {
        let reads = |rule: &TimeZoneRule| rule.sources().contains(&LocaleSource::Session);
        self.any_area(|area| area.policy.time_zone().is_some_and(reads))
    }

    /// Whether the visitor's time zone is followed anywhere.
    pub(crate) fn follows_time_zone(&self) -> bool {
        self.any_area(|area| area.policy.time_zone().is_some_and(TimeZoneRule::follows_visitor))
    }

    fn any_area(&self, is: impl Fn(&Area) -> bool) -> bool {
        is(&self.site) || self.areas.iter().any(is)
    }

    /// The cookie a choice of a locale is remembered in.
    pub fn cookie(&self) -> &str {
        &self.remember.cookie
    }

    /// The cookie a choice of a time zone is remembered in.
    pub fn time_zone_cookie(&self) -> &str {
        &self.time_zone.cookie
    }

    /// The request header that a `header` source reads, where there is one.
    pub fn header(&self) -> Option<&str> {
        self.site.header_name.as_ref().map(http::HeaderName::as_str)
    }

    /// The area of a path: the innermost one, else the whole site. Its number is 0 for the site.
    pub(crate) fn area_of(&self, path: &str) -> (usize, &Area) {
        let found = self.areas.iter().enumerate().find(|(_, area)| is_below(&area.path, path));
        found.map_or((0, &self.site), |(place, area)| (place + 1, area))
    }

    /// The area with a number.
    pub(crate) fn area(&self, number: usize) -> &Area {
        number.checked_sub(1).and_then(|place| self.areas.get(place)).unwrap_or(&self.site)
    }

    pub(crate) fn functions(&self) -> Option<&Functions> {
        self.functions.as_deref()
    }

    /// Whether the application makes something of this markup, or says so.
    pub(crate) fn has_markup(&self, name: &str) -> bool {
        let is_made = self.markup.as_ref().is_some_and(|handlers| handlers.has(name));
        is_made || self.checks.settings().has_markup(name)
    }

    pub(crate) fn set_functions(&mut self, functions: Functions) {
        self.functions = Some(Arc::new(functions));
    }

    pub(crate) fn set_markup(&mut self, markup: MarkupHandlers) {
        self.markup = Some(Arc::new(markup));
    }

    /// What texts of a locale are formatted with for a reader of another one, or the same: the application's isolation,
    /// functions, markup and default time zone, and links that lead to the reader's pages. Where the text
    /// [reads like](LanguageTag::reads_like) the reader's page, numbers and dates are the reader's.
    pub fn format_context(&self, text: &LanguageTag, reader: LocaleId) -> FormatContext {
        let policy = Arc::clone(&self.site.policy);
        let tag = policy.set().tag(reader);
        let mut context = FormatContext::of(text).with_isolation(self.isolation).with_longest(self.longest);
        if text != tag && text.reads_like(tag) {
            context = context.with_formats(tag);
        }
        context = context.with_links(Links::new(move |path| policy.path(reader, path)));
        let default = self.site.policy.time_zone().map(TimeZoneRule::default_zone);
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

    /// What `Content-Language` says of a page in a locale.
    pub(crate) fn content_language(&self, locale: LocaleId) -> HeaderValue {
        let known = self.content_languages.get(locale.index());
        known.cloned().unwrap_or_else(|| HeaderValue::from_static("und"))
    }

    /// The time zone of a visitor who names none.
    pub(crate) fn default_time_zone(&self) -> TimeZoneName {
        self.site.policy.time_zone().map_or(TimeZoneName::UTC, TimeZoneRule::default_zone)
    }

    /// Reads and checks a configuration.
    ///
    /// # Errors
    /// Where a setting is impossible: the error names line and column.
    ///
    /// ```
    /// use crow_fly::Config;
    ///
    /// let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    /// assert_eq!(config.policy().set().len(), 2);
    /// let error = Config::parse("default = 'en'\nlocales = ['en']\ncolour = 'blue'").unwrap_err();
    /// assert_eq!(error.place().map(|place| place.line), Some(3));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn parse(text: &str) -> Result<Self, ConfigError> {
        file::File::read(text)?.check(text)
    }
}
