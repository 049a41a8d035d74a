//! What a source has at one moment.

use std::hash::{DefaultHasher, Hash, Hasher};

use crow_fly_core::catalog::{FileFormat, SectionSource};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::rule::Rule;

/// What a source has at one moment: the files of all locales, unread.
#[derive(Clone, Debug, Default)]
pub struct Listing {
    files: Vec<ListedFile>,
    absent: Vec<String>,
    findings: Vec<Finding>,
    stale: Vec<Finding>,
    name: Option<String>,
}

/// A file of a listing: a section of a locale, or all of them.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct ListedFile {
    locale: String,
    section: Option<String>,
    /// Which sources of overlays it is from, the outermost first; 0 is the upper one. Empty without an overlay.
    layer: Vec<u8>,
    format: FileFormat,
    version: u64,
    origin: String,
}

impl ListedFile {
    /// A section of a locale. The version changes whenever the file does.
    pub fn section(
        locale: impl Into<String>,
        section: impl Into<String>,
        format: FileFormat,
        version: u64,
    ) -> Self {
        let (locale, section) = (locale.into(), section.into());
        let origin = format!("{locale}/{section}.{}", format.extension());
        Self { locale, section: Some(section), layer: Vec::new(), format, version, origin }
    }

    /// A file with all sections of a locale: its first groups are the sections.
    pub fn all_sections(locale: impl Into<String>, format: FileFormat, version: u64) -> Self {
        let locale = locale.into();
        let origin = format!("{locale}.{}", format.extension());
        Self { locale, section: None, layer: Vec::new(), format, version, origin }
    }

    /// Where it was found, for people: a path, an address.
    #[must_use]
    pub fn with_origin(mut self, origin: impl Into<String>) -> Self {
        self.origin = origin.into();
        self
    }

    /// The canonical tag of the locale.
    pub fn locale(&self) -> &str {
        &self.locale
    }

    /// The section; none where the file has all sections of its locale.
    pub fn section_name(&self) -> Option<&str> {
        self.section.as_deref()
    }

    /// How it is written.
    pub const fn format(&self) -> FileFormat {
        self.format
    }

    /// A number that changes whenever the file does.
    pub const fn version(&self) -> u64 {
        self.version
    }

    /// How many bytes of it are handed out at most: one more than is read, so that a larger file is known for one.
    pub const fn most_bytes(&self) -> usize {
        SectionSource::MAX_LENGTH + 1
    }

    /// Where it was found, for people.
    pub fn origin(&self) -> &str {
        &self.origin
    }

    /// Which sources of overlays it is from: of two files of a section, those of the smaller one count.
    pub(crate) fn layer(&self) -> &[u8] {
        &self.layer
    }

    /// The same file with its usual origin.
    #[cfg(any(feature = "releases", feature = "http-source"))]
    pub(crate) fn without_origin(&self) -> Self {
        match &self.section {
            Some(section) => Self::section(&self.locale, section, self.format, self.version),
            None => Self::all_sections(&self.locale, self.format, self.version),
        }
    }

    /// The file of the same section in another locale, from the same place.
    pub(super) fn in_locale(&self, locale: &str) -> Self {
        Self { locale: locale.to_owned(), ..self.clone() }
    }

    /// The same file as one of a source in an overlay.
    pub(super) fn in_layer(mut self, layer: u8) -> Self {
        self.layer.insert(0, layer);
        self
    }

    /// The source of an overlay that a file is from, and the file as that source has listed it.
    pub(super) fn out_of_layer(&self) -> Option<(u8, Self)> {
        let (first, rest) = self.layer.split_first()?;
        Some((*first, Self { layer: rest.to_vec(), ..self.clone() }))
    }
}

impl Listing {
    /// A listing of these files.
    pub fn new(files: impl IntoIterator<Item = ListedFile>) -> Self {
        Self { files: files.into_iter().collect(), ..Self::default() }
    }

    /// Adds files.
    pub(super) fn with_files(mut self, files: impl IntoIterator<Item = ListedFile>) -> Self {
        self.files.extend(files);
        self
    }

    /// Records that the source has nothing for a locale, where it should: its folder does not exist.
    #[must_use]
    pub fn without(mut self, locale: impl Into<String>) -> Self {
        self.absent.push(locale.into());
        self
    }

    /// Adds something that a person should know: a file that is not a catalog.
    #[must_use]
    pub fn with_finding(mut self, finding: Finding) -> Self {
        self.findings.push(finding);
        self
    }

    /// Records that this is not the newest that the source has, and why: the newest cannot be used. The health of the
    /// catalogs tells it.
    #[must_use]
    pub fn with_stale(mut self, finding: Finding) -> Self {
        self.stale.push(finding);
        self
    }

    /// Names it, for people: the release it is. The health of the catalogs tells it.
    #[must_use]
    pub fn named(mut self, name: impl Into<String>) -> Self {
        self.name = Some(name.into());
        self
    }

    /// Takes the files of another listing in, as those of a layer of an overlay, with what it says of them.
    pub(crate) fn with_layer(mut self, layer: u8, other: Self) -> Self {
        self.files.extend(other.files.into_iter().map(|file| file.in_layer(layer)));
        self.absent.extend(other.absent);
        self.findings.extend(other.findings);
        self.stale.extend(other.stale);
        self.name = self.name.or(other.name);
        self
    }

    /// The files.
    pub fn files(&self) -> &[ListedFile] {
        &self.files
    }

    /// The locales whose files are missing.
    pub fn absent(&self) -> &[String] {
        &self.absent
    }

    /// What a person should know of the files.
    pub fn findings(&self) -> &[Finding] {
        &self.findings
    }

    /// Its name, for people.
    pub fn name(&self) -> Option<&str> {
        self.name.as_deref()
    }

    /// Why this is not the newest that the source has.
    pub fn stale(&self) -> &[Finding] {
        &self.stale
    }

    /// A number that is the same for two listings of the same files.
    pub(crate) fn identity(&self) -> u64 {
        let files = self.files.iter();
        let mut files: Vec<_> =
            files.map(|file| (&file.locale, &file.section, &file.layer, file.format, file.version)).collect();
        files.sort_unstable();
        let mut hash = DefaultHasher::new();
        files.hash(&mut hash);
        hash.finish()
    }
}

/// The finding of a locale without files.
pub(crate) fn absent_locale(locale: &str) -> Finding {
    Finding::of_file(
        Rule::AbsentLocale,
        Severity::Error,
        locale,
        "",
        format!("there are no catalogs of `{locale}`"),
        "add its folder, or name the locale in `inherits` of `[catalogs]`, if all its texts are those of its chain",
    )
}
