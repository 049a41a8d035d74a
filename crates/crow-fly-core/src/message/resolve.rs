//! The values of a message's expressions (UTS #35 part 9, "Expression and Markup Resolution").

use alloc::borrow::Cow;
use alloc::string::ToString;

use smallvec::SmallVec;

use super::compile::{Call, NumberCall, Place, Program, Run, Source};
use super::format_error::{FormatError, FormatErrorKind as Kind};
use super::number_function::NumberOptions;
use super::speech::Speech;
use crate::number::Decimal;
use crate::value::{Args, Value};

/// A resolved value.
#[derive(Clone, Debug)]
pub(super) enum Resolved<'a> {
    /// A text, of unknown direction.
    Text(Cow<'a, str>),
    /// A number, and the options it has come by.
    Number(Decimal, NumberOptions),
    /// Nothing: an error is reported, and the place shows its fallback.
    Fallback,
}

/// One formatting of a message.
pub(super) struct Frame<'a, 'v, 'e> {
    pub(super) program: &'a Program,
    pub(super) speech: &'a Speech,
    args: &'a Args<'v>,
    declared: SmallVec<[Resolved<'a>; 2]>,
    report: &'e mut dyn FnMut(FormatError),
}

impl<'a, 'v, 'e> Frame<'a, 'v, 'e> {
    /// Resolves the declarations, each of which only refers to earlier ones.
    pub(super) fn new(
        program: &'a Program,
        speech: &'a Speech,
        args: &'a Args<'v>,
        report: &'e mut dyn FnMut(FormatError),
    ) -> Self {
        let mut frame = Self { program, speech, args, declared: SmallVec::new(), report };
        for place in &program.declared {
            let value = match program.places.get(*place as usize) {
                Some(place) => frame.resolve(place),
                None => Resolved::Fallback,
            };
            frame.declared.push(value);
        }
        frame
    }

    pub(super) fn declared(&self, at: u32) -> &Resolved<'a> {
        self.declared.get(at as usize).unwrap_or(&Resolved::Fallback)
    }

    pub(super) fn report(&mut self, kind: Kind, subject: &str) {
        (self.report)(FormatError::new(kind, subject));
    }

    pub(super) fn resolve(&mut self, place: &'a Place) -> Resolved<'a> {
        let fallback = self.program.str(place.fallback);
        let operand = match self.operand(place.operand) {
            // Where the operand has failed already, the function is skipped.
            Ok(Some(Resolved::Fallback)) => return Resolved::Fallback,
            Ok(operand) => operand,
            Err(kind) => {
                self.report(kind, fallback);
                return Resolved::Fallback;
            }
        };
        let resolved = match (&place.call, operand) {
            (Call::Unknown, _) => Err(Kind::UnknownFunction),
            (Call::Plain, Some(value)) => Ok(value),
            (Call::Text, Some(value)) => Ok(Resolved::Text(Self::as_text(value))),
            (Call::Number(call), Some(value)) => self.number(call, value),
            (_, None) => Err(Kind::BadOperand),
        };
        resolved.unwrap_or_else(|kind| {
            self.report(kind, fallback);
            Resolved::Fallback
        })
    }

    fn operand(&self, source: Source) -> Result<Option<Resolved<'a>>, Kind> {
        Ok(Some(match source {
            Source::Nothing => return Ok(None),
            Source::Literal(run) => Resolved::Text(Cow::Borrowed(self.program.str(run))),
            Source::Declared(at) => self.declared(at).clone(),
            Source::Argument(run) => match self.args.get(self.program.str(run)) {
                Some(Value::Text(text)) => Resolved::Text(Cow::Borrowed(text)),
                Some(Value::Integer(number)) => {
                    Resolved::Number(Decimal::from(*number), NumberOptions::default())
                }
                Some(Value::Number(number)) => Resolved::Number((**number).clone(), NumberOptions::default()),
                None => return Err(Kind::UnresolvedVariable),
            },
        }))
    }

    /// The text of a value: of a number, as JSON writes it.
    fn as_text(value: Resolved<'a>) -> Cow<'a, str> {
        match value {
            Resolved::Text(text) => text,
            Resolved::Number(number, _) => Cow::Owned(number.to_string()),
            Resolved::Fallback => Cow::Borrowed(""),
        }
    }

    fn number(&mut self, call: &'a NumberCall, value: Resolved<'a>) -> Result<Resolved<'a>, Kind> {
        let (number, inherited) = match value {
            Resolved::Number(number, options) => (number, options),
            Resolved::Text(text) => {
                (Decimal::parse(&text).map_err(|_| Kind::BadOperand)?, NumberOptions::default())
            }
            Resolved::Fallback => return Ok(Resolved::Fallback),
        };
        for name in &call.bad {
            self.bad_option(*name);
        }
        let mut options = call.options;
        for (name, value) in &call.variable {
            let text = match self.operand(*value) {
                Ok(Some(value @ (Resolved::Text(_) | Resolved::Number(..)))) => Some(Self::as_text(value)),
                _ => None,
            };
            if text.is_none_or(|text| options.set(self.program.str(*name), &text).is_err()) {
                self.bad_option(*name);
            }
        }
        let inherited = if call.integer { inherited.of_integer() } else { inherited };
        let options = options.over(inherited);
        Ok(Resolved::Number(number, if call.integer { options.of_integer() } else { options }))
    }

    fn bad_option(&mut self, name: Run) {
        let name = self.program.str(name);
        self.report(Kind::BadOption, name);
    }
}
