//! What placeholders resolve to (UTS #35 part 9, "ResolvedValue Values" and "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::format;
use alloc::string::{String, ToString};
use core::ops::Deref;

use smallvec::SmallVec;

use super::context::FormatContext;
use super::format_error::{FormatError, FormatErrorKind as Kind};
use super::function::custom::FunctionValue;
use super::function::date::{DateKind, DateOptions};
use super::function::number::{NumberKind, NumberOptions};
use super::function::unicode::UnicodeOptions;
use super::program::{Arena, Call, Operand, Placeholder, Slice};
use crate::datetime::DateValue;
use crate::html::Html;
use crate::number::{Category, Decimal, RoundingMode};
use crate::value::{Args, Value};

/// A resolved value.
#[derive(Clone, Debug)]
pub(super) enum ResolvedValue<'a> {
    /// A text, of unknown direction.
    Text(Cow<'a, str>),
    /// A number, and the options it has come by.
    Number(NumericValue<'a>, MaybeOwned<'a, NumberOptions>),
    /// A date, the function that formats it, and the options it has come by.
    Date(MaybeOwned<'a, DateValue>, Option<DateKind>, MaybeOwned<'a, DateOptions>),
    List(&'a [Value<'a>]),
    Html(&'a Html),
    /// What is formatted already, and what it selects by beside its own keys.
    Formatted(Box<FunctionValue>, Option<Selection>),
    /// Nothing: an error is reported, and the placeholder shows its fallback.
    Fallback,
}

/// What keys are compared with.
#[derive(Clone, Debug)]
pub(super) enum Selection {
    /// A text.
    Text(String),
    /// A number, and its category where it selects by one.
    Number(Box<Decimal>, Option<Category>),
    /// Only a category: of a range.
    Category(Category),
}

/// What a placeholder resolves to: a value, and the `u:` options that belong to it.
#[derive(Clone, Debug)]
pub(super) struct Resolved<'a> {
    pub(super) value: ResolvedValue<'a>,
    pub(super) unicode: UnicodeOptions<'a>,
}

impl<'a> Resolved<'a> {
    const fn plain(value: ResolvedValue<'a>) -> Self {
        Self { value, unicode: UnicodeOptions::DEFAULT }
    }
}

/// What a declaration that is not there stands for.
static NOT_DECLARED: Resolved<'static> = Resolved::plain(ResolvedValue::Fallback);

/// The digits of a number: most are whole and small, and need no more than a register.
#[derive(Clone, Debug)]
pub(super) enum NumericValue<'a> {
    Integer(i64),
    Borrowed(&'a Decimal),
    Owned(Box<Decimal>),
}

impl NumericValue<'_> {
    pub(super) fn to_decimal(&self) -> Cow<'_, Decimal> {
        match self {
            Self::Integer(number) => Cow::Owned(Decimal::from(*number)),
            Self::Borrowed(number) => Cow::Borrowed(number),
            Self::Owned(number) => Cow::Borrowed(number),
        }
    }

    /// The nearest integer, which `:integer` resolves to. A minus before zero stays.
    pub(super) fn into_integer(self, rounding: RoundingMode) -> Self {
        let mut number = match self {
            Self::Integer(number) => return Self::Integer(number),
            Self::Borrowed(number) => number.clone(),
            Self::Owned(number) => *number,
        };
        number.round_fraction(0, rounding);
        match number.to_i64() {
            Some(whole) if whole != 0 || !number.is_negative() => Self::Integer(whole),
            _ => Self::Owned(Box::new(number)),
        }
    }

    pub(super) fn parse(text: &str) -> Option<Self> {
        let plain = text.strip_prefix('-').unwrap_or(text);
        // Seventeen digits fit; a zero before others, and a minus before zero, are left to the general road.
        if (1..=17).contains(&plain.len())
            && plain.bytes().all(|byte| byte.is_ascii_digit())
            && !plain.starts_with('0')
        {
            return text.parse().ok().map(Self::Integer);
        }
        Decimal::parse(text).ok().map(|number| Self::Owned(Box::new(number)))
    }
}

/// What belongs to the message or its arguments, or was made.
#[derive(Clone, Debug)]
pub(super) enum MaybeOwned<'a, T> {
    Borrowed(&'a T),
    Owned(Box<T>),
}

