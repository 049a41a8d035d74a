//! `crow-fly types`: a Rust type for each message, in a file of the application's own.

use std::fs;
use std::io::{ErrorKind, Write};
use std::path::Path;

use anyhow::{Context, Result, bail};
use crow_fly_codegen::Catalogs;
use serde_json::json;

use super::Outcome;
use crate::arguments::TypesArguments;
use crate::project::Project;
use crate::render;

pub(crate) fn run(
    config: &Path,
    project: &Project,
    what: &TypesArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let set = project.config.policy().set();
    let reference = set.tag(set.default_locale()).to_string();
    let folder = config.parent().unwrap_or(Path::new(""));
    let catalogs = Catalogs::of(project.config.catalogs(), &reference).shown_below(folder);
    let code = catalogs.module().context("no types can be made")?;
    let (file, shown) = (&what.file, what.file.display());
    let old = match fs::read_to_string(file) {
        Ok(old) => Some(old),
        Err(error) if error.kind() == ErrorKind::NotFound => None,
        Err(error) => bail!("{shown} cannot be read: {error}"),
    };
    let is_ours = |old: &String| old.is_empty() || old.starts_with(crow_fly_codegen::HEAD);
    if old.as_ref().is_some_and(|old| !is_ours(old)) {
        bail!("{shown} was not made by this command; move it away first");
    }
    let is_current = old.as_ref() == Some(&code);
    if !is_current && !what.check {
        fs::write(file, &code).with_context(|| format!("{shown} cannot be written"))?;
    }
    if json {
        render::json(
            output,
            &json!({ "file": file, "current": is_current, "written": !is_current && !what.check }),
        )?;
    } else if is_current {
        writeln!(output, "{shown} is current")?;
    } else if what.check {
        let state = if old.is_some() { "differs from the catalogs" } else { "is not there" };
        writeln!(output, "{shown} {state}; run `crow-fly types {shown}`")?;
    } else {
        writeln!(output, "{shown} is written")?;
    }
    Ok(if is_current || !what.check { Outcome::Well } else { Outcome::Found })
}
