//! One subtag as a small value.

use core::fmt;
use core::ops::Deref;

/// A subtag of up to eight ASCII letters and digits. Reads as a `str`.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Subtag([u8; 8]);

impl Subtag {
    /// From eight bytes, the first in the highest place, zeros behind.
    pub(super) const fn from_code(code: u64) -> Self {
        Self(code.to_be_bytes())
    }

    /// From up to eight ASCII bytes, put in lower case; callers check length and characters before.
    pub(super) fn lower(text: &[u8]) -> Self {
        Self::from_code(lower(text))
    }

    /// The subtag as text.
    pub fn as_str(&self) -> &str {
        let length = self.0.iter().position(|byte| *byte == 0).unwrap_or(8);
        self.0.get(..length).and_then(|bytes| core::str::from_utf8(bytes).ok()).unwrap_or_default()
    }
}

/// Up to eight bytes in lower case as one integer, the first in the highest place.
pub(super) fn lower(text: &[u8]) -> u64 {
    let mut code = 0;
    for byte in text.iter().take(8) {
        code = code << 8 | u64::from(byte.to_ascii_lowercase());
    }
    code << (8 * (8 - text.len().min(8)))
}

impl Deref for Subtag {
    type Target = str;

    fn deref(&self) -> &str {
        self.as_str()
    }
}

impl fmt::Display for Subtag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self)
    }
}

impl fmt::Debug for Subtag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?}", self.as_str())
    }
}

impl PartialEq<str> for Subtag {
    fn eq(&self, other: &str) -> bool {
        self.as_str() == other
    }
}

impl PartialEq<&str> for Subtag {
    fn eq(&self, other: &&str) -> bool {
        self.as_str() == *other
    }
}
