//! The translator: one short call to say a text in the request's language.

use std::borrow::Cow;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::{
    FormatContext, FormatError, Formatting, Html, Message, Part, Program, ProgramRef,
};
use crow_fly_core::policy::{Decision, LocaleSource, Outcome};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::value::Args;
use jiff::tz::TimeZone;
use tracing::{trace, warn};

use crate::alternates::Alternates;
use crate::browser::SectionTexts;
use crate::config::Config;
use crate::config::MissingText;
use crate::crow_fly::CrowFly;
use crate::inspector::{Entry, SaidText, TextOutcome};
use crate::menu::MenuItem;
use crate::message_ref::MessageRef;
use crate::store::{Generation, Hit, Link, Lookup, Miss};
use crate::web::LocaleRedirect;

mod message_source;
mod report;
mod sections;

pub use message_source::MessageSource;
use report::{Place, Shortage};
pub use sections::{NotLoaded, Origin, Presence};

/// Says texts in one locale. Cheap to clone; belongs to one request, or to none (mail, jobs).
///
/// | call | gives |
/// |---|---|
/// | [`text`](Self::text) | a text, for anything that is not HTML |
/// | [`html`](Self::html) | safe HTML |
/// | [`parts`](Self::parts) | the pieces of a text, for a front end |
/// | [`locale`](Self::locale), [`direction`](Self::direction) | for `<html lang dir>` |
/// | [`time_zone`](Self::time_zone) | the reader's time zone |
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
}

/// What a reader has of their own.
#[derive(Debug)]
struct Reader {
    /// The formats of the locale with the reader's own formats and time zone.
    context: FormatContext,
    /// The time zone that the visitor or the caller has named.
    zone: Option<NamedZone>,
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
    crow: CrowFly,
    /// What the source had when the request came in: all texts are from it.
    generation: Arc<Generation>,
    locale: LocaleId,
    request: Option<RequestFacts>,
    /// What was not there.
    shortage: Shortage,
}

impl Inner {
    fn config(&self) -> &Config {
        self.crow.config()
    }

    /// The chain of the locale.
    fn links(&self) -> &[Link] {
        self.crow.store().links(self.locale)
    }

    /// The formats of the locale.
    fn context(&self) -> FormatContext {
        let ready = self.links().first().map(|link| link.context.clone());
        let tag = self.config().site.policy.set().tag(self.locale);
        ready.unwrap_or_else(|| self.config().format_context(tag, self.locale))
    }
}

impl Reader {
    fn new(mut context: FormatContext, zone: Option<NamedZone>) -> Self {
        if let Some(NamedZone { zone, .. }) = &zone {
            context = context.with_time_zone(zone.clone());
        }
        Self { context, zone }
    }
}

/// What a translator knows of its request.
#[derive(Debug)]
pub(crate) struct RequestFacts {
    decision: Decision,
    /// The path as it came, and the query behind it, with its `?`.
    address: String,
    path_length: usize,
    /// Where its texts are noted.
    entry: Option<Arc<Entry>>,
}

impl RequestFacts {
    pub(crate) fn new(
        decision: Decision,
        path: &str,
        query: Option<&str>,
        entry: Option<Arc<Entry>>,
    ) -> Self {
        Self { decision, address: with_query(path, query), path_length: path.len(), entry }
    }

    /// The path the application is asked for.
    pub(crate) fn path(&self) -> &str {
        match &self.decision.outcome {
            Outcome::Serve(path) => path,
            _ => self.original_path(),
        }
    }

    fn original_path(&self) -> &str {
        self.address.get(..self.path_length).unwrap_or_default()
    }

    fn query(&self) -> Option<&str> {
        self.address.get(self.path_length + 1..)
    }
}

/// A path with a query behind it.
pub(crate) fn with_query(path: &str, query: Option<&str>) -> String {
    let Some(query) = query else { return path.to_owned() };
    let mut address = String::with_capacity(path.len() + 1 + query.len());
    address.push_str(path);
    address.push('?');
    address.push_str(query);
    address
}

