//! From program and arguments to output (UTS #35 part 9, "Formatting").
//!
//! Formatting never stops at an error: a placeholder that fails shows its fallback, and the error goes to whoever inputs.

use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;

use super::context::FormatContext;
use super::format_error::{FormatError, FormatErrorKind};
use super::function::number::NumberOptions;
use super::function::unicode;
use super::markup::{MarkupTag, is_allowed};
use super::output::{HtmlOutput, ResolvedPlaceholder, Sink, TextOutput};
use super::parts::{Part, PartsOutput};
use super::program::{Arena, Body, Operand, Operation, Program, Slice, Tag};
use super::resolve::{Frame, Resolved, ResolvedValue, integer_argument};
use super::select::{select, select_by_integer};
use crate::html::Html;
use crate::value::{Args, Value};

impl Program {
    /// Formats the message as text; errors show as fallbacks only.
    pub fn to_text(&self, context: &FormatContext, args: &Args<'_>) -> String {
        self.to_text_reporting(context, args, &mut |_| ())
    }

    /// Formats the message as text; errors go to `report`.
    pub fn to_text_reporting(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
    ) -> String {
        let mut text = String::with_capacity(self.usual_length());
        // Writing to a `String` does not fail.
        let _ = self.write_text(context, args, &mut text, report);
        text
    }

    /// The message as text, formatted where it is written: for `write!` and templates.
    pub const fn display<'p, 'v>(
        &'p self,
        context: &'p FormatContext,
        args: &'p Args<'v>,
    ) -> impl fmt::Display + use<'p, 'v> {
        Lazy { program: self, context, args }
    }

    /// Formats the message as HTML: text and arguments escaped, markup from a list of harmless elements and by the
    /// application's own handlers.
    pub fn to_html(&self, context: &FormatContext, args: &Args<'_>) -> Html {
        self.to_html_reporting(context, args, &mut |_| ())
    }

    /// Formats the message as HTML; errors go to `report`.
    pub fn to_html_reporting(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
    ) -> Html {
        let mut html = String::with_capacity(self.usual_length());
        let _ = self.write_html(context, args, &mut html, report);
        Html(html)
    }

    /// Formats the message in parts; errors go to `report`.
    pub fn to_parts(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
    ) -> Vec<Part> {
        let mut output = PartsOutput { parts: Vec::new(), context };
        // Collecting does not fail.
        let _ = self.run(context, args, report, &mut output);
        output.parts
    }

    /// Writes the message as text; markup leaves no trace.
    ///
    /// # Errors
    /// Those of the output. Errors of the message go to `report`.
    #[inline]
    pub fn write_text(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        to: &mut impl fmt::Write,
        report: &mut dyn FnMut(FormatError),
    ) -> fmt::Result {
        self.run(context, args, report, &mut TextOutput { to, context })
    }

    /// Writes the message as HTML.
    ///
    /// # Errors
    /// Those of the output. Errors of the message go to `report`.
    pub fn write_html(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        to: &mut impl fmt::Write,
        report: &mut dyn FnMut(FormatError),
    ) -> fmt::Result {
        self.run(context, args, report, &mut HtmlOutput::new(to, context))
    }

    #[inline]
    fn run(
        &self,
        context: &FormatContext,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
        output: &mut impl Sink,
    ) -> fmt::Result {
        let arena = &*self.arena;
        let routine = match self.body {
            Body::Text(text) => return output.text(arena.str(text)),
            Body::Plain(operations) => {
                let mut operations = operations.of(&arena.operations).iter();
                return operations
                    .try_for_each(|piece| plain(arena, *piece, (context, args), report, output));
            }
            Body::Plural(at) => {
                let routine = arena.routines.get(at as usize).copied().unwrap_or_default();
                let counted = routine.declared.of(&arena.placeholders).first();
                if let Some((number, options)) =
                    counted.and_then(|placeholder| integer_argument(arena, placeholder, args))
                {
                    let category = options.integer_category(number, context);
                    let selected = select_by_integer(arena, number, category, routine.keys.of(&arena.keys));
                    let pattern =
                        routine.patterns.of(&arena.patterns).get(selected).copied().unwrap_or_default();
                    let operations = pattern.of(&arena.operations);
                    return plural(arena, operations, (number, options), (context, args), report, output);
                }
                routine
            }
            Body::Routine(at) => arena.routines.get(at as usize).copied().unwrap_or_default(),
        };
        let mut frame = Frame::new(arena, routine.declared.of(&arena.placeholders), context, args, report);
        let selected = match routine.selectors.of(&arena.selectors) {
            [] => 0,
            selectors => select(&mut frame, selectors, routine.keys.of(&arena.keys)),
        };
        let pattern = routine.patterns.of(&arena.patterns).get(selected).copied().unwrap_or_default();
        frame.pattern(pattern, output)
    }
}

