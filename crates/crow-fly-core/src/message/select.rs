//! Which variant is said (UTS #35 part 9, "Pattern Selection").

use smallvec::SmallVec;

use super::compile::{KeyTest, Program};
use super::format_error::FormatErrorKind as Kind;
use super::resolve::{Frame, Resolved};
use super::syntax::normalized;
use crate::number::{Category, Decimal};

/// What a selector's keys are held against.
enum Selector {
    Text(alloc::string::String),
    Number(Decimal, Option<Category>),
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
    if program.selectors.is_empty() {
        return 0;
    }
    let selectors: SmallVec<[Selector; 2]> =
        program.selectors.iter().map(|at| selector(frame, *at)).collect();
    let mut best: Option<(SmallVec<[u8; 4]>, usize)> = None;
    for (at, keys) in program.keys.chunks(selectors.len()).enumerate() {
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
        Resolved::Number(number, options) => match options.selection(number, frame.speech) {
            Some((number, category)) => Selector::Number(number, category),
            None => Selector::Failed,
        },
        Resolved::Fallback => Selector::Failed,
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
    let KeyTest::Literal { text, number, category } = key else { return Some(ANY) };
    match selector {
        Selector::Text(selected) => (selected == program.str(*text)).then_some(EXACT),
        Selector::Number(selected, selected_category) => match (number, category) {
            (Some(number), _) => number.same_value(selected).then_some(EXACT),
            (None, Some(category)) => (Some(*category) == *selected_category).then_some(CATEGORY),
            (None, None) => None,
        },
        Selector::Failed => None,
    }
}
