//! From the CLDR packages to the tables under `crates/crow-fly-cldr/src/generated`.
//!
//! Every table is a pure function of the packages' JSON, so that two runs write the same bytes.

use std::fs;
use std::path::Path;

use anyhow::{Context, Result, bail};

mod aliases;
mod calendars;
mod emit;
mod formats;
mod likely;
mod matching;
mod names;
mod numbers;
mod packages;
mod parents;
mod plurals;
mod registry;
mod scripts;
mod supplement;
mod texts;
mod zone_names;
mod zones;

use packages::Packages;

/// One generated file: its name and its whole content.
struct Table {
    name: String,
    content: Vec<u8>,
}

/// What was cut of the calendars.
const CALENDARS: &str = "xtask/src/data/calendars.txt";

/// Cuts the calendars out of the XML files of the release.
pub(super) fn cut_calendars(root: &Path, main: &Path) -> Result<()> {
    calendars::cut(main, &root.join(CALENDARS))
}

pub(super) fn run(root: &Path, folder: &Path, check: bool) -> Result<()> {
    let packages = Packages::at(folder)?;
    let mut tables = vec![
        aliases::table(&packages)?,
        likely::table(&packages)?,
        matching::table(&packages)?,
        numbers::table(&packages)?,
        parents::table(&packages)?,
        plurals::table(&packages)?,
        registry::table(&packages)?,
        scripts::table(&packages)?,
        supplement::table(&packages)?,
        zones::table(&packages)?,
        zone_names::table(&packages)?,
    ];
    let mut files = formats::files(&packages)?;
    let [own, names] = names::files(&packages)?;
    files.push(own);
    files.extend(calendars::files(&packages, &root.join(CALENDARS))?);
    files.push(zone_names::file(&packages)?);
    files.push(names);
    tables.extend(texts::tables(&packages, &files)?);

    let target = root.join("crates/crow-fly-cldr/src/generated");
    let mut stale = Vec::new();
    for table in &tables {
        let path = target.join(&table.name);
        if fs::read(&path).is_ok_and(|old| old == table.content) {
            continue;
        }
        stale.push(table.name.as_str());
        if !check {
            fs::write(&path, &table.content).with_context(|| format!("writing {}", path.display()))?;
        }
    }
    match (check, stale.is_empty()) {
        (_, true) => println!("{} tables are what CLDR {} says", tables.len(), packages::VERSION),
        (false, false) => println!("written: {}", stale.join(", ")),
        (true, false) => bail!("stale tables: {}; run `cargo run -p xtask -- data`", stale.join(", ")),
    }
    Ok(())
}
