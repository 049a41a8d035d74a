//! A page: what is asked for a decision, the decision, and what it needs of the catalogs.

use std::sync::Arc;

use crow_fly_core::policy::{Asked, Decision, Explanation, Outcome, SessionValue, TimeZoneFacts, ToAsk};
use crow_fly_core::time_zone::TimeZoneName;
use http::HeaderValue;
use tracing::{debug, warn};

use super::{
    PassedOn, Reply, RequestHead, ResponseHead, Serving, SessionEntries, SessionKeys, VisitorSettings, Whom,
};
use crate::journal::Entry;
use crate::site::Site;
use crate::store::{CatalogNeeds, Completeness, Generation, Loaded};
use crate::web::announce::{self, Announcement};
use crate::web::facts::{self, HeadFacts};
use crate::web::failure::{FailureReason, LayerFailure, wants_json};

/// What the adapter does next for a request that may be for a page.
#[derive(Debug)]
pub enum PageStep {
    /// Read these keys of the request's session, without creating or touching one.
    Session(AskedForSession),
    /// Find the settings of the signed-in visitor.
    VisitorSettings(AskedForSettings),
    /// Load catalogs.
    Catalogs(AskedForCatalogs),
    /// Answer the request with this; the application is not asked. The last step.
    Respond(Reply),
    /// Hand the request on as it is: it is not for a page of the application's. Extractors of the framework find this in
    /// the request's extensions, where a handler asks for a translator all the same. The last step.
    PassOn(PassedOn),
    /// Hand the request on with these changes, and change the answer. The last step.
    Serve(Serving),
}

/// The session is asked for.
#[derive(Debug)]
pub struct AskedForSession(Box<Page>);

impl AskedForSession {
    /// The keys to read.
    pub fn keys(&self) -> SessionKeys {
        self.0.whom.site.config().session_keys()
    }

    /// Takes what the session has; [`SessionEntries::default`] where the request has no session.
    pub fn answer(mut self, head: &impl RequestHead, entries: SessionEntries) -> PageStep {
        self.0.session = entries;
        self.0.decide(head)
    }

    /// Goes on as if there were no session, since it has not answered in time: no cache keeps the answer.
    pub fn unanswered(mut self, head: &impl RequestHead) -> PageStep {
        self.0.lacks_an_answer = true;
        self.0.decide(head)
    }
}

/// The settings of the signed-in visitor are asked for.
#[derive(Debug)]
pub struct AskedForSettings(Box<Page>);

impl AskedForSettings {
    /// Takes the settings; none where nobody has signed in.
    pub fn answer(mut self, head: &impl RequestHead, settings: Option<VisitorSettings>) -> PageStep {
        self.0.visitor = settings;
        self.0.decide(head)
    }

    /// Goes on as if nobody had signed in, since the application has not answered in time: no cache keeps the answer.
    pub fn unanswered(mut self, head: &impl RequestHead) -> PageStep {
        self.0.lacks_an_answer = true;
        self.0.decide(head)
    }
}

/// Catalogs are asked for.
#[derive(Debug)]
pub struct AskedForCatalogs(Box<Needing>);

/// A page that needs catalogs.
#[derive(Debug)]
struct Needing {
    page: Page,
    needs: CatalogNeeds,
    then: Then,
}

/// What follows when catalogs are there.
#[derive(Debug)]
enum Then {
    Serve(Box<Decision>, Announcement),
    /// The path is skipped, and its code may ask for texts without waiting.
    PassOn,
}

impl AskedForCatalogs {
    /// Loads them, as long as the configuration says that a request waits.
    pub async fn load(self, head: &impl RequestHead) -> PageStep {
        let loaded = self.0.page.whom.site.store().load(&self.0.needs).await;
        self.loaded(head, loaded)
    }

    /// Goes on as if all of them were in memory.
    pub(in crate::web) fn without_loading(self, head: &impl RequestHead) -> PageStep {
        let loaded = self.0.page.whom.site.store().unloaded();
        self.loaded(head, loaded)
    }

    fn loaded(self, head: &impl RequestHead, loaded: Loaded) -> PageStep {
        let Needing { page, then, .. } = *self.0;
        let Then::Serve(decision, mut announcement) = then else {
            return PageStep::PassOn(PassedOn::new(&page.whom.site));
        };
        let config = page.whom.site.config();
        match loaded.completeness {
            Completeness::All => {}
            Completeness::Nothing if config.catalogs.refuses => {
                warn!(
                    target: "crow_fly::catalogs",
                    path = head.path(), locale = config.policy().set().text(decision.locale),
                    "nothing of the chain is in memory: the request is answered with 503",
                );
                let tag = config.policy().set().tag(decision.locale).clone();
                let failure = LayerFailure::new(tag, FailureReason::NoCatalogs, wants_json(head));
                return PageStep::Respond(Reply::unavailable().of_failure(failure));
            }
            Completeness::Part | Completeness::Nothing => announcement.forbid_storing(),
        }
        page.serve(head, decision, announcement, loaded.generation)
    }
}

/// A request that may be for a page, on its way. It holds nothing of the request.
#[derive(Debug)]
struct Page {
    whom: Whom,
    asked: Asked,
    session: SessionEntries,
    visitor: Option<VisitorSettings>,
    /// Whether the application has not answered in time.
    lacks_an_answer: bool,
    /// The decision in words, where somebody wants them.
    explanation: Option<Box<Explanation>>,
}

/// The first step.
pub(super) fn begin(whom: Whom, head: &impl RequestHead) -> PageStep {
    let (asked, session) = (Asked::default(), SessionEntries::default());
    Page { whom, asked, session, visitor: None, lacks_an_answer: false, explanation: None }.decide(head)
}

