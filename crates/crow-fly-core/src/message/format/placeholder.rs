//! Placeholders as they are shown, and what takes the pieces of a message.

use alloc::borrow::Cow;
use core::fmt::{self, Write};

use super::context::{FormatContext, Isolation};
use super::markup::MarkupTag;
use crate::direction::Direction;
use crate::message::format_error::FormatError;
use crate::message::function::numeric::{NumberOptions, NumericValue};
use crate::message::function::resolved::ResolvedValue;
use crate::message::function::unicode::{AskedDirection, UnicodeOptions};
use crate::message::maybe_owned::MaybeOwned;

/// A placeholder with its value.
pub(super) struct ResolvedPlaceholder<'p> {
    pub(super) value: &'p ResolvedValue<'p>,
    /// What stands for it where it cannot be formatted: the variable, the literal or the function.
    pub(super) fallback: &'p str,
    /// The `u:` options that belong to the value.
    pub(super) unicode: &'p UnicodeOptions<'p>,
}

impl<'p> ResolvedPlaceholder<'p> {
    /// A value with nothing said about it.
    pub(super) const fn plain(value: &'p ResolvedValue<'p>, fallback: &'p str) -> Self {
        Self { value, fallback, unicode: &UnicodeOptions::DEFAULT }
    }

    /// The direction of what is shown, where it is known.
    pub(super) fn direction(&self, context: &FormatContext) -> Option<Direction> {
        match self.unicode.direction {
            AskedDirection::Known(direction) => Some(direction),
            AskedDirection::Auto => None,
            AskedDirection::Inherit => self.value.direction(context),
        }
    }

    /// Whether it is set apart: unless it, and the message, are known to run from left to right.
    pub(super) fn is_isolated(&self, context: &FormatContext) -> bool {
        let both_left = self.direction(context) == Some(Direction::LeftToRight)
            && context.direction == Direction::LeftToRight;
        let asked = self.unicode.direction != AskedDirection::Inherit;
        context.isolation == Isolation::Default && (asked || !both_left)
    }

    /// Writes what is shown, without isolation.
    #[inline]
    pub(super) fn write(&self, context: &FormatContext, to: &mut impl Write) -> fmt::Result {
        match self.value {
            ResolvedValue::Fallback => to.write_str(self.fallback),
            value => value.write(context, to),
        }
    }
}

/// What takes the pieces of a message, in order.
pub(super) trait Sink {
    fn text(&mut self, text: &str) -> fmt::Result;

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result;

    /// Takes a text that was given as an argument: what placeholders mostly are.
    #[inline]
    fn text_value<'s>(&mut self, text: &str, fallback: impl FnOnce() -> &'s str) -> fmt::Result {
        self.placeholder(&ResolvedPlaceholder::plain(&ResolvedValue::Text(Cow::Borrowed(text)), fallback()))
    }

    /// Takes a whole number that shows as its own digits.
    #[inline]
    fn integer(&mut self, number: i64, options: &NumberOptions, fallback: &str) -> fmt::Result {
        let number = ResolvedValue::Number(NumericValue::Integer(number), MaybeOwned::Borrowed(options));
        self.placeholder(&ResolvedPlaceholder::plain(&number, fallback))
    }

    /// Takes markup; what cannot be shown as asked goes to `bad`, and its content is shown.
    fn markup(&mut self, tag: &MarkupTag<'_>, bad: &mut dyn FnMut(FormatError)) -> fmt::Result;

    /// Whether options of markup are of use.
    fn wants_markup(&self) -> bool;

    /// Ends; what is still open goes to `bad`.
    fn finish(&mut self, bad: &mut dyn FnMut(FormatError)) -> fmt::Result;
}

/// The marks around an isolated stretch.
pub(super) const fn isolates(direction: Option<Direction>) -> (&'static str, &'static str) {
    match direction {
        None => ("\u{2068}", "\u{2069}"),
        Some(Direction::LeftToRight) => ("\u{2066}", "\u{2069}"),
        Some(Direction::RightToLeft) => ("\u{2067}", "\u{2069}"),
    }
}
