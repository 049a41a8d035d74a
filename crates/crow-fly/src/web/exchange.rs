//! One request's way: a state machine without input or output, the same for every framework.
//!
//! An adapter makes an [`Exchange`] for each request, hands it the request's head, and does what each [`Step`] says
//! until one of them is the last. What a request means is decided here; how a framework reads a session, collects a
//! body or calls its handlers is the adapter's.
//!
//! ```
//! use crow_fly::web::exchange::{Exchange, Input, Step};
//! # use crow_fly::{Config, CrowFly, source::Memory};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
//! # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
//! let (head, ()) = http::Request::get("/cy/sailings?day=2").body(()).unwrap().into_parts();
//! let mut exchange = Exchange::new(&crow);
//! let mut input = Input::Begin;
//! let serving = loop {
//!     input = match exchange.step(&head, input) {
//!         // A framework without sessions and accounts has nothing to tell.
//!         Step::Session(_) | Step::VisitorSettings | Step::Form | Step::Remember(_) => Input::Nothing,
//!         Step::Catalogs(needs) => Input::Catalogs(crow.load(needs).await),
//!         Step::Respond(reply) => panic!("answered with {}", reply.status()),
//!         Step::PassOn(_) => panic!("not a page of the application's"),
//!         Step::Serve(serving) => break serving,
//!     };
//! };
//! // What the application is asked, and with which translator.
//! assert_eq!(serving.address(), Some("/sailings?day=2"));
//! assert_eq!(serving.translator().locale().to_string(), "cy");
//! let mut answer = http::Response::new("…");
//! assert!(serving.finish(&mut answer).is_none());
//! assert_eq!(answer.headers()["content-language"], "cy");
//! # Ok(()) }
//! ```

use std::sync::Arc;
use std::time::Duration;

use crow_fly_core::policy::{Asked, Decision, Explanation, Facts, LocaleSource, Outcome};
use tracing::{debug, warn};

use super::announce;
use super::announce::Announcement;
use super::facts::{self, HeadFacts};
use super::serving::Serving;
use super::switch;
use crate::config::Area;
use crate::crow_fly::CrowFly;
use crate::inspector::Entry;
use crate::store::{Completeness, Generation, Loaded};
use crate::translator::with_query;

pub use super::head::{RequestHead, ResponseHead};
pub use super::passed_on::PassedOn;
pub use super::reply::Reply;
pub use super::settings::VisitorSettings;
pub use super::switch::Choice;
pub use crate::sessions::{SessionEntries, SessionKeys};
pub use crate::store::CatalogNeeds;

/// The largest form that is read at the switch address, in bytes. One that names a locale and an address is far
/// smaller; a larger one is [`Input::FormTooLarge`].
pub const MAX_FORM: usize = 8 * 1024;

/// How long a form may take to arrive. One that is not there by then is [`Input::FormTooSlow`].
pub const FORM_TIMEOUT: Duration = Duration::from_secs(5);

/// One request on its way. It holds nothing of the request: the head is handed to each step.
#[derive(Debug)]
pub struct Exchange {
    crow: CrowFly,
    has_begun: bool,
    /// What the adapter has been told to do; none before the first step, and after the last.
    doing: Option<Doing>,
    asked: Asked,
    session: SessionEntries,
    visitor: Option<VisitorSettings>,
    /// The decision in words, where somebody wants them.
    explanation: Option<Box<Explanation>>,
    explaining: bool,
    /// Why a choice was refused.
    refusal: Option<&'static str>,
}

/// What the adapter has been told to do.
#[derive(Debug)]
enum Doing {
    AskingSession,
    AskingVisitor,
    AwaitingForm,
    AskingSessionToRemember(Choice, Reply),
    Remembering(Reply),
    Loading(Box<Decision>, Announcement),
}

