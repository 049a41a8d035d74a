//! Subtags that nobody has registered (RFC 5646 §3.1).

use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::registry;

use super::{LanguageTag, Subtag};
use crate::suggest::edits;

/// How many registered subtags are named beside an unregistered one.
const MOST_NAMED: usize = 3;

/// A subtag that the IANA language subtag registry does not have: the tag is well-formed, and means nothing.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct UnregisteredSubtag {
    kind: &'static str,
    subtag: String,
    nearest: Vec<&'static str>,
}

impl UnregisteredSubtag {
    /// The subtag: `qq`.
    pub fn subtag(&self) -> &str {
        &self.subtag
    }

    /// What it stands for: `language`, `script`, `region` or `variant`.
    pub const fn kind(&self) -> &'static str {
        self.kind
    }

    /// The registered subtags of its kind that are written most like it, the nearest first; at most three.
    pub fn nearest(&self) -> &[&'static str] {
        &self.nearest
    }
}

impl fmt::Display for UnregisteredSubtag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "there is no {} `{}` in the language subtag registry", self.kind, self.subtag)?;
        for (at, near) in self.nearest.iter().enumerate() {
            let before = if at == 0 { "; did you mean" } else { " or" };
            write!(f, "{before} `{near}`")?;
        }
        f.write_str(if self.nearest.is_empty() { "" } else { "?" })
    }
}

impl LanguageTag {
    /// The first subtag that the IANA language subtag registry does not have; none where all are registered. Extensions and
    /// private use are not looked at, and `und` is registered.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let tag = LanguageTag::parse("en-EN")?;
    /// let unknown = tag.unregistered().unwrap();
    /// assert_eq!((unknown.kind(), unknown.subtag()), ("region", "EN"));
    /// assert_eq!(LanguageTag::parse("de-1996")?.unregistered(), None);
    /// # Ok::<(), crow_fly_core::tag::TagError>(())
    /// ```
    pub fn unregistered(&self) -> Option<UnregisteredSubtag> {
        if self.rest.as_ref().is_some_and(|rest| rest.grandfathered.is_some() || rest.only_private) {
            return None;
        }
        let language = (!self.is_und()).then(|| self.language());
        missing("language", registry::languages, language)
            .or_else(|| missing("script", registry::scripts, self.script()))
            .or_else(|| missing("region", registry::regions, self.region()))
            .or_else(|| {
                let variants = self.variants().iter();
                variants.copied().find_map(|variant| missing("variant", registry::variants, Some(variant)))
            })
    }
}

/// What is said of a subtag that is not in a list.
fn missing<L: Iterator<Item = &'static str>>(
    kind: &'static str,
    list: fn() -> L,
    subtag: Option<Subtag>,
) -> Option<UnregisteredSubtag> {
    let subtag = subtag?.to_string();
    let has = |known: &str| match known.split_once("..") {
        // `qaa..qtz`, for private use.
        Some((start, end)) => subtag.len() == start.len() && start <= &*subtag && &*subtag <= end,
        None => known == subtag,
    };
    if list().any(has) {
        return None;
    }
    let limit = subtag.len().div_ceil(3);
    let letters = |text: &str| {
        let mut letters = text.as_bytes().to_vec();
        letters.sort_unstable();
        letters
    };
    let is_near = |known: &&'static str| !known.contains("..") && edits(&subtag, known) <= limit;
    let mut near: Vec<&'static str> = list().filter(is_near).collect();
    // The same letters in another order first, then the same length, then the same beginning.
    near.sort_by_cached_key(|known| {
        let other_start = known.as_bytes().first() != subtag.as_bytes().first();
        let other_letters = letters(known) != letters(&subtag);
        (edits(&subtag, known), other_letters, known.len() != subtag.len(), other_start)
    });
    let nearest = near.into_iter().take(MOST_NAMED).collect();
    Some(UnregisteredSubtag { kind, subtag, nearest })
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test fails by panicking")]
mod tests {
    use super::*;

    #[test]
    fn subtags_are_registered_or_named() {
        for tag in [
            "en",
            "und",
            "zh-Hant-HK",
            "es-419",
            "de-1996",
            "sl-rozaj-biske-1994",
            "qaa",
            "qtz",
            "en-Qaaa",
            "en-XA",
            "x-ours",
            "i-klingon",
            "tlh",
            "en-u-hc-h23",
            "ar-XB",
            "und-Latn",
            "sgn-BE-FR",
        ] {
            assert_eq!(LanguageTag::parse(tag).unwrap().canonicalized().unregistered(), None, "{tag}");
        }
        for (tag, text) in [
            ("qq", "there is no language `qq` in the language subtag registry; did you mean `qu`"),
            ("german", "there is no language `german` in the language subtag registry"),
            ("en-EN", "there is no region `EN` in the language subtag registry; did you mean `EA`"),
            ("en-Ltan", "there is no script `Ltan` in the language subtag registry; did you mean `Latn`"),
            ("de-1997", "there is no variant `1997` in the language subtag registry"),
            ("qua", ""),
        ] {
            let found = LanguageTag::parse(tag).unwrap().unregistered();
            let shown = found.map(|found| found.to_string()).unwrap_or_default();
            assert!(shown.starts_with(text), "{tag}: {shown}");
        }
    }
}
