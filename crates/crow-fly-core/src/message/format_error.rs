//! What can go wrong while a message is formatted (UTS #35 part 9, "Resolution Errors" and "Message Function Errors").

use alloc::borrow::{Cow, ToOwned};
use alloc::boxed::Box;
use alloc::format;
use alloc::string::String;
use alloc::sync::Arc;
use core::error::Error;
use core::fmt;

use super::error::ErrorClass;

type Cause = Arc<dyn Error + Send + Sync>;

/// What went wrong while a message was formatted: which function, option and value, and what was expected.
///
/// ```
/// use crow_fly_core::{args, message::{FormatContext, FormatErrorKind, Isolation, Message, Program}};
///
/// let context = FormatContext::of(&"en".parse()?).with_isolation(Isolation::None);
/// let program = Program::compile(&Message::parse("Fare: {$fare :currency}")?);
/// let mut errors = Vec::new();
/// let text = program.format(&context, &args! { fare: 12 }).reporting(&mut |error| errors.push(error)).text();
/// assert_eq!(text, "Fare: {$fare}");
/// assert_eq!(errors[0].kind(), FormatErrorKind::BadOperand);
/// assert_eq!(
///     errors[0].to_string(),
///     "`:currency` needs a currency: give `currency=…` or a `Money`; `{$fare}` is 12",
/// );
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct FormatError(Box<Details>);

#[derive(Clone, Debug)]
struct Details {
    kind: FormatErrorKind,
    subject: String,
    function: Option<String>,
    option: Option<String>,
    value: Option<String>,
    expected: Option<Cow<'static, str>>,
    cause: Option<Cause>,
}

/// The kinds of errors of formatting, by the standard's names, and some of ours.
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
    /// A date is in another calendar than the message or the locale asks for.
    NoCalendar,
    /// The text would be longer than [the limit](super::FormatContext::with_longest): nothing of it is shown.
    TooLong,
}

impl FormatErrorKind {
    /// A stable name: `unresolved-variable`.
    pub const fn id(self) -> &'static str {
        match self {
            Self::UnresolvedVariable => "unresolved-variable",
            Self::UnknownFunction => "unknown-function",
            Self::BadOperand => "bad-operand",
            Self::BadOption => "bad-option",
            Self::BadVariantKey => "bad-variant-key",
            Self::BadSelector => "bad-selector",
            Self::BadMarkup => "bad-markup",
            Self::NoCalendar => "no-calendar",
            Self::TooLong => "too-long",
        }
    }

    /// When errors of this kind are found: while a message is formatted.
    pub const fn class(self) -> ErrorClass {
        ErrorClass::Resolution
    }
}

/// Why a built-in function gives no value: the kind of error, and what the function needs.
#[derive(Clone, Copy, Debug)]
pub(super) struct Refusal {
    pub(super) kind: FormatErrorKind,
    pub(super) needs: &'static str,
}

impl Refusal {
    pub(super) const fn operand(needs: &'static str) -> Self {
        Self { kind: FormatErrorKind::BadOperand, needs }
    }

    pub(super) const fn option(needs: &'static str) -> Self {
        Self { kind: FormatErrorKind::BadOption, needs }
    }
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

    /// The reason: a text, or the error that came before. It is the source of the error that formatting reports.
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

/// How much of a value an error shows.
const SHOWN: usize = 40;

/// A text as an error shows it: in quotes, without control characters, and not too long.
pub(super) fn shown(text: &str) -> String {
    let short = text.char_indices().nth(SHOWN).and_then(|(end, _)| text.get(..end));
    match short {
        Some(beginning) => format!("\"{}…\"", beginning.escape_debug()),
        None => format!("\"{}\"", text.escape_debug()),
    }
}

impl FormatError {
    pub(super) fn new(kind: FormatErrorKind, subject: impl Into<String>) -> Self {
        Self(Box::new(Details {
            kind,
            subject: subject.into(),
            function: None,
            option: None,
            value: None,
            expected: None,
            cause: None,
        }))
    }

    pub(super) fn of_function(mut self, name: &str) -> Self {
        self.0.function = Some(name.to_owned());
        self
    }

    pub(super) fn of_option(mut self, name: &str) -> Self {
        self.0.option = Some(name.to_owned());
        self
    }

    pub(super) fn with_value(mut self, value: Option<String>) -> Self {
        self.0.value = value;
        self
    }

