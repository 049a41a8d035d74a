//! Catalogs in the binary.

use std::collections::{BTreeMap, HashSet};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::CatalogPath;
use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;

use super::{Answer, CatalogSource, Changed, Directory, ListedFile, Listing, SourceError, Watching};

/// Catalogs in the binary: those that the crate `crow-fly-embed` has put there from a build script.
///
/// ```
/// use crow_fly::source::{Embedded, EmbeddedFile};
///
/// static FILES: &[EmbeddedFile] = &[EmbeddedFile::new("en/home.toml", "title = 'Saltmarsh Ferries'")];
/// let catalogs = Embedded::new(FILES);
/// ```
#[derive(Clone, Debug)]
pub struct Embedded {
    /// By their paths.
    files: Arc<BTreeMap<&'static str, &'static EmbeddedFile>>,
    /// What is read instead.
    folder: Option<Directory>,
    /// Whether it has some locales, and others are not missing.
    is_partial: bool,
}

/// A catalog in the binary.
#[derive(Clone, Copy, Debug)]
pub struct EmbeddedFile {
    path: &'static str,
    text: &'static str,
}

impl EmbeddedFile {
    /// A file, by its path below the folder of catalogs: `cy/booking.toml` is a section of a locale, `cy.toml` has all
    /// sections of it.
    pub const fn new(path: &'static str, text: &'static str) -> Self {
        Self { path, text }
    }

    fn version(&self) -> u64 {
        let mut version = DefaultHasher::new();
        self.text.hash(&mut version);
        version.finish()
    }
}

impl Embedded {
    /// These files.
    pub fn new(files: &'static [EmbeddedFile]) -> Self {
        let by_path = files.iter().map(|file| (file.path, file));
        Self { files: Arc::new(by_path.collect()), folder: None, is_partial: false }
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

/// What the paths of files begin with, for people.
const ORIGIN: &str = "embedded: ";

impl CatalogSource for Embedded {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        if let Some(folder) = &self.folder {
            return folder.list(locales);
        }
        let mut files = Vec::new();
        let mut findings = Vec::new();
        let known: HashSet<&str> = locales.iter().map(String::as_str).collect();
        let root: Arc<str> = Arc::from(ORIGIN);
        let mut with_files = HashSet::new();
        for file in self.files.values() {
            let find = |rule, text: &str, help: &str| {
                let text = format!("`{ORIGIN}{}` is not read: {text}", file.path);
                Finding::of_file(rule, "", "", text, help)
            };
            let Some(path) = CatalogPath::parse(file.path) else {
                let help = "give it the path of a catalog: `en/home.toml`, or `en.toml`";
                findings.push(find(Rule::OtherFile, "its path is not that of a catalog", help));
                continue;
            };
            with_files.insert(path.locale);
            if !known.contains(path.locale) {
                findings.push(find(
                    Rule::UnknownFolder,
                    &format!("the configuration has no locale `{}`", path.locale),
                    "add the locale to `locales` or `catalog-only` in the configuration, or delete it",
                ));
            } else if path.has_section_name() {
                files.push(ListedFile::of_path(&path, file.version()).found_below(&root));
            } else {
                let text = format!("its name {}", CatalogPath::NO_SECTION);
                findings.push(find(Rule::SectionName, &text, CatalogPath::SECTION_HELP));
            }
        }
        let mut listing = Listing::new(files);
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
        let found = self.files.get(file.path().as_str());
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
