//! The names of time zones in the IANA database (`bcp47/timezone.json`).

use crate::generated::zones::NAMES;

/// The name of a zone as the database writes it, found without regard to case.
pub fn find(name: &str) -> Option<&'static str> {
    let lower = |text: &'static str| text.bytes().map(|byte| byte.to_ascii_lowercase());
    let wanted = || name.bytes().map(|byte| byte.to_ascii_lowercase());
    NAMES.binary_search_by(|known| lower(known).cmp(wanted())).ok().and_then(|at| NAMES.get(at)).copied()
}
