//! From the configuration as it is written to one that is checked.

use std::ops::Range;
use std::sync::Arc;
use std::time::Duration;

use crow_fly_core::catalog::is_name;
use crow_fly_core::locale_set::{LocaleId, LocaleSet};
use crow_fly_core::message::Isolation;
use crow_fly_core::policy::{LocaleSource, Policy, RedirectRule, TimeZoneRule};
use crow_fly_core::route::{PathPattern, PathsError, PrefixError, Routes, RoutesError, is_below};
use crow_fly_core::suggest::nearest;
use crow_fly_core::time_zone::TimeZoneName;
use toml::Spanned;

use super::file::{
    BrowserTable, File, IsolationWord, PolicyTable, RememberTable, TimeZoneTable, TimeZoneWord,
};
use super::locales::{content_languages, find, names};
use super::{
    Area, BrowserConfig, Config, ConfigError, MissingText, RememberConfig, SameSite, TimeZoneConfig,
};

impl File {
    /// Makes a configuration of what is written.
    pub(super) fn check(self, text: &str) -> Result<Config, ConfigError> {
        let set = self.locale_set(text)?;
        let chains = self.chains(text, &set)?;
        let follows =
            follows(self.policy.time_zone) || self.areas.values().any(|area| follows(area.time_zone));
        let site = self.site(text, set, follows)?;
        let areas = self.areas(text, &site, follows)?;
        let origin = self.origin.as_ref().map(|origin| origin_of(text, origin)).transpose()?;
        let forwarded_host = self.policy.forwarded_host.as_ref();
        let forwarded_host = forwarded_host.map(|name| header(text, name)).transpose()?;
        let (switch_path, stripped_base) = self.switch(text, site.policy.routes())?;
        // What every path of the application begins with, as it is asked for.
        let base = if stripped_base.is_empty() { site.policy.routes().base() } else { "" };
        let browser = self.browser.check(text, base)?;
        self.addresses(text, &switch_path, &browser)?;
        let development = self.development.unwrap_or(cfg!(debug_assertions));
        // An area's paths are skipped by the prefixes of the site, and are pages all the same.
        let is_skipped = |path: &str| {
            let area = areas.iter().find(|area| is_below(&area.path, path)).unwrap_or(&site);
            area.policy.routes().skips(path)
        };
        let catalogs = self.catalogs.check(text, is_skipped, chains.all())?;
        let missing = match self.messages.missing {
            Some(missing) => missing,
            None if self.strict => MissingText::Error,
            None if development => MissingText::Marker,
            None => MissingText::Key,
        };
        let names_sessions = self.names_sessions();
        let mut zones = self.time_zone.unwrap_or_default();
        if follows {
            zones.check_names(text, &self.remember)?;
        }
        let remember = self.remember.check(text, development, names_sessions)?;
        Ok(Config {
            functions: None,
            markup: None,
            used: super::Parameters::new(),
            folder: std::path::PathBuf::new(),
            isolation: match self.messages.isolation {
                Some(IsolationWord::None) => Isolation::None,
                Some(IsolationWord::Default) | None => Isolation::Default,
            },
            longest: self.messages.max_kilobytes.unwrap_or(1024).saturating_mul(1024),
            names: names(text, site.policy.set(), &self.names)?,
            browser,
            inspector: self.inspector.unwrap_or(development),
            switch_path,
            stripped_base,
            hook_limit: duration(text, self.policy.hook_seconds.as_ref(), 2.0)?,
            forwarded_host,
            content_languages: content_languages(site.policy.set()),
            site,
            areas,
            checks: self.check.check(text)?.falling_back(
                catalogs.inherits.iter().map(|id| chains.tag(*id).to_string()),
                catalogs.may_fall_back.as_deref().unwrap_or_default(),
            ),
            chains,
            catalogs,
            missing,
            strict: self.strict,
            remember,
            time_zone: zones.remembered(),
            origin,
            development,
        })
    }

    /// Whether `session` is written among the sources of a locale or a time zone.
    fn names_sessions(&self) -> bool {
        let of_zone = self.time_zone.as_ref().and_then(|table| table.sources.as_ref());
        let written = (self.policy.sources.iter().flatten())
            .chain(self.areas.values().flat_map(|area| &area.sources))
            .chain(of_zone.iter().flat_map(|sources| sources.get_ref()));
        written.into_iter().any(|source| source.get_ref() == "session")
    }

