//! Catalogs in the binary.

use std::collections::{BTreeMap, HashSet};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::{FileFormat, is_name};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::rule::Rule;

use super::{Answer, CatalogSource, Changed, Directory, ListedFile, Listing, SourceError, Watching};

/// Catalogs in the binary: those that the crate `crow-fly-embed` has put there from a build script.
///
/// ```
/// use crow_fly::source::FileFormat;
/// use crow_fly::source::{Embedded, EmbeddedFile};
///
/// static FILES: &[EmbeddedFile] =
///     &[EmbeddedFile::section("en", "home", FileFormat::Toml, "title = 'Saltmarsh Ferries'")];
/// let catalogs = Embedded::new(FILES);
/// ```
#[derive(Clone, Debug)]
pub struct Embedded {
    files: Arc<Files>,
    /// What is read instead.
    folder: Option<Directory>,
    /// Whether it has some locales, and others are not missing.
    is_partial: bool,
}

/// The files by locale, section and format.
type Files = BTreeMap<(&'static str, Option<&'static str>, FileFormat), &'static EmbeddedFile>;

/// A catalog in the binary.
#[derive(Clone, Copy, Debug)]
pub struct EmbeddedFile {
    locale: &'static str,
    section: Option<&'static str>,
    format: FileFormat,
    text: &'static str,
}

impl EmbeddedFile {
    /// A section of a locale.
    pub const fn section(
        locale: &'static str,
        section: &'static str,
        format: FileFormat,
        text: &'static str,
    ) -> Self {
        Self { locale, section: Some(section), format, text }
    }

    /// A file with all sections of a locale.
    pub const fn all_sections(locale: &'static str, format: FileFormat, text: &'static str) -> Self {
        Self { locale, section: None, format, text }
    }

    fn listed(&self, root: &Arc<str>) -> ListedFile {
        let mut version = DefaultHasher::new();
        self.text.hash(&mut version);
        let version = version.finish();
        match self.section {
            Some(section) => ListedFile::section(self.locale, section, self.format, version),
            None => ListedFile::all_sections(self.locale, self.format, version),
        }
        .found_below(root)
    }
}

impl Embedded {
    /// These files.
    pub fn new(files: &'static [EmbeddedFile]) -> Self {
        let by_name = files.iter().map(|file| ((file.locale, file.section, file.format), file));
        Self { files: Arc::new(by_name.collect()), folder: None, is_partial: false }
    }

    /// These are the files of some locales, below another source: no other locale is missing here.
    #[must_use]
    pub fn partial(self) -> Self {
        Self { is_partial: true, ..self }
    }

    /// With debug assertions, reads a folder instead: while developing, a changed text then shows without a build.
    #[must_use]
    pub fn while_developing(self, folder: impl Into<std::path::PathBuf>) -> Self {
        let folder = cfg!(debug_assertions).then(|| Directory::new(folder));
        Self { folder, ..self }
    }
}

impl CatalogSource for Embedded {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        if let Some(folder) = &self.folder {
            return folder.list(locales);
        }
        let mut files = Vec::new();
        let mut findings = Vec::new();
        let known: HashSet<&str> = locales.iter().map(String::as_str).collect();
        let root = Arc::from("embedded: ");
        for file in self.files.values() {
            let listed = file.listed(&root);
            let find = |rule, text: &str, help| {
                let text = format!("`{}` is not read: {text}", listed.origin());
                Finding::of_file(rule, Severity::Warning, "", "", text, help)
            };
            if !known.contains(file.locale) {
                findings.push(find(
                    Rule::UnknownFolder,
                    &format!("the configuration has no locale `{}`", file.locale),
                    "add the locale to `locales` or `catalog-only` in the configuration, or delete it",
                ));
            } else if !file.section.is_none_or(is_name) {
                let help = "rename it: ASCII letters, digits, `-` and `_`";
                findings.push(find(Rule::SectionName, "its name cannot name a section", help));
            } else {
                files.push(listed);
            }
        }
        let mut listing = Listing::new(files);
        let with_files: HashSet<&str> = self.files.keys().map(|(locale, ..)| *locale).collect();
        let is_absent = |locale: &&String| !self.is_partial && !with_files.contains(locale.as_str());
        for locale in locales.iter().filter(is_absent) {
            listing = listing.without(locale);
        }
        Answer::ready(Ok(findings.into_iter().fold(listing, Listing::with_finding)))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        if let Some(folder) = &self.folder {
            return folder.read(file);
        }
        let found = self.files.get(&(file.locale(), file.section_name(), file.format()));
        Answer::ready(match found {
            Some(found) => Ok(found.text.as_bytes().iter().copied().take(file.most_bytes()).collect()),
            None => Err(SourceError::changed(file.origin())),
        })
    }

    fn watch(&self, changed: Changed) -> Option<Watching> {
        match &self.folder {
            Some(folder) => folder.watch(changed),
            // It never changes: nothing is ever called.
            None => Some(Box::new(())),
        }
    }
}
