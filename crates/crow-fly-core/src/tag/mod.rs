//! Language tags: BCP 47 (RFC 5646) in form, UTS #35 in canonical form.
//!
//! A [`LanguageTag`] is small and cheap: language, script and region lie inline as integers, and only the rare
//! rest (extended languages, variants, extensions, private use) is boxed. Parsing normalizes case and nothing
//! else, so that what was written can be shown again; [`LanguageTag::canonicalize`] does the rest.
//!
//! ```
//! use crow_fly_core::tag::LanguageTag;
//!
//! let tag = LanguageTag::parse("ZH-hant-hk")?;
//! assert_eq!(tag.to_string(), "zh-Hant-HK");
//! assert_eq!(tag.script().unwrap(), "Hant");
//! assert_eq!(LanguageTag::parse("iw")?.canonicalized().to_string(), "he");
//! # Ok::<(), crow_fly_core::tag::TagError>(())
//! ```

use alloc::boxed::Box;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;
use core::str::FromStr;

use crow_fly_cldr::Code;

mod canonical;
mod error;
mod extension;
mod likely;
mod parse;
mod range;
mod registry;
mod subtag;

pub use error::{TagError, TagErrorKind};
pub(crate) use likely::maximize;
pub(crate) use parse::{plain, plain_codes};
pub use range::LanguageRange;
pub(crate) use range::{basic, extended};
pub use registry::UnregisteredSubtag;
pub use subtag::Subtag;

use extension::Extension;

/// A well-formed language tag: `cy`, `pt-BR`, `zh-Hant-HK`, `en-GB-u-hc-h23`.
///
/// Equality, order and hash go by subtags, case aside: first the language, then script, region and the rest.
/// That order is total, and the same on every machine, but it is not the order of the texts.
#[derive(Clone, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct LanguageTag {
    language: u64,
    script: Code,
    region: Code,
    rest: Option<Box<Rest>>,
}

/// What few tags have. Never empty while it is there.
#[derive(Clone, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
struct Rest {
    /// One of the 26 tags of RFC 5646 that stand outside its grammar; everything else is empty then.
    grandfathered: Option<&'static str>,
    extlangs: Vec<Subtag>,
    variants: Vec<Subtag>,
    extensions: Vec<Extension>,
    /// The subtags behind `x`.
    private: Option<Box<str>>,
    /// Whether the tag is `x-…` alone, without even `und`.
    only_private: bool,
}

impl Rest {
    fn boxed(self) -> Option<Box<Self>> {
        (self != Self::default()).then(|| Box::new(self))
    }
}

/// A language as the tables key it; none for languages of five letters and more, which are in no table.
pub(crate) fn table_code(language: u64) -> Option<Code> {
    let [a, b, c, d, 0, 0, 0, 0] = language.to_be_bytes() else { return None };
    Some(Code::from_be_bytes([a, b, c, d]))
}

impl LanguageTag {
    /// The region that `-u-rg-` names: `uszzzz` is all of the United States, `gbeng` a part of the United Kingdom (UTS #35
    /// part 1, "Region Override").
    pub(crate) fn region_override(&self) -> Option<String> {
        let value = self.keyword("rg")?;
        let length = if value.starts_with(|letter: char| letter.is_ascii_digit()) { 3 } else { 2 };
        Some(value.get(..length).unwrap_or(value).to_ascii_uppercase())
    }

    /// The tag `und`: no language.
    pub const UND: Self = Self { language: 0, script: 0, region: 0, rest: None };

    /// Parses a tag by the grammar of RFC 5646 §2.1, case aside.
    ///
    /// # Errors
    /// Names the subtag at fault and the reason, where the text is not well-formed, where a variant or a singleton
    /// stands twice, or where it is longer than [`LanguageTag::MAX_LENGTH`].
    pub fn parse(text: &str) -> Result<Self, TagError> {
        parse::strict(text)
    }

