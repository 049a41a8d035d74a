//! The translator: one short call for a text in the request's language.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::{
    FormatContext, FormatError, FormatErrorKind, Formatting, Html, Isolation, Links, Part,
};
use crow_fly_core::policy::{Decision, LocaleSource};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::value::Args;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use tracing::warn;

use crate::config::Config;
use crate::journal::{Entry, SaidText, TextOutcome};
use crate::message_ref::MessageRef;
use crate::public_sections::SectionTexts;
use crate::site::Site;
use crate::store::{CatalogNeeds, Generation, Link, Lookup};

mod addresses;
mod found;
mod message_source;
mod redirect;
mod report;
mod request_facts;
mod sections;

use found::{Found, OtherLanguage};
pub use message_source::MessageSource;
pub use redirect::LocaleRedirect;
use report::Shortage;
pub(crate) use request_facts::{RequestFacts, with_query};
pub use sections::{NotLoaded, Origin, Presence};

/// Gives texts in one locale. Cheap to clone; belongs to one request, or to none (mail, jobs).
///
/// | call | gives |
/// |---|---|
/// | [`text`](Self::text) | a text, for anything that is not HTML |
/// | [`html`](Self::html) | safe HTML |
/// | [`parts`](Self::parts) | the pieces of a text, for a front end |
/// | [`marked`](Self::marked) | a text that a script can say in another language |
/// | [`locale`](Self::locale), [`direction`](Self::direction) | for `<html lang dir>` |
/// | [`time_zone`](Self::time_zone) | the reader's time zone |
/// | [`with_now`](Self::with_now) | the same at another time that counts as now |
/// | [`path`](Self::path) | the address of a page in this locale |
/// | [`url`](Self::url) | the same with the site's origin, for mail |
/// | [`redirect`](Self::redirect) | an answer that leads there |
/// | [`with_pages`](Self::with_pages) | the same for a page with other paths, or none, in other locales |
/// | [`menu`](Self::menu) | the languages to choose from |
/// | [`has`](Self::has), [`keys`](Self::keys) | whether there is a text, and which |
/// | [`load`](Self::load) | brings sections into memory |
///
/// ```
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # use crow_fly::{args, Config, CrowFly, source::Memory};
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
/// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
/// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
/// # let t = crow.translator_for("en").await;
/// assert_eq!(t.text("home.title"), "Sailings");
/// assert_eq!(t.text(("home.seats", args! { seats: 3 })), "3 seats");
/// assert_eq!(t.path("/sailings"), "/sailings");
/// assert_eq!((t.locale().to_string(), t.direction().as_str()), ("en".to_owned(), "ltr"));
/// # Ok(()) }
/// ```
#[derive(Clone, Debug)]
pub struct Translator {
    inner: Arc<Inner>,
    /// What the reader has of their own, where they have something.
    reader: Option<Arc<Reader>>,
    /// The bare paths of the page in each locale, where a handler has named them.
    pages: Option<Arc<[Option<String>]>>,
    /// The time that counts as now: one for all texts.
    now: Timestamp,
}

/// What a reader has of their own, and the context of the page's locale with it.
#[derive(Debug)]
struct Reader {
    context: FormatContext,
    own: OwnFormats,
}

/// What a reader has of their own.
#[derive(Clone, Debug, Default)]
struct OwnFormats {
    /// The locale of the reader's formats, where it differs from the locale of the words.
    formats: Option<LanguageTag>,
    /// The time zone that the visitor or the caller has named.
    zone: Option<NamedZone>,
    /// How placeholders are isolated, where the caller says so.
    isolation: Option<Isolation>,
    /// Where links lead, where they are whole addresses.
    links: Option<Links>,
    /// The longest text, in bytes, where it is not that of the configuration.
    longest: Option<usize>,
}

/// A time zone by name, and as the database has it.
#[derive(Clone, Debug)]
struct NamedZone {
    name: TimeZoneName,
    zone: TimeZone,
}

