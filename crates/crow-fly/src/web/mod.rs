//! The web part: one engine for a request, and its adapters.
//!
//! The [`exchange`] reads a request into plain facts, has the policy decide, and says what is to be done. An adapter
//! does it, for `tower` ([`LocaleLayer`]), axum ([`CrowFly::router`](crate::CrowFly::router)) or `actix-web`
//! ([`actix`]).

pub mod exchange;

#[cfg(feature = "actix")]
pub mod actix;

mod announce;
#[cfg(feature = "axum")]
mod axum;
mod cookies;
mod explain;
mod extract;
mod facts;
mod failure;
mod head;
mod hooks;
mod placement;
mod reply;
mod serving;
mod settings;
mod switch;
mod tower;

pub use crate::sessions::HookFuture;
pub use crate::translator::LocaleRedirect;
#[cfg(feature = "actix")]
pub(crate) use actix::LocaleMiddleware;
#[cfg(feature = "axum")]
pub use axum::Pages;
pub(crate) use explain::explain;
pub use explain::{ExplainedAnswer, ExplainedChoice, ExplainedHeader, ExplainedRequest, KnownOfVisitor};
pub use extract::{MissingLayer, MissingSections, RequestDecision, RequestLocale, Sections, TranslatorWith};
pub(crate) use facts::preferred;
pub use failure::{ErrorPage, FailureReason, LayerFailure, NoErrorPage};
pub use hooks::Stored;
pub use serving::Serving;
pub use settings::VisitorSettings;
pub use switch::Choice;
pub use tower::{LocaleLayer, LocaleService};
