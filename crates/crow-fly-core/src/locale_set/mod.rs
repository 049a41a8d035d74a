//! The locales an application has, and which of them suits a visitor.
//!
//! A [`LocaleSet`] is made once, when the application starts; every question after that takes no lock and, for
//! ordinary tags and headers, allocates nothing.
//!
//! | question | answer by |
//! |---|---|
//! | is this value one of ours? | [`LocaleSet::exact`] |
//! | which of ours suits this header best? | [`LocaleSet::closest`], UTS #35 language matching |
//! | which of ours suits this one tag best? | [`LocaleSet::closest_to`] |
//! | RFC 4647 §3.3.1, §3.3.2, §3.4 | [`filter_basic`](LocaleSet::filter_basic), [`filter_extended`](LocaleSet::filter_extended), [`lookup`](LocaleSet::lookup) |
//!
//! ```
//! use crow_fly_core::accept::AcceptLanguage;
//! use crow_fly_core::locale_set::LocaleSet;
//!
//! let set = LocaleSet::parse(["en", "en-GB", "cy", "es-419"])?;
//! let closest = |header| {
//!     let found = set.closest(&AcceptLanguage::parse(header))?;
//!     Some(set.text(found.locale).to_owned())
//! };
//! assert_eq!(closest("en-AU").as_deref(), Some("en-GB"));
//! assert_eq!(closest("es-MX, en;q=0.5").as_deref(), Some("es-419"));
//! assert_eq!(closest("ja").as_deref(), None);
//! # Ok::<(), crow_fly_core::locale_set::LocaleSetError>(())
//! ```

use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::Code;
use hashbrown::HashMap;

use crate::tag::{LanguageRange, LanguageTag, TagError, basic, extended};

mod closest;
mod distance;

pub use closest::{Match, MatchKind};
pub use distance::distance;

use closest::Nearness;

/// The locales of an application, each canonical and there once, the first of them the default if no other is set.
#[derive(Clone)]
pub struct LocaleSet {
    locales: Vec<Locale>,
    default: LocaleId,
    /// Plain tags by their subtags: what nearly every request asks for.
    plain: HashMap<(u64, u64), LocaleId>,
    /// All others by themselves.
    other: HashMap<LanguageTag, LocaleId>,
    nearness: Nearness,
    largest_distance: u8,
}

#[derive(Clone)]
struct Locale {
    tag: LanguageTag,
    maximal: (u64, u32, u32),
    text: String,
    /// Whether it can only be had by its name.
    draft: bool,
}

/// A locale of a [`LocaleSet`]: its place in it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct LocaleId(pub(crate) u16);

impl LocaleId {
    /// The place in the set, from 0.
    pub const fn index(self) -> usize {
        self.0 as usize
    }
}

impl LocaleSet {
    /// The largest distance unless configured: a match must be nearer than this.
    pub const LARGEST_DISTANCE: u8 = 50;

    /// The most locales a set may have.
    pub const MAX_LOCALES: usize = 4096;

    /// Makes a set from tags, in the application's own order; the first is the default.
    ///
    /// # Errors
    /// Where there is no locale, too many, or the same one twice, canonical forms compared.
    pub fn new(tags: impl IntoIterator<Item = LanguageTag>) -> Result<Self, LocaleSetError> {
        let mut locales: Vec<Locale> = Vec::new();
        let (mut plain, mut other) = (HashMap::new(), HashMap::new());
        for (at, mut tag) in tags.into_iter().enumerate() {
            tag.canonicalize();
            let id = u16::try_from(at).ok().filter(|at| usize::from(*at) < Self::MAX_LOCALES).map(LocaleId);
            let id = id.ok_or(LocaleSetError::TooMany)?;
            let earlier = if tag.is_plain() {
                plain.insert(plain_key(tag.codes()), id)
            } else {
                other.insert(tag.clone(), id)
            };
            if earlier.is_some() {
                return Err(LocaleSetError::Duplicate(tag));
            }
            locales.push(Locale {
                maximal: crate::tag::maximize(tag.codes()),
                text: tag.to_string(),
                tag,
                draft: false,
            });
        }
        if locales.is_empty() {
            return Err(LocaleSetError::Empty);
        }
        let nearness = Nearness::of(&locales);
        Ok(Self {
            locales,
            default: LocaleId(0),
            plain,
            other,
            nearness,
            largest_distance: Self::LARGEST_DISTANCE,
        })
    }