impl NamedZone {
    /// Looks a zone up. A name that CLDR knows and the zone database of this program does not is told in the log.
    fn find(name: TimeZoneName) -> Option<Self> {
        match TimeZone::get(name.as_str()) {
            Ok(zone) => Some(Self { name, zone }),
            Err(error) => {
                warn!(
                    target: "crow_fly::time_zones", time_zone = %name, %error,
                    "the zone database does not have this time zone: the default is used; update the database",
                );
                None
            }
        }
    }
}

#[derive(Debug)]
struct Inner {
    site: Arc<Site>,
    /// What the source had when the request came in: all texts are from it.
    generation: Arc<Generation>,
    locale: LocaleId,
    request: Option<RequestFacts>,
    /// What was not there.
    shortage: Shortage,
}

impl Inner {
    fn config(&self) -> &Config {
        self.site.config()
    }

    /// The chain of the locale.
    fn links(&self) -> &[Link] {
        self.site.store().links(self.locale)
    }

    /// The formats of the locale.
    fn context(&self) -> FormatContext {
        let ready = self.links().first().map(|link| link.context.clone());
        let tag = self.config().site.policy.set().tag(self.locale);
        ready.unwrap_or_else(|| self.config().format_context(tag, self.locale))
    }
}

impl Reader {
    fn new(inner: &Inner, own: OwnFormats) -> Self {
        Self { context: own.formatting(inner.context(), true), own }
    }
}

impl OwnFormats {
    /// A context with what the reader has: with their formats where the text reads like the page.
    fn formatting(&self, mut context: FormatContext, reads_like_page: bool) -> FormatContext {
        if let Some(formats) = self.formats.as_ref().filter(|_| reads_like_page) {
            context = context.with_formats(formats);
        }
        if let Some(NamedZone { zone, .. }) = &self.zone {
            context = context.with_time_zone(zone.clone());
        }
        if let Some(isolation) = self.isolation {
            context = context.with_isolation(isolation);
        }
        if let Some(links) = &self.links {
            context = context.with_links(links.clone());
        }
        if let Some(longest) = self.longest {
            context = context.with_longest(longest);
        }
        context
    }
}

/// A formatted message, and what went wrong.
#[derive(Clone, Debug)]
#[non_exhaustive]
pub struct InspectedText {
    /// The message as text.
    pub text: String,
    /// The message as HTML.
    pub html: Html,
    /// The language of the text: that of the page, or another one of the chain.
    pub locale: LanguageTag,
    /// Its direction.
    pub direction: Direction,
    /// What went wrong while it was formatted.
    pub errors: Vec<FormatError>,
}

/// How many characters of an argument are noted.
const LONGEST_NOTED: usize = 200;

#[allow(
    clippy::redundant_closure_for_method_calls,
    reason = "the methods are not general enough in their lifetimes"
)]
impl Translator {
    pub(crate) fn new(
        site: Arc<Site>,
        generation: Arc<Generation>,
        locale: LocaleId,
        request: Option<RequestFacts>,
    ) -> Self {
        let now = site.now();
        let inner = Arc::new(Inner { site, generation, locale, request, shortage: Shortage::default() });
        let decision = inner.request.as_ref().map(|request| &*request.decision);
        let formats = decision.and_then(Decision::visitor_formats);
        // The default is part of the formats of every locale: it does not go before the zone of a value.
        let choice = decision.and_then(|decision| decision.time_zone);
        let named = choice.filter(|choice| choice.source != LocaleSource::Default);
        let zone = named.and_then(|choice| NamedZone::find(choice.name));
        let reader = (formats.is_some() || zone.is_some()).then(|| {
            let own = OwnFormats { formats: formats.cloned(), zone, ..OwnFormats::default() };
            Arc::new(Reader::new(&inner, own))
        });
        Self { inner, reader, pages: None, now }
    }

