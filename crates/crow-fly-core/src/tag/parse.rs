//! The grammar of RFC 5646 §2.1.

use alloc::string::String;
use alloc::vec::Vec;
use core::ops::Range;

use crow_fly_cldr::{Code, aliases};

use super::extension::Extension;
use super::subtag::{Subtag, lower};
use super::{LanguageTag, Rest, TagError, TagErrorKind};

pub(super) fn strict(text: &str) -> Result<LanguageTag, TagError> {
    plain(text.as_bytes()).map_or_else(|| full(text), Ok)
}

pub(super) fn lenient(text: &str) -> Result<LanguageTag, TagError> {
    let trimmed = text.trim();
    let end = trimmed.find(['.', '@']).unwrap_or(trimmed.len());
    let bare = trimmed.get(..end).unwrap_or(trimmed);
    if bare.eq_ignore_ascii_case("root") {
        return Ok(LanguageTag::UND);
    }
    if bare.len() <= LanguageTag::MAX_LENGTH && bare.contains('_') {
        return strict(&bare.replace('_', "-"));
    }
    strict(bare)
}

/// The form of nearly all tags: `language[-Script][-RR]` and nothing else. None means that the full parser is needed.
#[inline]
pub(crate) fn plain(text: &[u8]) -> Option<LanguageTag> {
    let (language, script, region) = plain_codes(text)?;
    Some(LanguageTag::from_codes(language, script, region))
}

/// The language, script and region of a tag of that form.
#[inline]
pub(crate) fn plain_codes(text: &[u8]) -> Option<(u64, Code, Code)> {
    // `en` and `en-GB`, letter by letter: what nearly every header and path holds.
    let two_letters = |a: u8, b: u8| u64::from(a | 0x20) << 56 | u64::from(b | 0x20) << 48;
    match *text {
        [a, b] if a.is_ascii_alphabetic() && b.is_ascii_alphabetic() => Some((two_letters(a, b), 0, 0)),
        [a, b, b'-', c, d] if [a, b, c, d].iter().all(u8::is_ascii_alphabetic) => {
            let region = u32::from(c & !0x20) << 24 | u32::from(d & !0x20) << 16;
            Some((two_letters(a, b), 0, region))
        }
        _ => other_plain(text),
    }
}

fn other_plain(text: &[u8]) -> Option<(u64, Code, Code)> {
    if text.len() > 12 {
        return None;
    }
    let (language, rest) = subtag(text);
    if !(2..=3).contains(&language.len()) || !language.iter().all(u8::is_ascii_alphabetic) {
        return None;
    }
    let language = language_code(language);
    let Some(rest) = rest else { return Some((language, 0, 0)) };
    let (found, behind) = subtag(rest);
    let is_script = found.len() == 4 && found.iter().all(u8::is_ascii_alphabetic);
    match behind {
        None if is_script => Some((language, title(found), 0)),
        None => Some((language, 0, region(found)?)),
        Some(behind) if is_script => Some((language, title(found), region(behind)?)),
        Some(_) => None,
    }
}

/// The subtag before the first hyphen, and what is behind it.
fn subtag(text: &[u8]) -> (&[u8], Option<&[u8]>) {
    match text.iter().position(|byte| *byte == b'-') {
        Some(at) => (text.get(..at).unwrap_or_default(), text.get(at + 1..)),
        None => (text, None),
    }
}

/// The code of a language subtag; 0 for `und`, which is no language.
pub(super) fn language_code(text: &[u8]) -> u64 {
    let code = lower(text);
    if code == u64::from_be_bytes(*b"und\0\0\0\0\0") { 0 } else { code }
}

/// Four letters in title case.
fn title(text: &[u8]) -> Code {
    // Lower case everywhere, then the first letter's bit cleared.
    ((lower(text) >> 32) as Code) & !(0x20 << 24)
}

fn region(text: &[u8]) -> Option<Code> {
    match text {
        [a, b] if a.is_ascii_alphabetic() && b.is_ascii_alphabetic() => {
            Some(crow_fly_cldr::code(&[a.to_ascii_uppercase(), b.to_ascii_uppercase()]))
        }
        [a, b, c] if a.is_ascii_digit() && b.is_ascii_digit() && c.is_ascii_digit() => {
            Some(crow_fly_cldr::code(text))
        }
        _ => None,
    }
}

/// One subtag of the text, and where it stands.
#[derive(Clone)]
struct Piece<'a> {
    text: &'a [u8],
    at: Range<usize>,
}

impl Piece<'_> {
    fn is_alphabetic(&self, lengths: core::ops::RangeInclusive<usize>) -> bool {
        lengths.contains(&self.text.len()) && self.text.iter().all(u8::is_ascii_alphabetic)
    }

    fn is_variant(&self) -> bool {
        match self.text.len() {
            5..=8 => true,
            4 => self.text.first().is_some_and(u8::is_ascii_digit),
            _ => false,
        }
    }

    fn singleton(&self) -> Option<u8> {
        match self.text {
            [one] => Some(one.to_ascii_lowercase()),
            _ => None,
        }
    }
}

