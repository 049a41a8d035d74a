//! What canonicalization replaces (UTS #35 annex C, `aliases.json` and `cldr-bcp47`).

use crate::Code;
use crate::code::{code, three};
use crate::generated::aliases as table;

/// The replacement of a bare language, a tag.
pub fn language(language: Code) -> Option<&'static str> {
    match three(language)? {
        key @ [a, b, 0] if LANGUAGES.has(a, b) => lookup(&table::TWO_LETTERS, &key),
        [_, _, 0] => None,
        key => lookup(&table::THREE_LETTERS, &key),
    }
}

/// The two letters that have an alias, a bit each: nearly all tags have none, and need not be searched for.
struct Pairs([u32; 32]);

static LANGUAGES: Pairs = Pairs::of(&table::TWO_LETTERS);
static REGIONS: Pairs = Pairs::of(&table::TWO_LETTER_REGIONS);

impl Pairs {
    const fn of<V: Copy>(rows: &[([u8; 3], V)]) -> Self {
        let mut bits = [0; 32];
        let mut at = 0;
        while at < rows.len() {
            let [a, b, _] = rows[at].0;
            bits[a as usize % 32] |= 1 << (b % 32);
            at += 1;
        }
        Self(bits)
    }

    fn has(&self, a: u8, b: u8) -> bool {
        self.0.get(usize::from(a % 32)).is_some_and(|bits| bits >> (b % 32) & 1 == 1)
    }
}

/// A rule that needs more than a language.
#[derive(Clone, Copy, Debug)]
pub struct Compound {
    pub(crate) language: [u8; 3],
    pub(crate) region: [u8; 3],
    /// The variants it needs, all of them.
    pub variants: &'static [&'static str],
    /// The replacement, a tag.
    pub to: &'static str,
}

impl Compound {
    /// The language it needs; zero where it holds for every language.
    pub fn language(&self) -> Code {
        code(&self.language)
    }

    /// The region it needs; zero where it needs none.
    pub fn region(&self) -> Code {
        code(&self.region)
    }
}

/// Rules that need more than a language.
pub fn compound() -> &'static [Compound] {
    &table::COMPOUND
}

/// The grandfathered tags of RFC 5646, `(tag, replacement)`.
pub fn grandfathered() -> &'static [(&'static str, &'static str)] {
    &table::GRANDFATHERED
}

/// The replacement of a script.
pub fn script(script: Code) -> Option<[u8; 4]> {
    lookup(&table::SCRIPTS, &script.to_be_bytes())
}

/// The replacements of a region; where there are several, the likely one of the language is meant.
pub fn region(region: Code) -> Option<&'static [[u8; 3]]> {
    match three(region)? {
        key @ [a, b, 0] if REGIONS.has(a, b) => lookup(&table::TWO_LETTER_REGIONS, &key),
        [_, _, 0] => None,
        key => lookup(&table::OTHER_REGIONS, &key),
    }
}

/// The replacement of a variant.
pub fn variant(variant: &str) -> Option<&'static str> {
    lookup(&table::VARIANTS, &variant)
}

/// The replacement of a subdivision, in lower case.
pub fn subdivision(subdivision: &str) -> Option<&'static str> {
    lookup(&table::SUBDIVISIONS, &subdivision)
}

/// The preferred value of a `-u-` or `-t-` key.
pub fn value(extension: u8, key: [u8; 2], value: &str) -> Option<&'static str> {
    let at =
        table::VALUES.binary_search_by(|row| (row.0, row.1, row.2).cmp(&(extension, key, value))).ok()?;
    table::VALUES.get(at).map(|row| row.3)
}

fn lookup<K: Ord, V: Copy>(table: &[(K, V)], key: &K) -> Option<V> {
    let at = table.binary_search_by(|row| row.0.cmp(key)).ok()?;
    table.get(at).map(|row| row.1)
}
