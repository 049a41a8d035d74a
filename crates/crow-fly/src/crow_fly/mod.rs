//! The application's one object: a handle that makes what serves requests, mail and jobs.

use std::fmt;
use std::path::Path;
use std::sync::Arc;

use crow_fly_core::policy::Policy;

use crate::config::{Config, ConfigError};
use crate::site::Site;
use crate::source::CatalogSource;
use crate::web::LocaleLayer;
#[cfg(feature = "actix")]
use crate::web::LocaleMiddleware;
use crate::web::exchange::{Exchange, RequestHead};

mod builder;
mod doors;

pub use builder::CrowFlyBuilder;

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
#[derive(Clone)]
pub struct CrowFly {
    // One pointer: it is cloned for every layer and every worker.
    pub(crate) site: Arc<Site>,
}

impl fmt::Debug for CrowFly {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("CrowFly").field(&self.site).finish()
    }
}

impl CrowFly {
    /// Reads the configuration; catalogs lie in the folder it names. No catalog is read before it is needed.
    ///
    /// # Errors
    /// Where the configuration cannot be read, or has a setting that is impossible.
    pub fn from_file(path: impl AsRef<Path>) -> Result<Self, ConfigError> {
        Ok(Self::builder(Config::from_file(path)?).build())
    }

    /// An application with catalogs from any source, and nothing else.
    pub fn new(config: Config, catalogs: impl CatalogSource) -> Self {
        Self::builder(config).catalogs(catalogs).build()
    }

    /// An application in parts: catalogs, functions, markup, revision.
    pub const fn builder(config: Config) -> CrowFlyBuilder {
        CrowFlyBuilder::new(config)
    }

    /// The configuration.
    pub fn config(&self) -> &Config {
        self.site.config()
    }

    /// The policy requests are decided by.
    pub fn policy(&self) -> &Policy {
        self.site.policy()
    }

    /// The layer that decides each request's locale. It must run before routing: see [`CrowFly::router`] for axum.
    pub fn layer(&self) -> LocaleLayer {
        LocaleLayer::new(Arc::clone(&self.site))
    }

    /// Puts the layer around a whole router, so that a request's prefix is stripped before it is routed.
    ///
    /// Add the session layer to the result: it then runs first. The router around the layer costs a few per cent of
    /// a small page; an application that wants those serves `crow.layer().layer(pages)` itself, by axum's
    /// `ServiceExt::into_make_service`.
    ///
    /// ```
    /// use axum::{routing::get, Router};
    /// use crow_fly::{CrowFly, Translator};
    ///
    /// fn app(crow: &CrowFly) -> Router {
    ///     let pages = Router::new().route("/", get(|t: Translator| async move { t.text("home.title") }));
    ///     crow.router(pages)
    /// }
    /// ```
    ///
    /// - **`with_state`** comes first: `crow.router(pages.with_state(state))`.
    /// - **`fallback`** for pages that do not exist belongs to `pages`: it then has a translator. The result has a
    ///   fallback already, which is the layer.
    /// - **`merge`** adds routes that the layer never sees: `Router::new().route("/health", get(health)).merge(app(&crow))`.
    ///   They are asked for by their path as it is; `skip` is for paths whose handlers stand among `pages`.
    /// - **`nest_service`** and `nest` take a path off before the layer sees it. With `base = "/app"` and
    ///   `base-stripped = true` in the configuration, `Router::new().nest_service("/app", app(&crow))` has addresses such
    ///   as `/app/cy/trip`, and handlers that know them as `/trip`. `nest` is the same without `/app/`. Without `nest` the routes of `pages` have the base themselves, and `base` alone is enough.
    ///
    /// ```compile_fail,E0277
    /// # use axum::Router;
    /// # use crow_fly::CrowFly;
    /// # #[derive(Clone)] struct Timetable;
    /// fn app(crow: &CrowFly, pages: Router<Timetable>) -> Router {
    ///     crow.router(pages) // the pages lack their state: call `.with_state(…)` on this router first
    /// }
    /// ```
    #[cfg(feature = "axum")]
    pub fn router(&self, pages: impl crate::web::Pages) -> axum::Router {
        self.layer().router(pages)
    }

    /// The middleware of an `actix-web` application: wrap it around the whole application, and the session
    /// middleware around it.
    #[cfg(feature = "actix")]
    pub fn middleware(&self) -> LocaleMiddleware {
        LocaleMiddleware::new(Arc::clone(&self.site))
    }

    /// The first step of a request, for adapters: see [`exchange`](crate::web::exchange).
    pub fn exchange(&self, head: &impl RequestHead) -> Exchange {
        Exchange::begin(&self.site, head)
    }
}
