//! What single characters say about a text.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use super::parsed::Place;
use super::script::Scripts;
use super::spaces::texts;
use crate::direction::Direction;
use crate::message::model::Pattern;
use crate::rule::Rule;

/// Checks the characters of a pattern.
pub(super) fn check(place: &mut Place<'_, '_>, pattern: &Pattern, scripts: &Scripts) {
    let mut open = 0_i32;
    let mut unbalanced = false;
    for text in texts(pattern) {
        // Most texts have nothing that is looked for here.
        if text.is_ascii() && !text.bytes().any(|byte| byte.is_ascii_control() || b"<&".contains(&byte)) {
            continue;
        }
        for letter in text.chars().filter(|letter| !letter.is_ascii_graphic() && *letter != ' ') {
            match letter {
                '\u{2066}'..='\u{2068}' => open += 1,
                '\u{2069}' => {
                    open -= 1;
                    unbalanced |= open < 0;
                }
                '\u{202a}'..='\u{202e}' => {
                    place.find_text(Rule::DirectionCharacter, letter.to_string().as_str(), || {
                        (
                            format!(
                                "the text has U+{:04X}, which sets the direction of what follows",
                                u32::from(letter)
                            ),
                            "delete it; placeholders are isolated by themselves".to_owned(),
                        )
                    });
                }
                '\u{fffd}' => place.find_text(Rule::ReplacementCharacter, "\u{fffd}", || {
                    ("a letter was lost here".to_owned(), "write the letter again".to_owned())
                }),
                _ => {}
            }
        }
        invisible(place, text, scripts);
        mojibake(place, text);
        html(place, text);
    }
    if unbalanced || open != 0 {
        let signs: &[char] = if open > 0 { &['\u{2066}', '\u{2067}', '\u{2068}'] } else { &['\u{2069}'] };
        let source = place.entry.text();
        let at = source.rfind(signs).unwrap_or_default();
        let length = source.get(at..).and_then(|rest| rest.chars().next()).map_or(0, char::len_utf8);
        place.find_at(Rule::OpenIsolate, at..at + length, || {
            let text = if open > 0 {
                "a direction is begun and not ended"
            } else {
                "a direction is ended and not begun"
            };
            (text.to_owned(), "write U+2069 behind what is isolated, or delete both".to_owned())
        });
    }
}

/// Characters that nobody sees and no script of the language uses.
fn invisible(place: &mut Place<'_, '_>, text: &str, scripts: &Scripts) {
    let letters: Vec<char> = text.chars().collect();
    for (at, letter) in letters.iter().enumerate() {
        let is_bad = match letter {
            '\u{200b}' => !scripts.breaks_without_spaces(),
            '\u{2060}' | '\u{feff}' | '\u{180e}' | '\u{2028}' | '\u{2029}' | '\u{2061}'..='\u{2064}' => true,
            // Joiners are letters of a kind in many scripts, and make emoji.
            '\u{200c}' | '\u{200d}' => {
                let near =
                    |at: Option<usize>| at.and_then(|at| letters.get(at)).is_some_and(|near| is_emoji(*near));
                !scripts.use_joiners() && !near(at.checked_sub(1)) && !near(Some(at + 1))
            }
            '\u{200e}' | '\u{200f}' | '\u{061c}' => scripts.direction() == Direction::LeftToRight,
            '\u{e0001}' | '\u{e0020}'..='\u{e007f}' => !letters.contains(&'\u{1f3f4}'),
            letter => letter.is_control() && !matches!(letter, '\t' | '\n' | '\r'),
        };
        if is_bad {
            let code = u32::from(*letter);
            place.find_text(Rule::InvisibleCharacter, letter.to_string().as_str(), || {
                (format!("the text has U+{code:04X}, which nobody sees"), "delete it".to_owned())
            });
        }
    }
}

const fn is_emoji(letter: char) -> bool {
    matches!(letter, '\u{2600}'..='\u{27bf}' | '\u{fe0f}' | '\u{1f000}'..='\u{1faff}')
}

