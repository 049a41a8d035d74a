//! Which characters may stand where.

use alloc::borrow::Cow;

use unicode_normalization::{IsNormalized, UnicodeNormalization, is_nfc_quick};

/// NFC, which nearly all names are in already.
pub(in crate::message) fn normalized(name: &str) -> Cow<'_, str> {
    // What is ASCII needs no table.
    if name.is_ascii() || is_nfc_quick(name.chars()) == IsNormalized::Yes {
        return Cow::Borrowed(name);
    }
    Cow::Owned(name.nfc().collect())
}

/// How long the white space is that a text begins with, and whether there is any but marks of direction.
#[inline]
pub(super) fn space_length(text: &str) -> (usize, bool) {
    // Mostly there is one blank, or none.
    match text.as_bytes() {
        [next, ..] if next.is_ascii_graphic() => (0, false),
        [b' ', next, ..] if next.is_ascii_graphic() => (1, true),
        _ => any_space_length(text),
    }
}

fn any_space_length(text: &str) -> (usize, bool) {
    let mut length = text.bytes().take_while(|next| is_space(char::from(*next))).count();
    let mut real = length > 0;
    if text.as_bytes().get(length).is_none_or(u8::is_ascii) {
        return (length, real);
    }
    for next in
        text.get(length..).unwrap_or_default().chars().take_while(|next| is_space(*next) || is_bidi(*next))
    {
        real |= is_space(next);
        length += next.len_utf8();
    }
    (length, real)
}

/// How long the run of name characters is that a text begins with, and whether it is ASCII.
pub(super) fn name_length(text: &str) -> (usize, bool) {
    let plain = |byte: &u8| PLAIN.get(usize::from(*byte)).is_some_and(|plain| *plain);
    let ascii = text.bytes().take_while(plain).count();
    match text.as_bytes().get(ascii) {
        Some(byte) if !byte.is_ascii() => {
            let length = text.find(|next| !is_name_char(next)).unwrap_or(text.len());
            (length, length == ascii)
        }
        _ => (ascii, true),
    }
}

/// The bytes of ASCII that may stand in a name.
static PLAIN: [bool; 256] = {
    let mut plain = [false; 256];
    let mut byte = 0;
    while byte < 128_u8 {
        plain[byte as usize] = is_name_char(byte as char);
        byte += 1;
    }
    plain
};

pub(in crate::message) fn is_space(next: char) -> bool {
    matches!(next, ' ' | '\t' | '\r' | '\n' | '\u{3000}')
}

pub(in crate::message) const fn is_bidi(next: char) -> bool {
    matches!(next, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{2066}'..='\u{2069}')
}

/// Letters, `+`, `_`, and most of Unicode: white space, controls, marks of direction and noncharacters are out.
pub(super) const fn is_name_start(next: char) -> bool {
    match next {
        'a'..='z' | 'A'..='Z' | '+' | '_' => true,
        '\0'..='\u{a0}'
        | '\u{1680}'
        | '\u{2000}'..='\u{200a}'
        | '\u{2028}'..='\u{202f}'
        | '\u{205f}'
        | '\u{3000}'
        | '\u{fdd0}'..='\u{fdef}' => false,
        _ => !is_bidi(next) && (next as u32) & 0xfffe != 0xfffe,
    }
}

/// Whether a text can stand as it is where a literal is wanted.
pub(in crate::message) fn is_name(text: &str) -> bool {
    !text.is_empty() && text.chars().all(is_name_char)
}

/// Whether a text is a name, or one in a namespace.
pub(in crate::message) fn is_identifier(text: &str) -> bool {
    let is_whole = |name: &str| name.starts_with(is_name_start) && is_name(name);
    text.split_once(':').map_or(is_whole(text), |(namespace, name)| is_whole(namespace) && is_whole(name))
}

pub(super) const fn is_name_char(next: char) -> bool {
    is_name_start(next) || matches!(next, '0'..='9' | '-' | '.')
}
