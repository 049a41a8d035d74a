//! HTML: text and values escaped, markup by the list of elements and the application's own handlers.

use alloc::borrow::Cow;
use alloc::format;
use core::fmt::{self, Write};

use smallvec::SmallVec;
use smol_str::SmolStr;

use super::context::FormatContext;
use super::markup::{MarkupTag, element};
use super::placeholder::{Notation, ResolvedPlaceholder, Sink};
use crate::html::Escaped;
use crate::message::format_error::{FormatError, FormatErrorKind};
use crate::message::model::MarkupKind;

/// Writes HTML.
pub(super) struct HtmlOutput<'w> {
    to: &'w mut dyn Write,
    context: &'w FormatContext,
    /// What is open: the name, and what closes it; nothing where it was refused.
    open: SmallVec<[(SmolStr, Option<Cow<'static, str>>); 2]>,
}

impl<'w> HtmlOutput<'w> {
    pub(super) fn new(to: &'w mut dyn Write, context: &'w FormatContext) -> Self {
        Self { to, context, open: SmallVec::new() }
    }
}

/// Why markup becomes no element.
fn refused(tag: &MarkupTag<'_>, context: &FormatContext) -> FormatError {
    let (name, is_void) = (tag.name, tag.name == "br");
    let help = if context.markup.as_ref().is_some_and(|handlers| handlers.has(name)) {
        Cow::Borrowed("the application's handler does not take it like this")
    } else if MarkupTag::is_element(name) && is_void {
        Cow::Borrowed("this element has no content: write `{#br /}`")
    } else if MarkupTag::is_element(name) {
        Cow::Owned(format!("this element has content: write `{{#{name}}}…{{/{name}}}`"))
    } else {
        Cow::Borrowed("it is not an element that texts may use: give the application a handler for it")
    };
    FormatError::new(FormatErrorKind::BadMarkup, name).expecting(help)
}

impl Sink for HtmlOutput<'_> {
    fn text(&mut self, text: &str) -> fmt::Result {
        Escaped(self.to).write_str(text)
    }

    fn placeholder(&mut self, placeholder: &ResolvedPlaceholder<'_>) -> fmt::Result {
        if !placeholder.is_isolated(self.context) {
            return placeholder.write_in(Notation::Html, self.context, self.to);
        }
        let (before, behind) = Notation::Html.isolates(placeholder.direction(self.context));
        self.to.write_str(before)?;
        placeholder.write_in(Notation::Html, self.context, self.to)?;
        self.to.write_str(behind)
    }

    fn markup(&mut self, tag: &MarkupTag<'_>, bad: &mut dyn FnMut(FormatError)) -> fmt::Result {
        if tag.kind == MarkupKind::Close {
            // What was refused in between is not in the page: it does not hinder what is. Only a hostile message has
            // more of it than this, and is not searched for each of its closes.
            let is_last =
                |(name, close): &(SmolStr, Option<Cow<'static, str>>)| name == tag.name || close.is_some();
            let behind = self.open.iter().rev().take(64).position(is_last);
            let at = behind.and_then(|behind| self.open.len().checked_sub(behind + 1));
            let at = at.filter(|at| self.open.get(*at).is_some_and(|one| one.0 == tag.name));
            if let Some((_, close)) = at.and_then(|at| self.open.drain(at..).next()) {
                return self.to.write_str(close.as_deref().unwrap_or_default());
            }
            let help = "it closes nothing: close what was opened last, or delete it";
            bad(FormatError::new(FormatErrorKind::BadMarkup, tag.name).expecting(help));
            return Ok(());
        }
        let handled = self.context.markup.as_ref().and_then(|handlers| handlers.call(tag));
        let shown = handled.or_else(|| element(tag, bad));
        let Some((before, behind)) = shown else {
            bad(refused(tag, self.context));
            if tag.kind == MarkupKind::Open {
                // What closes it is no second error.
                self.open.push((tag.name.into(), None));
            }
            return Ok(());
        };
        self.to.write_str(&before)?;
        if tag.kind == MarkupKind::Open {
            self.open.push((tag.name.into(), Some(behind)));
        }
        Ok(())
    }

    fn wants_markup(&self) -> bool {
        true
    }

    fn finish(&mut self, bad: &mut dyn FnMut(FormatError)) -> fmt::Result {
        if let Some((name, _)) = self.open.iter().find(|(_, close)| close.is_some()) {
            let help = format!("it is not closed: write `{{/{name}}}` behind its content");
            bad(FormatError::new(FormatErrorKind::BadMarkup, name.as_str()).expecting(help));
        }
        while let Some((_, close)) = self.open.pop() {
            self.to.write_str(close.as_deref().unwrap_or_default())?;
        }
        Ok(())
    }
}
