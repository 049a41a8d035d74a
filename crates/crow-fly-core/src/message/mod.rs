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
//! assert_eq!(program.to_text(&english, &args! { seats: 1 }), "One seat left");
//! assert_eq!(program.to_text(&english, &args! { seats: 1200 }), "1,200 seats left");
//! # Ok::<(), crow_fly_core::message::MessageErrors>(())
//! ```

use alloc::vec::Vec;
use core::fmt;
use core::ops::Deref;

mod calls;
mod compile;
mod context;
mod error;
mod format;
mod format_error;
mod function;
mod interchange;
mod markup;
pub mod model;
mod output;
mod parameters;
mod parts;
mod print;
mod program;
mod resolve;
mod select;
mod selection;
mod small_map;
mod syntax;
mod validate;
mod written;

#[doc(inline)]
pub use crate::html::Html;
pub(crate) use compile::Compiler;
pub use context::{FormatContext, Isolation};
pub use error::{MessageError, MessageErrorKind};
pub use format_error::{FormatError, FormatErrorKind};
pub use function::custom::{CustomFunction, CustomValue, FunctionValue, Functions, Invocation};
pub use markup::{MarkupHandlers, MarkupTag};
pub use model::Message;
pub use parameters::{Parameter, ParameterKind};
pub use parts::Part;
pub use program::Program;
pub(crate) use program::{Arena, Slice};
pub(crate) use selection::SelectedBy;
pub use syntax::{SyntaxKind, SyntaxNode, SyntaxTree};

use function::unicode::{self, UnicodeOptions};

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
            validate::validate(&message, &mut errors);
        }
        if errors.is_empty() { Ok(message) } else { Err(MessageErrors(errors)) }
    }
}

impl Message {
    /// The options that formatting will leave out: those whose name their function does not know, or whose literal value
    /// it cannot have, and the same of the `u:` options of functions and markup. With each, the options there are.
    pub fn wrong_options(&self) -> Vec<(&model::Setting, &'static [&'static str])> {
        let mut wrong = Vec::new();
        let is_unicode = |setting: &&model::Setting| setting.name.starts_with(unicode::NAMESPACE);
        for function in self.expressions().filter_map(|expression| expression.function.as_ref()) {
            let mut unicode = UnicodeOptions::DEFAULT;
            for setting in function.options.iter().filter(is_unicode) {
                let takes = match &setting.value {
                    model::Operand::Literal(value) => unicode.set(&setting.name, value.into()).is_ok(),
                    model::Operand::Variable(_) => unicode::NAMES.contains(&setting.name.as_str()),
                };
                if !takes {
                    wrong.push((setting, unicode::NAMES));
                }
            }
            let Some(built_in) = function::Function::named(&function.name) else { continue };
            let mut options = function::Options::of(built_in);
            for setting in function.options.iter().filter(|setting| !is_unicode(setting)) {
                let takes = match &setting.value {
                    _ if built_in == function::Function::Range => true,
                    model::Operand::Literal(value) => options.set(&setting.name, value).is_ok(),
                    model::Operand::Variable(_) => options.take_variable(&setting.name),
                };
                if !takes || !built_in.options().contains(&setting.name.as_str()) {
                    wrong.push((setting, built_in.options()));
                }
            }
        }
        for setting in self.markup().flat_map(|markup| &markup.options).filter(is_unicode) {
            if setting.name != "u:id" {
                wrong.push((setting, &["u:id"]));
            }
        }
        wrong
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
