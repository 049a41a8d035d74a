//! Patterns around a number: `¤#,##0.00;(¤#,##0.00)` (UTS #35 part 3, "Number Format Patterns").

use alloc::borrow::ToOwned;
use alloc::string::String;
use core::fmt;

use super::format::{GroupSizes, NumberLocale, ShownSign};

/// What stands before and after the digits of a positive number, and of a negative one where that differs.
#[derive(Clone, Copy, Debug)]
pub(super) struct Affixes {
    positive: (&'static str, &'static str),
    negative: Option<(&'static str, &'static str)>,
    groups: GroupSizes,
    has_digits: bool,
}

/// Characters that stand for digits.
fn is_digit_place(letter: char) -> bool {
    matches!(letter, '#' | '0'..='9' | ',' | '.' | '@')
}

/// Prefix and suffix of a pattern. What stands in quotes is never digits.
pub(super) fn split(pattern: &'static str) -> (&'static str, &'static str) {
    let (mut quoted, mut start, mut end) = (false, None, pattern.len());
    for (at, letter) in pattern.char_indices() {
        quoted ^= letter == '\'';
        if !quoted && is_digit_place(letter) {
            start = start.or(Some(at));
            end = at + letter.len_utf8();
        }
    }
    let start = start.unwrap_or(end);
    (pattern.get(..start).unwrap_or_default(), pattern.get(end..).unwrap_or_default())
}

impl Affixes {
    pub(super) fn of(pattern: &'static str) -> Self {
        let (positive, negative) = pattern
            .split_once(';')
            .map_or((pattern, None), |(positive, negative)| (positive, Some(negative)));
        let integer = positive.split('.').next().unwrap_or_default();
        let size = |group: &str| {
            u8::try_from(group.chars().take_while(|letter| is_digit_place(*letter)).count()).unwrap_or(0)
        };
        let mut groups = integer.rsplit(',').map(size);
        let groups = match (groups.next(), groups.next(), groups.next()) {
            (Some(primary), Some(secondary), Some(_)) => GroupSizes { primary, secondary },
            (Some(primary), Some(_), None) => GroupSizes { primary, secondary: primary },
            _ => GroupSizes::NONE,
        };
        let has_digits = positive.contains(is_digit_place);
        Self { positive: split(positive), negative: negative.map(split), groups, has_digits }
    }

    /// The locale, with the groups of this pattern.
    pub(super) fn grouped(&self, locale: &NumberLocale) -> NumberLocale {
        locale.with_groups(self.groups)
    }

    /// Whether the symbol of a currency stands before the digits.
    pub(super) fn has_symbol_first(&self) -> bool {
        self.positive.0.contains('¤')
    }

    /// What stands around a number with such marks. Where a pattern has no place for them, they stand first.
    #[inline]
    pub(super) fn around<'t>(
        &self,
        marks: Marks,
        locale: &NumberLocale,
        percent: &'t str,
        symbol: &'t str,
    ) -> Around<'t> {
        let has_place = |(prefix, suffix): (&str, &str)| prefix.contains('-') || suffix.contains('-');
        let of_negative = self.negative.filter(|pattern| {
            marks.sign != ShownSign::None || (!marks.about.is_empty() && has_place(*pattern))
        });
        let pattern = of_negative.unwrap_or(self.positive);
        let sign = locale.sign(marks.sign);
        // A negative pattern may say the sign without one: in brackets. A plus is then said as usual.
        let placed = !(sign.is_empty() && marks.about.is_empty()) && has_place(pattern);
        let in_brackets = of_negative.is_some() && !placed;
        let (prefix, suffix) =
            if in_brackets && marks.sign == ShownSign::Plus { self.positive } else { pattern };
        let leads_sign = !placed && (!in_brackets || marks.sign == ShownSign::Plus);
        // A symbol of letters keeps its distance from the digits (UTS #35 part 3, "Currency Spacing").
        let gap = |touches: bool, letter: Option<char>| {
            let apart = touches && letter.is_some_and(|letter| !is_currency_sign(letter));
            if apart { GAP } else { "" }
        };
        Around {
            prefix,
            suffix,
            leading: [if placed { "" } else { marks.about }, if leads_sign { sign } else { "" }],
            placed: if placed { [marks.about, sign] } else { ["", ""] },
            percent,
            symbol,
            gap_before: gap(prefix.ends_with('¤'), symbol.chars().next_back()),
            gap_after: gap(suffix.starts_with('¤'), symbol.chars().next()),
            is_signed: !sign.is_empty(),
            has_digits: self.has_digits,
            is_trimmed: false,
        }
    }
}

/// The marks of a number beside its digits.
#[derive(Clone, Copy)]
pub(super) struct Marks {
    /// The sign of what is about a number, or nothing.
    pub(super) about: &'static str,
    pub(super) sign: ShownSign,
}

