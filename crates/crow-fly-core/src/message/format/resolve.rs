//! Resolution of expressions (UTS #35 part 9, "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::format;
use alloc::vec::Vec;

use smallvec::SmallVec;

use super::context::FormatContext;
use super::markup::{MarkupTag, is_allowed, linked};
use super::placeholder::ResolvedPlaceholder;
use crate::message::format_error::{FormatError, FormatErrorKind as Kind, FunctionError};
use crate::message::function::custom::Invocation;
use crate::message::function::definition;
use crate::message::function::numeric::{NumberOptions, NumericValue};
use crate::message::function::registry::BuiltIn;
use crate::message::function::resolved::ResolvedValue;
use crate::message::function::unicode::{self, UnicodeOptions};
use crate::message::maybe_owned::MaybeOwned;
use crate::message::program::{Arena, BuiltInCall, Call, Operand, Placeholder, Slice, Tag, UnicodeCall};
use crate::value::{Args, Value};

/// What a message is formatted with.
#[derive(Clone, Copy)]
pub(super) struct Input<'a, 'v> {
    pub(super) arena: &'a Arena,
    pub(super) context: &'a FormatContext,
    pub(super) args: &'a Args<'v>,
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

/// What a declaration that is not there stands for.
static NOT_DECLARED: Resolved<'static> = Resolved::plain(ResolvedValue::Fallback);

/// One formatting of a message: its input, the values it has declared, and where errors go.
pub(super) struct Frame<'a, 'v, 'e> {
    pub(super) input: Input<'a, 'v>,
    declarations: &'a [Placeholder],
    declared: SmallVec<[Resolved<'a>; 2]>,
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
        let mut frame = Self { input, declarations, declared: SmallVec::new(), report };
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
        self.declared.get(at as usize).unwrap_or(&NOT_DECLARED)
    }

    pub(super) fn report(&mut self, error: impl Into<FunctionError>, subject: &str) {
        (self.report)(FormatError::new(error, subject));
    }

    fn bad_option(&mut self, name: Slice) {
        self.report(Kind::BadOption, self.input.arena.str(name));
    }

    /// A declared value cannot be selected by.
    pub(super) fn bad_selector(&mut self, at: u32) {
        let placeholder = self.declarations.get(at as usize);
        let subject = placeholder.map_or("", |placeholder| self.input.arena.str(placeholder.fallback));
        self.report(Kind::BadSelector, subject);
    }

    #[inline]
    pub(super) fn resolve(&mut self, placeholder: &'a Placeholder) -> Resolved<'a> {
        // What nearly every plural selects by.
        match integer_argument(self.input, placeholder) {
            Some((number, options)) => Resolved::plain(ResolvedValue::Number(
                NumericValue::Integer(number),
                MaybeOwned::Borrowed(options),
            )),
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
        for (name, _) in call.bad.of(&arena.settings) {
            self.bad_option(*name);
        }
        for (name, value) in call.variable.of(&arena.settings) {
            let Some(value) = self.option(*name, *value) else { continue };
            if options.set(arena.str(*name), value.into_text(self.input.context)).is_err() {
                self.bad_option(*name);
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
            declared: outer.declared.iter().cloned().collect(),
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
            Ok(Some(ResolvedValue::Fallback)) => return ResolvedValue::Fallback,
            Ok(operand) => operand,
            Err(kind) => {
                self.report(kind, fallback);
                return ResolvedValue::Fallback;
            }
        };
        let call = placeholder.call.and_then(|at| at.of(&arena.calls));
        let error = match (call, operand) {
            (None, Some(value)) => return value,
            (Some(Call::BuiltIn(call)), Some(operand)) => match self.built_in(call, operand) {
                Ok(value) => return value,
                Err(kind) => kind.into(),
            },
            (Some(Call::Custom { name, options }), operand) => match self.custom(*name, *options, operand) {
                Ok(value) => return value,
                Err(error) => error,
            },
            (_, None) => Kind::BadOperand.into(),
        };
        self.report(error, fallback);
        ResolvedValue::Fallback
    }

    /// A value of the message or of its arguments.
    fn operand(&self, operand: Operand) -> Result<Option<ResolvedValue<'a>>, Kind> {
        let arena = self.input.arena;
        Ok(Some(match operand {
            Operand::Nothing => return Ok(None),
            Operand::Literal(slice) => ResolvedValue::Text(Cow::Borrowed(arena.str(slice))),
            Operand::Declared(at) => self.declared(at).value.clone(),
            Operand::Argument(slice) => {
                let value = self.input.args.get(arena.str(slice)).ok_or(Kind::UnresolvedVariable)?;
                ResolvedValue::of(value, self.input.context)
            }
        }))
    }

    /// The value of an option; none, with the reasons reported, where it has none.
    fn option(&mut self, name: Slice, operand: Operand) -> Option<ResolvedValue<'a>> {
        let value = self.option_value(operand);
        if value.is_none() {
            self.bad_option(name);
        }
        value
    }

    /// The value of an option; none where it has none. A variable that is not there is reported.
    fn option_value(&mut self, operand: Operand) -> Option<ResolvedValue<'a>> {
        match self.operand(operand) {
            Ok(value) => value.filter(|value| !matches!(value, ResolvedValue::Fallback)),
            Err(kind) => {
                if let Operand::Argument(name) = operand {
                    self.report(kind, &format!("{{${}}}", self.input.arena.str(name)));
                }
                None
            }
        }
    }

