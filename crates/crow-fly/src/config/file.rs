//! The configuration as it is written.

use std::collections::BTreeMap;
use std::ops::Range;

use crow_fly_core::policy::{FormatsRule, Matching, RedirectRule};
use crow_fly_core::suggest::nearest;
use serde::Deserialize;
use toml::Spanned;

use super::{ConfigError, MissingText, SameSite};

#[derive(Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct File {
    pub(super) default: Spanned<String>,
    pub(super) locales: Spanned<Vec<Spanned<String>>>,
    #[serde(default)]
    pub(super) catalog_only: Vec<Spanned<String>>,
    pub(super) origin: Option<Spanned<String>>,
    #[serde(default)]
    pub(super) drafts: Vec<Spanned<String>>,
    /// Locale, then its name in the menu.
    #[serde(default)]
    pub(super) names: BTreeMap<Spanned<String>, Spanned<String>>,
    pub(super) largest_distance: Option<u8>,
    pub(super) development: Option<bool>,
    pub(super) inspector: Option<bool>,
    #[serde(default)]
    pub(super) strict: bool,
    #[serde(default)]
    pub(super) policy: PolicyTable,
    /// Path, then its policy.
    #[serde(default)]
    pub(super) areas: BTreeMap<Spanned<String>, AreaTable>,
    #[serde(default)]
    pub(super) chains: BTreeMap<Spanned<String>, Vec<Spanned<String>>>,
    /// Bare pattern, then locale, then its pattern, and former ones behind it.
    #[serde(default)]
    pub(super) paths: BTreeMap<Spanned<String>, BTreeMap<Spanned<String>, Spanned<OneOrMore>>>,
    #[serde(default)]
    pub(super) catalogs: CatalogsTable,
    #[serde(default)]
    pub(super) messages: MessagesTable,
    #[serde(default)]
    pub(super) check: CheckTable,
    #[serde(default)]
    pub(super) remember: RememberTable,
    pub(super) time_zone: Option<TimeZoneTable>,
    #[serde(default)]
    pub(super) switch: SwitchTable,
    #[serde(default)]
    pub(super) browser: BrowserTable,
}

/// What scripts may ask for.
#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct BrowserTable {
    /// The sections whose texts have addresses.
    #[serde(default)]
    pub(super) sections: Vec<Spanned<String>>,
    pub(super) path: Option<Spanned<String>>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct PolicyTable {
    pub(super) sources: Option<Vec<Spanned<String>>>,
    pub(super) bare_default: Option<bool>,
    pub(super) redirect: Option<RedirectRule>,
    pub(super) formats: Option<FormatsRule>,
    pub(super) matching: Option<Matching>,
    pub(super) time_zone: Option<TimeZoneWord>,
    /// Locale, then prefix.
    #[serde(default)]
    pub(super) prefixes: BTreeMap<Spanned<String>, Spanned<String>>,
    /// Locale, then the prefixes it had before.
    #[serde(default)]
    pub(super) former_prefixes: BTreeMap<Spanned<String>, Vec<Spanned<String>>>,
    #[serde(default)]
    pub(super) skip: Vec<Spanned<String>>,
    pub(super) base: Option<Spanned<String>>,
    pub(super) base_stripped: Option<Spanned<bool>>,
    pub(super) forwarded_host: Option<Spanned<String>>,
    pub(super) query: Option<String>,
    pub(super) header: Option<Spanned<String>>,
    pub(super) hook_seconds: Option<Spanned<f64>>,
    #[serde(default)]
    pub(super) hosts: BTreeMap<Spanned<String>, Spanned<String>>,
}

