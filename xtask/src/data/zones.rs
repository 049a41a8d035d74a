//! `bcp47/timezone.json`: the names of time zones, and their short ones in language tags.

use std::collections::BTreeSet;

use anyhow::{Context, Result};

use super::Table;
use super::emit::Source;
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-bcp47/bcp47/timezone.json")?;
    let zones = json["keyword"]["u"]["tz"].as_object().context("no time zones")?;
    // A deprecated key has no zone of its own, and `Etc/Unknown` is none.
    let names: BTreeSet<&str> = zones
        .values()
        .filter_map(|zone| zone["_alias"].as_str())
        .flat_map(str::split_whitespace)
        .filter(|name| *name != "Etc/Unknown")
        .collect();
    let mut source = Source::new("zones.rs", "bcp47/timezone.json");
    let mut names: Vec<&str> = names.into_iter().collect();
    names.sort_by_key(|name| name.to_ascii_lowercase());
    source.line("/// Sorted without regard to case.");
    source.array("NAMES", "&str", names.iter().map(|name| format!("{name:?}")));
    // What a short name stands for: the name that the database prefers, or that of the zone a deprecated one became.
    let name = |zone: &serde_json::Value| {
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
