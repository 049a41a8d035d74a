//! White space that is easily overlooked.

use crate::message::Message;
use crate::message::model::{Element, Pattern};

/// White space that is easily overlooked: where it stands in any pattern of a message.
#[allow(clippy::struct_excessive_bools, reason = "each is a fact by itself")]
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub(super) struct Spaces {
    pub(super) leading: bool,
    pub(super) trailing: bool,
    pub(super) doubled: bool,
    pub(super) tab: bool,
    pub(super) line_break: bool,
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

/// The texts of a pattern.
pub(super) fn texts(pattern: &Pattern) -> impl Iterator<Item = &str> {
    pattern.iter().filter_map(|element| match element {
        Element::Text(text) => Some(text.as_str()),
        _ => None,
    })
}
