//! Which letters a language is written with.

use unicode_script::{Script, UnicodeScript};

use crate::direction::Direction;
use crate::tag::LanguageTag;

/// The scripts of a language.
pub(super) struct Scripts {
    own: &'static [Script],
    direction: Direction,
    breaks_without_spaces: bool,
}

impl Scripts {
    /// The scripts that texts in a locale are written in; none where that is not known.
    pub(super) fn of(tag: &LanguageTag) -> Self {
        let script = tag.maximized().script();
        let name = script.as_ref().map_or("", |script| script.as_str());
        Self {
            own: of_code(name),
            direction: Direction::of(tag),
            breaks_without_spaces: matches!(
                name,
                "Thai" | "Laoo" | "Khmr" | "Mymr" | "Jpan" | "Hans" | "Hant" | "Tibt"
            ),
        }
    }

    pub(super) const fn direction(&self) -> Direction {
        self.direction
    }

    /// Whether words are not told apart by spaces, so that a space without width may tell where a line may end.
    pub(super) const fn breaks_without_spaces(&self) -> bool {
        self.breaks_without_spaces
    }

    /// Whether joiners are a part of how words are written.
    pub(super) fn use_joiners(&self) -> bool {
        let plain =
            [Script::Latin, Script::Greek, Script::Cyrillic, Script::Han, Script::Hiragana, Script::Hangul];
        !self.own.iter().any(|script| plain.contains(script))
    }

    /// Whether the language is known to be written in other scripts than Latin.
    pub(super) fn has_no_latin(&self) -> bool {
        !self.own.is_empty() && !self.own.contains(&Script::Latin)
    }

    /// Whether a letter is of another script. Words in Latin letters stand in texts of all scripts.
    pub(super) fn is_foreign(&self, letter: char) -> bool {
        let script = letter.script();
        let is_shared =
            matches!(script, Script::Common | Script::Inherited | Script::Unknown | Script::Latin);
        !self.own.is_empty() && !is_shared && !self.own.contains(&script)
    }
}

fn of_code(code: &str) -> &'static [Script] {
    match code {
        "Latn" => &[Script::Latin],
        "Cyrl" => &[Script::Cyrillic],
        "Grek" => &[Script::Greek],
        "Arab" => &[Script::Arabic],
        "Hebr" => &[Script::Hebrew],
        "Armn" => &[Script::Armenian],
        "Geor" => &[Script::Georgian],
        "Deva" => &[Script::Devanagari],
        "Beng" => &[Script::Bengali],
        "Guru" => &[Script::Gurmukhi],
        "Gujr" => &[Script::Gujarati],
        "Taml" => &[Script::Tamil],
        "Telu" => &[Script::Telugu],
        "Knda" => &[Script::Kannada],
        "Mlym" => &[Script::Malayalam],
        "Sinh" => &[Script::Sinhala],
        "Thai" => &[Script::Thai],
        "Laoo" => &[Script::Lao],
        "Khmr" => &[Script::Khmer],
        "Mymr" => &[Script::Myanmar],
        "Ethi" => &[Script::Ethiopic],
        "Hans" | "Hant" => &[Script::Han, Script::Bopomofo],
        "Jpan" => &[Script::Han, Script::Hiragana, Script::Katakana],
        "Kore" => &[Script::Hangul, Script::Han],
        // Others are not judged.
        _ => &[],
    }
}

/// Letters that look alike in Latin, Cyrillic and Greek.
const LOOK_ALIKE: &str = "aceiopxysjABCEHIKMOPTXYSJ\
    \u{430}\u{435}\u{456}\u{43e}\u{440}\u{441}\u{443}\u{445}\u{455}\u{458}\
    \u{410}\u{412}\u{415}\u{41a}\u{41c}\u{41d}\u{41e}\u{420}\u{421}\u{422}\u{423}\u{425}\u{406}\u{405}\u{408}\
    \u{3bf}\u{3b9}\u{3bd}\u{391}\u{392}\u{395}\u{396}\u{397}\u{399}\u{39a}\u{39c}\u{39d}\u{39f}\u{3a1}\u{3a4}\u{3a5}\u{3a7}";

/// The letter of a word that is of another script than the rest and looks like one of theirs.
pub(super) fn look_alike(word: &str) -> Option<char> {
    // Words of one script, in ASCII above all, are most.
    if word.is_ascii() {
        return None;
    }
    let of = |script: Script| word.chars().filter(move |letter| letter.script() == script);
    let known = [Script::Latin, Script::Cyrillic, Script::Greek];
    let main = known.into_iter().max_by_key(|script| of(*script).count())?;
    let mut others = known.into_iter().filter(|script| *script != main).flat_map(of);
    let first = others.next()?;
    let all_alike = LOOK_ALIKE.contains(first) && others.all(|letter| LOOK_ALIKE.contains(letter));
    // `kΩ` is a unit.
    (all_alike && word.chars().count() > 2).then_some(first)
}
