//! What is wrong with a message's source: syntax and data-model errors (UTS #35 part 9, "Errors").

use alloc::vec::Vec;
use core::fmt;
use core::ops::Deref;

use super::model::Span;
use crate::rule::Rule;

/// One error of a message's source: what, where, and what to do.
///
/// ```
/// use crow_fly_core::message::{Message, MessageErrorKind};
///
/// let errors = Message::parse("Only {$seats left").unwrap_err();
/// assert_eq!(errors[0].kind(), MessageErrorKind::UnclosedPlaceholder);
/// assert_eq!(errors[0].span().range(), 5..13);
/// assert_eq!(errors[0].help(), "close the placeholder with `}`; a brace that is text is written `\\{`");
/// ```
#[derive(Clone, PartialEq, Eq)]
pub struct MessageError {
    kind: MessageErrorKind,
    span: Span,
    related: Option<Span>,
}

/// The kinds of errors in a message's source.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[non_exhaustive]
pub enum MessageErrorKind {
    /// The message is longer than is read.
    TooLong,
    /// A pattern shows more of the message's `.local` texts than a message may have.
    RepeatedText,
    /// A NUL character cannot stand in a message.
    NullCharacter,
    /// A `}` closes nothing.
    LoneBrace,
    /// Only `\`, `{`, `|` and `}` can stand behind a backslash.
    BadEscape,
    /// A placeholder is not closed.
    UnclosedPlaceholder,
    /// A placeholder is empty.
    EmptyPlaceholder,
    /// A quoted literal is not closed.
    UnclosedLiteral,
    /// A name is missing.
    ExpectedName,
    /// A variable is missing.
    ExpectedVariable,
    /// A value is missing after `=`.
    ExpectedValue,
    /// An `=` is missing.
    ExpectedEquals,
    /// An expression in braces is missing.
    ExpectedExpression,
    /// White space is missing.
    MissingSpace,
    /// An option comes after an attribute.
    MisplacedOption,
    /// An option has no function to belong to.
    OptionWithoutFunction,
    /// An expression has two functions.
    MisplacedFunction,
    /// This cannot stand here.
    UnexpectedCharacter,
    /// A message that begins with `.` needs `.input`, `.local` or `.match`.
    UnknownKeyword,
    /// There is no pattern after the declarations.
    MissingBody,
    /// A pattern is not closed.
    UnclosedPattern,
    /// There is text after the end of the message.
    TrailingContent,
    /// `.match` has no variants.
    ExpectedVariant,
    /// A key is missing.
    ExpectedKey,
    /// A variant has no pattern.
    ExpectedPattern,
    /// A variant has more or fewer keys than there are selectors.
    VariantKeyMismatch,
    /// No variant fits all that is left.
    MissingFallbackVariant,
    /// A selector has no function.
    MissingSelectorAnnotation,
    /// A variable is declared twice, or used before it is declared.
    DuplicateDeclaration,
    /// An option stands twice.
    DuplicateOptionName,
    /// Two variants have the same keys.
    DuplicateVariant,
}

/// When an error of a message is found (UTS #35 part 9, "Errors and Fallbacks").
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum ErrorClass {
    /// The source is not of the grammar: the message is not used.
    Syntax,
    /// The source is of the grammar, and means nothing: the message is not used.
    DataModel,
    /// While the message is formatted, a value cannot be resolved, or a function cannot be applied: the rest is shown.
    Resolution,
}

/// What is told of a kind of error.
struct Description {
    text: &'static str,
    help: &'static str,
}

