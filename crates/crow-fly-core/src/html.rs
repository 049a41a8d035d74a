//! HTML that is safe by its type.

use alloc::string::String;
use core::fmt::{self, Write};

use crate::direction::Direction;

/// A piece of HTML that is safe to put into a page as it is.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct Html(pub(crate) String);

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

    /// The text in it: without elements, entities resolved.
    pub fn to_text(&self) -> String {
        let mut text = String::with_capacity(self.0.len());
        let mut rest = self.0.as_str();
        while let Some(at) = rest.find(['<', '&']) {
            text.push_str(rest.get(..at).unwrap_or_default());
            rest = rest.get(at..).unwrap_or_default();
            let end = rest.find(if rest.starts_with('<') { '>' } else { ';' });
            let (piece, after) =
                rest.split_at_checked(end.map_or(rest.len(), |end| end + 1)).unwrap_or((rest, ""));
            rest = after;
            match piece {
                "&amp;" => text.push('&'),
                "&lt;" => text.push('<'),
                "&gt;" => text.push('>'),
                "&quot;" => text.push('"'),
                "&#39;" => text.push('\''),
                "&nbsp;" => text.push('\u{a0}'),
                piece if piece.starts_with('&') => text.push_str(piece),
                _ => {}
            }
        }
        text.push_str(rest);
        text
    }

    /// The HTML, owned.
    pub fn into_string(self) -> String {
        self.0
    }

    /// The HTML in an element with another language: for a text that fell back to it (WCAG 3.1.2).
    #[must_use]
    pub fn in_language(&self, language: &str, direction: Direction) -> Self {
        Self(alloc::format!(
            "<span lang=\"{}\" dir=\"{direction}\">{}</span>",
            Self::escape(language).0,
            self.0
        ))
    }
}

#[cfg(feature = "askama")]
impl askama::filters::HtmlSafe for Html {}

#[cfg(feature = "askama")]
impl askama::FastWritable for Html {
    fn write_into(&self, dest: &mut dyn Write, _: &dyn askama::Values) -> askama::Result<()> {
        Ok(dest.write_str(&self.0)?)
    }
}

#[cfg(feature = "maud")]
impl maud::Render for Html {
    fn render_to(&self, buffer: &mut String) {
        buffer.push_str(&self.0);
    }
}

impl fmt::Display for Html {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

/// Writes text with the characters that mean something in HTML replaced.
pub(crate) struct Escaped<'w>(pub(crate) &'w mut dyn Write);

impl Write for Escaped<'_> {
    fn write_str(&mut self, text: &str) -> fmt::Result {
        let mut written = 0;
        for (at, byte) in text.bytes().enumerate() {
            let entity = match byte {
                b'&' => "&amp;",
                b'<' => "&lt;",
                b'>' => "&gt;",
                b'"' => "&quot;",
                b'\'' => "&#39;",
                _ => continue,
            };
            self.0.write_str(text.get(written..at).unwrap_or_default())?;
            self.0.write_str(entity)?;
            written = at + 1;
        }
        self.0.write_str(text.get(written..).unwrap_or_default())
    }
}