/// What the adapter does next.
#[derive(Debug)]
pub enum Step {
    /// Read these keys of the request's session, without creating or touching one. Answer with [`Input::Session`], or
    /// [`Input::Nothing`] where the request has no session.
    Session(SessionKeys),
    /// Find the settings of the signed-in visitor. Answer with [`Input::VisitorSettings`], or [`Input::Nothing`].
    VisitorSettings,
    /// Read the request's body, up to [`MAX_FORM`] bytes and for [`FORM_TIMEOUT`]. Answer with [`Input::Form`],
    /// [`Input::FormTooLarge`] or [`Input::FormTooSlow`].
    Form,
    /// Remember a choice: write [`session_writes`](Choice::session_writes) into the request's session, and tell the
    /// application. Answer with [`Input::Nothing`], also where that failed: the cookie remembers it, too.
    Remember(Choice),
    /// Load catalogs, by [`CrowFly::load`]. Answer with [`Input::Catalogs`].
    Catalogs(CatalogNeeds),
    /// Answer the request with this; the application is not asked. The last step.
    Respond(Reply),
    /// Hand the request on as it is: it is not for a page of the application's. Extractors of the framework find this in
    /// the request's extensions, where a handler asks for a translator all the same. The last step.
    PassOn(PassedOn),
    /// Hand the request on with these changes, and change the answer. The last step.
    Serve(Serving),
}

/// What an adapter answers a [`Step`] with. An input that does not fit the step counts as [`Input::Nothing`].
#[derive(Debug)]
pub enum Input {
    /// The request has come in.
    Begin,
    /// There is nothing of what was asked for, or nothing more to tell.
    Nothing,
    /// What the session holds.
    Session(SessionEntries),
    /// The signed-in visitor's settings.
    VisitorSettings(VisitorSettings),
    /// A posted form.
    Form(Vec<u8>),
    /// The form is larger than [`MAX_FORM`].
    FormTooLarge,
    /// The form did not arrive within [`FORM_TIMEOUT`].
    FormTooSlow,
    /// The catalogs.
    Catalogs(LoadedCatalogs),
}

/// Catalogs that are in memory. Made by [`CrowFly::load`].
#[derive(Clone, Debug)]
pub struct LoadedCatalogs(pub(crate) Loaded);

impl LoadedCatalogs {
    /// Whether all that was needed is there.
    pub fn are_complete(&self) -> bool {
        self.0.completeness == Completeness::All
    }
}

impl Exchange {
    /// A request that has come in.
    pub fn new(crow: &CrowFly) -> Self {
        Self {
            crow: crow.clone(),
            has_begun: false,
            doing: None,
            asked: Asked::default(),
            session: SessionEntries::default(),
            visitor: None,
            explanation: None,
            explaining: false,
            refusal: None,
        }
    }

    /// The same, with its decision put into words.
    pub(super) fn explaining(crow: &CrowFly) -> Self {
        Self { explaining: true, ..Self::new(crow) }
    }

