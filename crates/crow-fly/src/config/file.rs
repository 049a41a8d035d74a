//! The configuration as it is written, and the checks from there.

use std::collections::BTreeMap;

use crow_fly_core::catalog::is_name;
use crow_fly_core::chain::{ChainError, Chains};
use crow_fly_core::locale_set::{LocaleId, LocaleSet, LocaleSetError};
use crow_fly_core::message::Isolation;
use crow_fly_core::policy::{FormatsRule, LocaleSource, Policy, RedirectRule, TimeZoneRule};
use crow_fly_core::route::{Routes, Unsupported};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use serde::Deserialize;
use toml::Spanned;

use super::{Config, ConfigError, RememberConfig, SameSite, TimeZoneConfig};

#[derive(Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct File {
    default: Spanned<String>,
    locales: Spanned<Vec<Spanned<String>>>,
    #[serde(default)]
    catalog_only: Vec<Spanned<String>>,
    largest_distance: Option<u8>,
    development: Option<bool>,
    #[serde(default)]
    policy: PolicyTable,
    #[serde(default)]
    chains: BTreeMap<Spanned<String>, Vec<Spanned<String>>>,
    /// Bare segment, then locale, then localized segment.
    #[serde(default)]
    segments: BTreeMap<String, BTreeMap<Spanned<String>, Spanned<String>>>,
    #[serde(default)]
    catalogs: CatalogsTable,
    #[serde(default)]
    messages: MessagesTable,
    #[serde(default)]
    remember: RememberTable,
    time_zone: Option<TimeZoneTable>,
    #[serde(default)]
    switch: SwitchTable,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct PolicyTable {
    sources: Option<Vec<Spanned<String>>>,
    bare_default: Option<bool>,
    redirect: Option<RedirectWord>,
    formats: Option<FormatsWord>,
    unsupported_prefix: Option<UnsupportedWord>,
    #[serde(default)]
    skip: Vec<Spanned<String>>,
    base: Option<Spanned<String>>,
    query: Option<String>,
    header: Option<Spanned<String>>,
    #[serde(default)]
    hosts: BTreeMap<String, Spanned<String>>,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum RedirectWord {
    Never,
    Root,
    Everywhere,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum FormatsWord {
    Words,
    Visitor,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum UnsupportedWord {
    NotFound,
    Page,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum SameSiteWord {
    Strict,
    Lax,
    None,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct CatalogsTable {
    directory: Option<String>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct MessagesTable {
    isolation: Option<IsolationWord>,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum IsolationWord {
    Default,
    None,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct RememberTable {
    cookie: Option<Spanned<String>>,
    days: Option<u32>,
    path: Option<String>,
    domain: Option<String>,
    same_site: Option<Spanned<SameSiteWord>>,
    secure: Option<bool>,
    session_key: Option<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct TimeZoneTable {
    default: Spanned<String>,
    sources: Option<Vec<Spanned<String>>>,
    cookie: Option<Spanned<String>>,
    session_key: Option<String>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
struct SwitchTable {
    path: Option<Spanned<String>>,
}

impl File {
    pub(super) fn read(text: &str) -> Result<Self, ConfigError> {
        toml::from_str(text).map_err(|error| {
            let range = error.span().unwrap_or(0..0);
            ConfigError::at(text, range, error.message().lines().collect::<Vec<_>>().join(" "))
        })
    }

    pub(super) fn check(self, text: &str) -> Result<Config, ConfigError> {
        let set = self.locale_set(text)?;
        let chains = self.chains(text, &set)?;
        let routes = self.routes(text, &set)?;
        let mut policy = Policy::new(set).with_routes(routes);
        if let Some(names) = &self.policy.sources {
            policy = policy.with_sources(sources(text, names)?);
        }
        policy = policy.with_redirect(match self.policy.redirect {
            Some(RedirectWord::Never) => RedirectRule::Never,
            Some(RedirectWord::Everywhere) => RedirectRule::Everywhere,
            Some(RedirectWord::Root) | None => RedirectRule::Root,
        });
        if let Some(FormatsWord::Visitor) = self.policy.formats {
            policy = policy.with_formats(FormatsRule::Visitor);
        }
        for (host, locale) in &self.policy.hosts {
            let locale = find(text, policy.set(), locale)?;
            policy = policy.with_host(host, locale);
        }
        let time_zone = match &self.time_zone {
            Some(table) => {
                policy = policy.with_time_zone(table.rule(text)?);
                table.remembered(text)?
            }
            None => TimeZoneConfig::named(None, None),
        };
        let remember = self.remember.check(text)?;
        let isolation = match self.messages.isolation {
            Some(IsolationWord::None) => Isolation::None,
            Some(IsolationWord::Default) | None => Isolation::Default,
        };
        let switch_path = match self.switch.path {
            Some(path) => absolute(text, &path)?,
            None => format!("{}/locale", policy.routes().base()),
        };
        Ok(Config {
            functions: None,
            markup: None,
            isolation,
            switch_path,
            policy,
            chains,
            catalogs: self.catalogs.directory.unwrap_or_else(|| "catalogs".to_owned()).into(),
            remember,
            time_zone,
            query_parameter: self.policy.query.unwrap_or_else(|| "locale".to_owned()),
            header_name: match self.policy.header {
                Some(name) => name.get_ref().parse().map_err(|_| {
                    ConfigError::at(
                        text,
                        name.span(),
                        format!("`{}` is no name for a header", name.get_ref()),
                    )
                })?,
                None => http::HeaderName::from_static("x-locale"),
            },
            development: self.development.unwrap_or(cfg!(debug_assertions)),
        })
    }

    fn locale_set(&self, text: &str) -> Result<LocaleSet, ConfigError> {
        let tags =
            self.locales.get_ref().iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
        let set = LocaleSet::new(tags).map_err(|error| {
            let twice = match &error {
                // The place of the second of the two.
                LocaleSetError::Duplicate(tag) => self.locales.get_ref().iter().rfind(|locale| {
                    LanguageTag::parse_lenient(locale.get_ref())
                        .is_ok_and(|other| other.canonicalized() == *tag)
                }),
                _ => None,
            };
            ConfigError::at(text, twice.map_or(self.locales.span(), Spanned::span), error)
        })?;
        let set = set
            .with_default(&tag(text, &self.default)?)
            .map_err(|error| ConfigError::at(text, self.default.span(), error))?;
        Ok(match self.largest_distance {
            Some(distance) => set.with_largest_distance(distance),
            None => set,
        })
    }

    fn chains(&self, text: &str, set: &LocaleSet) -> Result<Chains, ConfigError> {
        let only = self.catalog_only.iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
        let mut overrides = Vec::new();
        for (locale, list) in &self.chains {
            let list = list.iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
            overrides.push((tag(text, locale)?, list));
        }
        Chains::new(set, only, overrides).map_err(|error| {
            let wanted = match &error {
                ChainError::Unknown { tag, .. } | ChainError::Twice(tag) => Some(tag),
                ChainError::Cycle(tags) => tags.first(),
                _ => None,
            };
            let names = self
                .catalog_only
                .iter()
                .chain(self.chains.iter().flat_map(|(locale, list)| std::iter::once(locale).chain(list)));
            let place = wanted.and_then(|wanted| {
                names.into_iter().find(|name| {
                    LanguageTag::parse_lenient(name.get_ref())
                        .is_ok_and(|tag| tag == *wanted || tag.canonicalized() == *wanted)
                })
            });
            ConfigError::at(text, place.map_or(0..0, Spanned::span), error)
        })
    }

    fn routes(&self, text: &str, set: &LocaleSet) -> Result<Routes, ConfigError> {
        let mut skip = Vec::new();
        for path in &self.policy.skip {
            skip.push(absolute(text, path)?);
        }
        let mut routes =
            Routes::new().with_prefixed_default(!self.policy.bare_default.unwrap_or(true)).with_skip(skip);
        if let Some(UnsupportedWord::Page) = self.policy.unsupported_prefix {
            routes = routes.with_unsupported(Unsupported::Page);
        }
        if let Some(base) = &self.policy.base {
            routes = routes.with_base(&absolute(text, base)?);
        }
        for (bare, locales) in &self.segments {
            for (locale, localized) in locales {
                let id = find(text, set, locale)?;
                if localized.get_ref().is_empty() || localized.get_ref().contains('/') {
                    return Err(ConfigError::at(
                        text,
                        localized.span(),
                        "a path segment is one word, without a slash",
                    ));
                }
                let added = routes.with_segment(set, id, bare, localized.get_ref());
                routes = added.map_err(|error| ConfigError::at(text, localized.span(), error))?;
            }
        }
        Ok(routes)
    }
}

impl RememberTable {
    fn check(self, text: &str) -> Result<RememberConfig, ConfigError> {
        let cookie = cookie_name(text, self.cookie.as_ref())?.unwrap_or("locale").to_owned();
        let secure = self.secure.unwrap_or(false);
        let same_site = match &self.same_site {
            Some(word) if matches!(word.get_ref(), SameSiteWord::None) && !secure => {
                return Err(ConfigError::at(
                    text,
                    word.span(),
                    "browsers refuse a cookie with `same-site = \"none\"` that is not secure",
                )
                .with_help("add `secure = true`"));
            }
            word => match word.as_ref().map(Spanned::get_ref) {
                Some(SameSiteWord::Strict) => SameSite::Strict,
                Some(SameSiteWord::None) => SameSite::None,
                Some(SameSiteWord::Lax) | None => SameSite::Lax,
            },
        };
        Ok(RememberConfig {
            cookie,
            days: self.days.unwrap_or(365),
            path: self.path.unwrap_or_else(|| "/".to_owned()),
            domain: self.domain,
            same_site,
            secure,
            session_key: self.session_key.unwrap_or_else(|| "locale".to_owned()),
        })
    }
}

impl TimeZoneTable {
    fn rule(&self, text: &str) -> Result<TimeZoneRule, ConfigError> {
        let default = self.default.get_ref().parse::<TimeZoneName>().map_err(|error| {
            let error = format!("`{}` is {error}", self.default.get_ref().escape_debug());
            ConfigError::at(text, self.default.span(), error)
        })?;
        if jiff::tz::TimeZone::get(default.as_str()).is_err() {
            let error = format!("the zone database of this program does not have `{default}`");
            return Err(ConfigError::at(text, self.default.span(), error)
                .with_help("name another time zone, or update the database"));
        }
        let rule = TimeZoneRule::new(default);
        let Some(names) = &self.sources else { return Ok(rule) };
        let sources = sources(text, names)?;
        for (source, name) in sources.iter().zip(names) {
            if !TimeZoneRule::SOURCES.contains(source) {
                return Err(ConfigError::at(text, name.span(), format!("`{source}` names no time zone"))
                    .with_help(
                        "time zones come from `visitor`, `session` and `cookie`; the default is `default`",
                    ));
            }
        }
        Ok(rule.with_sources(sources))
    }

    fn remembered(&self, text: &str) -> Result<TimeZoneConfig, ConfigError> {
        let cookie = cookie_name(text, self.cookie.as_ref())?;
        Ok(TimeZoneConfig::named(cookie, self.session_key.as_deref()))
    }
}

impl TimeZoneConfig {
    fn named(cookie: Option<&str>, session_key: Option<&str>) -> Self {
        let name = |name: Option<&str>| name.unwrap_or("time-zone").to_owned();
        Self { cookie: name(cookie), session_key: name(session_key) }
    }
}

fn sources(text: &str, names: &[Spanned<String>]) -> Result<Vec<LocaleSource>, ConfigError> {
    let parse = |name: &Spanned<String>| {
        name.get_ref()
            .parse::<LocaleSource>()
            .map_err(|error| ConfigError::at(text, name.span(), format!("`{}` is {error}", name.get_ref())))
    };
    names.iter().map(parse).collect()
}

fn cookie_name<'n>(text: &str, name: Option<&'n Spanned<String>>) -> Result<Option<&'n str>, ConfigError> {
    match name {
        Some(name) if !is_name(name.get_ref()) => {
            let error = format!("`{}` is no name for a cookie", name.get_ref().escape_debug());
            Err(ConfigError::at(text, name.span(), error).with_help("use ASCII letters, digits, `-` and `_`"))
        }
        name => Ok(name.map(|name| name.get_ref().as_str())),
    }
}

fn tag(text: &str, locale: &Spanned<String>) -> Result<LanguageTag, ConfigError> {
    LanguageTag::parse_lenient(locale.get_ref()).map_err(|error| ConfigError::at(text, locale.span(), error))
}

fn find(text: &str, set: &LocaleSet, locale: &Spanned<String>) -> Result<LocaleId, ConfigError> {
    set.exact(&tag(text, locale)?).ok_or_else(|| {
        ConfigError::at(text, locale.span(), format!("`{}` is none of the locales", locale.get_ref()))
            .with_help("add it to `locales`, or correct it")
    })
}

fn absolute(text: &str, path: &Spanned<String>) -> Result<String, ConfigError> {
    if crow_fly_core::route::is_local(path.get_ref()) {
        return Ok(path.get_ref().clone());
    }
    Err(ConfigError::at(text, path.span(), format!("`{}` is no path", path.get_ref().escape_debug()))
        .with_help("begin it with one slash: `/assets`"))
}
