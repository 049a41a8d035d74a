//! A generation: what the source had at one moment, and of it what is in memory.

use std::collections::{BTreeSet, HashMap, HashSet};
use std::sync::atomic::{AtomicBool, AtomicU32, AtomicUsize, Ordering};
use std::sync::{Arc, OnceLock};

use crow_fly_core::catalog::{Entry, KeyHash, KeyHasher, split_key};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::ProgramRef;
use crow_fly_core::suggest::nearest;
use tokio::time::Instant;

use super::chain_index::ChainIndex;
use super::loads::Loads;
use super::section::{Link, Section};
use super::section_names::SectionNames;
use crate::source::{ListedFile, Listing};

/// What the source had at one moment. Its files do not change; those that have been read stand in slots that are
/// written once, so that readers need no lock.
#[derive(Debug)]
pub(crate) struct Generation {
    /// Counts the generations of this program, from 1.
    pub(super) number: u64,
    /// The same for two listings of the same files.
    identity: u64,
    hasher: KeyHasher,
    /// What uses are marked with.
    epoch: Arc<AtomicU32>,
    sections: SectionNames,
    /// In the order of their locales; shared with the generations that keep a part of what is in memory.
    pub(super) files: Arc<Vec<ListedFile>>,
    /// The layers of overlays, the uppermost first; one where there is no overlay.
    layers: Vec<Vec<u8>>,
    /// For each locale a row for each layer; in it, the file with all sections first, then one for each section.
    slots: Box<[Slot]>,
    /// For each locale, whether its files are missing.
    absent: Box<[bool]>,
    /// For each locale, whether all of its chain's files are in memory.
    complete: Box<[AtomicBool]>,
    /// For each locale whose chain is complete, the index of it, once it has been made.
    indexes: Box<[OnceLock<ChainIndex>]>,
    /// For each locale, whether a task makes its index.
    indexing: Box<[AtomicBool]>,
    has_whole_files: bool,
    /// About how many bytes its sections take.
    bytes: AtomicUsize,
    /// Whether a task looks for a repair of broken files.
    pub(super) awaits_repair: AtomicBool,
    /// The loads of slots, by place.
    pub(super) loads: Arc<Loads<usize>>,
    /// How many wait for each place: what somebody waits for is not dropped. Shared with the generations that keep a part of what
    /// is in memory.
    awaited: Arc<[AtomicU32]>,
    pub(super) since: Instant,
}

/// Places that somebody waits for, until this is dropped.
#[derive(Debug)]
pub(super) struct Awaited {
    counts: Arc<[AtomicU32]>,
    places: Vec<usize>,
}

impl Drop for Awaited {
    fn drop(&mut self) {
        for count in self.places.iter().filter_map(|place| self.counts.get(*place)) {
            count.fetch_sub(1, Ordering::Relaxed);
        }
    }
}

/// The place of one file of a locale.
#[derive(Debug, Default)]
struct Slot {
    /// The place of the file; none where the locale has no such section.
    file: Option<u32>,
    section: OnceLock<Arc<Section>>,
    /// Whether a text has asked for it already.
    asked: AtomicBool,
}

/// Where a key was found.
pub(crate) enum Lookup<'g> {
    /// A message.
    Message(Hit<'g>),
    /// No message anywhere in the chain.
    Missing(Miss),
}

/// A message that was found.
pub(crate) struct Hit<'g> {
    /// The place in the chain of the locale it is from.
    pub(crate) link: usize,
    /// The file it is from.
    pub(crate) section: &'g Section,
    row: u32,
    /// Whether a nearer locale may have it in a section that is not in memory.
    pub(crate) is_preliminary: bool,
}

impl<'g> Hit<'g> {
    /// The message.
    pub(crate) fn program(&self) -> Option<ProgramRef<'g>> {
        match self.section.catalog.entry(self.row) {
            Entry::Message(program) => Some(program),
            // It is found by its row, which has one.
            Entry::Broken | Entry::Group | Entry::Missing => None,
        }
    }
}

/// Why a key has no message.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Deserialize, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Miss {
    /// The key has no section: it is not `section.name`.
    NoSection,
    /// No catalog of the chain has it.
    NotThere,
    /// It is the name of a group of messages.
    Group,
    /// It is there, but its source has errors.
    Broken,
    /// Its section is not in memory.
    NotLoaded,
}