    /// The site as a whole.
    fn site(&self, text: &str, set: LocaleSet, follows_somewhere: bool) -> Result<Area, ConfigError> {
        let table = &self.policy;
        let routes = self.routes(text, &set)?;
        let mut policy = Policy::new(set)
            .with_routes(routes)
            .with_redirect(table.redirect.unwrap_or_default())
            .with_formats(table.formats.unwrap_or_default())
            .with_matching(table.matching.unwrap_or_default());
        if let Some(names) = &table.sources {
            policy = policy.with_sources(ordered_sources(text, names)?);
        }
        for (host, locale) in &table.hosts {
            check_host(text, host)?;
            let locale = find(text, policy.set(), locale)?;
            policy = policy.with_host(host.get_ref(), locale);
        }
        if let Some(rule) = self.time_zone_rule(text, follows_somewhere)? {
            // A rule without sources is the default for everybody.
            let own = follows(table.time_zone);
            let rule = match self.time_zone.as_ref().and_then(|zones| zones.pages.as_ref()) {
                Some(pages) if own => rule.with_pages(patterns(text, pages)?),
                // An area is a part of the site by its path: it follows everywhere, or nowhere.
                Some(pages) => return Err(pages_without_effect(text, pages)),
                None => rule,
            };
            policy = policy.with_time_zone(if own { rule } else { rule.with_sources([]) });
        }
        let written = table.sources.as_deref().unwrap_or_default();
        Ok(Area {
            path: String::new(),
            header_name: header_name(text, table.header.as_ref(), written, policy.sources(), None)?,
            query_parameter: table.query.clone().unwrap_or_else(|| "locale".to_owned()),
            policy: Arc::new(policy),
        })
    }

    /// The path of the switch address as it is asked for, and what stands before it in links.
    fn switch(&self, text: &str, routes: &Routes) -> Result<(String, String), ConfigError> {
        let stripped = self.policy.base_stripped.as_ref().is_some_and(|stripped| *stripped.get_ref());
        let path = match &self.switch.path {
            Some(path) if routes.is_root(path.get_ref()) => {
                return Err(ConfigError::at(text, path.span(), "the home page cannot be the switch address")
                    .with_help("name a path that no page has: `/locale`"));
            }
            Some(path) => absolute(text, path)?,
            None if stripped => "/locale".to_owned(),
            None => format!("{}/locale", routes.base()),
        };
        Ok((path, if stripped { routes.base().to_owned() } else { String::new() }))
    }

    /// An address of ours that is also a page of the application is never reached as that page.
    fn addresses(&self, text: &str, switch_path: &str, browser: &BrowserConfig) -> Result<(), ConfigError> {
        let public = (browser.path.as_str(), "the path of texts for scripts");
        let public = (!browser.sections.is_empty()).then_some(public);
        let ours = [Some((switch_path, "the switch address")), public];
        let named = (self.paths.keys().map(|path| (path, "`[paths]`")))
            .chain(self.catalogs.needs.keys().map(|path| (path, "`needs`")))
            .chain(self.areas.keys().map(|path| (path, "`[areas]`")));
        for (path, place) in named {
            let given = path.get_ref().trim_end_matches('/');
            if let Some((_, what)) = ours.iter().flatten().find(|(address, _)| *address == given) {
                let error = format!("`{given}` is {what}, and cannot be in {place}, too");
                return Err(ConfigError::at(text, path.span(), error)
                    .with_help("give one of the two another path: `path` in `[switch]` or `[browser]`"));
            }
        }
        Ok(())
    }

