//! Canonical form: UTS #35 part 1, annex C.

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::vec::Vec;

use crow_fly_cldr::aliases::{self, Compound};
use crow_fly_cldr::{Code, code};

use super::subtag::Subtag;
use super::{LanguageTag, Rest, parse};

impl LanguageTag {
    /// Puts the tag into the canonical form of UTS #35 annex C: deprecated subtags replaced until nothing
    /// changes, variants, extensions and keywords in order.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let mut tag = LanguageTag::parse("sh-YU-u-kn-true-co-phonebk")?;
    /// tag.canonicalize();
    /// assert_eq!(tag.to_string(), "sr-Latn-RS-u-co-phonebk-kn");
    /// # Ok::<(), crow_fly_core::tag::TagError>(())
    /// ```
    pub fn canonicalize(&mut self) {
        if self.is_plain() && self.is_canonical_plain() {
            return;
        }
        let mut rest = self.rest.take().map(|rest| *rest).unwrap_or_default();
        if let Some(tag) = rest.grandfathered.take() {
            let replacement = aliases::grandfathered().iter().find(|row| row.0 == tag);
            if let Some(replaced) = replacement.and_then(|(_, replacement)| parse::strict(replacement).ok()) {
                *self = replaced;
                rest = self.rest.take().map(|rest| *rest).unwrap_or_default();
            }
        }
        self.take_extlang(&mut rest);
        // Each step takes a rule of the data; the longest way through it is a handful of steps.
        for _ in 0..16 {
            if !self.replace_once(&mut rest) {
                break;
            }
        }
        rest.variants.sort_unstable();
        rest.variants.dedup();
        for extension in &mut rest.extensions {
            extension.canonicalize();
        }
        rest.extensions.retain(|extension| !extension.text.is_empty());
        rest.extensions.sort_unstable();
        self.rest = rest.boxed();
    }

    /// The canonical form of the tag.
    #[must_use]
    pub fn canonicalized(&self) -> Self {
        let mut tag = self.clone();
        tag.canonicalize();
        tag
    }

    /// The canonical form of the tag, borrowed where nearly every tag is canonical already.
    pub(crate) fn as_canonical(&self) -> Cow<'_, Self> {
        if self.is_plain() && self.is_canonical_plain() {
            Cow::Borrowed(self)
        } else {
            Cow::Owned(self.canonicalized())
        }
    }

    /// Whether a plain tag meets no rule: the question nearly every tag of a request ends at.
    fn is_canonical_plain(&self) -> bool {
        self.language_code().is_none_or(|language| aliases::language(language).is_none())
            && (self.region == 0 || (self.language != SIGN && aliases::region(self.region).is_none()))
            && (self.script == 0 || aliases::script(self.script).is_none())
    }

    /// An extended language replaces the language it extends (RFC 5646 §4.5).
    fn take_extlang(&mut self, rest: &mut Rest) {
        if let Some(first) = rest.extlangs.first() {
            self.language = parse::language_code(first.as_bytes());
            rest.extlangs = Vec::new();
        }
    }

    /// Applies the first rule that fits, in the order of the annex: more fields before fewer.
    fn replace_once(&mut self, rest: &mut Rest) -> bool {
        self.replace_compound(rest)
            || self.replace_language(rest)
            || self.replace_any_language(rest)
            || self.replace_region()
            || self.replace_script()
            || replace_variant(rest)
    }

    /// `sgn-BR` → `bzs`, `hy-arevmda` → `hyw`.
    fn replace_compound(&mut self, rest: &mut Rest) -> bool {
        if rest.variants.is_empty() && self.language != SIGN {
            return false;
        }
        let Some(language) = self.language_code().filter(|language| *language != 0) else { return false };
        let fits = |rule: &&Compound| {
            rule.language() == language
                && (rule.region() == 0 || rule.region() == self.region)
                && contains(rest, rule.variants)
        };
        let Some(rule) = aliases::compound().iter().find(fits) else { return false };
        if rule.region() != 0 {
            self.region = 0;
        }
        self.language = 0;
        self.apply(rule, rest);
        true
    }

    fn apply(&mut self, rule: &Compound, rest: &mut Rest) {
        rest.variants.retain(|variant| !rule.variants.contains(&variant.as_str()));
        self.fill(rule.to, rest);
    }

    fn replace_language(&mut self, rest: &mut Rest) -> bool {
        let Some(to) = self.language_code().and_then(aliases::language) else { return false };
        self.language = 0;
        self.fill(to, rest);
        true
    }

    /// `und-aaland` → `und-AX`: rules of variants for every language.
    fn replace_any_language(&mut self, rest: &mut Rest) -> bool {
        if rest.variants.is_empty() {
            return false;
        }
        let fits = |rule: &&Compound| rule.language() == 0 && contains(rest, rule.variants);
        let Some(rule) = aliases::compound().iter().find(fits) else { return false };
        self.apply(rule, rest);
        true
    }

    fn replace_region(&mut self) -> bool {
        let Some(replacements) = (self.region != 0).then(|| aliases::region(self.region)).flatten() else {
            return false;
        };
        let codes = || replacements.iter().map(|region| code(region));
        let likely = self.with_region(0).plain().maximized().region;
        self.region = codes().find(|region| *region == likely).or_else(|| codes().next()).unwrap_or(0);
        true
    }

    fn replace_script(&mut self) -> bool {
        let Some(script) = (self.script != 0).then(|| aliases::script(self.script)).flatten() else {
            return false;
        };
        self.script = Code::from_be_bytes(script);
        true
    }

    /// Puts a replacement's subtags where the tag has none.
    fn fill(&mut self, replacement: &str, rest: &mut Rest) {
        let Ok(tag) = parse::strict(replacement) else { return };
        if self.language == 0 {
            self.language = tag.language;
        }
        if self.script == 0 {
            self.script = tag.script;
        }
        if self.region == 0 {
            self.region = tag.region;
        }
        for variant in tag.variants() {
            if !rest.variants.contains(variant) {
                rest.variants.push(*variant);
            }
        }
        if let (None, Some(private)) = (&rest.private, tag.private_use()) {
            rest.private = Some(Box::from(private));
        }
    }
}

/// `sgn`, sign languages: the one language with rules of its regions.
const SIGN: u64 = u64::from_be_bytes(*b"sgn\0\0\0\0\0");

fn contains(rest: &Rest, variants: &[&str]) -> bool {
    variants.iter().all(|wanted| rest.variants.iter().any(|variant| variant == wanted))
}

fn replace_variant(rest: &mut Rest) -> bool {
    for at in 0..rest.variants.len() {
        let Some(to) = rest.variants.get(at).and_then(|variant| aliases::variant(variant)) else { continue };
        rest.variants.remove(at);
        let to = Subtag::lower(to.as_bytes());
        if !rest.variants.contains(&to) {
            rest.variants.insert(at, to);
        }
        return true;
    }
    false
}
