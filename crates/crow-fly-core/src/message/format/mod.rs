//! From program and arguments to output (UTS #35 part 9, "Formatting").
//!
//! Formatting never stops at an error: a placeholder that fails shows its fallback, and the error goes to whoever asks.

pub(super) mod context;
mod html;
mod limited;
pub(super) mod markup;
pub(super) mod parts;
mod placeholder;
mod resolve;
mod select;
mod text;

use alloc::string::String;
use alloc::vec;
use alloc::vec::Vec;
use core::fmt;

use jiff::Timestamp;

use self::context::FormatContext;
use self::html::HtmlOutput;
use self::limited::{Limited, TOO_LONG, too_long};
use self::parts::{Part, PartsOutput};
use self::placeholder::{ResolvedPlaceholder, Sink};
use self::resolve::{Frame, Input, integer_argument, too_deep, unresolved};
use self::select::{select, select_by_integer};
use self::text::TextOutput;
use super::format_error::FormatError;
use super::function::numeric::NumberOptions;
use super::function::resolved::ResolvedValue;
use super::program::{Body, Operand, Operation, Program, ProgramRef, Routine, Slice};
use crate::html::Html;
use crate::value::{Args, Value};

/// A message with what it is formatted with: made by [`Program::format`], and formatted when a text is asked for.
///
/// It is also `Display`, as text, for `write!` and templates.
#[must_use = "nothing is formatted until `text`, `html`, `parts` or `write_to` is called"]
pub struct Formatting<'p, 'v, 'e> {
    program: ProgramRef<'p>,
    context: &'p FormatContext,
    args: &'p Args<'v>,
    now: Option<&'p Timestamp>,
    report: Option<&'e mut dyn FnMut(FormatError)>,
}

impl Program {
    /// Formats the message in a context: text, HTML, or parts.
    ///
    /// ```
    /// use crow_fly_core::{args, message::{FormatContext, Message, Program}};
    ///
    /// let program = Program::compile(&Message::parse("{#b}{$name}{/b}: {$seats :integer}")?);
    /// let context = FormatContext::of(&"en".parse()?);
    /// let mut errors = Vec::new();
    /// let args = args! { name: "Mair" };
    /// let html = program.format(&context, &args).reporting(&mut |error| errors.push(error.to_string())).html();
    /// assert_eq!(html.as_str(), "<b><bdi>Mair</bdi></b>: <bdi>{$seats}</bdi>");
    /// assert_eq!(errors, ["no argument was given for `{$seats}`; give the argument `seats` (given: `name`)"]);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[inline]
    pub fn format<'p, 'v>(
        &'p self,
        context: &'p FormatContext,
        args: &'p Args<'v>,
    ) -> Formatting<'p, 'v, 'static> {
        self.borrowed().format(context, args)
    }
}

impl<'p> ProgramRef<'p> {
    /// Formats the message in a context, as [`Program::format`] does.
    #[inline]
    pub const fn format<'v>(
        self,
        context: &'p FormatContext,
        args: &'p Args<'v>,
    ) -> Formatting<'p, 'v, 'static> {
        Formatting { program: self, context, args, now: None, report: None }
    }
}

