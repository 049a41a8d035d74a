//! The names of time zones in the IANA database (`bcp47/timezone.json`).

use crate::generated::zones::{NAMES, SHORT};

/// The name of a zone as the database writes it, found without regard to case.
pub fn find(name: &str) -> Option<&'static str> {
    let lower = |text: &'static str| text.bytes().map(|byte| byte.to_ascii_lowercase());
    let wanted = || name.bytes().map(|byte| byte.to_ascii_lowercase());
    NAMES.binary_search_by(|known| lower(known).cmp(wanted())).ok().and_then(|at| NAMES.get(at)).copied()
}

/// The name of the zone that `-u-tz-` names: `plwaw` is Europe/Warsaw (UTS #35 part 1, "Time Zone Identifiers").
pub fn of_short(short: &str) -> Option<&'static str> {
    let at = SHORT.binary_search_by(|(known, _)| (*known).cmp(short)).ok()?;
    NAMES.get(usize::from(SHORT.get(at)?.1)).copied()
}
