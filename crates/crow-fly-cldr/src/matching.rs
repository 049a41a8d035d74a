//! Language matching (UTS #35 part 1, `languageMatching.json`, table `written-new`).

use crate::Code;
use crate::code::{code, codes, three};
use crate::generated::matching as table;

/// The distance of two languages that no row joins.
pub const LANGUAGE_DEFAULT: u8 = table::LANGUAGE_DEFAULT;

/// The distance of two scripts that no row joins.
pub const SCRIPT_DEFAULT: u8 = table::SCRIPT_DEFAULT;

/// Language, script, the bits of the desired and the supported class that count with their values, distance.
pub(crate) type RegionRow = ([u8; 3], [u8; 4], (u8, u8), (u8, u8), u8);

/// How many classes of regions there are at most: see [`region_class`].
pub const REGION_CLASSES: usize = 32;

/// The supported languages near a desired one, with their distances, in the order of the data.
pub fn languages(desired: Code) -> impl Iterator<Item = (Code, u8)> {
    let key = three(desired).unwrap_or_default();
    let start = table::LANGUAGES.partition_point(|row| row.0 < key);
    let rows = table::LANGUAGES.get(start..).unwrap_or_default();
    rows.iter().take_while(move |row| row.0 == key).map(|row| (code(&row.1), row.2))
}

/// The distance of two different scripts of the given languages.
pub fn script_distance(desired: (Code, Code), supported: (Code, Code)) -> u8 {
    let wanted = |row: &([u8; 3], [u8; 4], [u8; 3])| {
        let (language, script, _) = codes(row);
        (language, script)
    };
    let row = table::SCRIPTS.iter().find(|row| wanted(&row.0) == desired && wanted(&row.1) == supported);
    row.map_or(SCRIPT_DEFAULT, |row| row.2)
}

/// What the data knows of a region: regions of one class are at the same distance from any other region.
pub fn region_class(region: Code) -> u8 {
    let found =
        three(region).and_then(|key| table::REGION_CLASSES.binary_search_by(|row| row.0.cmp(&key)).ok());
    found.and_then(|at| table::REGION_CLASSES.get(at)).map_or(0, |row| row.1)
}

/// The distance of two different regions, by their classes, in a language and script (zero: of any): the first
/// row of the data that holds.
pub fn region_distance(language: Code, script: Code, desired: u8, supported: u8) -> u8 {
    let holds = |row: &&RegionRow| {
        (row.0 == [0; 3] || code(&row.0) == language)
            && (row.1 == [0; 4] || code(&row.1) == script)
            && desired & row.2.0 == row.2.1
            && supported & row.3.0 == row.3.1
    };
    table::REGIONS.iter().find(holds).map_or(u8::MAX, |row| row.4)
}

/// The locales that win among equals, as language, script and region.
pub fn paradigms() -> impl Iterator<Item = (Code, Code, Code)> {
    table::PARADIGMS.iter().map(codes)
}

/// Every desired language the data has a row for, once.
pub fn desired_languages() -> impl Iterator<Item = Code> {
    table::LANGUAGES
        .chunk_by(|one, next| one.0 == next.0)
        .filter_map(|rows| rows.first())
        .map(|row| code(&row.0))
}
