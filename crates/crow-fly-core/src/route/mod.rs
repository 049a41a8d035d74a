//! Localized addresses: which locale a path names, and how a page is addressed in a locale.
//!
//! Pure string work. Paths are as HTTP has them, percent-encoded; the application's own paths, without prefix and
//! not translated, are called bare.
//!
//! ```
//! use crow_fly_core::{locale_set::LocaleSet, route::{PathMatch, Routes}, tag::LanguageTag};
//!
//! let set = LocaleSet::parse(["en", "cy"])?;
//! let routes = Routes::new(&set);
//! let welsh = set.exact(&LanguageTag::parse("cy")?).unwrap();
//! assert_eq!(routes.path(welsh, "/sailings?day=2#top"), "/cy/sailings?day=2#top");
//! let PathMatch::Page { locale, path } = routes.read("/cy/sailings") else { panic!() };
//! assert_eq!((locale, &*path), (Some(welsh), "/sailings"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::borrow::{Cow, ToOwned};
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::cmp::Ordering;
use core::fmt;

use crate::locale_set::{LocaleId, LocaleSet};

mod builder;
mod local;
mod paths;
mod pattern;

pub use builder::{RoutesBuilder, RoutesError};
use local::owned_local;
pub use local::{is_local, local};
pub use paths::PathsError;
use paths::{Paths, Translation};
use pattern::normalized;
pub use pattern::{PathPattern, PatternError};

/// How paths and locales go together.
#[derive(Clone, Debug)]
pub struct Routes {
    base: String,
    /// Whether a proxy or a router has taken the base off what is asked for.
    base_stripped: bool,
    default: LocaleId,
    prefixed_default: bool,
    skip: Vec<String>,
    /// The prefix of each locale, in the order of the set.
    prefixes: Vec<String>,
    /// The prefixes and the former ones, in lower case and sorted.
    lookup: Vec<(String, LocaleId)>,
    /// The length of the longest of them: most segments are longer, and need not be looked up.
    longest_prefix: usize,
    paths: Paths,
    /// Names of locales for errors, in the order of the set.
    names: Vec<String>,
}

/// What a path means.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum PathMatch<'p> {
    /// Not a page of the application's: nothing is done with it.
    Skipped,
    /// A page: the locale its prefix names, if it has one, and its bare path.
    Page {
        /// The locale of the prefix, if the path has one.
        locale: Option<LocaleId>,
        /// The path without it, as the application knows it.
        path: Cow<'p, str>,
    },
    /// Another spelling of an address of a locale, or a former one.
    Moved {
        /// The locale it names.
        locale: LocaleId,
        /// The one address the page has.
        address: String,
    },
}

/// Why a prefix cannot be had.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum PrefixError {
    /// It is not a segment of letters, digits, `-`, `_`, `.` and `~`.
    NotASegment(String),
    /// It is the prefix, or a former one, of another locale.
    Taken {
        /// The prefix.
        prefix: String,
        /// The locale that has it.
        by: String,
    },
}

impl fmt::Display for PrefixError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NotASegment(text) => write!(
                f,
                "`{}` is not a prefix; use ASCII letters, digits, `-`, `_`, `.` and `~`",
                text.escape_debug()
            ),
            Self::Taken { prefix, by } => {
                write!(f, "the prefix `{prefix}` is that of `{by}` already; choose another one")
            }
        }
    }
}

crate::debug_as_shown!(PrefixError);

impl core::error::Error for PrefixError {}

impl Routes {
    /// The tags as prefixes, for every locale but the default, from the root on. For all else there is a
    /// [`builder`](Self::builder).
    pub fn new(set: &LocaleSet) -> Self {
        let names: Vec<String> = set.iter().map(|(_, tag)| tag.to_string()).collect();
        let mut routes = Self {
            base: String::new(),
            base_stripped: false,
            default: set.default_locale(),
            prefixed_default: false,
            skip: Vec::new(),
            prefixes: names.clone(),
            lookup: set.iter().map(|(locale, tag)| (tag.to_string().to_ascii_lowercase(), locale)).collect(),
            longest_prefix: names.iter().map(String::len).max().unwrap_or_default(),
            paths: Paths::default(),
            names,
        };
        routes.lookup.sort_unstable();
        routes
    }

