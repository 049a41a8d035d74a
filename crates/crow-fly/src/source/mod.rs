//! Where catalogs come from.
//!
//! A [`CatalogSource`] lists the files it has at one moment, and hands each out as bytes. Two are here: a [`Directory`]
//! on disk, and [`Memory`], for texts in the binary and for tests.

use std::error::Error;
use std::fmt;
use std::fmt::Debug;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;

mod directory;
mod listing;
mod memory;
#[cfg(feature = "notify")]
mod watch;

pub use directory::Directory;
pub use listing::{ListedFile, Listing};
pub use memory::Memory;

/// The answer of a [`CatalogSource`], in time.
pub type Answer<'a, T> = Pin<Box<dyn Future<Output = Result<T, SourceError>> + Send + 'a>>;

/// Something that has catalogs.
///
/// # Contract
/// - [`list`](Self::list) and [`read`](Self::read) do not block: work on a disk goes to threads that may.
/// - Both may be dropped before they are done, and are asked again after an error, with growing pauses.
/// - A file is read as it was listed. Where it has changed since, the answer is [`SourceError::changed`].
/// - No more than [`SectionSource::MAX_LENGTH`](crow_fly_core::catalog::SectionSource::MAX_LENGTH) bytes and one are
///   handed out, whatever the length of a file is said to be.
pub trait CatalogSource: Debug + Send + Sync + 'static {
    /// Lists what there is now. `locales` are the canonical tags of all configured locales, never anything a visitor
    /// sent; what a source has for others does not count, but may be a finding.
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing>;

    /// Reads a file that was listed.
    fn read<'a>(&'a self, file: &'a ListedFile) -> Answer<'a, Vec<u8>>;

    /// Calls `changed` when something may have changed, until the result is dropped. None where the source cannot tell:
    /// in development it is then listed for every request.
    fn watch(&self, changed: Changed) -> Option<Watching>;
}

/// What a source calls when something may have changed.
pub type Changed = Box<dyn Fn() + Send + Sync>;

/// A watch that goes on until it is dropped.
pub type Watching = Box<dyn Debug + Send + Sync>;

macro_rules! forwarding {
    ($($pointer:ident),*) => {$(
        impl<S: CatalogSource + ?Sized> CatalogSource for $pointer<S> {
            fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
                (**self).list(locales)
            }

            fn read<'a>(&'a self, file: &'a ListedFile) -> Answer<'a, Vec<u8>> {
                (**self).read(file)
            }

            fn watch(&self, changed: Changed) -> Option<Watching> {
                (**self).watch(changed)
            }
        }
    )*};
}

forwarding!(Box, Arc);

/// Why a source has no answer.
#[derive(Debug)]
pub struct SourceError {
    place: String,
    kind: SourceErrorKind,
    cause: Option<Box<dyn Error + Send + Sync>>,
}

/// What hinders a source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum SourceErrorKind {
    Unreadable,
    Changed,
    Hanging,
}

impl SourceError {
    /// Something at a place, a path or an address, cannot be read.
    pub fn new(place: impl Into<String>, cause: impl Into<Box<dyn Error + Send + Sync>>) -> Self {
        Self { place: place.into(), kind: SourceErrorKind::Unreadable, cause: Some(cause.into()) }
    }

    /// A file is not what was listed any more: the source is listed again.
    pub fn changed(place: impl Into<String>) -> Self {
        Self { place: place.into(), kind: SourceErrorKind::Changed, cause: None }
    }

    /// An earlier attempt to read this has not come back yet.
    pub fn hanging(place: impl Into<String>) -> Self {
        Self { place: place.into(), kind: SourceErrorKind::Hanging, cause: None }
    }

    /// What could not be read.
    pub fn place(&self) -> &str {
        &self.place
    }

    /// Whether the file is not what was listed any more.
    pub const fn is_changed(&self) -> bool {
        matches!(self.kind, SourceErrorKind::Changed)
    }

    /// Whether an earlier attempt has not come back yet.
    pub const fn is_hanging(&self) -> bool {
        matches!(self.kind, SourceErrorKind::Hanging)
    }
}

impl fmt::Display for SourceError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let place = &self.place;
        match self.kind {
            SourceErrorKind::Unreadable => write!(f, "{place} cannot be read"),
            SourceErrorKind::Changed => write!(f, "{place} has changed since it was listed"),
            SourceErrorKind::Hanging => write!(f, "an earlier attempt to read {place} has not come back yet"),
        }
    }
}

impl Error for SourceError {
    fn source(&self) -> Option<&(dyn Error + 'static)> {
        self.cause.as_deref().map(|cause| cause as _)
    }
}
