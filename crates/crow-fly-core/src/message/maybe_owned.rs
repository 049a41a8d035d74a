//! What belongs to the message or its arguments, or was made.

use alloc::boxed::Box;
use core::ops::Deref;

/// A value that is borrowed, or owned in a box: a pointer's size and a tag, whatever the value.
#[derive(Clone, Debug)]
pub(super) enum MaybeOwned<'a, T> {
    Borrowed(&'a T),
    Owned(Box<T>),
}

impl<T> Deref for MaybeOwned<'_, T> {
    type Target = T;

    fn deref(&self) -> &T {
        match self {
            Self::Borrowed(value) => value,
            Self::Owned(value) => value,
        }
    }
}
