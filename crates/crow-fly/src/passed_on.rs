//! A request that is passed on untouched.

use std::sync::Arc;

use crate::site::Site;
use crate::translator::Translator;

/// A request on a skipped path: nothing is decided for it. Its handlers have texts in the default locale: extractors and
/// [`translator`](Self::translator) load what is missing, [`current`](crate::current) cannot wait, and has what is in memory.
#[derive(Clone, Debug)]
pub struct PassedOn {
    site: Arc<Site>,
}

impl PassedOn {
    pub(crate) fn new(site: &Arc<Site>) -> Self {
        Self { site: Arc::clone(site) }
    }

    /// A translator in the default locale; its catalogs are loaded where they are not yet.
    pub async fn translator(&self) -> Translator {
        Translator::without_request(&self.site, self.site.policy().set().default_locale()).await
    }

    /// The same with what is in memory.
    pub(crate) fn translator_now(&self) -> Translator {
        let generation = self.site.store().current();
        Translator::new(Arc::clone(&self.site), generation, self.site.policy().set().default_locale(), None)
    }

    /// Whether the request was passed on for this application.
    pub(crate) fn is_of(&self, site: &Arc<Site>) -> bool {
        Arc::ptr_eq(&self.site, site)
    }
}
