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
use alloc::string::{String, ToString};
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::hash::BuildHasher;

use hashbrown::{DefaultHashBuilder, HashTable};
use smallvec::SmallVec;

use crate::finding::{FileFindings, Finding, Severity};
use crate::message::{Arena, Compiler, Program, Slice};

mod source;

pub use source::{SectionSource, SourceEntry, SourceProblem, SourceProblemKind};

/// The messages of one section in one locale.
#[derive(Clone, Debug, Default)]
pub struct Catalog {
    /// The texts of all messages, and their keys.
    arena: Arc<Arena>,
    rows: Vec<(Slice, Row)>,
    /// The places of rows, by the hash of their keys.
    places: HashTable<u32>,
    hasher: DefaultHashBuilder,
}

#[derive(Clone, Debug)]
enum Row {
    Message(Program),
    Broken,
    Group,
}

/// What a catalog has for a key.
#[derive(Clone, Copy, Debug)]
pub enum Entry<'c> {
    /// A message.
    Message(&'c Program),
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
        let mut findings = FileFindings::new(locale, section);
        let catalog = Self::compile_finding(locale, section, source, &mut findings);
        (catalog, findings.finish())
    }

    /// Compiles a section; what cannot be compiled goes to `findings`.
    pub(crate) fn compile_finding(
        locale: &str,
        section: &str,
        source: &SectionSource,
        findings: &mut FileFindings<'_>,
    ) -> Self {
        for problem in source.problems() {
            findings.add(Severity::Error, || problem.finding(locale, section));
        }
        findings.count(source.more_problems(), Severity::Error);
        let bytes = source.entries().iter().map(|entry| entry.key().len() + entry.text().len()).sum();
        let mut compiler = Compiler::with_room(source.entries().len(), bytes);
        let mut bodies = Vec::with_capacity(source.entries().len());
        for entry in source.entries() {
            let body = compiler.add_source(entry.text());
            for error in body.as_ref().err().into_iter().flat_map(|errors| errors.iter()) {
                findings.add(Severity::Error, || Finding {
                    rule: error.kind().id(),
                    severity: Severity::Error,
                    locale: locale.to_owned(),
                    section: section.to_owned(),
                    place: Some(entry.position(source, error.span().range())),
                    key: Some(entry.key().to_owned()),
                    text: error.to_string(),
                    help: error.help().to_owned(),
                });
            }
            bodies.push((compiler.put(entry.key()), body.ok()));
        }
        let mut catalog = Self {
            arena: Arc::new(compiler.finish()),
            rows: Vec::with_capacity(bodies.len()),
            places: HashTable::with_capacity(bodies.len()),
            hasher: DefaultHashBuilder::default(),
        };
        for (key, body) in bodies {
            let program = |body| Row::Message(Program::new(Arc::clone(&catalog.arena), body));
            catalog.put(key, body.map_or(Row::Broken, program));
            let dots =
                catalog.arena.str(key).match_indices('.').map(|(at, _)| at).collect::<SmallVec<[_; 4]>>();
            for at in dots {
                catalog.put(key.first(at), Row::Group);
            }
        }
        catalog.rows.shrink_to_fit();
        catalog
    }

    /// Adds what there is for a key. Of two with one key the later one counts; a group is none where there is a message.
    fn put(&mut self, key: Slice, row: Row) {
        let text = self.arena.str(key);
        let hash = self.hasher.hash_one(text);
        let known = self.places.find(hash, |at| self.key(*at) == text).copied();
        if let Some((_, known)) = known.and_then(|at| self.rows.get_mut(at as usize)) {
            if !matches!(row, Row::Group) {
                *known = row;
            }
            return;
        }
        // Catalogs are bounded by the length of their files, far below the bound of the type.
        let at = u32::try_from(self.rows.len()).unwrap_or(u32::MAX);
        self.rows.push((key, row));
        let Self { arena, rows, places, hasher } = self;
        places.insert_unique(hash, at, |at| {
            hasher.hash_one(rows.get(*at as usize).map_or("", |(key, _)| arena.str(*key)))
        });
    }

    fn key(&self, at: u32) -> &str {
        self.rows.get(at as usize).map_or("", |(key, _)| self.arena.str(*key))
    }

    fn row(&self, key: &str) -> Option<&Row> {
        let at = self.places.find(self.hasher.hash_one(key), |at| self.key(*at) == key)?;
        self.rows.get(*at as usize).map(|(_, row)| row)
    }

    /// What there is for a key, without its section: `seats.left`.
    pub fn get(&self, key: &str) -> Entry<'_> {
        match self.row(key) {
            Some(Row::Message(program)) => Entry::Message(program),
            Some(Row::Broken) => Entry::Broken,
            Some(Row::Group) => Entry::Group,
            None => Entry::Missing,
        }
    }

    /// How many messages there are, those with errors included.
    pub fn len(&self) -> usize {
        self.keys().count()
    }

    /// Whether there is no message.
    pub fn is_empty(&self) -> bool {
        self.keys().next().is_none()
    }

    /// Every key, in the order of the file.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        let messages = self.rows.iter().filter(|(_, row)| !matches!(row, Row::Group));
        messages.map(|(key, _)| self.arena.str(*key))
    }
}

/// Splits a key into its section and the rest: `booking.seats.left` is `seats.left` of `booking`.
pub fn split_key(key: &str) -> Option<(&str, &str)> {
    key.split_once('.').filter(|(section, rest)| !section.is_empty() && !rest.is_empty())
}

/// Whether a text may name a section, a group or a message: ASCII letters, digits, `-` and `_`.
///
/// Nothing else ever becomes part of a file's name.
pub fn is_name(text: &str) -> bool {
    (1..=64).contains(&text.len())
        && text.bytes().all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_'))
}

impl SourceProblem {
    /// The problem as a finding.
    pub fn finding(&self, locale: &str, section: &str) -> Finding {
        Finding {
            rule: self.kind.id(),
            severity: Severity::Error,
            locale: locale.into(),
            section: section.into(),
            place: Some(self.place),
            key: self.key.clone(),
            text: self.text.clone(),
            help: String::from(self.kind.help()),
        }
    }
}
