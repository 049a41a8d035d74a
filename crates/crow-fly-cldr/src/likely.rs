//! Likely subtags (UTS #35 part 1, `likelySubtags.json`).

use crate::code::{code, find, three};
use crate::generated::likely::{BY_PARTS, REGIONS, SCRIPTS, THREE_LETTERS, TWO_LETTERS};
use crate::{Code, code::codes};

/// Script and region that are likely for a bare language.
pub fn language(language: Code) -> Option<(Code, Code)> {
    let (script, region) = match three(language)? {
        [first @ b'a'..=b'z', second @ b'a'..=b'z', 0] => {
            *TWO_LETTERS.get(usize::from(first - b'a') * 26 + usize::from(second - b'a'))?
        }
        key => {
            let at = THREE_LETTERS.binary_search_by(|row| row.0.cmp(&key)).ok()?;
            THREE_LETTERS.get(at).map(|row| (row.1, row.2))?
        }
    };
    Some((code(SCRIPTS.get(usize::from(script))?), code(REGIONS.get(usize::from(region))?)))
}

/// The maximal tag of a row with a script or a region, or of `und`; zero stands for an absent part.
pub fn parts(language: Code, script: Code, region: Code) -> Option<(Code, Code, Code)> {
    find(&BY_PARTS, language, script, region).map(|parts| codes(&parts))
}
