//! What can be wrong with a release.

use std::error::Error;
use std::fmt;

use crow_fly_core::finding::Finding;
use crow_fly_core::message::Lacking;

use super::id::ReleaseId;

/// Why something cannot be done with a release.
#[non_exhaustive]
pub enum ReleaseError {
    /// The catalogs have errors: no release is made of them.
    Catalogs(Vec<Finding>),
    /// The store has no answer about an object.
    Store {
        /// The object.
        object: String,
        /// Why.
        cause: Box<dyn Error + Send + Sync>,
    },
    /// The store has no release of this name.
    Unknown(String),
    /// Several releases have ids that begin like this.
    Ambiguous(String),
    /// Another deployment has activated a release at the same time.
    Taken {
        /// The number that both wanted.
        number: u64,
        /// The release that is active now.
        active: ReleaseId,
    },
    /// No release is active.
    NoneActive,
    /// No release that was active before can be rolled back to.
    NoneEarlier,
    /// Files of a release are not in the store.
    Incomplete(Vec<String>),
    /// An object is not what it should be.
    Damaged {
        /// The object.
        object: String,
        /// What is wrong with it.
        reason: String,
    },
    /// A text is not the hash that it should be.
    Hash(String),
    /// A release needs what this program does not have.
    Lacking(Vec<Lacking>),
    /// A release has not got the messages that this program uses.
    Messages(Vec<String>),
}

impl ReleaseError {
    #[cfg(feature = "releases")]
    pub(super) fn store(object: impl fmt::Display, cause: impl Into<Box<dyn Error + Send + Sync>>) -> Self {
        Self::Store { object: object.to_string(), cause: cause.into() }
    }

    pub(super) fn damaged(object: impl fmt::Display, reason: impl fmt::Display) -> Self {
        Self::Damaged { object: object.to_string(), reason: reason.to_string() }
    }

    /// What is wrong, and the error that came before, without what to do.
    pub fn problem(&self) -> String {
        let cause = self.source().map(|cause| format!(": {cause}")).unwrap_or_default();
        format!("{}{cause}", Problem(self))
    }

    /// What to do about it.
    pub const fn help(&self) -> &'static str {
        match self {
            Self::Catalogs(_) => "correct the catalogs: `crow-fly check` shows where",
            Self::Store { .. } => "see that the store can be reached, and that its keys allow this",
            Self::Unknown(_) => "publish it first, or see which there are: `crow-fly release list`",
            Self::Ambiguous(_) => "write more of the id",
            Self::Taken { .. } => "see what is active now, and activate again if that is not what you want",
            Self::NoneActive => "activate a release",
            Self::NoneEarlier => "name the release that is wanted: `crow-fly release list` shows them",
            Self::Incomplete(_) => "publish the release again",
            Self::Damaged { .. } => "publish the release again, and activate it",
            Self::Hash(_) => "write it as `sha256sum` does",
            Self::Lacking(_) => "deploy a program that has it, or correct the messages",
            Self::Messages(_) => {
                "publish a release with these messages and parameters, or deploy a program that goes with it"
            }
        }
    }
}

impl fmt::Display for ReleaseError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}; {}", Problem(self), self.help())
    }
}

/// What is wrong, without what to do.
struct Problem<'e>(&'e ReleaseError);

impl fmt::Display for Problem<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        use ReleaseError as Release;
        match self.0 {
            Release::Catalogs(findings) => {
                match findings.len() {
                    1 => f.write_str("the catalogs have an error:")?,
                    count => write!(f, "the catalogs have {count} errors:")?,
                }
                findings.iter().take(SHOWN).try_for_each(|finding| write!(f, "\n  {finding}"))?;
                more(f, findings.len(), "\n  ")
            }
            Release::Store { object, .. } => write!(f, "the store has no answer about `{object}`"),
            Release::Unknown(id) => write!(f, "the store has no release `{id}`"),
            Release::Ambiguous(id) => write!(f, "several releases begin with `{id}`"),
            Release::Taken { number, active } => {
                write!(f, "another deployment was faster: activation {number} is release {}", active.short())
            }
            Release::NoneActive => f.write_str("no release is active"),
            Release::NoneEarlier => f.write_str(
                "there is no release to roll back to: none was active before that is whole and was not rolled back from",
            ),
            Release::Incomplete(files) => {
                f.write_str("the store lacks files of the release: ")?;
                listed(f, files)
            }
            Release::Damaged { object, reason } => write!(f, "`{object}` is damaged: {reason}"),
            Release::Hash(text) => {
                write!(f, "`{text}` is not a SHA-256 hash, which has 64 digits from 0 to 9 and a to f")
            }
            Release::Lacking(lacking) => {
                f.write_str("this program lacks ")?;
                listed(f, lacking)
            }
            Release::Messages(messages) => listed(f, messages),
        }
    }
}

/// How many things an error names; the rest is counted.
const SHOWN: usize = 10;

fn listed(f: &mut fmt::Formatter<'_>, things: &[impl fmt::Display]) -> fmt::Result {
    for (place, thing) in things.iter().take(SHOWN).enumerate() {
        write!(f, "{}{thing}", if place == 0 { "" } else { ", " })?;
    }
    more(f, things.len(), ", ")
}

fn more(f: &mut fmt::Formatter<'_>, count: usize, before: &str) -> fmt::Result {
    if count > SHOWN { write!(f, "{before}and {} more", count - SHOWN) } else { Ok(()) }
}

crow_fly_core::debug_as_shown!(ReleaseError);

impl Error for ReleaseError {
    fn source(&self) -> Option<&(dyn Error + 'static)> {
        match self {
            Self::Store { cause, .. } => Some(&**cause),
            _ => None,
        }
    }
}