/// A message that was said, and what went wrong.
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

/// `booking.seats-left(seats: 3)`.
fn key_and_arguments(key: &str, args: &Args<'_>) -> String {
    let arguments = args.names().filter_map(|name| Some(format!("{name}: {}", args.get(name)?)));
    let arguments = arguments.collect::<Vec<_>>().join(", ");
    if arguments.is_empty() { key.to_owned() } else { format!("{key}({arguments})") }
}

/// A message of a catalog, or of code.
enum FoundProgram<'t> {
    OfCatalog(ProgramRef<'t>),
    OfCode(Program),
}

impl FoundProgram<'_> {
    fn borrowed(&self) -> ProgramRef<'_> {
        match self {
            Self::OfCatalog(program) => *program,
            Self::OfCode(program) => program.borrowed(),
        }
    }
}

/// A message that was found, and what to format it with.
struct Found<'t> {
    /// Where it is from; none for a default text in code.
    place: Option<Place<'t>>,
    program: FoundProgram<'t>,
    context: Cow<'t, FormatContext>,
    /// The language of the text, where it is not the page's.
    other: Option<OtherLanguage<'t>>,
}

impl Found<'_> {
    /// Isolates placeholders as the message asks, in place: contexts are large.
    fn isolate(&mut self, message: &MessageRef<'_>) {
        if let Some(isolation) = message.isolation {
            self.context = Cow::Owned(self.context.as_ref().clone().with_isolation(isolation));
        }
    }
}

/// The language of a text that is not in the page's.
struct OtherLanguage<'t> {
    tag: &'t LanguageTag,
    direction: Direction,
}

#[allow(
    clippy::redundant_closure_for_method_calls,
    reason = "the methods are not general enough in their lifetimes"
)]
impl Translator {
    pub(crate) fn new(
        crow: CrowFly,
        generation: Arc<Generation>,
        locale: LocaleId,
        request: Option<RequestFacts>,
    ) -> Self {
        let inner = Inner { crow, generation, locale, request, shortage: Shortage::default() };
        let decision = inner.request.as_ref().map(|request| &request.decision);
        let formats = decision.and_then(Decision::visitor_formats);
        // The default is part of the formats of every locale: it does not go before the zone of a value.
        let choice = decision.and_then(|decision| decision.time_zone);
        let named = choice.filter(|choice| choice.source != LocaleSource::Default);
        let zone = named.and_then(|choice| NamedZone::find(choice.name));
        let reader = (formats.is_some() || zone.is_some()).then(|| {
            let mut context = inner.context();
            if let Some(formats) = formats {
                context = context.with_formats(formats);
            }
            Arc::new(Reader::new(context, zone))
        });
        Self { inner: Arc::new(inner), reader, pages: None }
    }

    /// The same translator for a reader in another time zone: of a mail, or of a member's own setting.
    ///
    /// Moments are shown in this zone, whatever zone they come with, unless the message names another. Where the zone
    /// database of the program lacks the zone, the translator stays as it is, and an event says so.
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
    pub fn with_time_zone(mut self, name: TimeZoneName) -> Self {
        if let Some(zone) = NamedZone::find(name) {
            let context =
                self.reader.as_ref().map_or_else(|| self.inner.context(), |reader| reader.context.clone());
            self.reader = Some(Arc::new(Reader::new(context, Some(zone))));
        }
        self
    }

    /// Says a message as text. Markup in it is left out.
    ///
    /// Where the chain has no such message, the default given with it is said; where there is none, what the
    /// configuration says of [missing texts](crate::config::MissingText). Each miss is counted: see
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

    /// Says a message as HTML: its text and arguments escaped, markup from a list of harmless elements. A text
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

    /// Says a message in parts, for front ends that make elements of their own from them. As JSON, each part has a
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

