//! Where formatted messages go: plain text, or HTML.

use alloc::borrow::Cow;
use alloc::string::String;
use core::fmt::{self, Write};

use smallvec::SmallVec;

use super::context::{FormatContext, Isolation};
use super::format_error::FormatErrorKind;
use super::function::number::NumberOptions;
use super::function::unicode::{AskedDirection, UnicodeOptions};
use super::markup::{MarkupTag, element};
use super::model::MarkupKind;
use super::resolve::{MaybeOwned, NumericValue, ResolvedValue};
use crate::direction::Direction;
use crate::html::Escaped;

/// A placeholder with its value.
pub(super) struct ResolvedPlaceholder<'p> {
    pub(super) value: &'p ResolvedValue<'p>,
    /// What the message says of it: a variable, a literal or a function, as its fallback shows it.
    pub(super) source: &'p str,
    /// The `u:` options that belong to the value.
    pub(super) unicode: &'p UnicodeOptions<'p>,
}

impl<'p> ResolvedPlaceholder<'p> {
    /// A value with nothing said about it.
    pub(super) const fn plain(value: &'p ResolvedValue<'p>, source: &'p str) -> Self {
        Self { value, source, unicode: &UnicodeOptions::DEFAULT }
    }

    /// The direction of what is shown, where it is known.
    pub(super) fn direction(&self, context: &FormatContext) -> Option<Direction> {
        match (self.unicode.direction, self.value) {
            (AskedDirection::Known(direction), _) => Some(direction),
            (AskedDirection::Auto, _) => None,
            (_, ResolvedValue::Number(..) | ResolvedValue::Date(..)) => Some(context.direction),
            (_, ResolvedValue::Formatted(value, _)) => value.direction,
            // A text, and a fallback, as the standard has it.
            _ => None,
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
            ResolvedValue::Fallback => to.write_str(self.source),
            value => context.write(value, to),
        }
    }
}

/// What takes the pieces of a message, in order.
pub(super) trait Sink {
    fn text(&mut self, text: &str) -> fmt::Result;

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result;

    /// Takes a text that was given as an argument: what placeholders mostly are.
    #[inline]
    fn text_value<'s>(&mut self, text: &str, source: impl FnOnce() -> &'s str) -> fmt::Result {
        self.placeholder(&ResolvedPlaceholder::plain(&ResolvedValue::Text(Cow::Borrowed(text)), source()))
    }

    /// Takes a whole number that shows as its own digits.
    #[inline]
    fn integer(&mut self, number: i64, options: &NumberOptions, source: &str) -> fmt::Result {
        let number = ResolvedValue::Number(NumericValue::Integer(number), MaybeOwned::Borrowed(options));
        self.placeholder(&ResolvedPlaceholder::plain(&number, source))
    }

    /// Takes markup; what cannot be shown as asked goes to `bad`, and its content is shown.
    fn markup(&mut self, tag: &MarkupTag<'_>, bad: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result;

    /// Whether options of markup are of use.
    fn wants_markup(&self) -> bool;

    /// Ends; what is still open goes to `bad`.
    fn finish(&mut self, bad: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result;
}

/// Plain text: markup leaves no trace.
pub(super) struct TextOutput<'w, W> {
    pub(super) to: &'w mut W,
    pub(super) context: &'w FormatContext,
}

/// The marks around an isolated stretch.
pub(super) const fn isolates(direction: Option<Direction>) -> (&'static str, &'static str) {
    match direction {
        None => ("\u{2068}", "\u{2069}"),
        Some(Direction::LeftToRight) => ("\u{2066}", "\u{2069}"),
        Some(Direction::RightToLeft) => ("\u{2067}", "\u{2069}"),
    }
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
        let (before, behind) = isolates(placeholder.direction(self.context));
        self.to.write_str(before)?;
        placeholder.write(self.context, self.to)?;
        self.to.write_str(behind)
    }

    #[inline]
    fn text_value<'s>(&mut self, text: &str, _: impl FnOnce() -> &'s str) -> fmt::Result {
        match self.context.isolation {
            Isolation::None => self.to.write_str(text),
            Isolation::Default => {
                let (before, behind) = isolates(None);
                [before, text, behind].into_iter().try_for_each(|piece| self.to.write_str(piece))
            }
        }
    }

    // Its digits are not worked out for texts that show none.
    #[inline(never)]
    fn integer(&mut self, number: i64, options: &NumberOptions, source: &str) -> fmt::Result {
        let context = self.context;
        if context.isolation == Isolation::None || context.direction == Direction::LeftToRight {
            return options.integer_format().write_integer(number, &context.numbers, self.to);
        }
        let number = ResolvedValue::Number(NumericValue::Integer(number), MaybeOwned::Borrowed(options));
        self.placeholder(&ResolvedPlaceholder::plain(&number, source))
    }

    fn markup(&mut self, _: &MarkupTag<'_>, _: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result {
        Ok(())
    }

    fn wants_markup(&self) -> bool {
        false
    }

    fn finish(&mut self, _: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result {
        Ok(())
    }
}

/// HTML: text and values escaped, markup by the list of elements and the application's own handlers.
pub(super) struct HtmlOutput<'w> {
    to: &'w mut dyn Write,
    context: &'w FormatContext,
    /// What is open: the name, and what closes it.
    open: SmallVec<[(String, Cow<'static, str>); 2]>,
}

impl<'w> HtmlOutput<'w> {
    pub(super) fn new(to: &'w mut dyn Write, context: &'w FormatContext) -> Self {
        Self { to, context, open: SmallVec::new() }
    }
}

impl Sink for HtmlOutput<'_> {
    fn text(&mut self, text: &str) -> fmt::Result {
        Escaped(self.to).write_str(text)
    }

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result {
        let isolated = placeholder.is_isolated(self.context);
        if isolated {
            self.to.write_str(match placeholder.direction(self.context) {
                None => "<bdi>",
                Some(Direction::LeftToRight) => "<bdi dir=\"ltr\">",
                Some(Direction::RightToLeft) => "<bdi dir=\"rtl\">",
            })?;
        }
        match placeholder.value {
            ResolvedValue::Html(html) => self.to.write_str(html.as_str())?,
            _ => placeholder.write(self.context, &mut Escaped(self.to))?,
        }
        if isolated { self.to.write_str("</bdi>") } else { Ok(()) }
    }

    fn markup(&mut self, tag: &MarkupTag<'_>, bad: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result {
        if tag.kind == MarkupKind::Close {
            return match self.open.pop() {
                Some((name, close)) if name == tag.name => self.to.write_str(&close),
                other => {
                    self.open.extend(other);
                    bad(FormatErrorKind::BadMarkup, tag.name);
                    Ok(())
                }
            };
        }
        let handled = self.context.markup.as_ref().and_then(|handlers| handlers.call(tag));
        let shown = handled.or_else(|| element(tag, bad));
        let Some((before, behind)) = shown else {
            bad(FormatErrorKind::BadMarkup, tag.name);
            return Ok(());
        };
        self.to.write_str(&before)?;
        if tag.kind == MarkupKind::Open {
            self.open.push((tag.name.into(), behind));
        }
        Ok(())
    }

    fn wants_markup(&self) -> bool {
        true
    }

    fn finish(&mut self, bad: &mut dyn FnMut(FormatErrorKind, &str)) -> fmt::Result {
        if let Some((name, _)) = self.open.first() {
            bad(FormatErrorKind::BadMarkup, name);
        }
        while let Some((_, close)) = self.open.pop() {
            self.to.write_str(&close)?;
        }
        Ok(())
    }
}
