//! The application's one object: its configuration, its catalogs, and what is made from them.

use std::path::Path;
use std::sync::Arc;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::Policy;
use crow_fly_core::tag::LanguageTag;

use crate::alternates::Alternates;
use crate::config::{Config, ConfigError};
use crate::source::{CatalogSource, Directory};
use crate::store::{CatalogStore, ChainCatalogs};
use crate::translator::{RequestFacts, Translator};
use crate::web::LocaleLayer;

/// An application's locales and catalogs. Made once, cheap to clone.
///
/// ```
/// use crow_fly::{args, Config, CrowFly, source::Memory};
///
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// let config = Config::parse("default = 'en'\nlocales = ['en', 'pl']")?;
/// let catalogs = Memory::new([
///     ("en", "common", "ferries = '.input {$n :integer} .match $n one {{One ferry}} * {{{$n} ferries}}'"),
///     ("pl", "common", "ferries = '.input {$n :integer} .match $n one {{Jeden prom}} few {{{$n} promy}} * {{{$n} promów}}'"),
/// ]);
/// let crow = CrowFly::new(config, catalogs);
///
/// // A mail has no request: its translator is asked for by locale.
/// let polish = crow.translator(&"pl".parse()?).await.unwrap();
/// assert_eq!(polish.text(("common.ferries", args! { n: 3 })), "3 promy");
/// # Ok(()) }
/// ```
#[derive(Clone, Debug)]
pub struct CrowFly {
    config: Arc<Config>,
    store: Arc<CatalogStore>,
}

impl CrowFly {
    /// Reads the configuration; catalogs lie in the folder it names. No catalog is read before it is needed.
    ///
    /// # Errors
    /// Where the configuration cannot be read, or says something that cannot be.
    pub fn from_file(path: impl AsRef<Path>) -> Result<Self, ConfigError> {
        let config = Config::from_file(path)?;
        let catalogs = Directory::new(&config.catalogs);
        Ok(Self::new(config, catalogs))
    }

    /// An application with catalogs from any source.
    pub fn new(config: Config, catalogs: impl CatalogSource) -> Self {
        let store = CatalogStore::new(Box::new(catalogs), &config);
        Self { config: Arc::new(config), store: Arc::new(store) }
    }

    /// The configuration.
    pub fn config(&self) -> &Config {
        &self.config
    }

    /// The policy requests are decided by.
    pub fn policy(&self) -> &Policy {
        &self.config.policy
    }

    pub(crate) fn store(&self) -> &CatalogStore {
        &self.store
    }

    /// A translator without a request: for mail and jobs. None where the application has no such locale.
    pub async fn translator(&self, locale: &LanguageTag) -> Option<Translator> {
        let locale = self.policy().set().exact(locale)?;
        let catalogs = self.store().chain(locale).await;
        Some(self.translate(catalogs, locale, None))
    }

    pub(crate) fn translate(
        &self,
        catalogs: Arc<ChainCatalogs>,
        locale: LocaleId,
        request: Option<RequestFacts>,
    ) -> Translator {
        Translator::new(Arc::clone(&self.config), catalogs, locale, request)
    }

    /// Every locale's address of a page given by its bare path, and `x-default`, below an origin such as
    /// `https://ferries.example`. Empty where the path is not a source: all locales then share one address.
    pub fn alternates(&self, origin: &str, path: &str) -> Alternates {
        Alternates::of(self.policy(), origin, path)
    }

    /// The layer that decides each request's locale. It must run before routing: see [`CrowFly::router`] for axum.
    pub fn layer(&self) -> LocaleLayer {
        LocaleLayer::new(self.clone())
    }

    /// The switch address for a locale, which returns to a page given by its bare path and query.
    pub fn switch_address(&self, locale: &LanguageTag, page: &str) -> String {
        self.config.switch_address(locale, page)
    }
}
