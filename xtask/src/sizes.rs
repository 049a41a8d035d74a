//! What each set of data adds to a program, and how large whole programs are: built for release, stripped.

use std::fs;
use std::path::Path;
use std::process::Command;

use anyhow::{Context, Result, bail};

/// A set of data, the features it takes, and an expression that needs all of it.
const SETS: [(&str, &[&str], &str); 14] = [
    ("nothing", &[], "0usize"),
    (
        "likely subtags",
        &[],
        "likely::language(code(&word)).is_some() as usize + likely::parts(code(&word), 0, 0).is_some() as usize",
    ),
    (
        "aliases",
        &[],
        "aliases::language(code(&word)).is_some() as usize + aliases::region(code(&word)).is_some() as usize + aliases::subdivision(&text).is_some() as usize + aliases::value(b'u', *b\"ca\", &text).is_some() as usize + aliases::compound().len() + aliases::grandfathered().iter().filter(|row| row.0 == text).count()",
    ),
    (
        "language matching",
        &[],
        "matching::languages(code(&word)).count() + matching::script_distance((code(&word), 0), (0, 0)) as usize + matching::region_distance(code(&word), 0, matching::region_class(code(&word)), 0) as usize",
    ),
    ("parents", &[], "parents::parent(code(&word), 0, 0).is_some() as usize"),
    (
        "plural rules",
        &[],
        "plurals::cardinal(code(&word), 0, 0).map_or(0, |found| found.rules.len()) + plurals::ordinal(code(&word), 0, 0).map_or(0, |found| found.rules.len())",
    ),
    (
        "number shapes",
        &[],
        "numbers::shapes(code(&word), 0, 0).map_or(0, |found| found.iter().map(|shape| shape.symbols().group.len() + shape.digits()[0] as usize).sum())",
    ),
    ("script directions", &[], "scripts::is_right_to_left(code(&word)) as usize"),
    ("time zone names", &[], "zones::find(&text).map_or(0, str::len)"),
    ("keys of texts, and the texts of the root", &[], TEXTS),
    ("the texts of all locales (feature `full-data`)", &["full-data"], TEXTS),
    ("the other calendars (feature `calendars`)", &["full-data", "calendars"], TEXTS),
    ("the names of time zones (feature `zone-names`)", &["full-data", "calendars", "zone-names"], ZONE_TEXTS),
    (
        "all names (feature `names`)",
        &["full-data", "calendars", "zone-names", "names"],
        "formats::ZONES.get(&text, &text).map_or(0, str::len) + zones::canonical(&text).and_then(|zone| zones::metazone(zone, 7)).map_or(0, str::len) + formats::UNITS.get(&text, &text).map_or(0, str::len) + formats::NUMBERS.get(&text, &text).map_or(0, str::len) + formats::CURRENCIES.get(&text, &text).map_or(0, str::len) + formats::LISTS.get(&text, &text).map_or(0, str::len) + formats::DATES.get(&text, &text).map_or(0, str::len) + names::OWN.get(&text, &text).map_or(0, str::len) + names::ALL.get(&text, &text).map_or(0, str::len)",
    ),
];

const TEXTS: &str = "formats::UNITS.get(&text, &text).map_or(0, str::len) + formats::NUMBERS.get(&text, &text).map_or(0, str::len) + formats::CURRENCIES.get(&text, &text).map_or(0, str::len) + formats::LISTS.get(&text, &text).map_or(0, str::len) + formats::DATES.get(&text, &text).map_or(0, str::len) + names::OWN.get(&text, &text).map_or(0, str::len)";

const ZONE_TEXTS: &str = "formats::ZONES.get(&text, &text).map_or(0, str::len) + zones::canonical(&text).and_then(|zone| zones::metazone(zone, 7)).map_or(0, str::len) + formats::UNITS.get(&text, &text).map_or(0, str::len) + formats::NUMBERS.get(&text, &text).map_or(0, str::len) + formats::CURRENCIES.get(&text, &text).map_or(0, str::len) + formats::LISTS.get(&text, &text).map_or(0, str::len) + formats::DATES.get(&text, &text).map_or(0, str::len) + names::OWN.get(&text, &text).map_or(0, str::len)";

