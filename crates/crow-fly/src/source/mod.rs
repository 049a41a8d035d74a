//! Where catalogs come from.
//!
//! A [`CatalogSource`] lists the files it has at one moment, and hands each out as bytes. These are here:
//!
//! | source | has its catalogs |
//! |---|---|
//! | [`Directory`] | on disk |
//! | [`Embedded`] | in the binary |
//! | [`Memory`] | in memory, for tests |
//! | `Http` (feature `http-source`) | on a web server |
//! | `release::Releases` (feature `releases`) | in an object store |
//! | `ReadyMade` (feature `ready-made`) | that every site needs: form errors, pagination |
//! | [`Overlay`] | in several sources, one above the other |
//! | [`PseudoLocales`] | made from those of another locale, for tests |

use std::error::Error;
use std::fmt;
use std::fmt::Debug;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;
use std::time::Duration;

mod application;
pub mod conformance;
mod directory;
mod embedded;
#[cfg(feature = "http-source")]
mod http;
mod listing;
mod memory;
mod overlay;
mod pseudo;
mod ready_made;
#[cfg(feature = "notify")]
mod watch;

pub use application::Application;
pub use crow_fly_core::catalog::{FileFormat, is_name};
pub use directory::Directory;
pub use embedded::{Embedded, EmbeddedFile};
#[cfg(feature = "http-source")]
pub use http::Http;
pub(crate) use listing::absent_locale;
pub use listing::{ListedFile, Listing};
pub use memory::Memory;
pub use overlay::Overlay;
pub use pseudo::PseudoLocales;
pub use ready_made::ReadyMade;

/// The answer of a [`CatalogSource`]: work that blocks a thread, or something to wait for.
pub struct Answer<'a, T>(Way<'a, T>);

/// Work that blocks.
type Work<T> = Box<dyn FnOnce() -> Result<T, SourceError> + Send>;

/// Something to wait for.
type Wait<'a, T> = Pin<Box<dyn Future<Output = Result<T, SourceError>> + Send + 'a>>;

/// The ways of an answer.
pub(crate) enum Way<'a, T> {
    Ready(Result<T, SourceError>),
    Blocking(Work<T>),
    Waiting(Wait<'a, T>),
}

impl<T: Send + 'static> Way<'_, T> {
    /// The work that an answer is; none where it is something to wait for.
    fn into_work(self) -> Option<Work<T>> {
        match self {
            Self::Ready(answer) => Some(Box::new(move || answer)),
            Self::Blocking(work) => Some(work),
            Self::Waiting(_) => None,
        }
    }
}

impl<'a, T: Send + 'static> Answer<'a, T> {
    /// An answer by work that blocks, as reading a disk does. The store has a thread do it that may block; while a
    /// place hangs, it is not asked for again.
    pub fn blocking(work: impl FnOnce() -> Result<T, SourceError> + Send + 'static) -> Self {
        Self(Way::Blocking(Box::new(work)))
    }

    /// An answer that is waited for, as one from a network is.
    pub fn waiting(wait: impl Future<Output = Result<T, SourceError>> + Send + 'a) -> Self {
        Self(Way::Waiting(Box::pin(wait)))
    }

    /// An answer that is there already.
    pub fn ready(answer: Result<T, SourceError>) -> Self {
        Self(Way::Ready(answer))
    }

    pub(crate) fn into_way(self) -> Way<'a, T> {
        self.0
    }

    pub(crate) const fn from_way(way: Way<'a, T>) -> Self {
        Self(way)
    }

    /// Waits for the answer, whichever way it comes: for sources that are made from others.
    ///
    /// # Errors
    /// Where the source cannot answer.
    pub async fn wait(self) -> Result<T, SourceError> {
        match self.0 {
            Way::Ready(answer) => answer,
            Way::Waiting(wait) => wait.await,
            Way::Blocking(work) => {
                let done = tokio::task::spawn_blocking(work).await;
                done.unwrap_or_else(|error| Err(SourceError::new("the source", error)))
            }
        }
    }
}

impl<T> Debug for Answer<'_, T> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self.0 {
            Way::Ready(_) => "Answer::ready",
            Way::Blocking(_) => "Answer::blocking",
            Way::Waiting(_) => "Answer::waiting",
        })
    }
}

/// Something that has catalogs.
///
/// # Contract
/// - [`list`](Self::list) and [`read`](Self::read) themselves do not block: what they answer with may, where it is
///   [`Answer::blocking`].
/// - Answers may be dropped before they are done, and are asked for again after an error, with growing pauses.
/// - A file is read as it was listed. Where it has changed since, the answer is [`SourceError::changed`].
/// - No more than [`most_bytes`](ListedFile::most_bytes) of a file are handed out, whatever length is announced.
/// - A locale without any file is [named](Listing::without), unless it needs none here.
///
/// The module `conformance`, a feature, holds a source against this.
pub trait CatalogSource: Debug + Send + Sync + 'static {
    /// Lists what there is now. `locales` are the canonical tags of all configured locales, never anything a visitor
    /// sent; what a source has for others does not count, but may be a finding.
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing>;

    /// Reads a file that was listed.
    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>>;

    /// Calls `changed` when something may have changed, until the result is dropped. None where the source cannot tell:
    /// in development it is then listed for every request.
    fn watch(&self, changed: Changed) -> Option<Watching>;

    /// How often it is listed again while the server runs, for a source whose files are changed from elsewhere. None, as
    /// the default is never: only at the start, after failures, and on [`reload`](crate::CrowFly::reload).
    fn poll_interval(&self) -> Option<Duration> {
        None
    }

    /// Is called once, when an application is built that has its catalogs from this source. Sources that are made from others
    /// call it on those.
    fn built_into(&self, _: &Application<'_>) {}
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

            fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
                (**self).read(file)
            }

            fn watch(&self, changed: Changed) -> Option<Watching> {
                (**self).watch(changed)
            }

            fn poll_interval(&self) -> Option<Duration> {
                (**self).poll_interval()
            }

            fn built_into(&self, application: &Application<'_>) {
                (**self).built_into(application);
            }
        }
    )*};
}

forwarding!(Box, Arc);

/// Why a source has no answer.
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

    /// There is no answer, and none is waited for any longer.
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

    /// Whether there is no answer at all.
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
            SourceErrorKind::Hanging => write!(f, "{place} does not answer"),
        }
    }
}

crow_fly_core::debug_as_shown!(SourceError);

impl Error for SourceError {
    fn source(&self) -> Option<&(dyn Error + 'static)> {
        self.cause.as_deref().map(|cause| cause as _)
    }
}