impl Miss {
    /// The sentence of a key, with the locales that were tried: `fr` or `en`.
    pub(crate) fn sentence(self, key: &str, tried: &str) -> String {
        match self {
            Self::NoSection => format!("`{key}` names no section: write `section.name`"),
            Self::NotThere => format!("no text for `{key}` in {tried}"),
            Self::Group => format!("`{key}` is a group of texts, not one, in {tried}"),
            Self::Broken => format!("the text for `{key}` has errors in {tried}"),
            Self::NotLoaded => format!("the section of `{key}` is not in memory for {tried}"),
        }
    }
}

/// What has been found on the way along a chain.
struct Found {
    miss: Miss,
    is_preliminary: bool,
}

impl Found {
    /// Takes a message out of a place, or notes why there is none.
    #[inline]
    fn take<'g>(
        &mut self,
        slot: &'g Slot,
        hash: KeyHash,
        name: &str,
        epoch: u32,
    ) -> Option<(&'g Section, u32)> {
        let Some(section) = slot.section.get() else {
            self.is_preliminary |= slot.file.is_some();
            return None;
        };
        section.mark(epoch);
        let row = section.catalog.find_hashed(hash, name)?;
        match section.catalog.entry(row) {
            Entry::Message(_) => return Some((section, row)),
            Entry::Broken => self.miss = Miss::Broken,
            Entry::Group if self.miss == Miss::NotThere => self.miss = Miss::Group,
            Entry::Group | Entry::Missing => {}
        }
        None
    }
}

impl Generation {
    /// A generation of which nothing has been read: `identity` is that of the listing, whose files are taken out of it.
    /// `locales` are all that have catalogs; `inherits` says of which none are expected.
    pub(super) fn new(
        number: u64,
        identity: u64,
        listing: &mut Listing,
        locales: &[String],
        inherits: impl Fn(usize) -> bool,
        hasher: &KeyHasher,
        epoch: &Arc<AtomicU32>,
    ) -> Self {
        let mut sections = SectionNames::default();
        let mut files = listing.take_files();
        files.sort_unstable();
        files.dedup_by(|one, other| {
            (one.locale(), one.section_name(), one.layer())
                == (other.locale(), other.section_name(), other.layer())
        });
        let names = files.iter().filter_map(ListedFile::section_name);
        names.for_each(|name| sections.add(name));
        let layers: BTreeSet<&[u8]> = files.iter().map(ListedFile::layer).collect();
        let mut layers: Vec<Vec<u8>> = layers.into_iter().map(<[u8]>::to_vec).collect();
        if layers.is_empty() {
            layers.push(Vec::new());
        }
        let row = sections.len() + 1;
        let by_tag: HashMap<&str, usize> =
            locales.iter().enumerate().map(|(place, locale)| (locale.as_str(), place)).collect();
        let mut slots: Box<[Slot]> =
            (0..locales.len() * layers.len() * row).map(|_| Slot::default()).collect();
        let mut has_whole_files = false;
        for (place, file) in files.iter().enumerate() {
            let Some(locale) = by_tag.get(file.locale()) else { continue };
            let column = match file.section_name() {
                Some(name) => sections.find(name).map(|section| section + 1),
                None => Some(0),
            };
            has_whole_files |= column == Some(0);
            let layer = layers.iter().position(|layer| layer == file.layer()).unwrap_or_default();
            let start = (locale * layers.len() + layer) * row;
            if let Some(slot) = column.and_then(|column| slots.get_mut(start + column)) {
                slot.file = u32::try_from(place).ok();
            }
        }
        let absent: HashSet<&str> = listing.absent().iter().map(String::as_str).collect();
        let is_absent =
            |(place, locale): (usize, &String)| absent.contains(locale.as_str()) && !inherits(place);
        Self {
            number,
            identity,
            hasher: hasher.clone(),
            epoch: Arc::clone(epoch),
            absent: locales.iter().enumerate().map(is_absent).collect(),
            complete: locales.iter().map(|_| AtomicBool::new(false)).collect(),
            awaited: slots.iter().map(|_| AtomicU32::new(0)).collect(),
            indexes: locales.iter().map(|_| OnceLock::new()).collect(),
            indexing: locales.iter().map(|_| AtomicBool::new(false)).collect(),
            sections,
            files: Arc::new(files),
            layers,
            slots,
            has_whole_files,
            bytes: AtomicUsize::new(0),
            awaits_repair: AtomicBool::new(false),
            loads: Arc::default(),
            since: Instant::now(),
        }
    }

