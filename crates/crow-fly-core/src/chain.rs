//! Chains: the locales tried for one message, nearest first, the default last.
//!
//! A chain follows what the application sets for a locale, or else CLDR's parents (UTS #35 part 1, §4.2), and only
//! through locales that have catalogs. Chains are computed once, when the application starts.
//!
//! ```
//! use crow_fly_core::{chain::Chains, locale_set::LocaleSet, tag::LanguageTag};
//!
//! let tag = |text| LanguageTag::parse(text).unwrap();
//! let set = LocaleSet::parse(["en", "en-GB", "es-MX"])?;
//! // `es-419` has catalogs, but no visitor can choose it.
//! let chains = Chains::new(&set, [tag("es-419")], [])?;
//! let chain = |text| chains.tags(set.exact(&tag(text)).unwrap()).map(ToString::to_string).collect::<Vec<_>>();
//! assert_eq!(chain("en-GB"), ["en-GB", "en"]);
//! assert_eq!(chain("es-MX"), ["es-MX", "es-419", "en"]);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::parents;

use crate::locale_set::{LocaleId, LocaleSet};
use crate::suggest::nearest;
use crate::tag::{LanguageTag, maximize};

impl LanguageTag {
    /// The tag that what is missing here is taken from: CLDR's parent, or the tag without its last part; none
    /// where only the root is left.
    ///
    /// Truncation never changes the script: `zh-TW` goes to `zh-Hant`, and `zh-Hant` to the root, not to `zh`.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let parent = |tag| LanguageTag::parse(tag).unwrap().parent().map(|tag| tag.to_string());
    /// assert_eq!(parent("en-AU").as_deref(), Some("en-001"));
    /// assert_eq!(parent("zh-Hant-MO").as_deref(), Some("zh-Hant-HK"));
    /// assert_eq!(parent("sr-Latn"), None);
    /// ```
    #[must_use]
    pub fn parent(&self) -> Option<Self> {
        let canonical = self.as_canonical();
        if !canonical.is_plain() {
            return canonical.without_last();
        }
        let (language, script, region) = canonical.codes();
        if let Some(parent) =
            canonical.language_code().and_then(|language| parents::parent(language, script, region))
        {
            return (parent.0 != 0).then(|| Self::from_parts(parent));
        }
        if region != 0 {
            let likely = maximize((language, 0, region)).1;
            let keep = script == 0 && likely != maximize((language, 0, 0)).1;
            return Some(Self::from_codes(language, if keep { likely } else { script }, 0))
                .filter(|tag| !tag.is_und());
        }
        (script != 0 && language != 0 && maximize((language, 0, 0)).1 == script)
            .then(|| Self::from_codes(language, 0, 0))
    }
}

/// The chain of every locale of a set.
#[derive(Clone, Debug)]
pub struct Chains {
    /// The locales of the set, in its order, then those that only have catalogs.
    tags: Vec<LanguageTag>,
    /// For each locale of the set.
    chains: Vec<Vec<LocaleId>>,
}

impl Chains {
    /// Computes the chains of a set.
    ///
    /// `catalog_only` are locales that have catalogs but cannot be chosen. `overrides` say which locales follow
    /// one, in place of CLDR's parents; the default comes last in any case.
    ///
    /// # Errors
    /// Where an override names a locale that is in neither list, or overrides lead back to where they began.
    pub fn new(
        set: &LocaleSet,
        catalog_only: impl IntoIterator<Item = LanguageTag>,
        overrides: impl IntoIterator<Item = (LanguageTag, Vec<LanguageTag>)>,
    ) -> Result<Self, ChainError> {
        let mut tags: Vec<LanguageTag> = set.iter().map(|(_, tag)| tag.clone()).collect();
        for mut tag in catalog_only {
            tag.canonicalize();
            if tags.contains(&tag) {
                return Err(ChainError::Twice(tag));
            }
            tags.push(tag);
        }
        let find = |tag: &LanguageTag| {
            let wanted = tag.canonicalized();
            let at = tags.iter().position(|tag| *tag == wanted);
            at.and_then(|at| u16::try_from(at).ok()).map(LocaleId).ok_or_else(|| {
                let known = tags.iter().map(ToString::to_string);
                ChainError::Unknown { tag: tag.clone(), suggestion: nearest(&tag.to_string(), known) }
            })
        };
        let mut following: Vec<(LocaleId, Vec<LocaleId>)> = Vec::new();
        for (tag, list) in overrides {
            following.push((find(&tag)?, list.iter().map(find).collect::<Result<_, _>>()?));
        }
        if let Some(cycle) = cycle(&following) {
            return Err(ChainError::Cycle(
                cycle.into_iter().filter_map(|id| tags.get(id.index()).cloned()).collect(),
            ));
        }
        let chain = |locale: LocaleId, tag: &LanguageTag| {
            let mut chain = alloc::vec![locale];
            let mut push = |id: LocaleId| {
                if !chain.contains(&id) {
                    chain.push(id);
                }
            };
            match following.iter().find(|(id, _)| *id == locale) {
                Some((_, list)) => list.iter().copied().for_each(&mut push),
                None => core::iter::successors(tag.parent(), LanguageTag::parent)
                    .filter_map(|parent| find(&parent).ok())
                    .for_each(&mut push),
            }
            push(set.default_locale());
            chain
        };
        let chains = set.iter().map(|(locale, tag)| chain(locale, tag)).collect();
        Ok(Self { tags, chains })
    }