impl Page {
    /// Asks what is still to be asked, or decides.
    fn decide(mut self, head: &impl RequestHead) -> PageStep {
        let config = self.whom.site.config();
        let (number, area) = config.area_of(head.path());
        let policy = &area.policy;
        let path = policy.read(head.path());
        let only_asks = self.whom.only_asks();
        let logging = !only_asks && tracing::enabled!(target: "crow_fly::decisions", tracing::Level::DEBUG);
        let explaining = only_asks || logging || self.whom.site.journal().is_some();
        // What was sent and is not needed is shown, too, where somebody looks.
        let reads_all = explaining || !policy.needs_only_address(&path);
        let read = reads_all.then(|| HeadFacts::of(head, config, area));
        let facts = match &read {
            Some(read) => read.facts(head, &self.session, self.visitor.as_ref()),
            None => facts::of_address(head),
        };
        match policy.next_to_ask(&facts, &path, self.asked) {
            Some(ToAsk::Session) => {
                self.asked.session = true;
                return PageStep::Session(AskedForSession(Box::new(self)));
            }
            Some(ToAsk::VisitorSettings) => {
                self.asked.visitor = true;
                return PageStep::VisitorSettings(AskedForSettings(Box::new(self)));
            }
            None => {}
        }
        let decision = Box::new(policy.decide_read(&facts, path));
        if decision.follows_visitor_zone() && !only_asks {
            warn_of_stored_zone(&self.whom.site, &facts.time_zone);
        }
        if explaining {
            let explanation = policy.explain(&facts, &decision);
            if logging {
                log(facts.path, &explanation);
            }
            if let Some(told) = &self.whom.told {
                // It is decided once.
                let _ = told.explanation.set(explanation);
            } else {
                self.explanation = Some(Box::new(explanation));
            }
        }
        self.carry_out(head, decision, number)
    }

    fn carry_out(self, head: &impl RequestHead, decision: Box<Decision>, area: usize) -> PageStep {
        let site = &self.whom.site;
        let config = site.config();
        match &decision.outcome {
            Outcome::Serve(_) => {}
            // Files of the site are no pages: they would be all that is left of the last requests.
            Outcome::Skip => return self.pass_on(),
            Outcome::Redirect { status, location } => {
                self.note(head, || format!("{status} to {location}"));
                let mut reply = Reply::redirect(*status, location.clone());
                announce::vary(&mut reply, decision.depends_on(), config.area(area));
                // A redirect by preference is never kept.
                if self.lacks_an_answer && *status == 308 {
                    reply.set("cache-control", HeaderValue::from_static("no-store"));
                }
                return PageStep::Respond(reply);
            }
            _ => return PageStep::Respond(Reply::empty(404)),
        }
        let mut announcement = Announcement::of(head, &decision, config, area);
        if self.lacks_an_answer {
            announcement.forbid_storing();
        }
        let path = match &decision.outcome {
            Outcome::Serve(path) if !config.catalogs.loads_all() => Some(&**path),
            _ => None,
        };
        let needs = CatalogNeeds::of(config, decision.locale, path);
        if let Some(generation) = site.store().ready(&needs) {
            return self.serve(head, decision, announcement, generation);
        }
        self.load(needs, Then::Serve(decision, announcement))
    }

    /// Passes a request on. Before the first one, what every page needs is loaded: the code of skipped paths may not be able
    /// to wait.
    fn pass_on(self) -> PageStep {
        let site = &self.whom.site;
        if !self.whom.only_asks() && site.once.skipped.is_first() {
            let needs = CatalogNeeds::of(site.config(), site.policy().set().default_locale(), None);
            if site.store().ready(&needs).is_none() {
                return self.load(needs, Then::PassOn);
            }
        }
        PageStep::PassOn(PassedOn::new(site))
    }

    fn load(self, needs: CatalogNeeds, then: Then) -> PageStep {
        PageStep::Catalogs(AskedForCatalogs(Box::new(Needing { page: self, needs, then })))
    }

    fn serve(
        self,
        head: &impl RequestHead,
        decision: Box<Decision>,
        announcement: Announcement,
        generation: Arc<Generation>,
    ) -> PageStep {
        let entry = self.note(head, || match &decision.outcome {
            Outcome::Serve(path) => format!("serves {path}"),
            _ => String::new(),
        });
        PageStep::Serve(Serving::new(self.whom.site, head, decision, announcement, generation, entry))
    }

    fn note(&self, head: &impl RequestHead, answer: impl FnOnce() -> String) -> Option<Arc<Entry>> {
        self.whom.note(head, self.explanation.as_deref(), answer)
    }
}
/// Logs, once, that a stored time zone is none. What a cookie has is the visitor's own affair.
fn warn_of_stored_zone(site: &Site, facts: &TimeZoneFacts<'_>) {
    let session = match facts.session {
        SessionValue::Text(text) => Some(text),
        _ => None,
    };
    let stored = [(facts.visitor, "visitor"), (session, "session")];
    let wrong = stored.into_iter().find_map(|(zone, source)| {
        let zone = zone.filter(|zone| zone.parse::<TimeZoneName>().is_err())?;
        Some((zone, source))
    });
    if let Some((time_zone, source)) = wrong
        && site.once.stored_zone.is_first()
    {
        warn!(
            target: "crow_fly::time_zones", time_zone, source,
            help = "store a name of the IANA database: `Europe/London`",
            "a stored time zone is not one: the next source is asked",
        );
    }
}

/// One event for each decision; its words are only made where somebody listens.
fn log(path: &str, explanation: &Explanation) {
    debug!(
        target: "crow_fly::decisions",
        path, locale = explanation.locale, source = %explanation.source, outcome = explanation.outcome,
        time_zone = explanation.time_zone, trace = ?explanation.trace,
        "decided",
    );
}
