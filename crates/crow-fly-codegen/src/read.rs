//! The files of a locale.

use std::fs;
use std::io;
use std::path::Path;

use crow_fly_core::catalog::{FileFormat, SectionSource, is_name};
use crow_fly_embed::{cannot_be_read, paths_in};

/// A catalog file, as it is written.
#[derive(Clone, Debug)]
pub struct SourceFile {
    /// Its path for people.
    pub(crate) path: String,
    /// Its section; none where it has all sections of the locale.
    pub(crate) section: Option<String>,
    pub(crate) format: FileFormat,
    pub(crate) text: String,
}

impl SourceFile {
    /// A section, in TOML or, where the path ends in `.json`, in JSON.
    pub fn section(path: impl Into<String>, section: impl Into<String>, text: impl Into<String>) -> Self {
        Self { section: Some(section.into()), ..Self::all_sections(path, text) }
    }

    /// A file with all sections of the locale: its first groups.
    pub fn all_sections(path: impl Into<String>, text: impl Into<String>) -> Self {
        let path = path.into();
        let format = format_of(Path::new(&path)).unwrap_or(FileFormat::Toml);
        Self { path, section: None, format, text: text.into() }
    }

    /// The file with its path below a folder.
    pub(crate) fn shown_below(mut self, folder: &Path) -> Self {
        if let Ok(path) = Path::new(&self.path).strip_prefix(folder) {
            self.path = path.display().to_string();
        }
        self
    }

    /// The sections in the file, by name.
    pub(crate) fn sections(&self) -> Vec<(String, SectionSource)> {
        let source = SectionSource::read(self.text.as_bytes(), self.format);
        match &self.section {
            Some(section) => vec![(section.clone(), source)],
            None => source.with_all_sections().into_sections().into_iter().collect(),
        }
    }
}

fn format_of(path: &Path) -> Option<FileFormat> {
    Some(FileFormat::of_name(path.file_name()?.to_str()?)?.1)
}

/// The files of a locale in a folder of catalogs: `<locale>.toml`, and `<locale>/<section>.toml`; the same in JSON.
pub(crate) fn locale(folder: &Path, locale: &str) -> io::Result<Vec<SourceFile>> {
    let mut files = Vec::new();
    for &format in FileFormat::ALL {
        let path = folder.join(format!("{locale}.{}", format.extension()));
        if path.is_file() {
            files.push(SourceFile::all_sections(path.display().to_string(), read(&path)?));
            // As the server: TOML first, and one format a name.
            break;
        }
    }
    let folder = folder.join(locale);
    if folder.is_dir() {
        for path in paths_in(&folder)? {
            let section = path.file_stem().and_then(|stem| stem.to_str()).filter(|stem| is_name(stem));
            let is_second = FileFormat::ALL
                .iter()
                .copied()
                .take_while(|format| Some(*format) != format_of(&path))
                .any(|format| path.with_extension(format.extension()).is_file());
            if let (Some(section), Some(_), true, false) =
                (section, format_of(&path), path.is_file(), is_second)
            {
                files.push(SourceFile::section(path.display().to_string(), section, read(&path)?));
            }
        }
    }
    Ok(files)
}

/// The locales that have files in a folder of catalogs: the names of its folders and files.
pub(crate) fn locales(folder: &Path) -> io::Result<Vec<String>> {
    let mut names = Vec::new();
    for path in paths_in(folder)? {
        let is_catalog = path.is_dir() || format_of(&path).is_some();
        let name = if path.is_dir() { path.file_name() } else { path.file_stem() };
        if let (true, Some(name)) = (is_catalog, name.and_then(|name| name.to_str()))
            && !names.iter().any(|known| known == name)
        {
            names.push(name.to_owned());
        }
    }
    Ok(names)
}

fn read(path: &Path) -> io::Result<String> {
    fs::read_to_string(path).map_err(|error| cannot_be_read(path, &error))
}
