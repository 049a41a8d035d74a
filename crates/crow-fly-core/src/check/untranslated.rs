//! Texts that are the same as in the default locale.
//!
//! Prose that is the same in two languages was forgotten. One word, or a title, may be a name: other texts of the locale, and what
//! other locales have done with it, show whether it is.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::string::String;
use alloc::vec::Vec;

use super::languages::{Language, is_international, may_be_shared};
use super::parsed::{Facts, ParsedLocale, Place, Wording};
use super::spaces::texts;
use super::wording::is_blank;
use crate::finding::Finding;
use crate::message::Message;
use crate::message::model::{Element, Pattern};
use crate::rule::Rule;

/// How many words a text has that two languages of one kind do not share by chance.
const FEW_WORDS: usize = 4;

/// What a message of the default locale is made of. `titles` are those before it.
fn wording_of(message: &Message, titles: usize) -> Wording {
    let (mut count, mut is_title, mut is_nothing) = (0_usize, true, true);
    for word in message.patterns().flat_map(texts).flat_map(words) {
        count += 1;
        is_title &= word.chars().next().is_some_and(|letter| !letter.is_lowercase());
        is_nothing = is_nothing && (is_code(word) || is_international(word));
        // Nothing that follows makes a title, or nothing, of it.
        if count > 1 && !is_title && !is_nothing {
            return Wording::Prose;
        }
    }
    match count {
        _ if is_nothing => Wording::Nothing,
        1 => Wording::Title(titles),
        _ if is_title => Wording::Title(titles),
        _ => Wording::Prose,
    }
}

/// Notes what the texts of the default locale are made of; returns how many titles there are.
pub(super) fn read_reference(reference: &mut ParsedLocale<'_>) -> usize {
    let mut titles = 0;
    for message in reference.values_mut().flat_map(|section| &mut section.messages) {
        if let Ok(of) = &message.message {
            message.facts.wording = wording_of(of, titles);
            titles += usize::from(matches!(message.facts.wording, Wording::Title(_)));
        }
    }
    titles
}

/// Compares a text with the default locale's, which is in another language.
pub(super) fn check(
    place: &mut Place<'_, '_>,
    own: &Message,
    (reference, facts): (&Message, &Facts),
    language: &Language<'_>,
    titles: &mut Titles,
) {
    if facts.wording == Wording::Nothing || language.is_of_reference() || is_blank(own) {
        return;
    }
    let is_same = is_same_text(own, reference);
    let told = || {
        (
            "the text is the same as in the default locale".to_owned(),
            "translate it, or leave it out: the chain supplies it".to_owned(),
        )
    };
    match facts.wording {
        Wording::Title(title) => {
            titles.note(title, is_same);
            if is_same && let Some(finding) = place.make(Rule::Untranslated, told()) {
                titles.keep(title, finding);
            }
        }
        Wording::Prose if is_same => {
            let count = || reference.patterns().map(|pattern| texts(pattern).flat_map(words).count()).max();
            if !language.is_kin_of_reference() || count().is_some_and(|count| count >= FEW_WORDS) {
                place.find(Rule::Untranslated, told);
            }
        }
        Wording::Prose | Wording::Nothing => {}
    }
}

/// Whether a word is an abbreviation or a name by how it is written: `PDF`, `MyFerry`.
fn is_code(word: &str) -> bool {
    let mut letters = word.chars();
    let first = letters.next();
    first.is_none_or(|first| !first.is_lowercase()) && letters.any(char::is_uppercase)
}

/// What a locale has done with a title of the default locale.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Title {
    Absent,
    Kept,
    Translated,
}

/// What a locale has done with texts of the default locale that are one word or a title, and which of them it has kept.
#[derive(Clone, Debug, Default)]
pub struct Titles {
    language: String,
    /// One for each title of the default locale.
    of: Vec<Title>,
    kept: Vec<KeptTitle>,
}

/// A title that is the same as in the default locale.
#[derive(Clone, Debug)]
struct KeptTitle {
    /// Which title of the default locale it is.
    title: usize,
    evidence: Evidence,
    finding: Finding,
}

/// What the other texts of a locale say about a title that it has kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Evidence {
    /// Its words are translated elsewhere.
    Word,
    /// Nothing but letters of another script than its language has.
    Script,
    /// One word.
    One,
    /// Several words, perhaps somebody's name.
    Several,
    /// Words that the languages may write alike.
    Shared,
}