    /// Parses a tag as people and systems write it: `_` for `-`, blanks around it, a POSIX `.codeset` or
    /// `@modifier` behind it (both dropped), and `root` for `und`.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// assert_eq!(LanguageTag::parse_lenient("pt_BR.UTF-8")?.to_string(), "pt-BR");
    /// # Ok::<(), crow_fly_core::tag::TagError>(())
    /// ```
    ///
    /// # Errors
    /// As [`LanguageTag::parse`].
    pub fn parse_lenient(text: &str) -> Result<Self, TagError> {
        parse::lenient(text)
    }

    /// The longest text that is parsed, in bytes. RFC 5646 §4.4.1 asks for 35; the bound keeps work small.
    pub const MAX_LENGTH: usize = 1024;

    pub(crate) const fn from_codes(language: u64, script: Code, region: Code) -> Self {
        Self { language, script, region, rest: None }
    }

    /// The tag with a language that is for private use, so that nobody has data of it.
    pub(crate) fn in_unknown_language(&self) -> Self {
        Self { language: u64::from(crow_fly_cldr::code(b"qaa")) << 32, ..self.clone() }
    }

    pub(crate) fn from_parts((language, script, region): (Code, Code, Code)) -> Self {
        Self::from_codes(u64::from(language) << 32, script, region)
    }

    pub(crate) fn language_code(&self) -> Option<Code> {
        table_code(self.language)
    }

    pub(crate) const fn codes(&self) -> (u64, Code, Code) {
        (self.language, self.script, self.region)
    }

    /// The primary language subtag; `und` if the tag has no language.
    pub fn language(&self) -> Subtag {
        if self.language == 0 {
            Subtag::from_code(u64::from_be_bytes(*b"und\0\0\0\0\0"))
        } else {
            Subtag::from_code(self.language)
        }
    }

    /// The script subtag, in title case.
    pub fn script(&self) -> Option<Subtag> {
        (self.script != 0).then(|| Subtag::from_code(u64::from(self.script) << 32))
    }

    /// The region subtag: two capital letters or three digits.
    pub fn region(&self) -> Option<Subtag> {
        (self.region != 0).then(|| Subtag::from_code(u64::from(self.region) << 32))
    }

    /// The extended language subtags, as in `zh-yue`; canonical tags have none.
    pub fn extlangs(&self) -> &[Subtag] {
        self.rest.as_ref().map_or(&[], |rest| &rest.extlangs)
    }

    /// The variants, in the order they are written in.
    pub fn variants(&self) -> &[Subtag] {
        self.rest.as_ref().map_or(&[], |rest| &rest.variants)
    }

    /// The text of an extension, in lower case, without its singleton: `hc-h23` for `u` in `en-u-hc-h23`.
    pub fn extension(&self, singleton: char) -> Option<&str> {
        let singleton = u8::try_from(singleton).ok()?.to_ascii_lowercase();
        self.extensions()
            .iter()
            .find(|extension| extension.singleton == singleton)
            .map(|extension| &*extension.text)
    }

    fn extensions(&self) -> &[Extension] {
        self.rest.as_ref().map_or(&[], |rest| &rest.extensions)
    }

    /// The private-use subtags, without the `x`.
    pub fn private_use(&self) -> Option<&str> {
        self.rest.as_ref()?.private.as_deref()
    }

    /// The value of a `-u-` keyword (UTS #35 part 1, §3.6.1): `h23` for `hc` in `en-u-hc-h23`; empty for a key
    /// that stands without a value, which means `true`.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let tag = LanguageTag::parse("en-u-hc-h23-kn")?;
    /// assert_eq!(tag.keyword("hc"), Some("h23"));
    /// assert_eq!(tag.keyword("kn"), Some(""));
    /// assert_eq!(tag.keyword("nu"), None);
    /// # Ok::<(), crow_fly_core::tag::TagError>(())
    /// ```
    pub fn keyword(&self, key: &str) -> Option<&str> {
        let text = self.extension('u')?;
        extension::keywords(text).find(|(found, _)| found.eq_ignore_ascii_case(key)).map(|(_, value)| value)
    }

