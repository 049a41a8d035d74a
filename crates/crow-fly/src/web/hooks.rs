//! What an application knows of its visitors: functions of its own that the layer calls.

use std::error::Error;

use http::request::Parts;

use super::settings::VisitorSettings;
use super::switch::Choice;
use crate::sessions::HookFuture;

/// The result of storing a choice.
pub type Stored = Result<(), Box<dyn Error + Send + Sync>>;

/// Finds the settings of a request's signed-in visitor.
pub(crate) type FindSettings =
    dyn for<'a> Fn(&'a Parts) -> HookFuture<'a, Option<VisitorSettings>> + Send + Sync;

/// Stores the choice of a request's signed-in visitor.
pub(crate) type StoreChoice = dyn for<'a> Fn(&'a Parts, &'a Choice) -> HookFuture<'a, Stored> + Send + Sync;
