//! The web part: a `tower` layer over the types of the `http` crate.
//!
//! The layer reads a request into plain facts, has the policy decide, and applies the answer: it strips the
//! prefix, hands a [`Translator`](crate::Translator) on in the request's extensions, redirects, and sets
//! `Content-Language` and `Vary`.

mod cookies;
mod extensions;
mod facts;
mod layer;
mod respond;
mod switch;

pub use extensions::{OriginalPath, VisitorLocale};
pub use layer::{LocaleLayer, LocaleService};
