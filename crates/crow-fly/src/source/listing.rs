//! What a source has at one moment.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::{CatalogPath, FileFormat, SectionSource};
use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;
use smol_str::SmolStr;

use crate::config::Config;

/// What a source has at one moment: the files of all locales, unread.
#[derive(Clone, Debug, Default)]
pub struct Listing {
    files: Vec<ListedFile>,
    absent: Vec<String>,
    findings: Vec<Finding>,
    stale: Vec<Finding>,
    /// Why sources of an overlay are left out.
    left_out: Vec<Finding>,
    name: Option<String>,
    activation: Option<u64>,
}

/// A file of a listing: a section of a locale, or all of them.
///
/// A large site has tens of thousands of them, most of which are never read: each takes about a hundred bytes.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct ListedFile {
    locale: SmolStr,
    section: Option<SmolStr>,
    /// Which sources of overlays it is from, the outermost first; 0 is the upper one. Empty without an overlay.
    layer: Box<[u8]>,
    format: FileFormat,
    version: u64,
    origin: Origin,
}

/// Where a file was found.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
enum Origin {
    /// At its usual path, behind a text that it shares with others: `catalogs/`.
    Usual(Arc<str>),
    /// Somewhere else.
    Other(Arc<str>),
}

impl ListedFile {
    /// The file of a path below a folder of catalogs.
    pub(crate) fn of_path(path: &CatalogPath<'_>, version: u64) -> Self {
        match path.section {
            Some(section) => Self::section(path.locale, section, path.format, version),
            None => Self::all_sections(path.locale, path.format, version),
        }
    }

    /// A section of a locale. The version changes whenever the file does.
    pub fn section(
        locale: impl AsRef<str>,
        section: impl AsRef<str>,
        format: FileFormat,
        version: u64,
    ) -> Self {
        Self::new(locale.as_ref(), Some(section.as_ref()), format, version)
    }

    /// A file with all sections of a locale: its first groups are the sections.
    pub fn all_sections(locale: impl AsRef<str>, format: FileFormat, version: u64) -> Self {
        Self::new(locale.as_ref(), None, format, version)
    }

    fn new(locale: &str, section: Option<&str>, format: FileFormat, version: u64) -> Self {
        Self {
            locale: locale.into(),
            section: section.map(SmolStr::new),
            layer: Box::default(),
            format,
            version,
            origin: Origin::Usual(Arc::default()),
        }
    }

    /// Where it was found, for people: a path, an address.
    #[must_use]
    pub fn with_origin(self, origin: impl Into<String>) -> Self {
        Self { origin: Origin::Other(origin.into().into()), ..self }
    }

    /// What stands before its [path](Self::path) in its origin: the same for all files of a source.
    pub(crate) fn found_below(self, root: &Arc<str>) -> Self {
        Self { origin: Origin::Usual(Arc::clone(root)), ..self }
    }

    /// Its usual path: `cy/home.toml`, or `cy.toml` for all sections of a locale.
    pub fn path(&self) -> String {
        let (locale, extension) = (&self.locale, self.format.extension());
        match &self.section {
            Some(section) => format!("{locale}/{section}.{extension}"),
            None => format!("{locale}.{extension}"),
        }
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
    pub fn origin(&self) -> String {
        match &self.origin {
            Origin::Usual(root) => format!("{root}{}", self.path()),
            Origin::Other(origin) => String::from(&**origin),
        }
    }

    /// Which sources of overlays it is from: of two files of a section, those of the smaller one count.
    pub(crate) fn layer(&self) -> &[u8] {
        &self.layer
    }

    /// The same file with its path as its origin.
    #[cfg(any(feature = "releases", feature = "http-source"))]
    pub(crate) fn without_origin(&self) -> Self {
        Self::new(&self.locale, self.section_name(), self.format, self.version)
    }

    /// The file of the same section in another locale, from the same place.
    pub(super) fn in_locale(&self, locale: &str) -> Self {
        let origin = Origin::Other(self.origin().into());
        Self { locale: locale.into(), origin, ..self.clone() }
    }

    /// The same file as one of a source in an overlay.
    pub(super) fn in_layer(self, layer: u8) -> Self {
        let layer = [layer].into_iter().chain(self.layer.iter().copied()).collect();
        Self { layer, ..self }
    }

    /// The source of an overlay that a file is from, and the file as that source has listed it.
    pub(super) fn out_of_layer(&self) -> Option<(u8, Self)> {
        let (first, rest) = self.layer.split_first()?;
        Some((*first, Self { layer: rest.into(), ..self.clone() }))
    }
}

impl Listing {
    /// A listing of these files.
    pub fn new(files: impl IntoIterator<Item = ListedFile>) -> Self {
        Self { files: files.into_iter().collect(), ..Self::default() }
    }