    /// The areas, longest paths first.
    fn areas(&self, text: &str, site: &Area, follows: bool) -> Result<Vec<Area>, ConfigError> {
        let mut areas = Vec::new();
        for (path, table) in &self.areas {
            let start = absolute(text, path)?;
            let start = start.trim_end_matches('/');
            if start.is_empty() {
                return Err(ConfigError::at(text, path.span(), "`/` is the whole site, not an area of it")
                    .with_help("its policy is `[policy]`"));
            }
            let named = sources(text, &table.sources)?;
            if named.is_empty() {
                return Err(ConfigError::at(text, path.span(), "an area names its sources").with_help(
                    "add `sources = [\"header\", \"accept-language\"]`, or whatever decides there",
                ));
            }
            if let Some(place) = named.iter().position(|source| *source == LocaleSource::Path) {
                let span = table.sources.get(place).map_or(0..0, Spanned::span);
                return Err(ConfigError::at(text, span, "an area has no prefixes")
                    .with_help("leave `path` out: prefixes are those of the whole site"));
            }
            // Its paths are not localized: no prefix is read, and the site's skipped paths stay skipped.
            let skip = self.policy.skip.iter().map(|path| path.get_ref().clone());
            let skipping = Routes::builder(site.policy.set()).with_skip(skip).build();
            let skipping = skipping.map_err(|error| ConfigError::at(text, path.span(), error))?;
            let mut policy = Policy::clone(&site.policy)
                .with_routes(skipping)
                .with_sources(named)
                .with_redirect(RedirectRule::Never)
                .with_formats(table.formats.unwrap_or_default())
                .with_matching(table.matching.unwrap_or_default());
            if let Some(rule) = self.time_zone_rule(text, follows)? {
                let own = self::follows(table.time_zone);
                policy = policy.with_time_zone(if own { rule } else { rule.with_sources([]) });
            }
            let inherited = site.header_name.as_ref();
            let header_name =
                header_name(text, table.header.as_ref(), &table.sources, policy.sources(), inherited)?;
            let query_parameter = table.query.clone().unwrap_or_else(|| site.query_parameter.clone());
            let policy = Arc::new(policy);
            areas.push(Area { path: start.to_owned(), policy, query_parameter, header_name });
        }
        areas.sort_by_key(|area| std::cmp::Reverse(area.path.len()));
        Ok(areas)
    }

    /// How the time zone is decided, where the configuration says so.
    fn time_zone_rule(&self, text: &str, follows: bool) -> Result<Option<TimeZoneRule>, ConfigError> {
        match &self.time_zone {
            Some(table) => table.rule(text, follows).map(Some),
            None if follows => Ok(Some(
                TimeZoneRule::new(TimeZoneName::UTC).with_sources(TimeZoneRule::SOURCES.iter().copied()),
            )),
            None => Ok(None),
        }
    }

    fn routes(&self, text: &str, set: &LocaleSet) -> Result<Routes, ConfigError> {
        let mut skip = Vec::new();
        for path in &self.policy.skip {
            let absolute = absolute(text, path)?;
            if absolute.trim_matches('/').is_empty() {
                return Err(ConfigError::at(text, path.span(), "`/` skips every page of the application")
                    .with_help("name the folder that is to be left alone: `/assets`"));
            }
            skip.push(absolute);
        }
        // The paths of an area have no prefix, neither before links to them nor in what is asked for.
        for path in self.areas.keys() {
            skip.push(absolute(text, path)?);
        }
        let mut routes = Routes::builder(set)
            .with_prefixed_default(!self.policy.bare_default.unwrap_or(true))
            .with_skip(skip)
            .with_prefixes(self.policy.prefixes(text, set)?);
        for (locale, former) in &self.policy.former_prefixes {
            let id = find(text, set, locale)?;
            for prefix in former {
                routes = routes.with_former_prefix(id, prefix.get_ref());
            }
        }
        let mut has_base = false;
        if let Some(base) = &self.policy.base {
            let base = absolute(text, base)?;
            has_base = !base.trim_end_matches('/').is_empty();
            routes = routes.with_base(&base);
        }
        if let Some(stripped) = &self.policy.base_stripped {
            if *stripped.get_ref() && !has_base {
                return Err(ConfigError::at(text, stripped.span(), "there is no base to take off")
                    .with_help("name it: `base = \"/shop\"`"));
            }
            routes = routes.with_stripped_base(*stripped.get_ref());
        }
        for (bare, locales) in &self.paths {
            let pattern = pattern(text, bare.span(), bare.get_ref())?;
            let mut localized = Vec::new();
            for (locale, patterns) in locales {
                let parsed = patterns
                    .get_ref()
                    .as_slice()
                    .iter()
                    .map(|written| self::pattern(text, patterns.span(), written));
                localized.push((find(text, set, locale)?, parsed.collect::<Result<Vec<_>, _>>()?));
            }
            routes = routes.with_page(&pattern, localized);
        }
        routes.build().map_err(|error| ConfigError::at(text, self.place_of(&error), error))
    }

