//! Plain text: markup leaves no trace.

use core::fmt::{self, Write};

use super::context::{FormatContext, Isolation};
use super::markup::MarkupTag;
use super::placeholder::{Notation, ResolvedPlaceholder, Sink};
use crate::direction::Direction;
use crate::message::format_error::FormatError;
use crate::message::function::numeric::{NumberOptions, NumericValue};
use crate::message::function::resolved::ResolvedValue;
use crate::message::maybe_owned::MaybeOwned;

/// Writes plain text.
pub(super) struct TextOutput<'w, W> {
    pub(super) to: &'w mut W,
    pub(super) context: &'w FormatContext,
}

impl<W: Write> Sink for TextOutput<'_, W> {
    #[inline]
    fn text(&mut self, text: &str) -> fmt::Result {
        self.to.write_str(text)
    }

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result {
        if !placeholder.is_isolated(self.context) {
            return placeholder.write(self.context, self.to);
        }
        let (before, behind) = Notation::Text.isolates(placeholder.direction(self.context));
        self.to.write_str(before)?;
        placeholder.write(self.context, self.to)?;
        self.to.write_str(behind)
    }

    #[inline]
    fn text_value<'s>(&mut self, text: &str, _: impl FnOnce() -> &'s str) -> fmt::Result {
        match self.context.isolation {
            Isolation::None => self.to.write_str(text),
            Isolation::Default => {
                let (before, behind) = Notation::Text.isolates(None);
                [before, text, behind].into_iter().try_for_each(|piece| self.to.write_str(piece))
            }
        }
    }

    // Its digits are not worked out for texts that show none.
    #[inline(never)]
    fn integer(&mut self, number: i64, options: &NumberOptions, fallback: &str) -> fmt::Result {
        let context = self.context;
        if context.isolation == Isolation::None || context.direction == Direction::LeftToRight {
            return options.integer_format().write_integer(number, &context.numbers, self.to);
        }
        let number = ResolvedValue::Number(NumericValue::Integer(number), MaybeOwned::Borrowed(options));
        self.placeholder(&ResolvedPlaceholder::plain(&number, fallback))
    }

    fn markup(&mut self, _: &MarkupTag<'_>, _: &mut dyn FnMut(FormatError)) -> fmt::Result {
        Ok(())
    }

    fn wants_markup(&self) -> bool {
        false
    }

    fn finish(&mut self, _: &mut dyn FnMut(FormatError)) -> fmt::Result {
        Ok(())
    }
}
