//! A redirect to a page in the reader's language.

/// A redirect to a page in the reader's language, for a handler to answer with: 303, for this visitor only. Made by
/// [`Translator::redirect`](crate::Translator::redirect).
#[derive(Clone, Debug, PartialEq, Eq)]
#[must_use = "it does nothing until a handler answers with it"]
pub struct LocaleRedirect {
    pub(crate) address: String,
}

impl LocaleRedirect {
    /// The address it leads to.
    pub fn address(&self) -> &str {
        &self.address
    }

    #[cfg(any(feature = "axum", feature = "actix"))]
    pub(crate) const CACHE_CONTROL: &'static str = "private, no-store";
}
