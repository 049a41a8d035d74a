//! The web part: a `tower` layer over the types of the `http` crate, and what adapters for other frameworks share
//! with it.
//!
//! The layer reads a request into plain facts, has the policy decide, and applies the answer: it strips the
//! prefix, hands a [`Translator`](crate::Translator) on in the request's extensions, redirects, and sets
//! `Content-Language` and `Vary`.

mod cookies;
mod extract;
mod facts;
mod head;
mod layer;
mod plan;
mod reply;
mod switch;

#[cfg(any(feature = "axum", feature = "actix"))]
pub(crate) use extract::OfTranslator;
pub use extract::{MissingLayer, RequestDecision, RequestLocale};
pub use head::VisitorSettings;
pub use layer::{LocaleLayer, LocaleService};

/// What an adapter for another framework is made from.
#[cfg(feature = "actix")]
pub(crate) mod adapter {
    pub(crate) use super::facts::SessionEntries;
    pub(crate) use super::head::{RequestHead, ResponseHead};
    pub(crate) use super::plan::{Inputs, Plan, announce, session_writes};
    pub(crate) use super::reply::Reply;
    pub(crate) use super::switch::{MAX_FORM, choose, is_switch};
}
