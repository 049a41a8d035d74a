//! Why a text is not a value.

use alloc::borrow::{Cow, ToOwned};
use alloc::format;
use alloc::string::String;
use core::fmt;

/// Why a text is not a value of a kind: what it was to be, the text, and how to write it.
///
/// ```
/// use crow_fly_core::number::Currency;
///
/// let error = "Euro".parse::<Currency>().unwrap_err();
/// assert_eq!(error.to_string(), "`Euro` is not a currency; write the three letters of its ISO 4217 code, such as `EUR`");
/// ```
#[derive(Clone, PartialEq, Eq)]
pub struct ParseValueError {
    kind: &'static str,
    text: String,
    help: Cow<'static, str>,
}

/// How much of a text an error shows.
const SHOWN: usize = 60;

impl ParseValueError {
    pub(crate) fn new(kind: &'static str, text: &str, help: impl Into<Cow<'static, str>>) -> Self {
        let end = text.char_indices().nth(SHOWN).map_or(text.len(), |(at, _)| at);
        Self { kind, text: text.get(..end).unwrap_or_default().to_owned(), help: help.into() }
    }

    /// The text, or its beginning where it is long.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// What is wrong, without how to write it.
    pub fn problem(&self) -> String {
        format!("`{}` is not {}", self.text.escape_debug(), self.kind)
    }

    /// How to write it.
    pub fn help(&self) -> &str {
        &self.help
    }
}

impl fmt::Display for ParseValueError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}; {}", self.problem(), self.help)
    }
}

crate::debug_as_shown!(ParseValueError);

impl core::error::Error for ParseValueError {}

/// `parse` with an error that tells why, and `FromStr`, for a type that is read by `read`.
macro_rules! parse_by_read {
    ($type:ident, $kind:literal, $help:literal, $doc:literal) => {
        impl $type {
            #[doc = $doc]
            ///
            /// # Errors
            /// Where the text is not one.
            pub fn parse(text: &str) -> Result<Self, $crate::parse_error::ParseValueError> {
                Self::read(text).ok_or_else(|| $crate::parse_error::ParseValueError::new($kind, text, $help))
            }
        }

        impl core::str::FromStr for $type {
            type Err = $crate::parse_error::ParseValueError;

            fn from_str(text: &str) -> Result<Self, Self::Err> {
                Self::parse(text)
            }
        }
    };
}

pub(crate) use parse_by_read;