    /// The line that an error of the routes is about.
    fn place_of(&self, error: &RoutesError) -> Range<usize> {
        match error {
            RoutesError::Prefix(
                PrefixError::NotASegment(wrong) | PrefixError::Taken { prefix: wrong, .. },
            ) => {
                let PolicyTable { prefixes, former_prefixes, .. } = &self.policy;
                let mut written = prefixes.values().rev().chain(former_prefixes.values().flatten());
                let named = written.find(|prefix| prefix.get_ref() == wrong);
                named.or_else(|| prefixes.values().next()).map_or(0..0, Spanned::span)
            }
            // The line of the translation that an error is about; of the page otherwise.
            RoutesError::Page { index, error } => {
                let Some((bare, locales)) = self.paths.iter().nth(*index) else { return 0..0 };
                let translation = match error {
                    PathsError::Ambiguous { locale: Some(locale), .. } => {
                        locales.iter().find(|(known, _)| known.get_ref() == locale)
                    }
                    _ => None,
                };
                translation.map_or(bare.span(), |(_, patterns)| patterns.span())
            }
            _ => 0..0,
        }
    }
}

impl PolicyTable {
    /// The prefixes that are chosen.
    fn prefixes(&self, text: &str, set: &LocaleSet) -> Result<Vec<(LocaleId, String)>, ConfigError> {
        let named = self.prefixes.iter();
        named.map(|(locale, prefix)| Ok((find(text, set, locale)?, prefix.get_ref().clone()))).collect()
    }
}

impl RememberTable {
    fn check(
        self,
        text: &str,
        development: bool,
        names_sessions: bool,
    ) -> Result<RememberConfig, ConfigError> {
        let cookie = cookie_name(text, self.cookie.as_ref())?.unwrap_or("locale").to_owned();
        let prefixed = cookie.starts_with("__Host-") || cookie.starts_with("__Secure-");
        let secure = self.secure.as_ref().map_or(!development || prefixed, |secure| *secure.get_ref());
        if let Some(word) = self.secure.as_ref().filter(|_| prefixed && !secure) {
            let error = format!("browsers refuse the cookie `{cookie}` where it is not secure");
            return Err(ConfigError::at(text, word.span(), error)
                .with_help("leave `secure` out, or take another name for the cookie"));
        }
        if let Some(word) =
            self.same_site.as_ref().filter(|word| *word.get_ref() == SameSite::None && !secure)
        {
            let error = "browsers refuse a cookie with `same-site = \"none\"` that is not secure";
            return Err(ConfigError::at(text, word.span(), error).with_help("add `secure = true`"));
        }
        for (key, value) in [("path", &self.path), ("domain", &self.domain)] {
            let Some(value) = value else { continue };
            let is_attribute = |letter: u8| matches!(letter, b'!'..=b'~') && letter != b';';
            let fits = value.get_ref().bytes().all(is_attribute)
                && (key != "path" || value.get_ref().starts_with('/'));
            if !fits {
                let error = format!("`{}` is not a {key} for a cookie", value.get_ref().escape_debug());
                let help = if key == "path" {
                    "begin it with a slash, and use no `;`: `/shop`"
                } else {
                    "name a host, without port: `ferries.example`"
                };
                return Err(ConfigError::at(text, value.span(), error).with_help(help));
            }
            if cookie.starts_with("__Host-") && (key == "domain" || value.get_ref() != "/") {
                let error = format!("browsers refuse the cookie `{cookie}` with this {key}");
                return Err(ConfigError::at(text, value.span(), error).with_help(
                    "a cookie named `__Host-…` has the path `/` and no domain: leave `path` and `domain` out",
                ));
            }
        }
        Ok(RememberConfig {
            names_sessions,
            cookie,
            days: self.days.unwrap_or(365),
            path: self.path.map_or_else(|| "/".to_owned(), Spanned::into_inner),
            domain: self.domain.map(Spanned::into_inner),
            same_site: self.same_site.map(Spanned::into_inner).unwrap_or_default(),
            secure,
            session_key: self.session_key.map_or_else(|| "locale".into(), |key| key.into_inner().into()),
        })
    }
}