    /// Says a message both ways, with what went wrong: for tools and tests. None where the chain has no such message, and
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
        let formatted =
            output(found.program.borrowed().format(&found.context, &message.args).reporting(&mut report));
        if !errors.is_empty() {
            self.report_errors(&message.key, found.place.as_ref(), &errors);
        }
        self.note_text(message, Some(&found), &errors);
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
        let formatting = found.program.borrowed().format(&found.context, &message.args);
        Some((output(formatting.reporting(report)), found.other))
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
                place: place.of(&message.key).to_string(),
                other: other.as_ref().map(|other| other.tag.to_string()),
            },
            Some(_) => TextOutcome::Default,
            None => {
                let inner = &*self.inner;
                match inner.generation.find(inner.locale, || inner.links(), &message.key) {
                    Lookup::Missing(miss) => TextOutcome::Missing(miss.text()),
                    Lookup::Message(_) => TextOutcome::Missing("it came in a moment later"),
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

    fn find<'t>(&'t self, message: &MessageRef<'_>) -> Option<Found<'t>> {
        let inner = &*self.inner;
        match inner.generation.find_hashed(inner.locale, || inner.links(), &message.key, message.hash()) {
            Lookup::Message(hit) => self.found(message, &hit),
            Lookup::Missing(miss) => {
                if miss == Miss::NotLoaded {
                    self.ask_for_section(&message.key);
                }
                self.report_miss(message, miss);
                self.default_text(message)
            }
        }
    }

    fn found<'t>(&'t self, message: &MessageRef<'_>, hit: &Hit<'t>) -> Option<Found<'t>> {
        let Hit { link, section, is_preliminary, .. } = *hit;
        let link = self.inner.links().get(link)?;
        if is_preliminary {
            self.ask_for_section(&message.key);
        }
        let (tag, locale) = (&link.tag, self.locale());
        let place = Place::new(section);
        trace!(target: "crow_fly::texts", key = &*message.key, locale = %locale, from = %tag, place = %place.of(&message.key), "found");
        let falls_back = link.locale != self.inner.locale
            && (tag.language() != locale.language() || link.direction != self.direction());
        if falls_back {
            self.report_fallback(&message.key, tag);
        }
        let other = falls_back.then_some(OtherLanguage { tag, direction: link.direction });
        let program = FoundProgram::OfCatalog(hit.program()?);
        Some(Found { program, context: self.context(link), other, place: Some(place) })
    }

    /// The text that is given in code, in the language of the default locale.
    fn default_text<'t>(&'t self, message: &MessageRef<'_>) -> Option<Found<'t>> {
        if message.missing.unwrap_or(self.inner.config().missing) == MissingText::KeyAndArguments {
            return None;
        }
        let default = match Message::parse(message.default?) {
            Ok(default) => default,
            Err(errors) => {
                warn!(target: "crow_fly::misses", key = &*message.key, %errors, "the default given in code cannot be read");
                return None;
            }
        };
        let tag = self.default_tag();
        let other = (tag.language() != self.locale().language())
            .then(|| OtherLanguage { tag, direction: Direction::of(tag) });
        Some(Found {
            program: FoundProgram::OfCode(Program::compile(&default)),
            context: self.default_context(),
            other,
            place: None,
        })
    }

    /// The text that is shown for a missing message.
    fn missing_text(&self, message: &MessageRef<'_>) -> String {
        match message.missing.unwrap_or(self.inner.config().missing) {
            MissingText::Marker => format!("⟦{}⟧", message.key),
            MissingText::Key | MissingText::Error => message.key.to_string(),
            MissingText::KeyAndArguments => key_and_arguments(&message.key, &message.args),
            MissingText::Empty => String::new(),
        }
    }

    /// The formats for a catalog's texts: the reader's, where those are of its language; their time zone everywhere.
    fn context<'t>(&'t self, link: &'t Link) -> Cow<'t, FormatContext> {
        match &self.reader {
            Some(reader) if link.tag.language() == self.locale().language() => Cow::Borrowed(&reader.context),
            _ => self.in_named_zone(Cow::Borrowed(&link.context)),
        }
    }

    fn default_context(&self) -> Cow<'_, FormatContext> {
        self.in_named_zone(Cow::Owned(
            self.inner.config().format_context(self.default_tag(), self.inner.locale),
        ))
    }

    /// Formats with the time zone that the visitor or the caller has named.
    fn in_named_zone<'t>(&'t self, context: Cow<'t, FormatContext>) -> Cow<'t, FormatContext> {
        match self.named_zone() {
            Some(zone) => Cow::Owned(context.into_owned().with_time_zone(zone.zone.clone())),
            None => context,
        }
    }

    fn named_zone(&self) -> Option<&NamedZone> {
        self.reader.as_ref()?.zone.as_ref()
    }

    fn default_tag(&self) -> &LanguageTag {
        let set = self.inner.config().site.policy.set();
        set.tag(set.default_locale())
    }

    pub(crate) fn config(&self) -> &Config {
        self.inner.config()
    }

    /// The locale: what `<html lang>` says.
    pub fn locale(&self) -> &LanguageTag {
        self.inner.config().site.policy.set().tag(self.inner.locale)
    }

    /// The direction of the locale: what `<html dir>` says.
    pub fn direction(&self) -> Direction {
        Direction::of(self.locale())
    }

    /// The time zone that was named for the reader or decided for the visitor; else the configured default, or UTC.
    pub fn time_zone(&self) -> TimeZoneName {
        self.named_zone().map_or_else(|| self.inner.config().default_time_zone(), |zone| zone.name)
    }

    /// The tag that numbers and dates follow: the visitor's own, where the policy follows it.
    pub fn formats(&self) -> &LanguageTag {
        let own = self.inner.request.as_ref().and_then(|request| request.decision.visitor_formats());
        own.unwrap_or_else(|| self.locale())
    }

    /// The messages of a section along the chain, as scripts get them.
    pub(crate) async fn section_texts(&self, section: &str) -> Result<Arc<SectionTexts>, NotLoaded> {
        let Inner { crow, generation, locale, .. } = &*self.inner;
        let made = crow.public_sections();
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
        let sources = crow.store().section_sources(generation, links, section).await;
        let sources = sources.ok_or_else(|| NotLoaded::of(section))?;
        let texts = SectionTexts::of(section, links, sources.iter().map(|(link, source)| (*link, source)));
        let texts = Arc::new(texts);
        made.keep(*locale, section, identity, &texts);
        Ok(texts)
    }

    /// Where texts of this locale have addresses; none where no section is public.
    pub(crate) fn texts_address(&self) -> Option<String> {
        let browser = &self.config().browser;
        (!browser.sections.is_empty()).then(|| format!("{}/{}", browser.path, self.locale()))
    }

    /// The address of a page, given by its bare path, in this locale. Query and fragment are kept.
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
        self.inner.config().site.policy.path(self.inner.locale, path.as_ref())
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
        let origin = self.config().origin.as_deref()?;
        Some(format!("{origin}{}", self.path(path)))
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
        LocaleRedirect { address: self.path(path) }
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
        MenuItem::all(self.inner.config(), self.inner.locale, |locale| self.page_in(locale, &here))
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

    /// A weak entity tag for a page (RFC 9110 §8.8.3): it changes with `state`, whatever the page is made from, with the
    /// [revision](crate::CrowFlyBuilder::revision) of the program, and with the locale, the time zone and the generation
    /// of the catalogs. The value of an `ETag` header. None where the application names no revision: a tag that stays the
    /// same when the program changes would keep old pages alive.
    pub fn etag(&self, state: impl Hash) -> Option<String> {
        let revision = self.inner.crow.revision()?;
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

    /// The decision behind this translator; none where it belongs to no request.
    pub fn decision(&self) -> Option<&Decision> {
        self.inner.request.as_ref().map(|request| &request.decision)
    }
}