    /// Adds files.
    pub(super) fn add_files(&mut self, files: impl IntoIterator<Item = ListedFile>) {
        self.files.extend(files);
    }

    /// Takes the files out.
    pub(crate) fn take_files(&mut self) -> Vec<ListedFile> {
        std::mem::take(&mut self.files)
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

    /// The number of the activation that it is from.
    #[cfg(feature = "releases")]
    pub(crate) fn activated(mut self, number: u64) -> Self {
        self.activation = Some(number);
        self
    }

    /// Records that a source of an overlay is left out, and why.
    pub(crate) fn with_left_out(mut self, finding: Finding) -> Self {
        self.left_out.push(finding);
        self
    }

    /// The listing of an overlay none of whose sources has anything.
    pub(super) fn with_nothing_left_out(mut self) -> Self {
        self.left_out.clear();
        self
    }

    /// Takes the files of another listing in, as those of a layer of an overlay, with what it says of them.
    pub(crate) fn with_layer(mut self, layer: u8, other: Self) -> Self {
        self.files.extend(other.files.into_iter().map(|file| file.in_layer(layer)));
        self.absent.extend(other.absent);
        self.findings.extend(other.findings);
        self.stale.extend(other.stale);
        self.left_out.extend(other.left_out);
        self.name = self.name.or(other.name);
        self.activation = self.activation.or(other.activation);
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

    /// The locales whose files are missing, as findings: those that the configuration lets inherit all their texts are none.
    pub fn absent_locales(&self, config: &Config) -> Vec<Finding> {
        let owes = |tag: &&String| {
            let found = config.chains.all().find(|(_, known)| known.to_string() == **tag);
            found.is_some_and(|(id, _)| !config.catalogs.inherits.contains(&id))
        };
        self.absent.iter().filter(owes).map(|tag| absent_locale(tag)).collect()
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

    /// Why sources are left out.
    pub(crate) fn left_out(&self) -> &[Finding] {
        &self.left_out
    }

    /// The number of the activation that it is from, where the source has any.
    pub const fn activation(&self) -> Option<u64> {
        self.activation
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
        locale,
        "",
        format!("there are no catalogs of `{locale}`"),
        "add its folder, or name the locale in `inherits` of `[catalogs]`, if all its texts are those of its chain",
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Nearly all files of a large site are listed and never read.
    #[test]
    fn a_listed_file_takes_about_a_hundred_bytes() {
        assert!(size_of::<ListedFile>() <= 104, "{}", size_of::<ListedFile>());
    }

    #[test]
    fn a_file_tells_where_it_was_found() {
        let section = ListedFile::section("cy", "home", FileFormat::Toml, 1);
        let whole = ListedFile::all_sections("zh-Hant", FileFormat::Json, 1);
        let root = Arc::from("catalogs/");
        for (file, origin) in [
            (section.clone(), "cy/home.toml"),
            (section.clone().found_below(&root), "catalogs/cy/home.toml"),
            (whole.clone().found_below(&root), "catalogs/zh-Hant.json"),
            (section.clone().with_origin("the editor of texts"), "the editor of texts"),
            // The texts of another locale are made from it.
            (section.found_below(&root).in_locale("en-XA"), "catalogs/cy/home.toml"),
            (whole.found_below(&root).in_layer(1).in_layer(0), "catalogs/zh-Hant.json"),
        ] {
            assert_eq!(file.origin(), origin);
        }
    }

    #[test]
    fn a_layer_is_left_as_it_was_entered() {
        let file = ListedFile::section("cy", "home", FileFormat::Toml, 1);
        let within = file.clone().in_layer(3).in_layer(0);
        assert_eq!(within.layer(), [0, 3]);
        assert_eq!(within.out_of_layer(), Some((0, file.clone().in_layer(3))));
        assert_eq!(file.clone().in_layer(3).out_of_layer(), Some((3, file.clone())));
        assert_eq!(file.out_of_layer(), None);
    }
}