    /// Why a choice was refused.
    pub(super) const fn refusal(&self) -> Option<&'static str> {
        self.refusal
    }

    /// The decision in words.
    pub(super) fn into_explanation(self) -> Option<Box<Explanation>> {
        self.explanation
    }

    /// Takes the answer to the step before, [`Input::Begin`] at first, and says what to do next. The head is the
    /// same, unchanged, at each step.
    pub fn step(&mut self, head: &impl RequestHead, input: Input) -> Step {
        if self.has_begun {
            return self.go_on(head, input);
        }
        self.has_begun = true;
        if head.path() == &*self.crow.config().switch_path { self.switch(head) } else { self.decide(head) }
    }

    /// Takes the answer to a step.
    fn go_on(&mut self, head: &impl RequestHead, input: Input) -> Step {
        let Some(doing) = self.doing.take() else { return Step::PassOn(PassedOn::new(&self.crow)) };
        match (doing, input) {
            (Doing::AwaitingForm, Input::Form(form)) => self.choose(head, &form),
            (Doing::AwaitingForm, Input::FormTooLarge) => Step::Respond(Reply::empty(413)),
            (Doing::AwaitingForm, Input::FormTooSlow) => Step::Respond(Reply::empty(408)),
            (Doing::AwaitingForm, _) => self.choose(head, &[]),
            (Doing::AskingSessionToRemember(mut choice, reply), input) => {
                if !matches!(input, Input::Session(entries) if entries.is_there()) {
                    choice.forget_session();
                }
                self.remember(choice, reply)
            }
            (Doing::Remembering(reply), _) => Step::Respond(reply),
            (Doing::Loading(decision, announcement), Input::Catalogs(LoadedCatalogs(loaded))) => {
                self.serve_loaded(head, decision, announcement, loaded)
            }
            (Doing::Loading(..), _) => Step::Respond(unavailable()),
            (Doing::AskingSession, Input::Session(entries)) => {
                self.session = entries;
                self.decide(head)
            }
            (Doing::AskingVisitor, Input::VisitorSettings(settings)) => {
                self.visitor = Some(settings);
                self.decide(head)
            }
            (Doing::AskingSession | Doing::AskingVisitor, _) => self.decide(head),
        }
    }

    /// The switch address: a page is not asked for.
    fn switch(&mut self, head: &impl RequestHead) -> Step {
        match head.method() {
            "GET" | "HEAD" => self.choose(head, &[]),
            "POST" => {
                self.doing = Some(Doing::AwaitingForm);
                Step::Form
            }
            _ => {
                let mut reply = Reply::empty(405);
                reply.add("allow", "GET, HEAD, POST");
                Step::Respond(reply)
            }
        }
    }

    fn choose(&mut self, head: &impl RequestHead, form: &[u8]) -> Step {
        match switch::choose(self.crow.config(), head, form) {
            Err(reason) => {
                if !self.explaining {
                    warn!(target: "crow_fly::switch", reason, "a choice was refused");
                }
                self.note(head, || format!("a choice is refused: {reason}"));
                self.refusal = Some(reason);
                Step::Respond(Reply::empty(400))
            }
            Ok(switch::Switched { choice: None, reply }) => Step::Respond(reply),
            Ok(switch::Switched { choice: Some(choice), reply }) => {
                self.note(head, || {
                    let locale = choice.locale().map(ToString::to_string).unwrap_or_default();
                    format!("{}, a choice: {locale}", reply.status())
                });
                if !self.explaining {
                    choice.log();
                    self.crow.warn_of_plain_http(head);
                }
                if choice.session_writes().next().is_some() {
                    self.doing = Some(Doing::AskingSessionToRemember(choice, reply));
                    return Step::Session(self.crow.config().session_keys());
                }
                self.remember(choice, reply)
            }
        }
    }

    fn remember(&mut self, choice: Choice, reply: Reply) -> Step {
        self.doing = Some(Doing::Remembering(reply));
        Step::Remember(choice)
    }

    /// Asks what is still to be asked, or decides.
    fn decide(&mut self, head: &impl RequestHead) -> Step {
        let config = self.crow.config();
        let (number, area) = config.area_of(head.path());
        let policy = &area.policy;
        let path = policy.read(head.path());
        let logging =
            !self.explaining && tracing::enabled!(target: "crow_fly::decisions", tracing::Level::DEBUG);
        let noting = !self.explaining && self.crow.journal().is_some();
        let explaining = self.explaining || logging || noting;
        // What was sent and is not needed is shown, too, where somebody looks.
        let reads_all = explaining || !policy.needs_only_address(&path);
        let read = reads_all.then(|| HeadFacts::of(head, config, area));
        let facts = match &read {
            Some(read) => read.facts(head, &self.session, self.visitor.as_ref()),
            None => facts::of_address(head),
        };
        match policy.next_to_ask(&facts, &path, self.asked) {
            Some(LocaleSource::Session) => {
                self.asked.session = true;
                self.doing = Some(Doing::AskingSession);
                return Step::Session(self.crow.config().session_keys());
            }
            Some(_) => {
                self.asked.visitor = true;
                self.doing = Some(Doing::AskingVisitor);
                return Step::VisitorSettings;
            }
            None => {}
        }
        let decision = Box::new(policy.decide_read(&facts, path));
        if explaining {
            let explanation = explanation(area, &facts, &decision);
            if logging {
                log(facts.path, &explanation);
            }
            self.explanation = Some(Box::new(explanation));
        }
        self.carry_out(head, decision, number)
    }

    fn carry_out(&mut self, head: &impl RequestHead, decision: Box<Decision>, area: usize) -> Step {
        match &decision.outcome {
            Outcome::Serve(_) => {}
            // Files of the site are no pages: they would be all that is left of the last requests.
            Outcome::Skip => return Step::PassOn(PassedOn::new(&self.crow)),
            Outcome::Redirect { status, location } => {
                self.note(head, || format!("{status} to {location}"));
                let mut reply = Reply::redirect(*status, location.clone());
                announce::vary(&mut reply, decision.vary(), self.crow.config().area(area));
                return Step::Respond(reply);
            }
            _ => return Step::Respond(Reply::empty(404)),
        }
        let announcement = Announcement::of(&decision, area);
        let path = match &decision.outcome {
            Outcome::Serve(path) if !self.crow.config().catalogs.loads_all() => Some(&**path),
            _ => None,
        };
        let needs = CatalogNeeds::of(self.crow.config(), decision.locale, path);
        if let Some(generation) = self.crow.store().ready(&needs) {
            return self.serve(head, decision, announcement, generation);
        }
        self.doing = Some(Doing::Loading(decision, announcement));
        Step::Catalogs(needs)
    }

    fn serve_loaded(
        &self,
        head: &impl RequestHead,
        decision: Box<Decision>,
        mut announcement: Announcement,
        loaded: Loaded,
    ) -> Step {
        match loaded.completeness {
            Completeness::All => {}
            Completeness::Nothing if self.crow.config().catalogs.refuses => {
                warn!(
                    target: "crow_fly::catalogs",
                    path = head.path(), locale = self.crow.policy().set().text(decision.locale),
                    "nothing of the chain is in memory: the request is answered with 503",
                );
                return Step::Respond(unavailable());
            }
            Completeness::Part | Completeness::Nothing => announcement.forbid_storing(),
        }
        self.serve(head, decision, announcement, loaded.generation)
    }

    fn serve(
        &self,
        head: &impl RequestHead,
        decision: Box<Decision>,
        announcement: Announcement,
        generation: Arc<Generation>,
    ) -> Step {
        let entry = self.note(head, || match &decision.outcome {
            Outcome::Serve(path) => format!("the application, asked for {path}"),
            _ => String::new(),
        });
        Step::Serve(Serving::new(&self.crow, head, decision, announcement, generation, entry))
    }
}

