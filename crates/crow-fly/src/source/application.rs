//! What a source is told of the application that it is built into.

use std::time::Duration;

use crow_fly_core::message::Functions;

use crate::config::Config;
#[cfg(feature = "releases")]
use crate::config::Parameters;

/// What a source may know of the application that it is built into: see [`CatalogSource::built_into`](super::CatalogSource::built_into).
#[derive(Clone, Copy, Debug)]
pub struct Application<'a> {
    config: &'a Config,
}

impl<'a> Application<'a> {
    pub(crate) const fn new(config: &'a Config) -> Self {
        Self { config }
    }

    /// The application's own functions; none where it has none.
    pub fn functions(&self) -> Functions {
        self.config.functions().cloned().unwrap_or_default()
    }

    /// Whether it makes something of this markup, or names it in `markup` of `[check]`.
    pub fn has_markup(&self, name: &str) -> bool {
        self.config.has_markup(name)
    }

    /// The same question, for as long as it is needed.
    #[cfg(feature = "releases")]
    pub(crate) fn markup(self) -> Box<dyn Fn(&str) -> bool + Send + Sync> {
        let config = self.config.clone();
        Box::new(move |name| config.has_markup(name))
    }

    /// How long a request waits for catalogs.
    pub const fn wait(&self) -> Duration {
        self.config.catalogs.wait
    }

    /// How long a load may take.
    pub const fn load_limit(&self) -> Duration {
        self.config.catalogs.load_limit
    }

    /// The messages that it uses, each with the parameters that it gives them.
    #[cfg(feature = "releases")]
    pub(crate) const fn used(self) -> &'a Parameters {
        &self.config.used
    }
}
