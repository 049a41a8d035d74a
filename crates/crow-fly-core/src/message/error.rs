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

macro_rules! kinds {
    ($($kind:ident, $id:literal, $text:literal, $help:literal;)*) => {
        /// The kinds of errors in a message's source.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
        #[non_exhaustive]
        pub enum MessageErrorKind {
            $(#[doc = $text] $kind,)*
        }

        impl MessageErrorKind {
            /// A stable name, as findings carry it.
            pub const fn id(self) -> &'static str {
                match self { $(Self::$kind => $id,)* }
            }

            /// What is wrong.
            pub const fn text(self) -> &'static str {
                match self { $(Self::$kind => $text,)* }
            }

            /// What to do about it.
            pub const fn help(self) -> &'static str {
                match self { $(Self::$kind => $help,)* }
            }
        }
    };
}

kinds! {
    TooLong, "too-long", "the message is longer than is read", "split the text into several messages";
    NullCharacter, "null-character", "a NUL character cannot stand in a message", "delete it";
    LoneBrace, "lone-brace", "a `}` closes nothing", "write `\\}` where the brace is text";
    BadEscape, "bad-escape", "only `\\`, `{`, `|` and `}` can stand behind a backslash", "write `\\\\` where the backslash is text";
    UnclosedPlaceholder, "unclosed-placeholder", "a placeholder is not closed", "close the placeholder with `}`; a brace that is text is written `\\{`";
    EmptyPlaceholder, "empty-placeholder", "a placeholder is empty", "name a variable (`{$name}`), a literal or a function; a brace that is text is written `\\{`";
    UnclosedLiteral, "unclosed-literal", "a quoted literal is not closed", "close it with `|`; a bar inside it is written `\\|`";
    ExpectedName, "expected-name", "a name is missing", "write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first";
    ExpectedVariable, "expected-variable", "a variable is missing", "write a variable: `$name`";
    ExpectedValue, "expected-value", "a value is missing behind `=`", "write a literal or, for an option, a variable: `select=ordinal`, `digits=$count`";
    ExpectedEquals, "expected-equals", "an `=` is missing", "write `.local $name = {…}`, or for an option `name=value`";
    ExpectedExpression, "expected-expression", "an expression in braces is missing", "write it behind the declaration: `{$count :number}`";
    MissingSpace, "missing-space", "white space is missing", "put a space before it";
    MisplacedOption, "misplaced-option", "an option stands behind an attribute", "put options before attributes";
    OptionWithoutFunction, "option-without-function", "an option has no function to belong to", "name the function before it: `{$count :number option=value}`";
    MisplacedFunction, "misplaced-function", "an expression has two functions", "apply one in a `.local` declaration, the other to its variable";
    UnexpectedCharacter, "unexpected-character", "this cannot stand here", "see what may stand in a placeholder: `{$variable :function option=value @attribute}`";
    UnknownKeyword, "unknown-keyword", "a message that begins with `.` needs `.input`, `.local` or `.match`", "put the whole text in `{{…}}` where the full stop is text";
    MissingBody, "missing-body", "nothing is said after the declarations", "add a pattern, `{{…}}`, or `.match`";
    UnclosedPattern, "unclosed-pattern", "a pattern is not closed", "close it with `}}`";
    TrailingContent, "trailing-content", "something stands behind the message's end", "put all text between `{{` and `}}`";
    ExpectedVariant, "expected-variant", "`.match` has no variants", "add one line a variant: `one {{…}}`, and `* {{…}}` for all others";
    ExpectedKey, "expected-key", "a key is missing", "write a key for each selector, or `*`";
    ExpectedPattern, "expected-pattern", "a variant has no pattern", "add it behind the keys: `one {{…}}`";
    VariantKeyMismatch, "variant-key-mismatch", "a variant has more or fewer keys than there are selectors", "give it one key for each selector";
    MissingFallbackVariant, "missing-fallback-variant", "no variant fits all that is left", "add one whose keys are all `*`";
    MissingSelectorAnnotation, "missing-selector-annotation", "a selector has no function", "declare how to select: `.input {$count :number}`";
    DuplicateDeclaration, "duplicate-declaration", "a variable is declared twice, or used before it is declared", "give the new variable another name, or move its declaration up";
    DuplicateOptionName, "duplicate-option-name", "an option stands twice", "keep one of the two";
    DuplicateVariant, "duplicate-variant", "two variants have the same keys", "delete or change one of the two";
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
