//! What the crates depend on: licences, crates that are there in two versions, and crates that nobody may use here.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;

use anyhow::{Result, bail, ensure};
use serde_json::Value;

/// Licences that go with MIT or Apache-2.0.
const LICENCES: [&str; 14] = [
    "0BSD",
    "Apache-2.0",
    "Apache-2.0 WITH LLVM-exception",
    "BSD-2-Clause",
    "BSD-3-Clause",
    "BSL-1.0",
    "CC0-1.0",
    "CDLA-Permissive-2.0",
    "ISC",
    "MIT",
    "MIT-0",
    "Unicode-3.0",
    "Unlicense",
    "Zlib",
];

/// Looks at what applications build: the crates that are published, with all features, without what only tests use.
const CRATES: [&str; 6] =
    ["crow-fly", "crow-fly-cldr", "crow-fly-core", "crow-fly-codegen", "crow-fly-embed", "crow-fly-cli"];

pub(crate) fn run(root: &Path) -> Result<()> {
    let output = Command::new("cargo")
        .args(["metadata", "--format-version", "1", "--all-features", "--locked"])
        .current_dir(root)
        .output()?;
    ensure!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let metadata: Value = serde_json::from_slice(&output.stdout)?;
    let packages: BTreeMap<&str, &Value> =
        array(&metadata["packages"]).filter_map(|package| Some((package["id"].as_str()?, package))).collect();
    let nodes: BTreeMap<&str, &Value> =
        array(&metadata["resolve"]["nodes"]).filter_map(|node| Some((node["id"].as_str()?, node))).collect();
    let is_ours = |id: &&str| packages[*id]["name"].as_str().is_some_and(|name| CRATES.contains(&name));
    let mut open: Vec<&str> = packages.keys().copied().filter(is_ours).collect();
    let mut used = BTreeSet::new();
    while let Some(id) = open.pop() {
        if used.insert(id) {
            let dependencies = array(&nodes[id]["deps"]).filter(|dependency| {
                array(&dependency["dep_kinds"]).any(|kind| kind["kind"].as_str() != Some("dev"))
            });
            open.extend(dependencies.filter_map(|dependency| dependency["pkg"].as_str()));
        }
    }
    let mut versions: BTreeMap<&str, BTreeSet<&str>> = BTreeMap::new();
    let mut wrong = Vec::new();
    for id in used {
        let package = packages[id];
        let (name, version) =
            (package["name"].as_str().unwrap_or_default(), package["version"].as_str().unwrap_or_default());
        versions.entry(name).or_default().insert(version);
        let licence = package["license"].as_str().unwrap_or("none");
        if !is_fine(licence) {
            wrong.push(format!("{name} has the licence `{licence}`"));
        }
    }
    for (name, versions) in &versions {
        if versions.len() > 1 {
            println!("note: {name} is there in several versions: {versions:?}");
        }
    }
    if !wrong.is_empty() {
        bail!("{}", wrong.join("; "));
    }
    println!("{} crates have licences that go with ours", versions.len());
    Ok(())
}

/// Whether one of the choices of an expression is fine throughout.
fn is_fine(licence: &str) -> bool {
    let plain = licence.replace(['(', ')'], "").replace('/', " OR ");
    plain.split(" OR ").any(|choice| choice.split(" AND ").all(|part| LICENCES.contains(&part.trim())))
}

fn array(value: &Value) -> impl Iterator<Item = &Value> {
    value.as_array().into_iter().flatten()
}

#[cfg(test)]
mod tests {
    use super::is_fine;

    #[test]
    fn one_choice_of_a_licence_must_be_fine_throughout() {
        for fine in ["MIT", "MIT OR GPL-3.0", "(MIT OR Apache-2.0) AND Unicode-3.0", "Apache-2.0/MIT"] {
            assert!(is_fine(fine), "{fine}");
        }
        for other in ["GPL-3.0", "MIT AND GPL-3.0", "none"] {
            assert!(!is_fine(other), "{other}");
        }
    }
}
