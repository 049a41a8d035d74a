//! What each set of CLDR data adds to a program: one small program for each, built for release and stripped.

use std::fs;
use std::path::Path;
use std::process::Command;

use anyhow::{Context, Result, bail};

/// A set of data, the feature it takes, and an expression that needs all of it.
const SETS: [(&str, &str, &str); 16] = [
    ("nothing", "", "0usize"),
    (
        "likely subtags",
        "",
        "likely::language(code(&word)).is_some() as usize + likely::parts(code(&word), 0, 0).is_some() as usize",
    ),
    (
        "aliases",
        "",
        "aliases::language(code(&word)).is_some() as usize + aliases::region(code(&word)).is_some() as usize + aliases::subdivision(&text).is_some() as usize + aliases::value(b'u', *b\"ca\", &text).is_some() as usize + aliases::compound().len() + aliases::grandfathered().iter().filter(|row| row.0 == text).count()",
    ),
    (
        "language matching",
        "",
        "matching::languages(code(&word)).count() + matching::script_distance((code(&word), 0), (0, 0)) as usize + matching::region_distance(code(&word), 0, matching::region_class(code(&word)), 0) as usize",
    ),
    ("parents", "", "parents::parent(code(&word), 0, 0).is_some() as usize"),
    (
        "plural rules",
        "",
        "plurals::cardinal(code(&word), 0, 0).map_or(0, |found| found.0.len()) + plurals::ordinal(code(&word), 0, 0).map_or(0, |found| found.0.len())",
    ),
    (
        "number shapes",
        "",
        "numbers::shapes(code(&word), 0, 0).map_or(0, |found| found.iter().map(|shape| shape.symbols().group.len() + shape.digits()[0] as usize).sum())",
    ),
    ("script directions", "", "scripts::is_right_to_left(code(&word)) as usize"),
    ("number patterns", "", "formats::NUMBERS.get(&text, &text).map_or(0, str::len)"),
    ("currencies", "", "formats::CURRENCIES.get(&text, &text).map_or(0, str::len)"),
    ("units", "", "formats::UNITS.get(&text, &text).map_or(0, str::len)"),
    ("lists", "", "formats::LISTS.get(&text, &text).map_or(0, str::len)"),
    ("dates", "", "formats::DATES.get(&text, &text).map_or(0, str::len)"),
    ("time zone names", "", "zones::find(&text).map_or(0, str::len)"),
    ("own names", "", "names::OWN.get(&text, &text).map_or(0, str::len)"),
    ("all names (feature `names`)", "names", "names::ALL.get(&text, &text).map_or(0, str::len)"),
];

pub(super) fn run(root: &Path) -> Result<()> {
    println!("| data | bytes |\n|---|--:|");
    let mut empty = 0;
    for (at, (name, feature, expression)) in SETS.iter().enumerate() {
        let size = build(root, at, feature, expression).with_context(|| format!("measuring {name}"))?;
        if at == 0 {
            empty = size;
        } else {
            println!("| {name} | {} |", size.saturating_sub(empty));
        }
    }
    Ok(())
}

fn build(root: &Path, at: usize, feature: &str, expression: &str) -> Result<u64> {
    let folder = root.join("target/sizes").join(at.to_string());
    fs::create_dir_all(folder.join("src"))?;
    let library = root.join("crates/crow-fly-cldr").display().to_string();
    let manifest = format!(
        "[package]\nname = \"size-{at}\"\nedition = \"2024\"\n\n[workspace]\n\n[dependencies]\ncrow-fly-cldr = {{ path = \"{library}\", features = [{features}] }}\n\n[profile.release]\nlto = true\nstrip = true\nopt-level = \"s\"\ncodegen-units = 1\npanic = \"abort\"\n",
        features = if feature.is_empty() { String::new() } else { format!("{feature:?}") },
    );
    let program = format!(
        "#![allow(unused_imports, unused_variables)]\nuse crow_fly_cldr::*;\nfn main() {{\n    let text = std::env::args().next().unwrap_or_default();\n    let word = text.as_bytes().to_vec();\n    std::process::exit(({expression}) as i32);\n}}\n"
    );
    fs::write(folder.join("Cargo.toml"), manifest)?;
    fs::write(folder.join("src/main.rs"), program)?;
    let target = root.join("target/sizes/target");
    let status = Command::new("cargo")
        .args(["build", "--release", "--quiet", "--target-dir"])
        .arg(&target)
        .current_dir(&folder)
        .status()?;
    if !status.success() {
        bail!("the program was not built");
    }
    Ok(fs::metadata(target.join("release").join(format!("size-{at}")))?.len())
}
