//! From one number to another (UTS #35 part 3, "Miscellaneous Patterns").
//!
//! What both ends share around their digits stands once where it has more than one character, and with each otherwise:
//! `3,00–5,00 €`, `€3.00 – €5.00`. Signs stand with each. Words of a unit or a currency stand once.

use alloc::string::String;

use super::format::{NumberFormat, NumberLocale};
use super::pattern::Marks;
use super::style::{ABOUT, Form, NumberPatterns, RANGE, Shown, Style};
use super::{Category, Decimal};
use crate::tag::LanguageTag;

/// From one number to another.
#[derive(Clone, Copy, Debug)]
pub(crate) struct NumberRange<'n> {
    pub(crate) start: &'n Decimal,
    pub(crate) end: &'n Decimal,
}

/// One end, as it is written alone.
struct End {
    before: String,
    digits: String,
    after: String,
    is_signed: bool,
}

impl End {
    fn text(&self) -> String {
        [&*self.before, &self.digits, &self.after].concat()
    }

    /// Whether what stands around the digits of both ends may stand once.
    fn shares_affixes(&self, other: &Self) -> bool {
        let affixes = || self.before.chars().chain(self.after.chars());
        self.before == other.before
            && self.after == other.after
            && affixes().nth(1).is_some()
            && !(self.is_signed || self.digits.is_empty() || other.digits.is_empty())
    }
}

impl NumberPatterns {
    /// The text of a range, and the plural category of the whole.
    pub(crate) fn range_text(
        &self,
        style: Style,
        format: NumberFormat,
        range: NumberRange<'_>,
        locale: &NumberLocale,
        tag: &LanguageTag,
    ) -> (String, Category) {
        let shown = [range.start, range.end].map(|number| self.shown(style, format, number));
        let end = |shown: &Shown, about| {
            let marks = Marks { about, sign: format.shown_sign(&shown.number) };
            let (around, locale) = self.around(&style, shown, marks, locale);
            let [before, after] = around.texts();
            let mut digits = String::new();
            if around.has_digits {
                // Writing to a `String` does not fail.
                let _ = format.write_digits(&shown.number, &locale, &mut digits);
            }
            End { before, digits, after, is_signed: around.is_signed }
        };
        let [first, last] = shown.each_ref().map(|shown| end(shown, ""));
        let (text, form, category) = if first.text() == last.text() {
            // One number, or about one.
            let [shown, _] = &shown;
            let about = if range.start.same_value(range.end) {
                ""
            } else {
                self.by_system(ABOUT, locale).unwrap_or("~")
            };
            (end(shown, about).text(), self.form_of(shown), self.category(shown))
        } else {
            let [start, end] = shown.each_ref().map(|shown| self.category(shown));
            let category = self.rules.category_of_range(tag, start, end);
            let pattern = self.by_system(RANGE, locale).unwrap_or("{0}–{1}");
            (joined(pattern, &first, &last), Form::from(category), category)
        };
        (self.in_words(style, form, &text), category)
    }
}

/// Both ends by a pattern such as `{0}–{1}`.
fn joined(pattern: &str, first: &End, last: &End) -> String {
    let (before, rest) = pattern.split_once("{0}").unwrap_or(("", pattern));
    let (between, after) = rest.split_once("{1}").unwrap_or((rest, ""));
    if first.shares_affixes(last) {
        return [before, &first.before, &first.digits, between, &last.digits, &last.after, after].concat();
    }
    // Signs and symbols between the ends keep their distance from what joins them.
    let is_bare = first.before.is_empty() && first.after.is_empty();
    let gap = |is_there: bool| if is_bare || is_there { "" } else { " " };
    let gaps = [gap(between.starts_with(char::is_whitespace)), gap(between.ends_with(char::is_whitespace))];
    [before, &first.text(), gaps[0], between, gaps[1], &last.text(), after].concat()
}
