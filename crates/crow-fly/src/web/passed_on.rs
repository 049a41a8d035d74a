//! A request that is passed on untouched.

use crate::crow_fly::CrowFly;
use crate::translator::Translator;

/// A request on a skipped path: nothing is decided for it, and nothing loaded until a handler asks for texts.
#[derive(Clone, Debug)]
pub struct PassedOn {
    crow: CrowFly,
}

impl PassedOn {
    pub(super) fn new(crow: &CrowFly) -> Self {
        Self { crow: crow.clone() }
    }

    /// A translator in the default locale; its catalogs are loaded where they are not yet.
    pub async fn translator(&self) -> Translator {
        self.crow.default_translator().await
    }
}
