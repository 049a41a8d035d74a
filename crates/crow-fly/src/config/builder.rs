//! The configuration in code: it fills the same tables as a file, and goes through the same checks.

use crow_fly_core::message::Isolation;
use crow_fly_core::policy::{FormatsRule, LocaleSource, Matching, RedirectRule};
use toml::Spanned;

use super::file::{AreaTable, File, IsolationWord, OnFailure, OneOrMore, TimeZoneWord};
use super::{Config, ConfigError, MissingText, SameSite};

/// A configuration in the making. Made by [`Config::builder`]; each setting is a key of `docs/configuration.md`.
#[must_use = "it makes nothing until it is built"]
pub struct ConfigBuilder {
    file: File,
}

impl std::fmt::Debug for ConfigBuilder {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("ConfigBuilder").finish_non_exhaustive()
    }
}

/// A value without a place in a file.
fn unplaced<T>(value: impl Into<T>) -> Spanned<T> {
    Spanned::new(0..0, value.into())
}

fn all_unplaced(values: impl IntoIterator<Item = impl Into<String>>) -> Vec<Spanned<String>> {
    values.into_iter().map(|value| unplaced(value.into())).collect()
}

fn names(sources: impl IntoIterator<Item = LocaleSource>) -> Vec<Spanned<String>> {
    all_unplaced(sources.into_iter().map(LocaleSource::as_str))
}

/// The policy of an area in the making: see [`ConfigBuilder::area`].
#[must_use = "it makes nothing until it is returned"]
pub struct AreaBuilder {
    table: AreaTable,
}

impl std::fmt::Debug for AreaBuilder {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("AreaBuilder").finish_non_exhaustive()
    }
}

impl AreaBuilder {
    /// Who is asked for the locale, in order: all but `Path`.
    pub fn sources(mut self, sources: impl IntoIterator<Item = LocaleSource>) -> Self {
        self.table.sources = names(sources);
        self
    }

    /// What numbers and dates follow.
    pub const fn formats(mut self, rule: FormatsRule) -> Self {
        self.table.formats = Some(rule);
        self
    }

    /// How the values of `Header` and `Query` are matched.
    pub const fn matching(mut self, matching: Matching) -> Self {
        self.table.matching = Some(matching);
        self
    }

    /// Shows moments in the visitor's own time zone.
    pub const fn follow_time_zone(mut self) -> Self {
        self.table.time_zone = Some(TimeZoneWord::Visitor);
        self
    }

    /// The query parameter that a `Query` source reads. Default: that of the site.
    pub fn query_parameter(mut self, name: impl Into<String>) -> Self {
        self.table.query = Some(name.into());
        self
    }

    /// The request header that a `Header` source reads. Default: that of the site.
    pub fn header(mut self, name: impl Into<String>) -> Self {
        self.table.header = Some(unplaced(name));
        self
    }
}

impl ConfigBuilder {
    pub(super) fn new(locales: impl Iterator<Item = String>) -> Self {
        let locales = all_unplaced(locales);
        let default = locales.first().cloned().unwrap_or_else(|| unplaced(String::new()));
        Self { file: File::new(default, Spanned::new(0..0, locales)) }
    }

    /// The locale of a visitor without a usable preference.
    pub fn default_locale(mut self, locale: impl Into<String>) -> Self {
        self.file.default = unplaced(locale);
        self
    }

    /// Locales that have catalogs, for chains, but cannot be chosen.
    pub fn catalog_only(mut self, locales: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.catalog_only = all_unplaced(locales);
        self
    }

    /// Locales that are not offered yet: they can be had by their address, for a preview.
    pub fn drafts(mut self, locales: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.drafts = all_unplaced(locales);
        self
    }

    /// The names of locales in the menu, where they are other ones than the languages': `("de-CH", "Schweiz")`.
    pub fn names(mut self, names: impl IntoIterator<Item = (impl Into<String>, impl Into<String>)>) -> Self {
        let names = names.into_iter();
        self.file.names = names.map(|(locale, name)| (unplaced(locale), unplaced(name))).collect();
        self
    }

