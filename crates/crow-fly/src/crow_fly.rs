//! The application's one object: its configuration, its catalogs, and what is made from them.

use std::borrow::Cow;
use std::fmt;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use crow_fly_core::data;
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::{LocaleId, LocaleSet};
use crow_fly_core::message::{Functions, MarkupHandlers};
use crow_fly_core::policy::Policy;
use crow_fly_core::tag::LanguageTag;
use http::request::Parts;
use tracing::warn;

use crate::alternates::Alternates;
use crate::browser::PublicSections;
use crate::config::{Config, ConfigError};
use crate::inspector::Journal;
use crate::menu::MenuNames;
use crate::sessions::Sessions;
use crate::source::{CatalogSource, Directory, PseudoLocales};
use crate::store::{CatalogStore, CatalogsError, Generation, Health, MissReport};
use crate::translator::{RequestFacts, Translator};
use crate::web::exchange::{CatalogNeeds, LoadedCatalogs, RequestHead};
use crate::web::{Choice, FindSettings, HookFuture, LocaleLayer, StoreChoice, Stored, VisitorSettings};

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
    // One pointer: it is cloned for every request.
    inner: Arc<Inner>,
}

struct Inner {
    config: Arc<Config>,
    store: CatalogStore,
    sessions: Option<Box<dyn Sessions>>,
    settings: Option<Box<FindSettings>>,
    choices: Option<Box<StoreChoice>>,
    revision: Option<String>,
    public_sections: PublicSections,
    menu_names: MenuNames,
    /// The last requests, where there is an inspector.
    journal: Option<Journal>,
    warned_of_plain_http: AtomicBool,
    #[cfg(feature = "axum")]
    warned_of_nesting: AtomicBool,
}

impl fmt::Debug for CrowFly {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("CrowFly")
            .field("config", &self.inner.config)
            .field("store", &self.inner.store)
            .field("sessions", &self.inner.sessions)
            .field("revision", &self.inner.revision)
            .finish_non_exhaustive()
    }
}

/// What an application is made from besides its configuration. Made by [`CrowFly::builder`].
///
/// ```
/// use crow_fly::{Config, CrowFly, source::Memory, web::VisitorSettings};
/// # async fn profile(_: &str) -> Option<String> { None }
/// # async fn store(_: &str, _: String) -> Result<(), std::io::Error> { Ok(()) }
///
/// let config = Config::parse(
///     "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'visitor', 'cookie']",
/// )?;
/// let crow = CrowFly::builder(config)
///     .catalogs(Memory::new([("cy", "home", "title = 'Croeso'")]))
///     .revision("2026-11-25.1")
///     .visitor_settings(|request| {
///         Box::pin(async move {
///             let account = request.headers.get("x-account")?.to_str().ok()?;
///             Some(VisitorSettings::new().with_locale(profile(account).await?))
///         })
///     })
///     .store_choice(|request, choice| {
///         Box::pin(async move {
///             let account = request.headers.get("x-account").and_then(|value| value.to_str().ok());
///             if let (Some(account), Some(locale)) = (account, choice.locale()) {
///                 store(account, locale.to_string()).await?;
///             }
///             Ok(())
///         })
///     })
///     .build();
/// # Ok::<(), crow_fly::ConfigError>(())
/// ```
#[must_use = "it makes nothing until it is built"]
pub struct CrowFlyBuilder {
    config: Config,
    catalogs: Option<Box<dyn CatalogSource>>,
    sessions: Option<Box<dyn Sessions>>,
    settings: Option<Box<FindSettings>>,
    choices: Option<Box<StoreChoice>>,
    revision: Option<String>,
}

impl fmt::Debug for CrowFlyBuilder {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("CrowFlyBuilder").field("config", &self.config).finish_non_exhaustive()
    }
}

impl CrowFlyBuilder {
    /// Where catalogs come from. Default: the configuration's folder.
    pub fn catalogs(mut self, source: impl CatalogSource) -> Self {
        self.catalogs = Some(Box::new(source));
        self
    }

