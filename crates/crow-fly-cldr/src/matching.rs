//! Language matching (UTS #35 part 1, `languageMatching.json`, table `written-new`).

use crate::Code;
use crate::code::{code, codes, three};
use crate::generated::matching as table;

/// The distance of two languages that no row joins.
pub const LANGUAGE_DEFAULT: u8 = table::LANGUAGE_DEFAULT;

/// The distance of two scripts that no row joins.
pub const SCRIPT_DEFAULT: u8 = table::SCRIPT_DEFAULT;

/// What a row of the data asks of a region.
#[derive(Clone, Copy, Debug)]
pub(crate) enum RegionTest {
    Any,
    Is([u8; 3]),
    In(u8),
    NotIn(u8),
}

impl RegionTest {
    fn holds(self, region: [u8; 3]) -> bool {
        let inside = |set: u8| {
            table::REGION_SETS.get(usize::from(set)).is_some_and(|set| set.binary_search(&region).is_ok())
        };
        match self {
            Self::Any => true,
            Self::Is(other) => other == region,
            Self::In(set) => inside(set),
            Self::NotIn(set) => !inside(set),
        }
    }
}

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

/// The distance of two different regions in a language and script: the first row of the data that holds.
pub fn region_distance(language: Code, script: Code, desired: Code, supported: Code) -> u8 {
    let (Some(desired), Some(supported)) = (three(desired), three(supported)) else { return u8::MAX };
    let holds = |row: &&([u8; 3], [u8; 4], RegionTest, RegionTest, u8)| {
        (row.0 == [0; 3] || code(&row.0) == language)
            && (row.1 == [0; 4] || code(&row.1) == script)
            && row.2.holds(desired)
            && row.3.holds(supported)
    };
    table::REGIONS.iter().find(holds).map_or(u8::MAX, |row| row.4)
}

/// The locales that win among equals, as language, script and region.
pub fn paradigms() -> impl Iterator<Item = (Code, Code, Code)> {
    table::PARADIGMS.iter().map(codes)
}
