//! How much of the default locale a locale has.

use alloc::vec::Vec;

use super::parsed::{ParsedLocale, ParsedMessage, ParsedSection};
use super::spaces::texts;
use super::{Checker, KeySet, Sections};
use crate::message::Message;

/// How much of the default locale a locale has: messages, by how it has each.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct Coverage {
    /// It has a text of its own.
    pub translated: usize,
    /// Its chain supplies one in the same language.
    pub inherited: usize,
    /// It has a place to be filled: its note is `untranslated`.
    pub untranslated: usize,
    /// It has a text of its own, and the default locale has changed since that was accepted.
    pub stale: usize,
    /// It has no text, or one with errors.
    pub missing: usize,
}

impl Coverage {
    /// Counts one message.
    pub const fn add(&mut self, state: TextState) {
        match state {
            TextState::Translated => self.translated += 1,
            TextState::Inherited => self.inherited += 1,
            TextState::Untranslated => self.untranslated += 1,
            TextState::Stale => self.stale += 1,
            TextState::Missing => self.missing += 1,
        }
    }

    /// All messages of the default locale.
    pub const fn total(&self) -> usize {
        self.translated + self.inherited + self.untranslated + self.stale + self.missing
    }

    /// How much is translated or inherited, in whole percent, rounded down; 100 where there is nothing to translate.
    pub const fn percent(&self) -> usize {
        match ((self.translated + self.inherited) * 100).checked_div(self.total()) {
            Some(percent) => percent,
            None => 100,
        }
    }
}

/// How a locale has a message of the default locale: the members are those of [`Coverage`].
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum TextState {
    /// It has a text of its own.
    Translated,
    /// Its chain supplies one in the same language.
    Inherited,
    /// It has a place to be filled.
    Untranslated,
    /// It has a text of its own, and the default locale has changed since. A [`Checker`] does not know it: who knows what was
    /// accepted says so.
    Stale,
    /// It has no text, or one with errors.
    Missing,
}

impl TextState {
    /// Its name: `translated`.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Translated => "translated",
            Self::Inherited => "inherited",
            Self::Untranslated => "untranslated",
            Self::Stale => "stale",
            Self::Missing => "missing",
        }
    }

    /// Whether nothing is left to do.
    pub const fn is_done(self) -> bool {
        matches!(self, Self::Translated | Self::Inherited)
    }
}

/// A message of the default locale, and how a locale has it.
#[derive(Clone, Copy, Debug)]
#[non_exhaustive]
pub struct CoveredText<'c> {
    /// The section.
    pub section: &'c str,
    /// The key in the section.
    pub key: &'c str,
    /// The source of the default locale's message.
    pub text: &'c str,
    /// The default locale's note to translators.
    pub note: Option<&'c str>,
    /// How many words the default locale's message has: all variants, as white space separates them.
    pub words: usize,
    /// How the locale has it.
    pub state: TextState,
}

impl Checker<'_> {
    /// All messages of the default locale and how a locale has each, by section, in the order of the default locale's files.
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

    /// A message of the default locale with errors is not used: it counts nowhere.
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

/// How a locale has a message of the default locale.
fn state(
    own: Option<&ParsedSection<'_>>,
    section: &str,
    (at, key): (usize, &str),
    parents: &[&KeySet],
) -> TextState {
    let own = own.and_then(|own| own.get_near(at, key));
    if own.is_some_and(ParsedMessage::is_said) {
        TextState::Translated
    } else if parents.iter().any(|keys| keys.has_good(section, key)) {
        TextState::Inherited
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
