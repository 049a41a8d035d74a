//! Sorted keys, each written as what it has more than the one before it (front coding).
//!
//! | part | bytes |
//! |---|---|
//! | head | `u16` keys |
//! | places | for the first key of each group of [`GROUP`], `u16` of where it is written, from the first one |
//! | keys | `u8` bytes that it shares with the one before it, `u8` bytes that it has more, and these |
//!
//! Little-endian. The first key of a group shares nothing.

use alloc::string::String;
use alloc::vec::Vec;

/// How many keys stand behind a place: they are read one after the other.
pub const GROUP: usize = 16;

#[derive(Clone, Copy, Debug)]
pub(crate) struct KeyList(&'static [u8]);

impl KeyList {
    pub(crate) const fn new(bytes: &'static [u8]) -> Self {
        Self(bytes)
    }

    const fn len(self) -> usize {
        self.number(0)
    }

    const fn groups(self) -> usize {
        self.len().div_ceil(GROUP)
    }

    const fn number(self, at: usize) -> usize {
        u16::from_le_bytes([self.0[at], self.0[at + 1]]) as usize
    }

    /// Where the first key of a group is written.
    const fn group(self, group: usize) -> usize {
        2 + self.groups() * 2 + self.number(2 + group * 2)
    }

    /// The place of a key among the others, at run time and where code is compiled.
    pub(crate) const fn find(self, wanted: &[u8]) -> Option<u16> {
        self.find_in(self.group_of(wanted), wanted)
    }

    /// The last group whose first key is not behind the wanted one; the first where all are.
    const fn group_of(self, wanted: &[u8]) -> usize {
        let (mut low, mut high) = (0, self.groups());
        while low < high {
            let middle = low + (high - low) / 2;
            if self.starts_behind(middle, wanted) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        low.saturating_sub(1)
    }

    /// Whether the first key of a group is behind the wanted one.
    const fn starts_behind(self, group: usize, wanted: &[u8]) -> bool {
        let start = self.group(group);
        let length = self.0[start + 1] as usize;
        let mut at = 0;
        while at < length && at < wanted.len() {
            let (byte, other) = (self.0[start + 2 + at], wanted[at]);
            if byte != other {
                return byte > other;
            }
            at += 1;
        }
        at < length
    }

    const fn find_in(self, group: usize, wanted: &[u8]) -> Option<u16> {
        let (mut key, mut start) = (group * GROUP, self.group(group));
        // The first bytes of the wanted key that the last key before it has, too.
        let mut same = 0;
        while key < self.len() && key < (group + 1) * GROUP {
            let (shared, length) = (self.0[start] as usize, self.0[start + 1] as usize);
            start += 2;
            if shared < same {
                return None;
            }
            // One that shares more with the key before differs from the wanted one where that does.
            if shared == same {
                let mut at = 0;
                while at < length && same < wanted.len() && self.0[start + at] == wanted[same] {
                    at += 1;
                    same += 1;
                }
                if same == wanted.len() {
                    // Places of keys are written in two bytes.
                    #[allow(clippy::cast_possible_truncation, reason = "there are `u16` keys")]
                    return if at == length { Some(key as u16) } else { None };
                }
                if at < length && self.0[start + at] > wanted[same] {
                    return None;
                }
            }
            start += length;
            key += 1;
        }
        None
    }

    /// The key at a place.
    pub(crate) fn text(self, place: u16) -> Option<String> {
        let place = usize::from(place);
        let mut keys = self.starting_at(place / GROUP);
        for _ in 0..place % GROUP {
            keys.read()?;
        }
        keys.next()
    }

    pub(crate) fn iter(self) -> Iter {
        self.starting_at(0)
    }

    /// The keys that begin with some letters; they stand together.
    pub(crate) fn with_prefix(self, prefix: &str) -> impl Iterator<Item = String> {
        self.starting_at(self.group_of(prefix.as_bytes()))
            .skip_while(move |key| key.as_str() < prefix)
            .take_while(move |key| key.starts_with(prefix))
    }

    fn starting_at(self, group: usize) -> Iter {
        let left = self.len().saturating_sub(group * GROUP);
        let at = if left > 0 { self.group(group) } else { 0 };
        Iter { list: self, left, at, key: Vec::new() }
    }
}

/// Keys one after the other.
#[derive(Debug)]
pub(crate) struct Iter {
    list: KeyList,
    left: usize,
    at: usize,
    key: Vec<u8>,
}

impl Iter {
    /// Goes to the next key.
    fn read(&mut self) -> Option<&[u8]> {
        self.left = self.left.checked_sub(1)?;
        let [shared, length] = *self.list.0.get(self.at..)?.first_chunk()?;
        let start = self.at + 2;
        self.at = start + usize::from(length);
        self.key.truncate(usize::from(shared));
        self.key.extend_from_slice(self.list.0.get(start..self.at)?);
        Some(&self.key)
    }
}

impl Iterator for Iter {
    type Item = String;

    fn next(&mut self) -> Option<String> {
        String::from_utf8(self.read()?.to_vec()).ok()
    }
}