fn pieces(text: &str) -> Result<Vec<Piece<'_>>, TagError> {
    let mut pieces = Vec::new();
    let mut start = 0;
    for part in text.as_bytes().split(|byte| *byte == b'-') {
        let at = start..start + part.len();
        start = at.end + 1;
        let wrong = |kind| Err(TagError::new(kind, text, at.clone()));
        if !part.iter().all(u8::is_ascii_alphanumeric) {
            return wrong(TagErrorKind::Character);
        }
        match part.len() {
            0 => return wrong(TagErrorKind::EmptySubtag),
            1..=8 => pieces.push(Piece { text: part, at }),
            _ => return wrong(TagErrorKind::LongSubtag),
        }
    }
    Ok(pieces)
}

fn full(text: &str) -> Result<LanguageTag, TagError> {
    if text.is_empty() || text.len() > LanguageTag::MAX_LENGTH {
        return Err(TagError::new(TagErrorKind::Length, text, 0..text.len()));
    }
    if let Some((tag, _)) = aliases::grandfathered().iter().find(|(tag, _)| tag.eq_ignore_ascii_case(text)) {
        return Ok(LanguageTag {
            rest: Rest { grandfathered: Some(tag), ..Rest::default() }.boxed(),
            ..LanguageTag::UND
        });
    }
    let pieces = pieces(text)?;
    let mut pieces = pieces.iter().peekable();
    let Some(first) = pieces.next() else { return Err(TagError::new(TagErrorKind::Length, text, 0..0)) };
    let mut tag = LanguageTag::UND;
    let mut rest = Rest::default();
    if first.singleton() == Some(b'x') {
        rest.private = Some(private(text, first, &mut pieces)?);
        rest.only_private = true;
    } else {
        language(text, first, &mut pieces, &mut tag, &mut rest)?;
        extensions(text, &mut pieces, &mut rest)?;
    }
    tag.rest = rest.boxed();
    Ok(tag)
}

/// Language, extended languages, script, region and variants.
fn language<'a>(
    text: &str,
    first: &Piece<'_>,
    pieces: &mut core::iter::Peekable<impl Iterator<Item = &'a Piece<'a>>>,
    tag: &mut LanguageTag,
    rest: &mut Rest,
) -> Result<(), TagError> {
    if !first.is_alphabetic(2..=8) {
        return Err(TagError::new(TagErrorKind::Language, text, first.at.clone()));
    }
    tag.language = language_code(first.text);
    while first.text.len() <= 3 && rest.extlangs.len() < 3 {
        let Some(piece) = pieces.next_if(|piece| piece.is_alphabetic(3..=3)) else { break };
        rest.extlangs.push(Subtag::lower(piece.text));
    }
    if let Some(piece) = pieces.next_if(|piece| piece.is_alphabetic(4..=4)) {
        tag.script = title(piece.text);
    }
    if let Some(found) = pieces.peek().and_then(|piece| region(piece.text)) {
        tag.region = found;
        pieces.next();
    }
    while let Some(piece) = pieces.next_if(|piece| piece.is_variant()) {
        let variant = Subtag::lower(piece.text);
        if rest.variants.contains(&variant) {
            return Err(TagError::new(TagErrorKind::DuplicateVariant, text, piece.at.clone()));
        }
        rest.variants.push(variant);
    }
    Ok(())
}

/// Extensions, and private use behind them.
fn extensions<'a>(
    text: &str,
    pieces: &mut core::iter::Peekable<impl Iterator<Item = &'a Piece<'a>>>,
    rest: &mut Rest,
) -> Result<(), TagError> {
    while let Some(piece) = pieces.next() {
        let wrong = |kind| Err(TagError::new(kind, text, piece.at.clone()));
        match piece.singleton() {
            Some(b'x') => rest.private = Some(private(text, piece, pieces)?),
            Some(singleton) => {
                if rest.extensions.iter().any(|extension| extension.singleton == singleton) {
                    return wrong(TagErrorKind::DuplicateSingleton);
                }
                let found = join(pieces, 2);
                if found.is_empty() {
                    return wrong(TagErrorKind::EmptyExtension);
                }
                rest.extensions.push(Extension { singleton, text: found.into() });
            }
            None => return wrong(TagErrorKind::Misplaced),
        }
    }
    Ok(())
}

fn private<'a>(
    text: &str,
    x: &Piece<'_>,
    pieces: &mut core::iter::Peekable<impl Iterator<Item = &'a Piece<'a>>>,
) -> Result<alloc::boxed::Box<str>, TagError> {
    let found = join(pieces, 1);
    if found.is_empty() {
        return Err(TagError::new(TagErrorKind::EmptyExtension, text, x.at.clone()));
    }
    Ok(found.into())
}

/// The run of subtags of at least `shortest` characters, joined by hyphens, in lower case.
fn join<'a>(
    pieces: &mut core::iter::Peekable<impl Iterator<Item = &'a Piece<'a>>>,
    shortest: usize,
) -> String {
    let mut text = String::new();
    while let Some(piece) = pieces.next_if(|piece| piece.text.len() >= shortest) {
        if !text.is_empty() {
            text.push('-');
        }
        text.extend(piece.text.iter().map(|byte| char::from(byte.to_ascii_lowercase())));
    }
    text
}
