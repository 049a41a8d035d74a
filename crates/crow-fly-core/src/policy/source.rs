//! Where a locale can come from.

use core::fmt;
use core::str::FromStr;

use crate::parse_error::ParseValueError;

/// A source of a decision.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
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
    pub(super) const fn bit(self) -> u16 {
        1 << self as u16
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
        found.ok_or_else(|| ParseValueError::new("a source of locales", name, "write `path`, `host`, `query`, `header`, `visitor`, `session`, `cookie`, `accept-language` or `default`"))
    }
}
