//! `scriptMetadata.json`: the scripts written from right to left.

use anyhow::{Context, Result};

use super::Table;
use super::emit::{Source, padded};
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-core/scriptMetadata.json")?;
    let data = json["scriptMetadata"].as_object().context("scriptMetadata is not a table")?;
    // `Aran` is Arabic in another style: ISO 15924 lists it, CLDR describes only `Arab`.
    let mut scripts: Vec<&str> = data
        .iter()
        .filter(|(_, facts)| facts["rtl"] == "YES")
        .map(|(script, _)| script.as_str())
        .chain(["Aran"])
        .collect();
    scripts.sort_unstable();
    scripts.dedup();
    let mut source = Source::new("scripts.rs", "scriptMetadata.json");
    source.array("RIGHT_TO_LEFT", "[u8; 4]", scripts.iter().map(|script| padded(script, 4)));
    Ok(source.finish())
}
