//! What resolved values are written as.

use alloc::boxed::Box;
use alloc::string::String;
use alloc::vec::Vec;
use core::fmt::{self, Write};

use super::context::FormatContext;
use super::function::custom::FunctionValue;
use super::resolve::{NumericValue, ResolvedValue, Selection};
use super::syntax::normalized;
use crate::list::ListKind;
use crate::number::Width;
use crate::tag::LanguageTag;

impl FormatContext {
    /// The text a value formats as.
    pub(super) fn text_of(&self, value: &ResolvedValue<'_>) -> String {
        let mut text = String::new();
        // Writing to a `String` does not fail.
        let _ = self.write(value, &mut text);
        text
    }

    /// Writes what a value formats as.
    #[inline]
    pub(super) fn write(&self, value: &ResolvedValue<'_>, to: &mut impl Write) -> fmt::Result {
        match value {
            ResolvedValue::Text(text) => to.write_str(text),
            ResolvedValue::Number(NumericValue::Integer(number), options) if options.shows_integer() => {
                options.integer_format().write_integer(*number, &self.numbers, to)
            }
            other => self.write_other(other, to),
        }
    }

    fn write_other(&self, value: &ResolvedValue<'_>, to: &mut dyn Write) -> fmt::Result {
        match value {
            ResolvedValue::Text(text) => to.write_str(text),
            ResolvedValue::Number(figure, options) => {
                let format = options.format();
                self.number_patterns.write(options.style(), format, &figure.to_decimal(), &self.numbers, to)
            }
            ResolvedValue::Date(date, kind, options) => {
                let format =
                    options.format(kind.unwrap_or_else(|| super::calls::plain_kind(date)), &self.zones);
                self.dates.write(&format, date, &self.numbers, to)
            }
            ResolvedValue::List(values) => {
                let items: Vec<String> =
                    values.iter().map(|value| self.text_of(&ResolvedValue::of(value, self))).collect();
                to.write_str(&self.lists.join(&items, ListKind::Unit, Width::Long))
            }
            ResolvedValue::Html(html) => to.write_str(&html.to_text()),
            ResolvedValue::Formatted(value, _) => to.write_str(&value.text),
            ResolvedValue::Fallback => Ok(()),
        }
    }

    /// A value as this locale formats it, and selects by it.
    pub(super) fn formatted(&self, value: &ResolvedValue<'_>) -> ResolvedValue<'static> {
        let formatted = FunctionValue::text(self.text_of(value));
        // A text keeps its own direction, which nobody knows.
        let formatted = match value {
            ResolvedValue::Number(..) | ResolvedValue::Date(..) => formatted.with_direction(self.direction),
            _ => formatted,
        };
        let selection = match value {
            ResolvedValue::Formatted(value, selection) => {
                return ResolvedValue::Formatted(value.clone(), selection.clone());
            }
            ResolvedValue::Number(figure, options) => options
                .selection(&figure.to_decimal(), self)
                .map(|(number, category)| Selection::Number(Box::new(number), category)),
            ResolvedValue::Text(text) => Some(Selection::Text(normalized(text).into_owned())),
            _ => None,
        };
        ResolvedValue::Formatted(Box::new(formatted), selection)
    }

    /// The same, in another locale.
    pub(super) fn in_locale(&self, tag: &LanguageTag) -> Self {
        Self {
            zones: self.zones.clone(),
            functions: self.functions.clone(),
            markup: self.markup.clone(),
            isolation: self.isolation,
            ..Self::of(tag)
        }
    }
}
