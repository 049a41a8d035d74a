//! What can go wrong while a message is formatted (UTS #35 part 9, "Resolution Errors" and "Message Function Errors").

use alloc::string::String;
use core::fmt;

/// What went wrong while a message was formatted.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FormatError {
    kind: FormatErrorKind,
    subject: String,
}

/// The kinds of errors of formatting, by the standard's names, and one of ours for markup.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum FormatErrorKind {
    /// No argument of this name was given.
    UnresolvedVariable,
    /// There is no such function.
    UnknownFunction,
    /// The function cannot take this value.
    BadOperand,
    /// An option has a value it cannot have, or is not known; it is left out.
    BadOption,
    /// A variant has a key that its selector can never match: `horse` for a number.
    BadVariantKey,
    /// A selector has no value to select by; it matches only `*`.
    BadSelector,
    /// Markup is unbalanced, or no element it may become; its content is shown.
    BadMarkup,
}

impl FormatError {
    pub(super) fn new(kind: FormatErrorKind, subject: &str) -> Self {
        Self { kind, subject: subject.into() }
    }

    /// The kind of the error.
    pub const fn kind(&self) -> FormatErrorKind {
        self.kind
    }

    /// The expression, option or element, as the fallback shows it.
    pub fn subject(&self) -> &str {
        &self.subject
    }
}

impl fmt::Display for FormatError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let subject = &self.subject;
        match self.kind {
            FormatErrorKind::UnresolvedVariable => write!(f, "no argument was given for `{subject}`"),
            FormatErrorKind::UnknownFunction => write!(f, "`{subject}` uses a function that is not known"),
            FormatErrorKind::BadOperand => write!(f, "`{subject}` is no value its function can take"),
            FormatErrorKind::BadOption => {
                write!(f, "the option `{subject}` is not known or has a value it cannot have")
            }
            FormatErrorKind::BadVariantKey => {
                write!(
                    f,
                    "the key `{subject}` is not a number or a plural category, so that it never matches"
                )
            }
            FormatErrorKind::BadSelector => write!(f, "`{subject}` cannot be selected by"),
            FormatErrorKind::BadMarkup => {
                write!(f, "the markup `{subject}` is unbalanced or no element that texts may use")
            }
        }
    }
}

impl core::error::Error for FormatError {}
