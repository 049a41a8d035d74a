//! All messages of a chain in one table, for chains whose files are all in memory: a key is then hashed once, and
//! compared once, however long the chain is.

use std::sync::Arc;

use crow_fly_core::catalog::{KeyHash, KeyHasher};
use hashbrown::HashTable;

use super::section::Section;

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
    pub(super) fn new<'n>(
        files: impl Iterator<Item = (usize, Option<&'n str>, Arc<Section>)>,
        hasher: &KeyHasher,
    ) -> Option<Self> {
        let mut sections = Vec::new();
        let mut messages = 0;
        for (link, name, section) in files {
            messages += section.catalog.len();
            sections.push((name, IndexedSection { link, section }));
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