impl MessageErrorKind {
    /// A stable name, as findings carry it.
    pub const fn id(self) -> &'static str {
        self.rule().id()
    }

    /// The rule that it breaks.
    pub const fn rule(self) -> Rule {
        match self {
            Self::TooLong => Rule::TooLong,
            Self::RepeatedText => Rule::RepeatedText,
            Self::NullCharacter => Rule::NullCharacter,
            Self::LoneBrace => Rule::LoneBrace,
            Self::BadEscape => Rule::BadEscape,
            Self::UnclosedPlaceholder => Rule::UnclosedPlaceholder,
            Self::EmptyPlaceholder => Rule::EmptyPlaceholder,
            Self::UnclosedLiteral => Rule::UnclosedLiteral,
            Self::ExpectedName => Rule::ExpectedName,
            Self::ExpectedVariable => Rule::ExpectedVariable,
            Self::ExpectedValue => Rule::ExpectedValue,
            Self::ExpectedEquals => Rule::ExpectedEquals,
            Self::ExpectedExpression => Rule::ExpectedExpression,
            Self::MissingSpace => Rule::MissingSpace,
            Self::MisplacedOption => Rule::MisplacedOption,
            Self::OptionWithoutFunction => Rule::OptionWithoutFunction,
            Self::MisplacedFunction => Rule::MisplacedFunction,
            Self::UnexpectedCharacter => Rule::UnexpectedCharacter,
            Self::UnknownKeyword => Rule::UnknownKeyword,
            Self::MissingBody => Rule::MissingBody,
            Self::UnclosedPattern => Rule::UnclosedPattern,
            Self::TrailingContent => Rule::TrailingContent,
            Self::ExpectedVariant => Rule::ExpectedVariant,
            Self::ExpectedKey => Rule::ExpectedKey,
            Self::ExpectedPattern => Rule::ExpectedPattern,
            Self::VariantKeyMismatch => Rule::VariantKeyMismatch,
            Self::MissingFallbackVariant => Rule::MissingFallbackVariant,
            Self::MissingSelectorAnnotation => Rule::MissingSelectorAnnotation,
            Self::DuplicateDeclaration => Rule::DuplicateDeclaration,
            Self::DuplicateOptionName => Rule::DuplicateOptionName,
            Self::DuplicateVariant => Rule::DuplicateVariant,
        }
    }

    /// Whether the source is not of the grammar, or of the grammar and without meaning.
    pub const fn class(self) -> ErrorClass {
        match self {
            Self::VariantKeyMismatch
            | Self::MissingFallbackVariant
            | Self::MissingSelectorAnnotation
            | Self::DuplicateDeclaration
            | Self::DuplicateOptionName
            | Self::DuplicateVariant => ErrorClass::DataModel,
            _ => ErrorClass::Syntax,
        }
    }

    /// What is wrong.
    pub const fn text(self) -> &'static str {
        self.description().text
    }

    /// What to do about it.
    pub const fn help(self) -> &'static str {
        self.description().help
    }

    #[allow(clippy::too_many_lines, reason = "a table of texts")]
    const fn description(self) -> Description {
        match self {
            Self::TooLong => described("the message is too long", "split it into several messages"),
            Self::RepeatedText => described(
                "a pattern shows too much of the message's own `.local` texts",
                "show them fewer times: what is shown of them has 64 kB at most",
            ),
            Self::NullCharacter => described("a NUL character cannot stand in a message", "delete it"),
            Self::LoneBrace => described("a `}` closes nothing", "write `\\}` where the brace is text"),
            Self::BadEscape => described(
                "only `\\`, `{`, `|` and `}` can follow a backslash",
                "write `\\\\` where the backslash is text",
            ),
            Self::UnclosedPlaceholder => described(
                "a placeholder is not closed",
                "close the placeholder with `}`; a brace that is text is written `\\{`",
            ),
            Self::EmptyPlaceholder => described(
                "a placeholder is empty",
                "name a variable (`{$name}`), a literal or a function; a brace that is text is written `\\{`",
            ),
            Self::UnclosedLiteral => described(
                "a quoted literal is not closed",
                "close it with `|`; a bar inside it is written `\\|`",
            ),
            Self::ExpectedName => described(
                "a name is missing",
                "write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first",
            ),
            Self::ExpectedVariable => described("a variable is missing", "write a variable: `$name`"),
            Self::ExpectedValue => described(
                "a value is missing after `=`",
                "write a literal or, for an option, a variable: `select=ordinal`, `digits=$count`",
            ),
            Self::ExpectedEquals => {
                described("an `=` is missing", "write `.local $name = {…}`, or for an option `name=value`")
            }
            Self::ExpectedExpression => described(
                "an expression in braces is missing",
                "write it behind the declaration: `{$count :number}`",
            ),
            Self::MissingSpace => described("white space is missing", "put a space before it"),
            Self::MisplacedOption => {
                described("an option comes after an attribute", "put options before attributes")
            }
            Self::OptionWithoutFunction => described(
                "an option has no function to belong to",
                "name the function before it: `{$count :number option=value}`",
            ),
            Self::MisplacedFunction => described(
                "an expression has two functions",
                "apply one in a `.local` declaration, the other to its variable",
            ),
            Self::UnexpectedCharacter => described(
                "this cannot stand here",
                "see what may stand in a placeholder: `{$variable :function option=value @attribute}`",
            ),
            Self::UnknownKeyword => described(
                "a message that begins with `.` needs `.input`, `.local` or `.match`",
                "put the whole text in `{{…}}` where the full stop is text",
            ),
            Self::MissingBody => {
                described("there is no pattern after the declarations", "add a pattern, `{{…}}`, or `.match`")
            }
            Self::UnclosedPattern => described("a pattern is not closed", "close it with `}}`"),
            Self::TrailingContent => {
                described("there is text after the end of the message", "put all text between `{{` and `}}`")
            }
            Self::ExpectedVariant => described(
                "`.match` has no variants",
                "add one line a variant: `one {{…}}`, and `* {{…}}` for all others",
            ),
            Self::ExpectedKey => described("a key is missing", "write a key for each selector, or `*`"),
            Self::ExpectedPattern => {
                described("a variant has no pattern", "add it behind the keys: `one {{…}}`")
            }
            Self::VariantKeyMismatch => described(
                "a variant has more or fewer keys than there are selectors",
                "give it one key for each selector",
            ),
            Self::MissingFallbackVariant => {
                described("no variant fits all that is left", "add one whose keys are all `*`")
            }
            Self::MissingSelectorAnnotation => {
                described("a selector has no function", "declare how to select: `.input {$count :number}`")
            }
            Self::DuplicateDeclaration => described(
                "a variable is declared twice, or used before it is declared",
                "give the new variable another name, or move its declaration up",
            ),
            Self::DuplicateOptionName => described("an option is given twice", "keep one of the two"),
            Self::DuplicateVariant => {
                described("two variants have the same keys", "delete or change one of the two")
            }
        }
    }
}