impl BrowserTable {
    /// `base` is what the application's paths begin with.
    fn check(&self, text: &str, base: &str) -> Result<BrowserConfig, ConfigError> {
        if let Some(section) = self.sections.iter().find(|section| !is_name(section.get_ref())) {
            let problem = format!("`{}` is not the name of a section", section.get_ref().escape_debug());
            return Err(ConfigError::at(text, section.span(), problem)
                .with_help("use ASCII letters, digits, `-` and `_`, as the file's name does"));
        }
        let path = match &self.path {
            Some(path) => {
                let given = absolute(text, path)?;
                let given = given.trim_end_matches('/');
                let is_plain = |segment: &str| {
                    let plain =
                        |byte: u8| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_' | b'.' | b'~');
                    !segment.is_empty() && segment.bytes().all(plain)
                };
                if !given.split('/').skip(1).all(is_plain) || given.is_empty() {
                    let problem = format!("`{}` cannot be the path of texts", path.get_ref().escape_debug());
                    return Err(ConfigError::at(text, path.span(), problem)
                        .with_help("name a path that no page has, of ASCII letters, digits, `-`, `_`, `.` and `~`: `/texts`"));
                }
                given.to_owned()
            }
            None => format!("{base}/texts"),
        };
        let sections = self.sections.iter().map(|section| section.get_ref().clone()).collect();
        Ok(BrowserConfig { sections, path })
    }
}

impl TimeZoneTable {
    fn rule(&self, text: &str, follows: bool) -> Result<TimeZoneRule, ConfigError> {
        let rule = TimeZoneRule::new(self.default_zone(text)?);
        if !follows {
            let unused = [
                self.sources.as_ref().map(|value| ("sources", value.span())),
                self.pages.as_ref().map(|value| ("pages", value.span())),
                self.cookie.as_ref().map(|value| ("cookie", value.span())),
                self.session_key.as_ref().map(|value| ("session-key", value.span())),
            ];
            return match unused.into_iter().flatten().next() {
                Some((key, place)) => {
                    let error =
                        format!("`{key}` has no effect where the visitor's time zone is not followed");
                    Err(ConfigError::at(text, place, error)
                        .with_help("add `time-zone = \"visitor\"` to `[policy]`, or leave it out"))
                }
                None => Ok(rule),
            };
        }
        let Some(names) = &self.sources else {
            return Ok(rule.with_sources(TimeZoneRule::SOURCES.iter().copied()));
        };
        let sources = sources(text, names.get_ref())?;
        for (source, name) in sources.iter().zip(names.get_ref()) {
            if !TimeZoneRule::SOURCES.contains(source) {
                return Err(ConfigError::at(text, name.span(), format!("`{source}` names no time zone"))
                    .with_help(
                        "time zones come from `visitor`, `session` and `cookie`; the default is `default`",
                    ));
            }
        }
        if sources.is_empty() {
            return Err(ConfigError::at(
                text,
                names.span(),
                "no source is named for the visitor's time zone",
            )
            .with_help("name `visitor`, `session` or `cookie`, or leave `time-zone` out of `[policy]`"));
        }
        Ok(rule.with_sources(sources))
    }

    fn default_zone(&self, text: &str) -> Result<TimeZoneName, ConfigError> {
        let Some(name) = &self.default else { return Ok(TimeZoneName::UTC) };
        let default = name
            .get_ref()
            .parse::<TimeZoneName>()
            .map_err(|error| ConfigError::at(text, name.span(), error.problem()).with_help(error.help()))?;
        if jiff::tz::TimeZone::get(default.as_str()).is_err() {
            let error = format!("the zone database of this program does not have `{default}`");
            return Err(ConfigError::at(text, name.span(), error)
                .with_help("name another time zone, or update the database"));
        }
        Ok(default)
    }