impl<'p, 'v> Formatting<'p, 'v, '_> {
    /// Hands every error to a function. Without one, errors show as fallbacks only.
    #[inline]
    pub fn reporting<'e>(self, report: &'e mut dyn FnMut(FormatError)) -> Formatting<'p, 'v, 'e> {
        Formatting {
            program: self.program,
            context: self.context,
            args: self.args,
            now: self.now,
            report: Some(report),
        }
    }

    /// Sets the time that counts as now, for relative times of dates: `in 20 minutes`. Without one those are an error.
    ///
    /// ```
    /// use crow_fly_core::{args, message::{FormatContext, Message, Program}};
    ///
    /// let program = Program::compile(&Message::parse("{$leaves :crow:relative}")?);
    /// let context = FormatContext::of(&"en".parse()?);
    /// let args = args! { leaves: "2026-05-01T09:50:00Z" };
    /// let now = "2026-05-01T09:30:00Z".parse()?;
    /// assert_eq!(program.format(&context, &args).with_now(&now).text(), "in 20 minutes");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[inline]
    pub const fn with_now(mut self, now: &'p Timestamp) -> Self {
        self.now = Some(now);
        self
    }

    /// The message as text; markup leaves no trace. It has a [limit](FormatContext::with_longest).
    pub fn text(self) -> String {
        let context = self.context;
        self.limited(|formatting, to| formatting.run(&mut TextOutput { to, context }))
    }

    /// Writes the message as text; markup leaves no trace. It has no limit but the output's own.
    ///
    /// # Errors
    /// Those of the output. Errors of the message go to [`reporting`](Self::reporting).
    #[inline]
    pub fn write_to(self, to: &mut impl fmt::Write) -> fmt::Result {
        let context = self.context;
        self.run(&mut TextOutput { to, context })
    }

    /// The message as HTML: text and arguments escaped, markup from a list of harmless elements and by the
    /// application's own handlers. It has a [limit](FormatContext::with_longest).
    pub fn html(self) -> Html {
        let context = self.context;
        Html(self.limited(|formatting, to| formatting.run(&mut HtmlOutput::new(to, context))))
    }

    /// The message in parts: for front ends that make elements of their own from them. They have a
    /// [limit](FormatContext::with_longest).
    pub fn parts(self) -> Vec<Part> {
        let (context, mut report) = (self.context, self.report);
        let mut output = PartsOutput { parts: Vec::new(), context, left: context.longest };
        let formatting = Formatting { report: report.as_mut().map(|report| &mut **report as _), ..self };
        if formatting.run(&mut output).is_ok() {
            return output.parts;
        }
        if let Some(report) = report {
            report(too_long(context.longest));
        }
        vec![Part::Fallback { source: TOO_LONG.into() }]
    }

    /// Formats into a text up to the limit.
    #[inline]
    fn limited(self, format: impl FnOnce(Formatting<'p, 'v, '_>, &mut Limited<'_>) -> fmt::Result) -> String {
        let Formatting { program, context, args, now, mut report } = self;
        let mut text = String::with_capacity(program.usual_length());
        let mut to = Limited::new(&mut text, context.longest);
        let reborrowed = report.as_mut().map(|report| &mut **report as _);
        // Only the limit makes writing fail.
        let _ = format(Formatting { program, context, args, now, report: reborrowed }, &mut to);
        if to.is_over {
            if let Some(report) = report {
                report(too_long(context.longest));
            }
            return TOO_LONG.into();
        }
        text
    }

    #[inline]
    fn run(self, output: &mut impl Sink) -> fmt::Result {
        let arena = self.program.arena;
        let input = Input { arena, context: self.context, args: self.args.list(), now: self.now };
        let mut nobody = |_| ();
        let report: &mut dyn FnMut(FormatError) = match self.report {
            Some(report) => report,
            None => &mut nobody,
        };
        match self.program.body {
            Body::Text { start, length } => output.text(arena.str(Slice::short(start, length))),
            Body::Plain { start, length } => {
                for operation in Slice::short(start, length).of(&arena.operations) {
                    plain(input, operation, report, output)?;
                }
                Ok(())
            }
            Body::Plural(at) => run_plural(input, arena.routine(at), report, output),
            Body::Routine(at) => run_routine(input, arena.routine(at), report, output),
        }
    }
}

impl fmt::Display for Formatting<'_, '_, '_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        Formatting { report: None, ..*self }.write_to(f)
    }
}

impl fmt::Debug for Formatting<'_, '_, '_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Formatting").field("args", self.args).finish_non_exhaustive()
    }
}

/// A plural by one number: an integer needs nothing resolved.
fn run_plural(
    input: Input<'_, '_>,
    routine: Routine,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let arena = input.arena;
    let counted = routine.declared.of(&arena.placeholders).first();
    let Some((number, options)) = counted.and_then(|counted| integer_argument(input, counted)) else {
        return run_routine(input, routine, report, output);
    };
    let category = options.integer_category(number, input.context);
    let selected = select_by_integer(arena, number, category, routine.keys.of(&arena.keys));
    let pattern = arena.pattern(routine, selected);
    plural(input, pattern, ShownInteger { number, options }, report, output)
}

