//! Which variant is said (UTS #35 part 9, "Pattern Selection").

use alloc::boxed::Box;
use alloc::string::String;
use alloc::sync::Arc;

use smallvec::SmallVec;

use super::compile::{KeyTest, Program};
use super::format_error::FormatErrorKind as Kind;
use super::function::custom::Keys;
use super::resolve::{Figure, Frame, Resolved};
use super::syntax::normalized;
use crate::number::{Category, Decimal};

/// What a selector's keys are held against.
enum Selector {
    Text(String),
    Whole(i64, Option<Category>),
    Number(Box<Decimal>, Option<Category>),
    /// Keys that a function of the application's own knows.
    Keys(Keys),
    /// Only a category: of a range.
    Category(Category),
    /// Matches nothing but `*`.
    Failed,
}

/// How well a key suits: the smaller the better.
const EXACT: u8 = 0;
const CATEGORY: u8 = 1;
const ANY: u8 = 2;

/// The place of the pattern to be said, in the program's patterns.
pub(super) fn select(frame: &mut Frame<'_, '_, '_>) -> usize {
    let program = frame.program;
    let count = program.selectors.len();
    if count == 0 {
        return 0;
    }
    if let [at] = *program.selectors {
        let selector = selector(frame, at);
        let ranked = program
            .keys
            .iter()
            .enumerate()
            .filter_map(|(at, key)| Some((rank(program, key, &selector)?, at)));
        return ranked.min().map_or(0, |(_, at)| at);
    }
    let selectors: SmallVec<[Selector; 2]> =
        program.selectors.iter().map(|at| selector(frame, *at)).collect();
    let mut best: Option<(SmallVec<[u8; 4]>, usize)> = None;
    for (at, keys) in program.keys.chunks(count).enumerate() {
        let ranks: Option<SmallVec<[u8; 4]>> =
            keys.iter().zip(&selectors).map(|(key, selector)| rank(program, key, selector)).collect();
        let Some(ranks) = ranks else { continue };
        // The first selector counts most, so ranks compare column by column; of equals the first stays.
        if best.as_ref().is_none_or(|(other, _)| ranks < *other) {
            best = Some((ranks, at));
        }
    }
    best.map_or(0, |(_, at)| at)
}

fn selector(frame: &mut Frame<'_, '_, '_>, at: u32) -> Selector {
    let selector = match frame.declared(at) {
        Resolved::Text(text) => Selector::Text(normalized(text)),
        Resolved::Number(Figure::Whole(number), options) if options.shows_whole() && options.selects() => {
            Selector::Whole(*number, options.whole_category(*number, frame.speech))
        }
        Resolved::Number(figure, options) => match options.selection(&figure.to_decimal(), frame.speech) {
            Some(selection) => Selector::Number(Box::new(selection.number), selection.category),
            None => Selector::Failed,
        },
        Resolved::Formatted(value, category) => match (&value.keys, category) {
            (Some(keys), _) => Selector::Keys(Arc::clone(keys)),
            (None, Some(category)) => Selector::Category(*category),
            (None, None) => Selector::Failed,
        },
        Resolved::Date(..) | Resolved::List(_) | Resolved::Html(_) | Resolved::Fallback => Selector::Failed,
    };
    if matches!(selector, Selector::Failed) {
        let place = frame
            .program
            .declared
            .get(at as usize)
            .and_then(|place| frame.program.places.get(*place as usize));
        let subject = place.map_or("", |place| frame.program.str(place.fallback));
        frame.report(Kind::BadSelector, subject);
    }
    selector
}

/// How well a key suits a selector; none where it does not.
fn rank(program: &Program, key: &KeyTest, selector: &Selector) -> Option<u8> {
    let KeyTest::Literal { text, number, whole, category } = key else { return Some(ANY) };
    let by_category = |selected: &Option<Category>| match (number, category) {
        (None, Some(category)) => (Some(*category) == *selected).then_some(CATEGORY),
        _ => None,
    };
    match selector {
        Selector::Text(selected) => (selected == program.str(*text)).then_some(EXACT),
        Selector::Whole(selected, _) if number.is_some() => (*whole == Some(*selected)).then_some(EXACT),
        Selector::Number(selected, _) if number.is_some() => {
            number.as_ref().is_some_and(|number| number.same_value(selected)).then_some(EXACT)
        }
        Selector::Whole(_, selected) | Selector::Number(_, selected) => by_category(selected),
        Selector::Keys(keys) => keys(program.str(*text)).then_some(EXACT),
        Selector::Category(selected) => by_category(&Some(*selected)),
        Selector::Failed => None,
    }
}