    /// Remembers choices in sessions of another kind than `tower-sessions`. For the layer; the middleware of
    /// `actix-web` has its own.
    pub fn sessions(mut self, sessions: impl Sessions) -> Self {
        self.sessions = Some(Box::new(sessions));
        self
    }

    /// Finds the signed-in visitor's own settings, where the `visitor` source can matter for a request. What it finds
    /// goes before settings in the request's extensions. For the layer; the middleware of `actix-web` has its own.
    pub fn visitor_settings<F>(mut self, find: F) -> Self
    where
        F: for<'a> Fn(&'a Parts) -> HookFuture<'a, Option<VisitorSettings>> + Send + Sync + 'static,
    {
        self.settings = Some(Box::new(find));
        self
    }

    /// Stores what a signed-in visitor chooses at the switch address. An application whose `visitor` source comes
    /// before `session` and `cookie` needs it: otherwise the stored setting wins over every choice. For the layer; the
    /// middleware of `actix-web` has its own.
    pub fn store_choice<F>(mut self, store: F) -> Self
    where
        F: for<'a> Fn(&'a Parts, &'a Choice) -> HookFuture<'a, Stored> + Send + Sync + 'static,
    {
        self.choices = Some(Box::new(store));
        self
    }

    /// Functions of the application's own that messages may use, beside the standard's: `{$level :harbour:tide}`.
    ///
    /// ```
    /// use crow_fly::{args, source::Memory, Config, CrowFly};
    /// use crow_fly::{FunctionError, FunctionValue, Functions, Invocation, Value};
    ///
    /// fn knots(call: &Invocation<'_>) -> Result<FunctionValue, FunctionError> {
    ///     match call.operand() {
    ///         Some(Value::Integer(speed)) => Ok(FunctionValue::text(format!("{speed} kn"))),
    ///         _ => Err(FunctionError::bad_operand().because("a speed is an integer")),
    ///     }
    /// }
    ///
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// let functions = Functions::new().with("harbour:knots", knots);
    /// let crow = CrowFly::builder(Config::builder(["en"]).build()?)
    ///     .catalogs(Memory::new([("en", "home", "speed = '{$speed :harbour:knots}'")]))
    ///     .functions(functions)
    ///     .build();
    /// let t = crow.translator_for("en").await;
    /// assert!(t.text(("home.speed", args! { speed: 12 })).contains("12 kn"));
    /// # Ok(()) }
    /// ```
    pub fn functions(mut self, functions: Functions) -> Self {
        self.config.set_functions(functions);
        self
    }

    /// What markup of the application's own becomes in HTML: `{#sailing-link}…{/sailing-link}`.
    pub fn markup(mut self, markup: MarkupHandlers) -> Self {
        self.config.set_markup(markup);
        self
    }

    /// The version of the program, such as a build number: with it [`Translator::etag`] gives entity tags, which
    /// change whenever the program does.
    pub fn revision(mut self, revision: impl Into<String>) -> Self {
        self.revision = Some(revision.into());
        self
    }

    /// Builds the application. No catalog is read before it is needed.
    pub fn build(self) -> CrowFly {
        let Self { config, catalogs, sessions, settings, choices, revision } = self;
        warn_of_left_out(config.policy().set());
        let catalogs = catalogs.unwrap_or_else(|| Box::new(Directory::new(config.catalogs())));
        let catalogs = if config.development && config.catalogs.pseudo_locales {
            let set = config.policy().set();
            Box::new(PseudoLocales::new(catalogs, set.tag(set.default_locale())))
        } else {
            catalogs
        };
        let catalogs = if config.catalogs.ready_made {
            Box::new(crate::source::Overlay::new(catalogs).over(crate::source::ReadyMade))
        } else {
            catalogs
        };
        let config = Arc::new(config);
        let store = CatalogStore::new(catalogs, Arc::clone(&config));
        let journal = config.inspector.then(Journal::default);
        let inner = Inner {
            menu_names: MenuNames::new(config.site.policy.set()),
            config,
            store,
            sessions,
            settings,
            choices,
            revision,
            public_sections: PublicSections::default(),
            journal,
            warned_of_plain_http: AtomicBool::new(false),
            #[cfg(feature = "axum")]
            warned_of_nesting: AtomicBool::new(false),
        };
        CrowFly { inner: Arc::new(inner) }
    }
}