/// Any message: its declarations are resolved, a pattern is selected and formatted.
fn run_routine(
    input: Input<'_, '_>,
    routine: Routine,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let arena = input.arena;
    let mut frame = Frame::new(input, routine.declared.of(&arena.placeholders), report);
    let selected = match routine.selectors.of(&arena.selectors) {
        [] => 0,
        selectors => select(&mut frame, selectors, routine.keys.of(&arena.keys)),
    };
    frame.pattern(arena.pattern(routine, selected), output)
}

/// An integer that shows as its own digits.
#[derive(Clone, Copy)]
struct ShownInteger<'a> {
    number: i64,
    options: &'a NumberOptions,
}

/// A text, or an argument as it is: nothing is resolved for those.
#[allow(
    clippy::trivially_copy_pass_by_ref,
    reason = "its parts are read where they lie, which takes fewer instructions than to copy and take apart"
)]
#[allow(
    clippy::inline_always,
    reason = "the loops that share it are the hot ones; a call each is a fifth of a text"
)]
#[inline(always)]
fn plain(
    input: Input<'_, '_>,
    operation: &Operation,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let arena = input.arena;
    match *operation {
        Operation::Text { start, length } => output.text(arena.str(Slice::short(start, length))),
        Operation::Argument { start, length } => {
            let name = Slice::short(start, length);
            match input.argument(name) {
                Some(Value::Text(text)) => output.text_value(text, || input.variable(name)),
                Some(value) => plain_value(input, name, value, report, output),
                None => no_value(input, name, report, output),
            }
        }
        Operation::Placeholder(_) | Operation::Tag(_) => Ok(()),
    }
}

/// Texts, arguments, and the number that chose them.
fn plural(
    input: Input<'_, '_>,
    pattern: Slice,
    shown: ShownInteger<'_>,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let arena = input.arena;
    pattern.of(&arena.operations).iter().try_for_each(|operation| match operation {
        Operation::Placeholder(at) => {
            let placeholder = arena.placeholders.get(*at as usize);
            let fallback = placeholder.map(|placeholder| placeholder.fallback).unwrap_or_default();
            output.integer(shown.number, shown.options, arena.str(fallback))
        }
        operation => plain(input, operation, report, output),
    })
}

/// An argument that is not a text.
#[inline(never)]
fn plain_value(
    input: Input<'_, '_>,
    name: Slice,
    value: &Value<'_>,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    if value.is_too_deep() {
        report(too_deep(input.variable(name)));
    }
    let value = ResolvedValue::of(value, input.context);
    output.placeholder(&ResolvedPlaceholder::plain(&value, input.variable(name)))
}

/// An argument that was not given.
#[cold]
#[inline(never)]
fn no_value(
    input: Input<'_, '_>,
    name: Slice,
    report: &mut dyn FnMut(FormatError),
    output: &mut impl Sink,
) -> fmt::Result {
    let fallback = input.variable(name);
    report(unresolved(fallback, input.args));
    output.placeholder(&ResolvedPlaceholder::plain(&ResolvedValue::Fallback, fallback))
}

impl Frame<'_, '_, '_> {
    fn pattern(&mut self, pattern: Slice, output: &mut impl Sink) -> fmt::Result {
        let input = self.input;
        let arena = input.arena;
        for operation in pattern.of(&arena.operations) {
            match operation {
                Operation::Placeholder(at) => {
                    let Some(placeholder) = arena.placeholders.get(*at as usize) else { continue };
                    let fallback = arena.str(placeholder.fallback);
                    // Nearly every placeholder is a declared value as it is: nothing is moved for those.
                    if let (Operand::Declared(at), None) = (placeholder.operand, placeholder.call) {
                        output.placeholder(&self.declared(at).shown(fallback))?;
                        continue;
                    }
                    output.placeholder(&self.resolve(placeholder).shown(fallback))?;
                }
                Operation::Tag(at) if output.wants_markup() => {
                    let Some(tag) = arena.tags.get(*at as usize) else { continue };
                    let tag = self.markup(tag);
                    output.markup(&tag, self.report)?;
                }
                operation => plain(input, operation, self.report, output)?,
            }
        }
        output.finish(self.report)
    }
}
