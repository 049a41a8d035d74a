//! Resolution of expressions (UTS #35 part 9, "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use jiff::Timestamp;
use smallvec::SmallVec;

use super::context::FormatContext;
use super::markup::{MarkupTag, is_allowed, linked, refused_option};
use super::placeholder::ResolvedPlaceholder;
use crate::message::format_error::{self, FormatError, FormatErrorKind as Kind, FunctionError, Refusal};
use crate::message::function::custom::Invocation;
use crate::message::function::definition;
use crate::message::function::numeric::{NumberOptions, NumericValue};
use crate::message::function::option::BadOption;
use crate::message::function::registry::BuiltIn;
use crate::message::function::resolved::ResolvedValue;
use crate::message::function::unicode::{self, UnicodeOptions};
use crate::message::maybe_owned::MaybeOwned;
use crate::message::program::{
    Arena, BuiltInCall, Call, Operand, Placeholder, Slice, Tag, UnicodeCall, VARIABLE,
};
use crate::value::{Named, Value, named};

/// What a message is formatted with.
#[derive(Clone, Copy)]
pub(super) struct Input<'a, 'v> {
    pub(super) arena: &'a Arena,
    pub(super) context: &'a FormatContext,
    pub(super) args: &'a [Named<'v>],
    /// The time that counts as now.
    pub(super) now: Option<&'a Timestamp>,
}

impl<'a, 'v> Input<'a, 'v> {
    /// An argument, by its name in the arena.
    #[inline]
    pub(super) fn argument(self, name: Slice) -> Option<&'a Value<'v>> {
        named(self.args, self.arena.bytes(name)?)
    }

    /// The variable as a message writes it, by its name in the arena: what is shown where it has no value.
    pub(super) fn variable(self, name: Slice) -> &'a str {
        self.arena.str(name.around(VARIABLE.0, VARIABLE.1))
    }
}

/// What a placeholder resolves to: a value, and the `u:` options that belong to it.
#[derive(Clone, Debug)]
pub(super) struct Resolved<'a> {
    pub(super) value: ResolvedValue<'a>,
    /// Few have them, and values are moved.
    unicode: Option<Box<UnicodeOptions<'a>>>,
}

impl<'a> Resolved<'a> {
    const fn plain(value: ResolvedValue<'a>) -> Self {
        Self { value, unicode: None }
    }

    /// The value with what stands for it where it cannot be formatted.
    pub(super) fn shown<'p>(&'p self, fallback: &'p str) -> ResolvedPlaceholder<'p> {
        match &self.unicode {
            Some(unicode) => ResolvedPlaceholder { value: &self.value, fallback, unicode },
            None => ResolvedPlaceholder::plain(&self.value, fallback),
        }
    }
}

/// A list of lists that is not shown.
#[cold]
pub(super) fn too_deep(fallback: &str) -> FormatError {
    FormatError::new(Kind::BadOperand, fallback).expecting("lists of lists are at most 8 deep")
}

/// What a declaration that is not there stands for.
static NOT_DECLARED: Resolved<'static> = Resolved::plain(ResolvedValue::Fallback);

/// One formatting of a message: its input, the values it has declared, and where errors go.
pub(super) struct Frame<'a, 'v, 'e> {
    pub(super) input: Input<'a, 'v>,
    declarations: &'a [Placeholder],
    declared: SmallVec<[Resolved<'a>; 2]>,
    /// The values that the frame of the message has declared, for a frame in another locale: they are shared, not copied.
    shared: &'a [Resolved<'a>],
    pub(super) report: &'e mut dyn FnMut(FormatError),
}

impl<'a, 'v, 'e> Frame<'a, 'v, 'e> {
    /// Resolves the declarations, each of which only refers to earlier ones.
    #[inline]
    pub(super) fn new(
        input: Input<'a, 'v>,
        declarations: &'a [Placeholder],
        report: &'e mut dyn FnMut(FormatError),
    ) -> Self {
        let mut frame = Self { input, declarations, declared: SmallVec::new(), shared: &[], report };
        if !declarations.is_empty() {
            frame.declare();
        }
        frame
    }