/// The policy of an area. What it leaves out is that of the site.
#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct AreaTable {
    #[serde(default)]
    pub(super) sources: Vec<Spanned<String>>,
    pub(super) formats: Option<FormatsRule>,
    pub(super) matching: Option<Matching>,
    pub(super) time_zone: Option<TimeZoneWord>,
    pub(super) query: Option<String>,
    pub(super) header: Option<Spanned<String>>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct CatalogsTable {
    pub(super) directory: Option<String>,
    pub(super) eager: Option<Vec<Spanned<String>>>,
    /// Bare pattern, then sections.
    #[serde(default)]
    pub(super) needs: BTreeMap<Spanned<String>, Vec<Spanned<String>>>,
    #[serde(default)]
    pub(super) inherits: Vec<Spanned<String>>,
    pub(super) may_fall_back: Option<Vec<Spanned<String>>>,
    pub(super) ready_made: Option<bool>,
    pub(super) pseudo_locales: Option<bool>,
    pub(super) wait_seconds: Option<Spanned<f64>>,
    pub(super) load_seconds: Option<Spanned<f64>>,
    pub(super) on_failure: Option<OnFailure>,
    pub(super) idle_minutes: Option<Spanned<f64>>,
    pub(super) max_megabytes: Option<usize>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct CheckTable {
    #[serde(default)]
    pub(super) functions: Vec<String>,
    #[serde(default)]
    pub(super) markup: Vec<String>,
    #[serde(default)]
    pub(super) keys: Vec<String>,
    #[serde(default)]
    pub(super) attributes: Vec<String>,
    #[serde(default)]
    pub(super) code: Vec<String>,
    pub(super) baseline: Option<String>,
    pub(super) accepted: Option<String>,
    #[serde(default)]
    pub(super) rules: BTreeMap<Spanned<String>, RuleTable>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct RuleTable {
    pub(super) level: Level,
    pub(super) reason: Spanned<String>,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub(super) enum Level {
    Off,
    Note,
    Warning,
    Error,
}

/// What is done with a request where nothing of its chain can be loaded.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub(super) enum OnFailure {
    Refuse,
    Serve,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct MessagesTable {
    pub(super) isolation: Option<IsolationWord>,
    pub(super) max_kilobytes: Option<usize>,
    pub(super) missing: Option<MissingText>,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub(super) enum IsolationWord {
    Default,
    None,
}

/// One text, or several: the present one first.
#[derive(Deserialize)]
#[serde(untagged)]
pub(super) enum OneOrMore {
    One(String),
    More(Vec<String>),
}

impl OneOrMore {
    pub(super) fn as_slice(&self) -> &[String] {
        match self {
            Self::One(text) => std::slice::from_ref(text),
            Self::More(texts) => texts,
        }
    }
}

/// Whose time zone moments are shown in.
#[derive(Clone, Copy, Default, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub(super) enum TimeZoneWord {
    #[default]
    Default,
    Visitor,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct RememberTable {
    pub(super) cookie: Option<Spanned<String>>,
    pub(super) days: Option<u32>,
    pub(super) path: Option<Spanned<String>>,
    pub(super) domain: Option<Spanned<String>>,
    pub(super) same_site: Option<Spanned<SameSite>>,
    pub(super) secure: Option<Spanned<bool>>,
    pub(super) session_key: Option<Spanned<String>>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct TimeZoneTable {
    pub(super) default: Option<Spanned<String>>,
    pub(super) sources: Option<Spanned<Vec<Spanned<String>>>>,
    pub(super) pages: Option<Spanned<Vec<Spanned<String>>>>,
    pub(super) cookie: Option<Spanned<String>>,
    pub(super) session_key: Option<Spanned<String>>,
}

#[derive(Default, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct SwitchTable {
    pub(super) path: Option<Spanned<String>>,
}

impl File {
    /// A file with nothing but its locales.
    pub(super) fn new(default: Spanned<String>, locales: Spanned<Vec<Spanned<String>>>) -> Self {
        Self {
            default,
            locales,
            catalog_only: Vec::new(),
            origin: None,
            drafts: Vec::new(),
            names: BTreeMap::new(),
            largest_distance: None,
            development: None,
            inspector: None,
            strict: false,
            policy: PolicyTable::default(),
            areas: BTreeMap::new(),
            chains: BTreeMap::new(),
            paths: BTreeMap::new(),
            catalogs: CatalogsTable::default(),
            check: CheckTable::default(),
            messages: MessagesTable::default(),
            remember: RememberTable::default(),
            time_zone: None,
            switch: SwitchTable::default(),
            browser: BrowserTable::default(),
        }
    }

    pub(super) fn read(text: &str) -> Result<Self, ConfigError> {
        toml::from_str(text).map_err(|error| {
            let range = error.span().unwrap_or(0..0);
            let message = error.message().lines().collect::<Vec<_>>().join(" ");
            unknown(text, range.clone(), &message).unwrap_or_else(|| ConfigError::at(text, range, message))
        })
    }
}

/// A key, or a word for one, that is not known: `unknown field `x`, expected one of `a`, `b``, with the nearest one.
fn unknown(text: &str, range: Range<usize>, message: &str) -> Option<ConfigError> {
    let (what, others, rest) = match message.strip_prefix("unknown field ") {
        Some(rest) => ("is not a key of this table", "its keys are", rest),
        None => ("cannot be written here", "write one of", message.strip_prefix("unknown variant ")?),
    };
    let (word, expected) = rest.split_once(", expected ")?;
    let known: Vec<&str> = expected.split('`').skip(1).step_by(2).collect();
    let near = nearest(word.trim_matches('`'), known.iter().map(|known| (*known).to_owned()));
    let all = || known.iter().map(|known| format!("`{known}`")).collect::<Vec<_>>().join(", ");
    let help = near.map_or_else(|| format!("{others} {}", all()), |near| format!("did you mean `{near}`?"));
    Some(ConfigError::at(text, range, format!("{word} {what}")).with_help(help))
}
