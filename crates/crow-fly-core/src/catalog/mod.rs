//! Catalogs: the messages of one section in one locale, compiled.
//!
//! ```
//! use crow_fly_core::catalog::{Catalog, Entry, SectionSource};
//!
//! let source = SectionSource::from_toml("[seats]\nleft = 'Seats left: {$count :integer}'\n");
//! let (catalog, findings) = Catalog::compile("en", "booking", &source);
//! assert!(findings.is_empty());
//! assert!(matches!(catalog.get("seats.left"), Entry::Message(_)));
//! assert!(matches!(catalog.get("seats"), Entry::Group));
//! assert!(matches!(catalog.get("seat.left"), Entry::Missing));
//! ```

use alloc::borrow::ToOwned;
use alloc::boxed::Box;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::cell::Cell;
use core::hash::BuildHasher;

use hashbrown::{DefaultHashBuilder, HashTable};
use rapidhash::v3::{DEFAULT_RAPID_SECRETS, rapidhash_v3_nano_inline};
use smallvec::SmallVec;

use crate::finding::{FileFindings, Finding, Severity};
use crate::message::{Arena, Compiler, ProgramBody, ProgramRef, Slice};
use crate::rule::Rule;

mod path;
mod source;

pub use path::CatalogPath;
pub use source::{FileFormat, SectionSource, SourceEntry, SourceProblem, SourceProblemKind};

/// The messages of one section in one locale.
#[derive(Clone, Debug, Default)]
pub struct Catalog {
    /// The name of its section; empty where its keys have theirs.
    section: Box<str>,
    /// The texts of all messages, and their keys.
    arena: Arena,
    rows: Vec<KeyRow>,
    /// The places of rows, by the hash of their keys; empty where there are so few that they are looked through.
    places: HashTable<u32>,
    hasher: KeyHasher,
}

/// Hashes whole keys, such as `booking.seats.left`: catalogs that share a hasher are asked for a key that is hashed once.
///
/// A hash has two steps. The first, [`fixed_hash`](Self::fixed_hash), is the same in every program, so that it can be
/// computed when a program is compiled. The second differs from one start of a program to the next, so that nobody can
/// make keys for one place of a table.
#[derive(Clone, Debug, Default)]
pub struct KeyHasher(DefaultHashBuilder);

/// How many keys of one hash are told apart. Of keys that nobody has made for it, two of a million million are alike.
const MOST_ALIKE: usize = 64;

/// Up to so many rows are looked through one by one: a table of hashes would take a third more memory, and be no faster.
const FEW: usize = 16;

/// The hash of a key. Made by [`KeyHasher::hash`].
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct KeyHash(u64);

impl KeyHasher {
    /// Hashes a key.
    #[inline]
    pub fn hash(&self, key: &str) -> KeyHash {
        self.hash_fixed(Self::fixed_hash(key))
    }

    /// The first step: the same in every program of this version.
    ///
    /// ```
    /// use crow_fly_core::catalog::KeyHasher;
    ///
    /// const HASH: u64 = KeyHasher::fixed_hash("booking.title");
    /// let hasher = KeyHasher::default();
    /// assert_eq!(hasher.hash_fixed(HASH), hasher.hash("booking.title"));
    /// ```
    #[inline]
    pub const fn fixed_hash(key: &str) -> u64 {
        fixed_hash(key.as_bytes())
    }

    /// The second step.
    #[inline]
    pub fn hash_fixed(&self, hash: u64) -> KeyHash {
        KeyHash(self.0.hash_one(hash))
    }

    /// Hashes the key of a section.
    fn hash_in(&self, section: &str, key: &str) -> KeyHash {
        WholeKey::of(section).hash(self, key)
    }

    #[inline]
    fn hash_bytes(&self, key: &[u8]) -> KeyHash {
        self.hash_fixed(fixed_hash(key))
    }
}

/// The variant for short texts, without the last mixing: the second step mixes.
#[inline]
const fn fixed_hash(key: &[u8]) -> u64 {
    rapidhash_v3_nano_inline::<false, false>(key, &DEFAULT_RAPID_SECRETS)
}

/// A key with its section before it, as it is hashed; made again and again in one place.
struct WholeKey {
    text: SmallVec<[u8; 128]>,
    section: usize,
}

impl WholeKey {
    fn of(section: &str) -> Self {
        let mut text = SmallVec::from_slice(section.as_bytes());
        if !section.is_empty() {
            text.push(b'.');
        }
        Self { section: text.len(), text }
    }

