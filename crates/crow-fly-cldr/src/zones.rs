//! The names of time zones in the IANA database (`bcp47/timezone.json`), and their metazones (`metaZones.json`).

#[cfg(feature = "zone-names")]
use crate::generated::metazones::{ALIASES, METAZONES, PERIODS};
use crate::generated::zones::{NAMES, SHORT};

/// The name of a zone as the database writes it, found without regard to case.
pub fn find(name: &str) -> Option<&'static str> {
    place(name).and_then(|at| NAMES.get(at)).copied()
}

fn place(name: &str) -> Option<usize> {
    let lower = |text: &'static str| text.bytes().map(|byte| byte.to_ascii_lowercase());
    let wanted = || name.bytes().map(|byte| byte.to_ascii_lowercase());
    NAMES.binary_search_by(|known| lower(known).cmp(wanted())).ok()
}

/// The name that CLDR has the texts of a zone under: `Asia/Calcutta` of `Asia/Kolkata`.
#[cfg(feature = "zone-names")]
pub fn canonical(name: &str) -> Option<&'static str> {
    let at = place(name)?;
    let alias = ALIASES.binary_search_by_key(&at, |row| usize::from(row.0)).ok();
    let at = alias.and_then(|row| ALIASES.get(row)).map_or(at, |row| usize::from(row.1));
    NAMES.get(at).copied()
}

/// The metazone that a zone, by its [canonical] name, is of at a moment, in seconds since 1970.
#[cfg(feature = "zone-names")]
pub fn metazone(canonical: &str, seconds: i64) -> Option<&'static str> {
    let row = PERIODS.binary_search_by(|row| row.0.cmp(canonical)).ok()?;
    let of_zone = PERIODS.get(row)?.1;
    let (_, metazone) = of_zone.iter().find(|(end, _)| seconds < *end)?;
    METAZONES.get(usize::from(*metazone)).copied()
}

/// The name of the zone that `-u-tz-` names: `plwaw` is Europe/Warsaw (UTS #35 part 1, "Time Zone Identifiers").
pub fn of_short(short: &str) -> Option<&'static str> {
    let at = SHORT.binary_search_by(|(known, _)| (*known).cmp(short)).ok()?;
    NAMES.get(usize::from(SHORT.get(at)?.1)).copied()
}
