//! `crow-fly init`: a project that runs, and the code of its first page.

use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result, bail, ensure};
use crow_fly::LanguageTag;
use serde_json::json;
use toml_edit::DocumentMut;

use super::{Outcome, add_locale};
use crate::arguments::InitArguments;
use crate::project::Project;
use crate::{place, render};

/// The first catalog, in the languages that have one.
const CATALOGS: [(&str, &str); 5] = [
    ("de", include_str!("de.toml")),
    ("en", include_str!("en.toml")),
    ("es", include_str!("es.toml")),
    ("fr", include_str!("fr.toml")),
    ("pl", include_str!("pl.toml")),
];

pub(crate) fn run(file: &Path, what: &InitArguments, output: &mut dyn Write) -> Result<Outcome> {
    if file.exists() {
        bail!("{} exists already: this folder has an application", place::path(file));
    }
    let default = tag(&what.default)?;
    let second = match &what.locale {
        Some(text) => tag(text)?,
        None => tag(if default.language() == "de" { "en" } else { "de" })?,
    };
    ensure!(default != second, "the two locales are the same: `{default}`");
    let folder = file.parent().unwrap_or(Path::new(""));
    let written = write(file, folder, &default, &second)?;
    let framework = Framework::of(&folder.join("Cargo.toml"));
    if what.format.is_json() {
        let files: Vec<String> = written.iter().map(|file| place::path(file)).collect();
        let code = json!({ "manifest": framework.manifest(), "main": framework.main() });
        let locales = [default, second];
        render::json(output, &json!({ "locales": locales, "files": files, "code": code }))?;
        return Ok(Outcome::Well);
    }
    for file in &written {
        writeln!(output, "{} written", place::path(file))?;
    }
    writeln!(output, "\nIn Cargo.toml:\n\n{}", indented(framework.manifest()))?;
    writeln!(output, "In src/main.rs:\n\n{}", indented(framework.main()))?;
    writeln!(output, "Then:\n")?;
    writeln!(output, "  cargo run                                      # http://127.0.0.1:3000")?;
    writeln!(output, "  crow-fly say home.greeting --all name=Mair")?;
    writeln!(output, "  crow-fly check")?;
    Ok(Outcome::Well)
}

fn tag(text: &str) -> Result<LanguageTag> {
    let tag = LanguageTag::parse_lenient(text).with_context(|| format!("`{text}` is not a language tag"))?;
    Ok(tag.canonicalized())
}

/// Writes the configuration and the catalogs; returns the files.
fn write(file: &Path, folder: &Path, default: &LanguageTag, second: &LanguageTag) -> Result<Vec<PathBuf>> {
    let catalog = |tag: &LanguageTag| folder.join("catalogs").join(tag.to_string()).join("home.toml");
    let mut files = vec![file.to_owned()];
    // A language without a catalog, of ours or here already, gets the texts of the default locale, to be translated.
    let is_laid_out = texts(second).is_none() && !catalog(second).exists();
    put(file, &config(default, (!is_laid_out).then_some(second)))?;
    let first = (default, texts(default).unwrap_or_else(english));
    for (tag, text) in std::iter::once(first).chain(texts(second).map(|text| (second, text))) {
        let path = catalog(tag);
        // Catalogs that exist stay as they are.
        if !path.exists() {
            put(&path, text)?;
            files.push(path);
        }
    }
    if is_laid_out {
        add_locale::add(file, &Project::open(file)?, second)?;
        files.push(catalog(second));
    }
    Ok(files)
}

fn put(file: &Path, text: &str) -> Result<()> {
    let wrong = || format!("{} cannot be written", file.display());
    if let Some(folder) = file.parent() {
        fs::create_dir_all(folder).with_context(wrong)?;
    }
    fs::write(file, text).with_context(wrong)
}

/// The first catalog of a language.
fn texts(tag: &LanguageTag) -> Option<&'static str> {
    CATALOGS.iter().find(|(language, _)| tag.language() == *language).map(|(_, text)| *text)
}

fn english() -> &'static str {
    CATALOGS.iter().find(|(language, _)| *language == "en").map_or("", |(_, text)| text)
}

fn config(default: &LanguageTag, second: Option<&LanguageTag>) -> String {
    let second = second.map(|second| format!(", \"{second}\"")).unwrap_or_default();
    format!(
        "# The languages of this application.\n\
         default = \"{default}\"\n\
         locales = [\"{default}\"{second}]\n\
         \n\
         [policy]\n\
         # Who decides the locale of a page: the first source that has an answer.\n\
         sources = [\"path\", \"cookie\", \"accept-language\"]\n\
         \n\
         [check]\n\
         # Where keys are searched for in code and templates.\n\
         # code = [\"src\", \"templates\"]\n"
    )
}

fn indented(text: &str) -> String {
    let line = |line: &str| if line.is_empty() { "\n".to_owned() } else { format!("  {line}\n") };
    text.lines().map(line).collect()
}

/// What the application is made with.
#[derive(Clone, Copy)]
enum Framework {
    Axum,
    Actix,
}

impl Framework {
    /// The framework that a manifest names; axum where it names none.
    fn of(manifest: &Path) -> Self {
        let text = fs::read_to_string(manifest).unwrap_or_default();
        let manifest: DocumentMut = text.parse().unwrap_or_default();
        let names = |name: &str| manifest.get("dependencies").is_some_and(|all| all.get(name).is_some());
        if names("actix-web") && !names("axum") { Self::Actix } else { Self::Axum }
    }

    /// What the application depends on.
    const fn manifest(self) -> &'static str {
        match self {
            Self::Axum => include_str!("axum.Cargo.toml"),
            Self::Actix => include_str!("actix.Cargo.toml"),
        }
    }

    /// The first page.
    const fn main(self) -> &'static str {
        match self {
            Self::Axum => include_str!("axum.rs"),
            Self::Actix => include_str!("actix.rs"),
        }
    }
}
