//! Placeholders as they are shown, and what takes the pieces of a message.

use alloc::borrow::Cow;
use core::fmt::{self, Write};

use super::context::{FormatContext, Isolation};
use super::markup::MarkupTag;
use crate::direction::Direction;
use crate::html::Escaped;
use crate::message::format_error::FormatError;
use crate::message::function::numeric::{NumberOptions, NumericValue};
use crate::message::function::resolved::ResolvedValue;
use crate::message::function::resolved::{Joined, Piece};
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

    /// Writes what is shown as text, without isolation around it. The items of a list are isolated.
    #[inline]
    pub(super) fn write(&self, context: &FormatContext, to: &mut impl Write) -> fmt::Result {
        match self.value {
            ResolvedValue::Text(_) | ResolvedValue::Number(..) | ResolvedValue::Date(..) => {
                self.value.write(context, to)
            }
            _ => self.write_in(Notation::Text, context, to),
        }
    }

    /// The same in a notation.
    pub(super) fn write_in(
        &self,
        notation: Notation,
        context: &FormatContext,
        to: &mut dyn Write,
    ) -> fmt::Result {
        match self.value {
            ResolvedValue::Fallback if notation == Notation::Html => Escaped(to).write_str(self.fallback),
            ResolvedValue::Fallback => to.write_str(self.fallback),
            value => notation.write(value, self.direction(context), context, to),
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

/// How values are written, and what isolates them.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Notation {
    Text,
    Html,
}

impl Notation {
    /// The marks around an isolated stretch.
    pub(super) const fn isolates(self, direction: Option<Direction>) -> (&'static str, &'static str) {
        match (self, direction) {
            (Self::Text, None) => ("\u{2068}", "\u{2069}"),
            (Self::Text, Some(Direction::LeftToRight)) => ("\u{2066}", "\u{2069}"),
            (Self::Text, Some(Direction::RightToLeft)) => ("\u{2067}", "\u{2069}"),
            (Self::Html, None) => ("<bdi>", "</bdi>"),
            (Self::Html, Some(Direction::LeftToRight)) => ("<bdi dir=\"ltr\">", "</bdi>"),
            (Self::Html, Some(Direction::RightToLeft)) => ("<bdi dir=\"rtl\">", "</bdi>"),
        }
    }

    /// Writes a value that is shown in a direction; of a list, each item is isolated by its own.
    fn write(
        self,
        value: &ResolvedValue<'_>,
        direction: Option<Direction>,
        context: &FormatContext,
        to: &mut dyn Write,
    ) -> fmt::Result {
        match (value, self) {
            (ResolvedValue::List(values), _) => {
                self.write_list(&Joined::plain(values, context), direction, context, to)
            }
            (ResolvedValue::Joined(list), _) => self.write_list(list, direction, context, to),
            (ResolvedValue::Html(html), Self::Html) => to.write_str(html.as_str()),
            (value, Self::Html) => value.write(context, &mut Escaped(to)),
            (value, Self::Text) => value.write(context, &mut &mut *to),
        }
    }

    fn write_list(
        self,
        list: &Joined<'_>,
        around: Option<Direction>,
        context: &FormatContext,
        to: &mut dyn Write,
    ) -> fmt::Result {
        let left = Some(Direction::LeftToRight);
        for piece in &list.pieces {
            let item = match piece {
                Piece::Words(words) if self == Self::Html => {
                    Escaped(to).write_str(words)?;
                    continue;
                }
                Piece::Words(words) => {
                    to.write_str(words)?;
                    continue;
                }
                Piece::Item(item) => item,
            };
            let direction = item.direction(context);
            let is_isolated =
                context.isolation == Isolation::Default && !(direction == left && around == left);
            let (before, behind) = if is_isolated { self.isolates(direction) } else { ("", "") };
            to.write_str(before)?;
            self.write(item, direction, context, to)?;
            to.write_str(behind)?;
        }
        Ok(())
    }
}
