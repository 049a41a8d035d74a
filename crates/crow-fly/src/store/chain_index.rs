//! All messages of a chain in one table, for chains whose files are all in memory: a key is then hashed once, and
//! compared once, however long the chain is.

use std::sync::Arc;

use crow_fly_core::catalog::{KeyHash, KeyHasher};
use hashbrown::HashTable;

use super::generation::{Generation, Link, Section};

/// The messages of a chain, by whole key.
#[derive(Debug)]
pub(super) struct ChainIndex {
    /// The keys, one behind the other.
    text: Box<str>,
    table: HashTable<IndexEntry>,
    sections: Box<[IndexedSection]>,
}

/// A message.
#[derive(Clone, Copy, Debug)]
struct IndexEntry {
    /// Where its key begins, and where it ends.
    start: u32,
    end: u32,
    /// The place of its section.
    section: u32,
    row: u32,
}

/// A file of the chain.
#[derive(Debug)]
struct IndexedSection {
    /// The place of its locale in the chain.
    link: usize,
    section: Arc<Section>,
}

impl ChainIndex {
    /// Indexes what is in memory of a chain. Of two messages with one key the nearer one counts. None where there are too
    /// many, which a memory of this size does not hold.
    pub(super) fn new(generation: &Generation, links: &[Link], hasher: &KeyHasher) -> Option<Self> {
        let mut sections = Vec::new();
        let mut messages = 0;
        for (link, id) in links.iter().map(|link| link.locale).enumerate() {
            for place in generation.places_in_order(id, None) {
                let Some(section) = generation.section(place).cloned() else { continue };
                let name = generation.file(place).and_then(|file| file.section_name()).map(ToOwned::to_owned);
                messages += section.catalog.len();
                sections.push((name, IndexedSection { link, section }));
            }
        }
        let mut text = String::new();
        let mut table = HashTable::with_capacity(messages);
        for (place, (name, indexed)) in sections.iter().enumerate() {
            for (row, key) in indexed.section.catalog.messages() {
                let start = text.len();
                if let Some(name) = name {
                    text.push_str(name);
                    text.push('.');
                }
                text.push_str(key);
                let whole = text.get(start..)?;
                let hash = hasher.hash(whole).get();
                let has_key = |entry: &IndexEntry| entry.key(&text) == Some(whole.as_bytes());
                if table.find(hash, has_key).is_some() {
                    text.truncate(start);
                    continue;
                }
                let entry = IndexEntry {
                    start: u32::try_from(start).ok()?,
                    end: u32::try_from(text.len()).ok()?,
                    section: u32::try_from(place).ok()?,
                    row,
                };
                table.insert_unique(hash, entry, |entry| {
                    let key = entry.key(&text).and_then(|key| std::str::from_utf8(key).ok());
                    hasher.hash(key.unwrap_or_default()).get()
                });
            }
        }
        table.shrink_to_fit(|entry| {
            let key = entry.key(&text).and_then(|key| std::str::from_utf8(key).ok());
            hasher.hash(key.unwrap_or_default()).get()
        });
        let sections = sections.into_iter().map(|(_, section)| section).collect();
        Some(Self { text: text.into(), table, sections })
    }

    /// The message of a key: the place of its locale in the chain, its file, and its row in that.
    #[inline]
    pub(super) fn find(&self, hash: KeyHash, key: &str, epoch: u32) -> Option<(usize, &Section, u32)> {
        let has_key = |entry: &IndexEntry| entry.key(&self.text) == Some(key.as_bytes());
        let entry = self.table.find(hash.get(), has_key)?;
        let indexed = self.sections.get(entry.section as usize)?;
        indexed.section.mark(epoch);
        Some((indexed.link, &indexed.section, entry.row))
    }
}

impl IndexEntry {
    #[inline]
    fn key(self, text: &str) -> Option<&[u8]> {
        text.as_bytes().get(self.start as usize..self.end as usize)
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
    use crate::source::{ListedFile, Listing};
    use crate::store::generation::{Lookup, Miss};

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
                let link = |id: &crow_fly_core::locale_set::LocaleId| {
                    let tag = chains.tag(*id).clone();
                    let (direction, context) = (Direction::of(&tag), FormatContext::of(&tag));
                    Link { locale: *id, direction, reads_like_page: true, context, tag }
                };
                let links: Vec<Link> = chains.of(reader).iter().map(link).collect();
                generation.make_index(&links);
                let index = ChainIndex::new(&generation, &links, &hasher).expect("all files are in memory");
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
