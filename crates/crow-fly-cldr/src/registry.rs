//! The IANA language subtag registry (RFC 5646, section 3.1): which subtags there are.

use crate::generated::registry::{LANGUAGES, REGIONS, SCRIPTS, VARIANTS};

/// The registered languages, `de`; ranges for private use as the registry writes them, `qaa..qtz`.
pub fn languages() -> impl Iterator<Item = &'static str> {
    LANGUAGES.split_ascii_whitespace()
}

/// The registered scripts, `Latn`, and ranges of them.
pub fn scripts() -> impl Iterator<Item = &'static str> {
    SCRIPTS.split_ascii_whitespace()
}

/// The registered regions, `AT` and `419`, and ranges of them.
pub fn regions() -> impl Iterator<Item = &'static str> {
    REGIONS.split_ascii_whitespace()
}

/// The registered variants, `1996`.
pub fn variants() -> impl Iterator<Item = &'static str> {
    VARIANTS.split_ascii_whitespace()
}
