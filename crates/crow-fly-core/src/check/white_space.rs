//! White space, compared with the default locale's.

use alloc::borrow::ToOwned;
use core::ops::Range;

use super::parsed::Place;
use super::spaces::Spaces;
use crate::rule::Rule;

/// All but the first of the spaces that follow one another.
fn doubled(text: &str) -> Option<Range<usize>> {
    let start = text.trim().find("  ")? + (text.len() - text.trim_start().len());
    let spaces = text.get(start..)?.bytes().take_while(|byte| *byte == b' ').count();
    Some(start + 1..start + spaces)
}

/// Compares the white space of a text with the default locale's.
pub(super) fn check(place: &mut Place<'_, '_>, own: Spaces, other: Spaces) {
    if own == other {
        return;
    }
    let text = place.entry.text();
    // In other messages a person must look which white space is meant.
    let is_simple = !text.contains("{{") && !text.trim_start().starts_with('.') && !text.contains('\n');
    let surplus = |range: Option<Range<usize>>| range.filter(|_| is_simple);
    let leading = Some(0..text.len() - text.trim_start().len());
    let trailing = Some(text.trim_end().len()..text.len());
    for (is_here, is_there, told, range) in [
        (
            own.leading,
            other.leading,
            "the text begins with white space; the default locale does not",
            surplus(leading),
        ),
        (
            own.trailing,
            other.trailing,
            "the text ends with white space; the default locale does not",
            surplus(trailing),
        ),
        (own.doubled, other.doubled, "there are two spaces in a row", surplus(doubled(text))),
        (own.tab, other.tab, "the text has a tab; the default locale has none", None),
        (own.line_break, other.line_break, "the text has a line break; the default locale has none", None),
    ] {
        if !is_here || is_there {
            continue;
        }
        let said = || (told.to_owned(), "delete it".to_owned());
        match range {
            Some(range) => place.find_fixed(Rule::WhiteSpace, range.clone(), (range, ""), said),
            None => place.find(Rule::WhiteSpace, said),
        }
    }
    for (is_here, is_there, told) in [
        (own.leading, other.leading, "the default locale begins with white space; this text does not"),
        (own.trailing, other.trailing, "the default locale ends with white space; this text does not"),
        (own.tab, other.tab, "the default locale has a tab; this text has none"),
        (own.line_break, other.line_break, "the default locale has a line break; this text has none"),
    ] {
        if is_there && !is_here {
            place.find(Rule::WhiteSpace, || {
                (told.to_owned(), "add it, so that what it keeps apart stays apart".to_owned())
            });
        }
    }
}
