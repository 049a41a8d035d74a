//! Which variant is selected (UTS #35 part 9, "Pattern Selection").

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::sync::Arc;

use smallvec::SmallVec;

use super::resolve::Frame;
use crate::message::format_error::{FormatError, FormatErrorKind};
use crate::message::function::numeric::NumericValue;
use crate::message::function::resolved::{ResolvedValue, Selection};
use crate::message::program::{Arena, KeyTest};
use crate::message::syntax::normalized;
use crate::number::{Category, Decimal};
use crate::value::Keys;

/// What a selector's keys are held against.
enum Selector<'a> {
    Text(Cow<'a, str>),
    Integer(i64, Option<Category>),
    Number(Box<Decimal>, Option<Category>),
    /// Keys that a function of the application's own knows.
    Keys(Keys),
    /// Only a category: of a range.
    Category(Category),
    /// Matches nothing but `*`.
    Failed,
}

impl Selector<'_> {
    /// Whether the selector can match a key, for some value.
    const fn takes(&self, key: KeyTest) -> bool {
        let of_number = matches!(self, Self::Integer(..) | Self::Number(..) | Self::Category(_));
        let of_range = matches!(self, Self::Category(_));
        match key {
            KeyTest::Any | KeyTest::Category(_) => true,
            KeyTest::Integer(..) | KeyTest::Number(_) => !of_range,
            KeyTest::Text(_) => !of_number,
        }
    }
}

/// How well a key suits: the smaller the better.
const EXACT: u8 = 0;
const CATEGORY: u8 = 1;
const ANY: u8 = 2;

/// The placeholder of the pattern to be selected, in the message's patterns.
pub(super) fn select(frame: &mut Frame<'_, '_, '_>, selectors: &[u32], keys: &[KeyTest]) -> usize {
    let arena = frame.input.arena;
    if let [at] = *selectors {
        let selector = selector(frame, at);
        report_bad_keys(frame, keys.iter().copied(), &selector);
        return best(keys, |key| rank(arena, key, &selector));
    }
    let count = selectors.len();
    let selectors: SmallVec<[Selector<'_>; 2]> = selectors.iter().map(|at| selector(frame, *at)).collect();
    for (column, selector) in selectors.iter().enumerate() {
        report_bad_keys(frame, keys.iter().copied().skip(column).step_by(count), selector);
    }
    let mut best: Option<(SmallVec<[u8; 4]>, usize)> = None;
    for (at, keys) in keys.chunks(count).enumerate() {
        let ranks: Option<SmallVec<[u8; 4]>> =
            keys.iter().zip(&selectors).map(|(key, selector)| rank(arena, *key, selector)).collect();
        let Some(ranks) = ranks else { continue };
        // The first selector counts most, so ranks compare column by column; of equals the first stays.
        if best.as_ref().is_none_or(|(other, _)| ranks < *other) {
            best = Some((ranks, at));
        }
    }
    best.map_or(0, |(_, at)| at)
}

/// Reports the keys that a selector can never match.
fn report_bad_keys(
    frame: &mut Frame<'_, '_, '_>,
    keys: impl Iterator<Item = KeyTest>,
    selector: &Selector<'_>,
) {
    for key in keys.filter(|key| !selector.takes(*key)) {
        let text = key_text(frame.input.arena, key);
        let help = match selector {
            Selector::Category(_) => {
                "a range is selected by its plural category: `zero`, `one`, `two`, `few`, `many` or `other`"
            }
            _ => {
                "a number is selected by a number or a plural category: `zero`, `one`, `two`, `few`, `many` or `other`"
            }
        };
        (frame.report)(FormatError::new(FormatErrorKind::BadVariantKey, text).expecting(help));
    }
}

/// The placeholder of the pattern selected of a whole number, by one selector.
#[inline]
pub(super) fn select_by_integer(
    arena: &Arena,
    number: i64,
    category: Option<Category>,
    keys: &[KeyTest],
) -> usize {
    best(keys, |key| rank_by_integer(arena, key, number, category))
}

/// The placeholder of the key that suits best, the first of equals.
#[inline]
fn best(keys: &[KeyTest], rank: impl Fn(KeyTest) -> Option<u8>) -> usize {
    let mut best = (u8::MAX, 0);
    for (at, key) in keys.iter().enumerate() {
        match rank(*key) {
            Some(EXACT) => return at,
            Some(rank) if rank < best.0 => best = (rank, at),
            _ => {}
        }
    }
    best.1
}

fn selector<'a>(frame: &mut Frame<'a, '_, '_>, at: u32) -> Selector<'a> {
    let context = frame.input.context;
    let value = &frame.declared(at).value;
    let selector = match value {
        ResolvedValue::Text(Cow::Borrowed(text)) => Selector::Text(normalized(text)),
        ResolvedValue::Number(NumericValue::Integer(number), options)
            if options.shows_integer() && options.selects() =>
        {
            Selector::Integer(*number, options.integer_category(*number, context))
        }
        ResolvedValue::Formatted(formatted) if formatted.value.keys.is_some() => {
            formatted.value.keys.as_ref().map_or(Selector::Failed, |keys| Selector::Keys(Arc::clone(keys)))
        }
        value => match value.selection(context) {
            Some(Selection::Text(text)) => Selector::Text(Cow::Owned(normalized(&text).into_owned())),
            Some(Selection::Number(number, category)) => Selector::Number(number, category),
            Some(Selection::Category(category)) => Selector::Category(category),
            None => Selector::Failed,
        },
    };
    if matches!(selector, Selector::Failed) {
        frame.bad_selector(at);
    }
    selector
}

/// How well a key suits a selector; none where it does not.
#[inline]
fn rank(arena: &Arena, key: KeyTest, selector: &Selector<'_>) -> Option<u8> {
    let (suits, rank) = match (selector, key) {
        (_, KeyTest::Any) => return Some(ANY),
        (Selector::Integer(number, category), key) => return rank_by_integer(arena, key, *number, *category),
        (Selector::Text(text), key) => (text == key_text(arena, key), EXACT),
        (Selector::Keys(keys), key) => (keys(key_text(arena, key)), EXACT),
        (Selector::Number(_, selected), KeyTest::Category(category)) => {
            (*selected == Some(category), CATEGORY)
        }
        (Selector::Category(selected), KeyTest::Category(category)) => (*selected == category, CATEGORY),
        (Selector::Number(selected, _), KeyTest::Integer(_, text) | KeyTest::Number(text)) => {
            (is_number(arena.written_key(text), selected), EXACT)
        }
        _ => return None,
    };
    suits.then_some(rank)
}

/// How well a key suits a whole number.
#[inline]
fn rank_by_integer(arena: &Arena, key: KeyTest, number: i64, category: Option<Category>) -> Option<u8> {
    let (suits, rank) = match key {
        KeyTest::Any => (true, ANY),
        KeyTest::Category(key) => (Some(key) == category, CATEGORY),
        KeyTest::Integer(key, _) => (i64::from(key) == number, EXACT),
        KeyTest::Number(text) => (is_number(arena.written_key(text), &Decimal::from(number)), EXACT),
        KeyTest::Text(_) => return None,
    };
    suits.then_some(rank)
}

fn is_number(text: &str, number: &Decimal) -> bool {
    Decimal::read(text).is_some_and(|key| key.same_value(number))
}

fn key_text(arena: &Arena, key: KeyTest) -> &str {
    match key {
        KeyTest::Any => "",
        KeyTest::Category(category) => category.as_str(),
        KeyTest::Integer(_, text) | KeyTest::Number(text) | KeyTest::Text(text) => arena.written_key(text),
    }
}
