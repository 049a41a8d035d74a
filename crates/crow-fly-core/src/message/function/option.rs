//! How values of options are read.

/// An option's value is not one of those it can have, or there is no such option.
#[derive(Debug)]
pub(in crate::message) struct BadOption;

/// The value of a word among known ones.
pub(super) fn one_of<T: Copy, const N: usize>(value: &str, known: [(&str, T); N]) -> Result<T, BadOption> {
    known.into_iter().find(|(word, _)| *word == value).map(|(_, value)| value).ok_or(BadOption)
}

/// A digit size option: ECMA-402 bounds digits at 100, and significant and integer ones at 21.
pub(super) fn digits(value: &str, least: u8, most: u8) -> Result<u8, BadOption> {
    let plain = !value.is_empty()
        && value.bytes().all(|byte| byte.is_ascii_digit())
        && (value.len() == 1 || !value.starts_with('0'));
    let number = plain.then(|| value.parse().ok()).flatten();
    number.filter(|number| (least..=most).contains(number)).ok_or(BadOption)
}
