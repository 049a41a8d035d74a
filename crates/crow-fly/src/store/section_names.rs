//! The names of sections, and the place of each: asked for with every text, so that it is made for short names.

/// The names of sections. Each has a place, counted from 0.
#[derive(Clone, Debug, Default)]
pub(super) struct SectionNames {
    names: Vec<Name>,
    /// A table with open addressing: the place of a name and one, or 0. Its length is a power of two, and at least twice
    /// the number of names.
    table: Vec<u32>,
}

#[derive(Clone, Debug)]
struct Name {
    short: Short,
    text: Box<str>,
}

/// The length of a name, its first eight bytes and its last eight: all of a name that has no more than sixteen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Short {
    length: usize,
    first: u64,
    last: u64,
}

impl Short {
    #[inline]
    fn of(name: &str) -> Self {
        let bytes = name.as_bytes();
        let length = bytes.len();
        let (first, last) = match (bytes.first_chunk(), bytes.last_chunk()) {
            (Some(first), Some(last)) => (u64::from_le_bytes(*first), u64::from_le_bytes(*last)),
            _ => (bytes.iter().fold(0, |word, byte| (word << 8) | u64::from(*byte)), 0),
        };
        Self { length, first, last }
    }

    /// Spreads names over the table; those that are alike, too.
    #[inline]
    const fn spread(self) -> usize {
        let word = (self.first ^ self.last.rotate_left(29)).wrapping_mul(0x9e37_79b9_7f4a_7c15);
        // Only the higher bits of a product depend on all of the factor.
        #[allow(clippy::cast_possible_truncation, reason = "any bits will do")]
        let spread = (word >> 40) as usize;
        spread ^ self.length
    }
}

impl SectionNames {
    pub(super) const fn len(&self) -> usize {
        self.names.len()
    }

    pub(super) fn iter(&self) -> impl Iterator<Item = &str> {
        self.names.iter().map(|name| &*name.text)
    }

    /// The place of a name.
    #[inline]
    pub(super) fn find(&self, name: &str) -> Option<usize> {
        let short = Short::of(name);
        let mask = self.table.len().wrapping_sub(1);
        let mut at = short.spread() & mask;
        loop {
            // An entry is free: at the latest after half of the table.
            let place = (*self.table.get(at)?).checked_sub(1)? as usize;
            let known = self.names.get(place)?;
            if known.short == short && (short.length <= 16 || *known.text == *name) {
                return Some(place);
            }
            at = (at + 1) & mask;
        }
    }

    /// Adds a name, unless it is there.
    pub(super) fn add(&mut self, name: &str) {
        if self.find(name).is_some() {
            return;
        }
        self.names.push(Name { short: Short::of(name), text: name.into() });
        if self.names.len() * 2 > self.table.len() {
            self.table = vec![0; (self.names.len() * 4).next_power_of_two()];
            for place in 0..self.names.len() {
                self.enter(place);
            }
        } else {
            self.enter(self.names.len() - 1);
        }
    }

    fn enter(&mut self, place: usize) {
        let (Some(name), Ok(entry)) = (self.names.get(place), u32::try_from(place + 1)) else { return };
        let mask = self.table.len() - 1;
        let mut at = name.short.spread() & mask;
        while self.table.get(at).is_some_and(|entry| *entry != 0) {
            at = (at + 1) & mask;
        }
        if let Some(free) = self.table.get_mut(at) {
            *free = entry;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A name of few letters, so that some are there twice.
    fn name(random: &mut fastrand::Rng, shortest: usize) -> String {
        (0..random.usize(shortest..=40)).map(|_| random.choice(*b"abc-").map_or('a', char::from)).collect()
    }

    #[test]
    fn every_name_has_its_place_and_others_have_none() {
        for seed in 0..256 {
            let random = &mut fastrand::Rng::with_seed(seed);
            let names: Vec<String> = (0..random.usize(0..60)).map(|_| name(random, 1)).collect();
            let others: Vec<String> = (0..random.usize(0..60)).map(|_| name(random, 0)).collect();
            let mut known = SectionNames::default();
            let mut listed: Vec<&str> = Vec::new();
            for name in &names {
                known.add(name);
                if !listed.contains(&name.as_str()) {
                    listed.push(name);
                }
            }
            assert_eq!(known.iter().collect::<Vec<_>>(), listed, "seed {seed}");
            for name in names.iter().chain(&others) {
                let place = listed.iter().position(|known| *known == name.as_str());
                assert_eq!(known.find(name), place, "seed {seed}");
            }
        }
    }

    #[test]
    fn names_that_begin_and_end_alike_are_told_apart() {
        let alike = [
            "a",
            "b",
            "ab",
            "abcdefg",
            "abcdefh",
            "xbcdefgh",
            "abcdefgh",
            "x-abcdefgh",
            "y-abcdefgh",
            "abcdefgh-x",
            "abcdefgh-y",
            "abcdefgh01234567",
            "abcdefgh-01234567",
            "abcdefgh-0-01234567",
            "abcdefgh-1-01234567",
            "abcdefgh-2-01234567",
        ];
        let mut names = SectionNames::default();
        for name in alike {
            names.add(name);
            names.add(name);
        }
        assert_eq!(names.iter().collect::<Vec<_>>(), alike);
        for (place, name) in alike.iter().enumerate() {
            assert_eq!(names.find(name), Some(place), "{name}");
        }
        assert_eq!(names.find("abcdefgh-3-01234567"), None);
    }
}
