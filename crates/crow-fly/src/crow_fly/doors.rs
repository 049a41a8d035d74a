//! What an application is asked besides its requests: translators for mail and jobs, addresses, how it is, answers of its own.

use std::borrow::Cow;

use crow_fly_core::finding::Finding;
use crow_fly_core::tag::LanguageTag;

use super::CrowFly;
use crate::alternates::Alternates;
use crate::browser::{self, DirectReply};
use crate::inspector;
use crate::store::{CatalogsError, Health, Lacking, MissReport};
use crate::translator::Translator;
use crate::web::exchange::RequestHead;
use crate::web::{ExplainedRequest, KnownOfVisitor};

/// Mail and jobs.
impl CrowFly {
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
        let locale = self.site.policy().set().exact(locale)?;
        Some(Translator::without_request(&self.site, locale).await)
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
        let set = self.site.policy().set();
        let tag = LanguageTag::parse_lenient(preference).ok();
        let found = tag.and_then(|tag| set.closest_to(&tag));
        let locale = found.map_or_else(|| set.default_locale(), |found| found.locale);
        Translator::without_request(&self.site, locale).await
    }

    /// A translator for a mail to somebody whose language and time zone are stored: as [`translator_for`](Self::translator_for),
    /// with whole addresses (`path`, and links in messages), and without isolation of placeholders. A zone that is empty or not one of
    /// CLDR is the default zone; the first one is logged.
    ///
    /// For the HTML part of a mail, [`with_isolation`](Translator::with_isolation)`(Isolation::Default)` sets values apart again, by
    /// `<bdi>`.
    ///
    /// ```
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// let mail = "at = 'Hwylio am {$moment :time}: {$address}'";
    /// let crow = CrowFly::new(config, Memory::new([("cy", "mail", mail)]));
    /// let t = crow.translator_for_mail("cy-GB", "Europe/London").await;
    /// let moment: jiff::Timestamp = "2026-07-01T09:30:00Z".parse()?;
    /// let text = t.text(("mail.at", args! { moment, address: t.path("/trip") }));
    /// assert_eq!(text, "Hwylio am 10:30: https://ferries.example/cy/trip");
    /// # Ok(()) }
    /// ```
    pub async fn translator_for_mail(&self, preference: &str, time_zone: &str) -> Translator {
        let t = self.translator_for(preference).await.for_mail();
        match time_zone.parse() {
            Ok(zone) => t.with_time_zone(zone),
            Err(_) if time_zone.is_empty() => t,
            Err(_) => {
                if self.site.once.stored_zone.is_first() {
                    tracing::warn!(
                        target: "crow_fly::time_zones", time_zone,
                        help = "store a name of the IANA database: `Europe/London`",
                        "a stored time zone is not one: the default is used",
                    );
                }
                t
            }
        }
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
        let locale = crate::web::preferred(&self.site, head);
        self.site.policy().set().tag(locale).clone()
    }
}

/// Addresses.
impl CrowFly {
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
        let policy = self.site.policy();
        policy.set().exact(locale).map(|locale| policy.path(locale, page))
    }

    /// Every locale's address of a page given by its bare path, and `x-default`, below an origin such as
    /// `https://ferries.example`. Empty where the path is not a source: all locales then share one address.
    pub fn alternates(&self, origin: &str, path: &str) -> Alternates {
        Alternates::of(self.site.policy(), origin, |_| Some(Cow::Borrowed(path)))
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
        self.site.config().switch_address(locale, page)
    }
}

/// Operation.
impl CrowFly {
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
        self.site.store().load_all().await
    }

    /// Loads everything; gives what is wrong, and what locales lack in their own language, one line each.
    pub(crate) async fn load_and_compare(&self) -> (Option<CatalogsError>, Vec<String>) {
        let errors = self.load_all().await.err();
        let chains = self.site.config().chains();
        let line = |lacking: &Lacking| format!("  `{}`: {lacking}", chains.tag(lacking.locale));
        (errors, self.site.store().lacking().iter().map(line).collect())
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
        self.site.store().reload().await
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
        self.site.store().health()
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
        let chains = self.site.config().chains();
        self.site.store().misses().report(|locale| chains.tag(locale).to_string())
    }
}

