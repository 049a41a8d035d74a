//! The data of locales that a program has: all of CLDR's with the feature `full-data`, or that of some languages.
//!
//! A program without `full-data` [installs](install) the data of its languages before it does anything else with a
//! locale; a build script makes it (`crow_fly_embed::locale_data`). Tags are understood, matched and inherited alike in all
//! programs. A locale whose data is left out is formatted like one that CLDR does not have: its numbers, plurals, dates,
//! lists and names are those of no language in particular.

pub use crow_fly_cldr::data::{InstallError, install};

use crate::locale_texts::candidates;
use crate::tag::LanguageTag;

/// Whether CLDR has data of a locale, and this program does not.
///
/// ```
/// use crow_fly_core::{data, tag::LanguageTag};
///
/// let tag = |text| LanguageTag::parse(text).unwrap();
/// # #[cfg(feature = "full-data")]
/// assert!(!data::is_left_out(&tag("pl")));
/// // CLDR does not have this language.
/// assert!(!data::is_left_out(&tag("qaa")));
/// ```
pub fn is_left_out(tag: &LanguageTag) -> bool {
    if crow_fly_cldr::data::is_full() {
        return false;
    }
    // The first that CLDR has speaks for the tag.
    candidates(tag).iter().find_map(|locale| crow_fly_cldr::data::has(locale)) == Some(false)
}