    /// The same translator for a reader who has something else of their own.
    fn with_own(mut self, change: impl FnOnce(&mut OwnFormats)) -> Self {
        let mut own = self.reader.as_ref().map(|reader| reader.own.clone()).unwrap_or_default();
        change(&mut own);
        self.reader = Some(Arc::new(Reader::new(&self.inner, own)));
        self
    }

    /// Whether it is a translator of this application.
    pub(crate) fn is_of(&self, site: &Arc<Site>) -> bool {
        Arc::ptr_eq(&self.inner.site, site)
    }

    /// A translator that belongs to no request, with the sections that every page needs.
    pub(crate) async fn without_request(site: &Arc<Site>, locale: LocaleId) -> Self {
        let needs = CatalogNeeds::of(site.config(), locale, None);
        let generation = site.store().load(&needs).await.generation;
        Self::new(Arc::clone(site), generation, locale, None)
    }

    /// The same translator for a reader in another time zone: of a mail, or of a member's own setting.
    ///
    /// Moments are shown in this zone, whatever zone they come with, unless the message names another. Where the zone
    /// database of the program lacks the zone, the translator stays as it is, and a warning is logged.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// let moment: jiff::Timestamp = "2026-03-01T09:30:00Z".parse()?;
    /// let t = crow.translator_for("en").await.with_time_zone("Europe/Warsaw".parse()?);
    /// let text = t.text(crow_fly::say("trip.at").with(args! { moment }).or("{$moment :time}"));
    /// assert_eq!(text, "10:30\u{202f}AM");
    /// # Ok(()) }
    /// ```
    #[must_use]
    pub fn with_time_zone(self, name: TimeZoneName) -> Self {
        match NamedZone::find(name) {
            Some(zone) => self.with_own(|own| own.zone = Some(zone)),
            None => self,
        }
    }

    /// The same translator at another time that counts as now, for relative times: `{$leaves :crow:relative}`. By default it is that of
    /// the request, or the one at which the translator was made.
    ///
    /// A page that says them is only right for a while: cached ones have a short lifetime, and an [`etag`](Self::etag) has in its
    /// `state` what changes them.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, say, Config, CrowFly, source::Memory};
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en']")?, Memory::default());
    /// let t = crow.translator_for("en").await.with_now("2026-05-01T09:30:00Z".parse()?);
    /// let leaves = jiff::civil::date(2026, 5, 2);
    /// assert_eq!(t.text(say("trip.leaves").with(args! { leaves }).or("{$leaves :crow:relative}")), "tomorrow");
    /// # Ok(()) }
    /// ```
    #[must_use]
    pub const fn with_now(mut self, now: Timestamp) -> Self {
        self.now = now;
        self
    }

    /// The same translator with another isolation of placeholders for all that follows. [`Isolation::None`] is for what people
    /// copy and programs read: a `<title>`, an attribute, a mail's subject, an address. There the invisible characters around values
    /// are in the way. A message's own [isolation](MessageRef::isolation) goes before it.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// use crow_fly::Isolation;
    ///
    /// let plain = t.with_isolation(Isolation::None);
    /// assert_eq!(plain.text(("home.next", args! { ship: "Curlew" })), "The next is Curlew");
    /// # Ok(()) }
    /// ```
    #[must_use]
    pub fn with_isolation(self, isolation: Isolation) -> Self {
        self.with_own(|own| own.isolation = Some(isolation))
    }

    /// The same translator for a reader with formats of their own, of the same language.
    pub(crate) fn with_formats(self, formats: LanguageTag) -> Self {
        self.with_own(|own| own.formats = Some(formats))
    }

    /// The same translator with another limit for one text, in bytes.
    pub(crate) fn with_longest(self, bytes: usize) -> Self {
        self.with_own(|own| own.longest = Some(bytes))
    }