    /// Scheme and host of the site, for whole addresses in mail: `https://ferries.example`.
    pub fn origin(mut self, origin: impl Into<String>) -> Self {
        self.file.origin = Some(unplaced(origin));
        self
    }

    /// A match of Accept-Language must be nearer than this. Default: 50.
    pub const fn largest_distance(mut self, distance: u8) -> Self {
        self.file.largest_distance = Some(distance);
        self
    }

    /// Whether missing texts show a marker and changed files are read again.
    pub const fn development(mut self, development: bool) -> Self {
        self.file.development = Some(development);
        self
    }

    /// Who is asked for the locale, in order.
    pub fn sources(mut self, sources: impl IntoIterator<Item = LocaleSource>) -> Self {
        self.file.policy.sources = Some(names(sources));
        self
    }

    /// Whether addresses in the default locale have no prefix. Default: yes.
    pub const fn bare_default(mut self, bare: bool) -> Self {
        self.file.policy.bare_default = Some(bare);
        self
    }

    /// When a preference sends a visitor to another address.
    pub const fn redirect(mut self, rule: RedirectRule) -> Self {
        self.file.policy.redirect = Some(rule);
        self
    }

    /// What numbers and dates follow.
    pub const fn formats(mut self, rule: FormatsRule) -> Self {
        self.file.policy.formats = Some(rule);
        self
    }

    /// The prefix of a locale, where it is not its tag.
    pub fn prefix(mut self, locale: impl Into<String>, prefix: impl Into<String>) -> Self {
        self.file.policy.prefixes.insert(unplaced(locale), unplaced(prefix));
        self
    }

    /// Adds a prefix that a locale had before: it is redirected to the present one.
    pub fn former_prefix(mut self, locale: impl Into<String>, prefix: impl Into<String>) -> Self {
        self.file.policy.former_prefixes.entry(unplaced(locale)).or_default().push(unplaced(prefix));
        self
    }

    /// Paths that are left alone, with all below them.
    pub fn skip(mut self, paths: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.policy.skip = all_unplaced(paths);
        self
    }

    /// The path the application is mounted below.
    pub fn base(mut self, path: impl Into<String>) -> Self {
        self.file.policy.base = Some(unplaced(path));
        self
    }

    /// Declares that a proxy, or a router that this one is nested in, removes the base from the path of a request.
    pub fn base_stripped(mut self, stripped: bool) -> Self {
        self.file.policy.base_stripped = Some(unplaced(stripped));
        self
    }

    /// The request header in which a proxy names the visitor's host; no header is trusted unless it is named.
    pub fn forwarded_host(mut self, header: impl Into<String>) -> Self {
        self.file.policy.forwarded_host = Some(unplaced(header));
        self
    }

    /// The query parameter that a `query` source reads. Default: `locale`.
    pub fn query_parameter(mut self, name: impl Into<String>) -> Self {
        self.file.policy.query = Some(name.into());
        self
    }

    /// The request header that a `header` source reads.
    pub fn header(mut self, name: impl Into<String>) -> Self {
        self.file.policy.header = Some(unplaced(name));
        self
    }

    /// Adds a host that stands for a locale.
    pub fn host(mut self, host: impl Into<String>, locale: impl Into<String>) -> Self {
        self.file.policy.hosts.insert(unplaced(host), unplaced(locale));
        self
    }

    /// Gives a part of the site, by the path it begins at, a policy of its own.
    pub fn area(mut self, path: impl Into<String>, area: impl FnOnce(AreaBuilder) -> AreaBuilder) -> Self {
        let area = area(AreaBuilder { table: AreaTable::default() });
        self.file.areas.insert(unplaced(path), area.table);
        self
    }

    /// How the values of `Header` and `Query` are matched. Default: they name one of the locales.
    pub const fn matching(mut self, matching: Matching) -> Self {
        self.file.policy.matching = Some(matching);
        self
    }

    /// Sets where the missing texts of a locale come from, in place of CLDR's parents.
    pub fn chain(
        mut self,
        locale: impl Into<String>,
        chain: impl IntoIterator<Item = impl Into<String>>,
    ) -> Self {
        self.file.chains.insert(unplaced(locale), all_unplaced(chain));
        self
    }

