//! "Did you mean …?": the known word that is written most like an unknown one.

use alloc::string::String;
use alloc::vec::Vec;

/// The known word at the smallest edit distance, where that is at most a third of the word.
pub fn nearest(word: &str, known: impl IntoIterator<Item = String>) -> Option<String> {
    // Words come from configuration and keys; a hostile long one is not worth the work.
    if word.len() > 128 {
        return None;
    }
    let limit = word.chars().count().div_ceil(3);
    let scored = known.into_iter().map(|other| (edits(word, &other), other));
    scored.filter(|(edits, _)| *edits <= limit).min_by_key(|(edits, _)| *edits).map(|(_, other)| other)
}

/// Levenshtein distance over characters, case aside.
pub(crate) fn edits(one: &str, other: &str) -> usize {
    let other: Vec<char> = other.chars().take(256).flat_map(char::to_lowercase).collect();
    let mut row: Vec<usize> = (0..=other.len()).collect();
    for (above, letter) in one.chars().flat_map(char::to_lowercase).enumerate() {
        let mut diagonal = above;
        let mut left = above + 1;
        for (cell, column) in row.iter_mut().skip(1).zip(&other) {
            let best = (diagonal + usize::from(*column != letter)).min(left + 1).min(*cell + 1);
            diagonal = *cell;
            *cell = best;
            left = best;
        }
        if let Some(first) = row.first_mut() {
            *first = above + 1;
        }
    }
    row.last().copied().unwrap_or(0)
}