    fn declare(&mut self) {
        for placeholder in self.declarations {
            let value = self.resolve(placeholder);
            self.declared.push(value);
        }
    }

    pub(super) fn declared(&self, at: u32) -> &Resolved<'a> {
        let at = at as usize;
        self.declared.get(at).or_else(|| self.shared.get(at)).unwrap_or(&NOT_DECLARED)
    }

    /// An option is left out.
    fn bad_option(
        &mut self,
        function: Option<&str>,
        name: &str,
        value: Option<String>,
        expected: Cow<'static, str>,
    ) {
        let mut error =
            FormatError::new(Kind::BadOption, name).of_option(name).with_value(value).expecting(expected);
        if let Some(function) = function {
            error = error.of_function(function);
        }
        (self.report)(error);
    }

    /// An option has a value that it cannot have.
    fn wrong_option(&mut self, function: Option<&BuiltIn>, name: &str, value: &str, reason: BadOption) {
        let (value, expected) = match reason {
            BadOption::Value(expected) => {
                (Some(format_error::shown(value)), Cow::Owned(format!("it is {expected}")))
            }
            BadOption::Unknown => (None, function.map_or_else(unicode::known, BuiltIn::known)),
        };
        self.bad_option(function.map(BuiltIn::name), name, value, expected);
    }

    /// A declared value cannot be selected by.
    pub(super) fn bad_selector(&mut self, at: u32) {
        let placeholder = self.declarations.get(at as usize);
        let subject = placeholder.map_or("", |placeholder| self.input.arena.str(placeholder.fallback));
        let value = match &self.declared(at).value {
            ResolvedValue::Fallback => None,
            value => Some(described(value, self.input.context)),
        };
        let help = match value {
            Some(_) => "numbers and texts select: declare it with `:number` or `:string`",
            None => "it has no value: only `*` matches",
        };
        (self.report)(FormatError::new(Kind::BadSelector, subject).with_value(value).expecting(help));
    }

    #[inline]
    pub(super) fn resolve(&mut self, placeholder: &'a Placeholder) -> Resolved<'a> {
        match plain_argument(self.input, placeholder) {
            Some(value) => Resolved::plain(value),
            None => self.resolve_any(placeholder),
        }
    }

    fn resolve_any(&mut self, placeholder: &'a Placeholder) -> Resolved<'a> {
        if let (Operand::Declared(at), None) = (placeholder.operand, placeholder.call) {
            return self.declared(at).clone();
        }
        let Some(call) = placeholder.unicode.and_then(|at| at.of(&self.input.arena.unicode)) else {
            return Resolved::plain(self.resolve_value(placeholder));
        };
        let mut unicode = self.unicode_options(call);
        let value = match unicode.locale.take() {
            None => self.resolve_value(placeholder),
            Some(tag) => {
                // The value is formatted at once, as that locale does.
                let context = self.input.context.in_locale(&tag);
                Frame::over(self, &context).resolve_frozen(placeholder)
            }
        };
        // What stands for a value that cannot be formatted has no options of it.
        if matches!(value, ResolvedValue::Fallback) {
            return Resolved::plain(value);
        }
        Resolved { value, unicode: Some(Box::new(unicode)) }
    }

    fn unicode_options(&mut self, call: &'a UnicodeCall) -> UnicodeOptions<'a> {
        let arena = self.input.arena;
        let mut options = call.options.borrowed();
        for (name, value) in call.bad.of(&arena.settings) {
            let (name, value) = (arena.str(*name), self.literal(*value));
            if let Err(reason) = UnicodeOptions::default().set(name, value.into()) {
                self.wrong_option(None, name, value, reason);
            }
        }
        for (name, value) in call.variable.of(&arena.settings) {
            let Some(value) = self.option(None, *name, *value) else { continue };
            let (name, value) = (arena.str(*name), value.into_text(self.input.context));
            if let Err(reason) = options.set(name, value.clone()) {
                self.wrong_option(None, name, &value, reason);
            }
        }
        options
    }

    /// The same frame in another locale.
    fn over<'b>(outer: &'b mut Frame<'a, 'v, '_>, context: &'b FormatContext) -> Frame<'b, 'v, 'b>
    where
        'a: 'b,
    {
        Frame {
            input: Input { context, ..outer.input },
            declarations: outer.declarations,
            declared: SmallVec::new(),
            // A frame in another locale makes no further one.
            shared: &outer.declared,
            report: outer.report,
        }
    }

    fn resolve_frozen(mut self, placeholder: &'a Placeholder) -> ResolvedValue<'static> {
        self.resolve_value(placeholder).frozen(self.input.context)
    }

    fn resolve_value(&mut self, placeholder: &'a Placeholder) -> ResolvedValue<'a> {
        let arena = self.input.arena;
        let fallback = arena.str(placeholder.fallback);
        let operand = match self.operand(placeholder.operand) {
            // Where the operand has failed already, the function is skipped.
            Ok(Some(ResolvedValue::Fallback)) => {
                if let Operand::Argument(name) = placeholder.operand
                    && self.input.argument(name).is_some_and(Value::is_too_deep)
                {
                    (self.report)(too_deep(fallback));
                }
                return ResolvedValue::Fallback;
            }
            Ok(operand) => operand,
            Err(Unresolved) => {
                (self.report)(unresolved(fallback, self.input.args));
                return ResolvedValue::Fallback;
            }
        };
        let call = placeholder.call.and_then(|at| at.of(&arena.calls));
        let error = match (call, operand) {
            (None, operand) => {
                let value = operand.unwrap_or(ResolvedValue::Fallback);
                self.report_calendar(&value, fallback);
                return value;
            }
            (Some(Call::BuiltIn(call)), Some(operand)) => match self.built_in(call, operand) {
                Ok(value) => {
                    self.report_calendar(&value, fallback);
                    return value;
                }
                Err(Refusal { kind, needs }) => {
                    FormatError::new(kind, fallback).of_function(call.function.name()).expecting(needs)
                }
            },
            (Some(Call::BuiltIn(call)), None) => FormatError::new(Kind::BadOperand, fallback)
                .of_function(call.function.name())
                .expecting("a variable or a literal before it: `{$count :number}`"),
            (Some(Call::Custom { name, options }), operand) => match self.custom(*name, *options, operand) {
                Ok(value) => return value,
                Err(error) => FormatError::from_function(error, fallback).of_function(arena.str(*name)),
            },
        };
        // The operand has gone into the function.
        let operand = self.operand(placeholder.operand).ok().flatten();
        let value = operand.map(|value| described(&value, self.input.context));
        (self.report)(error.with_value(value));
        ResolvedValue::Fallback
    }

    /// Reports a date that is not in the calendar that it should be in.
    #[inline]
    fn report_calendar(&mut self, value: &ResolvedValue<'_>, fallback: &str) {
        if matches!(value, ResolvedValue::Date(..) | ResolvedValue::Formatted(_)) {
            self.report_calendar_of(value, fallback);
        }
    }

    #[inline(never)]
    fn report_calendar_of(&mut self, value: &ResolvedValue<'_>, fallback: &str) {
        if let Some(problem) = value.calendar_problem(self.input.context) {
            let error = FormatError::new(Kind::NoCalendar, fallback).expecting(problem.to_string());
            (self.report)(error);
        }
    }

    /// The text of an option's value that is literal.
    fn literal(&self, value: Operand) -> &'a str {
        match value {
            Operand::Literal(slice) => self.input.arena.str(slice),
            _ => "",
        }
    }

    /// A value of the message or of its arguments.
    fn operand(&self, operand: Operand) -> Result<Option<ResolvedValue<'a>>, Unresolved> {
        let arena = self.input.arena;
        Ok(Some(match operand {
            Operand::Nothing => return Ok(None),
            Operand::Literal(slice) => ResolvedValue::Text(Cow::Borrowed(arena.str(slice))),
            Operand::Declared(at) => self.declared(at).value.clone(),
            Operand::Argument(slice) => {
                let value = self.input.argument(slice).ok_or(Unresolved)?;
                ResolvedValue::of(value, self.input.context)
            }
        }))
    }

    /// The value of an option; none, with the reasons reported, where it has none.
    fn option(&mut self, function: Option<&str>, name: Slice, operand: Operand) -> Option<ResolvedValue<'a>> {
        let value = self.option_value(operand);
        if value.is_none() {
            self.bad_option(function, self.input.arena.str(name), None, "its variable has no value".into());
        }
        value
    }

    /// The value of an option; none where it has none. A variable that is not there is reported.
    fn option_value(&mut self, operand: Operand) -> Option<ResolvedValue<'a>> {
        if let Ok(value) = self.operand(operand) {
            return value.filter(|value| !matches!(value, ResolvedValue::Fallback));
        }
        if let Operand::Argument(name) = operand {
            let subject = format!("{{${}}}", self.input.arena.str(name));
            (self.report)(unresolved(&subject, self.input.args));
        }
        None
    }

    /// Applies a built-in function.
    fn built_in(
        &mut self,
        call: &'a BuiltInCall,
        operand: ResolvedValue<'a>,
    ) -> Result<ResolvedValue<'a>, Refusal> {
        let Input { arena, context, now, .. } = self.input;
        let Some(runtime) = &call.runtime else {
            return call.function.resolve(definition::Call { operand, value: None, context, now });
        };
        for (name, value) in runtime.bad.of(&arena.settings) {
            self.refuse_option(&call.function, arena.str(*name), *value);
        }
        let mut function = Cow::Borrowed(&call.function);
        for (name, given) in runtime.variable.of(&arena.settings) {
            let Some(given) = self.option(Some(call.function.name()), *name, *given) else { continue };
            let (name, given) = (arena.str(*name), given.into_text(context));
            if let Err(reason) = BuiltIn::set(function.to_mut(), name, &given) {
                self.wrong_option(Some(&call.function), name, &given, reason);
            }
        }
        let value = runtime.value.and_then(|operand| self.option_value(operand));
        let call = definition::Call { operand, value, context, now };
        match function {
            Cow::Borrowed(function) => function.resolve(call),
            Cow::Owned(function) => function.resolve_owned(call),
        }
    }

    /// An option that was left out when the message was compiled: it is set again, for the reason.
    fn refuse_option(&mut self, function: &BuiltIn, name: &str, value: Operand) {
        match (function.clone().set(name, self.literal(value)), value) {
            (Err(BadOption::Value(expected)), Operand::Argument(_) | Operand::Declared(_)) => {
                let expected = format!("it is written in the message, not taken from a variable: {expected}");
                self.bad_option(Some(function.name()), name, None, expected.into());
            }
            (Err(reason), _) => self.wrong_option(Some(function), name, self.literal(value), reason),
            (Ok(()), _) => {}
        }
    }

    /// Applies a function of the application's own.
    fn custom(
        &mut self,
        name: Slice,
        options: Slice,
        operand: Option<ResolvedValue<'a>>,
    ) -> Result<ResolvedValue<'a>, FunctionError> {
        let Input { arena, context, .. } = self.input;
        let custom = arena.str(name);
        let function = context.functions.as_deref().and_then(|functions| functions.get(custom));
        let function = function.ok_or(Kind::UnknownFunction)?;
        let settings = options.of(&arena.settings);
        let mut options = Vec::with_capacity(settings.len());
        for (name, value) in settings {
            if let Some(value) = self.option(Some(custom), *name, *value) {
                options.push((arena.str(*name), value.into_value(context)));
            }
        }
        let inherited = operand.as_ref().map_or_else(Vec::new, |operand| operand.handed_on().to_vec());
        let operand = operand.map(|value| value.into_value(context));
        let value = function.call(&Invocation::new(operand, options, inherited, context))?;
        Ok(ResolvedValue::formatted(value, None))
    }

    /// Markup with its options resolved, but for those that no page may get.
    pub(super) fn markup(&mut self, tag: &Tag) -> MarkupTag<'a> {
        let Input { arena, context, .. } = self.input;
        let settings = tag.options.of(&arena.settings);
        let name = arena.str(tag.name);
        let handled = context.markup.as_ref().is_some_and(|handlers| handlers.has(name));
        let mut shown = MarkupTag {
            kind: tag.kind,
            name,
            id: None,
            options: Vec::with_capacity(settings.len()),
            context,
            links: context.links.as_ref(),
        };
        for (option, value) in settings {
            let Some(value) = self.option(None, *option, *value) else { continue };
            let value = value.into_text(context);
            match arena.str(*option) {
                "u:id" => shown.id = Some(value),
                // Neither a direction nor a locale is of use to markup.
                other if other.starts_with(unicode::NAMESPACE) => {
                    self.bad_option(None, other, None, "markup has only `u:id` of these options".into());
                }
                other if !is_allowed(name, handled, other, &value) => {
                    (self.report)(refused_option(other, &value));
                }
                other => {
                    let links = context.links.as_ref().filter(|_| !handled);
                    shown.options.push((other, linked(name, other, value, links)));
                }
            }
        }
        shown
    }
}