impl<T> Deref for MaybeOwned<'_, T> {
    type Target = T;

    fn deref(&self) -> &T {
        match self {
            Self::Borrowed(value) => value,
            Self::Owned(value) => value,
        }
    }
}

/// One formatting of a message.
pub(super) struct Frame<'a, 'v, 'e> {
    pub(super) arena: &'a Arena,
    pub(super) context: &'a FormatContext,
    pub(super) args: &'a Args<'v>,
    declarations: &'a [Placeholder],
    declared: SmallVec<[Resolved<'a>; 2]>,
    pub(super) report: &'e mut dyn FnMut(FormatError),
}

impl<'a, 'v, 'e> Frame<'a, 'v, 'e> {
    /// Resolves the declarations, each of which only refers to earlier ones.
    #[inline]
    pub(super) fn new(
        arena: &'a Arena,
        declarations: &'a [Placeholder],
        context: &'a FormatContext,
        args: &'a Args<'v>,
        report: &'e mut dyn FnMut(FormatError),
    ) -> Self {
        let mut frame = Self { arena, context, args, declarations, declared: SmallVec::new(), report };
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

    pub(super) fn report(&mut self, kind: Kind, subject: &str) {
        (self.report)(FormatError::new(kind, subject));
    }

    pub(super) fn bad_option(&mut self, name: Slice) {
        self.report(Kind::BadOption, self.arena.str(name));
    }

    /// A declared value cannot be selected by.
    pub(super) fn bad_selector(&mut self, at: u32) {
        let placeholder = self.declarations.get(at as usize);
        self.report(
            Kind::BadSelector,
            placeholder.map_or("", |placeholder| self.arena.str(placeholder.fallback)),
        );
    }

    #[inline]
    pub(super) fn resolve(&mut self, placeholder: &'a Placeholder) -> Resolved<'a> {
        // What nearly every plural selects by.
        match integer_argument(self.arena, placeholder, self.args) {
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
        let Some(call) = placeholder.unicode.and_then(|at| at.of(&self.arena.unicode)) else {
            return Resolved::plain(self.resolve_here(placeholder));
        };
        let mut unicode = call.options.borrowed();
        for (name, _) in call.bad.of(&self.arena.settings) {
            self.bad_option(*name);
        }
        for (name, value) in call.variable.of(&self.arena.settings) {
            let Some(value) = self.option(*name, *value) else { continue };
            if unicode.set(self.arena.str(*name), value.into_text(self.context)).is_err() {
                self.bad_option(*name);
            }
        }
        let value = match unicode.locale.take() {
            None => self.resolve_here(placeholder),
            Some(tag) => {
                // The placeholder is formatted at once, as that locale does.
                let context = self.context.in_locale(&tag);
                Frame::over(self, &context).resolve_frozen(placeholder)
            }
        };
        // What stands for a value that cannot be formatted has no options of it.
        if matches!(value, ResolvedValue::Fallback) {
            return Resolved::plain(value);
        }
        Resolved { value, unicode }
    }

    /// The same frame in another locale.
    fn over<'b>(outer: &'b mut Frame<'a, 'v, '_>, context: &'b FormatContext) -> Frame<'b, 'v, 'b>
    where
        'a: 'b,
    {
        Frame {
            arena: outer.arena,
            context,
            args: outer.args,
            declarations: outer.declarations,
            declared: outer.declared.iter().cloned().collect(),
            report: outer.report,
        }
    }

    fn resolve_frozen(mut self, placeholder: &'a Placeholder) -> ResolvedValue<'static> {
        match self.resolve_here(placeholder) {
            ResolvedValue::Fallback => ResolvedValue::Fallback,
            resolved => self.context.formatted(&resolved),
        }
    }

    fn resolve_here(&mut self, placeholder: &'a Placeholder) -> ResolvedValue<'a> {
        let fallback = self.arena.str(placeholder.fallback);
        let operand = match self.operand(placeholder.operand) {
            // Where the operand has failed already, the function is skipped.
            Ok(Some(ResolvedValue::Fallback)) => return ResolvedValue::Fallback,
            Ok(operand) => operand,
            Err(kind) => {
                self.report(kind, fallback);
                return ResolvedValue::Fallback;
            }
        };
        let call = placeholder.call.and_then(|at| at.of(&self.arena.calls));
        let resolved = match (call, operand) {
            (Some(Call::Custom { name, options }), operand) => self.custom(*name, *options, operand),
            (Some(Call::BuiltIn(call)), Some(value)) => self.built_in(call, value),
            (None, Some(value)) => Ok(value),
            (_, None) => Err(Kind::BadOperand),
        };
        resolved.unwrap_or_else(|kind| {
            self.report(kind, fallback);
            ResolvedValue::Fallback
        })
    }

    /// The value of an option; none, with the reasons reported, where it has none.
    pub(super) fn option(&mut self, name: Slice, source: Operand) -> Option<ResolvedValue<'a>> {
        match self.operand(source) {
            Ok(Some(value)) if !matches!(value, ResolvedValue::Fallback) => return Some(value),
            Err(kind) => self.unresolved(kind, source),
            Ok(_) => {}
        }
        self.bad_option(name);
        None
    }

    /// Reports an operand that is not there.
    pub(super) fn unresolved(&mut self, kind: Kind, source: Operand) {
        if let Operand::Argument(name) = source {
            self.report(kind, &format!("{{${}}}", self.arena.str(name)));
        }
    }

    /// A value of the message or of its arguments.
    pub(super) fn operand(&self, source: Operand) -> Result<Option<ResolvedValue<'a>>, Kind> {
        Ok(Some(match source {
            Operand::Nothing => return Ok(None),
            Operand::Literal(run) => ResolvedValue::Text(Cow::Borrowed(self.arena.str(run))),
            Operand::Declared(at) => self.declared(at).value.clone(),
            Operand::Argument(run) => {
                let value = self.args.get(self.arena.str(run)).ok_or(Kind::UnresolvedVariable)?;
                ResolvedValue::of(value, self.context)
            }
        }))
    }
}

/// The whole number that a placeholder gives to a number function with nothing left to resolve, and its options.
#[inline]
pub(super) fn integer_argument<'a>(
    arena: &'a Arena,
    placeholder: &Placeholder,
    args: &Args<'_>,
) -> Option<(i64, &'a NumberOptions)> {
    let (Operand::Argument(name), Some(call), None) =
        (placeholder.operand, placeholder.call, placeholder.unicode)
    else {
        return None;
    };
    let Call::BuiltIn(call) = call.of(&arena.calls)? else { return None };
    let options = call.plain_number()?;
    match args.get(arena.str(name))? {
        Value::Integer(number) => Some((*number, options)),
        _ => None,
    }
}

/// The options of a number that no function was asked for.
pub(super) static PLAIN: NumberOptions = NumberOptions::DEFAULT;

/// Those of a date.
pub(super) static NO_DATE_OPTIONS: DateOptions = DateOptions::DEFAULT;

impl<'a> ResolvedValue<'a> {
    /// What an argument is before any function.
    #[inline]
    pub(super) fn of(value: &'a Value<'a>, context: &FormatContext) -> Self {
        match value {
            Value::Text(text) => Self::Text(Cow::Borrowed(text)),
            Value::Integer(number) => {
                Self::Number(NumericValue::Integer(*number), MaybeOwned::Borrowed(&PLAIN))
            }
            Value::Number(number) => {
                Self::Number(NumericValue::Borrowed(number), MaybeOwned::Borrowed(&PLAIN))
            }
            Value::Money(money) => {
                let mut options = NumberOptions::of(NumberKind::Currency);
                options.currency = Some(money.currency);
                Self::Number(NumericValue::Borrowed(&money.amount), MaybeOwned::Owned(Box::new(options)))
            }
            Value::Date(date) => {
                Self::Date(MaybeOwned::Borrowed(date), None, MaybeOwned::Borrowed(&NO_DATE_OPTIONS))
            }
            Value::List(values) => Self::List(values),
            Value::Html(html) => Self::Html(html),
            Value::Custom(value) => Self::Formatted(Box::new(value.format(context)), None),
        }
    }

    /// The text of a value: of a number, as JSON writes it.
    pub(super) fn into_text(self, context: &FormatContext) -> Cow<'a, str> {
        match self {
            Self::Text(text) => text,
            Self::Number(figure, _) => Cow::Owned(figure.to_decimal().to_string()),
            Self::Formatted(value, _) => Cow::Owned(value.text),
            Self::Html(html) => Cow::Owned(html.to_text()),
            Self::Date(..) | Self::List(_) => Cow::Owned(context.text_of(&self)),
            Self::Fallback => Cow::Borrowed(""),
        }
    }
}