    /// Applies a built-in function.
    fn built_in(
        &mut self,
        call: &'a BuiltInCall,
        operand: ResolvedValue<'a>,
    ) -> Result<ResolvedValue<'a>, Kind> {
        let Input { arena, context, .. } = self.input;
        let Some(runtime) = &call.runtime else {
            return call.function.resolve(definition::Call { operand, value: None, context });
        };
        for (name, _) in runtime.bad.of(&arena.settings) {
            self.bad_option(*name);
        }
        let mut function = Cow::Borrowed(&call.function);
        for (name, given) in runtime.variable.of(&arena.settings) {
            let Some(given) = self.option(*name, *given) else { continue };
            if BuiltIn::set(function.to_mut(), arena.str(*name), &given.into_text(context)).is_err() {
                self.bad_option(*name);
            }
        }
        let value = runtime.value.and_then(|operand| self.option_value(operand));
        let call = definition::Call { operand, value, context };
        match function {
            Cow::Borrowed(function) => function.resolve(call),
            Cow::Owned(function) => function.resolve_owned(call),
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
        let function = context.functions.as_deref().and_then(|functions| functions.get(arena.str(name)));
        let function = function.ok_or(Kind::UnknownFunction)?;
        let settings = options.of(&arena.settings);
        let mut options = Vec::with_capacity(settings.len());
        for (name, value) in settings {
            if let Some(value) = self.option(*name, *value) {
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
        };
        for (option, value) in settings {
            let Some(value) = self.option(*option, *value) else { continue };
            let value = value.into_text(context);
            match arena.str(*option) {
                "u:id" => shown.id = Some(value),
                // Neither a direction nor a locale is of use to markup.
                other if other.starts_with(unicode::NAMESPACE) => self.bad_option(*option),
                other if !is_allowed(name, handled, other, &value) => self.bad_option(*option),
                other => {
                    let links = context.links.as_ref().filter(|_| !handled);
                    shown.options.push((other, linked(name, other, value, links)));
                }
            }
        }
        shown
    }
}

/// The integer that a placeholder gives to a number function with nothing left to resolve, and its options.
#[inline]
pub(super) fn integer_argument<'a>(
    input: Input<'a, '_>,
    placeholder: &Placeholder,
) -> Option<(i64, &'a NumberOptions)> {
    let (Operand::Argument(name), Some(call), None) =
        (placeholder.operand, placeholder.call, placeholder.unicode)
    else {
        return None;
    };
    let Call::BuiltIn(call) = call.of(&input.arena.calls)? else { return None };
    let options = call.plain_number()?;
    match input.args.get(input.arena.str(name))? {
        Value::Integer(number) => Some((*number, options)),
        _ => None,
    }
}
