//! White space that is easily overlooked.

use alloc::borrow::ToOwned;
use core::ops::Range;

use super::parsed::{Place, texts};
use crate::message::Message;
use crate::message::model::Element;
use crate::rule::Rule;

/// White space that is easily overlooked: where it stands in any pattern of a message.
#[allow(clippy::struct_excessive_bools, reason = "each is a fact by itself")]
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub(super) struct Spaces {
    leading: bool,
    trailing: bool,
    doubled: bool,
    tab: bool,
    line_break: bool,
}

impl Spaces {
    pub(super) fn of(message: &Message) -> Self {
        let mut spaces = Self::default();
        for pattern in message.patterns() {
            if let Some(Element::Text(text)) = pattern.first() {
                spaces.leading |= text.starts_with(char::is_whitespace);
            }
            if let Some(Element::Text(text)) = pattern.last() {
                spaces.trailing |= text.ends_with(char::is_whitespace);
            }
            for text in texts(pattern) {
                let is_plain = |text: &str| {
                    let bytes = text.as_bytes();
                    let is_doubled = |(one, next): (&u8, &u8)| *one == b' ' && *next == b' ';
                    memchr::memchr2(b'\t', b'\n', bytes).is_none()
                        && !bytes.iter().zip(bytes.iter().skip(1)).any(is_doubled)
                };
                // Most texts have nothing that is looked for here.
                if is_plain(text) {
                    continue;
                }
                let text = text.trim();
                spaces.doubled |= text.contains("  ");
                spaces.tab |= text.contains('\t');
                spaces.line_break |= text.contains('\n');
            }
        }
        spaces
    }
}

/// All but the first of the spaces that follow one another.
fn doubled(text: &str) -> Option<Range<usize>> {
    let start = text.trim().find("  ")? + (text.len() - text.trim_start().len());
    let spaces = text.get(start..)?.bytes().take_while(|byte| *byte == b' ').count();
    Some(start + 1..start + spaces)
}

/// Checks the white space of a text beside that of the reference.
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
            "the text begins with white space; the reference does not",
            surplus(leading),
        ),
        (
            own.trailing,
            other.trailing,
            "the text ends with white space; the reference does not",
            surplus(trailing),
        ),
        (own.doubled, other.doubled, "there are two spaces in a row", surplus(doubled(text))),
        (own.tab, other.tab, "the text has a tab; the reference has none", None),
        (own.line_break, other.line_break, "the text has a line break; the reference has none", None),
    ] {
        if !is_here || is_there {
            continue;
        }
        let said = || (told.to_owned(), "delete it".to_owned());
        match range {
            Some(range) => place.find_fixed(Rule::WhiteSpace, 0..text.len(), (range, ""), said),
            None => place.find(Rule::WhiteSpace, said),
        }
    }
    for (is_here, is_there, told) in [
        (own.leading, other.leading, "the reference begins with white space; this text does not"),
        (own.trailing, other.trailing, "the reference ends with white space; this text does not"),
        (own.tab, other.tab, "the reference has a tab; this text has none"),
        (own.line_break, other.line_break, "the reference has a line break; this text has none"),
    ] {
        if is_there && !is_here {
            place.find(Rule::WhiteSpace, || {
                (told.to_owned(), "add it, so that what it keeps apart stays apart".to_owned())
            });
        }
    }
}
