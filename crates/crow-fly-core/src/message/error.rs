//! What is wrong with a message's source: syntax and data-model errors (UTS #35 part 9, "Errors").

use alloc::vec::Vec;
use core::fmt;
use core::ops::Deref;

use super::model::Span;

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
#[derive(Clone, Debug, PartialEq, Eq)]
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
    /// A value is missing behind `=`.
    ExpectedValue,
    /// An `=` is missing.
    ExpectedEquals,
    /// An expression in braces is missing.
    ExpectedExpression,
    /// White space is missing.
    MissingSpace,
    /// An option stands behind an attribute.
    MisplacedOption,
    /// An option has no function to belong to.
    OptionWithoutFunction,
    /// An expression has two functions.
    MisplacedFunction,
    /// This cannot stand here.
    UnexpectedCharacter,
    /// A message that begins with `.` needs `.input`, `.local` or `.match`.
    UnknownKeyword,
    /// Nothing is said after the declarations.
    MissingBody,
    /// A pattern is not closed.
    UnclosedPattern,
    /// Something stands behind the message's end.
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

/// What is told of a kind of error.
struct Description {
    id: &'static str,
    text: &'static str,
    help: &'static str,
}

impl MessageErrorKind {
    /// A stable name, as findings carry it.
    pub const fn id(self) -> &'static str {
        self.description().id
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
            Self::TooLong => described(
                "too-long",
                "the message is longer than is read",
                "split the text into several messages",
            ),
            Self::NullCharacter => {
                described("null-character", "a NUL character cannot stand in a message", "delete it")
            }
            Self::LoneBrace => {
                described("lone-brace", "a `}` closes nothing", "write `\\}` where the brace is text")
            }
            Self::BadEscape => described(
                "bad-escape",
                "only `\\`, `{`, `|` and `}` can stand behind a backslash",
                "write `\\\\` where the backslash is text",
            ),
            Self::UnclosedPlaceholder => described(
                "unclosed-placeholder",
                "a placeholder is not closed",
                "close the placeholder with `}`; a brace that is text is written `\\{`",
            ),
            Self::EmptyPlaceholder => described(
                "empty-placeholder",
                "a placeholder is empty",
                "name a variable (`{$name}`), a literal or a function; a brace that is text is written `\\{`",
            ),
            Self::UnclosedLiteral => described(
                "unclosed-literal",
                "a quoted literal is not closed",
                "close it with `|`; a bar inside it is written `\\|`",
            ),
            Self::ExpectedName => described(
                "expected-name",
                "a name is missing",
                "write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first",
            ),
            Self::ExpectedVariable => {
                described("expected-variable", "a variable is missing", "write a variable: `$name`")
            }
            Self::ExpectedValue => described(
                "expected-value",
                "a value is missing behind `=`",
                "write a literal or, for an option, a variable: `select=ordinal`, `digits=$count`",
            ),
            Self::ExpectedEquals => described(
                "expected-equals",
                "an `=` is missing",
                "write `.local $name = {…}`, or for an option `name=value`",
            ),
            Self::ExpectedExpression => described(
                "expected-expression",
                "an expression in braces is missing",
                "write it behind the declaration: `{$count :number}`",
            ),
            Self::MissingSpace => {
                described("missing-space", "white space is missing", "put a space before it")
            }
            Self::MisplacedOption => described(
                "misplaced-option",
                "an option stands behind an attribute",
                "put options before attributes",
            ),
            Self::OptionWithoutFunction => described(
                "option-without-function",
                "an option has no function to belong to",
                "name the function before it: `{$count :number option=value}`",
            ),
            Self::MisplacedFunction => described(
                "misplaced-function",
                "an expression has two functions",
                "apply one in a `.local` declaration, the other to its variable",
            ),
            Self::UnexpectedCharacter => described(
                "unexpected-character",
                "this cannot stand here",
                "see what may stand in a placeholder: `{$variable :function option=value @attribute}`",
            ),
            Self::UnknownKeyword => described(
                "unknown-keyword",
                "a message that begins with `.` needs `.input`, `.local` or `.match`",
                "put the whole text in `{{…}}` where the full stop is text",
            ),
            Self::MissingBody => described(
                "missing-body",
                "nothing is said after the declarations",
                "add a pattern, `{{…}}`, or `.match`",
            ),
            Self::UnclosedPattern => {
                described("unclosed-pattern", "a pattern is not closed", "close it with `}}`")
            }
            Self::TrailingContent => described(
                "trailing-content",
                "something stands behind the message's end",
                "put all text between `{{` and `}}`",
            ),
            Self::ExpectedVariant => described(
                "expected-variant",
                "`.match` has no variants",
                "add one line a variant: `one {{…}}`, and `* {{…}}` for all others",
            ),
            Self::ExpectedKey => {
                described("expected-key", "a key is missing", "write a key for each selector, or `*`")
            }
            Self::ExpectedPattern => described(
                "expected-pattern",
                "a variant has no pattern",
                "add it behind the keys: `one {{…}}`",
            ),
            Self::VariantKeyMismatch => described(
                "variant-key-mismatch",
                "a variant has more or fewer keys than there are selectors",
                "give it one key for each selector",
            ),
            Self::MissingFallbackVariant => described(
                "missing-fallback-variant",
                "no variant fits all that is left",
                "add one whose keys are all `*`",
            ),
            Self::MissingSelectorAnnotation => described(
                "missing-selector-annotation",
                "a selector has no function",
                "declare how to select: `.input {$count :number}`",
            ),
            Self::DuplicateDeclaration => described(
                "duplicate-declaration",
                "a variable is declared twice, or used before it is declared",
                "give the new variable another name, or move its declaration up",
            ),
            Self::DuplicateOptionName => {
                described("duplicate-option-name", "an option stands twice", "keep one of the two")
            }
            Self::DuplicateVariant => described(
                "duplicate-variant",
                "two variants have the same keys",
                "delete or change one of the two",
            ),
        }
    }
}

const fn described(id: &'static str, text: &'static str, help: &'static str) -> Description {
    Description { id, text, help }
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

impl core::error::Error for MessageError {}

/// Every error of a message's source; at least one.
#[derive(Clone, Debug, PartialEq, Eq)]
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

impl core::error::Error for MessageErrors {}
