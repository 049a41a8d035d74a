//! How much of the reference a locale has.

use alloc::vec::Vec;

use super::parsed::{ParsedLocale, ParsedMessage, ParsedSection};
use super::spaces::texts;
use super::{Checker, KeySet, Sections};
use crate::message::Message;

/// How much of the reference a locale has.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct Coverage {
    /// Messages of its own that the reference has, too.
    pub own: usize,
    /// Further ones that its chain supplies in the same language.
    pub from_chain: usize,
    /// Messages that it has as a place to be filled: their note is `untranslated`.
    pub untranslated: usize,
    /// Messages of the reference that it does not have.
    pub missing: usize,
}

impl Coverage {
    /// Counts one message.
    pub const fn add(&mut self, state: TextState) {
        match state {
            TextState::Own => self.own += 1,
            TextState::FromChain => self.from_chain += 1,
            TextState::Untranslated => self.untranslated += 1,
            TextState::Missing => self.missing += 1,
        }
    }

    /// All messages of the reference.
    pub const fn total(&self) -> usize {
        self.own + self.from_chain + self.untranslated + self.missing
    }

    /// How much is there in the language, in whole percent, rounded down; 100 where there is nothing to translate.
    pub const fn percent(&self) -> usize {
        match ((self.own + self.from_chain) * 100).checked_div(self.total()) {
            Some(percent) => percent,
            None => 100,
        }
    }
}

/// How a locale has a message of the reference.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum TextState {
    /// It has a text of its own.
    Own,
    /// Its chain supplies one in the same language.
    FromChain,
    /// It has a place to be filled.
    Untranslated,
    /// It has no text, or one with errors.
    Missing,
}

/// A message of the reference, and how a locale has it.
#[derive(Clone, Copy, Debug)]
#[non_exhaustive]
pub struct CoveredText<'c> {
    /// The section.
    pub section: &'c str,
    /// The key in the section.
    pub key: &'c str,
    /// The source of the reference's message.
    pub text: &'c str,
    /// The reference's note to translators.
    pub note: Option<&'c str>,
    /// How many words the reference's message has: all variants, as white space separates them.
    pub words: usize,
    /// How the locale has it.
    pub state: TextState,
}

impl Checker<'_> {
    /// All messages of the reference and how a locale has each, by section, in the order of the reference's files.
    /// `parents` are the keys of its [parents](Self::parents).
    pub fn texts(&self, own: &Sections, parents: &[&KeySet]) -> Vec<CoveredText<'_>> {
        let own = super::parsed::parse(own);
        let mut found = Vec::new();
        for (section, known) in &self.reference {
            for (at, ParsedMessage { entry, message, .. }) in known.messages.iter().enumerate() {
                let Ok(message) = message else { continue };
                let (key, text, note) = (entry.key(), entry.text(), entry.note());
                let state = state(own.get(section), section, (at, key), parents);
                found.push(CoveredText { section, key, text, note, words: words(message), state });
            }
        }
        found
    }

    /// A message of the reference with errors is not used: it counts nowhere.
    pub(super) fn coverage(&self, own: &ParsedLocale<'_>, parents: &[&KeySet]) -> Coverage {
        let mut coverage = Coverage::default();
        for (section, known) in &self.reference {
            let own = own.get(section);
            for (at, message) in
                known.messages.iter().enumerate().filter(|(_, message)| message.message.is_ok())
            {
                coverage.add(state(own, section, (at, message.entry.key()), parents));
            }
        }
        coverage
    }
}

/// How a locale has a message of the reference.
fn state(
    own: Option<&ParsedSection<'_>>,
    section: &str,
    (at, key): (usize, &str),
    parents: &[&KeySet],
) -> TextState {
    let own = own.and_then(|own| own.get_near(at, key));
    if own.is_some_and(ParsedMessage::is_said) {
        TextState::Own
    } else if parents.iter().any(|keys| keys.has_good(section, key)) {
        TextState::FromChain
    } else if own.is_some_and(|message| message.entry.is_untranslated()) {
        TextState::Untranslated
    } else {
        TextState::Missing
    }
}

/// How many words a message has, as white space separates them.
fn words(message: &Message) -> usize {
    let words = message.patterns().flat_map(texts).flat_map(str::split_whitespace);
    words.filter(|word| word.chars().any(char::is_alphanumeric)).count()
}
