//! What releases and their files are called: hashes of what they are.

use std::fmt;

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

/// A SHA-256 hash (FIPS 180-4), written as 64 hexadecimal digits.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Deserialize, Serialize)]
#[serde(try_from = "String", into = "String")]
pub struct Sha256Hash(pub(super) [u8; 32]);

/// The id of a release: the hash of its manifest.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Deserialize, Serialize)]
#[serde(transparent)]
pub struct ReleaseId(pub(super) Sha256Hash);

impl Sha256Hash {
    /// The hash of some bytes.
    pub fn of(bytes: &[u8]) -> Self {
        Self(Sha256::digest(bytes).into())
    }

    /// Its first 64 bits: the version of a file.
    pub(crate) fn version(self) -> u64 {
        self.0.first_chunk().copied().map_or(0, u64::from_be_bytes)
    }
}

impl fmt::Display for Sha256Hash {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.iter().try_for_each(|byte| write!(f, "{byte:02x}"))
    }
}

impl fmt::Debug for Sha256Hash {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(self, f)
    }
}

impl From<Sha256Hash> for String {
    fn from(hash: Sha256Hash) -> Self {
        hash.to_string()
    }
}

impl ReleaseId {
    /// The id of a release with this manifest.
    #[cfg(feature = "releases")]
    pub(crate) fn of(manifest: &[u8]) -> Self {
        Self(Sha256Hash::of(manifest))
    }

    /// Its first twelve digits, for people.
    pub fn short(self) -> String {
        let mut text = self.to_string();
        text.truncate(12);
        text
    }
}

impl fmt::Display for ReleaseId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}
