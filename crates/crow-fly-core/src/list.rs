//! Lists: `A, B, and C` (UTS #35 part 2, "List Patterns").

use alloc::borrow::ToOwned;
use alloc::string::String;
use alloc::vec::Vec;

use crow_fly_cldr::formats::LISTS;
use crow_fly_cldr::keys::lists as keys;
use crow_fly_cldr::texts::{Key, LocaleTexts};

use crate::locale_texts;
use crate::number::Width;
use crate::tag::LanguageTag;

/// How the items of a list belong together.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum ListKind {
    /// All of them: `and`.
    #[default]
    And,
    /// One of them: `or`.
    Or,
    /// Parts of one amount: `3 ft, 7 in`.
    Unit,
}

/// The keys of the patterns: by kind, by width, by part.
static PATTERNS: [[[Key; 4]; 3]; 3] = [
    [parts("and"), parts("and-short"), parts("and-narrow")],
    [parts("or"), parts("or-short"), parts("or-narrow")],
    [parts("unit"), parts("unit-short"), parts("unit-narrow")],
];

const fn parts(kind: &str) -> [Key; 4] {
    LISTS.constants_of(kind, keys::PARTS)
}

/// A part of a list, in the order of [`keys::PARTS`].
#[derive(Clone, Copy)]
enum Part {
    Pair,
    Start,
    Middle,
    End,
}

/// What a locale joins lists with.
///
/// ```
/// use crow_fly_core::{list::{ListKind, ListPatterns}, number::Width, tag::LanguageTag};
///
/// let texts = ListPatterns::of(&LanguageTag::parse("pl")?);
/// assert_eq!(texts.join(&["Curlew", "Avocet", "Sandpiper"], ListKind::And, Width::Long), "Curlew, Avocet i Sandpiper");
/// # Ok::<(), crow_fly_core::tag::TagError>(())
/// ```
#[derive(Clone, Copy, Debug)]
pub struct ListPatterns {
    texts: Option<LocaleTexts>,
    language: u32,
}

impl ListPatterns {
    /// The texts of a tag.
    pub fn of(tag: &LanguageTag) -> Self {
        Self {
            texts: locale_texts::find(LISTS, tag),
            language: tag.as_canonical().language_code().unwrap_or(0),
        }
    }

    /// Joins items.
    pub fn join<T: AsRef<str>>(&self, items: &[T], kind: ListKind, width: Width) -> String {
        let keys = &PATTERNS[kind as usize][width as usize];
        let pattern =
            |part: Part| self.texts.and_then(|texts| texts.find(keys[part as usize])).unwrap_or("{0}, {1}");
        let (last, before) = match items {
            [] => return String::new(),
            [one] => return one.as_ref().to_owned(),
            [one, two] => return self.pair(pattern(Part::Pair), one.as_ref(), two.as_ref()),
            [before @ .., last] => (last, before),
        };
        let (nearly_last, first) =
            before.split_last().map_or(("", before), |(last, rest)| (last.as_ref(), rest));
        // Each pattern holds what follows it: what it has behind that comes at the end, the innermost first.
        let (start, middle) = (pattern(Part::Start), pattern(Part::Middle));
        let (mut joined, mut ends) = (String::new(), Vec::with_capacity(first.len()));
        for (at, item) in first.iter().enumerate() {
            let [before, between, behind] = pieces(if at == 0 { start } else { middle });
            joined.extend([before, item.as_ref(), between]);
            ends.push(behind);
        }
        joined.push_str(&self.pair(pattern(Part::End), nearly_last, last.as_ref()));
        joined.extend(ends.into_iter().rev());
        joined
    }

    /// The last two, with the words that Spanish, Italian and Hebrew change before certain sounds.
    fn pair(&self, pattern: &str, one: &str, two: &str) -> String {
        let language = self.language.to_be_bytes();
        // Only Spanish asks for it.
        let start = if language == *b"es\0\0" { two.to_lowercase() } else { String::new() };
        let changed = match &language {
            b"es\0\0" if pattern.contains(" y ") && sounds_like_i(&start) => pattern.replace(" y ", " e "),
            b"es\0\0" if pattern.contains(" o ") && sounds_like_o(&start) => pattern.replace(" o ", " u "),
            b"he\0\0"
                if pattern.contains("ו{1}")
                    && !two.starts_with(|letter| matches!(letter, '\u{5d0}'..='\u{5ea}')) =>
            {
                pattern.replace("ו{1}", "ו-{1}")
            }
            _ => pattern.into(),
        };
        fill(&changed, one, two)
    }
}

/// Spanish `y` becomes `e` before the sound of i, which `hia` and `hie` have not.
fn sounds_like_i(word: &str) -> bool {
    word.starts_with(['i', 'í', 'y'])
        && !word.starts_with("ya")
        && !word.starts_with("ye")
        && !word.starts_with("yo")
        && !word.starts_with("yu")
        || word.starts_with("hi") && !word.starts_with("hia") && !word.starts_with("hie")
}

/// Spanish `o` becomes `u` before the sound of o.
fn sounds_like_o(word: &str) -> bool {
    let number =
        word.strip_prefix("11").is_some_and(|rest| !rest.starts_with(|next: char| next.is_ascii_digit()));
    word.starts_with(['o', 'ó', '8']) || word.starts_with("ho") || word.starts_with("hó") || number
}

/// Fills a pattern in one go: items may hold braces themselves.
fn fill(pattern: &str, first: &str, second: &str) -> String {
    let [before, between, behind] = pieces(pattern);
    [before, first, between, second, behind].concat()
}

/// What a pattern has before, between and behind its items, which all of CLDR's list patterns have in order.
fn pieces(pattern: &str) -> [&str; 3] {
    let (before, rest) = pattern.split_once("{0}").unwrap_or(("", pattern));
    let (between, behind) = rest.split_once("{1}").unwrap_or((rest, ""));
    [before, between, behind]
}
