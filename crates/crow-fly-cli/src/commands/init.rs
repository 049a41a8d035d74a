//! `crow-fly init`: a configuration, and the first catalog.

use std::fs;
use std::io::Write;
use std::path::Path;

use anyhow::{Context, Result, bail};
use crow_fly::LanguageTag;
use serde_json::json;

use super::Outcome;
use crate::arguments::InitArguments;
use crate::render;

pub(crate) fn run(file: &Path, what: &InitArguments, json: bool, output: &mut dyn Write) -> Result<Outcome> {
    if file.exists() {
        bail!("{} is there already", file.display());
    }
    let tag = LanguageTag::parse_lenient(&what.default)
        .with_context(|| format!("`{}` is not a language tag", what.default))?
        .canonicalized();
    let folder = file.parent().unwrap_or(Path::new("")).join("catalogs").join(tag.to_string());
    let catalog = folder.join("home.toml");
    let wrong = |path: &Path| format!("{} cannot be written", path.display());
    let mut files = vec![file.to_owned()];
    fs::write(file, config(&tag)).with_context(|| wrong(file))?;
    // Catalogs that are there stay as they are.
    if !folder.exists() {
        fs::create_dir_all(&folder).with_context(|| wrong(&folder))?;
        fs::write(&catalog, CATALOG).with_context(|| wrong(&catalog))?;
        files.push(catalog);
    }
    if json {
        render::json(output, &json!({ "default": tag, "files": files }))?;
        return Ok(Outcome::Well);
    }
    for file in files {
        writeln!(output, "{} written", file.strip_prefix(".").unwrap_or(&file).display())?;
    }
    writeln!(
        output,
        "\nTry:\n  crow-fly say home.greeting --locale {tag} name=Mair\n  crow-fly add-locale pl\n  crow-fly check"
    )?;
    Ok(Outcome::Well)
}

fn config(tag: &LanguageTag) -> String {
    format!(
        "# The languages of this application.\n\
         default = \"{tag}\"\n\
         locales = [\"{tag}\"]\n\
         \n\
         [policy]\n\
         # Who decides the locale of a page: the first that has an answer.\n\
         sources = [\"path\", \"cookie\", \"accept-language\"]\n\
         \n\
         [check]\n\
         # Where keys are searched for in code and templates.\n\
         # code = [\"src\", \"templates\"]\n"
    )
}

const CATALOG: &str = "\
# Comments above a message are notes to translators.
title = \"Home\"

# Above the page, once a visitor has signed in.
greeting = \"Hello, {$name}!\"

# Beside the inbox.
messages = \"\"\"
.input {$count :integer}
.match $count
0   {{No messages}}
one {{One message}}
*   {{{$count} messages}}\"\"\"
";
