//! The addresses of a page: in this locale, in the others, and the menu that leads to them.

use std::borrow::Cow;

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::tag::LanguageTag;

use super::request_facts::with_query;
use super::{LocaleRedirect, Translator};
use crate::alternates::Alternates;
use crate::menu::MenuItem;

impl Translator {
    /// The address of a page, given by its bare path, in this locale. Query and fragment are kept. In a
    /// [mail](crate::CrowFly::translator_for_mail) it is the whole address.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let t = crow.translator_for("cy").await;
    /// assert_eq!(t.path("/sailings?day=2"), "/cy/sailings?day=2");
    /// // Whatever is given, the address stays on the site.
    /// assert_eq!(t.path("//elsewhere.example"), "/cy//elsewhere.example");
    /// # Ok(()) }
    /// ```
    pub fn path(&self, path: impl AsRef<str>) -> String {
        let (config, locale) = (self.inner.config(), self.inner.locale);
        if self.reader.as_ref().is_some_and(|reader| reader.own.links.is_some()) {
            return config.whole_address(locale, path.as_ref());
        }
        config.site.policy.path(locale, path.as_ref())
    }

    /// The whole address of a page, given by its bare path, in this locale: for mail. None where the configuration names
    /// no `origin`.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let t = crow.translator_for("cy").await;
    /// assert_eq!(t.url("/trip").as_deref(), Some("https://ferries.example/cy/trip"));
    /// # Ok(()) }
    /// ```
    pub fn url(&self, path: impl AsRef<str>) -> Option<String> {
        let config = self.config();
        config.origin.as_ref().map(|_| config.whole_address(self.inner.locale, path.as_ref()))
    }

    /// A redirect to a page, given by its bare path, in this locale: for a handler to answer with.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let t = crow.translator_for("cy").await;
    /// assert_eq!(t.redirect("/trip").address(), "/cy/trip");
    /// # Ok(()) }
    /// ```
    pub fn redirect(&self, path: impl AsRef<str>) -> LocaleRedirect {
        LocaleRedirect { address: self.inner.config().site.policy.path(self.inner.locale, path.as_ref()) }
    }

    /// The address of a page in another locale; none where the application has no such locale.
    pub fn path_in(&self, locale: &LanguageTag, path: &str) -> Option<String> {
        let policy = &self.inner.config().site.policy;
        policy.set().exact(locale).map(|locale| policy.path(locale, path))
    }

    /// The languages to choose from: every locale under its own name, the current one marked, each with the
    /// address that switches to it and comes back to this page.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let t = crow.translator_for("cy").await;
    /// let menu = t.menu();
    /// let names: Vec<_> = menu.iter().map(|item| (item.own_name.as_str(), item.current)).collect();
    /// assert_eq!(names, [("English", false), ("Cymraeg", true)]);
    /// assert_eq!(menu[0].address, "/locale?to=en&return=%2F");
    /// # Ok(()) }
    /// ```
    pub fn menu(&self) -> Vec<MenuItem> {
        let here = self.here();
        let site = &self.inner.site;
        MenuItem::all(site.config(), site.menu_names(), self.inner.locale, |locale| {
            self.page_in(locale, &here)
        })
    }

    /// The bare path of this page, and its query.
    fn here(&self) -> Cow<'_, str> {
        let Some(request) = &self.inner.request else { return Cow::Borrowed("/") };
        match request.query() {
            Some(query) => Cow::Owned(with_query(request.path(), Some(query))),
            None => Cow::Borrowed(request.path()),
        }
    }

    /// The bare path of this page in a locale; none where there is no such page.
    fn page_in<'p>(&'p self, locale: LocaleId, here: &'p str) -> Option<Cow<'p, str>> {
        match &self.pages {
            Some(pages) => pages.get(locale.index()).and_then(Option::as_deref).map(Cow::Borrowed),
            None => Some(Cow::Borrowed(here)),
        }
    }

    /// The same translator for a page that has other paths in other locales, or none: given a locale, its bare path.
    /// The menu and the alternates follow.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy', 'pl']")?, Memory::default());
    /// # let t = crow.translator_for("cy").await;
    /// // An article that is written in two languages, under the slug of each.
    /// let t = t.with_pages(|locale| match locale.to_string().as_str() {
    ///     "en" => Some("/news/new-ferry".to_owned()),
    ///     "cy" => Some("/news/fferi-newydd".to_owned()),
    ///     _ => None,
    /// });
    /// let alternates = t.alternates("https://ferries.example").to_html();
    /// assert!(alternates.as_str().contains("/cy/news/fferi-newydd") && !alternates.as_str().contains("hreflang=\"pl\""));
    /// # Ok(()) }
    /// ```
    #[must_use]
    pub fn with_pages(mut self, path: impl Fn(&LanguageTag) -> Option<String>) -> Self {
        let set = self.inner.config().site.policy.set();
        self.pages = Some(set.iter().map(|(_, tag)| path(tag)).collect());
        self
    }

    /// The same menu with the languages first that the visitor's Accept-Language header prefers, in its order:
    /// `t.menu_for(headers.get_all("accept-language"))`.
    pub fn menu_for(&self, accept_lines: impl IntoIterator<Item = impl AsRef<[u8]>>) -> Vec<MenuItem> {
        let lines: Vec<_> = accept_lines.into_iter().collect();
        let header = AcceptLanguage::parse_lines(lines.iter().map(AsRef::as_ref));
        let preferences: Vec<LanguageTag> =
            header.ranges().iter().filter_map(|range| LanguageTag::parse(range.as_str()).ok()).collect();
        let place = |item: &MenuItem| {
            let same =
                |preference: &LanguageTag| preference.canonicalized().language() == item.locale.language();
            preferences.iter().position(same).unwrap_or(usize::MAX)
        };
        let mut menu = self.menu();
        // Stable: languages without a preference keep the order of the configuration.
        menu.sort_by_cached_key(place);
        menu
    }

    /// The addresses of this page in every locale, below an origin such as `https://ferries.example`.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// let html = t.alternates("https://ferries.example").to_html();
    /// assert!(html.as_str().contains(r#"<link rel="alternate" hreflang="cy" href="https://ferries.example/cy">"#));
    /// # Ok(()) }
    /// ```
    pub fn alternates(&self, origin: &str) -> Alternates {
        let here = self.here();
        Alternates::of(&self.inner.config().site.policy, origin, |locale| self.page_in(locale, &here))
    }
}
