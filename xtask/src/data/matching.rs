//! `languageMatching.json`, table `written-new`: rows as they stand, two-way ones in both directions.

use std::collections::BTreeSet;

use anyhow::{Context, Result, bail};
use serde_json::Value;

use super::Table;
use super::emit::{Source, padded, parts};
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-core/supplemental/languageMatching.json")?;
    let data = &json["supplemental"]["languageMatching"]["written-new"];
    let containment = packages.json("cldr-core/supplemental/territoryContainment.json")?;
    let containment = &containment["supplemental"]["territoryContainment"];

    let mut source = Source::new("matching.rs", "languageMatching.json, territoryContainment.json");
    let paradigms = data["paradigmLocales"]["_locales"].as_array().context("no paradigm locales")?;
    source.array("PARADIGMS", "super::Parts", paradigms.iter().filter_map(Value::as_str).map(parts));

    let sets = region_sets(data, containment)?;
    assert!(sets.len() <= 5, "core keeps a place for each of 32 classes");
    let all: BTreeSet<&String> = sets.iter().flat_map(|(_, regions)| regions).collect();
    let names: Vec<&str> = sets.iter().map(|(name, _)| name.as_str()).collect();
    source.line(&format!("/// Each region's class: bit by bit, whether it is in {}.", names.join(", ")));
    let class = |region: &String| {
        sets.iter().enumerate().map(|(bit, (_, set))| u8::from(set.contains(region)) << bit).sum::<u8>()
    };
    source.array(
        "REGION_CLASSES",
        "([u8; 3], u8)",
        all.iter().map(|region| format!("({}, {})", padded(region, 3), class(region))),
    );

    let mut rows = Rows::default();
    for row in data["languageMatch"].as_array().context("no rows")? {
        rows.add(row, &names)?;
    }
    let Rows { mut languages, scripts, regions, language_default, script_default } = rows;
    source.line(&format!(
        "pub(crate) const LANGUAGE_DEFAULT: u8 = {};",
        language_default.context("no `*` row")?
    ));
    source.line(&format!(
        "pub(crate) const SCRIPT_DEFAULT: u8 = {};\n",
        script_default.context("no `*-*` row")?
    ));
    // Stable by the desired language: rows of one language keep the order of the data.
    languages.sort_by_key(|row| row.split(',').next().unwrap_or_default().to_owned());
    source.array("LANGUAGES", "([u8; 3], [u8; 3], u8)", languages);
    source.array("SCRIPTS", "(super::Parts, super::Parts, u8)", scripts);
    source.line("/// Language and script (zeros: any), the bits that count of the desired and the supported region's class and\n/// their values, distance; in the order of the data.");
    source.array("REGIONS", "super::RegionRow", regions);
    Ok(source.finish())
}

/// Every variable, and every region a row names by itself: each is one bit of a region's class.
fn region_sets(data: &Value, containment: &Value) -> Result<Vec<(String, BTreeSet<String>)>> {
    let mut sets: Vec<(String, BTreeSet<String>)> = Vec::new();
    for (name, variable) in data["matchVariables"].as_object().context("no match variables")? {
        let mut regions = BTreeSet::new();
        for code in variable["_value"].as_str().unwrap_or_default().split('+') {
            expand(containment, code, &mut regions);
        }
        sets.push((name.clone(), regions));
    }
    for row in data["languageMatch"].as_array().context("no rows")? {
        for side in ["_desired", "_supported"] {
            if let Some(region) = row[side].as_str().and_then(|pattern| pattern.split('-').nth(2))
                && !region.starts_with(['$', '*'])
                && !sets.iter().any(|(name, _)| name == region)
            {
                sets.push((region.to_owned(), BTreeSet::from([region.to_owned()])));
            }
        }
    }
    Ok(sets)
}

/// The rows of each table.
#[derive(Default)]
struct Rows {
    languages: Vec<String>,
    scripts: Vec<String>,
    regions: Vec<String>,
    language_default: Option<u64>,
    script_default: Option<u64>,
}

impl Rows {
    /// Adds a row of the data, two-way ones in both directions.
    fn add(&mut self, row: &Value, names: &[&str]) -> Result<()> {
        let text = |name: &str| row[name].as_str().with_context(|| format!("{name} is missing in {row}"));
        let (desired, supported) = (text("_desired")?, text("_supported")?);
        let distance = row["_distance"].as_u64().with_context(|| format!("no distance in {row}"))?;
        let both = row["_oneway"] != true && desired != supported;
        let (from, to): (Vec<&str>, Vec<&str>) =
            (desired.split('-').collect(), supported.split('-').collect());
        match (from.as_slice(), to.as_slice()) {
            (["*"], ["*"]) => self.language_default = Some(distance),
            (["*", "*"], ["*", "*"]) => self.script_default = Some(distance),
            ([from], [to]) => {
                self.languages.push(format!("({}, {}, {distance})", padded(from, 3), padded(to, 3)));
                if both {
                    self.languages.push(format!("({}, {}, {distance})", padded(to, 3), padded(from, 3)));
                }
            }
            ([_, _], [_, _]) => {
                self.scripts.push(format!("({}, {}, {distance})", parts(desired), parts(supported)));
                if both {
                    self.scripts.push(format!("({}, {}, {distance})", parts(supported), parts(desired)));
                }
            }
            ([language, script, from], [language_too, script_too, to])
                if language == language_too && script == script_too =>
            {
                let any = |code: &str| if code == "*" { String::new() } else { code.to_owned() };
                let (language, script) = (padded(&any(language), 3), padded(&any(script), 4));
                let (from, to) = (test(from, names)?, test(to, names)?);
                self.regions.push(format!("({language}, {script}, {from}, {to}, {distance})"));
                if both && from != to {
                    self.regions.push(format!("({language}, {script}, {to}, {from}, {distance})"));
                }
            }
            _ => bail!("a row of a shape the tables do not have: {row}"),
        }
        Ok(())
    }
}

/// A region pattern as the bits of a class that count, and their values.
fn test(pattern: &str, names: &[&str]) -> Result<String> {
    let bit = |name: &str| -> Result<u8> {
        let at = names
            .iter()
            .position(|known| *known == name)
            .with_context(|| format!("`{name}` is not defined"))?;
        Ok(1 << at)
    };
    Ok(match pattern.strip_prefix("$!") {
        _ if pattern == "*" => "(0, 0)".to_owned(),
        Some(name) => format!("({}, 0)", bit(&format!("${name}"))?),
        None => format!("({0}, {0})", bit(pattern)?),
    })
}

/// The region, and all that is in it: groups such as 419 count as inside the larger group too.
fn expand(containment: &Value, code: &str, regions: &mut BTreeSet<String>) {
    if !regions.insert(code.to_owned()) {
        return;
    }
    for key in [code.to_owned(), format!("{code}-status-grouping")] {
        for inner in containment[&key]["_contains"].as_array().into_iter().flatten().filter_map(Value::as_str)
        {
            expand(containment, inner, regions);
        }
    }
}
