//! Pseudo-locales: the default locale's texts made strange, to see what a page does with long words, odd letters and the other
//! direction before anybody has translated it.

use alloc::string::{String, ToString};

use crate::message::model::{Body, Element, Name, Pattern};
use crate::message::{Message, MessageErrors};
use crate::tag::LanguageTag;

/// A pseudo-locale: UTS #35 part 1 keeps the regions `XA` and `XB` for them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum PseudoLocale {
    /// `en-XA`: accented letters, texts longer by a third and in brackets. Words without accents are not from a catalog,
    /// a bracket that is not there has been cut off, and two in one line are a sentence that was put together.
    Accented,
    /// `ar-XB`: the letters of the default locale, each word from right to left.
    Mirrored,
}

impl PseudoLocale {
    /// The pseudo-locale that a tag names by its region.
    ///
    /// ```
    /// use crow_fly_core::tag::LanguageTag;
    /// use crow_fly_core::translation::PseudoLocale;
    ///
    /// let of = |tag: &str| PseudoLocale::of(&LanguageTag::parse(tag).unwrap());
    /// assert_eq!(of("en-XA"), Some(PseudoLocale::Accented));
    /// assert_eq!(of("ar-XB"), Some(PseudoLocale::Mirrored));
    /// assert_eq!(of("en-GB"), None);
    /// ```
    pub fn of(tag: &LanguageTag) -> Option<Self> {
        match tag.region()?.as_str() {
            "XA" => Some(Self::Accented),
            "XB" => Some(Self::Mirrored),
            _ => None,
        }
    }

    /// A message made strange: placeholders, markup, selectors and keys stay as they are.
    ///
    /// # Errors
    /// Where the message has errors.
    ///
    /// ```
    /// use crow_fly_core::translation::PseudoLocale;
    ///
    /// let text = PseudoLocale::Accented.message("Hello, {$name}!")?;
    /// assert_eq!(text, "[Ħéļļö, {$name}! ~~~]");
    /// # Ok::<(), crow_fly_core::message::MessageErrors>(())
    /// ```
    pub fn message(self, source: &str) -> Result<String, MessageErrors> {
        let mut message = Message::parse(source)?;
        match &mut message.body {
            Body::Pattern(pattern) => self.pattern(pattern),
            Body::Match { variants, .. } => {
                for variant in variants {
                    self.pattern(&mut variant.pattern);
                }
            }
        }
        Ok(message.to_string())
    }

    fn pattern(self, pattern: &mut Pattern) {
        let mut letters = 0;
        for element in &mut *pattern {
            let Element::Text(text) = element else { continue };
            letters += text.chars().filter(|letter| letter.is_alphabetic()).count();
            *text = Name::from(match self {
                Self::Accented => text.chars().map(accented).collect::<String>(),
                Self::Mirrored => mirrored(text),
            });
        }
        if self == Self::Accented && letters > 0 {
            put(pattern, 0, "[");
            let mut end = String::from(" ");
            end.extend(core::iter::repeat_n('~', letters.div_ceil(3).max(2) + 1));
            end.push(']');
            put(pattern, pattern.len(), &end);
        }
    }
}

/// Puts a text at the beginning or the end of a pattern.
fn put(pattern: &mut Pattern, place: usize, text: &str) {
    match (place, pattern.as_mut_slice()) {
        (0, [Element::Text(first), ..]) => *first = Name::from([text, first.as_str()].concat()),
        (1.., [.., Element::Text(last)]) => *last = Name::from([last.as_str(), text].concat()),
        _ => pattern.insert(place, Element::Text(text.into())),
    }
}

/// Each word from right to left, by the characters that override the direction.
fn mirrored(text: &str) -> String {
    let mut mirrored = String::new();
    let mut is_inside = false;
    for letter in text.chars() {
        let is_word = letter.is_alphanumeric();
        if is_word != is_inside {
            mirrored.push(if is_word { '\u{202e}' } else { '\u{202c}' });
            is_inside = is_word;
        }
        mirrored.push(letter);
    }
    if is_inside {
        mirrored.push('\u{202c}');
    }
    mirrored
}

/// A letter with an accent, which can still be read.
const fn accented(letter: char) -> char {
    match letter {
        'a' => 'á',
        'b' => 'ƀ',
        'c' => 'ç',
        'd' => 'đ',
        'e' => 'é',
        'f' => 'ƒ',
        'g' => 'ğ',
        'h' => 'ħ',
        'i' => 'î',
        'j' => 'ĵ',
        'k' => 'ķ',
        'l' => 'ļ',
        'm' => 'ɱ',
        'n' => 'ñ',
        'o' => 'ö',
        'p' => 'þ',
        'q' => 'ǫ',
        'r' => 'ŕ',
        's' => 'š',
        't' => 'ŧ',
        'u' => 'û',
        'v' => 'ṽ',
        'w' => 'ŵ',
        'x' => 'ẋ',
        'y' => 'ý',
        'z' => 'ž',
        'A' => 'Á',
        'B' => 'Ɓ',
        'C' => 'Ç',
        'D' => 'Đ',
        'E' => 'É',
        'F' => 'Ƒ',
        'G' => 'Ğ',
        'H' => 'Ħ',
        'I' => 'Î',
        'J' => 'Ĵ',
        'K' => 'Ķ',
        'L' => 'Ļ',
        'M' => 'Ḿ',
        'N' => 'Ñ',
        'O' => 'Ö',
        'P' => 'Þ',
        'Q' => 'Ǫ',
        'R' => 'Ŕ',
        'S' => 'Š',
        'T' => 'Ŧ',
        'U' => 'Û',
        'V' => 'Ṽ',
        'W' => 'Ŵ',
        'X' => 'Ẋ',
        'Y' => 'Ý',
        'Z' => 'Ž',
        other => other,
    }
}
