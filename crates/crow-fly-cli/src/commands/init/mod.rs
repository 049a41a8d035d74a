//! `crow-fly init`: a project that runs, and the code of its first page.

use std::io::Write;
use std::path::{Path, PathBuf};

use anyhow::{Result, bail, ensure};
use crow_fly::{Config, LanguageTag};
use serde_json::json;
use toml_edit::DocumentMut;

use super::Outcome;
use super::add_locale::{self, registered};
use crate::arguments::InitArguments;
use crate::output::Output;
use crate::project::{LocaleCatalogs, Project};
use crate::text_file::TextFile;
use crate::writing::{Change, Writing};
use crate::{place, reading, render};

/// The first catalog, in the languages that have one.
const CATALOGS: [(&str, &str); 5] = [
    ("de", include_str!("de.toml")),
    ("en", include_str!("en.toml")),
    ("es", include_str!("es.toml")),
    ("fr", include_str!("fr.toml")),
    ("pl", include_str!("pl.toml")),
];

pub(crate) fn run(
    file: &Path,
    what: &InitArguments,
    writing: &Writing<'_>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    if file.exists() {
        bail!("{} exists already: this folder has an application", place::path(file));
    }
    let default = registered(&what.default)?;
    let second = match &what.locale {
        Some(text) => registered(text)?,
        None => registered(if default.language() == "de" { "en" } else { "de" })?,
    };
    ensure!(default != second, "the two locales are the same: `{default}`");
    let folder = file.parent().unwrap_or(Path::new(""));
    let written = write(writing, file, folder, &default, &second)?;
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

/// Writes the configuration and the catalogs; returns the files.
fn write(
    writing: &Writing<'_>,
    file: &Path,
    folder: &Path,
    default: &LanguageTag,
    second: &LanguageTag,
) -> Result<Vec<PathBuf>> {
    let root = folder.join("catalogs");
    let catalog = |tag: &LanguageTag| root.join(tag.to_string()).join("home.toml");
    let (mut files, mut changes) = (vec![file.to_owned()], Vec::new());
    let known = [Some(texts(default).unwrap_or_else(english)), texts(second)];
    for (tag, text) in [default, second].into_iter().zip(known) {
        let path = catalog(tag);
        // Catalogs that exist stay as they are.
        if path.exists() {
            continue;
        }
        match text {
            Some(text) => changes.push(TextFile::new(&path).change(Some(text))?),
            // A language without a catalog of ours gets the texts of the default locale, to be translated.
            None => changes.extend(laid_out(&root, default, second)?),
        }
        files.push(path);
    }
    // Last: what it names is there.
    changes.push(TextFile::new(file).change(Some(&config(default, second)))?);
    writing.write(changes)?;
    Ok(files)
}

/// The files of the default locale, those that are there or our first one, as those of another locale.
fn laid_out(root: &Path, default: &LanguageTag, second: &LanguageTag) -> Result<Vec<Change>> {
    let project = Project::of(Config::parse(&config(default, second))?, root);
    let path = root.join(default.to_string()).join("home.toml");
    let own = if path.exists() {
        project.read(&project.list()?, project.config.policy().set().default_locale())
    } else {
        LocaleCatalogs::of_file(&path, "home", texts(default).unwrap_or_else(english))
    };
    let files = add_locale::laid_out(root, &own, default, second)?;
    files.iter().map(|(file, _)| file.change()).collect()
}

/// The first catalog of a language.
fn texts(tag: &LanguageTag) -> Option<&'static str> {
    CATALOGS.iter().find(|(language, _)| tag.language() == *language).map(|(_, text)| *text)
}

fn english() -> &'static str {
    CATALOGS.iter().find(|(language, _)| *language == "en").map_or("", |(_, text)| text)
}

fn config(default: &LanguageTag, second: &LanguageTag) -> String {
    format!(
        "# The languages of this application.\n\
         default = \"{default}\"\n\
         locales = [\"{default}\", \"{second}\"]\n\
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
        let text = reading::text(manifest).unwrap_or_default();
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
