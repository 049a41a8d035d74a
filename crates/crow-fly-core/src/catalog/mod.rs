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

use hashbrown::{HashMap, HashSet};

use crate::finding::{Finding, Severity};
use crate::message::{Message, Program};

mod source;

pub use source::{SectionSource, SourceEntry, SourceProblem, SourceProblemKind};

/// The messages of one section in one locale.
#[derive(Clone, Debug, Default)]
pub struct Catalog {
    /// None for a message whose source has errors.
    messages: HashMap<Box<str>, Option<Program>>,
    groups: HashSet<Box<str>>,
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
    /// Compiles a section. What cannot be compiled is left out and found: the rest works.
    pub fn compile(locale: &str, section: &str, source: &SectionSource) -> (Self, Vec<Finding>) {
        let mut catalog = Self::default();
        let mut findings: Vec<Finding> =
            source.problems().iter().map(|problem| problem.finding(locale, section)).collect();
        for entry in source.entries() {
            let program = match Message::parse(entry.text()) {
                Ok(message) => Some(Program::compile(&message)),
                Err(errors) => {
                    findings.extend(errors.iter().map(|error| Finding {
                        rule: error.kind().id(),
                        severity: Severity::Error,
                        locale: locale.to_owned(),
                        section: section.to_owned(),
                        place: Some(entry.position(source, error.span().range())),
                        key: Some(entry.key().to_owned()),
                        text: error.to_string(),
                        help: error.help().to_owned(),
                    }));
                    None
                }
            };
            for (at, _) in entry.key().match_indices('.') {
                catalog.groups.insert(entry.key().get(..at).unwrap_or_default().into());
            }
            catalog.messages.insert(entry.key().into(), program);
        }
        (catalog, findings)
    }

    /// What there is for a key, without its section: `seats.left`.
    pub fn get(&self, key: &str) -> Entry<'_> {
        match self.messages.get(key) {
            Some(Some(program)) => Entry::Message(program),
            Some(None) => Entry::Broken,
            None if self.groups.contains(key) => Entry::Group,
            None => Entry::Missing,
        }
    }

    /// How many messages there are, those with errors included.
    pub fn len(&self) -> usize {
        self.messages.len()
    }

    /// Whether there is no message.
    pub fn is_empty(&self) -> bool {
        self.messages.is_empty()
    }

    /// Every key, in no order.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.messages.keys().map(|key| &**key)
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
