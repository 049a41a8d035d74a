//! What happens with one request: the part that every framework's adapter shares.
//!
//! An adapter reads what the plan [asks](Inputs) for, makes the [`Plan`], and carries it out.

use crow_fly_core::policy::{Decision, Facts, LocaleSource, Outcome, Remember};
use crow_fly_core::route::PathMatch;
use tracing::debug;

use super::facts::{RequestReading, SessionEntries};
use super::head::{RequestHead, ResponseHead, VisitorSettings};
use super::reply::{self, Reply};
use crate::crow_fly::CrowFly;

/// What must be read before a request can be decided. Reading it may ask another machine: only where the answer can
/// matter.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Inputs {
    pub(crate) session: bool,
    pub(crate) visitor: bool,
}

impl Inputs {
    pub(crate) fn of(crow: &CrowFly, path_match: Option<&PathMatch<'_>>) -> Self {
        let asks = |source| crow.policy().asks(source, path_match);
        Self { session: asks(LocaleSource::Session), visitor: asks(LocaleSource::Visitor) }
    }
}

/// What happens with a request.
#[derive(Debug)]
#[expect(clippy::large_enum_variant, reason = "nearly every request is served")]
pub(crate) enum Plan {
    /// Crow Fly answers.
    Reply(Reply),
    /// The request goes on as it is.
    Untouched,
    /// The application answers.
    Serve {
        decision: Decision,
        /// There is no such address: the application shows its page for that.
        missing: bool,
    },
}

impl Plan {
    /// Decides a request; says too what is to be remembered.
    pub(crate) fn of(
        crow: &CrowFly,
        head: &impl RequestHead,
        path: Option<PathMatch<'_>>,
        session: &SessionEntries,
        visitor: Option<&VisitorSettings>,
    ) -> (Self, Remember) {
        let config = crow.config();
        let path_match = RequestReading::of(head, config);
        let facts = path_match.facts(head, config, session, visitor);
        let decision = config.policy.decide_parsed(&facts, path);
        log(crow, &facts, &decision);
        let remember = decision.remember;
        let plan = match &decision.outcome {
            Outcome::Redirect { status, location } => {
                let mut reply = Reply::redirect(*status, location.clone());
                reply::vary(&mut reply, decision.vary(), config);
                Self::Reply(reply)
            }
            Outcome::Serve(_) => Self::Serve { decision, missing: false },
            Outcome::Skip => Self::Untouched,
            // The application shows its own page for what does not exist; nothing but a page may be asked of it.
            Outcome::NotFound if head.is_page() => Self::Serve { decision, missing: true },
            _ => Self::Reply(Reply::status(404)),
        };
        (plan, remember)
    }
}

/// The keys and values that a session is to remember.
pub(crate) fn session_writes(crow: &CrowFly, remember: Remember) -> impl Iterator<Item = (&str, &str)> {
    let config = crow.config();
    let locale =
        remember.session.map(|locale| (&*config.remember.session_key, crow.policy().set().text(locale)));
    let zone = remember.session_time_zone.map(|zone| (&*config.time_zone.session_key, zone.as_str()));
    locale.into_iter().chain(zone)
}

/// Adds what an answer of the application's lacks: its language, and what it depends on.
pub(crate) fn announce(
    head: &mut impl ResponseHead,
    crow: &CrowFly,
    locale: &str,
    vary: impl Iterator<Item = &'static str>,
) {
    reply::content_language(head, locale);
    reply::vary(head, vary, crow.config());
}

/// One event for each decision; the words are only made where somebody listens.
fn log(crow: &CrowFly, facts: &Facts<'_>, decision: &Decision) {
    if tracing::enabled!(target: "crow_fly::decisions", tracing::Level::DEBUG) {
        let explanation = crow.policy().explain(facts, decision);
        debug!(
            target: "crow_fly::decisions",
            path = facts.path, locale = explanation.locale, source = %explanation.source, outcome = explanation.outcome,
            time_zone = explanation.time_zone, trace = ?explanation.trace,
            "decided",
        );
    }
}
