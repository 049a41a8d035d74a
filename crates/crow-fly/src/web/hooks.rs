//! What an application knows of its visitors: functions of its own that the layer calls.

use std::error::Error;
use std::future::Future;

use http::request::Parts;
use tracing::warn;

use super::settings::VisitorSettings;
use super::switch::Choice;
use crate::sessions::HookFuture;
use crate::site::Site;
use crate::store::is_told;

/// The result of storing a choice.
pub type Stored = Result<(), Box<dyn Error + Send + Sync>>;

/// Finds the settings of a request's signed-in visitor.
pub(crate) type FindSettings =
    dyn for<'a> Fn(&'a Parts) -> HookFuture<'a, Option<VisitorSettings>> + Send + Sync;

/// Stores the choice of a request's signed-in visitor.
pub(crate) type StoreChoice = dyn for<'a> Fn(&'a Parts, &'a Choice) -> HookFuture<'a, Stored> + Send + Sync;

/// What a hook gives within the limit of the configuration; none where it has not answered by then. That is logged the first time, the
/// tenth, the hundredth.
pub(super) async fn within_limit<T>(
    site: &Site,
    hook: &'static str,
    path: &str,
    answer: impl Future<Output = T>,
) -> Option<T> {
    let limit = site.config().hook_limit;
    if let Ok(answer) = tokio::time::timeout(limit, answer).await {
        return Some(answer);
    }
    let count = site.count_late_hook();
    if is_told(count) {
        warn!(
            target: "crow_fly::hooks", hook, path, ?limit, count, help = "`hook-seconds` in `[policy]` is the limit",
            "a hook has not answered in time: the request goes on without it",
        );
    }
    None
}
