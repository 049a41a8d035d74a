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

/// A key of a file, found once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Key(pub(crate) u16);

/// The number of keys in a group. The keys of a group are read one after the other.
pub const GROUP: usize = 16;

#[derive(Clone, Copy, Debug)]
pub(crate) struct KeyList {
    length: usize,
    places: &'static [u8],
    keys: &'static [u8],
}

impl KeyList {
    /// The list that some bytes are; an empty one where they are none.
    pub(crate) const fn new(bytes: &'static [u8]) -> Self {
        let [low, high, bytes @ ..] = bytes else { return Self { length: 0, places: &[], keys: &[] } };
        let length = u16::from_le_bytes([*low, *high]) as usize;
        let (places, keys) = bytes.split_at(length.div_ceil(GROUP) * 2);
        Self { length, places, keys }
    }

    /// The keys from the first one of a group on, as they are written.
    const fn written(self, group: usize) -> &'static [u8] {
        let place = u16::from_le_bytes([self.places[group * 2], self.places[group * 2 + 1]]);
        self.keys.split_at(place as usize).1
    }

    /// The place of a key among the others, at run time and where code is compiled.
    pub(crate) const fn find(self, wanted: &[u8]) -> Option<u16> {
        if self.length == 0 {
            return None;
        }
        let group = self.group_of(wanted);
        let (mut key, mut rest) = (group * GROUP, self.written(group));
        // The first bytes of the wanted key that the last key before it has, too.
        let mut same = 0;
        while key < self.length && key < (group + 1) * GROUP {
            let [shared, length, behind @ ..] = rest else { return None };
            let (shared, (more, behind)) = (*shared as usize, behind.split_at(*length as usize));
            if shared < same {
                return None;
            }
            // One that shares more with the key before differs from the wanted one where that does.
            if shared == same {
                let known = common(more, wanted.split_at(same).1, 0);
                same += known;
                if same == wanted.len() {
                    // Places of keys are written in two bytes.
                    #[allow(clippy::cast_possible_truncation, reason = "there are `u16` keys")]
                    return if known == more.len() { Some(key as u16) } else { None };
                }
                if known < more.len() && more[known] > wanted[same] {
                    return None;
                }
            }
            rest = behind;
            key += 1;
        }
        None
    }

    /// The last group whose first key is not behind the wanted one; the first where all are.
    const fn group_of(self, wanted: &[u8]) -> usize {
        let (mut low, mut high) = (0, self.places.len() / 2);
        // Keys between two others have the first bytes that both share: these are compared once.
        let (mut same_low, mut same_high) = (0, 0);
        while low < high {
            let middle = low + (high - low) / 2;
            // It shares nothing with the one before.
            let [_, length, behind @ ..] = self.written(middle) else { return low };
            let first = behind.split_at(*length as usize).0;
            let same = common(first, wanted, if same_low < same_high { same_low } else { same_high });
            if same < first.len() && (same == wanted.len() || first[same] > wanted[same]) {
                high = middle;
                same_high = same;
            } else {
                low = middle + 1;
                same_low = same;
            }
        }
        low.saturating_sub(1)
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
        let left = self.length.saturating_sub(group * GROUP);
        Iter { left, written: if left > 0 { self.written(group) } else { &[] }, key: Vec::new() }
    }
}

/// How many bytes two keys begin with alike, of which some are known.
const fn common(one: &[u8], other: &[u8], known: usize) -> usize {
    let mut same = known;
    while same < one.len() && same < other.len() && one[same] == other[same] {
        same += 1;
    }
    same
}

/// Keys one after the other.
#[derive(Debug)]
pub(crate) struct Iter {
    left: usize,
    written: &'static [u8],
    key: Vec<u8>,
}

impl Iter {
    /// Goes to the next key.
    fn read(&mut self) -> Option<&[u8]> {
        self.left = self.left.checked_sub(1)?;
        let [shared, length, behind @ ..] = self.written else { return None };
        let more;
        (more, self.written) = behind.split_at_checked(usize::from(*length))?;
        self.key.truncate(usize::from(*shared));
        self.key.extend_from_slice(more);
        Some(&self.key)
    }
}

impl Iterator for Iter {
    type Item = String;

    fn next(&mut self) -> Option<String> {
        String::from_utf8(self.read()?.to_vec()).ok()
    }
}
