//! Texts of all locales, by key: each locale has those that it does not inherit.
//!
//! The keys are in the program. What they stand for is in [`data`], a block for each file and language,
//! which is opened when a text of it is first asked for, and stays.

use core::cmp::Ordering;

use crate::data;

/// A file of texts.
#[derive(Clone, Copy, Debug)]
pub struct Texts {
    file: u8,
    keys: Keys,
}

/// The texts of one locale, with those it inherits.
#[derive(Clone, Copy, Debug)]
pub struct LocaleTexts {
    texts: Texts,
    data: &'static data::Data,
    locale: data::Locale,
}

/// A key of a file, found once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Key(pub(crate) u16);

impl Texts {
    pub(crate) const fn new(file: u8, keys: &'static [u8]) -> Self {
        Self { file, keys: Keys(keys) }
    }

    /// The text of `key` in exactly this locale or one it inherits from; none where the locale is not in the data.
    pub fn get(self, locale: &str, key: &str) -> Option<&'static str> {
        self.of(locale)?.get(key)
    }

    /// The texts of exactly this locale.
    pub fn of(self, locale: &str) -> Option<LocaleTexts> {
        let (data, locale) = (data::data(), data::locale(locale)?);
        data.has(self.file, locale).then_some(LocaleTexts { texts: self, data, locale })
    }

    /// Finds a key.
    pub fn key(self, key: &str) -> Option<Key> {
        let (mut low, mut high) = (0, self.keys.len());
        while low < high {
            let middle = low + (high - low) / 2;
            match self.keys.bytes(middle)?.cmp(key.as_bytes()) {
                Ordering::Less => low = middle + 1,
                Ordering::Greater => high = middle,
                Ordering::Equal => return u16::try_from(middle).ok().map(Key),
            }
        }
        None
    }

    /// Finds a key by its parts where code is compiled: for constants, so that nothing is searched at run time.
    ///
    /// # Panics
    /// Where the file has no such key; the constant then does not compile.
    pub const fn constant(self, parts: &[&str]) -> Key {
        let (wanted, wanted_length) = joined(parts);
        let (mut low, mut high) = (0, self.keys.len());
        while low < high {
            let middle = low + (high - low) / 2;
            let (start, end) = self.keys.place(middle);
            match compare(self.keys.0, start, end, &wanted, wanted_length) {
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

    /// The same, of keys of two parts.
    ///
    /// # Panics
    /// As [`constant`](Self::constant).
    pub const fn constants_of<const N: usize>(self, kind: &str, names: [&str; N]) -> [Key; N] {
        let mut keys = [Key(0); N];
        let mut at = 0;
        while at < N {
            keys[at] = self.constant(&[kind, names[at]]);
            at += 1;
        }
        keys
    }

    /// The text of a key.
    pub fn key_text(self, key: Key) -> Option<&'static str> {
        self.keys.text(usize::from(key.0))
    }

    /// Every key, sorted.
    pub fn keys(self) -> impl Iterator<Item = &'static str> {
        (0..self.keys.len()).filter_map(move |at| self.keys.text(at))
    }

    /// The keys that begin with a part, without it and the `/` behind it.
    pub fn keys_of(self, part: &str) -> impl Iterator<Item = &'static str> {
        let (mut low, mut high) = (0, self.keys.len());
        while low < high {
            let middle = low + (high - low) / 2;
            if self.keys.bytes(middle).unwrap_or_default() < part.as_bytes() {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        // Keys are sorted, so that those that begin with these letters are together: `part`, `part-x`, `part/y`.
        (low..self.keys.len())
            .map_while(move |at| self.keys.text(at)?.strip_prefix(part))
            .filter_map(|rest| rest.strip_prefix('/'))
    }

    /// Whether the data has texts of the locale.
    pub fn has(self, locale: &str) -> bool {
        data::locale(locale).is_some_and(|locale| data::data().has(self.file, locale))
    }

    /// Every locale that the data has texts of, sorted by its bytes.
    pub fn locales(self) -> impl Iterator<Item = &'static str> {
        let data = data::data();
        data::locales().filter(move |(locale, _)| data.has(self.file, *locale)).map(|(_, name)| name)
    }
}

impl LocaleTexts {
    /// The text of a key, of this locale or of one it inherits from.
    pub fn get(self, key: &str) -> Option<&'static str> {
        self.find(self.texts.key(key)?)
    }

    /// The same, of a key found before.
    pub fn find(self, key: Key) -> Option<&'static str> {
        self.data.text(self.texts.file, self.locale, key)
    }
}

/// Keys, sorted: `u16` of how many, `u32` of where each ends, and their texts one after the other, little-endian.
#[derive(Clone, Copy, Debug)]
struct Keys(&'static [u8]);

impl Keys {
    const fn len(self) -> usize {
        u16::from_le_bytes([self.0[0], self.0[1]]) as usize
    }

    /// Where a key starts and ends.
    const fn place(self, at: usize) -> (usize, usize) {
        let texts = 2 + self.len() * 4;
        let start = if at == 0 { 0 } else { self.end(at - 1) };
        (texts + start, texts + self.end(at))
    }

    const fn end(self, at: usize) -> usize {
        let place = 2 + at * 4;
        u32::from_le_bytes([self.0[place], self.0[place + 1], self.0[place + 2], self.0[place + 3]]) as usize
    }

    fn text(self, at: usize) -> Option<&'static str> {
        core::str::from_utf8(self.bytes(at)?).ok()
    }

    fn bytes(self, at: usize) -> Option<&'static [u8]> {
        if at >= self.len() {
            return None;
        }
        let (start, end) = self.place(at);
        self.0.get(start..end)
    }
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

/// Compares the bytes between two places with so many others.
const fn compare(bytes: &[u8], start: usize, end: usize, other: &[u8], other_length: usize) -> Ordering {
    let length = end - start;
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
