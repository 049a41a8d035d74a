//! Texts of all locales, in compact files, little-endian throughout:
//!
//! | part | rows |
//! |---|---|
//! | head | `u16` keys, `u16` locales, `u32` entries |
//! | keys | `u32` place of the text; sorted by text |
//! | locales | `u32` place of the text, `u16` parent (`0xffff`: none), `u32` first entry, `u16` entries; sorted by text |
//! | entries | `u16` key, `u32` place of the text; sorted by key within a locale |
//! | texts | `u16` of length, then UTF-8 |

/// A file of texts.
#[derive(Clone, Copy, Debug)]
pub struct Texts {
    bytes: &'static [u8],
}

/// The texts of one locale, with those it inherits.
#[derive(Clone, Copy, Debug)]
pub struct LocaleTexts {
    texts: Texts,
    locale: usize,
}

/// A key of a file, found once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Key(u16);

const HEAD: usize = 8;
const KEY: usize = 4;
const LOCALE: usize = 12;
const ENTRY: usize = 6;

impl Texts {
    pub(crate) const fn new(bytes: &'static [u8]) -> Self {
        Self { bytes }
    }

    /// The text of `key` in exactly this locale or one it inherits from; none where the locale is not in the file.
    pub fn get(self, locale: &str, key: &str) -> Option<&'static str> {
        self.of(locale)?.get(key)
    }

    /// The texts of exactly this locale.
    pub fn of(self, locale: &str) -> Option<LocaleTexts> {
        Some(LocaleTexts { texts: self, locale: self.locale(locale)? })
    }

    /// Finds a key.
    pub fn key(self, key: &str) -> Option<Key> {
        let at = Self::search(self.key_count()?, |at| self.text(self.u32(HEAD + at * KEY)?), key)?;
        u16::try_from(at).ok().map(Key)
    }

    /// The text of a key.
    pub fn key_text(self, key: Key) -> Option<&'static str> {
        self.text(self.u32(HEAD + usize::from(key.0) * KEY)?)
    }

    /// Every key, sorted.
    pub fn keys(self) -> impl Iterator<Item = &'static str> {
        (0..self.key_count().unwrap_or(0)).filter_map(move |at| self.text(self.u32(HEAD + at * KEY)?))
    }

    /// Whether the locale is in the set.
    pub fn has(self, locale: &str) -> bool {
        self.locale(locale).is_some()
    }

    /// Every locale of the set, sorted by its bytes.
    pub fn locales(self) -> impl Iterator<Item = &'static str> {
        (0..self.locale_count().unwrap_or(0)).filter_map(move |at| self.text(self.u32(self.locale_row(at)?)?))
    }

    fn locale(self, locale: &str) -> Option<usize> {
        Self::search(self.locale_count()?, |at| self.text(self.u32(self.locale_row(at)?)?), locale)
    }

    fn search(count: usize, text: impl Fn(usize) -> Option<&'static str>, wanted: &str) -> Option<usize> {
        let (mut low, mut high) = (0, count);
        while low < high {
            let middle = low + (high - low) / 2;
            match text(middle)?.cmp(wanted) {
                core::cmp::Ordering::Less => low = middle + 1,
                core::cmp::Ordering::Greater => high = middle,
                core::cmp::Ordering::Equal => return Some(middle),
            }
        }
        None
    }

    fn key_count(self) -> Option<usize> {
        self.u16(0).map(usize::from)
    }

    fn locale_count(self) -> Option<usize> {
        self.u16(2).map(usize::from)
    }

    fn locale_row(self, at: usize) -> Option<usize> {
        (at < self.locale_count()?).then_some(HEAD + self.key_count()? * KEY + at * LOCALE)
    }

    fn text(self, place: u32) -> Option<&'static str> {
        let entries = self.u32(4)? as usize;
        let start = HEAD + self.key_count()? * KEY + self.locale_count()? * LOCALE + entries * ENTRY;
        let at = start + place as usize;
        let length = usize::from(self.u16(at)?);
        core::str::from_utf8(self.bytes.get(at + 2..at + 2 + length)?).ok()
    }

    fn u16(self, at: usize) -> Option<u16> {
        Some(u16::from_le_bytes(*self.bytes.get(at..)?.first_chunk()?))
    }

    fn u32(self, at: usize) -> Option<u32> {
        Some(u32::from_le_bytes(*self.bytes.get(at..)?.first_chunk()?))
    }
}

impl LocaleTexts {
    /// The text of a key, of this locale or of one it inherits from.
    pub fn get(self, key: &str) -> Option<&'static str> {
        self.find(self.texts.key(key)?)
    }

    /// The same, of a key found before.
    pub fn find(self, key: Key) -> Option<&'static str> {
        let texts = self.texts;
        let start = HEAD + texts.key_count()? * KEY + texts.locale_count()? * LOCALE;
        let mut locale = self.locale;
        // No chain of parents is longer than four; the bound only guards against a damaged file.
        for _ in 0..8 {
            let row = texts.locale_row(locale)?;
            let first = texts.u32(row + 6)? as usize;
            let count = usize::from(texts.u16(row + 10)?);
            let entry = |at: usize| start + (first + at) * ENTRY;
            let (mut low, mut high) = (0, count);
            while low < high {
                let middle = low + (high - low) / 2;
                match texts.u16(entry(middle))?.cmp(&key.0) {
                    core::cmp::Ordering::Less => low = middle + 1,
                    core::cmp::Ordering::Greater => high = middle,
                    core::cmp::Ordering::Equal => return texts.text(texts.u32(entry(middle) + 2)?),
                }
            }
            locale = usize::from(texts.u16(row + 4)?);
        }
        None
    }
}
