//! Where catalogs come from.
//!
//! A [`CatalogSource`] hands out the sections of one locale, unparsed. Two are here: a [`Directory`] on disk, and
//! [`Memory`], for texts in the binary and for tests.

use std::error::Error;
use std::fmt::Debug;
use std::future::Future;
use std::pin::Pin;

use thiserror::Error as ThisError;

mod directory;
mod memory;

pub use directory::Directory;
pub use memory::Memory;

/// A section as a source hands it out.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SectionFile {
    /// The section's name.
    pub section: String,
    /// Its TOML.
    pub text: String,
    /// Where it was found, for people: a path, an address.
    pub origin: String,
}

/// The answer of a [`CatalogSource`], in time.
pub type Loading<'a> = Pin<Box<dyn Future<Output = Result<Vec<SectionFile>, SourceError>> + Send + 'a>>;

/// Something that has catalogs.
///
/// # Contract
/// - `locale` is always the canonical tag of a configured locale, never anything a visitor sent.
/// - A locale without catalogs has no sections: that is `Ok`, and empty.
/// - Section names are names in the sense of [`crow_fly_core::catalog::is_name`]; others are left out.
/// - The store calls at most once at a time for each locale, and again after an error, not sooner than a second later.
pub trait CatalogSource: Debug + Send + Sync + 'static {
    /// Reads all sections of a locale.
    fn load<'a>(&'a self, locale: &'a str) -> Loading<'a>;

    /// A number that changes when the catalogs of a locale do, where that is cheap to tell. Asked on every request
    /// in development, and never otherwise: a changed text then shows on reload.
    fn fingerprint(&self, locale: &str) -> Option<u64>;
}

/// Why a source has no answer.
#[derive(Debug, ThisError)]
#[error("{place} cannot be read")]
pub struct SourceError {
    place: String,
    #[source]
    cause: Box<dyn Error + Send + Sync>,
}

impl SourceError {
    /// An error at a place, for people: a path, an address.
    pub fn new(place: impl Into<String>, cause: impl Into<Box<dyn Error + Send + Sync>>) -> Self {
        Self { place: place.into(), cause: cause.into() }
    }

    /// What could not be read.
    pub fn place(&self) -> &str {
        &self.place
    }
}
