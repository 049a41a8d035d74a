//! The messages of a section as scripts get them.

use std::collections::{BTreeMap, HashMap, HashSet, VecDeque};
use std::fmt;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, Mutex, PoisonError};

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::Message;
use crow_fly_core::message::model::{Body, Element};
use serde::Serialize;
use serde_json::value::{RawValue, to_raw_value};
use tokio::sync::{Mutex as AsyncMutex, MutexGuard};

use crate::store::Link;

/// The messages of a section along a chain: for each key that of the nearest locale.
#[derive(Clone)]
pub(crate) struct SectionTexts {
    /// One JSON object.
    json: Box<RawValue>,
    hash: u64,
}

impl fmt::Debug for SectionTexts {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("SectionTexts").field("bytes", &self.json.get().len()).finish_non_exhaustive()
    }
}

impl SectionTexts {
    /// Makes them of the sources of a chain, the nearest first.
    pub(crate) fn of<'s>(
        section: &str,
        links: &[Link],
        sources: impl IntoIterator<Item = (usize, &'s SectionSource)>,
    ) -> Self {
        let mut messages: BTreeMap<&str, Box<RawValue>> = BTreeMap::new();
        for (link, source) in sources {
            // Of two with one key the later one counts, as it does in a catalog.
            let mut seen = HashSet::new();
            for entry in source.entries().iter().rev() {
                if entry.is_untranslated() || !seen.insert(entry.key()) || messages.contains_key(entry.key())
                {
                    continue;
                }
                // The chain is asked for what has errors.
                let Ok(message) = Message::parse(entry.text()) else { continue };
                let value = shown(&message).and_then(|value| in_language(value, links, link));
                if let Ok(value) = value {
                    messages.insert(entry.key(), value);
                }
            }
        }
        let (locale, direction) = language(links.first());
        let whole = Handed { locale, direction, section, messages };
        // Texts by text: nothing that JSON could not write.
        let json = to_raw_value(&whole).unwrap_or_default();
        let mut hash = DefaultHasher::new();
        json.get().hash(&mut hash);
        Self { hash: hash.finish(), json }
    }

    pub(crate) fn json(&self) -> &RawValue {
        &self.json
    }

    /// The hash of its content, for addresses.
    pub(crate) fn hash(&self) -> String {
        format!("{:016x}", self.hash)
    }
}

/// A section as scripts get it.
#[derive(Serialize)]
struct Handed<'s> {
    locale: String,
    direction: &'static str,
    section: &'s str,
    messages: BTreeMap<&'s str, Box<RawValue>>,
}

/// A message that is in another language of the chain.
#[derive(Serialize)]
struct Other {
    locale: String,
    direction: &'static str,
    message: Box<RawValue>,
}

fn language(link: Option<&Link>) -> (String, &'static str) {
    link.map_or((String::new(), ""), |link| (link.tag.to_string(), link.direction.as_str()))
}

/// A text as a string, everything else as the standard's data model (UTS #35 part 9, "Interchange Data Model").
fn shown(message: &Message) -> serde_json::Result<Box<RawValue>> {
    if let (Body::Pattern(pattern), []) = (&message.body, &*message.declarations)
        && let Some(text) = pattern.iter().map(text_of).collect::<Option<String>>()
    {
        return to_raw_value(&text);
    }
    to_raw_value(message)
}

fn text_of(element: &Element) -> Option<&str> {
    if let Element::Text(text) = element { Some(text) } else { None }
}

/// A message in another language of the chain is marked with it.
fn in_language(message: Box<RawValue>, links: &[Link], link: usize) -> serde_json::Result<Box<RawValue>> {
    let Some(own) = links.get(link).filter(|own| !own.reads_like_page) else { return Ok(message) };
    let (locale, direction) = language(Some(own));
    to_raw_value(&Other { locale, direction, message })
}

/// The sections that were made last, by locale and section; some of each, so that the addresses of pages that were made
/// before a change of the catalogs still lead somewhere.
#[derive(Debug, Default)]
pub(crate) struct PublicSections {
    made: Mutex<HashMap<(usize, String), VecDeque<Made>>>,
    making: AsyncMutex<()>,
}

#[derive(Clone, Debug)]
struct Made {
    /// The generation that it was made from last.
    generation: u64,
    texts: Arc<SectionTexts>,
}

/// How many versions of a section keep their address.
const VERSIONS: usize = 3;

impl PublicSections {
    /// Waits for whoever makes one.
    pub(crate) async fn turn(&self) -> MutexGuard<'_, ()> {
        self.making.lock().await
    }

    /// What was made from a generation.
    pub(crate) fn of_generation(
        &self,
        locale: LocaleId,
        section: &str,
        generation: u64,
    ) -> Option<Arc<SectionTexts>> {
        let made = self.made.lock().unwrap_or_else(PoisonError::into_inner);
        let versions = made.get(&(locale.index(), section.to_owned()))?;
        let found = versions.iter().find(|made| made.generation == generation)?;
        Some(Arc::clone(&found.texts))
    }

    /// What has a hash.
    pub(crate) fn of_hash(&self, locale: LocaleId, section: &str, hash: &str) -> Option<Arc<SectionTexts>> {
        let made = self.made.lock().unwrap_or_else(PoisonError::into_inner);
        let versions = made.get(&(locale.index(), section.to_owned()))?;
        let found = versions.iter().find(|made| made.texts.hash() == hash)?;
        Some(Arc::clone(&found.texts))
    }

    /// Keeps what was made from a generation.
    pub(crate) fn keep(&self, locale: LocaleId, section: &str, generation: u64, texts: &Arc<SectionTexts>) {
        let mut made = self.made.lock().unwrap_or_else(PoisonError::into_inner);
        let versions = made.entry((locale.index(), section.to_owned())).or_default();
        versions.retain(|other| other.texts.hash != texts.hash);
        versions.push_front(Made { generation, texts: Arc::clone(texts) });
        versions.truncate(VERSIONS);
    }
}
