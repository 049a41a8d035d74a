//! From program and arguments to output (UTS #35 part 9, "Formatting").
//!
//! Formatting never stops at an error: a place that fails shows its fallback, and the error goes to whoever asks.

use alloc::string::String;
use core::fmt;

use super::compile::{Operation, Place, Program};
use super::format_error::{FormatError, FormatErrorKind};
use super::output::{Form, Html, Output};
use super::resolve::{Frame, Resolved};
use super::select::select;
use super::speech::Speech;
use crate::direction::Direction;
use crate::value::Args;

impl Program {
    /// Formats the message as text; errors show as fallbacks only.
    pub fn to_text(&self, speech: &Speech, args: &Args<'_>) -> String {
        let mut text = String::with_capacity(self.text.len());
        // Writing to a `String` does not fail.
        let _ = self.write_text(speech, args, &mut text, &mut |_| ());
        text
    }

    /// Formats the message as HTML: text and arguments escaped, markup from a list of harmless elements.
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
        self.write(Form::Text, speech, args, to, report)
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
        self.write(Form::Html, speech, args, to, report)
    }

    fn write(
        &self,
        form: Form,
        speech: &Speech,
        args: &Args<'_>,
        to: &mut dyn fmt::Write,
        report: &mut dyn FnMut(FormatError),
    ) -> fmt::Result {
        // Most texts of a site are one piece, without a placeholder: nothing is resolved for them.
        if let ([], [], [Operation::Text(run)]) = (&*self.declared, &*self.selectors, &*self.operations) {
            return Output::new(to, form, speech).text(self.str(*run));
        }
        let mut frame = Frame::new(self, speech, args, report);
        let pattern = select(&mut frame);
        let (start, end) = self.patterns.get(pattern).copied().unwrap_or_default();
        let mut output = Output::new(to, form, speech);
        for operation in self.operations.get(start as usize..end as usize).unwrap_or_default() {
            match operation {
                Operation::Text(run) => output.text(self.str(*run))?,
                Operation::Place(at) => {
                    if let Some(place) = self.places.get(*at as usize) {
                        write_place(&mut frame, place, &mut output)?;
                    }
                }
                Operation::Tag(at) => {
                    if let Some(tag) = self.tags.get(*at as usize)
                        && output.markup(tag.kind, self.str(tag.name))?.is_err()
                    {
                        frame.report(FormatErrorKind::BadMarkup, self.str(tag.name));
                    }
                }
            }
        }
        if let Some(element) = output.finish()? {
            frame.report(FormatErrorKind::BadMarkup, element);
        }
        Ok(())
    }
}

fn write_place<'a>(frame: &mut Frame<'a, '_, '_>, place: &'a Place, output: &mut Output<'_>) -> fmt::Result {
    let asked = place.direction.is_some();
    match frame.resolve(place) {
        Resolved::Text(text) => output.place(place.direction, asked, |to| to.write_str(&text)),
        Resolved::Number(number, options) => {
            let direction: Direction = place.direction.unwrap_or(frame.speech.direction);
            let numbers = &frame.speech.numbers;
            output.place(Some(direction), asked, |to| options.format().write(&number, numbers, to))
        }
        // A fallback is of unknown direction, as the standard has it.
        Resolved::Fallback => {
            let fallback = frame.program.str(place.fallback);
            output.place(None, asked, |to| to.write_str(fallback))
        }
    }
}