const fn described(text: &'static str, help: &'static str) -> Description {
    Description { text, help }
}

impl MessageError {
    pub(super) const fn new(kind: MessageErrorKind, span: Span) -> Self {
        Self { kind, span, related: None }
    }

    pub(super) const fn with_related(mut self, span: Span) -> Self {
        self.related = Some(span);
        self
    }

    /// The kind of the error.
    pub const fn kind(&self) -> MessageErrorKind {
        self.kind
    }

    /// The bytes of the source that are at fault.
    pub const fn span(&self) -> Span {
        self.span
    }

    /// Where the other one stands, for what stands twice.
    pub const fn related(&self) -> Option<Span> {
        self.related
    }

    /// What to do.
    pub const fn help(&self) -> &'static str {
        self.kind.help()
    }
}

impl fmt::Display for MessageError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.kind.text())
    }
}

crate::debug_as_shown!(MessageError);

impl core::error::Error for MessageError {}

/// Every error of a message's source; at least one.
#[derive(Clone, PartialEq, Eq)]
pub struct MessageErrors(pub(super) Vec<MessageError>);

impl Deref for MessageErrors {
    type Target = [MessageError];

    fn deref(&self) -> &[MessageError] {
        &self.0
    }
}

impl fmt::Display for MessageErrors {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (at, error) in self.0.iter().enumerate() {
            let separator = if at == 0 { "" } else { "; " };
            write!(f, "{separator}{error} (byte {})", error.span().start)?;
        }
        Ok(())
    }
}

crate::debug_as_shown!(MessageErrors);

impl core::error::Error for MessageErrors {}
