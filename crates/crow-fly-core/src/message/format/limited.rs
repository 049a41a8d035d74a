//! Output that has a limit: a message may show a long argument thousands of times.

use alloc::string::String;
use core::fmt::{self, Write};

use crate::message::format_error::{FormatError, FormatErrorKind};

/// What is shown of a text that is too long.
pub(super) const TOO_LONG: &str = "\u{fffd}";

/// Writes up to a limit; what goes beyond it is an error, and is not written.
pub(super) struct Limited<'t> {
    to: &'t mut String,
    longest: usize,
    pub(super) is_over: bool,
}

impl<'t> Limited<'t> {
    pub(super) const fn new(to: &'t mut String, longest: usize) -> Self {
        Self { to, longest, is_over: false }
    }
}

impl Write for Limited<'_> {
    #[inline]
    fn write_str(&mut self, text: &str) -> fmt::Result {
        if self.to.len() + text.len() > self.longest {
            self.is_over = true;
            return Err(fmt::Error);
        }
        self.to.push_str(text);
        Ok(())
    }
}

/// The one error of it.
#[cold]
pub(super) fn too_long(longest: usize) -> FormatError {
    let mut digits = String::new();
    // Writing to a `String` does not fail.
    let _ = write!(digits, "{longest}");
    FormatError::new(FormatErrorKind::TooLong, &digits)
        .expecting("shorten the arguments, or show them less often; the limit is for one text")
}