impl Titles {
    /// Whether it has kept some that may be words, so that other locales must be asked.
    pub fn has_kept(&self) -> bool {
        !self.kept.is_empty()
    }

    pub(super) fn new(language: &Language<'_>, count: usize) -> Self {
        let language = language.tag.language().as_str().to_owned();
        Self { language, of: alloc::vec![Title::Absent; count], kept: Vec::new() }
    }

    /// Notes what a locale has done with one title.
    pub(super) fn note(&mut self, title: usize, is_kept: bool) {
        if let Some(known) = self.of.get_mut(title) {
            *known = if is_kept { Title::Kept } else { Title::Translated };
        }
    }

    /// Notes a finding, for the case that the title was forgotten.
    pub(super) fn keep(&mut self, title: usize, finding: Finding) {
        self.kept.push(KeptTitle { title, evidence: Evidence::One, finding });
    }

    /// Looks at the titles that a locale has kept beside its other texts: a word that is in those is no foreign one.
    pub(super) fn weigh(
        &mut self,
        own: &ParsedLocale<'_>,
        reference: &ParsedLocale<'_>,
        language: &Language<'_>,
    ) {
        if self.kept.is_empty() {
            return;
        }
        let vocabulary = Vocabulary::of(own, reference);
        let is_kin = language.is_kin_of_reference();
        self.kept.retain_mut(|kept| {
            let text = find(reference, &kept.finding);
            let words: Vec<String> = text
                .into_iter()
                .flat_map(Message::patterns)
                .flat_map(texts)
                .flat_map(words)
                .filter(|word| !is_code(word) && !is_international(word))
                .map(str::to_lowercase)
                .collect();
            if words.iter().all(|word| vocabulary.has(word)) {
                return false;
            }
            kept.evidence =
                if words.iter().any(|word| vocabulary.lost.contains(word) && !vocabulary.has(word)) {
                    Evidence::Word
                } else if language.scripts.has_no_latin() {
                    Evidence::Script
                } else if is_kin || words.iter().all(|word| may_be_shared(word)) {
                    Evidence::Shared
                } else if words.len() > 1 {
                    Evidence::Several
                } else {
                    Evidence::One
                };
            true
        });
    }
}

/// The message of the default locale that a finding is about.
fn find<'r>(reference: &'r ParsedLocale<'_>, finding: &Finding) -> Option<&'r Message> {
    let section = reference.get(finding.section.as_str())?;
    section.get(finding.key.as_deref()?)?.message.as_ref().ok()
}

/// The words of a locale's texts that were translated.
struct Vocabulary {
    own: BTreeSet<String>,
    /// Words of the default locale in texts that the locale has translated.
    lost: BTreeSet<String>,
}

impl Vocabulary {
    fn of(own: &ParsedLocale<'_>, reference: &ParsedLocale<'_>) -> Self {
        let mut vocabulary = Self { own: BTreeSet::new(), lost: BTreeSet::new() };
        for (name, section) in own {
            let Some(known) = reference.get(name) else { continue };
            for (at, message) in section.messages.iter().enumerate().filter(|(_, message)| message.is_said())
            {
                let other =
                    known.get_near(at, message.entry.key()).and_then(|other| other.message.as_ref().ok());
                let (Ok(message), Some(other)) = (&message.message, other) else { continue };
                if is_same_text(message, other) {
                    continue;
                }
                let all = |message: &Message| -> Vec<String> {
                    message.patterns().flat_map(texts).flat_map(words).map(str::to_lowercase).collect()
                };
                // Latin words stand in other scripts without spaces around them.
                let latin = message.patterns().flat_map(texts).filter(|text| !text.is_ascii());
                let latin = latin.flat_map(|text| text.split(|letter: char| !letter.is_ascii_alphabetic()));
                vocabulary.own.extend(all(message));
                vocabulary.own.extend(latin.filter(|word| word.len() > 1).map(str::to_lowercase));
                vocabulary.lost.extend(all(other));
            }
        }
        vocabulary
    }

    /// Whether a word is in it, perhaps with another ending.
    fn has(&self, word: &str) -> bool {
        let longer = self.own.range(word.to_owned()..).next().is_some_and(|near| near.starts_with(word));
        // `page` for `pages`.
        let shorter = || {
            let (end, _) = word.char_indices().next_back()?;
            word.get(..end).filter(|stem| stem.chars().count() > 2 && self.own.contains(*stem))
        };
        longer || shorter().is_some()
    }
}

