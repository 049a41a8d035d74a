//! Catalogs in memory: texts that are part of the binary, or made by a test.

use std::collections::{BTreeMap, HashSet};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::FileFormat;

use super::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};

/// Catalogs in memory. What it does not have is not missing: a locale without texts has those of its chain.
///
/// ```
/// use crow_fly::source::Memory;
///
/// let source = Memory::new([("en", "common", "title = 'Saltmarsh Ferries'")]);
/// ```
#[derive(Clone, Debug, Default)]
pub struct Memory {
    files: Arc<BTreeMap<(String, String), (FileFormat, String)>>,
}

impl Memory {
    /// Catalogs from locale, section and TOML.
    pub fn new<L: Into<String>, S: Into<String>, T: Into<String>>(
        catalogs: impl IntoIterator<Item = (L, S, T)>,
    ) -> Self {
        Self::of_format(FileFormat::Toml, catalogs)
    }

    /// Catalogs from locale, section and JSON.
    pub fn json<L: Into<String>, S: Into<String>, T: Into<String>>(
        catalogs: impl IntoIterator<Item = (L, S, T)>,
    ) -> Self {
        Self::of_format(FileFormat::Json, catalogs)
    }

    fn of_format<L: Into<String>, S: Into<String>, T: Into<String>>(
        format: FileFormat,
        catalogs: impl IntoIterator<Item = (L, S, T)>,
    ) -> Self {
        let files = catalogs
            .into_iter()
            .map(|(locale, section, text)| ((locale.into(), section.into()), (format, text.into())));
        Self { files: Arc::new(files.collect()) }
    }
}

impl CatalogSource for Memory {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let locales: HashSet<&str> = locales.iter().map(String::as_str).collect();
        let root = Arc::from("memory: ");
        let files = self.files.iter().filter(|((locale, _), _)| locales.contains(locale.as_str()));
        let listed = files.map(|((locale, section), (format, text))| {
            let mut version = DefaultHasher::new();
            text.hash(&mut version);
            ListedFile::section(locale, section, *format, version.finish()).found_below(&root)
        });
        let listing = Listing::new(listed);
        Answer::ready(Ok(listing))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let key = (file.locale().to_owned(), file.section_name().unwrap_or_default().to_owned());
        let found = self.files.get(&key).map(|(_, text)| text.clone().into_bytes());
        Answer::ready(found.ok_or_else(|| SourceError::changed(file.origin())))
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        // It never changes: nothing is ever called.
        Some(Box::new(()))
    }
}