    /// The same translator for a mail: whole addresses, no isolation.
    pub(crate) fn for_mail(self) -> Self {
        let (site, locale) = (Arc::clone(&self.inner.site), self.inner.locale);
        if site.config().origin.is_none() && site.once.no_origin.is_first() {
            warn!(
                target: "crow_fly::mail", help = "set `origin = \"https://…\"` in the configuration",
                "there is no origin: addresses in mail are not whole",
            );
        }
        let links = Links::new(move |path| site.config().whole_address(locale, path));
        self.with_own(|own| {
            own.isolation = Some(Isolation::None);
            own.links = Some(links);
        })
    }

    /// Formats a message as text. Markup in it is left out.
    ///
    /// Where the chain has no such message, its default text is formatted. Without a default the configuration decides: see
    /// [missing texts](crate::config::MissingText). Each miss is counted: see
    /// [`CrowFly::misses`](crate::CrowFly::misses).
    ///
    /// It reads memory and nothing else. A section that is not loaded yet is answered from the rest of the chain, while a
    /// load of it begins: see [`load`](Self::load).
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// assert_eq!(t.text("home.title"), "Sailings");
    /// // Markup leaves no trace; values are set apart by invisible marks of direction.
    /// assert_eq!(t.text(("home.next", args! { ship: "Curlew" })), "The next is \u{2068}Curlew\u{2069}");
    /// # Ok(()) }
    /// ```
    pub fn text<'a>(&self, message: impl Into<MessageRef<'a>>) -> String {
        let message = message.into();
        let text = self.format(&message, |message| message.text());
        text.map_or_else(|| self.missing_text(&message), |(text, _)| text)
    }

    /// Formats a message as HTML: its text and arguments escaped, markup from a list of harmless elements. A text
    /// that fell back to another language carries `lang` and `dir`.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// let html = t.html(("home.next", args! { ship: "<Curlew>" }));
    /// assert_eq!(html.as_str(), "The next is <strong><bdi>&lt;Curlew&gt;</bdi></strong>");
    /// # Ok(()) }
    /// ```
    pub fn html<'a>(&self, message: impl Into<MessageRef<'a>>) -> Html {
        let message = message.into();
        match self.format(&message, |message| message.html()) {
            Some((html, Some(other))) => html.in_language(&other.tag.to_string(), other.direction),
            Some((html, None)) => html,
            None => Html::escape(&self.missing_text(&message)),
        }
    }

    /// Formats a message in parts, for front ends that make elements of their own from them. As JSON, each part has a
    /// `type`.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// let parts = t.parts(("home.next", args! { ship: "Curlew" }));
    /// assert_eq!(serde_json::to_value(&parts)?[0], serde_json::json!({ "type": "text", "value": "The next is " }));
    /// # Ok(()) }
    /// ```
    pub fn parts<'a>(&self, message: impl Into<MessageRef<'a>>) -> Vec<Part> {
        let message = message.into();
        let parts = self.format(&message, |message| message.parts());
        parts.map_or_else(|| vec![Part::Fallback { source: self.missing_text(&message) }], |(parts, _)| parts)
    }

    /// A text, and the language of it where it is not the page's.
    pub(crate) fn text_in_language(
        &self,
        message: &MessageRef<'_>,
    ) -> (String, Option<(LanguageTag, Direction)>) {
        match self.format(message, |message| message.text()) {
            None => (self.missing_text(message), None),
            Some((text, other)) => (text, other.map(|other| (other.tag.clone(), other.direction))),
        }
    }

    /// Formats a message both ways, with what went wrong: for tools and tests. None where the chain has no such message, and
    /// no default is given with it.
    pub fn inspect<'a>(&self, message: impl Into<MessageRef<'a>>) -> Option<InspectedText> {
        let message = message.into();
        let mut errors = Vec::new();
        let (text, _) =
            self.format_reporting(&message, |message| message.text(), &mut |error| errors.push(error))?;
        // The same errors again.
        let (html, other) = self.format_reporting(&message, |message| message.html(), &mut |_| ())?;
        let (html, locale, direction) = match other {
            Some(OtherLanguage { tag, direction }) => {
                (html.in_language(&tag.to_string(), direction), tag.clone(), direction)
            }
            None => (html, self.locale().clone(), self.direction()),
        };
        Some(InspectedText { text, html, locale, direction, errors })
    }

    /// Finds a message and formats it; its errors are one event. None where there is no such message.
    fn format<T>(
        &self,
        message: &MessageRef<'_>,
        output: impl FnOnce(Formatting<'_, '_, '_>) -> T,
    ) -> Option<(T, Option<OtherLanguage<'_>>)> {
        let Some(mut found) = self.find(message) else {
            self.note_text(message, None, &[]);
            return None;
        };
        found.isolate(message);
        let mut errors = Vec::new();
        let mut report = |error| errors.push(error);
        let formatted = output(self.formatting(&found, &message.args).reporting(&mut report));
        if !errors.is_empty() {
            self.report_errors(&message.key, found.place.as_ref(), &errors);
        }
        self.note_text(message, Some(&found), &errors);
        // What is too long is as what is missing.
        if errors.iter().any(|error| error.kind() == FormatErrorKind::TooLong) {
            return None;
        }
        Some((formatted, found.other))
    }

    /// Finds a message and formats it; its errors go to `report`.
    fn format_reporting<T>(
        &self,
        message: &MessageRef<'_>,
        output: impl FnOnce(Formatting<'_, '_, '_>) -> T,
        report: &mut dyn FnMut(FormatError),
    ) -> Option<(T, Option<OtherLanguage<'_>>)> {
        let mut found = self.find(message)?;
        found.isolate(message);
        Some((output(self.formatting(&found, &message.args).reporting(report)), found.other))
    }

    #[inline]
    fn formatting<'f, 'v>(&'f self, found: &'f Found<'_>, args: &'f Args<'v>) -> Formatting<'f, 'v, 'static> {
        found.program.borrowed().format(&found.context, args).with_now(&self.now)
    }

    /// The entry that this request's texts are noted in.
    pub(crate) fn entry(&self) -> Option<&Arc<Entry>> {
        self.inner.request.as_ref()?.entry.as_ref()
    }

    /// Notes a text, where somebody looks at them.
    #[inline]
    fn note_text(&self, message: &MessageRef<'_>, found: Option<&Found<'_>>, errors: &[FormatError]) {
        if let Some(entry) = self.entry() {
            entry.say(|| self.said(message, found, errors));
        }
    }

    #[cold]
    fn said(&self, message: &MessageRef<'_>, found: Option<&Found<'_>>, errors: &[FormatError]) -> SaidText {
        let value = |name: &str| {
            let value = message.args.get(name).map(ToString::to_string).unwrap_or_default();
            value.chars().take(LONGEST_NOTED).collect()
        };
        let outcome = match found {
            Some(Found { place: Some(place), other, .. }) => TextOutcome::Found {
                place: self.config().relative(place.of(&message.key).to_string()),
                other: other.as_ref().map(|other| other.tag.to_string()),
            },
            Some(_) => TextOutcome::Default,
            None => {
                let inner = &*self.inner;
                match inner.generation.find(inner.locale, || inner.links(), &message.key) {
                    Lookup::Missing(miss) => TextOutcome::Missing(self.sentence(&message.key, miss, true)),
                    Lookup::Message(_) => TextOutcome::Missing("it came in a moment later".to_owned()),
                }
            }
        };
        SaidText {
            key: message.key.to_string(),
            arguments: message.args.names().map(|name| (name.to_owned(), value(name))).collect(),
            outcome,
            errors: errors.to_vec(),
        }
    }

    pub(crate) fn config(&self) -> &Config {
        self.inner.config()
    }

    /// The locale: for `<html lang>`.
    pub fn locale(&self) -> &LanguageTag {
        self.inner.config().site.policy.set().tag(self.inner.locale)
    }

    /// The direction of the locale: for `<html dir>`.
    pub fn direction(&self) -> Direction {
        Direction::of(self.locale())
    }

    /// The time zone that was named for the reader or decided for the visitor; else that of the locale (`-u-tz-`), else the
    /// configured default, or UTC.
    pub fn time_zone(&self) -> TimeZoneName {
        let named =
            self.named_zone().map(|zone| zone.name).or_else(|| TimeZoneName::of_locale(self.formats()));
        named.unwrap_or_else(|| self.inner.config().default_time_zone())
    }

    /// The tag that numbers and dates follow: the visitor's own, where the policy follows it.
    pub fn formats(&self) -> &LanguageTag {
        let own = self.inner.request.as_ref().and_then(|request| request.decision.visitor_formats());
        own.unwrap_or_else(|| self.locale())
    }

    /// The messages of a section along the chain, as scripts get them.
    pub(crate) async fn section_texts(&self, section: &str) -> Result<Arc<SectionTexts>, NotLoaded> {
        let Inner { site, generation, locale, .. } = &*self.inner;
        let made = site.public_sections();
        let identity = generation.identity();
        let ready = || made.of_generation(*locale, section, identity);
        if let Some(texts) = ready() {
            return Ok(texts);
        }
        // One reads the files, and the others wait for it.
        let _turn = made.turn().await;
        if let Some(texts) = ready() {
            return Ok(texts);
        }
        let links = self.inner.links();
        let sources = site.store().section_sources(generation, links, section).await;
        let sources = sources.ok_or_else(|| NotLoaded::of(section))?;
        let texts = SectionTexts::of(section, links, sources.iter().map(|(link, source)| (*link, source)));
        let texts = Arc::new(texts);
        made.keep(*locale, section, identity, &texts);
        Ok(texts)
    }

    pub(crate) fn site(&self) -> &Site {
        &self.inner.site
    }

    /// Whether the time zone was named for the reader, and is not that of the locale or the default.
    pub(crate) fn has_own_time_zone(&self) -> bool {
        self.named_zone().is_some()
    }

    /// The address of the home page in a locale of the application's.
    pub(crate) fn home(&self, locale: &LanguageTag) -> String {
        let policy = &self.config().site.policy;
        policy.set().exact(locale).map_or_else(|| "/".to_owned(), |locale| policy.path(locale, "/"))
    }

    /// Where texts of this locale have addresses; none where no section is public.
    pub(crate) fn texts_address(&self) -> Option<String> {
        self.config().texts_address().map(|address| format!("{address}/{}", self.locale()))
    }

    /// A weak entity tag for a page (RFC 9110 §8.8.3): it changes with `state`, whatever the page is made from, with the
    /// [revision](crate::CrowFlyBuilder::revision) of the program, and with the locale, the time zone and the generation
    /// of the catalogs. The value of an `ETag` header. None where the application names no revision: a tag that stays the
    /// same when the program changes would keep old pages alive.
    pub fn etag(&self, state: impl Hash) -> Option<String> {
        let revision = self.inner.site.revision()?;
        let mut hash = DefaultHasher::new();
        (revision, self.locale(), self.inner.generation.identity()).hash(&mut hash);
        self.inner.request.as_ref().and_then(|request| request.decision.visitor_formats()).hash(&mut hash);
        self.time_zone().hash(&mut hash);
        state.hash(&mut hash);
        Some(format!("W/\"{:016x}\"", hash.finish()))
    }

    /// The path of the request as it came, with its prefix; none where the translator belongs to no request.
    pub fn original_path(&self) -> Option<&str> {
        self.inner.request.as_ref().map(RequestFacts::original_path)
    }

    /// The query of the request.
    pub(crate) fn original_query(&self) -> Option<&str> {
        self.inner.request.as_ref().and_then(RequestFacts::query)
    }

    /// The decision behind this translator; none where it belongs to no request.
    pub fn decision(&self) -> Option<&Decision> {
        self.inner.request.as_ref().map(|request| &*request.decision)
    }
}
