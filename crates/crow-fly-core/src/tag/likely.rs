//! Likely subtags: UTS #35 part 1, §4.3.

use crow_fly_cldr::{Code, likely};

use super::{LanguageTag, table_code};

/// The scripts and regions that say nothing.
const UNKNOWN_SCRIPT: Code = crow_fly_cldr::code(b"Zzzz");
const UNKNOWN_REGION: Code = crow_fly_cldr::code(b"ZZ");

impl LanguageTag {
    /// The canonical tag with its likely language, script and region filled in (UTS #35 part 1, §4.3).
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let maximal = |tag| LanguageTag::parse(tag).unwrap().maximized().to_string();
    /// assert_eq!(maximal("zh-AU"), "zh-Hant-AU");
    /// assert_eq!(maximal("und-PL"), "pl-Latn-PL");
    /// assert_eq!(maximal("sh"), "sr-Latn-RS");
    /// ```
    #[must_use]
    pub fn maximized(&self) -> Self {
        let canonical = self.as_canonical();
        let (language, script, region) = maximize(canonical.codes());
        Self { language, script, region, rest: canonical.rest.clone() }
    }

    /// The shortest tag with the same maximal form; where script or region alone would do, the region stays.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let minimal = |tag| LanguageTag::parse(tag).unwrap().minimized().to_string();
    /// assert_eq!(minimal("zh-Hant-TW"), "zh-TW");
    /// assert_eq!(minimal("cy-Latn-GB"), "cy");
    /// ```
    #[must_use]
    pub fn minimized(&self) -> Self {
        let canonical = self.as_canonical();
        let maximal = maximize(canonical.codes());
        let (language, script, region) = maximal;
        let trials = [(language, 0, 0), (language, 0, region), (language, script, 0)];
        let (language, script, region) =
            trials.into_iter().find(|trial| maximize(*trial) == maximal).unwrap_or(maximal);
        Self { language, script, region, rest: canonical.rest.clone() }
    }

    /// Whether a text in this locale reads like one in another: in the same language and the same script, and so in the
    /// same direction. Regions make no difference.
    ///
    /// A text that does not needs `lang` and `dir` of its own on the other's page, and numbers and dates of its own.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let alike = |one, other| LanguageTag::parse(one).unwrap().reads_like(&LanguageTag::parse(other).unwrap());
    /// assert!(alike("en", "en-GB") && alike("zh-TW", "zh-Hant"));
    /// assert!(!alike("uz", "uz-Arab") && !alike("sr-Latn", "sr") && !alike("cy", "en"));
    /// ```
    pub fn reads_like(&self, other: &Self) -> bool {
        let maximal = |tag: &Self| maximize(tag.as_canonical().codes());
        let ((language, script, _), (other_language, other_script, _)) = (maximal(self), maximal(other));
        language == other_language && script == other_script
    }
}

/// Language, script and region of the maximal form.
pub(crate) fn maximize((language, script, region): (u64, Code, Code)) -> (u64, Code, Code) {
    let script = if script == UNKNOWN_SCRIPT { 0 } else { script };
    let region = if region == UNKNOWN_REGION { 0 } else { region };
    if language != 0 && script != 0 && region != 0 {
        return (language, script, region);
    }
    // Languages of five letters and more are in no table.
    let known = table_code(language);
    let Some(found) = known.and_then(|language| lookup(language, script, region)) else {
        return (language, script, region);
    };
    let keep = |own: Code, likely: Code| if own == 0 { likely } else { own };
    let language = if language == 0 { u64::from(found.0) << 32 } else { language };
    (language, keep(script, found.1), keep(region, found.2))
}

/// The first row of the data that fits, from the most exact key to the least.
fn lookup(language: Code, script: Code, region: Code) -> Option<(Code, Code, Code)> {
    if script != 0
        && region != 0
        && let Some(found) = likely::parts(language, script, region)
    {
        return Some(found);
    }
    if script != 0
        && let Some(found) = likely::parts(language, script, 0)
    {
        return Some(found);
    }
    if region != 0
        && let Some(found) = likely::parts(language, 0, region)
    {
        return Some(found);
    }
    if language == 0 {
        return likely::parts(0, 0, 0);
    }
    likely::language(language).map(|(script, region)| (language, script, region))
}
