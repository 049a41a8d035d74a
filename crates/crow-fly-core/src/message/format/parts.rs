//! A formatted message in parts: for front ends that make elements of their own from them (UTS #35 part 9, "Formatting
//! to Parts").

use alloc::collections::BTreeMap;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use serde::Serialize;

use super::context::FormatContext;
use super::markup::MarkupTag;
use super::placeholder::{Notation, ResolvedPlaceholder, Sink};
use crate::direction::Direction;
use crate::message::format_error::FormatError;
use crate::message::function::resolved::ResolvedValue;
use crate::message::model::MarkupKind;

/// A part of a formatted message. As JSON, each has a `type`.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(tag = "type", rename_all = "camelCase")]
#[non_exhaustive]
pub enum Part {
    /// Text of the message.
    Text {
        /// The text.
        value: String,
    },
    /// A mark that sets the value next to it apart.
    BidiIsolation {
        /// The mark.
        value: String,
    },
    /// A value: of an argument, a literal or a function.
    ///
    /// **A value whose `kind` is `html` is raw HTML** that the application has called safe; of every other kind it is text,
    /// which must be escaped where it is put into a page.
    #[serde(rename_all = "camelCase")]
    Value {
        /// What it is: `string`, `number`, `date`, `list`, `html` or `custom`.
        kind: &'static str,
        /// What the message has for it.
        source: String,
        /// The locale it is formatted in.
        locale: String,
        /// Which way it runs, where that is known.
        #[serde(skip_serializing_if = "Option::is_none")]
        dir: Option<Direction>,
        /// `u:id`
        #[serde(skip_serializing_if = "Option::is_none")]
        id: Option<String>,
        /// The value, formatted. The items of a list are isolated as in text.
        value: String,
    },
    /// Markup.
    Markup {
        /// `open`, `close` or `standalone`.
        kind: &'static str,
        /// Its name.
        name: String,
        /// `u:id`
        #[serde(skip_serializing_if = "Option::is_none")]
        id: Option<String>,
        /// Its options, without those that could run a script: what HTML output would not show is not here either.
        #[serde(skip_serializing_if = "BTreeMap::is_empty")]
        options: BTreeMap<String, String>,
    },
    /// What stands for a value that cannot be formatted.
    Fallback {
        /// What the message has for it.
        source: String,
    },
}

/// Collects parts.
pub(super) struct PartsOutput<'s> {
    pub(super) parts: Vec<Part>,
    pub(super) context: &'s FormatContext,
    /// How many bytes there is room for.
    pub(super) left: usize,
}

impl PartsOutput<'_> {
    /// Takes room for some bytes, and for the part that they are in.
    fn take(&mut self, bytes: usize) -> fmt::Result {
        let rest = self.left.checked_sub(bytes + 1);
        self.left = rest.unwrap_or_default();
        if rest.is_some() { Ok(()) } else { Err(fmt::Error) }
    }
}

impl Sink for PartsOutput<'_> {
    fn text(&mut self, text: &str) -> fmt::Result {
        self.take(text.len())?;
        self.parts.push(Part::Text { value: text.into() });
        Ok(())
    }

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result {
        let direction = placeholder.direction(self.context);
        let isolated = placeholder.is_isolated(self.context);
        let (before, behind) = Notation::Text.isolates(direction);
        if isolated {
            self.parts.push(Part::BidiIsolation { value: before.into() });
        }
        let kind = match placeholder.value {
            ResolvedValue::Text(_) => "string",
            ResolvedValue::Number(..) => "number",
            ResolvedValue::Date(..) => "date",
            ResolvedValue::List(_) | ResolvedValue::Joined(_) => "list",
            ResolvedValue::Html(_) => "html",
            ResolvedValue::Formatted(..) => "custom",
            ResolvedValue::Fallback => "",
        };
        let part = if let ResolvedValue::Fallback = placeholder.value {
            let source = placeholder.fallback.strip_prefix('{').and_then(|source| source.strip_suffix('}'));
            Part::Fallback { source: source.unwrap_or(placeholder.fallback).into() }
        } else {
            let mut value = String::new();
            match placeholder.value {
                ResolvedValue::Html(html) => value.push_str(html.as_str()),
                _ => placeholder.write(self.context, &mut value)?,
            }
            self.take(value.len())?;
            let source = placeholder.fallback.strip_prefix('{').and_then(|source| source.strip_suffix('}'));
            Part::Value {
                kind,
                source: source.unwrap_or(placeholder.fallback).into(),
                locale: self.context.tag.to_string(),
                dir: direction,
                id: placeholder.unicode.id.as_deref().map(String::from),
                value,
            }
        };
        self.parts.push(part);
        if isolated {
            self.parts.push(Part::BidiIsolation { value: behind.into() });
        }
        Ok(())
    }

    fn markup(&mut self, tag: &MarkupTag<'_>, _: &mut dyn FnMut(FormatError)) -> fmt::Result {
        self.take(tag.options.iter().map(|(_, value)| value.len()).sum())?;
        self.parts.push(Part::Markup {
            kind: match tag.kind {
                MarkupKind::Open => "open",
                MarkupKind::Close => "close",
                MarkupKind::Standalone => "standalone",
            },
            name: tag.name.into(),
            id: tag.id.as_deref().map(String::from),
            options: tag.options.iter().map(|(name, value)| ((*name).into(), value.to_string())).collect(),
        });
        Ok(())
    }

    fn wants_markup(&self) -> bool {
        true
    }

    fn finish(&mut self, _: &mut dyn FnMut(FormatError)) -> fmt::Result {
        Ok(())
    }
}
