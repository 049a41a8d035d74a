//! Lists: `A, B, and C` (UTS #35 part 2, "List Patterns").

use alloc::borrow::ToOwned;
use alloc::string::String;

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

/// A run of a joined list.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Run {
    /// What the locale writes around items.
    Words(&'static str),
    /// An item, by its place.
    Item(usize),
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
        let item = |at: usize| items.get(at).map_or("", AsRef::as_ref);
        let mut joined = String::new();
        self.runs(items.len(), kind, width, &|| item(items.len().saturating_sub(1)).to_owned(), &mut |run| {
            joined.push_str(match run {
                Run::Words(words) => words,
                Run::Item(at) => item(at),
            });
        });
        joined
    }

    /// Hands on the runs of a list of so many items, in order. Some languages ask for the text of the last item.
    pub(crate) fn runs(
        &self,
        count: usize,
        kind: ListKind,
        width: Width,
        last: &dyn Fn() -> String,
        each: &mut dyn FnMut(Run),
    ) {
        let keys = &PATTERNS[kind as usize][width as usize];
        let pattern = |part: Part| {
            pieces(self.texts.and_then(|texts| texts.find(keys[part as usize])).unwrap_or("{0}, {1}"))
        };
        let Some(before_last) = count.checked_sub(2) else {
            if count == 1 {
                each(Run::Item(0));
            }
            return;
        };
        let (start, middle) = (pattern(Part::Start), pattern(Part::Middle));
        for at in 0..before_last {
            let [before, between, _] = if at == 0 { start } else { middle };
            each(Run::Words(before));
            each(Run::Item(at));
            each(Run::Words(between));
        }
        let [before, between, behind] = pattern(if before_last == 0 { Part::Pair } else { Part::End });
        each(Run::Words(before));
        each(Run::Item(before_last));
        each(Run::Words(self.before_last(between, last)));
        each(Run::Item(before_last + 1));
        // Each pattern holds what follows it: what it has after that comes at the end, the innermost first.
        each(Run::Words(behind));
        for at in (0..before_last).rev() {
            let [_, _, behind] = if at == 0 { start } else { middle };
            each(Run::Words(behind));
        }
    }

    /// The words before the last item, which Spanish and Hebrew change before certain sounds.
    fn before_last(&self, words: &'static str, last: &dyn Fn() -> String) -> &'static str {
        match &self.language.to_be_bytes() {
            b"es\0\0" if words == " y " && sounds_like_i(&last().to_lowercase()) => " e ",
            b"es\0\0" if words == " o " && sounds_like_o(&last().to_lowercase()) => " u ",
            b"he\0\0"
                if words == " ו" && !last().starts_with(|letter| matches!(letter, '\u{5d0}'..='\u{5ea}')) =>
            {
                " ו-"
            }
            _ => words,
        }
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

/// What a pattern has before, between and after its items, which all of CLDR's list patterns have in order.
fn pieces(pattern: &'static str) -> [&'static str; 3] {
    let (before, rest) = pattern.split_once("{0}").unwrap_or(("", pattern));
    let (between, behind) = rest.split_once("{1}").unwrap_or((rest, ""));
    [before, between, behind]
}