/// UTF-8 that was read as Windows-1252.
fn mojibake(place: &mut Place<'_, '_>, text: &str) {
    let mut letters = text.char_indices().peekable();
    while let Some((at, letter)) = letters.next() {
        let Some((_, next)) = letters.peek().copied() else { return };
        let is_lead = matches!(letter, 'Ã' | 'Â' | 'Ä' | 'Å' | 'Î' | 'Ï' | 'Ð' | 'Ñ');
        let is_behind = matches!(next, '\u{80}'..='\u{aa}' | '\u{ac}'..='\u{ba}' | '\u{bc}'..='\u{bf}')
            || "‚ƒ„…†‡ˆ‰Š‹ŒŽ‘’“”•–—˜™š›œžŸ".contains(next) && matches!(letter, 'Ã' | 'Ð' | 'Ñ' | 'Î' | 'Ï');
        // `â€™` for an apostrophe.
        let is_quote = letter == 'â' && next == '€';
        if is_lead && is_behind || is_quote {
            let wrong: String = text.get(at..).unwrap_or_default().chars().take(2).collect();
            return place.find_text(Rule::Mojibake, &wrong, || {
                (
                    format!("`{wrong}` is another letter, read in the wrong encoding"),
                    "convert the file from UTF-8 once, not twice, and write the text again".to_owned(),
                )
            });
        }
    }
}

/// Elements of HTML.
const ELEMENTS: [&str; 44] = [
    "a",
    "abbr",
    "b",
    "bdi",
    "bdo",
    "big",
    "blockquote",
    "br",
    "button",
    "center",
    "cite",
    "code",
    "dd",
    "div",
    "dl",
    "dt",
    "em",
    "font",
    "h1",
    "h2",
    "h3",
    "h4",
    "hr",
    "i",
    "iframe",
    "img",
    "input",
    "li",
    "mark",
    "ol",
    "p",
    "pre",
    "s",
    "script",
    "small",
    "span",
    "strong",
    "style",
    "sub",
    "sup",
    "table",
    "td",
    "u",
    "ul",
];

/// Entities of HTML that people write.
const ENTITIES: [&str; 16] = [
    "amp", "lt", "gt", "quot", "apos", "nbsp", "copy", "reg", "trade", "hellip", "mdash", "ndash", "rsquo",
    "lsquo", "laquo", "raquo",
];

/// The character of an entity that can be written as it is.
fn character(entity: &str) -> Option<&'static str> {
    Some(match entity {
        "amp" => "&",
        "lt" => "<",
        "gt" => ">",
        "nbsp" => "\u{a0}",
        "copy" => "©",
        "reg" => "®",
        "trade" => "™",
        "hellip" => "…",
        "mdash" => "—",
        "ndash" => "–",
        "rsquo" => "’",
        "lsquo" => "‘",
        "laquo" => "«",
        "raquo" => "»",
        // Quotes may end the text in the file.
        _ => return None,
    })
}

fn html(place: &mut Place<'_, '_>, text: &str) {
    for (at, _) in text.match_indices('<') {
        let behind = text.get(at + 1..).unwrap_or_default();
        let name = behind.strip_prefix('/').unwrap_or(behind);
        let length = name.bytes().take_while(u8::is_ascii_alphanumeric).count();
        let (name, rest) = name.split_at_checked(length).unwrap_or_default();
        let Some(end) = rest.find('>') else { continue };
        let is_tag = rest.starts_with(['>', '/', ' ']) && !rest.get(..end).unwrap_or_default().contains('<');
        if is_tag && ELEMENTS.contains(&name.to_ascii_lowercase().as_str()) {
            let tag = text.get(at..text.len() - rest.len() + end + 1).unwrap_or_default();
            place.find_text(Rule::HtmlInText, tag, || {
                let name = name.to_ascii_lowercase();
                (
                    format!("readers see `{tag}`: texts are escaped"),
                    format!("write markup in braces: `{{#{name}}}…{{/{name}}}`"),
                )
            });
        }
    }
    for (at, _) in text.match_indices('&') {
        let behind = text.get(at + 1..).unwrap_or_default();
        let Some(end) = behind.find(';').filter(|end| *end <= 8) else { continue };
        let name = behind.get(..end).unwrap_or_default();
        let digits = name.strip_prefix("#x").or_else(|| name.strip_prefix('#'));
        let is_number = digits
            .is_some_and(|digits| !digits.is_empty() && digits.bytes().all(|byte| byte.is_ascii_hexdigit()));
        if is_number || ENTITIES.contains(&name) {
            let entity = format!("&{name};");
            let told = || {
                (
                    format!("readers see `{entity}`: texts are escaped"),
                    "write the character itself".to_owned(),
                )
            };
            match (character(name), place.entry.text().find(&entity)) {
                (Some(letter), Some(start)) => {
                    let range = start..start + entity.len();
                    place.find_fixed(Rule::EntityInText, range.clone(), (range, letter), told);
                }
                _ => place.find_text(Rule::EntityInText, &entity, told),
            }
        }
    }
}
