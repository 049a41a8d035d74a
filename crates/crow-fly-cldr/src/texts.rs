//! Texts of all locales, by key: each locale has those that it does not inherit.
//!
//! The keys are in the program. What they stand for is in [`data`], a block for each file and language,
//! which is opened when a text of it is first asked for, and stays.

use alloc::string::String;

use crate::data;
use crate::key_list::KeyList;

pub use crate::key_list::{GROUP, Key};

/// A file of texts.
#[derive(Clone, Copy, Debug)]
pub struct Texts {
    file: u8,
    keys: KeyList,
}

/// The texts of one locale, with those it inherits.
#[derive(Clone, Copy, Debug)]
pub struct LocaleTexts {
    texts: Texts,
    data: &'static data::Data,
    locale: data::Locale,
}

impl Texts {
    pub(crate) const fn new(file: u8, keys: &'static [u8]) -> Self {
        Self { file, keys: KeyList::new(keys) }
    }

    /// The place of the file.
    #[cfg(all(test, feature = "full-data"))]
    pub(crate) const fn file(self) -> u8 {
        self.file
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
        self.keys.find(key.as_bytes()).map(Key)
    }

    /// Finds a key by its parts where code is compiled: for constants, so that nothing is searched at run time.
    ///
    /// # Panics
    /// Where the file has no such key; the constant then does not compile.
    pub const fn constant(self, parts: &[&str]) -> Key {
        let (wanted, length) = joined(parts);
        match self.keys.find(wanted.split_at(length).0) {
            Some(place) => Key(place),
            None => panic!("the file has no such key"),
        }
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

    /// What a key is written as.
    pub fn key_text(self, key: Key) -> Option<String> {
        self.keys.text(key.0)
    }

    /// Every key, sorted.
    pub fn keys(self) -> impl Iterator<Item = String> {
        self.keys.iter()
    }

    /// The keys that begin with a part, without it and the `/` behind it.
    pub fn keys_of(self, part: &str) -> impl Iterator<Item = String> {
        self.keys
            .with_prefix(part)
            .filter_map(move |key| key.strip_prefix(part)?.strip_prefix('/').map(String::from))
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

    /// The texts of the same locale in another file; none where the data does not have them.
    pub fn of_file(self, texts: Texts) -> Option<Self> {
        self.data.has(texts.file, self.locale).then_some(Self { texts, ..self })
    }

    /// The same, of a key found before.
    pub fn find(self, key: Key) -> Option<&'static str> {
        self.data.text(self.texts.file, self.locale, key)
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