/// No argument of the name was given.
struct Unresolved;

/// The error of an argument that was not given, with the names of those that were.
#[cold]
pub(super) fn unresolved(subject: &str, args: &[Named<'_>]) -> FormatError {
    let name = subject.trim_matches(['{', '}', '$']);
    let given = args.iter().map(|(name, _)| format!("`{}`", name.escape_debug())).take(SHOWN_NAMES);
    let given = given.collect::<Vec<_>>().join(", ");
    let given = if given.is_empty() { given } else { format!(" (given: {given})") };
    let help = format!("give the argument `{name}`{given}");
    FormatError::new(Kind::UnresolvedVariable, subject).expecting(help)
}

/// How many of the arguments an error names.
const SHOWN_NAMES: usize = 8;

/// A value as an error shows it.
fn described(value: &ResolvedValue<'_>, context: &FormatContext) -> String {
    match value {
        ResolvedValue::Text(text) => format_error::shown(text),
        ResolvedValue::Number(number, _) => number.to_decimal().to_string(),
        ResolvedValue::Date(..) => format!("the date {}", format_error::shown(&value.shown(context))),
        ResolvedValue::List(values) => format!("a list of {} values", values.len()),
        ResolvedValue::Joined(_) => format_error::shown(&value.shown(context)),
        ResolvedValue::Html(_) => String::from("HTML"),
        ResolvedValue::Formatted(formatted) => format_error::shown(&formatted.value.text),
        ResolvedValue::Fallback => String::from("without a value"),
    }
}

/// The call of a placeholder that is an argument and has a function, with the value of that.
#[inline]
fn argument_call<'a, 'v>(
    input: Input<'a, 'v>,
    placeholder: &Placeholder,
) -> Option<(&'a BuiltInCall, &'a Value<'v>)> {
    let (Operand::Argument(name), Some(call), None) =
        (placeholder.operand, placeholder.call, placeholder.unicode)
    else {
        return None;
    };
    let Call::BuiltIn(call) = call.of(&input.arena.calls)? else { return None };
    Some((call, input.argument(name)?))
}

/// The integer that a placeholder gives to a number function with nothing left to resolve, and its options.
#[inline]
pub(super) fn integer_argument<'a>(
    input: Input<'a, '_>,
    placeholder: &Placeholder,
) -> Option<(i64, &'a NumberOptions)> {
    let (call, Value::Integer(number)) = argument_call(input, placeholder)? else { return None };
    Some((*number, call.plain_number()?))
}

/// What a function makes of an argument, with nothing left to resolve: of an integer, which nearly every plural selects by,
/// and of a date.
#[inline]
fn plain_argument<'a>(input: Input<'a, '_>, placeholder: &Placeholder) -> Option<ResolvedValue<'a>> {
    match argument_call(input, placeholder)? {
        (call, Value::Integer(number)) => {
            let options = MaybeOwned::Borrowed(call.plain_number()?);
            Some(ResolvedValue::Number(NumericValue::Integer(*number), options))
        }
        (call, Value::Date(date)) => {
            let (kind, options) = call.plain_date().filter(|(kind, _)| kind.takes(date))?;
            if !options.is_gregorian(input.context) {
                return None;
            }
            Some(ResolvedValue::Date(MaybeOwned::Borrowed(date), Some(kind), MaybeOwned::Borrowed(options)))
        }
        _ => None,
    }
}