    /// Refuses one name for two things that are remembered.
    fn check_names(&self, text: &str, remember: &RememberTable) -> Result<(), ConfigError> {
        cookie_name(text, self.cookie.as_ref())?;
        let names = [
            ("cookie", &self.cookie, &remember.cookie),
            ("session key", &self.session_key, &remember.session_key),
        ];
        for (what, zone, locale) in names {
            let name = zone.as_ref().map_or("time-zone", |name| name.get_ref());
            if name == locale.as_ref().map_or("locale", |name| name.get_ref()) {
                let place = zone.as_ref().or(locale.as_ref()).map_or(0..0, Spanned::span);
                let error = format!("locale and time zone are both remembered in the {what} `{name}`");
                return Err(ConfigError::at(text, place, error).with_help("take two names"));
            }
        }
        Ok(())
    }

    fn remembered(&mut self) -> TimeZoneConfig {
        let name = |name: &mut Option<Spanned<String>>| {
            name.take().map_or_else(|| "time-zone".to_owned(), Spanned::into_inner)
        };
        TimeZoneConfig { cookie: name(&mut self.cookie), session_key: name(&mut self.session_key).into() }
    }
}

/// A name for a header.
fn header(text: &str, name: &Spanned<String>) -> Result<http::HeaderName, ConfigError> {
    name.get_ref().parse().map_err(|_| {
        let error = format!("`{}` is not a name for a header", name.get_ref().escape_debug());
        ConfigError::at(text, name.span(), error)
    })
}

/// Whether a policy follows the visitor's time zone.
fn follows(word: Option<TimeZoneWord>) -> bool {
    word == Some(TimeZoneWord::Visitor)
}

/// Scheme and host, perhaps with a port.
fn origin_of(text: &str, origin: &Spanned<String>) -> Result<String, ConfigError> {
    let written = origin.get_ref().trim_end_matches('/');
    let uri = written.parse::<http::Uri>().ok();
    let is_origin = uri.is_some_and(|uri| {
        matches!(uri.scheme_str(), Some("http" | "https"))
            && uri.path_and_query().is_none_or(|path| path.as_str() == "/")
            && uri.authority().is_some_and(|authority| !authority.as_str().contains('@'))
    });
    if is_origin {
        return Ok(written.to_owned());
    }
    let error = format!("`{}` is not an origin", origin.get_ref().escape_debug());
    Err(ConfigError::at(text, origin.span(), error)
        .with_help("write scheme and host, without a path: `https://ferries.example`"))
}

fn check_host(text: &str, host: &Spanned<String>) -> Result<(), ConfigError> {
    let name = host.get_ref();
    let is_label = |label: &str| {
        !label.is_empty()
            && label.bytes().all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_'))
    };
    let is_address = name.starts_with('[') && name.ends_with(']');
    if is_address || name.split('.').all(is_label) {
        return Ok(());
    }
    let error = format!("`{}` is not a host", name.escape_debug());
    Err(ConfigError::at(text, host.span(), error)
        .with_help("write it without scheme, port and path: `promy.example`"))
}

/// The header that a `header` source reads. It has no default: which header a front end sets, and removes from
/// what visitors send, is for the application to say.
fn header_name(
    text: &str,
    header: Option<&Spanned<String>>,
    written: &[Spanned<String>],
    sources: &[LocaleSource],
    inherited: Option<&http::HeaderName>,
) -> Result<Option<http::HeaderName>, ConfigError> {
    let Some(name) = header else {
        if inherited.is_some() {
            return Ok(inherited.cloned());
        }
        let named = written.iter().find(|name| name.get_ref() == "header");
        return match named {
            Some(name) => {
                Err(ConfigError::at(text, name.span(), "no header is named for the source `header`")
                    .with_help("add `header = \"x-site-language\"`, or whatever your front end sets"))
            }
            None if sources.contains(&LocaleSource::Header) => {
                Err(ConfigError::at(text, 0..0, "no header is named for the source `header`"))
            }
            None => Ok(None),
        };
    };
    let error = |error: String| ConfigError::at(text, name.span(), error);
    let parsed = self::header(text, name)?;
    // These have a source of their own, or are nobody's to read a locale from.
    let taken = ["cookie", "accept-language", "host", "authorization"];
    if taken.contains(&parsed.as_str()) {
        return Err(error(format!("the header `{parsed}` has another meaning in HTTP"))
            .with_help("name a header that your front end sets: `x-site-language`"));
    }
    Ok(Some(parsed))
}

