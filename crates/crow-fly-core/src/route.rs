//! Localized addresses: which locale a path names, and how a page is addressed in a locale.
//!
//! Pure string work. Paths are as HTTP has them, percent-encoded; the application's own paths, without prefix and
//! with the segments it uses itself, are called bare.
//!
//! ```
//! use crow_fly_core::{locale_set::LocaleSet, route::{PathMatch, Routes}, tag::LanguageTag};
//!
//! let set = LocaleSet::parse(["en", "cy"])?;
//! let routes = Routes::new();
//! let welsh = set.exact(&LanguageTag::parse("cy")?).unwrap();
//! assert_eq!(routes.path(&set, welsh, "/sailings?day=2#top"), "/cy/sailings?day=2#top");
//! let PathMatch::Page { locale, path } = routes.read(&set, "/cy/sailings") else { panic!() };
//! assert_eq!((locale, &*path), (Some(welsh), "/sailings"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::borrow::{Cow, ToOwned};
use alloc::collections::BTreeMap;
use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::names::OWN;
use percent_encoding::{AsciiSet, CONTROLS, percent_decode_str, utf8_percent_encode};

use crate::locale_set::{LocaleId, LocaleSet};
use crate::tag::{LanguageTag, plain};

/// How paths and locales go together.
#[derive(Clone, Debug)]
pub struct Routes {
    base: String,
    prefixed_default: bool,
    unsupported: Unsupported,
    skip: Vec<String>,
    /// For each locale, the translated segments: bare one and localized one, decoded.
    segments: BTreeMap<LocaleId, Segments>,
}

#[derive(Clone, Debug, Default)]
struct Segments {
    localized: BTreeMap<String, String>,
    bare: BTreeMap<String, String>,
}

/// What a first segment is that names a real language the application does not have.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Unsupported {
    /// An address that does not exist.
    #[default]
    NotFound,
    /// A page of that name: `/is` may be one.
    Page,
}

/// What a path says.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum PathMatch<'p> {
    /// Not a page of the application's: nothing is done with it.
    Skipped,
    /// A page: the locale its prefix names, if it has one, and its bare path.
    Page {
        /// The locale of the prefix; none where there is none.
        locale: Option<LocaleId>,
        /// The path without it, in the application's own segments.
        path: Cow<'p, str>,
    },
    /// Another writing of an address of a locale.
    Moved {
        /// The locale it names.
        locale: LocaleId,
        /// The one address the page has.
        address: String,
    },
    /// The prefix names a real language that is not supported.
    Unsupported,
}

/// A table of translated segments in which one address would mean two pages.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AmbiguousSegment {
    /// The locale.
    pub locale: String,
    /// The localized segment that stands for both.
    pub segment: String,
    /// The two bare segments.
    pub bare: [String; 2],
}

impl fmt::Display for AmbiguousSegment {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [one, other] = &self.bare;
        write!(
            f,
            "in `{}` the path segment `{}` would stand for both `{one}` and `{other}`: translate one of them otherwise",
            self.locale, self.segment
        )
    }
}

impl core::error::Error for AmbiguousSegment {}

impl Default for Routes {
    fn default() -> Self {
        Self::new()
    }
}

/// What a path segment escapes: everything that is not a `pchar` (RFC 3986 §3.3), and the backslash.
const SEGMENT: &AsciiSet = &CONTROLS
    .add(b' ')
    .add(b'"')
    .add(b'#')
    .add(b'%')
    .add(b'/')
    .add(b'<')
    .add(b'>')
    .add(b'?')
    .add(b'[')
    .add(b'\\')
    .add(b']')
    .add(b'^')
    .add(b'`')
    .add(b'{')
    .add(b'|')
    .add(b'}');

impl Routes {
    /// Prefixes for every locale but the default, from the root on; real languages that are not supported do not
    /// exist.
    pub const fn new() -> Self {
        Self {
            base: String::new(),
            prefixed_default: false,
            unsupported: Unsupported::NotFound,
            skip: Vec::new(),
            segments: BTreeMap::new(),
        }
    }

    /// Puts the default locale under a prefix as well.
    #[must_use]
    pub const fn with_prefixed_default(mut self, prefixed: bool) -> Self {
        self.prefixed_default = prefixed;
        self
    }

    /// Sets what becomes of real languages that are not supported.
    #[must_use]
    pub const fn with_unsupported(mut self, unsupported: Unsupported) -> Self {
        self.unsupported = unsupported;
        self
    }

    /// Leaves paths alone that are one of these or below it: `/assets`.
    #[must_use]
    pub fn with_skip(mut self, paths: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.skip = paths.into_iter().map(|path| path.into().trim_end_matches('/').to_owned()).collect();
        self
    }

    /// Mounts the application below a path: prefixes stand behind it, and all other paths are left alone.
    #[must_use]
    pub fn with_base(mut self, base: &str) -> Self {
        base.trim_end_matches('/').clone_into(&mut self.base);
        self
    }

