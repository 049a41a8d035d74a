//! What places resolve to (UTS #35 part 9, "Resolved Values" and "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::format;
use alloc::string::{String, ToString};
use core::ops::Deref;

use smallvec::SmallVec;

use super::format_error::{FormatError, FormatErrorKind as Kind};
use super::function::custom::FunctionValue;
use super::function::date::{DateKind, DateOptions};
use super::function::number::{NumberKind, NumberOptions};
use super::function::unicode::UnicodeOptions;
use super::program::{Arena, Call, Place, Run, Source};
use super::context::FormatContext;
use crate::datetime::DateValue;
use crate::html::Html;
use crate::number::{Category, Decimal, RoundingMode};
use crate::value::{Args, Value};

/// A resolved value.
#[derive(Clone, Debug)]
pub(super) enum Resolved<'a> {
    /// A text, of unknown direction.
    Text(Cow<'a, str>),
    /// A number, and the options it has come by.
    Number(Figure<'a>, Held<'a, NumberOptions>),
    /// A date, the function that formats it, and the options it has come by.
    Date(Held<'a, DateValue>, Option<DateKind>, Held<'a, DateOptions>),
    List(&'a [Value<'a>]),
    Html(&'a Html),
    /// What is formatted already, and what it selects by beside its own keys.
    Formatted(Box<FunctionValue>, Option<Selection>),
    /// Nothing: an error is reported, and the place shows its fallback.
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

/// What a place resolves to: a value, and the `u:` options that belong to it.
#[derive(Clone, Debug)]
pub(super) struct ResolvedPlace<'a> {
    pub(super) value: Resolved<'a>,
    pub(super) unicode: UnicodeOptions<'a>,
}

impl<'a> ResolvedPlace<'a> {
    const fn plain(value: Resolved<'a>) -> Self {
        Self { value, unicode: UnicodeOptions::DEFAULT }
    }
}

/// What a declaration that is not there stands for.
static NOT_DECLARED: ResolvedPlace<'static> = ResolvedPlace::plain(Resolved::Fallback);

/// The digits of a number: most are whole and small, and need no more than a register.
#[derive(Clone, Debug)]
pub(super) enum Figure<'a> {
    Whole(i64),
    Given(&'a Decimal),
    Own(Box<Decimal>),
}

impl Figure<'_> {
    pub(super) fn to_decimal(&self) -> Cow<'_, Decimal> {
        match self {
            Self::Whole(number) => Cow::Owned(Decimal::from(*number)),
            Self::Given(number) => Cow::Borrowed(number),
            Self::Own(number) => Cow::Borrowed(number),
        }
    }

    /// The nearest integer, which `:integer` resolves to. A minus before zero stays.
    pub(super) fn into_integer(self, rounding: RoundingMode) -> Self {
        let mut number = match self {
            Self::Whole(number) => return Self::Whole(number),
            Self::Given(number) => number.clone(),
            Self::Own(number) => *number,
        };
        number.round_fraction(0, rounding);
        match number.to_i64() {
            Some(whole) if whole != 0 || !number.is_negative() => Self::Whole(whole),
            _ => Self::Own(Box::new(number)),
        }
    }

    pub(super) fn parse(text: &str) -> Option<Self> {
        let plain = text.strip_prefix('-').unwrap_or(text);
        // Seventeen digits fit; a zero before others, and a minus before zero, are left to the general road.
        if (1..=17).contains(&plain.len())
            && plain.bytes().all(|byte| byte.is_ascii_digit())
            && !plain.starts_with('0')
        {
            return text.parse().ok().map(Self::Whole);
        }
        Decimal::parse(text).ok().map(|number| Self::Own(Box::new(number)))
    }
}

/// What belongs to the message or its arguments, or was made.
#[derive(Clone, Debug)]
pub(super) enum Held<'a, T> {
    Given(&'a T),
    Own(Box<T>),
}

impl<T> Deref for Held<'_, T> {
    type Target = T;

    fn deref(&self) -> &T {
        match self {
            Self::Given(value) => value,
            Self::Own(value) => value,
        }
    }
}

/// One formatting of a message.
pub(super) struct Frame<'a, 'v, 'e> {
    pub(super) arena: &'a Arena,
    pub(super) context: &'a FormatContext,
    pub(super) args: &'a Args<'v>,
    declarations: &'a [Place],
    declared: SmallVec<[ResolvedPlace<'a>; 2]>,
    pub(super) report: &'e mut dyn FnMut(FormatError),
}

impl<'a, 'v, 'e> Frame<'a, 'v, 'e> {
    /// Resolves the declarations, each of which only refers to earlier ones.
    #[inline]
    pub(super) fn new(
        arena: &'a Arena,
        declarations: &'a [Place],
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
        for place in self.declarations {
            let value = self.resolve(place);
            self.declared.push(value);
        }
    }