    fn hash(&mut self, hasher: &KeyHasher, key: &str) -> KeyHash {
        self.text.truncate(self.section);
        self.text.extend_from_slice(key.as_bytes());
        hasher.hash_bytes(&self.text)
    }
}

impl KeyHash {
    /// The hash itself.
    pub const fn get(self) -> u64 {
        self.0
    }
}

#[derive(Clone, Debug)]
struct KeyRow {
    key: Slice,
    row: Row,
    /// The line of the message in its file, from 1; that of the first message of a group.
    line: u32,
}

#[derive(Clone, Debug)]
enum Row {
    Message(ProgramBody),
    Broken,
    Group,
}

/// What a catalog has for a key.
#[derive(Clone, Copy, Debug)]
pub enum Entry<'c> {
    /// A message.
    Message(ProgramRef<'c>),
    /// A message whose source has errors.
    Broken,
    /// Not a message, but the name of a group of them.
    Group,
    /// Nothing.
    Missing,
}

impl Catalog {
    /// Compiles a section. What cannot be compiled is left out and found: the rest works. A hundred findings are made, and
    /// those past them counted.
    pub fn compile(locale: &str, section: &str, source: &SectionSource) -> (Self, Vec<Finding>) {
        Self::compile_hashed(locale, section, source, &KeyHasher::default())
    }

    /// Compiles a section, for keys that are hashed by this hasher: see [`find_hashed`](Self::find_hashed).
    pub fn compile_hashed(
        locale: &str,
        section: &str,
        source: &SectionSource,
        hasher: &KeyHasher,
    ) -> (Self, Vec<Finding>) {
        let mut findings = FileFindings::new(locale, section);
        let catalog = Self::compile_finding(locale, section, source, hasher, &mut findings);
        (catalog, findings.finish())
    }

    /// Compiles a section; what cannot be compiled goes to `findings`.
    pub(crate) fn compile_finding(
        locale: &str,
        section: &str,
        source: &SectionSource,
        hasher: &KeyHasher,
        findings: &mut FileFindings<'_>,
    ) -> Self {
        for problem in source.problems() {
            findings.add(Severity::Error, || problem.finding(locale, section));
        }
        findings.count(source.more_problems(), Severity::Error);
        let bytes = source.entries().iter().map(|entry| entry.key().len() + entry.text().len()).sum();
        let mut compiler = Compiler::with_room(source.entries().len(), bytes);
        let mut lines = source.entry_lines();
        let mut bodies = Vec::with_capacity(source.entries().len());
        for entry in source.entries() {
            let line = lines.next().unwrap_or_default();
            // The chain is asked for it.
            if entry.is_untranslated() {
                continue;
            }
            let body = compiler.add_source(entry.text());
            for error in body.as_ref().err().into_iter().flat_map(|errors| errors.iter()) {
                findings.add(Severity::Error, || Finding {
                    rule: error.kind().rule(),
                    severity: Severity::Error,
                    locale: locale.to_owned(),
                    section: section.to_owned(),
                    place: Some(entry.position(source, error.span().range())),
                    key: Some(entry.key().to_owned()),
                    text: error.to_string(),
                    help: error.help().to_owned(),
                    file: None,
                    fix: None,
                });
            }
            bodies.push((compiler.put(entry.key()), line, body.ok()));
        }
        let mut whole = WholeKey::of(section);
        let mut catalog = Self {
            section: section.into(),
            arena: compiler.finish(),
            // A few groups are rows, too.
            rows: Vec::with_capacity(bodies.len() + 4),
            places: HashTable::new(),
            hasher: hasher.clone(),
        };
        let mut crowded = 0;
        // The groups of one message are most often those of the one before it.
        let mut groups = Slice::default();
        for (key, line, body) in bodies {
            crowded +=
                usize::from(!catalog.put(&mut whole, key, line, body.map_or(Row::Broken, Row::Message)));
            let text = catalog.arena.str(key).as_bytes();
            let Some(last) = memchr::memrchr(b'.', text) else { continue };
            if catalog.arena.bytes(groups) == text.get(..last) {
                continue;
            }
            groups = key.first(last);
            let dots = memchr::memchr_iter(b'.', text).collect::<SmallVec<[_; 4]>>();
            for at in dots {
                catalog.put(&mut whole, key.first(at), line, Row::Group);
            }
        }
        if crowded > 0 {
            findings.add(Severity::Error, || Finding {
                rule: Rule::CrowdedKeys,
                severity: Severity::Error,
                locale: locale.to_owned(),
                section: section.to_owned(),
                place: None,
                key: None,
                text: alloc::format!(
                    "{crowded} messages are left out: more than {MOST_ALIKE} keys have one hash"
                ),
                help: "look at who has written this file: such keys are made on purpose".to_owned(),
                file: None,
                fix: None,
            });
        }
        catalog.rows.shrink_to_fit();
        catalog
    }