impl Exchange {
    /// Notes a request, where somebody looks at them.
    fn note(&self, head: &impl RequestHead, answer: impl FnOnce() -> String) -> Option<Arc<Entry>> {
        let journal = self.crow.journal().filter(|_| !self.explaining)?;
        let address = with_query(head.path(), head.query());
        let decision = self.explanation.as_deref().cloned();
        Some(journal.note(head.method(), address, answer(), decision))
    }
}

/// No text can be shown: the visitor may come again soon.
pub(super) fn unavailable() -> Reply {
    let mut reply = Reply::empty(503);
    reply.add("retry-after", RETRY_AFTER);
    reply.add("cache-control", "no-store");
    reply
}

/// How many seconds a visitor is asked to wait where catalogs cannot be loaded: about as long as the first pauses between
/// attempts.
const RETRY_AFTER: &str = "2";

/// A decision in words; the header that names a locale is called by its name.
fn explanation(area: &Area, facts: &Facts<'_>, decision: &Decision) -> Explanation {
    let mut explanation = area.policy.explain(facts, decision);
    if let Some(name) = &area.header_name {
        let unnamed = explanation.vary.iter_mut().filter(|other| *other == "header");
        unnamed.for_each(|other| name.as_str().clone_into(other));
    }
    explanation
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
