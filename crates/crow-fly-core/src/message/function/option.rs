//! How values of options are read.

use alloc::borrow::Cow;
use alloc::format;
use alloc::string::String;
use alloc::vec::Vec;

/// Why an option is left out.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(in crate::message) enum BadOption {
    /// The function has no option of this name.
    Unknown,
    /// The value is not what the option takes.
    Value(Cow<'static, str>),
}

impl BadOption {
    /// The value is not what is described.
    pub(super) const fn not(expected: &'static str) -> Self {
        Self::Value(Cow::Borrowed(expected))
    }
}

/// The value of a word among known ones.
pub(super) fn one_of<T: Copy, const N: usize>(
    value: &str,
    known: [(&'static str, T); N],
) -> Result<T, BadOption> {
    let found = known.into_iter().find(|(word, _)| *word == value).map(|(_, value)| value);
    found.ok_or_else(|| BadOption::Value(Cow::Owned(alternatives(known.into_iter().map(|(word, _)| word)))))
}

/// Words as an error lists them: `` `long` or `short` ``.
fn alternatives(words: impl ExactSizeIterator<Item = &'static str>) -> String {
    let last = words.len().saturating_sub(1);
    let mut text = String::new();
    for (at, word) in words.enumerate() {
        let before = match at {
            0 => "",
            at if at == last => " or ",
            _ => ", ",
        };
        text.extend([before, "`", word, "`"]);
    }
    text
}

/// What an error says of an option that is not known: those that are.
pub(super) fn listed(names: impl Iterator<Item = &'static str>) -> String {
    let names: Vec<String> = names.map(|name| format!("`{name}`")).collect();
    match names.as_slice() {
        [] => String::from("there are no options"),
        [only] => format!("the only one is {only}"),
        names => format!("there are {}", names.join(", ")),
    }
}

/// A digit size option: ECMA-402 bounds digits at 100, and significant and integer ones at 21.
pub(super) fn digits(value: &str, least: u8, most: u8) -> Result<u8, BadOption> {
    let plain = !value.is_empty()
        && value.bytes().all(|byte| byte.is_ascii_digit())
        && (value.len() == 1 || !value.starts_with('0'));
    let number = plain.then(|| value.parse().ok()).flatten();
    let expected = || BadOption::Value(Cow::Owned(format!("an integer from {least} to {most}")));
    number.filter(|number| (least..=most).contains(number)).ok_or_else(expected)
}
