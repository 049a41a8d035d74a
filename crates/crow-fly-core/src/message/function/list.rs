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
use core::fmt::{self, Write};

use super::definition::{Call, Function, ParameterKind};
use super::option::{BadOption, one_of};
use super::resolved::ResolvedValue;
use crate::direction::Direction;
use crate::function_context::FunctionContext;
use crate::list::{ListKind, Run};
use crate::message::format_error::Refusal;
use crate::message::maybe_owned::MaybeOwned;
use crate::number::Width;
use crate::value::Value;

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
                let known = [("long", Width::Long), ("short", Width::Short), ("narrow", Width::Narrow)];
                options.width = one_of(value, known)?;
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
            ResolvedValue::List(values) => items(values, context),
            other => Vec::from([other]),
        };
        Ok(ResolvedValue::Joined(Box::new(Joined::of(items, *options, context))))
    }
}

fn items<'a>(values: &'a [Value<'a>], context: &FunctionContext) -> Vec<ResolvedValue<'a>> {
    values.iter().map(|value| ResolvedValue::of(value, context)).collect()
}

/// A list with the words that join it, in the language of those.
#[derive(Clone, Debug)]
pub(in crate::message) struct Joined<'a> {
    pub(in crate::message) pieces: Vec<Piece<'a>>,
    /// The direction of the words, whatever the items are.
    pub(in crate::message) direction: Direction,
}

/// A piece of a joined list.
#[derive(Clone, Debug)]
pub(in crate::message) enum Piece<'a> {
    Words(&'static str),
    Item(ResolvedValue<'a>),
}

impl<'a> Joined<'a> {
    fn of(items: Vec<ResolvedValue<'a>>, options: ListOptions, context: &FunctionContext) -> Self {
        let mut pieces = Vec::with_capacity(items.len() * 2);
        let last = items.last().map(|last| last.shown(context)).unwrap_or_default();
        let count = items.len();
        let mut items = items.into_iter();
        context.lists.runs(count, options.kind, options.width, &|| last.clone(), &mut |run| match run {
            Run::Words("") => {}
            Run::Words(words) => pieces.push(Piece::Words(words)),
            // Items come in order, each once.
            Run::Item(_) => pieces.extend(items.next().map(Piece::Item)),
        });
        Self { pieces, direction: context.direction }
    }

    /// A list that no function was asked to join.
    pub(in crate::message) fn plain(values: &'a [Value<'a>], context: &FunctionContext) -> Self {
        let options = ListOptions { kind: ListKind::Unit, width: Width::Long };
        Self::of(items(values, context), options, context)
    }

    /// Writes the list without setting its items apart.
    pub(in crate::message) fn write(&self, context: &FunctionContext, to: &mut dyn Write) -> fmt::Result {
        self.pieces.iter().try_for_each(|piece| match piece {
            Piece::Words(words) => to.write_str(words),
            Piece::Item(item) => to.write_str(&item.shown(context)),
        })
    }

    /// The list as this locale shows it, whatever other locale uses it later.
    pub(in crate::message) fn frozen(self, context: &FunctionContext) -> Joined<'static> {
        let frozen = |piece| match piece {
            Piece::Words(words) => Piece::Words(words),
            Piece::Item(item) => Piece::Item(item.frozen(context)),
        };
        Joined { pieces: self.pieces.into_iter().map(frozen).collect(), direction: self.direction }
    }
}