    /// Adds what there is for a key. Of two with one key the later one counts; a group is none where there is a message.
    /// False where too many keys have its hash: it is left out.
    fn put(&mut self, whole: &mut WholeKey, key: Slice, line: u32, row: Row) -> bool {
        let new = KeyRow { key, row, line };
        let text = self.arena.str(key);
        if self.places.is_empty() {
            if let Some(at) = self.look_through(text) {
                self.replace(at, new);
            } else {
                self.rows.push(new);
                if self.rows.len() > FEW {
                    self.make_table(whole);
                }
            }
            return true;
        }
        let hash = whole.hash(&self.hasher, text);
        let compared = Cell::new(0_usize);
        let is_same = |at: &u32| {
            compared.set(compared.get() + 1);
            self.key(*at) == text
        };
        let known = self.places.find(hash.0, is_same).copied();
        if compared.get() > MOST_ALIKE {
            // Only keys that were made for it have so many others of their hash.
            return false;
        }
        if let Some(at) = known {
            self.replace(at, new);
            return true;
        }
        // Catalogs are bounded by the length of their files, far below the bound of the type.
        let at = u32::try_from(self.rows.len()).unwrap_or(u32::MAX);
        self.rows.push(new);
        let Self { section, arena, rows, places, hasher } = self;
        let hash_of = |at: &u32| {
            let key = rows.get(*at as usize).map_or("", |row| arena.str(row.key));
            hasher.hash_in(section, key).0
        };
        places.insert_unique(hash.0, at, hash_of);
        true
    }

    /// Puts a message in place of what has its key. A group replaces nothing.
    fn replace(&mut self, at: u32, new: KeyRow) {
        if let Some(known) = self.rows.get_mut(at as usize)
            && !matches!(new.row, Row::Group)
        {
            *known = new;
        }
    }

    /// Makes the table of hashes, with room for all rows that there will be.
    fn make_table(&mut self, whole: &mut WholeKey) {
        let Self { arena, rows, places, hasher, .. } = self;
        // It is empty: nothing is hashed again.
        places.reserve(rows.capacity(), |_| 0);
        for (at, row) in (0..).zip(&*rows) {
            places.insert_unique(whole.hash(hasher, arena.str(row.key)).0, at, |_| 0);
        }
    }

    /// The hash of a key without its section.
    fn hash(&self, key: &str) -> KeyHash {
        self.hasher.hash_in(&self.section, key)
    }

    fn key(&self, at: u32) -> &str {
        self.rows.get(at as usize).map_or("", |row| self.arena.str(row.key))
    }

    #[inline]
    fn place(&self, hash: KeyHash, key: &str) -> Option<u32> {
        if self.places.is_empty() {
            return self.look_through(key);
        }
        let is_same = |at: &u32| self.rows.get(*at as usize).is_some_and(|row| self.has_key(row, key));
        self.places.find(hash.0, is_same).copied()
    }

    /// The row of a key, where there are few of them.
    #[inline]
    fn look_through(&self, key: &str) -> Option<u32> {
        (0..).zip(&self.rows).find(|(_, row)| self.has_key(row, key)).map(|(at, _)| at)
    }

    #[inline]
    fn has_key(&self, row: &KeyRow, key: &str) -> bool {
        row.key.length() as usize == key.len() && self.arena.bytes(row.key) == Some(key.as_bytes())
    }

