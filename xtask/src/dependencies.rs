//! What the crates depend on: what each is for, licences, and crates that are there in two versions.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use std::process::Command;

use anyhow::{Context as _, Result, bail, ensure};
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

/// Crates that are there in several versions with all features, and which crates keep the older ones. No application has all
/// of them: they come with `actix`, with sessions, and with releases in object stores.
const SEVERAL_VERSIONS: [(&str, &str); 14] = [
    ("base64", "actix-web, tower-sessions-core"),
    ("block-buffer", "digest 0.10, of actix-web"),
    ("cookie", "actix-web"),
    ("cpufeatures", "aes-gcm and sha2, of actix-web"),
    ("crypto-common", "aes-gcm, of actix-web"),
    ("digest", "hmac and sha2, of actix-web"),
    ("getrandom", "rand 0.8 and 0.9, ring"),
    ("http", "actix-web"),
    ("r-efi", "getrandom"),
    ("rand", "actix-web, actix-session, tower-sessions-core"),
    ("rand_chacha", "rand 0.8 and 0.9"),
    ("rand_core", "rand 0.8 and 0.9"),
    ("syn", "derive macros that have not moved to syn 3"),
    ("windows-sys", "ring"),
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
    let page = std::fs::read_to_string(root.join(PAGE)).with_context(|| format!("reading {PAGE}"))?;
    let ours = packages
        .values()
        .copied()
        .filter(|package| package["name"].as_str().is_some_and(|name| CRATES.contains(&name)));
    let mut wrong = unlike(&page, &direct(ours));
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
    let several: BTreeSet<&str> =
        versions.iter().filter(|(_, versions)| versions.len() > 1).map(|(name, _)| *name).collect();
    let known: BTreeSet<&str> = SEVERAL_VERSIONS.iter().map(|(name, _)| *name).collect();
    for name in several.difference(&known) {
        wrong.push(format!("{name} is there in several versions: {:?}", versions[name]));
    }
    for name in known.difference(&several) {
        wrong.push(format!("{name} is there once: it can leave the list in `xtask/src/dependencies.rs`"));
    }
    let twice = twice_by_default(root)?;
    if !twice.is_empty() {
        wrong.push(format!("with the default features some crates are there in several versions: {twice}"));
    }
    if !wrong.is_empty() {
        bail!("{}", wrong.join("; "));
    }
    println!("{} crates have licences that go with ours", versions.len());
    println!("{} of them are there in several versions, none with the default features", several.len());
    Ok(())
}

/// The page that says what each dependency is for.
const PAGE: &str = "docs/dependencies.md";

/// What our crates depend on themselves, tests aside: the crate, and whose it is, as the page writes it.
fn direct<'p>(ours: impl Iterator<Item = &'p Value>) -> BTreeMap<String, String> {
    // Whether each of ours has it always, or as an option.
    let mut all: BTreeMap<&str, BTreeSet<(bool, &str)>> = BTreeMap::new();
    for package in ours {
        let name = package["name"].as_str().unwrap_or_default();
        for dependency in array(&package["dependencies"]).filter(|dependency| dependency["kind"] != "dev") {
            let other = dependency["name"].as_str().unwrap_or_default();
            let optional = dependency["optional"].as_bool().unwrap_or_default();
            if !CRATES.contains(&other) {
                all.entry(other).or_default().insert((optional, name));
            }
        }
    }
    let of = |owners: BTreeSet<(bool, &str)>| {
        let some = |optional| {
            let names: Vec<&str> =
                owners.iter().filter(|(is, _)| *is == optional).map(|(_, name)| *name).collect();
            names.join(", ")
        };
        match (some(false), some(true)) {
            (always, none) if none.is_empty() => always,
            (none, optional) if none.is_empty() => format!("{optional}, optional"),
            (always, optional) => format!("{always}; {optional}, optional"),
        }
    };
    all.into_iter().map(|(name, owners)| (name.to_owned(), of(owners))).collect()
}

/// How the page differs from the manifests.
fn unlike(page: &str, direct: &BTreeMap<String, String>) -> Vec<String> {
    let rows: BTreeMap<&str, (&str, &str)> = page
        .lines()
        .filter_map(|line| {
            let cells: Vec<&str> =
                line.strip_prefix("| `")?.strip_suffix('|')?.split('|').map(str::trim).collect();
            let [name, of, purpose] = cells[..] else { return None };
            Some((name.trim_end_matches('`'), (of, purpose)))
        })
        .collect();
    let mut wrong = Vec::new();
    for (name, of) in direct {
        match rows.get(&**name) {
            None | Some((_, "")) => wrong.push(format!("{PAGE} does not say what `{name}` is for")),
            Some((known, _)) if known != of => {
                wrong.push(format!("`{name}` is of {of}, not of {known}: correct {PAGE}"));
            }
            Some(_) => {}
        }
    }
    let surplus = rows.keys().filter(|name| !direct.contains_key(**name));
    wrong.extend(
        surplus.map(|name| format!("nothing depends on `{name}` any more: delete its row in {PAGE}")),
    );
    wrong
}

/// The crates that an application with the default features builds in several versions.
fn twice_by_default(root: &Path) -> Result<String> {
    let arguments = [
        "tree",
        "--locked",
        "-p",
        "crow-fly",
        "-e",
        "normal,build",
        "-d",
        "--depth",
        "0",
        "--prefix",
        "none",
    ];
    let output = Command::new("cargo").args(arguments).current_dir(root).output()?;
    ensure!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let text = String::from_utf8_lossy(&output.stdout);
    Ok(text.lines().filter(|line| !line.is_empty()).collect::<Vec<_>>().join(", "))
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
    use std::collections::BTreeMap;

    use super::{is_fine, unlike};

    #[test]
    fn the_page_has_a_row_for_each_dependency_and_no_other() {
        let page = "| crate | of | what it is for |\n|---|---|---|\n| `tokio` | crow-fly | loads |\n| `csv` | crow-fly-cli | |\n";
        let direct = |rows: &[(&str, &str)]| -> BTreeMap<String, String> {
            rows.iter().map(|(name, of)| ((*name).to_owned(), (*of).to_owned())).collect()
        };
        assert_eq!(unlike(page, &direct(&[("tokio", "crow-fly"), ("csv", "crow-fly-cli")])).len(), 1);
        let wrong = unlike(page, &direct(&[("tokio", "crow-fly, optional"), ("serde", "crow-fly")]));
        assert_eq!(wrong.len(), 3, "{wrong:?}");
    }

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
