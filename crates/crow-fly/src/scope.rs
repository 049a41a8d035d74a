//! The translator of the running request, for code that has no request at hand.

use std::future::Future;

use crate::translator::Translator;

tokio::task_local! {
    static CURRENT: Translator;
}

/// The translator of the request this code runs for; none outside of one, and none in a task that the request
/// spawned: hand it over there.
pub fn current() -> Option<Translator> {
    CURRENT.try_with(Clone::clone).ok()
}

/// Runs a future with another translator: a block in another locale, a job without a request.
///
/// ```
/// # use crow_fly::{current, within, Config, CrowFly, source::Memory};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
/// let welsh = crow.translator(&"cy".parse()?).await.unwrap();
/// let locale = within(welsh, async { current().unwrap().locale().to_string() }).await;
/// assert_eq!(locale, "cy");
/// assert!(current().is_none());
/// # Ok(()) }
/// ```
pub async fn within<F: Future>(translator: Translator, future: F) -> F::Output {
    CURRENT.scope(translator, future).await
}