/// What stands before and after the digits of one number.
pub(super) struct Around<'t> {
    prefix: &'static str,
    suffix: &'static str,
    /// The marks that stand first, since the pattern has no place for them.
    leading: [&'static str; 2],
    /// The marks that stand where the pattern has a place for them.
    placed: [&'static str; 2],
    percent: &'t str,
    symbol: &'t str,
    gap_before: &'static str,
    gap_after: &'static str,
    /// Whether a sign is shown, as one or as brackets.
    pub(super) is_signed: bool,
    /// Whether the pattern has digits: "a thousand" does not.
    pub(super) has_digits: bool,
    /// Whether no blanks stand at either end: a pattern keeps no room for a symbol that is not there.
    pub(super) is_trimmed: bool,
}

const GAP: &str = "\u{a0}";

const BLANKS: [char; 3] = ['\u{a0}', ' ', '\u{202f}'];

impl Around<'static> {
    /// The marks alone.
    pub(super) fn marks(marks: Marks, locale: &NumberLocale) -> Self {
        const DIGITS: Affixes =
            Affixes { positive: ("", ""), negative: None, groups: GroupSizes::NONE, has_digits: true };
        DIGITS.around(marks, locale, "", "")
    }
}

impl Around<'_> {
    #[inline]
    pub(super) fn write_before(&self, output: &mut dyn fmt::Write) -> fmt::Result {
        write_marks(self.leading, output)?;
        self.fill(self.prefix, output)?;
        if self.gap_before.is_empty() { Ok(()) } else { output.write_str(self.gap_before) }
    }

    #[inline]
    pub(super) fn write_after(&self, output: &mut dyn fmt::Write) -> fmt::Result {
        if !self.gap_after.is_empty() {
            output.write_str(self.gap_after)?;
        }
        self.fill(self.suffix, output)
    }

    /// Both, as texts.
    pub(super) fn texts(&self) -> [String; 2] {
        let (mut before, mut after) = (String::new(), String::new());
        // Writing to a `String` does not fail.
        let _ = self.write_before(&mut before);
        let _ = self.write_after(&mut after);
        if self.is_trimmed {
            return [before, after].map(|text| text.trim_matches(BLANKS).to_owned());
        }
        [before, after]
    }

    /// Writes an affix with its signs filled in; what stands in quotes is text.
    fn fill(&self, affix: &str, output: &mut dyn fmt::Write) -> fmt::Result {
        let mut quoted = false;
        let mut rest = affix;
        while let Some(at) = rest.find(['\'', '-', '%', '¤']) {
            let (text, behind) = rest.split_at_checked(at).unwrap_or((rest, ""));
            if !text.is_empty() {
                output.write_str(text)?;
            }
            let sign = behind.chars().next().unwrap_or_default();
            rest = behind.get(sign.len_utf8()..).unwrap_or_default();
            match sign {
                '\'' => quoted = !quoted,
                '-' if !quoted => write_marks(self.placed, output)?,
                '%' if !quoted => output.write_str(self.percent)?,
                '¤' if !quoted => output.write_str(self.symbol)?,
                sign => output.write_char(sign)?,
            }
        }
        if rest.is_empty() { Ok(()) } else { output.write_str(rest) }
    }
}

/// Writes the sign of what is about a number, and its own; most numbers have neither.
#[inline]
fn write_marks([about, sign]: [&str; 2], output: &mut dyn fmt::Write) -> fmt::Result {
    if !about.is_empty() {
        output.write_str(about)?;
    }
    if sign.is_empty() { Ok(()) } else { output.write_str(sign) }
}

/// Signs of currencies (Unicode category Sc), and white space: they may touch digits.
fn is_currency_sign(letter: char) -> bool {
    letter.is_whitespace()
        || matches!(letter,
            '$' | '\u{a2}'..='\u{a5}' | '\u{58f}' | '\u{60b}' | '\u{7fe}' | '\u{7ff}' | '\u{9f2}' | '\u{9f3}' | '\u{9fb}'
            | '\u{af1}' | '\u{bf9}' | '\u{e3f}' | '\u{17db}' | '\u{20a0}'..='\u{20cf}' | '\u{a838}' | '\u{fdfc}'
            | '\u{fe69}' | '\u{ff04}' | '\u{ffe0}' | '\u{ffe1}' | '\u{ffe5}' | '\u{ffe6}')
}

#[cfg(test)]
mod tests {
    use alloc::string::String;

    use super::{Affixes, Marks, NumberLocale, ShownSign, split};
    use crate::tag::LanguageTag;

    #[test]
    fn a_pattern_is_what_stands_around_its_digits() {
        for (pattern, prefix, suffix) in [
            ("¤#,##0.00", "¤", ""),
            ("#,##,##0.###", "", ""),
            ("0 Tsd'.'", "", " Tsd'.'"),
            ("'#'0", "'#'", ""),
            ("#,##0\u{a0}%", "", "\u{a0}%"),
        ] {
            assert_eq!(split(pattern), (prefix, suffix), "{pattern}");
        }
    }

    #[test]
    fn signs_in_quotes_are_text() {
        // Swedish has a minus sign of its own.
        let locale = NumberLocale::of(&LanguageTag::parse("sv").expect("it is a tag"));
        for (pattern, before, behind) in [
            ("'-%¤'-¤0'%'%", "-%¤−$", "%Percent"),
            ("¤0.00;(¤0.00)", "($", ")"),
            ("¤0.00;¤'-'0.00", "$-", ""),
            ("0 ¤;-0 ¤", "−", " $"),
            ("0 ¤;0 ¤-", "", " $−"),
        ] {
            let marks = Marks { about: "", sign: ShownSign::Minus };
            let around = Affixes::of(pattern).around(marks, &locale, "Percent", "$");
            let (mut written, mut rest) = (String::new(), String::new());
            around.write_before(&mut written).expect("a text takes it");
            around.write_after(&mut rest).expect("a text takes it");
            assert_eq!((&*written, &*rest), (before, behind), "{pattern}");
        }
    }
}
