//! `parentLocales.json`: the parents that truncation does not give.

use anyhow::{Context, Result};

use super::Table;
use super::emit::{Source, parts};
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-core/supplemental/parentLocales.json")?;
    let data = json["supplemental"]["parentLocales"]["parentLocale"]
        .as_object()
        .context("parentLocale is not a table")?;
    let rows = data
        .iter()
        .map(|(child, parent)| {
            Ok(format!("({}, {})", parts(child), parts(parent.as_str().context("a parent is a text")?)))
        })
        .collect::<Result<_>>()?;
    let mut source = Source::new("parents.rs", "parentLocales.json");
    source.sorted_array("PARENTS", "(super::Parts, super::Parts)", rows);
    Ok(source.finish())
}
