//! A request that is passed on untouched.

use std::sync::Arc;

use crate::site::Site;
use crate::translator::Translator;

/// A request on a skipped path: nothing is decided for it, and nothing loaded until a handler asks for texts.
#[derive(Clone, Debug)]
pub struct PassedOn {
    site: Arc<Site>,
}

impl PassedOn {
    pub(super) fn new(site: &Arc<Site>) -> Self {
        Self { site: Arc::clone(site) }
    }

    /// A translator in the default locale; its catalogs are loaded where they are not yet.
    pub async fn translator(&self) -> Translator {
        Translator::without_request(&self.site, self.site.policy().set().default_locale()).await
    }
}