    /// Makes a set from texts, read leniently.
    ///
    /// # Errors
    /// As [`LocaleSet::new`], and where a text is no language tag.
    pub fn parse<T: AsRef<str>>(texts: impl IntoIterator<Item = T>) -> Result<Self, LocaleSetError> {
        let parse = |text: T| LanguageTag::parse_lenient(text.as_ref()).map_err(LocaleSetError::Tag);
        Self::new(texts.into_iter().map(parse).collect::<Result<Vec<_>, _>>()?)
    }

    /// Makes another locale the default: what a visitor with no usable preference gets.
    ///
    /// # Errors
    /// Where the tag is not in the set.
    pub fn with_default(mut self, tag: &LanguageTag) -> Result<Self, LocaleSetError> {
        self.default = self.exact(tag).ok_or_else(|| LocaleSetError::DefaultNotInSet(tag.clone()))?;
        Ok(self)
    }

    /// Makes locales drafts: they can be had by their name, for a preview, and nothing else leads to them. They are
    /// never matched.
    ///
    /// # Errors
    /// Where one of them is not in the set, or is the default.
    pub fn with_drafts<'t>(
        mut self,
        drafts: impl IntoIterator<Item = &'t LanguageTag>,
    ) -> Result<Self, LocaleSetError> {
        for tag in drafts {
            let found = self.exact(tag).ok_or_else(|| LocaleSetError::DraftNotInSet(tag.clone()))?;
            if found == self.default {
                return Err(LocaleSetError::DraftIsDefault(tag.clone()));
            }
            if let Some(locale) = self.locales.get_mut(found.index()) {
                locale.draft = true;
            }
        }
        self.nearness = Nearness::of(&self.locales);
        Ok(self)
    }

    /// Whether a locale is a draft.
    pub fn is_draft(&self, locale: LocaleId) -> bool {
        self.locales.get(locale.index()).is_some_and(|locale| locale.draft)
    }

    /// The locales that are offered to visitors: all but the drafts, in order.
    pub fn offered(&self) -> impl Iterator<Item = (LocaleId, &LanguageTag)> {
        self.iter().filter(|(locale, _)| !self.is_draft(*locale))
    }

    /// Sets the distance a match must stay below, from 1 (only what is the same) to 255 (nearly anything).
    ///
    /// Above 80 even languages without any relation match, and every locale must be compared.
    #[must_use]
    pub fn with_largest_distance(mut self, distance: u8) -> Self {
        self.largest_distance = distance.max(1);
        self
    }

    /// The default locale.
    pub const fn default_locale(&self) -> LocaleId {
        self.default
    }

    /// How many locales there are; at least one.
    #[expect(clippy::len_without_is_empty, reason = "a set is never empty")]
    pub fn len(&self) -> usize {
        self.locales.len()
    }

    /// Every locale, in the application's order.
    pub fn iter(&self) -> impl ExactSizeIterator<Item = (LocaleId, &LanguageTag)> {
        // At most 4096 of them, so the cast is exact.
        self.locales
            .iter()
            .enumerate()
            .map(|(at, locale)| (LocaleId(u16::try_from(at).unwrap_or(u16::MAX)), &locale.tag))
    }

    /// The canonical tag of a locale; `und` for an id of another set.
    pub fn tag(&self, locale: LocaleId) -> &LanguageTag {
        const UND: &LanguageTag = &LanguageTag::UND;
        self.locales.get(locale.index()).map_or(UND, |locale| &locale.tag)
    }

    /// The canonical tag of a locale as text.
    pub fn text(&self, locale: LocaleId) -> &str {
        self.locales.get(locale.index()).map_or("und", |locale| &locale.text)
    }

    /// The locale that is this tag, canonical forms compared. Nothing near it counts.
    ///
    /// ```
    /// # use crow_fly_core::{locale_set::LocaleSet, tag::LanguageTag};
    /// let set = LocaleSet::parse(["en", "he"])?;
    /// assert!(set.exact(&LanguageTag::parse("iw")?).is_some());
    /// assert!(set.exact(&LanguageTag::parse("en-GB")?).is_none());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn exact(&self, tag: &LanguageTag) -> Option<LocaleId> {
        if tag.is_plain() {
            // As written first: what is in the set is canonical already.
            if let Some(id) = self.exact_plain(tag.codes()) {
                return Some(id);
            }
        }
        let tag = tag.canonicalized();
        if tag.is_plain() { self.exact_plain(tag.codes()) } else { self.other.get(&tag).copied() }
    }

    /// The locale that has these subtags and no others, as they are.
    #[inline]
    fn exact_plain(&self, codes: (u64, Code, Code)) -> Option<LocaleId> {
        self.plain.get(&plain_key(codes)).copied()
    }

    /// The locales a range is the beginning of, canonical forms compared, in the application's order (RFC 4647 §3.3.1).
    pub fn filter_basic(&self, range: &LanguageRange) -> impl Iterator<Item = LocaleId> + use<'_> {
        let range = range.canonicalized();
        self.filter(move |text| basic(range.as_str(), text))
    }

    /// The locales that have a range's subtags in order, canonical forms compared (RFC 4647 §3.3.2).
    pub fn filter_extended(&self, range: &LanguageRange) -> impl Iterator<Item = LocaleId> + use<'_> {
        let range = range.canonicalized();
        self.filter(move |text| extended(range.as_str(), text))
    }

    fn filter(&self, holds: impl Fn(&str) -> bool) -> impl Iterator<Item = LocaleId> {
        self.iter().map(|(id, _)| id).filter(move |id| holds(self.text(*id)))
    }

    /// The first locale found by shortening each range as it is written, from the right, one range used up before the next
    /// (RFC 4647 §3.4); canonical forms are compared. None where the default would have to serve.
    pub fn lookup<'r>(&self, ranges: impl IntoIterator<Item = &'r LanguageRange>) -> Option<LocaleId> {
        let named =
            |text: &str| self.iter().map(|(id, _)| id).find(|id| self.text(*id).eq_ignore_ascii_case(text));
        // A canonical form may have its subtags in another order: it is made of what is left.
        let canonical = |text: String| LanguageRange::parse(&text).map(|range| range.canonicalized());
        let found = |text| canonical(text).ok().and_then(|range| named(range.as_str()));
        ranges.into_iter().find_map(|range| range.truncations().find_map(found))
    }
}

