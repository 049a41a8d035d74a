//! Catalogs parsed once, and the place of each message.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeMap;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;
use core::ops::Range;

use hashbrown::{HashMap, HashSet};

use super::Sections;
use super::settings::CheckSettings;
use super::spaces::Spaces;
use crate::catalog::{SectionSource, SourceEntry};
use crate::finding::{FileFindings, Finding, Fix, Position};
use crate::message::{Message, MessageErrors, Parameter};
use crate::rule::Rule;
use crate::suggest::nearest;

/// The sections of a locale.
pub(super) type ParsedLocale<'s> = BTreeMap<&'s str, ParsedSection<'s>>;

/// A section whose messages have been parsed.
pub(super) struct ParsedSection<'s> {
    pub(super) source: &'s SectionSource,
    /// In the order of the file.
    pub(super) messages: Vec<ParsedMessage<'s>>,
    places: HashMap<&'s str, usize>,
    /// The names of all groups that keys stand in.
    groups: HashSet<&'s str>,
}

/// A message, or what is wrong with it.
pub(super) struct ParsedMessage<'s> {
    pub(super) entry: &'s SourceEntry,
    pub(super) message: Result<Message, MessageErrors>,
    /// What comparisons need of it, and many may need of the default locale; nothing where it has errors.
    pub(super) facts: Facts,
}

/// What comparisons need to know of a message.
#[derive(Default)]
pub(super) struct Facts {
    /// Sorted by name.
    pub(super) parameters: Vec<Parameter>,
    pub(super) spaces: Spaces,
    pub(super) signs: Signs,
    /// What a text of the default locale is made of; nothing in other locales.
    pub(super) wording: Wording,
}

/// What a text of the default locale is made of.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) enum Wording {
    /// Nothing that could be translated: signs, codes, words that languages share.
    #[default]
    Nothing,
    /// One word, or words that all begin with a capital: perhaps a name. With its place among all titles.
    Title(usize),
    /// Words that are no name.
    Prose,
}

/// Which kinds of characters stand anywhere in a message's source: most messages have none that is looked for.
#[derive(Clone, Copy, Default)]
pub(super) struct Signs {
    /// Letters and signs beyond ASCII.
    pub(super) beyond_ascii: bool,
    /// Characters that HTML or other notations give a meaning, and control characters but for line breaks.
    pub(super) special: bool,
    /// Two capitals in a row.
    pub(super) capitals: bool,
}

impl Signs {
    fn of(text: &str) -> Self {
        let mut signs = Self::default();
        let mut before = 0;
        for byte in text.bytes() {
            signs.beyond_ascii |= !byte.is_ascii();
            signs.special |= matches!(byte, b'<' | b'&' | b'%') || byte.is_ascii_control() && byte != b'\n';
            signs.capitals |= byte.is_ascii_uppercase() && u8::is_ascii_uppercase(&before);
            before = byte;
        }
        signs
    }
}

impl<'s> ParsedMessage<'s> {
    fn new(entry: &'s SourceEntry) -> Self {
        let message = Message::parse(entry.text());
        let facts = |message: &Message| Facts {
            parameters: message.parameters(),
            spaces: Spaces::of(message),
            signs: Signs::of(entry.text()),
            wording: Wording::Nothing,
        };
        let facts = message.as_ref().map(facts).unwrap_or_default();
        Self { entry, message, facts }
    }
}

impl ParsedMessage<'_> {
    /// Whether visitors read it: it has no errors, and is not marked as untranslated.
    pub(super) fn is_said(&self) -> bool {
        self.message.is_ok() && !self.entry.is_untranslated()
    }
}

impl<'s> ParsedSection<'s> {
    fn new(source: &'s SectionSource) -> Self {
        let messages: Vec<ParsedMessage<'s>> = source.entries().iter().map(ParsedMessage::new).collect();
        // Of two with one key the later one counts.
        let places =
            messages.iter().enumerate().map(|(place, message)| (message.entry.key(), place)).collect();
        let keys = source.entries().iter().map(SourceEntry::key);
        let groups =
            keys.flat_map(|key| key.match_indices('.').filter_map(|(at, _)| key.get(..at))).collect();
        Self { source, messages, places, groups }
    }

    pub(super) fn get(&self, key: &str) -> Option<&ParsedMessage<'s>> {
        self.messages.get(*self.places.get(key)?)
    }

    /// The message of a key, which most often stands where it stands in the other file.
    pub(super) fn get_near(&self, at: usize, key: &str) -> Option<&ParsedMessage<'s>> {
        let near = self.messages.get(at).filter(|message| message.entry.key() == key);
        // Of two with one key the later one counts.
        if near.is_some() && self.places.len() == self.messages.len() { near } else { self.get(key) }
    }

    pub(super) fn has(&self, key: &str) -> bool {
        self.places.contains_key(key)
    }

    /// Whether keys stand in a group of this name.
    pub(super) fn has_group(&self, name: &str) -> bool {
        self.groups.contains(name)
    }

    pub(super) fn keys(&self) -> impl Iterator<Item = &'s str> {
        self.messages.iter().map(|message| message.entry.key())
    }
}

/// Parses all sections of a locale.
pub(super) fn parse(sections: &Sections) -> ParsedLocale<'_> {
    sections.iter().map(|(name, source)| (name.as_str(), ParsedSection::new(source))).collect()
}