    /// Translates a segment for a locale: `sailings` as `teithiau`, both decoded.
    ///
    /// # Errors
    /// Where the localized segment already stands for another one.
    pub fn with_segment(
        mut self,
        set: &LocaleSet,
        locale: LocaleId,
        bare: &str,
        localized: &str,
    ) -> Result<Self, AmbiguousSegment> {
        let segments = self.segments.entry(locale).or_default();
        let ambiguous = |other: &str| AmbiguousSegment {
            locale: set.text(locale).to_owned(),
            segment: localized.to_owned(),
            bare: [other.to_owned(), bare.to_owned()],
        };
        if let Some(other) = segments.bare.get(localized).filter(|other| *other != bare) {
            return Err(ambiguous(other));
        }
        if let Some(earlier) = segments.localized.insert(bare.to_owned(), localized.to_owned()) {
            segments.bare.remove(&earlier);
        }
        segments.bare.insert(localized.to_owned(), bare.to_owned());
        Ok(self)
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
        path.strip_prefix(self.base.as_str()).is_some_and(|rest| matches!(rest, "" | "/"))
    }

    /// Whether a path is left alone: it is skipped, or outside of the base.
    pub fn skips(&self, path: &str) -> bool {
        let below = |start: &str, path: &str| {
            path.strip_prefix(start).is_some_and(|rest| rest.is_empty() || rest.starts_with('/'))
        };
        !below(&self.base, path) || self.skip.iter().any(|skip| below(skip, path))
    }

    /// Reads a path, without query.
    pub fn read<'p>(&self, set: &LocaleSet, path: &'p str) -> PathMatch<'p> {
        if self.skips(path) {
            return PathMatch::Skipped;
        }
        let inner = path.get(self.base.len()..).unwrap_or_default();
        let (segment, rest) = first_segment(inner);
        match self.prefix(set, segment) {
            Prefix::None => self.page(set, None, path, inner),
            Prefix::Unsupported => PathMatch::Unsupported,
            Prefix::Locale(locale) => {
                let bare_default = locale == set.default_locale() && !self.prefixed_default;
                if bare_default || set.text(locale) != segment {
                    return self.moved(set, locale, &self.bare(locale, rest).unwrap_or_else(Cow::Owned));
                }
                self.page(set, Some(locale), path, rest)
            }
        }
    }

    /// A page whose segments may be translated.
    fn page<'p>(
        &self,
        set: &LocaleSet,
        locale: Option<LocaleId>,
        path: &'p str,
        rest: &'p str,
    ) -> PathMatch<'p> {
        match self.bare(locale.unwrap_or(set.default_locale()), rest) {
            // A segment in the application's own words where the locale has another one: one page, one address.
            Err(bare) => self.moved(set, locale.unwrap_or(set.default_locale()), &bare),
            Ok(bare) if self.base.is_empty() => PathMatch::Page { locale, path: bare },
            Ok(bare) => {
                let whole = self.with_base_of(&bare);
                PathMatch::Page {
                    locale,
                    path: if whole == path { Cow::Borrowed(path) } else { Cow::Owned(whole) },
                }
            }
        }
    }

    fn moved<'p>(&self, set: &LocaleSet, locale: LocaleId, bare: &str) -> PathMatch<'p> {
        // A page of the default whose own path begins with a locale has no bare address: it would read as that
        // locale's.
        let bare_default = locale == set.default_locale() && !self.prefixed_default;
        if bare_default && !matches!(self.prefix(set, first_segment(bare).0), Prefix::None) {
            return PathMatch::Unsupported;
        }
        PathMatch::Moved { locale, address: self.path(set, locale, &self.with_base_of(bare)) }
    }

    fn with_base_of(&self, path: &str) -> String {
        alloc::format!("{}{path}", self.base)
    }

    /// The path in the application's own segments; as an error where it was written in them already though the
    /// locale has others.
    fn bare<'p>(&self, locale: LocaleId, path: &'p str) -> Result<Cow<'p, str>, String> {
        let Some(segments) = self.segments.get(&locale) else { return Ok(Cow::Borrowed(path)) };
        let mut moved = false;
        let map = |segment: &str| {
            let decoded = percent_decode_str(segment).decode_utf8().ok()?;
            if let Some(bare) = segments.bare.get(&*decoded) {
                return Some(encode(bare));
            }
            moved |= segments.localized.contains_key(&*decoded);
            None
        };
        let bare = map_segments(path, map);
        if moved { Err(bare) } else { Ok(Cow::Owned(bare)) }
    }

    fn prefix(&self, set: &LocaleSet, segment: &str) -> Prefix {
        // Most paths are told from tags by the length of their first word.
        let first = segment.bytes().position(|byte| matches!(byte, b'-' | b'_')).unwrap_or(segment.len());
        if !(2..=35).contains(&segment.len())
            || !set.may_be_language(first)
            || !segment.bytes().all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_'))
        {
            return Prefix::None;
        }
        let Some(tag) = plain(segment.as_bytes()).or_else(|| LanguageTag::parse_lenient(segment).ok()) else {
            return Prefix::None;
        };
        match set.exact(&tag) {
            Some(locale) => Prefix::Locale(locale),
            None if self.unsupported == Unsupported::NotFound && OWN.has(&tag.canonicalized().language()) => {
                Prefix::Unsupported
            }
            None => Prefix::None,
        }
    }

    /// The address of a page in a locale. The path is bare; query and fragment behind it are kept.
    ///
    /// The result always begins with one slash, so that it can be a redirect's target or a link.
    pub fn path(&self, set: &LocaleSet, locale: LocaleId, path: &str) -> String {
        let end = path.find(['?', '#']).unwrap_or(path.len());
        let (path, behind) = path.split_at_checked(end).unwrap_or((path, ""));
        let inner = path
            .strip_prefix(self.base.as_str())
            .filter(|inner| self.base.is_empty() || inner.is_empty() || inner.starts_with('/'));
        let Some(inner) = inner else { return local(&alloc::format!("{path}{behind}")).into_owned() };
        let rest = match self.segments.get(&locale) {
            Some(segments) => Cow::Owned(map_segments(inner, |segment| {
                let decoded = percent_decode_str(segment).decode_utf8().ok()?;
                segments.localized.get(&*decoded).map(|localized| encode(localized))
            })),
            None => Cow::Borrowed(inner),
        };
        if locale == set.default_locale() && !self.prefixed_default {
            let rest = if rest.is_empty() { "/" } else { &*rest };
            let path = alloc::format!("{}{rest}{behind}", self.base);
            return owned_local(path);
        }
        let slash = if rest.is_empty() || rest.starts_with('/') { "" } else { "/" };
        let rest = if rest == "/" { "" } else { &*rest };
        owned_local(alloc::format!("{}/{}{slash}{rest}{behind}", self.base, set.text(locale)))
    }
}

