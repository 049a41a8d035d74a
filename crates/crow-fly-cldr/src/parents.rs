//! Parent locales that truncation does not give (UTS #35 part 1, `parentLocales.json`).

use crate::Code;
use crate::code::{codes, find};
use crate::generated::parents::PARENTS;

/// The parent the data names; all zeros is the root.
pub fn parent(language: Code, script: Code, region: Code) -> Option<(Code, Code, Code)> {
    find(&PARENTS, language, script, region).map(|parts| codes(&parts))
}
