//! A request that the application answers: how it is changed, and its answer.

use std::sync::Arc;

use crow_fly_core::policy::Decision;

use super::announce::Announcement;
use super::head::{RequestHead, ResponseHead};
use super::reply::Reply;
use crate::journal::Entry;
use crate::scope::{self, Within};
use crate::site::Site;
use crate::store::Generation;
use crate::translator::{RequestFacts, Translator, with_query};

/// A request that the application answers. Before: give it [`address`](Self::address) and
/// [`translator`](Self::translator). Around it: [`call`](Self::call) its handlers. After: [`finish`](Self::finish).
#[derive(Clone, Debug)]
pub struct Serving {
    translator: Translator,
    address: Option<String>,
    announcement: Announcement,
}

impl Serving {
    pub(super) fn new(
        site: Arc<Site>,
        head: &impl RequestHead,
        decision: Box<Decision>,
        announcement: Announcement,
        generation: Arc<Generation>,
        entry: Option<Arc<Entry>>,
    ) -> Self {
        let (locale, path, query) = (decision.locale, head.path(), head.query());
        let facts = RequestFacts::new(decision, path, query, entry);
        let address = (facts.path() != path).then(|| with_query(facts.path(), query));
        let translator = Translator::new(site, generation, locale, Some(facts));
        Self { translator, address, announcement }
    }

    /// Path and query that the application is asked for; none where they stay as they came.
    pub fn address(&self) -> Option<&str> {
        self.address.as_deref()
    }

    /// Takes [`address`](Self::address) out.
    pub fn take_address(&mut self) -> Option<String> {
        self.address.take()
    }

    /// The request's translator: extractors find it in the request's extensions.
    pub const fn translator(&self) -> &Translator {
        &self.translator
    }

    /// Calls the application; [`current`](crate::current) is the request's translator in the call and while the
    /// future that it gives runs.
    #[inline]
    pub fn call<F>(&self, call: impl FnOnce() -> F) -> Within<F> {
        scope::call_within(self.translator.clone(), call)
    }

    /// Adds to the application's answer what it lacks: `Content-Language` and `Vary`. Its status is its own.
    ///
    /// The result is to be answered in place of it: where texts were missing, and the configuration says that this fails a
    /// request, and where there is no such page, and its path is the page's in another language.
    #[must_use = "an answer in its place is to be given"]
    pub fn finish(&self, answer: &mut impl ResponseHead) -> Option<Reply> {
        self.announcement.finish(&self.translator, answer)
    }

    /// The translator, the address that the application is asked for, and what its answer lacks.
    pub(super) fn into_parts(self) -> (Translator, Option<String>, Announcement) {
        (self.translator, self.address, self.announcement)
    }
}
