//! `likelySubtags.json`: two-letter languages in a dense table, three-letter ones sorted, the rest by parts.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result};

use super::Table;
use super::emit::{Source, padded, parts};
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-core/supplemental/likelySubtags.json")?;
    let data = json["supplemental"]["likelySubtags"].as_object().context("likelySubtags is not a table")?;
    let mut by_language = BTreeMap::new();
    let mut by_parts = BTreeMap::new();
    for (key, value) in data {
        let value = value.as_str().context("a likely tag is a text")?;
        if key.contains('-') || key == "und" {
            by_parts.insert(key.as_str(), value);
        } else {
            by_language.insert(key.as_str(), value);
        }
    }
    // A plain language never changes into another one, so its row only names script and region.
    let split = |tag: &str| -> Result<(String, String)> {
        let mut subtags = tag.split('-').skip(1);
        let script = subtags.next().context("no script")?.to_owned();
        Ok((script, subtags.next().context("no region")?.to_owned()))
    };
    let mut scripts = BTreeSet::new();
    let mut regions = BTreeSet::new();
    for value in by_language.values() {
        let (script, region) = split(value)?;
        scripts.insert(script);
        regions.insert(region);
    }
    let scripts: Vec<String> = scripts.into_iter().collect();
    let regions: Vec<String> = regions.into_iter().collect();
    assert!(scripts.len() < 255 && regions.len() < 255, "indices fit a byte, 255 is `none`");
    let row = |value: &str| -> Result<String> {
        let (script, region) = split(value)?;
        let script = scripts.binary_search(&script).ok().context("unknown script")?;
        let region = regions.binary_search(&region).ok().context("unknown region")?;
        Ok(format!("{script}, {region}"))
    };

    let mut two = vec!["(255, 255)".to_owned(); 26 * 26];
    let mut three = Vec::new();
    for (language, value) in &by_language {
        if let [first, second] = *language.as_bytes() {
            two[usize::from(first - b'a') * 26 + usize::from(second - b'a')] = format!("({})", row(value)?);
        } else {
            three.push(format!("({}, {})", padded(language, 3), row(value)?));
        }
    }
    let mut source = Source::new("likely.rs", "likelySubtags.json");
    source.array("SCRIPTS", "[u8; 4]", scripts.iter().map(|script| padded(script, 4)));
    source.array("REGIONS", "[u8; 3]", regions.iter().map(|region| padded(region, 3)));
    source.line("/// Script and region of each two-letter language, at `26 * first + second`; 255 is none.");
    source.array("TWO_LETTERS", "(u8, u8)", two);
    source.array("THREE_LETTERS", "([u8; 3], u8, u8)", three);
    let rows = by_parts.iter().map(|(key, value)| format!("({}, {})", parts(key), parts(value))).collect();
    source.sorted_array("BY_PARTS", "(super::Parts, super::Parts)", rows);
    Ok(source.finish())
}
