//! `bcp47/timezone.json`: the names of time zones.

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
    Ok(source.finish())
}
