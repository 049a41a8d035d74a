//! Where a locale can come from.

use alloc::string::String;
use core::fmt;
use core::str::FromStr;

use crate::parse_error::ParseValueError;

/// A source of a decision. Whoever matches it names every one: a new source is a new member, and the compiler shows each
/// place that must know it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum LocaleSource {
    /// The first segment of the path.
    Path,
    /// The host, or its first label.
    Host,
    /// A query parameter.
    Query,
    /// A request header that a front end sets.
    Header,
    /// The signed-in visitor's own setting.
    Visitor,
    /// The session.
    Session,
    /// A cookie.
    Cookie,
    /// The Accept-Language header.
    AcceptLanguage,
    /// The application's default.
    Default,
}

impl LocaleSource {
    /// Every source.
    pub const ALL: &'static [Self] = &[
        Self::Path,
        Self::Host,
        Self::Query,
        Self::Header,
        Self::Visitor,
        Self::Session,
        Self::Cookie,
        Self::AcceptLanguage,
        Self::Default,
    ];

    /// How many there are.
    pub(super) const COUNT: usize = Self::ALL.len();

    /// The default sources.
    pub const USUAL: &'static [Self] =
        &[Self::Path, Self::Session, Self::Cookie, Self::AcceptLanguage, Self::Default];

    /// The name, as configuration writes it.
    pub const fn as_str(self) -> &'static str {
        match self {
            Self::Path => "path",
            Self::Host => "host",
            Self::Query => "query",
            Self::Header => "header",
            Self::Visitor => "visitor",
            Self::Session => "session",
            Self::Cookie => "cookie",
            Self::AcceptLanguage => "accept-language",
            Self::Default => "default",
        }
    }

    /// The bit that stands for the source in a set of them.
    const fn bit(self) -> u16 {
        1 << self as u16
    }
}

/// A set of sources.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Sources(u16);

impl Sources {
    pub(super) const fn none() -> Self {
        Self(0)
    }

    pub(super) const fn insert(&mut self, source: LocaleSource) {
        self.0 |= source.bit();
    }

    /// Whether a source is in it.
    pub const fn contains(self, source: LocaleSource) -> bool {
        self.0 & source.bit() != 0
    }

    /// Whether no source is in it.
    pub const fn is_empty(self) -> bool {
        self.0 == 0
    }

    /// The sources, in the order of [`LocaleSource::ALL`].
    pub fn iter(self) -> impl Iterator<Item = LocaleSource> {
        LocaleSource::ALL.iter().copied().filter(move |source| self.contains(*source))
    }
}

impl fmt::Display for LocaleSource {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

impl FromStr for LocaleSource {
    type Err = ParseValueError;

    fn from_str(name: &str) -> Result<Self, ParseValueError> {
        let found = Self::ALL.iter().copied().find(|source| source.as_str() == name);
        found.ok_or_else(|| ParseValueError::new("a source of locales", name, one_of_all()))
    }
}

/// `write "path", "host" or "query"`, of all.
fn one_of_all() -> String {
    let mut text = String::from("write ");
    for (at, source) in LocaleSource::ALL.iter().enumerate() {
        text.push_str(match at {
            0 => "`",
            _ if at + 1 == LocaleSource::COUNT => "` or `",
            _ => "`, `",
        });
        text.push_str(source.as_str());
    }
    text.push('`');
    text
}
