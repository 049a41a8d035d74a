//! What places resolve to (UTS #35 part 9, "Resolved Values" and "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::string::ToString;
use core::ops::Deref;

use smallvec::SmallVec;

use super::format_error::{FormatError, FormatErrorKind as Kind};
use super::function::custom::FunctionValue;
use super::function::date::{DateKind, DateOptions};
use super::function::number::{NumberKind, NumberOptions};
use super::program::{Arena, Call, Place, Run, Source};
use super::speech::Speech;
use crate::datetime::DateValue;
use crate::html::Html;
use crate::number::{Category, Decimal};
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
    /// What a function has formatted already, and the plural category it selects by.
    Formatted(Box<FunctionValue>, Option<Category>),
    /// Nothing: an error is reported, and the place shows its fallback.
    Fallback,
}

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
    pub(super) speech: &'a Speech,
    pub(super) args: &'a Args<'v>,
    declarations: &'a [Place],
    declared: SmallVec<[Resolved<'a>; 2]>,
    pub(super) report: &'e mut dyn FnMut(FormatError),
}

impl<'a, 'v, 'e> Frame<'a, 'v, 'e> {
    /// Resolves the declarations, each of which only refers to earlier ones.
    #[inline]
    pub(super) fn new(
        arena: &'a Arena,
        declarations: &'a [Place],
        speech: &'a Speech,
        args: &'a Args<'v>,
        report: &'e mut dyn FnMut(FormatError),
    ) -> Self {
        let mut frame = Self { arena, speech, args, declarations, declared: SmallVec::new(), report };
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

    pub(super) fn declared(&self, at: u32) -> &Resolved<'a> {
        self.declared.get(at as usize).unwrap_or(&Resolved::Fallback)
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
    pub(super) fn resolve(&mut self, place: &'a Place) -> Resolved<'a> {
        // What nearly every plural selects by.
        match whole_number(self.arena, place, self.args) {
            Some((number, options)) => Resolved::Number(Figure::Whole(number), Held::Given(options)),
            None => self.resolve_any(place),
        }
    }

    fn resolve_any(&mut self, place: &'a Place) -> Resolved<'a> {
        let marks = place.marks.and_then(|at| at.of(&self.arena.marks));
        let Some(tag) = marks.and_then(|marks| marks.locale.as_deref()) else {
            return self.resolve_here(place);
        };
        // `u:locale`: the place is formatted at once, as that locale does.
        let speech = self.speech.in_locale(tag);
        Frame::over(self, &speech).resolve_frozen(place)
    }

    /// The same frame in another locale.
    fn over<'b>(outer: &'b mut Frame<'a, 'v, '_>, speech: &'b Speech) -> Frame<'b, 'v, 'b>
    where
        'a: 'b,
    {
        Frame {
            arena: outer.arena,
            speech,
            args: outer.args,
            declarations: outer.declarations,
            declared: outer.declared.iter().cloned().collect(),
            report: outer.report,
        }
    }

    fn resolve_frozen(mut self, place: &'a Place) -> Resolved<'static> {
        match self.resolve_here(place) {
            Resolved::Fallback => Resolved::Fallback,
            resolved => self.speech.formatted(&resolved),
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

    /// A value of the message or of its arguments.
    pub(super) fn operand(&self, source: Source) -> Result<Option<Resolved<'a>>, Kind> {
        Ok(Some(match source {
            Source::Nothing => return Ok(None),
            Source::Literal(run) => Resolved::Text(Cow::Borrowed(self.arena.str(run))),
            Source::Declared(at) => self.declared(at).clone(),
            Source::Argument(run) => {
                let value = self.args.get(self.arena.str(run)).ok_or(Kind::UnresolvedVariable)?;
                Resolved::of(value, self.speech)
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
    let (Source::Argument(name), Some(call), None) = (place.operand, place.call, place.marks) else {
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
    pub(super) fn of(value: &'a Value<'a>, speech: &Speech) -> Self {
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
            Value::Custom(value) => Self::Formatted(Box::new(value.format(speech)), None),
        }
    }

    /// The text of a value: of a number, as JSON writes it.
    pub(super) fn into_text(self, speech: &Speech) -> Cow<'a, str> {
        match self {
            Self::Text(text) => text,
            Self::Number(figure, _) => Cow::Owned(figure.to_decimal().to_string()),
            Self::Formatted(value, _) => Cow::Owned(value.text),
            Self::Html(html) => Cow::Owned(html.to_text()),
            Self::Date(..) | Self::List(_) => Cow::Owned(speech.text_of(&self)),
            Self::Fallback => Cow::Borrowed(""),
        }
    }
}