    /// Translates the path of a page for a locale: `"/sailings/{id}"` as `"/teithiau/{id}"`. The first pattern is the
    /// present one, others are former ones that are redirected to it.
    pub fn path(
        mut self,
        bare: impl Into<String>,
        locale: impl Into<String>,
        patterns: impl IntoIterator<Item = impl Into<String>>,
    ) -> Self {
        let patterns = Spanned::new(0..0, OneOrMore::More(patterns.into_iter().map(Into::into).collect()));
        self.file.paths.entry(unplaced(bare)).or_default().insert(unplaced(locale), patterns);
        self
    }

    /// The folder of the catalogs. Default: `catalogs`.
    pub fn catalogs(mut self, directory: impl Into<String>) -> Self {
        self.file.catalogs.directory = Some(directory.into());
        self
    }

    /// The sections that every page needs. Without this, and without [`needs`](Self::needs), all sections of a locale load
    /// together.
    pub fn eager(mut self, sections: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.catalogs.eager = Some(all_unplaced(sections));
        self
    }

    /// The sections that a page needs, by the pattern of its bare path: `"/sailings/{id}"`. They are loaded before the
    /// handler is called.
    pub fn needs(
        mut self,
        page: impl Into<String>,
        sections: impl IntoIterator<Item = impl Into<String>>,
    ) -> Self {
        self.file.catalogs.needs.entry(unplaced(page)).or_default().extend(all_unplaced(sections));
        self
    }

    /// Locales that need no catalogs of their own: all their texts are those of their chain.
    pub fn inherits(mut self, locales: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.catalogs.inherits = all_unplaced(locales);
        self
    }

    /// Sections whose texts may be in another language of the chain. All others are declared to be complete then: where one
    /// is not, health says `degraded`.
    pub fn may_fall_back(mut self, sections: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.catalogs.may_fall_back = Some(all_unplaced(sections));
        self
    }

    /// Puts texts that every site needs below the application's own: see
    /// [`ReadyMade`](crate::source::ReadyMade).
    pub fn ready_made(mut self) -> Self {
        self.file.catalogs.ready_made = Some(true);
        self
    }

    /// Makes the locales with the regions `XA` and `XB` from the default locale in development: see
    /// [`PseudoLocales`](crate::source::PseudoLocales).
    pub const fn pseudo_locales(mut self) -> Self {
        self.file.catalogs.pseudo_locales = Some(true);
        self
    }

    /// How many seconds a request waits for catalogs. Default: 2.
    pub fn wait_seconds(mut self, seconds: f64) -> Self {
        self.file.catalogs.wait_seconds = Some(Spanned::new(0..0, seconds));
        self
    }

    /// How many seconds a load may take. Default: 30.
    pub fn load_seconds(mut self, seconds: f64) -> Self {
        self.file.catalogs.load_seconds = Some(Spanned::new(0..0, seconds));
        self
    }

    /// Serves pages also where nothing of their chain can be loaded, in place of 503: with the default texts in code.
    pub const fn serve_without_catalogs(mut self) -> Self {
        self.file.catalogs.on_failure = Some(OnFailure::Serve);
        self
    }

    /// Drops sections from memory that no text has used for so many minutes. Default: never.
    pub fn idle_minutes(mut self, minutes: f64) -> Self {
        self.file.catalogs.idle_minutes = Some(Spanned::new(0..0, minutes));
        self
    }

    /// Drops the sections that were used longest ago where all of them take more memory than this. Default: no limit.
    pub const fn max_megabytes(mut self, megabytes: usize) -> Self {
        self.file.catalogs.max_megabytes = Some(megabytes);
        self
    }

    /// The text that is shown for a missing message.
    pub const fn missing(mut self, missing: MissingText) -> Self {
        self.file.messages.missing = Some(missing);
        self
    }

    /// Whether a missing text, or an error in one, fails the request: for tests. Catalogs are then waited for as long as
    /// they may take.
    pub const fn strict(mut self, strict: bool) -> Self {
        self.file.strict = strict;
        self
    }