    /// Every `-u-` keyword in the order written: key and value.
    pub fn keywords(&self) -> impl Iterator<Item = (&str, &str)> {
        self.extension('u').into_iter().flat_map(extension::keywords)
    }

    /// Sets a `-u-` keyword, or removes it where `value` is none.
    ///
    /// # Errors
    /// Where the key is not two ASCII letters or digits, or a part of the value is not 3 to 8 of them.
    pub fn set_keyword(&mut self, key: &str, value: Option<&str>) -> Result<(), TagError> {
        let text = extension::with_keyword(self.extension('u').unwrap_or_default(), key, value)?;
        let mut rest = self.rest.take().map(|rest| *rest).unwrap_or_default();
        rest.extensions.retain(|extension| extension.singleton != b'u');
        if !text.is_empty() {
            let at = rest.extensions.partition_point(|extension| extension.singleton < b'u');
            rest.extensions.insert(at, Extension { singleton: b'u', text: text.into() });
        }
        self.rest = rest.boxed();
        Ok(())
    }

    /// The tag without extensions and private use: what names a set of words.
    #[must_use]
    pub fn without_extensions(&self) -> Self {
        let mut tag = self.clone();
        if let Some(mut rest) = tag.rest.take() {
            rest.extensions.clear();
            rest.private = None;
            rest.only_private = false;
            tag.rest = rest.boxed();
        }
        tag
    }

    /// The tag without private use and extensions, or where it has none, without its last variant; none where
    /// it has neither.
    pub(crate) fn without_last(&self) -> Option<Self> {
        let rest = self.rest.as_deref().filter(|rest| rest.grandfathered.is_none() && !rest.only_private)?;
        if rest.private.is_some() || !rest.extensions.is_empty() {
            return Some(self.without_extensions());
        }
        let mut shorter = rest.clone();
        shorter.variants.pop().or_else(|| shorter.extlangs.pop())?;
        Some(Self { rest: shorter.boxed(), ..self.plain() })
    }

    /// Language, script and region only.
    #[must_use]
    pub fn plain(&self) -> Self {
        Self::from_codes(self.language, self.script, self.region)
    }

    pub(crate) fn is_plain(&self) -> bool {
        self.rest.is_none()
    }

    #[must_use]
    pub(crate) fn with_region(&self, region: Code) -> Self {
        Self { region, ..self.clone() }
    }

    /// Whether the tag has no language.
    pub fn is_und(&self) -> bool {
        self.language == 0
    }
}

impl fmt::Display for LanguageTag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let rest = self.rest.as_deref();
        if let Some(tag) = rest.and_then(|rest| rest.grandfathered) {
            return f.write_str(tag);
        }
        if let Some(rest) = rest.filter(|rest| rest.only_private) {
            f.write_str("x-")?;
            return f.write_str(rest.private.as_deref().unwrap_or_default());
        }
        f.write_str(&self.language())?;
        for extlang in self.extlangs() {
            f.write_str("-")?;
            f.write_str(extlang)?;
        }
        for subtag in self.script().iter().chain(&self.region()).chain(self.variants()) {
            f.write_str("-")?;
            f.write_str(subtag)?;
        }
        for extension in self.extensions() {
            write!(f, "-{}-{}", char::from(extension.singleton), extension.text)?;
        }
        if let Some(private) = self.private_use() {
            write!(f, "-x-{private}")?;
        }
        Ok(())
    }
}

impl fmt::Debug for LanguageTag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "LanguageTag({self})")
    }
}

impl FromStr for LanguageTag {
    type Err = TagError;

    fn from_str(text: &str) -> Result<Self, TagError> {
        Self::parse(text)
    }
}

impl From<&LanguageTag> for String {
    fn from(tag: &LanguageTag) -> Self {
        tag.to_string()
    }
}

impl serde::Serialize for LanguageTag {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl<'de> serde::Deserialize<'de> for LanguageTag {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let text = alloc::borrow::Cow::<'de, str>::deserialize(deserializer)?;
        Self::parse(&text).map_err(serde::de::Error::custom)
    }
}
