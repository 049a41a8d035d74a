//! A text of a file.

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::sync::Arc;
use core::ops::Range;

/// A text of a file. Most stand there as they are, and need no copy.
#[derive(Clone, Debug)]
pub(super) enum FileText {
    /// As it stands there.
    Slice(Arc<str>, Range<u32>),
    /// Escapes were resolved, or lines joined.
    Own(Box<str>),
}

impl FileText {
    /// What was read from the file: where it is borrowed, from this `file` itself.
    pub(super) fn of(file: &Arc<str>, read: Cow<'_, str>) -> Self {
        match read {
            Cow::Borrowed(part) => {
                Self::slice(file, span(file, part)).unwrap_or_else(|| Self::Own(part.into()))
            }
            Cow::Owned(text) => Self::Own(text.into()),
        }
    }

    fn slice(file: &Arc<str>, range: Range<usize>) -> Option<Self> {
        let range = u32::try_from(range.start).ok()?..u32::try_from(range.end).ok()?;
        Some(Self::Slice(Arc::clone(file), range))
    }

    pub(super) fn as_str(&self) -> &str {
        match self {
            Self::Slice(file, range) => {
                file.get(range.start as usize..range.end as usize).unwrap_or_default()
            }
            Self::Own(text) => text,
        }
    }
}

/// Where a stretch of a text stands in it.
pub(super) fn span(text: &str, part: &str) -> Range<usize> {
    let start = (part.as_ptr() as usize).saturating_sub(text.as_ptr() as usize).min(text.len());
    start..(start + part.len()).min(text.len())
}
