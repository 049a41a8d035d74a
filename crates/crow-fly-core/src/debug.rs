//! Errors print for `{:?}` what they print for `{}`, and why: a `main` that returns one shows it so.

use core::fmt;

/// Writes an error, and the errors that it came from.
pub fn shown(error: &dyn core::error::Error, f: &mut fmt::Formatter<'_>) -> fmt::Result {
    write!(f, "{error}")?;
    let causes = core::iter::successors(error.source(), |cause| cause.source());
    causes.take(8).try_for_each(|cause| write!(f, ": {cause}"))
}

/// `Debug` of an error, as people read it.
#[doc(hidden)]
#[macro_export]
macro_rules! debug_as_shown {
    ($error:ident) => {
        impl ::core::fmt::Debug for $error {
            fn fmt(&self, f: &mut ::core::fmt::Formatter<'_>) -> ::core::fmt::Result {
                $crate::debug::shown(self, f)
            }
        }
    };
}
