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
mod requirements;
mod selection;
mod syntax;

#[doc(inline)]
pub use crate::function_context::FunctionContext;
#[doc(inline)]
pub use crate::html::Html;
pub(crate) use compile::Compiler;
pub use error::{ErrorClass, MessageError, MessageErrorKind, MessageErrors};
pub use format::Formatting;
pub use format::context::{FormatContext, Isolation};
pub use format::markup::{Links, MarkupHandlers, MarkupTag};
pub use format::parts::Part;
pub use format_error::{FormatError, FormatErrorKind, FunctionError};
pub use function::custom::{CustomFunction, Functions, Invocation};
pub use function::definition::ParameterKind;
pub use model::Message;
pub use options::WrongOption;
pub use parameters::Parameter;
pub(crate) use program::{Arena, Body as ProgramBody, Slice};
pub use program::{Program, ProgramRef};
pub(crate) use requirements::is_currency;
pub use requirements::{Lacking, Requirements};
pub(crate) use selection::SelectedBy;
pub use syntax::{SyntaxKind, SyntaxNode, SyntaxTree};