    /// The same generation with a part of what is in memory; the loads go on.
    pub(super) fn keeping(&self, keep: impl Fn(usize) -> bool) -> Self {
        let kept = |(place, slot): (usize, &Slot)| Slot {
            file: slot.file,
            section: slot
                .section
                .get()
                .filter(|_| keep(place))
                .cloned()
                .map_or_else(OnceLock::new, OnceLock::from),
            asked: AtomicBool::new(false),
        };
        let slots: Box<[Slot]> = self.slots.iter().enumerate().map(kept).collect();
        let bytes = slots.iter().filter_map(|slot| slot.section.get()).map(|section| section.bytes).sum();
        Self {
            number: self.number,
            identity: self.identity,
            hasher: self.hasher.clone(),
            epoch: Arc::clone(&self.epoch),
            bytes: AtomicUsize::new(bytes),
            sections: self.sections.clone(),
            files: Arc::clone(&self.files),
            layers: self.layers.clone(),
            slots,
            absent: self.absent.clone(),
            complete: self.absent.iter().map(|_| AtomicBool::new(false)).collect(),
            indexes: self.absent.iter().map(|_| OnceLock::new()).collect(),
            indexing: self.absent.iter().map(|_| AtomicBool::new(false)).collect(),
            has_whole_files: self.has_whole_files,
            awaits_repair: AtomicBool::new(self.awaits_repair.load(Ordering::Relaxed)),
            loads: Arc::clone(&self.loads),
            awaited: Arc::clone(&self.awaited),
            since: self.since,
        }
    }

    /// Notes that somebody waits for the files of a chain, or of some sections of it.
    pub(super) fn await_places(&self, links: &[Link], sections: Option<&[&str]>) -> Awaited {
        let places: Vec<usize> = links.iter().flat_map(|link| self.places(link.locale, sections)).collect();
        for count in places.iter().filter_map(|place| self.awaited.get(*place)) {
            count.fetch_add(1, Ordering::Relaxed);
        }
        Awaited { counts: Arc::clone(&self.awaited), places }
    }

    /// Whether somebody waits for a place.
    pub(super) fn is_awaited(&self, place: usize) -> bool {
        self.awaited.get(place).is_some_and(|count| count.load(Ordering::Relaxed) > 0)
    }

    /// About how many bytes the files of a chain take that are in memory, or those of some sections.
    pub(super) fn bytes_of(&self, links: &[Link], sections: Option<&[&str]>) -> usize {
        let places = links.iter().flat_map(|link| self.places(link.locale, sections));
        places.filter_map(|place| self.section(place)).map(|section| section.bytes).sum()
    }

    /// About how many bytes its sections take.
    pub(super) fn bytes(&self) -> usize {
        self.bytes.load(Ordering::Relaxed)
    }

    /// The same for two listings of the same files.
    pub(crate) const fn identity(&self) -> u64 {
        self.identity
    }

    const fn row(&self) -> usize {
        self.sections.len() + 1
    }

    /// The places where the rows of a locale begin: that of the uppermost layer first.
    fn rows(&self, locale: LocaleId) -> impl Iterator<Item = usize> + use<> {
        let (layers, row) = (self.layers.len(), self.row());
        let first = locale.index() * layers;
        (first..first + layers).map(move |layer| layer * row)
    }

    /// Whether the file of a place has all sections.
    const fn is_whole(&self, place: usize) -> bool {
        place.is_multiple_of(self.row())
    }

    /// The names of all sections that have files of their own.
    pub(super) fn section_names(&self) -> impl Iterator<Item = &str> {
        self.sections.iter()
    }

    /// Whether any locale has a section: in a file of its own, or perhaps in one with all sections.
    pub(super) fn may_have(&self, section: &str) -> bool {
        self.has_whole_files || self.sections.find(section).is_some()
    }

