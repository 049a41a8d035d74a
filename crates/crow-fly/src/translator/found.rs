//! A message found for a key: in the catalogs of the chain, or in code.

use std::borrow::Cow;

use crow_fly_core::direction::Direction;
use crow_fly_core::message::{FormatContext, Message, Program, ProgramRef};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::Args;
use tracing::{trace, warn};

use super::report::Place;
use super::{NamedZone, Translator};
use crate::config::MissingText;
use crate::message_ref::MessageRef;
use crate::store::{Hit, Link, Lookup, Miss};

/// A message of a catalog, or of code.
pub(super) enum FoundProgram<'t> {
    OfCatalog(ProgramRef<'t>),
    OfCode(Program),
}

impl FoundProgram<'_> {
    pub(super) fn borrowed(&self) -> ProgramRef<'_> {
        match self {
            Self::OfCatalog(program) => *program,
            Self::OfCode(program) => program.borrowed(),
        }
    }
}

/// A message that was found, and what to format it with.
pub(super) struct Found<'t> {
    /// Where it is from; none for a default text in code.
    pub(super) place: Option<Place<'t>>,
    pub(super) program: FoundProgram<'t>,
    pub(super) context: Cow<'t, FormatContext>,
    /// The language of the text, where it is not the page's.
    pub(super) other: Option<OtherLanguage<'t>>,
}

impl Found<'_> {
    /// Isolates placeholders as the message asks, in place: contexts are large.
    pub(super) fn isolate(&mut self, message: &MessageRef<'_>) {
        if let Some(isolation) = message.isolation {
            self.context = Cow::Owned(self.context.as_ref().clone().with_isolation(isolation));
        }
    }
}

/// The language of a text that is not in the page's.
pub(super) struct OtherLanguage<'t> {
    pub(super) tag: &'t LanguageTag,
    pub(super) direction: Direction,
}

/// `booking.seats-left(seats: 3)`.
fn key_and_arguments(key: &str, args: &Args<'_>) -> String {
    let arguments = args.names().filter_map(|name| Some(format!("{name}: {}", args.get(name)?)));
    let arguments = arguments.collect::<Vec<_>>().join(", ");
    if arguments.is_empty() { key.to_owned() } else { format!("{key}({arguments})") }
}

impl Translator {
    /// Finds a message along the chain, else the default in code; a miss is reported.
    pub(super) fn find<'t>(&'t self, message: &MessageRef<'_>) -> Option<Found<'t>> {
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
        let falls_back = !link.reads_like_page;
        if falls_back {
            self.report_fallback(message, tag);
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
        let reads_like_page = tag.reads_like(self.locale());
        let context = self.inner.config().format_context(tag, self.inner.locale);
        Some(Found {
            program: FoundProgram::OfCode(Program::compile(&default)),
            context: self.for_reader(Cow::Owned(context), reads_like_page),
            other: (!reads_like_page).then(|| OtherLanguage { tag, direction: Direction::of(tag) }),
            place: None,
        })
    }

    /// The text that is shown for a missing message.
    pub(super) fn missing_text(&self, message: &MessageRef<'_>) -> String {
        match message.missing.unwrap_or(self.inner.config().missing) {
            MissingText::Marker => format!("⟦{}⟧", message.key),
            MissingText::Key | MissingText::Error => message.key.to_string(),
            MissingText::KeyAndArguments => key_and_arguments(&message.key, &message.args),
            MissingText::Empty => String::new(),
        }
    }

    /// What a catalog's texts are formatted with.
    fn context<'t>(&'t self, link: &'t Link) -> Cow<'t, FormatContext> {
        match &self.reader {
            // Nearly every text is of the page's own locale, whose context is ready.
            Some(reader) if link.locale == self.inner.locale => Cow::Borrowed(&reader.context),
            _ => self.for_reader(Cow::Borrowed(&link.context), link.reads_like_page),
        }
    }

    /// Formats as the reader does, where the text reads like the page; in the reader's time zone everywhere.
    fn for_reader<'t>(
        &self,
        context: Cow<'t, FormatContext>,
        reads_like_page: bool,
    ) -> Cow<'t, FormatContext> {
        match &self.reader {
            Some(reader) => Cow::Owned(reader.own.formatting(context.into_owned(), reads_like_page)),
            None => context,
        }
    }

    pub(super) fn named_zone(&self) -> Option<&NamedZone> {
        self.reader.as_ref()?.own.zone.as_ref()
    }

    pub(super) fn default_tag(&self) -> &LanguageTag {
        let set = self.inner.config().site.policy.set();
        set.tag(set.default_locale())
    }
}
