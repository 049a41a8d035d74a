//! What can go wrong while a message is formatted (UTS #35 part 9, "Resolution Errors" and "Message Function Errors").

use alloc::boxed::Box;
use alloc::string::String;
use alloc::sync::Arc;
use core::error::Error;
use core::fmt;

type Cause = Arc<dyn Error + Send + Sync>;

/// What went wrong while a message was formatted.
#[derive(Clone, Debug)]
pub struct FormatError {
    kind: FormatErrorKind,
    subject: String,
    cause: Option<Cause>,
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

/// Why a function of the application's own gives no value.
///
/// ```
/// use crow_fly_core::message::{FormatErrorKind, FunctionError};
///
/// let error = FunctionError::bad_operand().because("the tide table ends in 2030");
/// assert_eq!(error.kind(), FormatErrorKind::BadOperand);
/// ```
#[derive(Clone, Debug)]
pub struct FunctionError {
    kind: FormatErrorKind,
    cause: Option<Cause>,
}

impl FunctionError {
    /// An error of a kind.
    pub const fn new(kind: FormatErrorKind) -> Self {
        Self { kind, cause: None }
    }

    /// The function cannot take its operand.
    pub const fn bad_operand() -> Self {
        Self::new(FormatErrorKind::BadOperand)
    }

    /// An option that the function needs is missing or wrong.
    pub const fn bad_option() -> Self {
        Self::new(FormatErrorKind::BadOption)
    }

    /// Says why: a text, or the error that came before. It is the source of the error that formatting reports.
    #[must_use]
    pub fn because(mut self, cause: impl Into<Box<dyn Error + Send + Sync>>) -> Self {
        self.cause = Some(Arc::from(cause.into()));
        self
    }

    /// The kind of the error.
    pub const fn kind(&self) -> FormatErrorKind {
        self.kind
    }
}

impl FormatError {
    pub(super) fn new(error: impl Into<FunctionError>, subject: &str) -> Self {
        let FunctionError { kind, cause } = error.into();
        Self { kind, subject: subject.into(), cause }
    }

    /// The kind of the error.
    pub const fn kind(&self) -> FormatErrorKind {
        self.kind
    }

    /// The expression, option, key or element, as the fallback shows it.
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
            FormatErrorKind::BadOperand => write!(f, "`{subject}` has a value that its function cannot take"),
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
                write!(f, "the markup `{subject}` is unbalanced, or not an element that texts may use")
            }
        }
    }
}

impl Error for FormatError {
    fn source(&self) -> Option<&(dyn Error + 'static)> {
        self.cause.as_ref().map(|cause| &**cause as _)
    }
}

impl From<FormatErrorKind> for FunctionError {
    fn from(kind: FormatErrorKind) -> Self {
        Self::new(kind)
    }
}
