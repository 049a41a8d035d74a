//! HTML: text and values escaped, markup by the list of elements and the application's own handlers.

use alloc::borrow::Cow;
use alloc::string::String;
use core::fmt::{self, Write};

use smallvec::SmallVec;

use super::context::FormatContext;
use super::markup::{MarkupTag, element};
use super::placeholder::{ResolvedPlaceholder, Sink};
use crate::direction::Direction;
use crate::html::Escaped;
use crate::message::format_error::FormatErrorKind;
use crate::message::function::resolved::ResolvedValue;
use crate::message::model::MarkupKind;

/// Writes HTML.
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