    /// What there is for a key, without its section: `seats.left`.
    pub fn get(&self, key: &str) -> Entry<'_> {
        self.find_hashed(self.hash(key), key).map_or(Entry::Missing, |row| self.entry(row))
    }

    /// The row of a key without its section, whose whole, `booking.seats.left`, has been hashed by the hasher that this
    /// catalog was compiled with. With another hash, what is there may not be found.
    #[inline]
    pub fn find_hashed(&self, hash: KeyHash, key: &str) -> Option<u32> {
        self.place(hash, key)
    }

    /// What there is in a row.
    #[inline]
    pub fn entry(&self, row: u32) -> Entry<'_> {
        match self.rows.get(row as usize).map(|row| &row.row) {
            Some(Row::Message(body)) => Entry::Message(ProgramRef::new(&self.arena, *body)),
            Some(Row::Broken) => Entry::Broken,
            Some(Row::Group) => Entry::Group,
            None => Entry::Missing,
        }
    }

    /// The line of a message in its file, from 1.
    pub fn line(&self, key: &str) -> Option<u32> {
        Some(self.rows.get(self.place(self.hash(key), key)? as usize)?.line)
    }

    /// About how many bytes of memory it takes.
    pub fn heap_bytes(&self) -> usize {
        self.arena.heap_bytes() + self.rows.capacity() * size_of::<KeyRow>() + self.places.allocation_size()
    }

    /// How many messages there are, those with errors included.
    pub fn len(&self) -> usize {
        self.keys().count()
    }

    /// Whether there is no message.
    pub fn is_empty(&self) -> bool {
        self.keys().next().is_none()
    }

    /// Every message that has no errors, with the place of its row.
    pub fn messages(&self) -> impl Iterator<Item = (u32, &str)> {
        (0..).zip(&self.rows).filter_map(|(place, row)| match row.row {
            Row::Message(_) => Some((place, self.arena.str(row.key))),
            Row::Broken | Row::Group => None,
        })
    }

    /// Every key, in the order of the file.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        let messages = self.rows.iter().filter(|row| !matches!(row.row, Row::Group));
        messages.map(|row| self.arena.str(row.key))
    }
}

/// Splits a key into its section and the rest: `booking.seats.left` is `seats.left` of `booking`.
#[inline]
pub fn split_key(key: &str) -> Option<(&str, &str)> {
    let dot = memchr::memchr(b'.', key.as_bytes())?;
    let (section, rest) = key.split_at_checked(dot)?;
    let rest = rest.get(1..)?;
    (!section.is_empty() && !rest.is_empty()).then_some((section, rest))
}

/// Whether a text may name a section, a group or a message: ASCII letters, digits, `-` and `_`.
///
/// Nothing else ever becomes part of a file's name.
pub fn is_name(text: &str) -> bool {
    (1..=64).contains(&text.len())
        && text.bytes().all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_'))
}

/// Whether a text has the form of a key: names with full stops between them, no more and no longer than are read.
///
/// ```
/// use crow_fly_core::catalog::is_key;
///
/// assert!(is_key("booking.seats.left"));
/// assert!(!is_key("booking..left"));
/// assert!(!is_key(&"seats.".repeat(50)));
/// ```
pub fn is_key(text: &str) -> bool {
    text.len() <= SectionSource::MAX_KEY_LENGTH
        && text.split('.').count() <= SectionSource::MAX_DEPTH
        && text.split('.').all(is_name)
}

impl SourceProblem {
    /// The problem as a finding.
    pub fn finding(&self, locale: &str, section: &str) -> Finding {
        Finding {
            rule: self.kind.rule(),
            severity: Severity::Error,
            locale: locale.into(),
            section: section.into(),
            place: Some(self.place),
            key: self.key.clone(),
            text: self.text.clone(),
            help: String::from(self.kind.help()),
            file: None,
            fix: None,
        }
    }
}

#[cfg(test)]
mod tests {
    use alloc::format;

    use super::*;

    /// Keys of one hash are made on purpose: here the table is filled as they would fill it.
    #[test]
    fn no_more_than_64_keys_of_one_hash_are_told_apart() {
        for (others, is_taken) in [(0, true), (50, true), (65, false), (80, false)] {
            let text = (0..100).map(|at| format!("key{at} = 'x'\n")).collect::<Vec<_>>().concat();
            let hasher = KeyHasher::default();
            let source = SectionSource::from_toml(&text);
            let (mut catalog, _) = Catalog::compile_hashed("en", "home", &source, &hasher);
            let last = catalog.rows.pop().expect("there are a hundred");
            let hash = catalog.hash("key99").0;
            let entry = catalog.places.find_entry(hash, |at| *at == 99);
            entry.expect("it is in the table").remove();
            // With room for all, nothing is hashed again.
            catalog.places.reserve(200, |at| hasher.hash_in("home", &format!("key{at}")).0);
            for at in 0..others {
                catalog.places.insert_unique(hash, at, |_| hash);
            }
            let taken = catalog.put(&mut WholeKey::of("home"), last.key, 1, Row::Broken);
            assert_eq!(taken, is_taken, "{others}");
        }
    }
}
