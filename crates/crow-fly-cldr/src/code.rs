//! Subtags as integers.

/// Up to four ASCII bytes, the first in the highest place, zeros behind: `en` is `0x656e_0000`.
///
/// Codes sort as their texts do. Zero stands for an absent subtag (`und` for a language).
pub type Code = u32;

/// Language, script and region of a row, zero-padded; an absent one is all zeros.
pub type Parts = ([u8; 3], [u8; 4], [u8; 3]);

/// Packs up to four bytes; further ones are left out.
pub const fn code(text: &[u8]) -> Code {
    let mut packed = 0;
    let mut at = 0;
    while at < 4 {
        packed <<= 8;
        if at < text.len() {
            packed |= text[at] as u32;
        }
        at += 1;
    }
    packed
}

/// The code as the three bytes of a table, or none where it has four.
pub(crate) const fn three(code: Code) -> Option<[u8; 3]> {
    match code.to_be_bytes() {
        [a, b, c, 0] => Some([a, b, c]),
        _ => None,
    }
}

/// The parts as a table keys them.
pub(crate) fn parts(language: Code, script: Code, region: Code) -> Option<Parts> {
    Some((three(language)?, script.to_be_bytes(), three(region)?))
}

/// The codes of a row.
pub(crate) const fn codes(parts: &Parts) -> (Code, Code, Code) {
    (code(&parts.0), code(&parts.1), code(&parts.2))
}

/// The value of a row found by its parts in a sorted table.
pub(crate) fn find<V: Copy>(table: &[(Parts, V)], language: Code, script: Code, region: Code) -> Option<V> {
    let key = parts(language, script, region)?;
    let at = table.binary_search_by(|row| row.0.cmp(&key)).ok()?;
    table.get(at).map(|row| row.1)
}