    /// The places of a locale's files that exist: of some sections, or of all.
    pub(super) fn places<'g>(
        &'g self,
        locale: LocaleId,
        sections: Option<&'g [&'g str]>,
    ) -> impl Iterator<Item = usize> + 'g {
        let places = self.rows(locale).flat_map(move |start| {
            let all = sections.is_none().then(|| start..start + self.row());
            // A file with all sections may have any of them.
            let named = sections.unwrap_or_default().iter().filter_map(move |section| {
                let column = self.sections.find(section)? + 1;
                Some(start + column)
            });
            let whole = (sections.is_some() && self.has_whole_files).then_some(start);
            all.into_iter().flatten().chain(whole).chain(named)
        });
        places.filter(|place| self.file(*place).is_some())
    }

    /// The same in the order in which they count: the uppermost layer first, and in a layer the file of a section before
    /// the one with all sections.
    pub(super) fn places_in_order(&self, locale: LocaleId, sections: Option<&[&str]>) -> Vec<usize> {
        let mut places: Vec<usize> = self.places(locale, sections).collect();
        places
            .sort_by_key(|place| self.file(*place).map(|file| (file.layer(), file.section_name().is_none())));
        places
    }

    /// The locale of a place.
    pub(super) const fn locale_of(&self, place: usize) -> usize {
        place / (self.row() * self.layers.len())
    }

    /// All places that have a file.
    pub(super) fn all_places(&self) -> impl Iterator<Item = usize> {
        (0..self.slots.len()).filter(|place| self.file(*place).is_some())
    }

    /// The file of a place.
    pub(super) fn file(&self, place: usize) -> Option<&ListedFile> {
        self.files.get(self.slots.get(place)?.file? as usize)
    }

    /// What is in memory of a place.
    pub(super) fn section(&self, place: usize) -> Option<&Arc<Section>> {
        self.slots.get(place)?.section.get()
    }

    /// The place of a file that another generation has.
    pub(super) fn place_of(&self, file: &ListedFile, locale: usize) -> Option<usize> {
        let column = match file.section_name() {
            Some(name) => self.sections.find(name)? + 1,
            None => 0,
        };
        let layer = self.layers.iter().position(|layer| layer == file.layer())?;
        let place = (locale * self.layers.len() + layer) * self.row() + column;
        self.file(place).is_some().then_some(place)
    }

    /// Puts a file that has been read into its place: the first one stays.
    pub(super) fn publish(&self, place: usize, section: Arc<Section>) {
        let Some(slot) = self.slots.get(place) else { return };
        let bytes = section.bytes;
        // Two tasks may have read the same file: they have read the same.
        if slot.section.set(section).is_ok() {
            self.bytes.fetch_add(bytes, Ordering::Relaxed);
        }
    }

    /// Whether the files of a locale are missing.
    pub(super) fn is_absent(&self, locale: LocaleId) -> bool {
        self.absent.get(locale.index()).copied().unwrap_or(false)
    }

    fn is_well(&self, place: usize) -> bool {
        self.section(place).is_some_and(|section| !section.is_broken)
    }

    /// Whether all of a chain's files, or those of some sections, are in memory, and none of them broken.
    pub(super) fn is_complete(&self, links: &[Link], sections: Option<&[&str]>) -> bool {
        let flag = links.first().and_then(|link| self.complete.get(link.locale.index()));
        if sections.is_none() && flag.is_some_and(|flag| flag.load(Ordering::Acquire)) {
            return true;
        }
        let is_there = |link: &Link| {
            !self.is_absent(link.locale)
                && self.places(link.locale, sections).all(|place| self.is_well(place))
        };
        let complete = links.iter().all(is_there);
        if let Some(flag) = flag.filter(|_| complete && sections.is_none()) {
            flag.store(true, Ordering::Release);
        }
        complete
    }

    /// Looks a key up along a chain: reads of memory, and nothing else.
    #[inline]
    pub(crate) fn find<'g>(
        &'g self,
        locale: LocaleId,
        links: impl FnOnce() -> &'g [Link],
        key: &str,
    ) -> Lookup<'g> {
        self.find_hashed(locale, links, key, KeyHasher::fixed_hash(key))
    }

    /// The same for a key whose fixed hash is known.
    #[inline]
    pub(crate) fn find_hashed<'g>(
        &'g self,
        locale: LocaleId,
        links: impl FnOnce() -> &'g [Link],
        key: &str,
        hash: u64,
    ) -> Lookup<'g> {
        let hash = self.hasher.hash_fixed(hash);
        let epoch = self.epoch.load(Ordering::Relaxed);
        let index = self.indexes.get(locale.index()).and_then(OnceLock::get);
        // What it does not have is looked for along the chain all the same, to say why it is missing.
        if let Some((link, section, row)) = index.and_then(|index| index.find(hash, key, epoch)) {
            return Lookup::Message(Hit { link, section, row, is_preliminary: false });
        }
        self.walk(links(), hash, key, epoch)
    }

    /// Looks a key up in each file along a chain.
    pub(super) fn walk<'g>(&'g self, links: &'g [Link], hash: KeyHash, key: &str, epoch: u32) -> Lookup<'g> {
        let Some((section, name)) = split_key(key) else { return Lookup::Missing(Miss::NoSection) };
        let column = self.sections.find(section).map(|section| section + 1);
        let mut found = Found { miss: Miss::NotThere, is_preliminary: false };
        for (link, locale) in links.iter().map(|link| link.locale).enumerate() {
            for start in self.rows(locale) {
                if let Some(slot) = column.and_then(|column| self.slots.get(start + column))
                    && let Some((section, row)) = found.take(slot, hash, name, epoch)
                {
                    let Found { is_preliminary, .. } = found;
                    return Lookup::Message(Hit { link, section, row, is_preliminary });
                }
                // In a file with all sections a key has its section.
                if self.has_whole_files
                    && let Some(slot) = self.slots.get(start)
                    && let Some((section, row)) = found.take(slot, hash, key, epoch)
                {
                    let Found { is_preliminary, .. } = found;
                    return Lookup::Message(Hit { link, section, row, is_preliminary });
                }
            }
        }
        Lookup::Missing(if found.is_preliminary { Miss::NotLoaded } else { found.miss })
    }

    /// The file that a key of a section would be in: of the nearest locale of the chain that has one.
    pub(crate) fn file_for(&self, links: &[Link], section: &str) -> Option<String> {
        let place = links.iter().find_map(|link| self.places(link.locale, Some(&[section])).next())?;
        self.file(place).map(ListedFile::origin)
    }

    /// The key along a chain that is written most like an unknown one, of what is in memory: in its section, or in the one that
    /// its section is misspelled for.
    pub(crate) fn nearest_key(&self, links: &[Link], key: &str) -> Option<String> {
        let (section, name) = split_key(key)?;
        let section = match self.keys(links, section) {
            Some(keys) if !keys.is_empty() => section.to_owned(),
            _ => nearest(section, self.section_names().map(ToOwned::to_owned))?,
        };
        let prefix = format!("{section}.");
        let keys = self.keys(links, &section)?;
        let names = keys.iter().filter_map(|key| key.strip_prefix(&prefix)).map(ToOwned::to_owned);
        nearest(name, names).map(|name| prefix + &name)
    }

    /// Whether a file in memory of a locale has a message. It does not count as a use.
    pub(super) fn has_message(&self, locale: LocaleId, section: &str, name: &str) -> bool {
        let key = format!("{section}.{name}");
        let hash = self.hasher.hash(&key);
        self.places(locale, Some(&[section])).any(|place| {
            let Some(found) = self.section(place) else { return false };
            let name = if self.is_whole(place) { key.as_str() } else { name };
            let row = found.catalog.find_hashed(hash, name);
            row.is_some_and(|row| matches!(found.catalog.entry(row), Entry::Message(_)))
        })
    }

    /// Whether nobody makes the index of a locale's chain, or has made it.
    pub(super) fn lacks_index(&self, locale: LocaleId) -> bool {
        self.indexing.get(locale.index()).is_some_and(|indexing| !indexing.load(Ordering::Relaxed))
    }

    /// Whether any file in memory has errors.
    pub(super) fn has_broken_files(&self) -> bool {
        self.all_places().any(|place| self.section(place).is_some_and(|section| section.has_errors()))
    }

    /// Whether a chain has no index yet, and nobody is at it: the caller then makes it.
    pub(super) fn takes_index(&self, links: &[Link]) -> bool {
        let locale = links.first().map_or(usize::MAX, |link| link.locale.index());
        self.indexing.get(locale).is_some_and(|indexing| !indexing.swap(true, Ordering::Relaxed))
    }

    /// Makes the index of a chain whose files are all in memory.
    pub(super) fn make_index(&self, links: &[Link]) {
        let place = links.first().and_then(|link| self.indexes.get(link.locale.index()));
        if let (Some(place), Some(index)) = (place, ChainIndex::new(self.indexed(links), &self.hasher)) {
            // It is made once.
            let _ = place.set(index);
        }
    }

    /// What is in memory of a chain: the place of each locale in it, the name of the section, and the file.
    fn indexed<'g>(
        &'g self,
        links: &'g [Link],
    ) -> impl Iterator<Item = (usize, Option<&'g str>, Arc<Section>)> + 'g {
        links.iter().enumerate().flat_map(move |(link, of)| {
            self.places_in_order(of.locale, None).into_iter().filter_map(move |place| {
                let section = self.section(place).cloned()?;
                Some((link, self.file(place).and_then(|file| file.section_name()), section))
            })
        })
    }

    /// The places along a chain that a key may be in and that are not in memory, and that no text has asked for yet.
    pub(super) fn unasked<'g>(
        &'g self,
        links: &'g [Link],
        section: &'g str,
    ) -> impl Iterator<Item = usize> + 'g {
        let column = self.sections.find(section).map(|section| section + 1);
        links.iter().flat_map(|link| self.rows(link.locale)).flat_map(move |start| {
            let whole = self.has_whole_files.then_some(start);
            let places = column.map(|column| start + column).into_iter().chain(whole);
            places.filter(|place| {
                let slot = self.slots.get(*place);
                slot.is_some_and(|slot| {
                    slot.file.is_some()
                        && slot.section.get().is_none()
                        && !slot.asked.swap(true, Ordering::Relaxed)
                })
            })
        })
    }

    /// Lets a text ask again: the load that one has asked for was not started, or has come to nothing.
    pub(super) fn allow_asking(&self, place: usize) {
        if let Some(slot) = self.slots.get(place) {
            slot.asked.store(false, Ordering::Relaxed);
        }
    }

    /// The keys of a section along a chain, each with the section's name, nearest locale first; `None` where one of its files
    /// is not in memory.
    pub(crate) fn keys(&self, links: &[Link], section: &str) -> Option<Vec<String>> {
        let mut keys = Vec::new();
        let mut seen = HashSet::new();
        let prefix = format!("{section}.");
        for link in links {
            for place in self.places(link.locale, Some(&[section])).collect::<Vec<_>>() {
                let found = self.section(place)?.catalog.keys();
                // In a file with all sections the key has its section.
                let whole = self.is_whole(place);
                let found = found.filter_map(|key| if whole { key.strip_prefix(&prefix) } else { Some(key) });
                keys.extend(found.filter(|key| seen.insert(*key)).map(|key| format!("{prefix}{key}")));
            }
        }
        Some(keys)
    }
}

