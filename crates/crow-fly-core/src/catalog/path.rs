//! The paths of catalogs below their folder: read in one place.

use super::{FileFormat, is_name};

/// The path of a catalog below its folder: `<locale>/<section>.toml`, or `<locale>.toml` with all sections of a locale; the
/// same in JSON.
///
/// ```
/// use crow_fly_core::catalog::{CatalogPath, FileFormat};
///
/// let path = CatalogPath::parse("cy/booking.toml").unwrap();
/// assert_eq!((path.locale, path.section, path.format), ("cy", Some("booking"), FileFormat::Toml));
/// assert_eq!(CatalogPath::parse("cy.json").unwrap().section, None);
/// assert!(CatalogPath::parse("cy/notes.md").is_none());
/// assert!(!CatalogPath::parse("cy/a b.toml").unwrap().has_section_name());
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct CatalogPath<'p> {
    /// What is written for the locale: whether it is one of the application's is another question.
    pub locale: &'p str,
    /// The section; none where the file has all of them.
    pub section: Option<&'p str>,
    /// How the file is written.
    pub format: FileFormat,
}

impl<'p> CatalogPath<'p> {
    /// What an error says of a name such as `home page`.
    pub const NO_SECTION: &'static str = "cannot name a section";

    /// What to do about a file with such a name.
    pub const SECTION_HELP: &'static str = "rename it: ASCII letters, digits, `-` and `_`";

    /// Reads a path, its parts separated by `/`. None where it is not of this form.
    pub fn parse(path: &'p str) -> Option<Self> {
        let (locale, file) = match path.split_once('/') {
            Some((locale, file)) => (Some(locale), file),
            None => (None, path),
        };
        let (stem, format) = FileFormat::of_name(file)?;
        Some(match locale {
            Some(locale) => Self { locale, section: Some(stem), format },
            None => Self { locale: stem, section: None, format },
        })
    }

    /// Whether the section has a name that sections can have, or there is none.
    pub fn has_section_name(&self) -> bool {
        self.section.is_none_or(is_name)
    }
}

impl FileFormat {
    /// The format that a file's name says, and the name without it: `booking.toml`. None for a file that is not a catalog.
    pub fn of_name(name: &str) -> Option<(&str, Self)> {
        let (stem, extension) = name.rsplit_once('.')?;
        let format = Self::ALL.iter().copied().find(|format| format.extension() == extension)?;
        (!stem.is_empty()).then_some((stem, format))
    }
}