enum Prefix {
    None,
    Locale(LocaleId),
    Unsupported,
}

/// The first segment of a path, and what is behind it: at least a slash.
fn first_segment(path: &str) -> (&str, &str) {
    let after = path.strip_prefix('/').unwrap_or(path);
    let segment = after.split('/').next().unwrap_or_default();
    (segment, after.get(segment.len()..).filter(|rest| !rest.is_empty()).unwrap_or("/"))
}

/// The same as [`local`], for an address that most often is local already.
fn owned_local(address: String) -> String {
    match local(&address) {
        Cow::Borrowed(_) => address,
        Cow::Owned(local) => local,
    }
}

/// What stands escaped in an address: what is not ASCII or not visible, and the backslash, which browsers take for a
/// slash.
const ADDRESS: &AsciiSet = &CONTROLS.add(b' ').add(b'\\');

/// An address, path first, that no browser takes for another host's: it begins with one slash, and has neither
/// backslash, nor space, nor control character, nor a character outside ASCII.
///
/// ```
/// use crow_fly_core::route::local;
///
/// assert_eq!(local("/cy/sailings?day=2"), "/cy/sailings?day=2");
/// assert_eq!(local("//evil.example"), "/.//evil.example");
/// assert_eq!(local("/\\evil.example"), "/%5Cevil.example");
/// assert_eq!(local("https://evil.example"), "/https://evil.example");
/// assert_eq!(local("/caffè"), "/caff%C3%A8");
/// ```
pub fn local(address: &str) -> Cow<'_, str> {
    let escaped = Cow::from(utf8_percent_encode(address, ADDRESS));
    if escaped.starts_with("//") {
        // Browsers take `/.//x` for the path `//x` of the same host (WHATWG URL §4.5).
        return Cow::Owned(alloc::format!("/.{escaped}"));
    }
    if escaped.starts_with('/') { escaped } else { Cow::Owned(alloc::format!("/{escaped}")) }
}

/// The path with each segment replaced for which there is another one.
fn map_segments(path: &str, mut map: impl FnMut(&str) -> Option<String>) -> String {
    let mut mapped = String::with_capacity(path.len());
    for (at, segment) in path.split('/').enumerate() {
        if at > 0 {
            mapped.push('/');
        }
        match map(segment).filter(|_| !segment.is_empty()) {
            Some(other) => mapped.push_str(&other),
            None => mapped.push_str(segment),
        }
    }
    mapped
}

fn encode(segment: &str) -> String {
    utf8_percent_encode(segment, SEGMENT).collect()
}

/// Whether an address is safe to return a visitor to: a path of the same host, with no control characters.
///
/// ```
/// use crow_fly_core::route::is_local;
///
/// assert!(is_local("/cy/sailings?day=2"));
/// for forged in ["//evil.example", "/\\evil.example", "https://evil.example", "/a\nb", "sailings", ""] {
///     assert!(!is_local(forged));
/// }
/// ```
pub fn is_local(address: &str) -> bool {
    let bytes = address.as_bytes();
    address.len() <= 4096
        && bytes.first() == Some(&b'/')
        && !matches!(bytes.get(1), Some(b'/' | b'\\'))
        // Browsers drop tabs and line breaks before they read an address: none may be in it.
        && bytes.iter().all(|byte| *byte > 0x20 && *byte < 0x7f && *byte != b'\\')
}