fn sources(text: &str, names: &[Spanned<String>]) -> Result<Vec<LocaleSource>, ConfigError> {
    let parse = |name: &Spanned<String>| {
        name.get_ref().parse::<LocaleSource>().map_err(|error| {
            let near = nearest(name.get_ref(), LocaleSource::ALL.iter().map(ToString::to_string));
            let help = near.map_or_else(|| error.help().to_owned(), |near| format!("did you mean `{near}`?"));
            ConfigError::at(text, name.span(), error.problem()).with_help(help)
        })
    };
    names.iter().map(parse).collect()
}

/// Sources in an order that is kept: what is written is to be what happens.
fn ordered_sources(text: &str, names: &[Spanned<String>]) -> Result<Vec<LocaleSource>, ConfigError> {
    let parsed = sources(text, names)?;
    if let Some(place) =
        parsed.iter().position(|source| *source == LocaleSource::Path).filter(|place| *place > 0)
    {
        let span = names.get(place).map_or(0..0, Spanned::span);
        let mut order: Vec<&str> = names.iter().map(|name| name.get_ref().as_str()).collect();
        order.get_mut(..=place).unwrap_or_default().rotate_right(1);
        let order: Vec<String> = order.into_iter().map(|name| format!("\"{name}\"")).collect();
        return Err(ConfigError::at(text, span, "`path` comes first: one address has one language")
            .with_help(format!("write `sources = [{}]`", order.join(", "))));
    }
    if let Some(place) = parsed.iter().position(|source| *source == LocaleSource::Default)
        && place + 1 < parsed.len()
    {
        let span = names.get(place).map_or(0..0, Spanned::span);
        return Err(ConfigError::at(text, span, "`default` comes last: what stands after it is never asked")
            .with_help("leave it out, or write it last"));
    }
    Ok(parsed)
}

fn cookie_name<'n>(text: &str, name: Option<&'n Spanned<String>>) -> Result<Option<&'n str>, ConfigError> {
    match name {
        Some(name) if !is_name(name.get_ref()) => {
            let error = format!("`{}` is not a name for a cookie", name.get_ref().escape_debug());
            Err(ConfigError::at(text, name.span(), error).with_help("use ASCII letters, digits, `-` and `_`"))
        }
        name => Ok(name.map(|name| name.get_ref().as_str())),
    }
}

fn patterns(text: &str, written: &Spanned<Vec<Spanned<String>>>) -> Result<Vec<PathPattern>, ConfigError> {
    written.get_ref().iter().map(|page| pattern(text, page.span(), page.get_ref())).collect()
}

fn pages_without_effect(text: &str, pages: &Spanned<Vec<Spanned<String>>>) -> ConfigError {
    let error = "`pages` has no effect where the visitor's time zone is not followed by the site";
    ConfigError::at(text, pages.span(), error)
        .with_help("add `time-zone = \"visitor\"` to `[policy]`; an area follows it on all its paths")
}

fn pattern(text: &str, place: Range<usize>, written: &str) -> Result<PathPattern, ConfigError> {
    PathPattern::parse(written)
        .map_err(|error| ConfigError::at(text, place, format!("`{}`: {error}", written.escape_debug())))
}

fn absolute(text: &str, path: &Spanned<String>) -> Result<String, ConfigError> {
    if crow_fly_core::route::is_local(path.get_ref()) {
        return Ok(path.get_ref().clone());
    }
    Err(ConfigError::at(text, path.span(), format!("`{}` is not a path", path.get_ref().escape_debug()))
        .with_help("begin it with one slash: `/assets`"))
}

/// A time in units of its own, which must be more than nothing and less than a month.
pub(super) fn duration(
    text: &str,
    written: Option<&Spanned<f64>>,
    default: f64,
) -> Result<Duration, ConfigError> {
    let Some(written) = written else { return Ok(Duration::from_secs_f64(default)) };
    let value = *written.get_ref();
    if !(0.001..=2_592_000.0).contains(&value) {
        return Err(ConfigError::at(text, written.span(), format!("`{value}` is not a time to wait"))
            .with_help("write a number from 0.001 to 2592000"));
    }
    Ok(Duration::from_secs_f64(value))
}
