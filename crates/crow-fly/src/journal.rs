//! What the last requests were: kept in development, and nowhere else.

use std::collections::VecDeque;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use crow_fly_core::message::FormatError;
use crow_fly_core::policy::Explanation;
use jiff::Timestamp;

/// How many requests are kept.
const REQUESTS: usize = 50;

/// How many texts of a request are kept; more are counted.
const TEXTS: usize = 500;

/// The last requests.
#[derive(Debug, Default)]
pub(crate) struct Journal {
    entries: Mutex<VecDeque<Arc<Entry>>>,
    count: AtomicU64,
    /// How many want nothing to be noted now.
    pauses: AtomicU64,
}

/// While it is there, no request is noted.
pub(crate) struct Pause<'j>(&'j Journal);

impl Drop for Pause<'_> {
    fn drop(&mut self) {
        self.0.pauses.fetch_sub(1, Ordering::Relaxed);
    }
}

/// One request.
#[derive(Debug)]
pub(crate) struct Entry {
    /// Counted from 1 in this program.
    pub(crate) number: u64,
    pub(crate) at: Timestamp,
    pub(crate) method: String,
    pub(crate) address: String,
    /// What was answered, in words.
    pub(crate) answer: String,
    pub(crate) decision: Option<Explanation>,
    texts: Mutex<Texts>,
}

#[derive(Clone, Debug, Default)]
pub(crate) struct Texts {
    pub(crate) kept: Vec<SaidText>,
    /// How many more there were.
    pub(crate) more: usize,
}

/// A text of a request.
#[derive(Clone, Debug)]
pub(crate) struct SaidText {
    pub(crate) key: String,
    /// The arguments, by name.
    pub(crate) arguments: Vec<(String, String)>,
    pub(crate) outcome: TextOutcome,
    pub(crate) errors: Vec<FormatError>,
}

/// Where a text came from.
#[derive(Clone, Debug)]
pub(crate) enum TextOutcome {
    /// A file and a line; the language where it is not the page's.
    Found { place: String, other: Option<String> },
    /// The default text in code.
    Default,
    /// Nowhere, and why.
    Missing(String),
}

impl TextOutcome {
    pub(crate) const fn is_missing(&self) -> bool {
        matches!(self, Self::Missing(_))
    }
}

impl Journal {
    /// Notes a request.
    pub(crate) fn note(
        &self,
        method: &str,
        address: String,
        answer: String,
        decision: Option<Explanation>,
    ) -> Arc<Entry> {
        let entry = Arc::new(Entry {
            number: self.count.fetch_add(1, Ordering::Relaxed) + 1,
            at: Timestamp::now(),
            method: method.to_owned(),
            address,
            answer,
            decision,
            texts: Mutex::default(),
        });
        let mut entries = self.entries.lock().unwrap_or_else(PoisonError::into_inner);
        entries.push_front(Arc::clone(&entry));
        entries.truncate(REQUESTS);
        entry
    }

    /// Notes nothing for a while: pages are made that nobody has asked for.
    pub(crate) fn pause(&self) -> Pause<'_> {
        self.pauses.fetch_add(1, Ordering::Relaxed);
        Pause(self)
    }

    pub(crate) fn is_paused(&self) -> bool {
        self.pauses.load(Ordering::Relaxed) > 0
    }

    /// All of them, the last first.
    pub(crate) fn all(&self) -> Vec<Arc<Entry>> {
        self.entries.lock().unwrap_or_else(PoisonError::into_inner).iter().cloned().collect()
    }

    pub(crate) fn find(&self, number: u64) -> Option<Arc<Entry>> {
        let entries = self.entries.lock().unwrap_or_else(PoisonError::into_inner);
        entries.iter().find(|entry| entry.number == number).cloned()
    }
}

impl Entry {
    pub(crate) const fn number(&self) -> u64 {
        self.number
    }

    /// Notes a text.
    pub(crate) fn say(&self, text: impl FnOnce() -> SaidText) {
        let mut texts = self.lock();
        if texts.kept.len() < TEXTS {
            texts.kept.push(text());
        } else {
            texts.more += 1;
        }
    }

    pub(crate) fn texts(&self) -> Texts {
        self.lock().clone()
    }

    fn lock(&self) -> MutexGuard<'_, Texts> {
        self.texts.lock().unwrap_or_else(PoisonError::into_inner)
    }
}
