//! The distance between two languages: UTS #35 part 1, "Language Matching".

use crow_fly_cldr::{Code, matching};

use crate::tag::{LanguageTag, maximize, table_code};

/// Language, script and region of a maximal tag.
pub(super) type Maximal = (u64, Code, Code);

/// How far a supported tag is from a desired one: 0 for the same, 50 and more for what hardly anybody would
/// call the same language. Not symmetric.
///
/// ```
/// use crow_fly_core::{locale_set::distance, tag::LanguageTag};
///
/// let between = |desired, supported| {
///     distance(&LanguageTag::parse(desired).unwrap(), &LanguageTag::parse(supported).unwrap())
/// };
/// assert_eq!(between("gsw", "de"), 8);
/// assert!(between("de", "gsw") > 80);
/// ```
pub fn distance(desired: &LanguageTag, supported: &LanguageTag) -> u8 {
    let maximal = |tag: &LanguageTag| maximize(tag.canonicalized().codes());
    between(maximal(desired), maximal(supported))
}

pub(super) fn between(desired: Maximal, supported: Maximal) -> u8 {
    let language = language(desired.0, supported.0);
    language.saturating_add(script(desired, supported)).saturating_add(region(desired, supported))
}

pub(super) fn language(desired: u64, supported: u64) -> u8 {
    if desired == supported {
        return 0;
    }
    let row = table_code(desired)
        .zip(table_code(supported))
        .and_then(|(desired, supported)| matching::languages(desired).find(|(other, _)| *other == supported));
    row.map_or(matching::LANGUAGE_DEFAULT, |(_, distance)| distance)
}

pub(super) fn script(desired: Maximal, supported: Maximal) -> u8 {
    if desired.1 == supported.1 {
        return 0;
    }
    let Some((desired_language, supported_language)) = table_code(desired.0).zip(table_code(supported.0))
    else {
        return matching::SCRIPT_DEFAULT;
    };
    matching::script_distance((desired_language, desired.1), (supported_language, supported.1))
}

pub(super) fn region(desired: Maximal, supported: Maximal) -> u8 {
    if desired.2 == supported.2 {
        return 0;
    }
    // Rows of one language speak of that language on both sides; across languages the general row holds.
    let same = desired.0 == supported.0;
    let language = if same { table_code(desired.0).unwrap_or(0) } else { 0 };
    let script = if same && desired.1 == supported.1 { desired.1 } else { 0 };
    matching::region_distance(
        language,
        script,
        matching::region_class(desired.2),
        matching::region_class(supported.2),
    )
}