    pub(super) fn expecting(mut self, expected: impl Into<Cow<'static, str>>) -> Self {
        self.0.expected = Some(expected.into());
        self
    }

    pub(super) fn from_function(error: FunctionError, subject: &str) -> Self {
        let FunctionError { kind, cause } = error;
        let mut error = Self::new(kind, subject);
        error.0.cause = cause;
        error
    }

    /// The kind of the error.
    pub const fn kind(&self) -> FormatErrorKind {
        self.0.kind
    }

    /// The expression, option, key or element, as the fallback shows it.
    pub fn subject(&self) -> &str {
        &self.0.subject
    }

    /// The function that was to be applied, without its colon: `currency`.
    pub fn function(&self) -> Option<&str> {
        self.0.function.as_deref()
    }

    /// The option that is at fault.
    pub fn option(&self) -> Option<&str> {
        self.0.option.as_deref()
    }

    /// The value that is at fault, as an error shows it: a text in quotes and shortened.
    pub fn value(&self) -> Option<&str> {
        self.0.value.as_deref()
    }

    /// What was expected, and how to give it.
    pub fn expected(&self) -> Option<&str> {
        self.0.expected.as_deref()
    }
}

impl fmt::Display for FormatError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Details { kind, subject, value, expected, .. } = &*self.0;
        match kind {
            FormatErrorKind::UnresolvedVariable => write!(f, "no argument was given for `{subject}`")?,
            FormatErrorKind::UnknownFunction => {
                let function = self.function().unwrap_or_default();
                return write!(
                    f,
                    "the function `:{function}` of `{subject}` is not known; name it as the standard does, or add it to the application's functions"
                );
            }
            FormatErrorKind::BadOperand => return self.bad_operand(f),
            FormatErrorKind::BadOption => return self.bad_option(f),
            FormatErrorKind::BadVariantKey => write!(f, "the key `{subject}` never matches")?,
            FormatErrorKind::BadSelector => {
                write!(f, "`{subject}` cannot select a variant")?;
                if let Some(value) = value {
                    write!(f, ": it is {value}")?;
                }
            }
            FormatErrorKind::BadMarkup => write!(f, "the markup `{subject}` is wrong")?,
            FormatErrorKind::NoCalendar => {
                let expected = expected.as_deref().unwrap_or_default();
                return write!(f, "the date `{subject}` is not in its calendar: {expected}");
            }
            FormatErrorKind::TooLong => write!(f, "the text would be longer than {subject} bytes")?,
        }
        match expected {
            Some(expected) => write!(f, "; {expected}"),
            None => Ok(()),
        }
    }
}

impl FormatError {
    fn bad_operand(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Details { subject, function, value, expected, .. } = &*self.0;
        let Some(function) = function else {
            let expected = expected.as_deref().unwrap_or("it has no value");
            return write!(f, "`{subject}` cannot be shown: {expected}");
        };
        match (expected, value) {
            (Some(expected), Some(value)) => {
                write!(f, "`:{function}` needs {expected}; `{subject}` is {value}")
            }
            (Some(expected), None) => {
                write!(f, "`:{function}` needs {expected}; `{subject}` does not have one")
            }
            (None, Some(value)) => write!(f, "`:{function}` cannot take `{subject}`, which is {value}"),
            (None, None) => write!(f, "`:{function}` gives no value for `{subject}`"),
        }
    }

    fn bad_option(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Details { subject, function, option, value, expected, .. } = &*self.0;
        let Some(option) = option else {
            // An option that the function cannot do without.
            let function = function.as_deref().unwrap_or_default();
            return match expected {
                Some(expected) => write!(f, "for `{subject}`, `:{function}` needs {expected}"),
                None => write!(f, "`:{function}` lacks an option in `{subject}`, or cannot take it"),
            };
        };
        write!(f, "the option `{option}`")?;
        if let Some(function) = function {
            write!(f, " of `:{function}`")?;
        }
        match value {
            Some(value) => write!(f, " cannot be {value}")?,
            None => f.write_str(" is left out")?,
        }
        match expected {
            Some(expected) => write!(f, "; {expected}"),
            None => Ok(()),
        }
    }
}

impl Error for FormatError {
    fn source(&self) -> Option<&(dyn Error + 'static)> {
        self.0.cause.as_ref().map(|cause| &**cause as _)
    }
}

impl From<FormatErrorKind> for FunctionError {
    fn from(kind: FormatErrorKind) -> Self {
        Self::new(kind)
    }
}
