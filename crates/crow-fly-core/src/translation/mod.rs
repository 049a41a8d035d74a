//! What translators work on: the forms that a language needs, the texts of a message one by one, and pseudo-locales.
//!
//! ```
//! use crow_fly_core::message::Message;
//! use crow_fly_core::tag::LanguageTag;
//! use crow_fly_core::translation::with_forms_of;
//!
//! let english = Message::parse(".input {$n :integer} .match $n one {{One seat}} * {{{$n} seats}}")?;
//! let polish = with_forms_of(&english, &LanguageTag::parse("pl").unwrap());
//! let lines = [".input {$n :integer}", ".match $n", "one {{One seat}}", "few {{{$n} seats}}", "many {{{$n} seats}}", "* {{{$n} seats}}"];
//! assert_eq!(polish.to_string(), lines.join("\n"));
//! # Ok::<(), crow_fly_core::message::MessageErrors>(())
//! ```

mod forms;
mod hint;
mod layout;
mod piece;
mod pseudo;
mod units;

pub use forms::with_forms_of;
pub use piece::{Code, CodeKind, Piece};
pub use pseudo::PseudoLocale;
pub use units::{Unit, UnitError, Units};