    fn claim(&mut self, prefix: &str, locale: LocaleId) -> Result<(), PrefixError> {
        let is_segment = !matches!(prefix, "" | "." | "..")
            && prefix
                .bytes()
                .all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_' | b'.' | b'~'));
        if !is_segment {
            return Err(PrefixError::NotASegment(prefix.to_owned()));
        }
        match self.place_of(prefix) {
            Ok(place) => {
                let by = self.lookup.get(place).map_or("", |(_, other)| self.name(*other));
                Err(PrefixError::Taken { prefix: prefix.to_owned(), by: by.to_owned() })
            }
            Err(place) => {
                self.lookup.insert(place, (prefix.to_ascii_lowercase(), locale));
                self.longest_prefix = self.longest_prefix.max(prefix.len());
                Ok(())
            }
        }
    }

    /// The base as it stands before paths that are asked for.
    const fn mount(&self) -> &str {
        if self.base_stripped { "" } else { self.base.as_str() }
    }

    /// A path without the base, where it begins with it.
    fn inner<'p>(&self, path: &'p str) -> Option<&'p str> {
        let mount = self.mount();
        // Most have no base. The address of an empty string is not mapped, and `memcmp` of some C libraries takes 100 ns to
        // find out that it need not read there.
        if mount.is_empty() { Some(path) } else { path.strip_prefix(mount) }
    }

    fn name(&self, locale: LocaleId) -> &str {
        self.names.get(locale.index()).map_or("", String::as_str)
    }

    /// The path the application is mounted below; empty for the root.
    pub fn base(&self) -> &str {
        &self.base
    }

    /// Whether the default locale has a prefix, too.
    pub const fn has_prefixed_default(&self) -> bool {
        self.prefixed_default
    }

    /// Whether a bare path is the application's home page.
    pub fn is_root(&self, path: &str) -> bool {
        self.inner(path).is_some_and(|inner| matches!(inner, "" | "/"))
    }

    /// Whether a path is left alone: it is skipped, or outside of the base. However it is spelled: `/%61ssets` and
    /// `/./assets` are `/assets`.
    pub fn skips(&self, path: &str) -> bool {
        if !self.inner(path).is_some_and(is_at_segment_end) {
            return true;
        }
        !self.skip.is_empty() && self.is_skipped(&simple(path))
    }

    fn is_skipped(&self, path: &str) -> bool {
        self.skip.iter().any(|skip| is_below(skip, path))
    }

    /// Reads a path, without query.
    pub fn read<'p>(&self, path: &'p str) -> PathMatch<'p> {
        if self.skips(path) {
            return PathMatch::Skipped;
        }
        let inner = self.inner(path).unwrap_or_default();
        let (segment, behind) = first_segment(inner);
        let Some(locale) = self.prefix(segment) else { return self.page(None, path, inner) };
        let rest = if behind.is_empty() { "/" } else { behind };
        // Rules for what is skipped hold for the path that a prefix stands before, too.
        if !self.skip.is_empty() && self.is_skipped(&simple(&self.with_base_of(rest))) {
            return PathMatch::Skipped;
        }
        let bare_default = locale == self.default && !self.prefixed_default;
        let is_written_so = self.prefixes.get(locale.index()).is_some_and(|prefix| prefix == segment);
        if !bare_default && is_written_so && behind != "/" {
            return self.page(Some(locale), path, rest);
        }
        // A page of the default whose own path begins with a prefix has no address: it would read as another
        // locale's. The path is the application's, as it is.
        if bare_default && self.prefix(first_segment(rest).0).is_some() {
            return PathMatch::Page { locale: None, path: Cow::Borrowed(path) };
        }
        let bare = match self.paths.read(locale, rest) {
            Translation::Bare(bare) => Cow::Owned(bare),
            Translation::Moved(localized) => return self.moved_to(locale, &localized),
            Translation::None => Cow::Borrowed(rest),
        };
        PathMatch::Moved { locale, address: self.address(locale, &self.with_base_of(&bare)) }
    }

    /// The address that a page has in the locale of a path's prefix, where the rest of the path is an address of the page in another
    /// locale: `/cy/rejsy/7` is `/cy/teithiau/7`. None where there is no prefix, where the path is one of its own locale, and where no
    /// page has it, or more than one.
    ///
    /// It is for requests that the application has answered with 404: its own routes come first.
    pub fn address_of_other_language(&self, path: &str) -> Option<String> {
        if self.paths.is_empty() || !matches!(self.read(path), PathMatch::Page { locale: Some(_), .. }) {
            return None;
        }
        let (segment, rest) = first_segment(self.inner(path)?);
        let locale = self.prefix(segment)?;
        if !matches!(self.paths.read(locale, rest), Translation::None) {
            return None;
        }
        let localized = self.paths.of_other_locales(locale, rest)?;
        Some(self.prefixed(locale, &localized, ""))
    }

    /// A page whose path may be translated.
    fn page<'p>(&self, locale: Option<LocaleId>, path: &'p str, rest: &'p str) -> PathMatch<'p> {
        let translation = if self.paths.is_empty() {
            Translation::None
        } else {
            self.paths.read(locale.unwrap_or(self.default), rest)
        };
        match translation {
            // The bare path where the locale has another one, or a former one: one page, one address.
            Translation::Moved(localized) => self.moved_to(locale.unwrap_or(self.default), &localized),
            Translation::Bare(bare) => PathMatch::Page { locale, path: Cow::Owned(self.with_base_of(&bare)) },
            Translation::None if locale.is_none() => PathMatch::Page { locale, path: Cow::Borrowed(path) },
            Translation::None if self.mount().is_empty() => {
                PathMatch::Page { locale, path: Cow::Borrowed(rest) }
            }
            Translation::None => PathMatch::Page { locale, path: Cow::Owned(self.with_base_of(rest)) },
        }
    }

    /// Another spelling of an address, given by its localized path.
    fn moved_to<'p>(&self, locale: LocaleId, localized: &str) -> PathMatch<'p> {
        PathMatch::Moved { locale, address: self.prefixed(locale, localized, "") }
    }

    fn with_base_of(&self, path: &str) -> String {
        alloc::format!("{}{path}", self.mount())
    }

    /// The locale of a prefix, in whatever case it is written.
    fn prefix(&self, segment: &str) -> Option<LocaleId> {
        if segment.len() > self.longest_prefix {
            return None;
        }
        let place = self.place_of(segment).ok()?;
        self.lookup.get(place).map(|(_, locale)| *locale)
    }

    fn place_of(&self, prefix: &str) -> Result<usize, usize> {
        let in_order = |known: &str| -> Ordering {
            known.bytes().cmp(prefix.bytes().map(|byte| byte.to_ascii_lowercase()))
        };
        self.lookup.binary_search_by(|(known, _)| in_order(known))
    }

    /// The address of a page in a locale. The path is bare; query and fragment behind it are kept. What is skipped stays
    /// as it is, and so does a path that begins with a locale's prefix: it is an address already.
    ///
    /// The result always begins with one slash, so that it can be a redirect's target or a link.
    pub fn path(&self, locale: LocaleId, path: &str) -> String {
        let inner = self.inner(path).unwrap_or_default();
        let first = inner.strip_prefix('/').unwrap_or(inner).split(['/', '?', '#']).next();
        if first.is_some_and(|first| self.prefix(first).is_some()) {
            return self.unlocalized(path);
        }
        self.address(locale, path)
    }

    /// The path that is asked for when a browser follows an address: without the base, where others take that off.
    pub fn asked_for<'p>(&self, address: &'p str) -> &'p str {
        if !self.base_stripped {
            return address;
        }
        match address.strip_prefix(self.base.as_str()) {
            Some("") => "/",
            Some(rest) if rest.starts_with(['/', '?', '#']) => rest,
            _ => address,
        }
    }

    /// The address of a path that is not localized: as it is, behind the base where others take that off.
    pub fn unlocalized(&self, path: &str) -> String {
        if self.base_stripped && !self.base.is_empty() {
            return owned_local(alloc::format!("{}{}", self.base, local(path)));
        }
        local(path).into_owned()
    }

    /// The address of a page in a locale, by its bare path, whatever that begins with.
    pub(crate) fn address(&self, locale: LocaleId, path: &str) -> String {
        let end = memchr::memchr2(b'?', b'#', path.as_bytes()).unwrap_or(path.len());
        let (path, behind) = path.split_at_checked(end).unwrap_or((path, ""));
        let inner = self.inner(path).filter(|inner| self.mount().is_empty() || is_at_segment_end(inner));
        let skipped = || !self.skip.is_empty() && self.is_skipped(&simple(path));
        match inner.filter(|_| !skipped()) {
            None => self.unlocalized(&alloc::format!("{path}{behind}")),
            Some(inner) => match self.paths.localize(locale, inner) {
                Some(localized) => self.prefixed(locale, &localized, behind),
                None => self.prefixed(locale, inner, behind),
            },
        }
    }

    /// An address from its localized path: base, prefix, path, and what is behind it.
    fn prefixed(&self, locale: LocaleId, localized: &str, behind: &str) -> String {
        if locale == self.default && !self.prefixed_default {
            let path = if localized.is_empty() { "/" } else { localized };
            return owned_local([self.base.as_str(), path, behind].concat());
        }
        let slash = if localized.is_empty() || localized.starts_with('/') { "" } else { "/" };
        let path = if localized == "/" { "" } else { localized };
        let prefix = self.prefixes.get(locale.index()).map_or("", String::as_str);
        owned_local([self.base.as_str(), "/", prefix, slash, path, behind].concat())
    }
}

