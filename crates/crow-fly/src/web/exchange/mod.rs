//! One request's way: two machines without input or output, the same for every framework.
//!
//! An adapter gives a request's head to [`CrowFly::exchange`](crate::CrowFly::exchange). A request of the switch address
//! is answered by [`SwitchStep`]s: it may read a form and remember a choice. Every other request goes by [`PageStep`]s: it
//! may ask for a session, for a visitor's settings and for catalogs, and ends with an answer, or with what the application
//! is asked. Each step owns its answer: what it says is to be done is done by the adapter, and its method takes the
//! outcome and gives the next step. What a request means is decided here; how a framework reads a session, collects a
//! body or calls its handlers is the adapter's.
//!
//! ```
//! use crow_fly::web::exchange::{Exchange, PageStep, SessionEntries};
//! # use crow_fly::{Config, CrowFly, source::Memory};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
//! # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
//! let (head, ()) = http::Request::get("/cy/sailings?day=2").body(()).unwrap().into_parts();
//! let Exchange::Page(mut step) = crow.exchange(&head) else { panic!("it is not the switch address") };
//! let serving = loop {
//!     step = match step {
//!         // A framework without sessions and accounts has nothing to give.
//!         PageStep::Session(asked) => asked.answer(&head, SessionEntries::default()),
//!         PageStep::VisitorSettings(asked) => asked.answer(&head, None),
//!         PageStep::Catalogs(catalogs) => catalogs.load(&head).await,
//!         PageStep::Respond(reply) => panic!("answered with {}", reply.status()),
//!         PageStep::PassOn(_) => panic!("not a page of the application's"),
//!         PageStep::Serve(serving) => break serving,
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

use std::sync::{Arc, OnceLock};

use crow_fly_core::policy::Explanation;

use crate::journal::Entry;
use crate::site::Site;
use crate::translator::with_query;

mod page;
mod switching;

pub use super::head::{RequestHead, ResponseHead};
pub use super::reply::Reply;
pub use super::serving::Serving;
pub use super::settings::VisitorSettings;
pub use super::switch::Choice;
pub use crate::passed_on::PassedOn;
pub use crate::sessions::{SessionEntries, SessionKeys};
pub use page::{AskedForCatalogs, AskedForSession, AskedForSettings, PageStep};
pub use switching::{
    AskedForForm, AskedForSessionOfChoice, FORM_TIMEOUT, Form, MAX_FORM, Remembering, SwitchStep,
};

/// The first step of a request. Made by [`CrowFly::exchange`](crate::CrowFly::exchange).
#[derive(Debug)]
pub enum Exchange {
    /// A page, or a file of the site.
    Page(PageStep),
    /// The switch address: it never serves a page, and no other address reads a form or remembers a choice.
    Switch(SwitchStep),
}

impl Exchange {
    /// The first step of a request that has come in. The head is the same, unchanged, at each step.
    pub(crate) fn begin(site: &Arc<Site>, head: &impl RequestHead) -> Self {
        Self::begin_for(Whom { site: Arc::clone(site), told: None }, head)
    }

    /// The same, with what happens put into words.
    pub(super) fn begin_explaining(site: &Arc<Site>, head: &impl RequestHead, told: &Arc<Told>) -> Self {
        Self::begin_for(Whom { site: Arc::clone(site), told: Some(Arc::clone(told)) }, head)
    }

    fn begin_for(whom: Whom, head: &impl RequestHead) -> Self {
        if head.path() == &*whom.site.config().switch_path {
            Self::Switch(switching::begin(whom, head))
        } else {
            Self::Page(page::begin(whom, head))
        }
    }
}

/// What is told of a request that nobody is served by.
#[derive(Debug, Default)]
pub(super) struct Told {
    /// The decision, source by source.
    pub(super) explanation: OnceLock<Explanation>,
    /// Why a choice was refused.
    pub(super) refusal: OnceLock<&'static str>,
}

/// The application that a request is for, and who only asks.
#[derive(Debug)]
struct Whom {
    site: Arc<Site>,
    told: Option<Arc<Told>>,
}

impl Whom {
    /// Whether nobody is served: nothing is noted, logged or remembered.
    const fn only_asks(&self) -> bool {
        self.told.is_some()
    }

    /// Notes a request, where somebody looks at them.
    fn note(
        &self,
        head: &impl RequestHead,
        decision: Option<&Explanation>,
        answer: impl FnOnce() -> String,
    ) -> Option<Arc<Entry>> {
        let journal = self.site.journal().filter(|journal| !self.only_asks() && !journal.is_paused())?;
        let address = with_query(head.path(), head.query());
        Some(journal.note(head.method(), address, answer(), decision.cloned()))
    }
}