/// What was forgotten, by the titles of all locales: that is known only when all of them have been checked.
pub fn forgotten<'t>(titles: impl IntoIterator<Item = &'t Titles>) -> Vec<Finding> {
    let all: Vec<&Titles> = titles.into_iter().collect();
    if all.iter().all(|titles| titles.kept.is_empty()) {
        return Vec::new();
    }
    let count = all.iter().map(|titles| titles.of.len()).max().unwrap_or_default();
    let mut tally: Vec<Tally<'_>> = Vec::new();
    tally.resize_with(count, Tally::default);
    for titles in &all {
        for (tally, done) in tally.iter_mut().zip(&titles.of) {
            match done {
                Title::Absent => {}
                Title::Kept => _ = tally.kept.insert(&titles.language),
                Title::Translated => _ = tally.translated.insert(&titles.language),
            }
        }
    }
    let kept = all.iter().flat_map(|titles| titles.kept.iter().map(|kept| (kept, titles.language.as_str())));
    let is_forgotten = |kept: &KeptTitle, language| {
        tally.get(kept.title).is_some_and(|tally| tally.is_forgotten(kept.evidence, language))
    };
    kept.filter(|(kept, language)| is_forgotten(kept, language))
        .map(|(kept, _)| kept.finding.clone())
        .collect()
}

/// The languages that have kept a title, and those that have translated it.
#[derive(Default)]
struct Tally<'t> {
    kept: BTreeSet<&'t str>,
    translated: BTreeSet<&'t str>,
}

impl Tally<'_> {
    fn is_forgotten(&self, evidence: Evidence, language: &str) -> bool {
        let others =
            |languages: &BTreeSet<&str>| languages.iter().filter(|other| **other != language).count();
        let (kept, translated) = (others(&self.kept), others(&self.translated));
        match evidence {
            Evidence::Shared => false,
            // What several languages keep is a name, though some write it in their script.
            _ if translated + kept > 0 && translated <= 2 * kept => false,
            Evidence::Word | Evidence::Script => true,
            Evidence::One => translated > 0,
            Evidence::Several => translated > 2,
        }
    }
}

/// Whether a text is the same as in the default locale, but for case and end marks: a text with other forms has been worked on.
pub(super) fn is_same_text(message: &Message, reference: &Message) -> bool {
    let (mut own, mut other) = (message.patterns(), reference.patterns());
    own.by_ref().zip(other.by_ref()).all(|(own, other)| is_same(own, other))
        && own.next().is_none()
        && other.next().is_none()
}

/// Whether two patterns say the same, but for case and end marks.
fn is_same(one: &Pattern, other: &Pattern) -> bool {
    let is_said = |element: &&Element| !matches!(element, Element::Markup(_));
    let (mut one, mut other) =
        (one.iter().filter(is_said).peekable(), other.iter().filter(is_said).peekable());
    while let (Some(element), Some(next)) = (one.next(), other.next()) {
        let (Element::Text(text), Element::Text(same)) = (element, next) else {
            if matches!((element, next), (Element::Expression(_), Element::Expression(_))) {
                continue;
            }
            return false;
        };
        let is_last = one.peek().is_none() && other.peek().is_none();
        let bare = |text: &'_ str| {
            if is_last {
                text.trim_end_matches(|letter: char| !letter.is_alphanumeric()).len()
            } else {
                text.len()
            }
        };
        let (text, same) =
            (text.get(..bare(text)).unwrap_or_default(), same.get(..bare(same)).unwrap_or_default());
        let is_equal = if text.is_ascii() && same.is_ascii() {
            text.eq_ignore_ascii_case(same)
        } else {
            text.chars().flat_map(char::to_lowercase).eq(same.chars().flat_map(char::to_lowercase))
        };
        if !is_equal {
            return false;
        }
    }
    one.next().is_none() && other.next().is_none()
}

/// The words of a text that have more than one letter.
fn words(text: &str) -> impl Iterator<Item = &str> {
    let words = text.split(|letter: char| !is_of_word(letter));
    words.filter(|word| word.chars().filter(|letter| letter.is_alphabetic()).count() > 1)
}

/// Letters, and the marks above and below them.
fn is_of_word(letter: char) -> bool {
    letter.is_alphabetic()
        || letter == '-'
        || matches!(u32::from(letter), 0x300..=0x36f | 0x93c..=0x94d | 0xe31..=0xe4e | 0x64b..=0x65f | 0x200c)
}
