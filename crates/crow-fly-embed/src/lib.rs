//! Puts an application's catalogs, and the data of its languages, into its binary, from a build script.
//!
//! In `build.rs`, with this crate among the build dependencies:
//!
//! ```no_run
//! fn main() -> std::io::Result<()> {
//!     crow_fly_embed::catalogs("catalogs")
//! }
//! ```
//!
//! In the application:
//!
//! ```ignore
//! let catalogs = include!(concat!(env!("OUT_DIR"), "/catalogs.rs"));
//! let crow = CrowFly::new(config, catalogs);
//! ```
//!
//! With the feature `locale-data`, [`locale_data`] writes the data of some languages, for a program that has switched
//! `full-data` off.
//!
//! The whole folder of catalogs is taken, and looked through again when anything in it changes: no file can be forgotten. A file that
//! is not UTF-8 does not compile.
#![warn(missing_docs)]

use std::fmt::Write as _;
use std::io;
use std::path::{Path, PathBuf};

/// What the names of catalogs end in.
const EXTENSIONS: [&str; 2] = ["toml", "json"];

/// Writes `$OUT_DIR/catalogs.rs`: an expression that is the catalogs below a folder, as a source. The folder is relative to
/// the package. Tells Cargo to run the build script again when something in the folder changes.
///
/// # Errors
/// Where the folder cannot be read, has no catalogs, or this does not run as a build script.
pub fn catalogs(folder: impl AsRef<Path>) -> io::Result<()> {
    let folder = Path::new(&variable("CARGO_MANIFEST_DIR")?).join(folder);
    let code = code(&folder)?;
    std::fs::write(Path::new(&variable("OUT_DIR")?).join("catalogs.rs"), code)?;
    // Cargo looks through the whole folder.
    tell_cargo(&folder)
}

/// Writes `$OUT_DIR/locale_data.bin`: what CLDR says of some languages, with their regions and scripts, and of those that they
/// inherit from. A language is given by the tag of any locale of it. A calendar is in it for a language where the region of a tag
/// prefers it (`fa`, `en-TH`), or its `-u-ca-` names it; with the feature `calendars` all calendars are. With the feature `names`
/// the names of all languages in these are in it.
///
/// In `build.rs`:
///
/// ```no_run
/// fn main() -> std::io::Result<()> {
///     crow_fly_embed::locale_data(["en", "cy", "pl"])
/// }
/// ```
///
/// The application, whose `crow-fly` is without its default feature `full-data`, installs it first of all:
///
/// ```ignore
/// crow_fly::data::install(include_bytes!(concat!(env!("OUT_DIR"), "/locale_data.bin")))?;
/// ```
///
/// # Errors
/// Where the file cannot be written, CLDR has no such language, or this does not run as a build script.
#[cfg(feature = "locale-data")]
pub fn locale_data<'a>(languages: impl IntoIterator<Item = &'a str>) -> io::Result<()> {
    let languages: Vec<&str> = languages.into_iter().collect();
    if let Some(unknown) = languages.iter().find(|tag| !crow_fly_cldr::data::has_language(tag)) {
        return Err(io::Error::other(format!(
            "CLDR has no data of the language of `{unknown}`; a program does not need it to use this locale"
        )));
    }
    let data = crow_fly_cldr::data::of_languages(languages, cfg!(feature = "calendars"));
    std::fs::write(Path::new(&variable("OUT_DIR")?).join("locale_data.bin"), data)?;
    tell_cargo(Path::new("build.rs"))
}

fn variable(name: &str) -> io::Result<std::ffi::OsString> {
    let missing = || io::Error::other(format!("{name} is not set: call this from a build script"));
    std::env::var_os(name).ok_or_else(missing)
}

/// Tells Cargo what the build script reads.
fn tell_cargo(path: &Path) -> io::Result<()> {
    let mut directive = String::new();
    let _ = writeln!(directive, "cargo::rerun-if-changed={}", path.display());
    io::Write::write_all(&mut io::stdout(), directive.as_bytes())
}

/// The code that [`catalogs`] writes.
///
/// # Errors
/// Where the folder cannot be read, or has no catalogs.
pub fn code(folder: &Path) -> io::Result<String> {
    let folder = folder.canonicalize().map_err(|error| cannot_be_read(folder, &error))?;
    let mut rows = String::new();
    for path in paths_in(&folder)? {
        let files = if path.is_dir() { paths_in(&path)? } else { vec![path] };
        for file in files {
            row(&mut rows, &folder, &file);
        }
    }
    if rows.is_empty() {
        return Err(io::Error::other(format!("{} has no catalogs", folder.display())));
    }
    Ok(format!(
        "// Written by a build script from {folder}.\n{{\n    static FILES: &[::crow_fly::source::EmbeddedFile] = &[\n{rows}    ];\n    ::crow_fly::source::Embedded::new(FILES)\n}}\n",
        folder = folder.display(),
    ))
}

/// Adds a file with its path below the folder, where it is a catalog. What the path means is read by the library.
fn row(rows: &mut String, folder: &Path, file: &Path) {
    let extension = file.extension().and_then(|extension| extension.to_str());
    let is_catalog = extension.is_some_and(|extension| EXTENSIONS.contains(&extension));
    let parts = file.strip_prefix(folder).unwrap_or(file).iter().map(|part| part.to_str());
    let (true, Some(parts)) = (is_catalog, parts.collect::<Option<Vec<&str>>>()) else { return };
    let (name, path) = (parts.join("/"), file.display().to_string());
    // Writing to a `String` does not fail.
    let _ = writeln!(
        rows,
        "        ::crow_fly::source::EmbeddedFile::new({name:?}, ::core::include_str!({path:?})),"
    );
}

/// What is in a folder, sorted, without hidden names: one order for all build scripts.
///
/// # Errors
/// Where the folder cannot be read.
pub fn paths_in(folder: &Path) -> io::Result<Vec<PathBuf>> {
    let entries = std::fs::read_dir(folder).map_err(|error| cannot_be_read(folder, &error))?;
    let mut paths = entries.map(|entry| Ok(entry?.path())).collect::<io::Result<Vec<_>>>()?;
    paths.retain(|path| {
        let name = path.file_name().and_then(|name| name.to_str());
        name.is_some_and(|name| !name.starts_with('.'))
    });
    paths.sort();
    Ok(paths)
}

/// An error of reading, with what was read.
pub fn cannot_be_read(path: &Path, error: &io::Error) -> io::Error {
    io::Error::new(error.kind(), format!("{} cannot be read: {error}", path.display()))
}