#[cfg(test)]
mod tests {
    use std::sync::atomic::AtomicU32;

    use crow_fly_core::catalog::{Catalog, FileFormat, SectionSource};
    use crow_fly_core::chain::Chains;
    use crow_fly_core::direction::Direction;
    use crow_fly_core::locale_set::LocaleSet;
    use crow_fly_core::message::FormatContext;

    use super::*;

    const LOCALES: [&str; 3] = ["en", "en-GB", "cy"];

    /// The place of a locale, a section, a layer, and keys with whether their messages are good.
    type Written = (usize, Option<&'static str>, u8, Vec<(String, bool)>);

    /// Files of random messages: by locale, in a section of two or in the file with all of them, in one of two layers;
    /// some messages have errors, some keys are groups elsewhere.
    fn files(random: &mut fastrand::Rng) -> Vec<Written> {
        let letter = |random: &mut fastrand::Rng| random.char('a'..='c').to_string();
        let key = |random: &mut fastrand::Rng| {
            let name = letter(random);
            if random.bool() { name } else { format!("{name}.{}", letter(random)) }
        };
        let file = |random: &mut fastrand::Rng| {
            let section = [Some("home"), Some("a-longer-section-name"), None][random.usize(0..3)];
            let messages = (0..random.usize(0..6)).map(|_| (key(random), random.bool())).collect();
            (random.usize(0..LOCALES.len()), section, random.u8(0..2), messages)
        };
        (0..random.usize(0..12)).map(|_| file(random)).collect()
    }

    /// What a lookup has found, to be compared.
    fn told(lookup: &Lookup<'_>) -> Result<(usize, String, String), Miss> {
        match lookup {
            Lookup::Message(hit) => {
                Ok((hit.link, hit.section.file.origin(), format!("{:?}", hit.program().is_some())))
            }
            Lookup::Missing(miss) => Err(*miss),
        }
    }

    #[test]
    fn the_index_finds_what_the_walk_along_the_chain_finds() {
        for seed in 0..128 {
            let files = files(&mut fastrand::Rng::with_seed(seed));
            let set = LocaleSet::parse(LOCALES).expect("they are tags");
            let chains = Chains::new(&set, [], []).expect("they have no circle");
            let tags: Vec<String> = LOCALES.map(str::to_owned).to_vec();
            let mut written = std::collections::BTreeMap::new();
            for (locale, section, layer, messages) in files {
                let lines: std::collections::BTreeMap<String, bool> = messages.into_iter().collect();
                written.insert((locale, section, layer), lines);
            }
            let mut listing = written.keys().fold(Listing::default(), |listing, (locale, section, layer)| {
                let file = match section {
                    Some(section) => ListedFile::section(&tags[*locale], *section, FileFormat::Json, 1),
                    None => ListedFile::all_sections(&tags[*locale], FileFormat::Json, 1),
                };
                let file = file.with_origin(format!("{locale} {section:?} {layer}"));
                listing.with_layer(*layer, Listing::new([file]))
            });
            let hasher = KeyHasher::default();
            let epoch = Arc::new(AtomicU32::new(1));
            let generation = Generation::new(1, 1, &mut listing, &tags, |_| false, &hasher, &epoch);
            for place in generation.all_places() {
                let file = generation.file(place).expect("it has a file").clone();
                let locale = tags.iter().position(|tag| tag == file.locale()).expect("it is a locale");
                let section = written.keys().find(|(other, section, layer)| {
                    *other == locale && *section == file.section_name() && [*layer] == file.layer()
                });
                let members = written[section.expect("it was written")].iter().map(|(key, good)| {
                    let key = if file.section_name().is_none() { format!("home.{key}") } else { key.clone() };
                    format!("{key:?}: {:?}", if *good { "Text" } else { "a {$" })
                });
                let json = format!("{{{}}}", members.collect::<Vec<_>>().join(","));
                let source = SectionSource::from_json(&json);
                let name = file.section_name().unwrap_or_default();
                let (catalog, findings) = Catalog::compile_hashed(file.locale(), name, &source, &hasher);
                let section = Section::new(catalog, &file, findings, false);
                generation.publish(place, Arc::new(section));
            }
            for (reader, _) in set.iter() {
                let link = |id: &LocaleId| {
                    let tag = chains.tag(*id).clone();
                    let (direction, context) = (Direction::of(&tag), FormatContext::of(&tag));
                    Link {
                        locale: *id,
                        direction,
                        reads_like_page: true,
                        is_same_language: true,
                        context,
                        tag,
                    }
                };
                let links: Vec<Link> = chains.of(reader).iter().map(link).collect();
                generation.make_index(&links);
                let index =
                    ChainIndex::new(generation.indexed(&links), &hasher).expect("all files are in memory");
                let names = ["a", "b", "c", "a.a", "a.b", "b.c", "c.c", "d"];
                for section in ["home", "a-longer-section-name", "nosuch"] {
                    for name in names {
                        let key = format!("{section}.{name}");
                        let walked = told(&generation.walk(&links, hasher.hash(&key), &key, 1));
                        let found = generation.find(reader, || &links, &key);
                        assert_eq!(told(&found), walked, "seed {seed}: {key}");
                        // The index alone has every message, and nothing else.
                        let indexed = index.find(hasher.hash(&key), &key, 1);
                        let indexed = indexed.map(|(link, section, _)| (link, section.file.origin()));
                        assert_eq!(
                            indexed,
                            walked.ok().map(|(link, origin, _)| (link, origin)),
                            "seed {seed}: {key}"
                        );
                    }
                }
            }
        }
    }
}
