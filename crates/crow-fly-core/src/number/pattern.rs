//! Patterns around a number: `¤#,##0.00;(¤#,##0.00)` (UTS #35 part 3, "Number Format Patterns").

use core::fmt;

use super::format::{GroupSizes, NumberLocale, ShownSign};

/// What stands before and behind the digits of a positive number, and of a negative one where that differs.
#[derive(Clone, Copy, Debug)]
pub(super) struct Affixes {
    positive: (&'static str, &'static str),
    negative: Option<(&'static str, &'static str)>,
    groups: GroupSizes,
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
        Self { positive: split(positive), negative: negative.map(split), groups }
    }

    /// The locale, with the groups of this pattern.
    pub(super) fn grouped(&self, locale: &NumberLocale) -> NumberLocale {
        locale.with_groups(self.groups)
    }

    /// Whether the symbol of a currency stands before the digits.
    pub(super) fn has_symbol_first(&self) -> bool {
        self.positive.0.contains('¤')
    }

    /// What stands around a number of a sign. Where a pattern has no place for the sign, it stands first.
    pub(super) fn around<'t>(
        &self,
        sign: ShownSign,
        locale: &NumberLocale,
        percent: &'t str,
        symbol: &'t str,
    ) -> Around<'t> {
        let of_negative = self.negative.filter(|_| sign != ShownSign::None);
        let (prefix, suffix) = of_negative.unwrap_or(self.positive);
        let mark = locale.sign(sign);
        // A negative pattern may say the sign without one: in brackets. A plus is then said as usual.
        let placed = !mark.is_empty() && (prefix.contains('-') || suffix.contains('-'));
        let in_brackets = of_negative.is_some() && !placed;
        let (prefix, suffix) =
            if in_brackets && sign == ShownSign::Plus { self.positive } else { (prefix, suffix) };
        let first = if !placed && (!in_brackets || sign == ShownSign::Plus) { mark } else { "" };
        // A symbol of letters keeps its distance from the digits (UTS #35 part 3, "Currency Spacing").
        let touches = |letter: Option<char>| letter.is_some_and(|letter| !is_currency_sign(letter));
        Around {
            prefix,
            suffix,
            first,
            mark,
            percent,
            symbol,
            gap_before: prefix.ends_with('¤') && touches(symbol.chars().next_back()),
            gap_behind: suffix.starts_with('¤') && touches(symbol.chars().next()),
        }
    }
}

/// What stands before and behind the digits of one number.
pub(super) struct Around<'t> {
    prefix: &'static str,
    suffix: &'static str,
    /// The sign, where the pattern has no place for it.
    first: &'static str,
    mark: &'static str,
    percent: &'t str,
    symbol: &'t str,
    gap_before: bool,
    gap_behind: bool,
}

const GAP: &str = "\u{a0}";

impl Around<'_> {
    pub(super) fn write_before(&self, output: &mut dyn fmt::Write) -> fmt::Result {
        if !self.first.is_empty() {
            output.write_str(self.first)?;
        }
        self.fill(self.prefix, output)?;
        if self.gap_before { output.write_str(GAP) } else { Ok(()) }
    }

    pub(super) fn write_behind(&self, output: &mut dyn fmt::Write) -> fmt::Result {
        if self.gap_behind {
            output.write_str(GAP)?;
        }
        self.fill(self.suffix, output)
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
                '-' if !quoted => output.write_str(self.mark)?,
                '%' if !quoted => output.write_str(self.percent)?,
                '¤' if !quoted => output.write_str(self.symbol)?,
                sign => output.write_char(sign)?,
            }
        }
        if rest.is_empty() { Ok(()) } else { output.write_str(rest) }
    }
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

    use super::{Affixes, NumberLocale, ShownSign, split};
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
            let around = Affixes::of(pattern).around(ShownSign::Minus, &locale, "Percent", "$");
            let (mut written, mut rest) = (String::new(), String::new());
            around.write_before(&mut written).expect("a text takes it");
            around.write_behind(&mut rest).expect("a text takes it");
            assert_eq!((&*written, &*rest), (before, behind), "{pattern}");
        }
    }
}