    /// Whether placeholders are set apart from text that may run the other way.
    pub const fn isolation(mut self, isolation: Isolation) -> Self {
        self.file.messages.isolation = Some(match isolation {
            Isolation::Default => IsolationWord::Default,
            Isolation::None => IsolationWord::None,
        });
        self
    }

    /// The cookie a choice is remembered in. Default: `locale`.
    pub fn cookie(mut self, name: impl Into<String>) -> Self {
        self.file.remember.cookie = Some(unplaced(name));
        self
    }

    /// How many days the cookie lives. Default: a year.
    pub const fn cookie_days(mut self, days: u32) -> Self {
        self.file.remember.days = Some(days);
        self
    }

    /// The path the cookie is sent to. Default: `/`.
    pub fn cookie_path(mut self, path: impl Into<String>) -> Self {
        self.file.remember.path = Some(unplaced(path));
        self
    }

    /// The domain the cookie is sent to. Default: only the host that set it.
    pub fn cookie_domain(mut self, domain: impl Into<String>) -> Self {
        self.file.remember.domain = Some(unplaced(domain));
        self
    }

    /// Which requests from other sites carry the cookie.
    pub fn same_site(mut self, same_site: SameSite) -> Self {
        self.file.remember.same_site = Some(unplaced(same_site));
        self
    }

    /// Whether the cookie is only sent over HTTPS. Default: outside development.
    pub fn secure(mut self, secure: bool) -> Self {
        self.file.remember.secure = Some(unplaced(secure));
        self
    }

    /// The key of the locale in the session. Default: `locale`.
    pub fn session_key(mut self, key: impl Into<String>) -> Self {
        self.file.remember.session_key = Some(unplaced(key));
        self
    }

    /// The time zone of moments that have none of their own: a name of the IANA database.
    pub fn time_zone(mut self, name: impl Into<String>) -> Self {
        self.file.time_zone.get_or_insert_default().default = Some(unplaced(name));
        self
    }

    /// Shows moments in the visitor's own time zone, named by these sources in order: `Visitor`, `Session`, `Cookie`.
    /// Pages are then private to a visitor.
    pub fn follow_time_zone(mut self, sources: impl IntoIterator<Item = LocaleSource>) -> Self {
        self.file.policy.time_zone = Some(TimeZoneWord::Visitor);
        self.file.time_zone.get_or_insert_default().sources = Some(Spanned::new(0..0, names(sources)));
        self
    }

    /// How many seconds a hook of the application may take: sessions, a visitor's settings, a stored choice. Default: 2.
    pub fn hook_seconds(mut self, seconds: f64) -> Self {
        self.file.policy.hook_seconds = Some(Spanned::new(0..0, seconds));
        self
    }

    /// The pages that show moments in the visitor's own time zone, by the patterns of their bare paths. Default: all, where the zone
    /// is followed. The others are the same for all visitors, and stay public.
    pub fn time_zone_pages(mut self, pages: impl IntoIterator<Item = impl Into<String>>) -> Self {
        let pages = Spanned::new(0..0, all_unplaced(pages));
        self.file.time_zone.get_or_insert_default().pages = Some(pages);
        self
    }

    /// The path of the switch address. Default: `/locale`, below the base.
    pub fn switch_path(mut self, path: impl Into<String>) -> Self {
        self.file.switch.path = Some(unplaced(path));
        self
    }

    /// The sections whose texts scripts may ask for: see [`CrowFly::answer_texts`](crate::CrowFly::answer_texts).
    pub fn browser_sections(mut self, sections: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.file.browser.sections = sections.into_iter().map(unplaced).collect();
        self
    }

    /// The path of the addresses of those texts. Default: `/texts`.
    pub fn browser_path(mut self, path: impl Into<String>) -> Self {
        self.file.browser.path = Some(unplaced(path));
        self
    }

    /// Whether the inspector is served. Default: in development.
    pub const fn inspector(mut self, inspector: bool) -> Self {
        self.file.inspector = Some(inspector);
        self
    }

    /// Checks the settings and builds the configuration.
    ///
    /// # Errors
    /// Where two settings contradict each other, or one is impossible.
    pub fn build(self) -> Result<Config, ConfigError> {
        self.file.check("")
    }
}
