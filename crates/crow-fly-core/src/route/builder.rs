//! Routes are declared in any order, and checked when all is known.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeMap;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use super::paths::PathsError;
use super::pattern::PathPattern;
use super::{PrefixError, Routes, simple};
use crate::locale_set::{LocaleId, LocaleSet};

/// How paths and locales are to go together. Made by [`Routes::builder`]; the order of its calls makes no difference.
///
/// ```
/// use crow_fly_core::{locale_set::LocaleSet, route::{PathPattern, Routes}, tag::LanguageTag};
///
/// let set = LocaleSet::parse(["en", "pt-BR"])?;
/// let brazil = set.exact(&LanguageTag::parse("pt-BR")?).unwrap();
/// let routes = Routes::builder(&set)
///     .with_former_prefix(brazil, "pt-BR")
///     .with_prefixes([(brazil, "br".to_owned())])
///     .with_page(&PathPattern::parse("/sailings")?, [(brazil, vec![PathPattern::parse("/travessias")?])])
///     .with_skip(["/assets"])
///     .build()?;
/// assert_eq!(routes.path(brazil, "/sailings"), "/br/travessias");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
#[must_use = "nothing is checked until `build` is called"]
pub struct RoutesBuilder {
    routes: Routes,
    former: Vec<(LocaleId, String)>,
    pages: Vec<(PathPattern, Localized)>,
}

/// The paths of a page in locales: the current one of each first.
type Localized = Vec<(LocaleId, Vec<PathPattern>)>;

/// Why routes cannot be had.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum RoutesError {
    /// A prefix cannot be had.
    Prefix(PrefixError),
    /// A page cannot have these paths.
    Page {
        /// Which page, in the order in which they were given, from 0.
        index: usize,
        /// Why.
        error: PathsError,
    },
}

impl fmt::Display for RoutesError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Prefix(error) => error.fmt(f),
            Self::Page { error, .. } => error.fmt(f),
        }
    }
}

crate::debug_as_shown!(RoutesError);

impl core::error::Error for RoutesError {}

impl Routes {
    /// Routes with more than tags as prefixes.
    pub fn builder(set: &LocaleSet) -> RoutesBuilder {
        RoutesBuilder { routes: Self::new(set), former: Vec::new(), pages: Vec::new() }
    }
}

impl RoutesBuilder {
    /// Puts the default locale under a prefix as well.
    pub const fn with_prefixed_default(mut self, prefixed: bool) -> Self {
        self.routes.prefixed_default = prefixed;
        self
    }

    /// Leaves paths alone that are one of these or below it: `/assets`. They are left alone behind a prefix, too.
    pub fn with_skip(mut self, paths: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.routes.skip =
            paths.into_iter().map(|path| simple(&path.into()).trim_end_matches('/').to_owned()).collect();
        self
    }

    /// Mounts the application below a path. Prefixes follow this base, and paths outside of it are left alone.
    pub fn with_base(mut self, base: &str) -> Self {
        base.trim_end_matches('/').clone_into(&mut self.routes.base);
        self
    }

    /// Declares that a proxy, or a router that this one is nested in, takes the base off: paths that are asked for, and the
    /// application's own, are without it, and addresses have it.
    pub const fn with_stripped_base(mut self, stripped: bool) -> Self {
        self.routes.base_stripped = stripped;
        self
    }

    /// Sets the prefixes of locales: those that are not named keep their tags.
    pub fn with_prefixes(mut self, prefixes: impl IntoIterator<Item = (LocaleId, String)>) -> Self {
        for (locale, prefix) in prefixes {
            if let Some(place) = self.routes.prefixes.get_mut(locale.index()) {
                *place = prefix;
            }
        }
        self
    }

    /// Adds a prefix that a locale had before: it is redirected to the present one.
    pub fn with_former_prefix(mut self, locale: LocaleId, prefix: impl Into<String>) -> Self {
        self.former.push((locale, prefix.into()));
        self
    }

    /// Translates the path of a page. Each locale has its current pattern first, and former ones after it.
    pub fn with_page(
        mut self,
        bare: &PathPattern,
        localized: impl IntoIterator<Item = (LocaleId, Vec<PathPattern>)>,
    ) -> Self {
        self.pages.push((bare.clone(), localized.into_iter().collect()));
        self
    }

    /// Checks everything together.
    ///
    /// # Errors
    /// Where a prefix is not a path segment, or two locales would have the same one, in whatever case; where an address would
    /// be of two pages, or none could match a pattern.
    pub fn build(self) -> Result<Routes, RoutesError> {
        let Self { mut routes, former, pages } = self;
        routes.lookup.clear();
        routes.longest_prefix = 0;
        let current = routes.prefixes.clone();
        let ids = (0..u16::MAX).map(LocaleId);
        for (prefix, locale) in current.iter().zip(ids) {
            routes.claim(prefix, locale).map_err(RoutesError::Prefix)?;
        }
        for (locale, prefix) in &former {
            routes.claim(prefix, *locale).map_err(RoutesError::Prefix)?;
        }
        for (index, (bare, localized)) in pages.into_iter().enumerate() {
            routes.add_page(&bare, localized).map_err(|error| RoutesError::Page { index, error })?;
        }
        Ok(routes)
    }
}

impl Routes {
    fn add_page(&mut self, bare: &PathPattern, localized: Localized) -> Result<(), PathsError> {
        let below = |pattern: &PathPattern| {
            let skipped = || PathsError::Skipped(pattern.to_string());
            let mount = PathPattern::parse(if self.mount().is_empty() { "/" } else { self.mount() });
            let inner = mount.ok().and_then(|mount| pattern.below(&mount)).ok_or_else(skipped)?;
            if self.skips(&pattern.literal_start()) { Err(skipped()) } else { Ok(inner) }
        };
        let inner = below(bare)?;
        let mut table = BTreeMap::new();
        for (locale, patterns) in localized {
            table.insert(locale, patterns.iter().map(below).collect::<Result<Vec<_>, _>>()?);
        }
        // Without a prefix of its own, the default's address begins with the pattern.
        let unprefixed: &[PathPattern] = match table.get(&self.default) {
            _ if self.prefixed_default => &[],
            Some(patterns) => patterns,
            None => core::slice::from_ref(&inner),
        };
        for pattern in unprefixed {
            if let Some(first) = pattern.first_literal().filter(|first| self.place_of(first).is_ok()) {
                return Err(PathsError::Prefix { pattern: pattern.to_string(), prefix: first.to_owned() });
            }
        }
        let names = &self.names;
        let name = |locale: LocaleId| names.get(locale.index()).cloned().unwrap_or_default();
        self.paths.add(inner, table, name)
    }
}
