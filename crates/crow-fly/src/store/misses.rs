//! Texts that were asked for and were not there, or were those of another language.

use std::hash::{BuildHasher, RandomState};
use std::io;
use std::path::Path;
use std::sync::OnceLock;
use std::sync::atomic::{AtomicU64, AtomicUsize, Ordering};

use crow_fly_core::locale_set::LocaleId;
use serde::{Deserialize, Serialize};

use super::generation::Miss;

/// How many different misses are kept.
pub(super) const MOST: usize = 10_000;

/// A power of two that leaves room, so that a free place is found soon.
const PLACES: usize = 16_384;

/// How much of a key is kept: keys made from data may be of any length.
const LONGEST_KEY: usize = 200;

/// What was asked for and not found, by key, locale and kind. Neither looking nor adding takes a lock: each place is
/// written once, and then only counted.
#[derive(Debug, Default)]
pub(crate) struct Misses {
    places: OnceLock<Box<[OnceLock<Counted>]>>,
    hasher: RandomState,
    kept: AtomicUsize,
}

#[derive(Debug)]
struct Counted {
    key: Box<str>,
    locale: LocaleId,
    kind: MissKind,
    count: AtomicU64,
}

/// What was shown in place of a text that was missing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Deserialize, Serialize)]
#[serde(rename_all = "kebab-case", tag = "kind", content = "reason")]
#[non_exhaustive]
pub enum MissKind {
    /// Nothing in the chain has it.
    Missing(Miss),
    /// It was said in another language of the chain.
    FellBack,
}

/// How often a text was missing.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, Serialize)]
#[non_exhaustive]
pub struct MissCount {
    /// The key.
    pub key: String,
    /// The locale it was asked for in.
    pub locale: String,
    /// What became of it.
    #[serde(flatten)]
    pub kind: MissKind,
    /// How often.
    pub count: u64,
}

/// The texts that were missing, the most frequent first. An answer of axum and `actix-web`: JSON.
///
/// ```
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # use crow_fly::{args, Config, CrowFly, source::Memory};
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
/// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
/// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
/// # let t = crow.translator_for("en").await;
/// t.text("home.bicycles");
/// let misses = crow.misses();
/// let miss = misses.iter().next().expect("one text is missing");
/// assert_eq!((miss.key.as_str(), miss.count), ("home.bicycles", 1));
/// # Ok(()) }
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, Serialize)]
#[serde(transparent)]
pub struct MissReport(Vec<MissCount>);

impl MissReport {
    /// Each text, by key, locale and kind.
    pub fn iter(&self) -> impl ExactSizeIterator<Item = &MissCount> {
        self.0.iter()
    }

    /// Whether nothing was missing.
    pub const fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// The report as JSON, as [`from_json`](Self::from_json) reads it.
    pub fn to_json(&self) -> String {
        // It holds nothing that JSON cannot.
        serde_json::to_string_pretty(self).unwrap_or_default()
    }

    /// Reads a report.
    ///
    /// # Errors
    /// Where it is not one.
    pub fn from_json(text: &str) -> Result<Self, serde_json::Error> {
        serde_json::from_str(text)
    }

    /// Writes the report into a file, for `crow-fly check --misses`. Who reads it meanwhile sees the previous report, whole.
    ///
    /// # Errors
    /// Where the file cannot be written.
    pub fn write(&self, path: impl AsRef<Path>) -> io::Result<()> {
        let path = path.as_ref();
        let mut new = path.as_os_str().to_owned();
        new.push(".new");
        std::fs::write(&new, self.to_json() + "\n")?;
        std::fs::rename(new, path)
    }
}