/// Logs the locales that this program has no data of.
fn warn_of_left_out(set: &LocaleSet) {
    let left_out: Vec<String> =
        set.iter().filter(|(_, tag)| data::is_left_out(tag)).map(|(_, tag)| tag.to_string()).collect();
    if !left_out.is_empty() {
        warn!(
            target: "crow_fly::catalogs",
            locales = left_out.join(" "),
            "the data of these locales is left out of the program: their numbers, dates, lists and names are those of \
             no language; add them to the build script's `locale_data`, or switch the feature `full-data` on"
        );
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

    /// An application in parts: catalogs, sessions, settings of visitors, functions, markup, revision.
    pub fn builder(config: Config) -> CrowFlyBuilder {
        #[cfg(feature = "sessions")]
        let sessions: Option<Box<dyn Sessions>> = Some(Box::new(crate::sessions::TowerSessions));
        #[cfg(not(feature = "sessions"))]
        let sessions = None;
        CrowFlyBuilder { config, catalogs: None, sessions, settings: None, choices: None, revision: None }
    }

    /// The configuration.
    pub fn config(&self) -> &Config {
        &self.inner.config
    }

    /// The policy requests are decided by.
    pub fn policy(&self) -> &Policy {
        &self.inner.config.site.policy
    }

    pub(crate) fn store(&self) -> &CatalogStore {
        &self.inner.store
    }

    pub(crate) fn journal(&self) -> Option<&Journal> {
        self.inner.journal.as_ref()
    }

    pub(crate) fn menu_names(&self) -> &MenuNames {
        &self.inner.menu_names
    }

    pub(crate) fn public_sections(&self) -> &PublicSections {
        &self.inner.public_sections
    }

    /// A translator without a request, for one of the application's locales.
    pub(crate) async fn translator_of(&self, locale: LocaleId) -> Translator {
        self.unrequested(locale).await
    }

    pub(crate) fn sessions(&self) -> Option<&dyn Sessions> {
        self.inner.sessions.as_deref()
    }

    pub(crate) fn find_settings(&self) -> Option<&FindSettings> {
        self.inner.settings.as_deref()
    }

    pub(crate) fn store_choice(&self) -> Option<&StoreChoice> {
        self.inner.choices.as_deref()
    }

    pub(crate) fn revision(&self) -> Option<&str> {
        self.inner.revision.as_deref()
    }

    /// Logs, once, why a choice is not kept: a browser keeps a secure cookie only over HTTPS.
    pub(crate) fn warn_of_plain_http(&self, head: &impl RequestHead) {
        if !self.config().remember.secure || !comes_by_plain_http(head) {
            return;
        }
        if !self.inner.warned_of_plain_http.swap(true, Ordering::Relaxed) {
            tracing::warn!(
                target: "crow_fly::switch",
                host = head.host(),
                "a choice was made over plain HTTP: browsers do not keep its cookie, which is `Secure`; serve the site over HTTPS, or set `secure = false` in `[remember]`",
            );
        }
    }

    #[cfg(feature = "axum")]
    pub(crate) fn warn_of_nesting(&self, path: &str) {
        if !self.inner.warned_of_nesting.swap(true, Ordering::Relaxed) {
            tracing::warn!(
                target: "crow_fly::layer",
                path,
                "a router around this one takes the base off, and requests pass on untouched: set `base-stripped = true` in `[policy]`",
            );
        }
    }

    /// A translator without a request: for mail and jobs. None where the application has no such locale.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let t = crow.translator(&"cy".parse()?).await.expect("it is one of the locales");
    /// assert_eq!(t.text("home.title"), "Hwyliadau");
    /// assert!(crow.translator(&"pl".parse()?).await.is_none());
    /// # Ok(()) }
    /// ```
    pub async fn translator(&self, locale: &LanguageTag) -> Option<Translator> {
        let locale = self.policy().set().exact(locale)?;
        Some(self.unrequested(locale).await)
    }

    /// A translator for a stored preference, such as a member's `pt-PT`: the closest of the application's locales, or
    /// the default where nothing is near, or it is not a language tag. For mail and jobs.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'pt-BR']")?, Memory::default());
    /// let t = crow.translator_for("pt-PT").await;
    /// assert_eq!(t.locale().to_string(), "pt-BR");
    /// # Ok(()) }
    /// ```
    pub async fn translator_for(&self, preference: &str) -> Translator {
        let set = self.policy().set();
        let tag = LanguageTag::parse_lenient(preference).ok();
        let found = tag.and_then(|tag| set.closest_to(&tag));
        let locale = found.map_or_else(|| set.default_locale(), |found| found.locale);
        self.unrequested(locale).await
    }

    /// The locale that a request's head prefers, whatever its address: for pages at addresses that name no locale,
    /// such as the one a payment service returns to. The session and the visitor's settings are not asked.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
    /// // A handler at `/paid`, where the visitor returns to from another site.
    /// let request = http::Request::get("/paid").header("cookie", "locale=cy").body(()).unwrap();
    /// let locale = crow.preferred(&request.into_parts().0);
    /// let back = crow.path(&locale, "/trip");
    /// assert_eq!(back.as_deref(), Some("/cy/trip"));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn preferred(&self, head: &impl RequestHead) -> LanguageTag {
        let locale = crate::web::preferred(self, head);
        self.policy().set().tag(locale).clone()
    }

    /// The address of a page, given by its bare path, in a locale; none where the application has no such locale.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let cy = "cy".parse()?;
    /// assert_eq!(crow.path(&cy, "/sailings").as_deref(), Some("/cy/sailings"));
    /// # Ok(()) }
    /// ```
    pub fn path(&self, locale: &LanguageTag, page: &str) -> Option<String> {
        let policy = self.policy();
        policy.set().exact(locale).map(|locale| policy.path(locale, page))
    }

    pub(crate) async fn default_translator(&self) -> Translator {
        self.unrequested(self.policy().set().default_locale()).await
    }

    /// A translator without a request, with the sections that every page needs.
    async fn unrequested(&self, locale: LocaleId) -> Translator {
        let needs = CatalogNeeds::of(self.config(), locale, None);
        let generation = self.store().load(&needs).await.generation;
        self.translate(generation, locale, None)
    }

    /// Loads every section of every locale, for applications that must not start with a part of them. Gives what
    /// was found beside errors: notes and warnings.
    ///
    /// # Errors
    /// Where a catalog cannot be loaded, a locale has none, a message has errors, or the configuration names a section that
    /// nobody has. The catalogs that can be loaded are, all the same.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']")?;
    /// let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Hello, {$name'")]));
    /// let error = crow.load_all().await.unwrap_err();
    /// assert!(error.to_string().contains("en/home:1:17: a placeholder is not closed"), "{error}");
    /// # Ok(()) }
    /// ```
    pub async fn load_all(&self) -> Result<Vec<Finding>, CatalogsError> {
        self.store().load_all().await
    }

    /// Looks for changes of the catalogs and takes them, all or none: for a signal, or after a deployment. Requests are
    /// answered from the catalogs as they were until the new ones are in memory.
    ///
    /// # Errors
    /// Where what has changed cannot be read, or a file that was well has become broken: the catalogs stay as they were,
    /// and it is tried again.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// crow.reload().await?;
    /// # Ok(()) }
    /// ```
    pub async fn reload(&self) -> Result<(), CatalogsError> {
        self.store().reload().await
    }

    /// The state of the catalogs. A handler of axum or `actix-web` can answer with it.
    ///
    /// ```
    /// use axum::{Router, routing::get};
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']")?;
    /// # let crow = CrowFly::new(config, Memory::default());
    /// let pages = Router::new();
    /// let health = crow.clone();
    /// let app: Router = Router::new()
    ///     .route("/health", get(move || async move { health.health() }))
    ///     .merge(crow.router(pages));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn health(&self) -> Health {
        self.store().health()
    }

    /// The texts that were missing, or came in another language of the chain, since the program started: 10,000
    /// different ones at most, the most frequent first. A handler can answer with them, and [`MissReport::write`] makes
    /// the file that `crow-fly check --misses` reads.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en']")?, Memory::default());
    /// crow.translator_for("en").await.text("home.title");
    /// let misses = crow.misses();
    /// let first = misses.iter().next().unwrap();
    /// assert_eq!((first.key.as_str(), first.locale.as_str(), first.count), ("home.title", "en", 1));
    /// # Ok(()) }
    /// ```
    pub fn misses(&self) -> MissReport {
        let chains = self.config().chains();
        self.store().misses().report(|locale| chains.tag(locale).to_string())
    }

    /// The catalogs a request needs, loaded where they are not yet: for adapters, see [`exchange`](crate::web::exchange).
    pub async fn load(&self, needs: CatalogNeeds) -> LoadedCatalogs {
        LoadedCatalogs(self.store().load(&needs).await)
    }

    pub(crate) fn translate(
        &self,
        generation: Arc<Generation>,
        locale: LocaleId,
        request: Option<RequestFacts>,
    ) -> Translator {
        Translator::new(self.clone(), generation, locale, request)
    }

    /// Every locale's address of a page given by its bare path, and `x-default`, below an origin such as
    /// `https://ferries.example`. Empty where the path is not a source: all locales then share one address.
    pub fn alternates(&self, origin: &str, path: &str) -> Alternates {
        Alternates::of(self.policy(), origin, |_| Some(Cow::Borrowed(path)))
    }

    /// An XML sitemap of pages, given by their bare paths: each in every locale, with the addresses in all others. A
    /// sitemap has 50,000 addresses at most; a larger site makes several.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
    /// let sitemap = crow.sitemap("https://ferries.example", ["/", "/sailings/3"]);
    /// assert!(sitemap.contains("<loc>https://ferries.example/cy/sailings/3</loc>"));
    /// assert!(sitemap.contains("hreflang=\"x-default\" href=\"https://ferries.example/sailings/3\"/>"));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn sitemap(&self, origin: &str, pages: impl IntoIterator<Item = impl AsRef<str>>) -> String {
        let mut sitemap = String::from(
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<urlset xmlns=\"http://www.sitemaps.org/schemas/sitemap/0.9\" \
             xmlns:xhtml=\"http://www.w3.org/1999/xhtml\">\n",
        );
        for page in pages {
            sitemap.push_str(self.alternates(origin, page.as_ref()).to_urls().as_str());
        }
        sitemap.push_str("</urlset>\n");
        sitemap
    }

    /// The layer that decides each request's locale. It must run before routing: see [`CrowFly::router`] for axum.
    pub fn layer(&self) -> LocaleLayer {
        LocaleLayer::new(self.clone())
    }

    /// The switch address for a locale, which returns to a page given by its bare path and query.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// assert_eq!(crow.switch_address(&"cy".parse()?, "/sailings"), "/locale?to=cy&return=%2Fsailings");
    /// # Ok(()) }
    /// ```
    pub fn switch_address(&self, locale: &LanguageTag, page: &str) -> String {
        self.config().switch_address(locale, page)
    }
}

/// Whether a proxy or the browser says that the visitor's own connection is plain HTTP. Browsers keep secure cookies
/// of `localhost` whatever the connection.
fn comes_by_plain_http(head: &impl RequestHead) -> bool {
    let is_local = |host: &str| host == "localhost" || host.ends_with(".localhost") || host == "127.0.0.1";
    if head.host().is_none_or(is_local) {
        return false;
    }
    let here = head.host_and_port().unwrap_or_default();
    let is_plain = |address: &str| {
        address.strip_prefix("http://").is_some_and(|rest| rest.split('/').next() == Some(here))
    };
    match head.header("x-forwarded-proto") {
        Some(protocol) => protocol.trim().eq_ignore_ascii_case("http"),
        None => ["origin", "referer"].into_iter().any(|name| head.header(name).is_some_and(is_plain)),
    }
}
