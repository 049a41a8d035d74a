//! Names of languages, scripts, regions and variants (`cldr-localenames-full`).
//!
//! The data lies in a compact file, little-endian throughout:
//!
//! | part | rows |
//! |---|---|
//! | head | `u16` keys, `u16` locales, `u32` entries |
//! | keys | `u32` place of the text; sorted by text |
//! | locales | `u32` place of the text, `u16` parent (`0xffff`: none), `u32` first entry, `u16` entries; sorted by text |
//! | entries | `u16` key, `u32` place of the name; sorted by key within a locale |
//! | texts | `u16` of length, then UTF-8 |
//!
//! Keys are `cy`, `en-GB` (languages and dialects), `Latn` (scripts), `GB` (regions), `+valencia` (variants), and
//! `{pattern}`, `{separator}`, `{menu}` for what surrounds them.

/// A set of names.
#[derive(Clone, Copy, Debug)]
pub struct Names {
    bytes: &'static [u8],
}

/// What each locale of CLDR needs to name itself.
pub const OWN: Names = Names { bytes: include_bytes!("generated/own_names.bin") };

/// Every name in every locale of CLDR.
#[cfg(feature = "names")]
pub const ALL: Names = Names { bytes: include_bytes!("generated/names.bin") };

const HEAD: usize = 8;
const KEY: usize = 4;
const LOCALE: usize = 12;
const ENTRY: usize = 6;

impl Names {
    /// The name of `key` in exactly this locale or one it inherits from; none where the locale is not in the set.
    pub fn get(self, locale: &str, key: &str) -> Option<&'static str> {
        let key = Self::search(self.key_count()?, |at| self.text(self.u32(HEAD + at * KEY)?), key)?;
        let mut locale = self.locale(locale)?;
        // No chain of parents is longer than four; the bound only guards against a damaged file.
        for _ in 0..8 {
            let row = self.locale_row(locale)?;
            let first = self.u32(row + 6)? as usize;
            let count = usize::from(self.u16(row + 10)?);
            let start = HEAD + self.key_count()? * KEY + self.locale_count()? * LOCALE;
            let entry = |at: usize| start + (first + at) * ENTRY;
            let (mut low, mut high) = (0, count);
            while low < high {
                let middle = low + (high - low) / 2;
                match usize::from(self.u16(entry(middle))?).cmp(&key) {
                    core::cmp::Ordering::Less => low = middle + 1,
                    core::cmp::Ordering::Greater => high = middle,
                    core::cmp::Ordering::Equal => return self.text(self.u32(entry(middle) + 2)?),
                }
            }
            locale = usize::from(self.u16(row + 4)?);
        }
        None
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
