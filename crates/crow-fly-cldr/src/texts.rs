//! Texts of all locales, in compact files, little-endian throughout:
//!
//! | part | rows |
//! |---|---|
//! | head | `u16` keys, `u16` locales, `u32` entries |
//! | keys | `u32` place of the text; sorted by text |
//! | locales | `u32` place of the text, `u16` parent (`0xffff`: none), `u32` first entry, `u16` entries; sorted by text |
//! | entries | `u16` key, `u32` place of the text; sorted by key within a locale |
//! | texts | `u16` of length, then UTF-8 |

use core::cmp::Ordering;

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
        let at = Self::search(self.key_count()?, |at| self.bytes(self.u32(HEAD + at * KEY)?), key)?;
        u16::try_from(at).ok().map(Key)
    }

    /// Finds a key by its parts where code is compiled: for constants, so that nothing is searched at run time.
    ///
    /// # Panics
    /// Where the file has no such key; the constant then does not compile.
    pub const fn constant(self, parts: &[&str]) -> Key {
        let (wanted, wanted_length) = joined(parts);
        let bytes = self.bytes;
        let keys = u16_at(bytes, 0) as usize;
        let texts =
            HEAD + keys * KEY + u16_at(bytes, 2) as usize * LOCALE + u32_at(bytes, 4) as usize * ENTRY;
        let (mut low, mut high) = (0, keys);
        while low < high {
            let middle = low + (high - low) / 2;
            let at = texts + u32_at(bytes, HEAD + middle * KEY) as usize;
            match compare(bytes, at + 2, u16_at(bytes, at) as usize, &wanted, wanted_length) {
                Ordering::Less => low = middle + 1,
                Ordering::Greater => high = middle,
                // Places of keys are written in two bytes.
                #[allow(clippy::cast_possible_truncation, reason = "there are `u16` keys")]
                Ordering::Equal => return Key(middle as u16),
            }
        }
        panic!("the file has no such key")
    }

    /// Finds keys that differ in their last part, where code is compiled.
    ///
    /// # Panics
    /// As [`constant`](Self::constant).
    pub const fn constants<const N: usize>(self, kind: &str, width: &str, names: [&str; N]) -> [Key; N] {
        let mut keys = [Key(0); N];
        let mut at = 0;
        while at < N {
            keys[at] = self.constant(&[kind, width, names[at]]);
            at += 1;
        }
        keys
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
        Self::search(self.locale_count()?, |at| self.bytes(self.u32(self.locale_row(at)?)?), locale)
    }

    fn search(count: usize, text: impl Fn(usize) -> Option<&'static [u8]>, wanted: &str) -> Option<usize> {
        let (mut low, mut high) = (0, count);
        while low < high {
            let middle = low + (high - low) / 2;
            match text(middle)?.cmp(wanted.as_bytes()) {
                Ordering::Less => low = middle + 1,
                Ordering::Greater => high = middle,
                Ordering::Equal => return Some(middle),
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
        core::str::from_utf8(self.bytes(place)?).ok()
    }

    fn bytes(self, place: u32) -> Option<&'static [u8]> {
        let entries = self.u32(4)? as usize;
        let start = HEAD + self.key_count()? * KEY + self.locale_count()? * LOCALE + entries * ENTRY;
        let at = start + place as usize;
        let length = usize::from(self.u16(at)?);
        self.bytes.get(at + 2..at + 2 + length)
    }

    fn u16(self, at: usize) -> Option<u16> {
        Some(u16::from_le_bytes(*self.bytes.get(at..)?.first_chunk()?))
    }

    fn u32(self, at: usize) -> Option<u32> {
        Some(u32::from_le_bytes(*self.bytes.get(at..)?.first_chunk()?))
    }
}

const fn u16_at(bytes: &[u8], at: usize) -> u16 {
    u16::from_le_bytes([bytes[at], bytes[at + 1]])
}

const fn u32_at(bytes: &[u8], at: usize) -> u32 {
    u32::from_le_bytes([bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]])
}

/// The longest key that code is compiled with.
const LONGEST: usize = 64;

/// The parts of a key joined, and how long it is.
const fn joined(parts: &[&str]) -> ([u8; LONGEST], usize) {
    let (mut key, mut length) = ([0; LONGEST], 0);
    let mut part = 0;
    while part < parts.len() {
        if part > 0 {
            key[length] = b'/';
            length += 1;
        }
        let bytes = parts[part].as_bytes();
        let mut at = 0;
        while at < bytes.len() {
            key[length] = bytes[at];
            length += 1;
            at += 1;
        }
        part += 1;
    }
    (key, length)
}

/// Compares so many bytes from a place with so many others.
const fn compare(bytes: &[u8], start: usize, length: usize, other: &[u8], other_length: usize) -> Ordering {
    let mut at = 0;
    while at < length && at < other_length {
        if bytes[start + at] < other[at] {
            return Ordering::Less;
        }
        if bytes[start + at] > other[at] {
            return Ordering::Greater;
        }
        at += 1;
    }
    if length < other_length {
        Ordering::Less
    } else if length > other_length {
        Ordering::Greater
    } else {
        Ordering::Equal
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
                    Ordering::Less => low = middle + 1,
                    Ordering::Greater => high = middle,
                    Ordering::Equal => return texts.text(texts.u32(entry(middle) + 2)?),
                }
            }
            locale = usize::from(texts.u16(row + 4)?);
        }
        None
    }
}