/// A text, or an argument as it is: nothing is resolved for those.
#[allow(
    clippy::inline_always,
    reason = "the loops that share it are the hot ones; a call each is a fifth of a text"
)]
#[inline(always)]
fn plain(
    arena: &Arena,
    operation: Operation,
    (context, args): (&FormatContext, &Args<'_>),
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    match operation {
        Operation::Text(text) => output.text(arena.str(text)),
        Operation::Argument(fallback) => match args.get(arena.variable(fallback)) {
            Some(Value::Text(text)) => output.text_value(text, || arena.str(fallback)),
            value => plain_value(value, arena.str(fallback), context, report, output),
        },
        Operation::Placeholder(_) | Operation::Tag(_) => Ok(()),
    }
}

/// Texts, arguments, and the number that chose them.
fn plural(
    arena: &Arena,
    operations: &[Operation],
    (number, options): (i64, &NumberOptions),
    given: (&FormatContext, &Args<'_>),
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    operations.iter().try_for_each(|operation| match operation {
        Operation::Placeholder(at) => {
            let fallback = arena
                .placeholders
                .get(*at as usize)
                .map(|placeholder| placeholder.fallback)
                .unwrap_or_default();
            output.integer(number, options, arena.str(fallback))
        }
        operation => plain(arena, *operation, given, report, output),
    })
}

/// An argument that is no text, or none at all.
#[inline(never)]
fn plain_value(
    value: Option<&Value<'_>>,
    source: &str,
    context: &FormatContext,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let value = value.map_or(ResolvedValue::Fallback, |value| ResolvedValue::of(value, context));
    if matches!(value, ResolvedValue::Fallback) {
        report(FormatError::new(FormatErrorKind::UnresolvedVariable, source));
    }
    output.placeholder(&ResolvedPlaceholder::plain(&value, source))
}

impl<'a> Frame<'a, '_, '_> {
    fn pattern(mut self, pattern: Slice, output: &mut impl Sink) -> fmt::Result {
        let arena = self.arena;
        for operation in pattern.of(&arena.operations) {
            match operation {
                Operation::Placeholder(at) => {
                    let Some(placeholder) = arena.placeholders.get(*at as usize) else { continue };
                    let source = arena.str(placeholder.fallback);
                    // Nearly every placeholder is a declared value as it is: nothing is moved for those.
                    if let (Operand::Declared(at), None) = (placeholder.operand, placeholder.call) {
                        let Resolved { value, unicode } = self.declared(at);
                        output.placeholder(&ResolvedPlaceholder { value, source, unicode })?;
                        continue;
                    }
                    let Resolved { value, unicode } = self.resolve(placeholder);
                    output.placeholder(&ResolvedPlaceholder { value: &value, source, unicode: &unicode })?;
                }
                Operation::Tag(at) if output.wants_markup() => {
                    let Some(tag) = arena.tags.get(*at as usize) else { continue };
                    let tag = self.tag(tag);
                    output.markup(&tag, &mut |kind, subject| self.report(kind, subject))?;
                }
                operation => plain(arena, *operation, (self.context, self.args), self.report, output)?,
            }
        }
        output.finish(&mut |kind, subject| self.report(kind, subject))
    }

    fn tag(&mut self, tag: &Tag) -> MarkupTag<'a> {
        let arena = self.arena;
        let settings = tag.options.of(&arena.settings);
        let name = arena.str(tag.name);
        let handled = self.context.markup.as_ref().is_some_and(|handlers| handlers.has(name));
        let mut shown =
            MarkupTag { kind: tag.kind, name, id: None, options: Vec::with_capacity(settings.len()) };
        for (option, value) in settings {
            let Some(value) = self.option(*option, *value) else { continue };
            let value = value.into_text(self.context);
            match arena.str(*option) {
                "u:id" => shown.id = Some(value),
                // Neither a direction nor a locale is of use to markup.
                other if other.starts_with(unicode::NAMESPACE) => self.bad_option(*option),
                other if !is_allowed(name, handled, other, &value) => self.bad_option(*option),
                other => shown.options.push((other, value)),
            }
        }
        shown
    }
}

/// A message to be formatted where it is written.
struct Lazy<'p, 'v> {
    program: &'p Program,
    context: &'p FormatContext,
    args: &'p Args<'v>,
}

impl fmt::Display for Lazy<'_, '_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.program.write_text(self.context, self.args, f, &mut |_| ())
    }
}