/// A plain tag as a key. Script and region are one number: two of four bytes would be written to memory for the hash,
/// and a processor waits where it reads eight bytes that were written as twice four.
#[inline]
fn plain_key((language, script, region): (u64, Code, Code)) -> (u64, u64) {
    (language, u64::from(script) << 32 | u64::from(region))
}

impl fmt::Debug for LocaleSet {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("LocaleSet")
            .field("locales", &self.locales.iter().map(|locale| &locale.text).collect::<Vec<_>>())
            .field("default", &self.text(self.default))
            .finish_non_exhaustive()
    }
}

/// Why locales make no set.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum LocaleSetError {
    /// There is no locale at all.
    Empty,
    /// There are more than [`LocaleSet::MAX_LOCALES`].
    TooMany,
    /// The same locale stands twice, canonical forms compared.
    Duplicate(LanguageTag),
    /// The default is not one of the locales.
    DefaultNotInSet(LanguageTag),
    /// A draft is not one of the locales.
    DraftNotInSet(LanguageTag),
    /// The default cannot be a draft.
    DraftIsDefault(LanguageTag),
    /// A text is not a language tag.
    Tag(TagError),
}

impl fmt::Display for LocaleSetError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Empty => f.write_str("an application needs at least one locale; list them in `locales`"),
            Self::TooMany => write!(f, "an application can have {} locales at most", LocaleSet::MAX_LOCALES),
            Self::Duplicate(tag) => write!(f, "the locale `{tag}` is listed twice; keep one of the two"),
            Self::DefaultNotInSet(tag) => {
                write!(f, "the default `{tag}` is not one of the locales; add it to them")
            }
            Self::DraftNotInSet(tag) => {
                write!(f, "the draft `{tag}` is not one of the locales; add it to them")
            }
            Self::DraftIsDefault(tag) => {
                write!(f, "the default `{tag}` cannot be a draft; make another locale the default")
            }
            Self::Tag(_) => f.write_str("a locale is not a language tag"),
        }
    }
}

crate::debug_as_shown!(LocaleSetError);

impl core::error::Error for LocaleSetError {
    fn source(&self) -> Option<&(dyn core::error::Error + 'static)> {
        match self {
            Self::Tag(error) => Some(error),
            _ => None,
        }
    }
}
