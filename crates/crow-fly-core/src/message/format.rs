//! From program and arguments to output (UTS #35 part 9, "Formatting").
//!
//! Formatting never stops at an error: a place that fails shows its fallback, and the error goes to whoever asks.

use alloc::borrow::Cow;
use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;

use super::compile::{Call, Operation, Program, Source};
use super::format_error::FormatError;
use super::markup::MarkupTag;
use super::output::{HtmlOutput, Placed, Sink, TextOutput};
use super::parts::{Part, PartsOutput};
use super::resolve::{Frame, Resolved};
use super::select::select;
use super::speech::Speech;
use crate::html::Html;
use crate::value::Args;

impl Program {
    /// Formats the message as text; errors show as fallbacks only.
    pub fn to_text(&self, speech: &Speech, args: &Args<'_>) -> String {
        let mut text = String::with_capacity(self.text.len());
        // Writing to a `String` does not fail.
        let _ = self.write_text(speech, args, &mut text, &mut |_| ());
        text
    }

    /// The message as text, formatted where it is written: for `write!` and templates.
    pub const fn display<'p, 'v>(
        &'p self,
        speech: &'p Speech,
        args: &'p Args<'v>,
    ) -> impl fmt::Display + use<'p, 'v> {
        Lazy { program: self, speech, args }
    }

    /// Formats the message as HTML: text and arguments escaped, markup from a list of harmless elements and by the
    /// application's own handlers.
    pub fn to_html(&self, speech: &Speech, args: &Args<'_>) -> Html {
        self.to_html_reporting(speech, args, &mut |_| ())
    }

    /// Formats the message as HTML; errors go to `report`.
    pub fn to_html_reporting(
        &self,
        speech: &Speech,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
    ) -> Html {
        let mut html = String::with_capacity(self.text.len());
        let _ = self.write_html(speech, args, &mut html, report);
        Html(html)
    }

    /// Formats the message in parts; errors go to `report`.
    pub fn to_parts(
        &self,
        speech: &Speech,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
    ) -> Vec<Part> {
        let mut output = PartsOutput { parts: Vec::new(), speech };
        // Collecting does not fail.
        let _ = self.run(speech, args, report, &mut output);
        output.parts
    }

    /// Writes the message as text; markup leaves no trace.
    ///
    /// # Errors
    /// Those of the output. Errors of the message go to `report`.
    pub fn write_text(
        &self,
        speech: &Speech,
        args: &Args<'_>,
        to: &mut dyn fmt::Write,
        report: &mut dyn FnMut(FormatError),
    ) -> fmt::Result {
        // Most texts of a site are one piece, without a placeholder: nothing is resolved for them.
        match self.only_text() {
            Some(text) => to.write_str(text),
            None => self.run(speech, args, report, &mut TextOutput { to, speech }),
        }
    }

    /// Writes the message as HTML.
    ///
    /// # Errors
    /// Those of the output. Errors of the message go to `report`.
    pub fn write_html(
        &self,
        speech: &Speech,
        args: &Args<'_>,
        to: &mut dyn fmt::Write,
        report: &mut dyn FnMut(FormatError),
    ) -> fmt::Result {
        let mut output = HtmlOutput::new(to, speech);
        match self.only_text() {
            Some(text) => output.text(text),
            None => self.run(speech, args, report, &mut output),
        }
    }

    fn only_text(&self) -> Option<&str> {
        match (&*self.declared, &*self.selectors, &*self.operations) {
            ([], [], [Operation::Text(run)]) => Some(self.str(*run)),
            _ => None,
        }
    }

    fn run(
        &self,
        speech: &Speech,
        args: &Args<'_>,
        report: &mut dyn FnMut(FormatError),
        output: &mut impl Sink,
    ) -> fmt::Result {
        let mut frame = Frame::new(self, speech, args, report);
        let pattern = select(&mut frame);
        let (start, end) = self.patterns.get(pattern).copied().unwrap_or_default();
        for operation in self.operations.get(start as usize..end as usize).unwrap_or_default() {
            match operation {
                Operation::Text(run) => output.text(self.str(*run))?,
                Operation::Place(at) => {
                    let Some(place) = self.places.get(*at as usize) else { continue };
                    // Nearly every placeholder is a value as it is: nothing is moved for those.
                    let resolved;
                    let value = if let (Call::Plain, Source::Declared(at), None) =
                        (&place.call, place.operand, &place.locale)
                    {
                        frame.declared(at)
                    } else {
                        resolved = frame.resolve(place);
                        &resolved
                    };
                    output.place(&Placed {
                        value,
                        source: self.str(place.fallback),
                        id: place.id.map(|id| self.str(id)),
                        asked: place.direction,
                    })?;
                }
                Operation::Tag(at) if output.wants_markup() => {
                    let Some(tag) = self.tags.get(*at as usize) else { continue };
                    let tag = self.tag(&mut frame, tag);
                    output.markup(&tag, &mut |kind, subject| frame.report(kind, subject))?;
                }
                Operation::Tag(_) => {}
            }
        }
        output.finish(&mut |kind, subject| frame.report(kind, subject))
    }

    fn tag<'a>(&'a self, frame: &mut Frame<'a, '_, '_>, tag: &super::compile::Tag) -> MarkupTag<'a> {
        let settings = self.settings.get(tag.options.0 as usize..tag.options.1 as usize).unwrap_or_default();
        let mut options: Vec<(&str, Cow<'a, str>)> = Vec::with_capacity(settings.len());
        for (name, value) in settings {
            match frame.operand(*value) {
                Ok(Some(value)) if !matches!(value, Resolved::Fallback) => {
                    options.push((self.str(*name), value.into_text(frame.speech)));
                }
                _ => frame.bad_option(*name),
            }
        }
        MarkupTag { kind: tag.kind, name: self.str(tag.name), options }
    }
}

/// A message to be formatted where it is written.
struct Lazy<'p, 'v> {
    program: &'p Program,
    speech: &'p Speech,
    args: &'p Args<'v>,
}

impl fmt::Display for Lazy<'_, '_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.program.write_text(self.speech, self.args, f, &mut |_| ())
    }
}
