//! Where formatted messages go: plain text, or HTML.

use alloc::string::String;
use core::fmt::{self, Write};

use smallvec::SmallVec;

use super::model::MarkupKind;
use super::speech::{Isolation, Speech};
use crate::direction::Direction;

/// A piece of HTML that is safe to put into a page as it is.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct Html(pub(super) String);

impl Html {
    /// A text as HTML: escaped.
    pub fn escape(text: &str) -> Self {
        let mut html = Self(String::with_capacity(text.len()));
        html.push(text);
        html
    }

    /// Adds a text, escaped.
    pub fn push(&mut self, text: &str) {
        // Writing to a `String` does not fail.
        let _ = Escaped(&mut self.0).write_str(text);
    }

    /// Adds HTML as it is. The caller vouches for it: nothing a visitor or a translator wrote may be in it.
    pub fn push_trusted(&mut self, html: &str) {
        self.0.push_str(html);
    }

    /// The HTML.
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// The HTML, owned.
    pub fn into_string(self) -> String {
        self.0
    }

    /// The HTML in an element that says another language: for a text that fell back to it (WCAG 3.1.2).
    #[must_use]
    pub fn in_language(&self, language: &str, direction: Direction) -> Self {
        Self(alloc::format!(
            "<span lang=\"{}\" dir=\"{direction}\">{}</span>",
            Self::escape(language).0,
            self.0
        ))
    }
}

impl fmt::Display for Html {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

/// The elements that markup may become: they change how words look or sound, and carry no attributes.
const ELEMENTS: [&str; 17] = [
    "abbr", "b", "br", "cite", "code", "dfn", "em", "i", "kbd", "mark", "q", "s", "small", "strong", "sub",
    "sup", "u",
];

/// Elements without an end.
const VOID: [&str; 1] = ["br"];

/// Writes text with the characters that mean something in HTML replaced.
struct Escaped<'w>(&'w mut dyn Write);

impl Write for Escaped<'_> {
    fn write_str(&mut self, text: &str) -> fmt::Result {
        let mut rest = text;
        while let Some(at) = rest.find(['&', '<', '>', '"', '\'']) {
            let (before, from) = rest.split_at(at);
            self.0.write_str(before)?;
            let entity = match from.as_bytes().first() {
                Some(b'&') => "&amp;",
                Some(b'<') => "&lt;",
                Some(b'>') => "&gt;",
                Some(b'"') => "&quot;",
                _ => "&#39;",
            };
            self.0.write_str(entity)?;
            rest = from.get(1..).unwrap_or_default();
        }
        self.0.write_str(rest)
    }
}

/// The form of the output.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Form {
    Text,
    Html,
}

/// Markup that cannot be shown as asked; its content is.
pub(super) struct BadMarkup;

pub(super) struct Output<'w> {
    to: &'w mut dyn Write,
    form: Form,
    isolate: bool,
    direction: Direction,
    open: SmallVec<[&'static str; 4]>,
}

impl<'w> Output<'w> {
    pub(super) fn new(to: &'w mut dyn Write, form: Form, speech: &Speech) -> Self {
        let isolate = speech.isolation == Isolation::Default;
        Self { to, form, isolate, direction: speech.direction, open: SmallVec::new() }
    }

    pub(super) fn text(&mut self, text: &str) -> fmt::Result {
        match self.form {
            Form::Text => self.to.write_str(text),
            Form::Html => Escaped(self.to).write_str(text),
        }
    }

    /// Writes a placeholder: isolated unless it, and the message, are known to run from left to right.
    pub(super) fn place(
        &mut self,
        direction: Option<Direction>,
        asked: bool,
        write: impl FnOnce(&mut dyn Write) -> fmt::Result,
    ) -> fmt::Result {
        let both_left = direction == Some(Direction::LeftToRight) && self.direction == Direction::LeftToRight;
        let isolate = self.isolate && (asked || !both_left);
        let (before, after) = match (isolate, self.form, direction) {
            (false, ..) => ("", ""),
            (_, Form::Text, None) => ("\u{2068}", "\u{2069}"),
            (_, Form::Text, Some(Direction::LeftToRight)) => ("\u{2066}", "\u{2069}"),
            (_, Form::Text, Some(Direction::RightToLeft)) => ("\u{2067}", "\u{2069}"),
            (_, Form::Html, None) => ("<bdi>", "</bdi>"),
            (_, Form::Html, Some(Direction::LeftToRight)) => ("<bdi dir=\"ltr\">", "</bdi>"),
            (_, Form::Html, Some(Direction::RightToLeft)) => ("<bdi dir=\"rtl\">", "</bdi>"),
        };
        self.to.write_str(before)?;
        match self.form {
            Form::Text => write(self.to)?,
            Form::Html => write(&mut Escaped(self.to))?,
        }
        self.to.write_str(after)
    }

    /// Writes markup: an element of the list in HTML, nothing in text.
    pub(super) fn markup(
        &mut self,
        kind: MarkupKind,
        name: &str,
    ) -> Result<Result<(), BadMarkup>, fmt::Error> {
        if self.form == Form::Text {
            return Ok(Ok(()));
        }
        let Some(element) = ELEMENTS.into_iter().find(|element| *element == name) else {
            return Ok(Err(BadMarkup));
        };
        match kind {
            MarkupKind::Standalone if VOID.contains(&element) => write!(self.to, "<{element}>")?,
            MarkupKind::Open if !VOID.contains(&element) => {
                write!(self.to, "<{element}>")?;
                self.open.push(element);
            }
            MarkupKind::Close if self.open.last() == Some(&element) => {
                write!(self.to, "</{element}>")?;
                self.open.pop();
            }
            _ => return Ok(Err(BadMarkup)),
        }
        Ok(Ok(()))
    }

    /// Closes what is still open; returns the outermost such element.
    pub(super) fn finish(mut self) -> Result<Option<&'static str>, fmt::Error> {
        let left = self.open.first().copied();
        while let Some(element) = self.open.pop() {
            write!(self.to, "</{element}>")?;
        }
        Ok(left)
    }
}