/// A program that says one text, with what a small application has around it.
const SMALLEST: &str = r#"
fn main() {
    let runtime = tokio::runtime::Builder::new_current_thread().enable_time().build().unwrap();
    runtime.block_on(async {
        let config = crow_fly::Config::parse("default = 'en'\nlocales = ['en', 'cy']").unwrap();
        let text = ".input {$seats :integer} .match $seats one {{One seat}} * {{{$seats} seats}}";
        let catalogs = crow_fly::source::Memory::new([("en", "home", format!("seats = '{text}'"))]);
        let t = crow_fly::CrowFly::new(config, catalogs).translator_for("en").await;
        println!("{}", t.text(("home.seats", crow_fly::args! { seats: 3 })));
    });
}
"#;

pub(super) fn run(root: &Path) -> Result<()> {
    println!("| data | bytes |\n|---|--:|");
    let library = format!("crow-fly-cldr = {{ path = \"{}\"", root.join("crates/crow-fly-cldr").display());
    let data = |features: &[&str], expression: &str| {
        let program = format!(
            "#![allow(unused_imports, unused_variables)]\nuse crow_fly_cldr::*;\nfn main() {{\n    let text = std::env::args().next().unwrap_or_default();\n    let word = text.as_bytes().to_vec();\n    std::process::exit(({expression}) as i32);\n}}\n"
        );
        build(root, &format!("{library}, features = {features:?} }}"), &program)
    };
    let mut last = 0;
    for (name, features, expression) in SETS {
        let size = data(features, expression).with_context(|| format!("measuring {name}"))?;
        let empty = data(&[], "0usize")?;
        // A set with features is compared with the one before it.
        let from = if features.is_empty() { empty } else { last };
        if name != "nothing" {
            println!("| {name} | {} |", size.saturating_sub(from));
        }
        last = size;
    }
    println!("\n| program | bytes |\n|---|--:|");
    let facade = format!(
        "crow-fly = {{ path = \"{}\", default-features = false",
        root.join("crates/crow-fly").display()
    );
    let tokio = "tokio = { version = \"1\", features = [\"rt\", \"time\"] }";
    for (name, features) in [
        ("the smallest that is useful, with the data of the root", &[][..]),
        ("the same with `full-data`", &["full-data"]),
        ("the same with `full-data` and `bundled-time-zones`", &["full-data", "bundled-time-zones"]),
    ] {
        let size = build(root, &format!("{facade}, features = {features:?} }}\n{tokio}"), SMALLEST)?;
        println!("| {name} | {size} |");
    }
    let status = Command::new("cargo")
        .args(["build", "--release", "--quiet", "-p", "ferry"])
        .current_dir(root)
        .status()?;
    if !status.success() {
        bail!("the demo was not built");
    }
    let stripped = root.join("target/sizes/ferry");
    Command::new("strip").arg("-o").arg(&stripped).arg(root.join("target/release/ferry")).status()?;
    println!("| the demo, stripped | {} |", fs::metadata(stripped)?.len());
    Ok(())
}

/// Builds a program for its size, and says it.
fn build(root: &Path, dependencies: &str, program: &str) -> Result<u64> {
    let folder = root.join("target/sizes/program");
    fs::create_dir_all(folder.join("src"))?;
    let manifest = format!(
        "[package]\nname = \"size\"\nedition = \"2024\"\n\n[workspace]\n\n[dependencies]\n{dependencies}\n\n[profile.release]\nlto = true\nstrip = true\nopt-level = \"s\"\ncodegen-units = 1\npanic = \"abort\"\n",
    );
    fs::write(folder.join("Cargo.toml"), manifest)?;
    fs::write(folder.join("src/main.rs"), program)?;
    // The versions of the repository.
    fs::copy(root.join("Cargo.lock"), folder.join("Cargo.lock"))?;
    let target = root.join("target/sizes/target");
    let status = Command::new("cargo")
        .args(["build", "--release", "--quiet", "--target-dir"])
        .arg(&target)
        .current_dir(&folder)
        .status()?;
    if !status.success() {
        bail!("the program was not built");
    }
    Ok(fs::metadata(target.join("release/size"))?.len())
}
