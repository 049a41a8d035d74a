//! A file in memory, and a locale of a chain.

use std::sync::atomic::{AtomicU32, Ordering};

use crow_fly_core::catalog::{Catalog, split_key};
use crow_fly_core::direction::Direction;
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::FormatContext;
use crow_fly_core::tag::LanguageTag;

use crate::source::ListedFile;

/// A file in memory: a section of a locale, or all of them.
#[derive(Debug)]
pub(crate) struct Section {
    pub(crate) catalog: Catalog,
    /// The file, as the source lists it.
    pub(crate) file: ListedFile,
    pub(super) findings: Vec<Finding>,
    /// Whether something of the file could not be read, so that messages may be missing.
    pub(super) is_broken: bool,
    /// Whether it has all sections of its locale, so that its keys have their sections.
    pub(crate) is_whole: bool,
    /// About how many bytes it takes, itself included: of a small file that is most of it.
    pub(super) bytes: usize,
    /// The epoch of its last use.
    used: AtomicU32,
}

/// One locale of a chain.
#[derive(Debug)]
pub(crate) struct Link {
    pub(crate) locale: LocaleId,
    pub(crate) tag: LanguageTag,
    pub(crate) direction: Direction,
    /// Whether its texts read like the page: of the chain's own locale.
    pub(crate) reads_like_page: bool,
    /// Whether they are in the page's language, in whatever script.
    pub(crate) is_same_language: bool,
    /// The formats of its texts here: those of the page, where they read like it.
    pub(crate) context: FormatContext,
}

impl Section {
    pub(super) fn new(catalog: Catalog, file: &ListedFile, findings: Vec<Finding>, is_broken: bool) -> Self {
        Self {
            bytes: size_of::<Self>() + catalog.heap_bytes(),
            catalog,
            file: file.clone(),
            findings,
            is_broken,
            is_whole: file.section_name().is_none(),
            used: AtomicU32::new(0),
        }
    }

    /// What makes texts missing: of the file, or of a message.
    pub(super) fn errors(&self) -> impl Iterator<Item = &Finding> {
        self.findings.iter().filter(|finding| finding.severity == Severity::Error)
    }

    /// Whether texts are missing for an error: of the file, or of a message.
    pub(super) fn has_errors(&self) -> bool {
        self.is_broken || self.errors().next().is_some()
    }

    /// The key of a message in the file: without the section, where the file has one section.
    pub(crate) fn name_in_file<'k>(&self, key: &'k str) -> &'k str {
        if self.is_whole { key } else { split_key(key).map_or(key, |(_, name)| name) }
    }

    /// The line of a message in the file, from 1.
    pub(crate) fn line(&self, key: &str) -> Option<u32> {
        self.catalog.line(self.name_in_file(key))
    }

    /// Marks it as used. Most often it is marked already, and nothing is written.
    pub(super) fn mark(&self, epoch: u32) {
        if self.used.load(Ordering::Relaxed) != epoch {
            self.used.store(epoch, Ordering::Relaxed);
        }
    }

    pub(super) fn last_used(&self) -> u32 {
        self.used.load(Ordering::Relaxed)
    }
}
