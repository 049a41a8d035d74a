//! Messages: Unicode MessageFormat 2 (UTS #35 part 9), from source to output.
//!
//! ```text
//! source ──syntax──▶ Message (data model) ──compile──▶ Program ──format──▶ text, HTML or parts
//! ```
//!
//! ```
//! use crow_fly_core::args;
//! use crow_fly_core::message::{Message, Program, FormatContext};
//! use crow_fly_core::tag::LanguageTag;
//!
//! let source = ".input {$seats :number} .match $seats one {{One seat left}} * {{{$seats} seats left}}";
//! let program = Program::compile(&Message::parse(source)?);
//! let english = FormatContext::of(&LanguageTag::parse("en").unwrap());
//! assert_eq!(program.format(&english, &args! { seats: 1 }).text(), "One seat left");
//! assert_eq!(program.format(&english, &args! { seats: 1200 }).text(), "1,200 seats left");
//! # Ok::<(), crow_fly_core::message::MessageErrors>(())
//! ```

use alloc::vec::Vec;
use core::fmt;
use core::ops::Deref;

mod compile;
mod error;
mod format;
mod format_error;
mod function;
mod maybe_owned;
pub mod model;
mod options;
mod parameters;
mod program;
mod selection;
mod syntax;

#[doc(inline)]
pub use crate::function_context::FunctionContext;
#[doc(inline)]
pub use crate::html::Html;
pub(crate) use compile::Compiler;
pub use error::{MessageError, MessageErrorKind};
pub use format::Formatting;
pub use format::context::{FormatContext, Isolation};
pub use format::markup::{MarkupHandlers, MarkupTag};
pub use format::parts::Part;
pub use format_error::{FormatError, FormatErrorKind, FunctionError};
pub use function::custom::{CustomFunction, Functions, Invocation};
pub use function::definition::ParameterKind;
pub use model::Message;
pub use options::WrongOption;
pub use parameters::Parameter;
pub use program::Program;
pub(crate) use program::{Arena, Slice};
pub(crate) use selection::SelectedBy;
pub use syntax::{SyntaxKind, SyntaxNode, SyntaxTree};

impl Message {
    /// The longest source that is read, in bytes: a hundred times a long paragraph.
    pub const MAX_LENGTH: usize = 64 * 1024;

    /// Parses a message and checks it against the data model.
    ///
    /// # Errors
    /// Every syntax and data-model error of the source, in order; never none.
    pub fn parse(source: &str) -> Result<Self, MessageErrors> {
        let (message, mut errors) = syntax::parse(source, &mut ());
        // A half-read message would add errors that only follow from others.
        if errors.is_empty() {
            syntax::validate::validate(&message, &mut errors);
        }
        if errors.is_empty() { Ok(message) } else { Err(MessageErrors(errors)) }
    }
}

/// Every error of a message's source; at least one.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct MessageErrors(Vec<MessageError>);

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
