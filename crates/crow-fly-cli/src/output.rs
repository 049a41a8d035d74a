//! What goes to the terminal: nothing that a file contains acts on it.

use std::borrow::Cow;
use std::io::{self, Write};

/// The output of a command. Control characters of what is written are shown as pictures: `␛`.
pub(crate) struct Output<'o> {
    inner: &'o mut dyn Write,
    is_replaced: fn(char) -> bool,
}

impl<'o> Output<'o> {
    pub(crate) fn new(inner: &'o mut dyn Write) -> Self {
        Self { inner, is_replaced: acts }
    }

    /// Whether a character is written as another one.
    pub(crate) fn replaces(&self, letter: char) -> bool {
        (self.is_replaced)(letter)
    }

    /// From here on characters of direction stay: what is written are texts as visitors read them.
    pub(crate) fn keep_direction(&mut self) {
        self.is_replaced = is_control;
    }

    /// Writes a text of our own that has styles. What it shows of files has no control characters any more.
    pub(crate) fn styled(&mut self, text: &str) -> io::Result<()> {
        self.inner.write_all(text.as_bytes())
    }
}

impl Write for Output<'_> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.inner.write_all(replaced(&String::from_utf8_lossy(bytes), self.is_replaced).as_bytes())?;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.inner.flush()
    }
}

/// A text as it is shown: control characters as pictures, those that change the direction of what comes after them, too.
pub(crate) fn shown(text: &str) -> Cow<'_, str> {
    replaced(text, acts)
}

/// Whether a character does something on a terminal in place of being shown.
pub(crate) const fn acts(letter: char) -> bool {
    is_control(letter) || matches!(letter, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
}

const fn is_control(letter: char) -> bool {
    letter.is_ascii_control() && !matches!(letter, '\n' | '\t') || matches!(letter, '\u{80}'..='\u{9f}')
}

fn replaced(text: &str, is_replaced: fn(char) -> bool) -> Cow<'_, str> {
    if !text.contains(is_replaced) {
        return Cow::Borrowed(text);
    }
    let picture = |letter: char| match letter {
        letter if !is_replaced(letter) => letter,
        '\u{7f}' => '\u{2421}',
        '\0'..='\u{1f}' => char::from_u32(0x2400 + u32::from(letter)).unwrap_or(char::REPLACEMENT_CHARACTER),
        _ => char::REPLACEMENT_CHARACTER,
    };
    Cow::Owned(text.chars().map(picture).collect())
}