    /// The chain of a locale, itself first. Ids past the set's are locales that only have catalogs.
    pub fn of(&self, locale: LocaleId) -> &[LocaleId] {
        self.chains.get(locale.index()).map_or(&[], Vec::as_slice)
    }

    /// The tags of a locale's chain.
    pub fn tags(&self, locale: LocaleId) -> impl Iterator<Item = &LanguageTag> {
        self.of(locale).iter().map(|id| self.tag(*id))
    }

    /// The tag of any locale that has catalogs.
    pub fn tag(&self, locale: LocaleId) -> &LanguageTag {
        const UND: &LanguageTag = &LanguageTag::UND;
        self.tags.get(locale.index()).unwrap_or(UND)
    }

    /// Every locale that has catalogs: those of the set, in its order, then the others.
    pub fn all(&self) -> impl ExactSizeIterator<Item = (LocaleId, &LanguageTag)> {
        self.tags.iter().enumerate().map(|(at, tag)| (LocaleId(u16::try_from(at).unwrap_or(u16::MAX)), tag))
    }
}

/// The first way through the overrides that comes back to its beginning.
fn cycle(following: &[(LocaleId, Vec<LocaleId>)]) -> Option<Vec<LocaleId>> {
    fn walk(
        following: &[(LocaleId, Vec<LocaleId>)],
        way: &mut Vec<LocaleId>,
        done: &mut Vec<LocaleId>,
    ) -> bool {
        let Some(here) = way.last().copied() else { return false };
        let next = following.iter().find(|(id, _)| *id == here).map_or(&[][..], |(_, list)| list);
        for id in next {
            if let Some(start) = way.iter().position(|earlier| earlier == id) {
                way.drain(..start);
                way.push(*id);
                return true;
            }
            if done.contains(id) {
                continue;
            }
            way.push(*id);
            if walk(following, way, done) {
                return true;
            }
            way.pop();
        }
        done.push(here);
        false
    }
    let mut done = Vec::new();
    following.iter().find_map(|(id, _)| {
        let mut way = alloc::vec![*id];
        walk(following, &mut way, &mut done).then_some(way)
    })
}

/// Why chains cannot be computed.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum ChainError {
    /// A chain names a locale that has no catalogs.
    Unknown {
        /// The locale named.
        tag: LanguageTag,
        /// A known one that is written nearly so.
        suggestion: Option<String>,
    },
    /// Chains lead back to where they began: the locales on the way, the first one again at the end.
    Cycle(Vec<LanguageTag>),
    /// A locale stands twice, or both as a locale and as one that only has catalogs.
    Twice(LanguageTag),
}

impl fmt::Display for ChainError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Unknown { tag, suggestion: Some(suggestion) } => {
                write!(f, "a chain names `{tag}`, which has no catalogs; did you mean `{suggestion}`?")
            }
            Self::Unknown { tag, suggestion: None } => {
                write!(
                    f,
                    "a chain names `{tag}`, which has no catalogs; add it to `locales`, or to `catalog-only` where visitors cannot choose it"
                )
            }
            Self::Cycle(tags) => {
                let way: Vec<String> = tags.iter().map(|tag| alloc::format!("`{tag}`")).collect();
                write!(f, "chains lead in a circle: {}; leave one of these out", way.join(" → "))
            }
            Self::Twice(tag) => {
                write!(f, "`{tag}` is listed twice among the locales that have catalogs; keep one of the two")
            }
        }
    }
}

crate::debug_as_shown!(ChainError);

impl core::error::Error for ChainError {}