/// Answers.
impl CrowFly {
    /// What the layer does with a request, and why. No catalog is loaded, and nothing is remembered.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory, web::KnownOfVisitor};
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
    /// let request = http::Request::get("/").header("accept-language", "cy").body(()).unwrap();
    /// let explained = crow.explain(&request.into_parts().0, &KnownOfVisitor::nothing());
    /// assert_eq!(explained.status, Some(302));
    /// assert!(explained.headers.iter().any(|header| header.name == "location" && header.value == "/cy"));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn explain(&self, head: &impl RequestHead, known: &KnownOfVisitor) -> ExplainedRequest {
        crate::web::explain(&self.site, head, known)
    }

    /// Answers a request for texts below the path of `[browser]` in the configuration. Only the sections that are named
    /// there are handed out.
    ///
    /// | address | answer |
    /// |---|---|
    /// | `/texts/pl/booking.0123456789abcdef.json` | the section, for ever: another version has another address. The last three versions have theirs; an address that is not known is a 404 that no cache keeps |
    /// | `/texts/pl/booking.json` | the section as it is now, with an `ETag` |
    /// | `/texts/pl?key=booking.seats-left&seats=3` | the formatted text, as text and as HTML, for a minute; `&time-zone=Europe/Warsaw` shows moments there |
    /// | `/texts/pl?texts=[["booking.seats-left",{"seats":3}],["booking.title"]]` | the same for up to 32 texts: `{ "texts": […] }` |
    /// | `/texts/crow-fly.js` | [the module for scripts](browser::MODULE), which asks for many texts at once |
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['booking']")?;
    /// let crow = CrowFly::new(config, Memory::new([("en", "booking", "left = '{$seats :integer} left'")]));
    /// let request = http::Request::get("/texts/en?key=booking.left&seats=1200").body(()).unwrap();
    /// let reply = crow.answer_texts(&request.into_parts().0).await;
    /// assert!(reply.body().contains("1,200 left"), "{reply:?}");
    /// # Ok(()) }
    /// ```
    pub async fn answer_texts(&self, head: &impl RequestHead) -> DirectReply {
        browser::answer(&self.site, head).await
    }

    /// Answers a request for the inspector, below `/inspector`. Without an inspector the answer is 404.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// let config = Config::parse("development = true\ndefault = 'en'\nlocales = ['en']")?;
    /// let crow = CrowFly::new(config, Memory::default());
    /// let request = http::Request::get("/inspector").body(()).unwrap();
    /// assert_eq!(crow.answer_inspector(&request.into_parts().0).await.status(), 200);
    /// # Ok(()) }
    /// ```
    pub async fn answer_inspector(&self, head: &impl RequestHead) -> DirectReply {
        inspector::answer(&self.site, head).await
    }

    /// A router that answers requests for texts by address, below the path of `[browser]` in the configuration: see
    /// [`answer_texts`](Self::answer_texts). Merge it beside the router of the pages. It has no routes where no section is
    /// public.
    ///
    /// ```
    /// # use axum::Router;
    /// # fn app(crow: &crow_fly::CrowFly, pages: Router) -> Router {
    /// Router::new().merge(crow.texts_router()).merge(crow.router(pages))
    /// # }
    /// ```
    #[cfg(feature = "axum")]
    pub fn texts_router(&self) -> axum::Router {
        let browser = &self.site.config().browser;
        if browser.sections.is_empty() {
            return axum::Router::new();
        }
        let crow = self.clone();
        let answer = async move |head: http::request::Parts| crow.answer_texts(&head).await;
        axum::Router::new().route(&format!("{}/{{*texts}}", browser.path), axum::routing::any(answer))
    }

    /// Routes of `actix-web` for texts by address and for the inspector, for `App::configure`: see
    /// [`answer_texts`](Self::answer_texts) and [`answer_inspector`](Self::answer_inspector). The middleware around them leaves their
    /// requests alone. There are none where no section is public, and in production none for the inspector.
    ///
    /// ```
    /// # use actix_web::App;
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['home']")?;
    /// # let crow = CrowFly::new(config, Memory::default());
    /// App::new().configure(crow.direct_routes()).wrap(crow.middleware());
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    #[cfg(feature = "actix")]
    pub fn direct_routes(&self) -> impl FnOnce(&mut actix_web::web::ServiceConfig) + Clone + use<> {
        use actix_web::{HttpRequest, web};

        let crow = self.clone();
        move |routes| {
            let config = crow.site.config();
            if !config.browser.sections.is_empty() {
                let texts = crow.clone();
                let answer = move |request: HttpRequest| {
                    let crow = texts.clone();
                    async move { crow.answer_texts(&request).await }
                };
                routes.route(&format!("{}/{{texts:.*}}", config.browser.path), web::route().to(answer));
            }
            if crow.site.journal().is_some() {
                for path in ["/inspector", "/inspector/{page}"] {
                    let inspector = crow.clone();
                    let answer = move |request: HttpRequest| {
                        let crow = inspector.clone();
                        async move { crow.answer_inspector(&request).await }
                    };
                    routes.route(path, web::route().to(answer));
                }
            }
        }
    }

    /// A router that answers requests for the inspector, below `/inspector`: see
    /// [`answer_inspector`](Self::answer_inspector). Merge it beside the router of the pages. In production it has no
    /// routes.
    #[cfg(feature = "axum")]
    pub fn inspector_router(&self) -> axum::Router {
        if self.site.journal().is_none() {
            return axum::Router::new();
        }
        let crow = self.clone();
        let answer = async move |head: http::request::Parts| crow.answer_inspector(&head).await;
        axum::Router::new()
            .route("/inspector", axum::routing::any(answer.clone()))
            .route("/inspector/{page}", axum::routing::any(answer))
    }
}