/// One message of one catalog, and where its findings go.
pub(super) struct Place<'p, 'f> {
    pub(super) locale: &'p str,
    pub(super) section: &'p str,
    pub(super) source: &'p SectionSource,
    pub(super) entry: &'p SourceEntry,
    pub(super) settings: &'p CheckSettings,
    /// The rules that a comment allows this message to break.
    pub(super) allowed: Vec<Rule>,
    pub(super) file: &'p mut FileFindings<'f>,
}

impl Place<'_, '_> {
    /// Adds a finding about the whole message.
    pub(super) fn find(&mut self, rule: Rule, told: impl FnOnce() -> (String, String)) {
        self.find_at(rule, 0..self.entry.text().len(), told);
    }

    /// Makes a finding about the whole message, for a case that is not known yet; none where the rule is off or allowed.
    pub(super) fn make(&self, rule: Rule, (text, help): (String, String)) -> Option<Finding> {
        let severity = self.settings.severity(rule).filter(|_| !self.allowed.contains(&rule))?;
        Some(Finding {
            rule,
            severity,
            locale: self.locale.to_owned(),
            section: self.section.to_owned(),
            place: Some(self.entry.position(self.source, 0..self.entry.text().len())),
            key: Some(self.entry.key().to_owned()),
            text,
            help,
            file: None,
            fix: None,
        })
    }

    /// Adds a finding about some bytes of the message.
    pub(super) fn find_at(
        &mut self,
        rule: Rule,
        range: Range<usize>,
        told: impl FnOnce() -> (String, String),
    ) {
        self.add(rule, range, None, told);
    }

    /// Adds a finding about the first place where a text stands in the message.
    pub(super) fn find_text(&mut self, rule: Rule, wanted: &str, told: impl FnOnce() -> (String, String)) {
        let range = self.entry.text().find(wanted).map(|start| start..start + wanted.len());
        self.find_at(rule, range.unwrap_or(0..self.entry.text().len()), told);
    }

    /// Adds a finding about a word in the note of the message.
    fn find_in_note(&mut self, rule: Rule, word: &str, told: impl FnOnce() -> (String, String)) {
        let (locale, section, source, entry) = (self.locale, self.section, self.source, self.entry);
        let Some(severity) = self.settings.severity(rule) else { return };
        self.file.add(severity, || {
            let (text, help) = told();
            // The note stands above the message.
            let above = source.text().get(..entry.bytes(source, 0..0).start).unwrap_or_default();
            let place = above.rfind(word).map(|start| Position::of(source.text(), start..start + word.len()));
            Finding {
                rule,
                severity,
                locale: locale.to_owned(),
                section: section.to_owned(),
                place: place.or_else(|| Some(entry.position(source, 0..entry.text().len()))),
                key: Some(entry.key().to_owned()),
                text,
                help,
                file: None,
                fix: None,
            }
        });
    }

    /// Adds a finding that is fixed by writing a text in place of some bytes of the message.
    pub(super) fn find_fixed(
        &mut self,
        rule: Rule,
        range: Range<usize>,
        replacement: (Range<usize>, &str),
        told: impl FnOnce() -> (String, String),
    ) {
        self.add(rule, range, Some(replacement), told);
    }

    fn add(
        &mut self,
        rule: Rule,
        range: Range<usize>,
        replacement: Option<(Range<usize>, &str)>,
        told: impl FnOnce() -> (String, String),
    ) {
        if self.allowed.contains(&rule) {
            return;
        }
        let Some(severity) = self.settings.severity(rule) else { return };
        let (locale, section, source, entry) = (self.locale, self.section, self.source, self.entry);
        self.file.add(severity, || {
            let (text, help) = told();
            let fix = |(range, text): (Range<usize>, &str)| Fix {
                range: entry.bytes(source, range),
                text: text.to_owned(),
            };
            Finding {
                rule,
                severity,
                locale: locale.to_owned(),
                section: section.to_owned(),
                place: Some(entry.position(source, range)),
                key: Some(entry.key().to_owned()),
                text,
                help,
                file: None,
                fix: replacement.map(fix),
            }
        });
    }
}

/// The rules that the note of a message allows it to break: `allow: untranslated, end-mark (the name of a boat)`.
pub(super) fn allowed(notes: &[Option<&str>]) -> Vec<Rule> {
    notes.iter().flatten().flat_map(|note| named_rules(note)).filter_map(Rule::named).collect()
}

/// What the lines `allow:` of a note name.
fn named_rules(note: &str) -> impl Iterator<Item = &str> {
    let named = note.lines().filter_map(|line| line.trim().strip_prefix("allow:"));
    let ids = named.flat_map(|names| names.split('(').next().unwrap_or_default().split(','));
    ids.map(str::trim).filter(|id| !id.is_empty())
}

/// What the note of a message allows, and no rule is called: most likely it is misspelled, and nothing is allowed.
pub(super) fn unknown_rules(place: &mut Place<'_, '_>) {
    for id in place.entry.note().into_iter().flat_map(named_rules).filter(|id| Rule::named(id).is_none()) {
        place.find_in_note(Rule::UnknownRule, id, || {
            let known = Rule::ALL.iter().map(|rule| rule.id().to_owned());
            let help = nearest(id, known).map_or_else(
                || "name a rule, such as `end-mark`; all of them are in docs/rules.md".to_owned(),
                |near| format!("did you mean `{near}`?"),
            );
            (format!("the note allows `{id}`, and no rule has this name"), help)
        });
    }
}

/// The number that a note sets: `max-length: 12`.
pub(super) fn max_length(note: Option<&str>) -> Option<usize> {
    note?.lines().find_map(|line| line.trim().strip_prefix("max-length:")?.trim().parse().ok())
}
