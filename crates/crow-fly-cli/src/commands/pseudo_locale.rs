//! `crow-fly pseudo-locale`: the reference's texts made strange, as files.

use std::fs;
use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly::LanguageTag;
use crow_fly_core::translation::PseudoLocale;
use serde_json::json;

use super::Outcome;
use crate::arguments::PseudoLocaleArguments;
use crate::catalog_file::CatalogFile;
use crate::project::Project;
use crate::render;

/// What files of this command begin with.
const MADE: &str = "Made by `crow-fly pseudo-locale`.";

pub(crate) fn run(
    project: &Project,
    what: &PseudoLocaleArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let help = || format!("`{}` is not a pseudo-locale: use `en-XA` or `ar-XB`", what.tag);
    let tag = LanguageTag::parse_lenient(&what.tag).with_context(help)?.canonicalized();
    let pseudo = PseudoLocale::of(&tag).with_context(help)?;
    let reference = project.config.policy().set().default_locale();
    let own = project.read(&project.list()?, reference);
    let mut files = Vec::new();
    for (section, source) in &own.sections {
        let path = project.config.catalogs().join(tag.to_string()).join(format!("{section}.toml"));
        // Made anew each time; what somebody else has written stays.
        let is_ours = |text: String| text.starts_with(&format!("# {MADE}\n"));
        if path.exists() && !fs::read_to_string(&path).is_ok_and(is_ours) {
            bail!("{} was not made by this command; move it away first", path.display());
        }
        let mut file = CatalogFile::new(&path);
        for entry in source.entries() {
            // What has errors falls back to the reference, as it does there.
            let Ok(text) = pseudo.message(entry.text()) else { continue };
            file.set(&entry.key().split('.').collect::<Vec<_>>(), &text)?;
        }
        file.set_head(&[MADE.to_owned()]);
        file.write()?;
        files.push((project.place(&tag.to_string(), section), source.entries().len()));
    }
    if json {
        let files: Vec<_> =
            files.iter().map(|(file, texts)| json!({ "file": file, "texts": texts })).collect();
        render::json(output, &json!({ "locale": tag, "files": files }))?;
        return Ok(Outcome::Well);
    }
    for (file, count) in files {
        writeln!(output, "{file}: {}", render::count(count, "text"))?;
    }
    if project.locale(&what.tag).is_err() {
        let config = "the configuration";
        writeln!(output, "`{tag}` is not one of the locales of {config}; add it there for a test")?;
    }
    Ok(Outcome::Well)
}