    pub(super) fn declared(&self, at: u32) -> &ResolvedPlace<'a> {
        self.declared.get(at as usize).unwrap_or(&NOT_DECLARED)
    }

    pub(super) fn report(&mut self, kind: Kind, subject: &str) {
        (self.report)(FormatError::new(kind, subject));
    }

    pub(super) fn bad_option(&mut self, name: Run) {
        self.report(Kind::BadOption, self.arena.str(name));
    }

    /// A declared value cannot be selected by.
    pub(super) fn bad_selector(&mut self, at: u32) {
        let place = self.declarations.get(at as usize);
        self.report(Kind::BadSelector, place.map_or("", |place| self.arena.str(place.fallback)));
    }

    #[inline]
    pub(super) fn resolve(&mut self, place: &'a Place) -> ResolvedPlace<'a> {
        // What nearly every plural selects by.
        match whole_number(self.arena, place, self.args) {
            Some((number, options)) => {
                ResolvedPlace::plain(Resolved::Number(Figure::Whole(number), Held::Given(options)))
            }
            None => self.resolve_any(place),
        }
    }

    fn resolve_any(&mut self, place: &'a Place) -> ResolvedPlace<'a> {
        if let (Source::Declared(at), None) = (place.operand, place.call) {
            return self.declared(at).clone();
        }
        let Some(call) = place.unicode.and_then(|at| at.of(&self.arena.unicode)) else {
            return ResolvedPlace::plain(self.resolve_here(place));
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
            None => self.resolve_here(place),
            Some(tag) => {
                // The place is formatted at once, as that locale does.
                let context = self.context.in_locale(&tag);
                Frame::over(self, &context).resolve_frozen(place)
            }
        };
        // What stands for a value that cannot be formatted has no options of it.
        if matches!(value, Resolved::Fallback) {
            return ResolvedPlace::plain(value);
        }
        ResolvedPlace { value, unicode }
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

    fn resolve_frozen(mut self, place: &'a Place) -> Resolved<'static> {
        match self.resolve_here(place) {
            Resolved::Fallback => Resolved::Fallback,
            resolved => self.context.formatted(&resolved),
        }
    }

    fn resolve_here(&mut self, place: &'a Place) -> Resolved<'a> {
        let fallback = self.arena.str(place.fallback);
        let operand = match self.operand(place.operand) {
            // Where the operand has failed already, the function is skipped.
            Ok(Some(Resolved::Fallback)) => return Resolved::Fallback,
            Ok(operand) => operand,
            Err(kind) => {
                self.report(kind, fallback);
                return Resolved::Fallback;
            }
        };
        let call = place.call.and_then(|at| at.of(&self.arena.calls));
        let resolved = match (call, operand) {
            (Some(Call::Custom { name, options }), operand) => self.custom(*name, *options, operand),
            (Some(Call::BuiltIn(call)), Some(value)) => self.built_in(call, value),
            (None, Some(value)) => Ok(value),
            (_, None) => Err(Kind::BadOperand),
        };
        resolved.unwrap_or_else(|kind| {
            self.report(kind, fallback);
            Resolved::Fallback
        })
    }

    /// The value of an option; none, with the reasons reported, where it has none.
    pub(super) fn option(&mut self, name: Run, source: Source) -> Option<Resolved<'a>> {
        match self.operand(source) {
            Ok(Some(value)) if !matches!(value, Resolved::Fallback) => return Some(value),
            Err(kind) => self.unresolved(kind, source),
            Ok(_) => {}
        }
        self.bad_option(name);
        None
    }

    /// Reports an operand that is not there.
    pub(super) fn unresolved(&mut self, kind: Kind, source: Source) {
        if let Source::Argument(name) = source {
            self.report(kind, &format!("{{${}}}", self.arena.str(name)));
        }
    }

    /// A value of the message or of its arguments.
    pub(super) fn operand(&self, source: Source) -> Result<Option<Resolved<'a>>, Kind> {
        Ok(Some(match source {
            Source::Nothing => return Ok(None),
            Source::Literal(run) => Resolved::Text(Cow::Borrowed(self.arena.str(run))),
            Source::Declared(at) => self.declared(at).value.clone(),
            Source::Argument(run) => {
                let value = self.args.get(self.arena.str(run)).ok_or(Kind::UnresolvedVariable)?;
                Resolved::of(value, self.context)
            }
        }))
    }
}

/// The whole number that a place gives to a number function with nothing left to resolve, and its options.
#[inline]
pub(super) fn whole_number<'a>(
    arena: &'a Arena,
    place: &Place,
    args: &Args<'_>,
) -> Option<(i64, &'a NumberOptions)> {
    let (Source::Argument(name), Some(call), None) = (place.operand, place.call, place.unicode) else {
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

impl<'a> Resolved<'a> {
    /// What an argument is before any function.
    #[inline]
    pub(super) fn of(value: &'a Value<'a>, context: &FormatContext) -> Self {
        match value {
            Value::Text(text) => Self::Text(Cow::Borrowed(text)),
            Value::Integer(number) => Self::Number(Figure::Whole(*number), Held::Given(&PLAIN)),
            Value::Number(number) => Self::Number(Figure::Given(number), Held::Given(&PLAIN)),
            Value::Money(money) => {
                let mut options = NumberOptions::of(NumberKind::Currency);
                options.currency = Some(money.currency);
                Self::Number(Figure::Given(&money.amount), Held::Own(Box::new(options)))
            }
            Value::Date(date) => Self::Date(Held::Given(date), None, Held::Given(&NO_DATE_OPTIONS)),
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
