//! `:crow:list`: several values joined as the locale joins them.
//!
//! ```
//! # use crow_fly_core::{args, message::{FormatContext, Message, Program}};
//! # let context = FormatContext::of(&"en".parse()?);
//! let program = Program::compile(&Message::parse("{$boats :crow:list type=or}")?);
//! assert_eq!(program.format(&context, &args! { boats: ["Curlew", "Avocet", "Iris"] }).text(),
//!     "\u{2068}Curlew\u{2069}, \u{2068}Avocet\u{2069}, or \u{2068}Iris\u{2069}");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::boxed::Box;
use alloc::vec::Vec;

use super::definition::{Call, Function, ParameterKind};
use super::option::{BadOption, one_of};
use super::resolved::{Joined, ResolvedValue};
use crate::list::ListKind;
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;

pub(in crate::message) struct List;

#[derive(Clone, Copy, Debug, PartialEq)]
pub(in crate::message) struct ListOptions {
    kind: ListKind,
    width: Width,
}

impl Function for List {
    const NAME: &'static str = "crow:list";
    const OPTIONS: &'static [&'static str] = &["type", "width"];
    const OPERAND: ParameterKind = ParameterKind::List;
    type Options = ListOptions;
    const NO_OPTIONS: ListOptions = ListOptions { kind: ListKind::And, width: Width::Long };

    fn set(options: &mut ListOptions, name: &str, value: &str) -> Result<(), BadOption> {
        match name {
            "type" => {
                let known = [("and", ListKind::And), ("or", ListKind::Or), ("unit", ListKind::Unit)];
                options.kind = one_of(value, known)?;
            }
            "width" => {
                options.width = one_of(value, Width::NAMES)?;
            }
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    fn resolve<'a>(
        call: Call<'_, 'a>,
        options: MaybeOwned<'a, ListOptions>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let context = call.context;
        let items = match call.operand {
            ResolvedValue::List(values) => Joined::items(values, context),
            other => Vec::from([other]),
        };
        Ok(ResolvedValue::Joined(Box::new(Joined::of(items, options.kind, options.width, context))))
    }
}