/// Whether a path is another one, or below it.
pub fn is_below(start: &str, path: &str) -> bool {
    path.strip_prefix(start).is_some_and(is_at_segment_end)
}

/// Whether the rest of a path begins where a segment ends.
fn is_at_segment_end(rest: &str) -> bool {
    rest.is_empty() || rest.starts_with('/')
}

/// The first segment of a path, and what is behind it.
fn first_segment(path: &str) -> (&str, &str) {
    let after = path.strip_prefix('/').unwrap_or(path);
    let end = after.bytes().position(|byte| byte == b'/').unwrap_or(after.len());
    after.split_at_checked(end).unwrap_or((after, ""))
}

/// A path as a careless reader takes it: without empty segments, `.` and `..`, and with nothing escaped that need not
/// be (RFC 3986 §5.2.4, §6.2.2).
fn simple(path: &str) -> Cow<'_, str> {
    let is_plain = |segment: &str| !matches!(segment, "" | "." | "..") && !segment.contains('%');
    let inner = path.strip_prefix('/').unwrap_or(path);
    let inner = inner.strip_suffix('/').unwrap_or(inner);
    if path == "/" || path.starts_with('/') && inner.split('/').all(is_plain) {
        return Cow::Borrowed(path);
    }
    let mut segments: Vec<Cow<'_, str>> = Vec::new();
    for segment in path.split('/') {
        match normalized(segment) {
            segment if matches!(&*segment, "" | ".") => {}
            segment if segment == ".." => {
                segments.pop();
            }
            segment => segments.push(segment),
        }
    }
    let mut simple = String::with_capacity(path.len());
    for segment in segments {
        simple.push('/');
        simple.push_str(&segment);
    }
    Cow::Owned(simple)
}