impl Misses {
    /// Counts a miss; returns how often it was met, or none where too many others are kept.
    pub(crate) fn count(&self, key: &str, locale: LocaleId, kind: MissKind) -> Option<u64> {
        let key = shortened(key);
        let places = self.places.get_or_init(|| (0..PLACES).map(|_| OnceLock::new()).collect());
        let start =
            usize::try_from(self.hasher.hash_one((key, locale.index(), kind)) % PLACES as u64).unwrap_or(0);
        let is_same =
            |counted: &Counted| *counted.key == *key && counted.locale == locale && counted.kind == kind;
        let (before, after) = places.split_at_checked(start)?;
        for place in after.iter().chain(before) {
            if place.get().is_none() {
                if self.kept.fetch_add(1, Ordering::Relaxed) >= MOST {
                    self.kept.store(MOST, Ordering::Relaxed);
                    return None;
                }
                let new = Counted { key: key.into(), locale, kind, count: AtomicU64::new(0) };
                if place.set(new).is_err() {
                    // Another thread was here first: with the same miss, or with one that is walked past.
                    self.kept.fetch_sub(1, Ordering::Relaxed);
                }
            }
            if let Some(counted) = place.get().filter(|counted| is_same(counted)) {
                return Some(counted.count.fetch_add(1, Ordering::Relaxed) + 1);
            }
        }
        None
    }

    /// All that are kept, the most frequent first.
    pub(crate) fn report(&self, tag: impl Fn(LocaleId) -> String) -> MissReport {
        let places = self.places.get().map(|places| &**places).unwrap_or_default();
        let counted = places.iter().filter_map(OnceLock::get);
        let mut list: Vec<MissCount> = counted
            .map(|counted| MissCount {
                key: counted.key.to_string(),
                locale: tag(counted.locale),
                kind: counted.kind,
                count: counted.count.load(Ordering::Relaxed),
            })
            .collect();
        list.sort_by(|one, other| {
            (other.count, &one.key, &one.locale).cmp(&(one.count, &other.key, &other.locale))
        });
        MissReport(list)
    }

    /// How many different ones are kept.
    pub(crate) fn len(&self) -> usize {
        self.kept.load(Ordering::Relaxed).min(MOST)
    }
}

/// Whether a miss that was met so often is told in the log: the first time, the tenth, the hundredth, and so on.
pub(crate) const fn is_told(count: u64) -> bool {
    let mut power = 1;
    while power < count {
        power *= 10;
        if power > 1_000_000_000_000 {
            return false;
        }
    }
    power == count
}

fn shortened(key: &str) -> &str {
    let end = (0..=LONGEST_KEY.min(key.len())).rev().find(|end| key.is_char_boundary(*end));
    key.get(..end.unwrap_or(0)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn locale() -> LocaleId {
        let set = crow_fly_core::locale_set::LocaleSet::parse(["en"]).expect("it is a tag");
        set.default_locale()
    }

    #[test]
    fn no_more_than_ten_thousand_are_kept_and_those_are_counted() {
        let (misses, locale) = (Misses::default(), locale());
        let kind = MissKind::Missing(Miss::NotThere);
        for round in 1..=2 {
            for number in 0..12_000 {
                let count = misses.count(&format!("feature.{number}"), locale, kind);
                assert_eq!(count, (number < MOST).then_some(round), "{number}");
            }
        }
        assert_eq!((misses.len(), misses.report(|_| "en".to_owned()).0.len()), (MOST, MOST));
        assert!(misses.report(|_| "en".to_owned()).iter().all(|miss| miss.count == 2));
    }

    #[test]
    fn threads_lose_no_count() {
        let (misses, locale) = (Misses::default(), locale());
        std::thread::scope(|scope| {
            for _ in 0..8 {
                scope.spawn(|| {
                    for number in 0..1_000 {
                        misses.count(&format!("a.{}", number % 50), locale, MissKind::FellBack);
                    }
                });
            }
        });
        let list = misses.report(|_| "en".to_owned()).0;
        assert_eq!((list.len(), list.iter().map(|miss| miss.count).sum::<u64>()), (50, 8_000));
        assert_eq!(misses.len(), 50);
    }

    #[test]
    fn a_miss_is_told_at_powers_of_ten() {
        let told: Vec<u64> = (0..=1_000).filter(|count| is_told(*count)).collect();
        assert_eq!(told, [1, 10, 100, 1_000]);
        assert!(is_told(1_000_000_000_000) && !is_told(10_000_000_000_000) && !is_told(u64::MAX));
    }

    #[test]
    fn a_long_key_is_shortened_between_characters() {
        assert_eq!(shortened(&"é".repeat(150)).len(), 200);
        assert_eq!(shortened(&format!("a{}", "é".repeat(150))).len(), 199);
        assert_eq!(shortened(""), "");
    }
}
