//! `bcp47/timezone.json`: the names of time zones, and their short ones in language tags.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result};
use serde_json::{Map, Value};

use super::Table;
use super::emit::Source;
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-bcp47/bcp47/timezone.json")?;
    let zones = json["keyword"]["u"]["tz"].as_object().context("no time zones")?;
    let mut source = Source::new("zones.rs", "bcp47/timezone.json");
    let names = names(zones);
    source.line("/// Sorted without regard to case.");
    source.array("NAMES", "&str", names.iter().map(|name| format!("{name:?}")));
    // What a short name stands for: the name that the database prefers, or that of the zone a deprecated one became.
    let name = |zone: &Value| {
        let zone = zone["_preferred"].as_str().map_or(zone, |preferred| &zones[preferred]);
        let name = zone["_iana"].as_str().or_else(|| zone["_alias"].as_str()?.split_whitespace().next())?;
        names.iter().position(|known| *known == name)
    };
    let rows = zones.iter().filter(|(_, zone)| zone.is_object());
    let rows = rows.filter_map(|(short, zone)| Some(format!("({short:?}, {})", name(zone)?))).collect();
    source.line("/// The short names, each with the place of its zone.");
    source.sorted_array("SHORT", "(&str, u16)", rows);
    Ok(source.finish())
}

/// The names of all zones, sorted without regard to case.
pub(super) fn names(zones: &Map<String, Value>) -> Vec<&str> {
    // A deprecated key has no zone of its own, and `Etc/Unknown` is none.
    let names: BTreeSet<&str> = zones
        .values()
        .filter_map(|zone| zone["_alias"].as_str())
        .flat_map(str::split_whitespace)
        .filter(|name| *name != "Etc/Unknown")
        .collect();
    let mut names: Vec<&str> = names.into_iter().collect();
    names.sort_by_key(|name| name.to_ascii_lowercase());
    names
}

/// The name that CLDR has texts under, of every name.
pub(super) fn canonical_names(zones: &Map<String, Value>) -> BTreeMap<&str, &str> {
    let of_zone = |zone| {
        let names = || Value::as_str(zone).into_iter().flat_map(str::split_whitespace);
        names().filter_map(move |name| Some((name, names().next()?))).collect::<Vec<_>>()
    };
    zones.values().flat_map(|zone| of_zone(&zone["_alias"])).collect()
}
