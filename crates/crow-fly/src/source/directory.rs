//! Catalogs on disk: `catalogs/<locale>/<section>.toml`.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::io;
use std::path::{Path, PathBuf};

use crow_fly_core::catalog::{SectionSource, is_name};

use super::{CatalogSource, Loading, SectionFile, SourceError};

/// A folder of catalogs: `<locale>/<section>.toml` below it.
#[derive(Clone, Debug)]
pub struct Directory {
    root: PathBuf,
}

impl Directory {
    /// The catalogs below a folder. Nothing is read before a locale is needed.
    pub fn new(root: impl Into<PathBuf>) -> Self {
        Self { root: root.into() }
    }

    /// Reads the sections of a locale, sorted by name.
    ///
    /// # Errors
    /// Where the folder or a file in it cannot be read. A folder that is not there has no sections.
    pub fn read(&self, locale: &str) -> Result<Vec<SectionFile>, SourceError> {
        let folder = self.root.join(locale);
        let wrong = |path: &Path, error: io::Error| SourceError::new(path.display().to_string(), error);
        let entries = match std::fs::read_dir(&folder) {
            Ok(entries) => entries,
            Err(error) if error.kind() == io::ErrorKind::NotFound => return Ok(Vec::new()),
            Err(error) => return Err(wrong(&folder, error)),
        };
        let mut files = Vec::new();
        for entry in entries {
            let path = entry.map_err(|error| wrong(&folder, error))?.path();
            let Some(section) = section_of(&path) else { continue };
            let length = std::fs::metadata(&path).map_err(|error| wrong(&path, error))?.len();
            if length > SectionSource::MAX_LENGTH as u64 {
                let error = io::Error::new(
                    io::ErrorKind::FileTooLarge,
                    format!("{length} bytes; {} are read at most", SectionSource::MAX_LENGTH),
                );
                return Err(wrong(&path, error));
            }
            let text = std::fs::read_to_string(&path).map_err(|error| wrong(&path, error))?;
            files.push(SectionFile { section, text, origin: path.display().to_string() });
        }
        files.sort_by(|one, other| one.section.cmp(&other.section));
        Ok(files)
    }

    /// The names of the folders there are, sorted: those of locales, and any other.
    ///
    /// # Errors
    /// Where the folder itself cannot be read.
    pub fn folders(&self) -> Result<Vec<String>, SourceError> {
        let wrong = |error: io::Error| SourceError::new(self.root.display().to_string(), error);
        let mut names = Vec::new();
        for entry in std::fs::read_dir(&self.root).map_err(wrong)? {
            let entry = entry.map_err(wrong)?;
            if entry.path().is_dir() {
                names.push(entry.file_name().to_string_lossy().into_owned());
            }
        }
        names.sort();
        Ok(names)
    }
}

fn section_of(path: &Path) -> Option<String> {
    let name = path.file_stem()?.to_str()?;
    (path.extension()?.to_str()? == "toml" && is_name(name)).then(|| name.to_owned())
}

impl CatalogSource for Directory {
    fn load<'a>(&'a self, locale: &'a str) -> Loading<'a> {
        let (source, locale) = (self.clone(), locale.to_owned());
        Box::pin(async move {
            // Disks block: the work goes to the threads that may.
            let read = tokio::task::spawn_blocking(move || source.read(&locale)).await;
            read.unwrap_or_else(|error| Err(SourceError::new("the catalogs", error)))
        })
    }

    /// From the names, sizes and times of the files.
    fn fingerprint(&self, locale: &str) -> Option<u64> {
        let entries = std::fs::read_dir(self.root.join(locale)).ok()?;
        let mut files: Vec<_> = entries
            .filter_map(|entry| {
                let entry = entry.ok()?;
                let about = entry.metadata().ok()?;
                Some((entry.file_name(), about.len(), about.modified().ok()))
            })
            .collect();
        files.sort();
        let mut hash = DefaultHasher::new();
        files.hash(&mut hash);
        Some(hash.finish())
    }
}
