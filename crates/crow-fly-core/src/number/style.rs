//! Numbers that are more than digits: percents, money, units, compact forms (UTS #35 part 3 and part 6, "Unit
//! Preferences" aside).

use alloc::borrow::ToOwned;
use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::{CURRENCIES, NUMBERS, UNITS};
use crow_fly_cldr::keys::{OTHER, currencies, key, numbers as keys, units};
use crow_fly_cldr::supplement::currency_digits;
use crow_fly_cldr::texts::{Key, LocaleTexts};

use super::format::{NumberFormat, NumberLocale};
use super::pattern::Affixes;
use super::{Category, Decimal, Digits, PluralRules};
use crate::locale_texts;
use crate::parse_error::parse_by_read;
use crate::tag::LanguageTag;

/// What a number is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Style {
    /// Only a number.
    #[default]
    Plain,
    /// A share of one, written in hundredths.
    Percent,
    /// An amount of money.
    Money(MoneyStyle),
    /// An amount of a unit.
    Unit(Unit, Width),
    /// A rounded number, with a power of ten in words or letters.
    Compact(Width),
}

/// How an amount of money is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct MoneyStyle {
    /// Of what.
    pub currency: Currency,
    /// How the currency is shown.
    pub display: CurrencyDisplay,
    /// Whether negative amounts are shown as in accounts, mostly in brackets.
    pub accounting: bool,
}

/// The signs that a pattern has places for.
#[derive(Clone, Copy)]
struct Signs<'s> {
    percent: &'s str,
    currency: &'s str,
}

impl Signs<'_> {
    const NONE: Self = Self { percent: "", currency: "" };
}

/// An ISO 4217 code: three letters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Currency {
    code: [u8; 3],
    digits: u8,
    /// The key of its symbol, where CLDR knows the currency.
    symbol: Option<Key>,
}

impl Currency {
    pub(crate) fn read(code: &str) -> Option<Self> {
        let code: [u8; 3] = code.as_bytes().try_into().ok()?;
        if !code.iter().all(u8::is_ascii_alphabetic) {
            return None;
        }
        let code = code.map(|letter| letter.to_ascii_uppercase());
        let text = core::str::from_utf8(&code).ok()?;
        Some(Self { code, digits: currency_digits(text), symbol: CURRENCIES.key(text) })
    }

    /// The code.
    pub fn as_str(&self) -> &str {
        core::str::from_utf8(&self.code).unwrap_or_default()
    }

    /// How many digits an amount has behind the decimal sign.
    pub const fn digits(self) -> u8 {
        self.digits
    }
}

parse_by_read!(
    Currency,
    "a currency",
    "write the three letters of its ISO 4217 code, such as `EUR`",
    "Reads a code, in any case."
);

parse_by_read!(
    Unit,
    "a unit that CLDR has",
    "write its identifier, such as `kilometer` or `kilometer-per-hour`",
    "Reads an identifier: `kilometer`, `kilometer-per-hour`."
);

/// How a currency is shown.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum CurrencyDisplay {
    /// Its symbol in the locale: `US$` in Canada.
    #[default]
    Symbol,
    /// The shortest symbol: `$`, though several currencies share it.
    Narrow,
    /// Its code.
    Code,
    /// Its name: `3 US dollars`.
    Name,
    /// Not at all.
    Never,
}

/// A unit that CLDR has patterns for, or one by another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Unit {
    /// The key of its usual long form.
    name: Key,
    per: Option<Key>,
}

impl Unit {
    pub(crate) fn read(name: &str) -> Option<Self> {
        let known = |name: &str| UNITS.key(&key(&[name, units::LONG, OTHER]));
        if let Some(name) = known(name) {
            return Some(Self { name, per: None });
        }
        let (name, per) = name.split_once("-per-")?;
        Some(Self { name: known(name)?, per: Some(known(per)?) })
    }

    fn name(key: Key) -> String {
        UNITS.key_text(key).and_then(|key| Some(key.split_once('/')?.0.into())).unwrap_or_default()
    }
}

/// From one number to another.
#[derive(Clone, Copy, Debug)]
pub(crate) struct NumberRange<'n> {
    pub(crate) start: &'n Decimal,
    pub(crate) end: &'n Decimal,
}

/// How much room a text takes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Width {
    /// Words.
    Long,
    /// Abbreviations.
    #[default]
    Short,
    /// As little as can be.
    Narrow,
}

impl Width {
    pub(crate) const fn as_str(self) -> &'static str {
        match self {
            Self::Long => "long",
            Self::Short => "short",
            Self::Narrow => "narrow",
        }
    }
}

/// A text that depends on the numbering system: its name, and its key for Latin digits, which nearly all numbers have.
#[derive(Clone, Copy)]
struct SystemText {
    name: &'static str,
    latin: Key,
}

impl SystemText {
    const fn constant(name: &'static str) -> Self {
        Self { name, latin: NUMBERS.constant(&[name, keys::LATIN]) }
    }
}

const PERCENT: SystemText = SystemText::constant(keys::PERCENT);
const PERCENT_SIGN: SystemText = SystemText::constant(keys::PERCENT_SIGN);
const RANGE: SystemText = SystemText::constant(keys::RANGE);
const MONEY: SystemText = SystemText::constant(keys::MONEY);
const MONEY_ALPHA: SystemText = SystemText::constant(keys::MONEY_ALPHA);
const MONEY_DECIMAL: SystemText = SystemText::constant(keys::MONEY_DECIMAL);
const MONEY_GROUP: SystemText = SystemText::constant(keys::MONEY_GROUP);
const ACCOUNTING: SystemText = SystemText::constant(keys::ACCOUNTING);
const ACCOUNTING_ALPHA: SystemText = SystemText::constant(keys::ACCOUNTING_ALPHA);

/// What a locale writes around numbers.
#[derive(Clone, Copy, Debug)]
pub struct NumberPatterns {
    numbers: Option<LocaleTexts>,
    currencies: Option<LocaleTexts>,
    units: Option<LocaleTexts>,
    rules: PluralRules,
    money: LatinMoney,
}

/// How money is written in Latin digits, which nearly all is: read once. Only those have signs of their own for it.
#[derive(Clone, Copy, Debug)]
struct LatinMoney {
    pattern: Option<Affixes>,
    decimal: Option<&'static str>,
    group: Option<&'static str>,
}

/// How large a compact number is.
#[derive(Clone, Copy, PartialEq)]
struct Magnitude {
    /// The zeros of the pattern it has.
    zeros: u32,
    /// The power of ten that is written in words.
    exponent: isize,
}

/// A number ready to be written: its digits as they are shown.
pub(crate) struct Shown {
    pub(crate) number: Decimal,
    /// The power of ten that is written in words.
    exponent: u32,
    compact: Option<&'static str>,
}

impl NumberPatterns {
    /// The texts of a tag.
    pub fn of(tag: &LanguageTag, rules: PluralRules) -> Self {
        let numbers = locale_texts::find(NUMBERS, tag);
        let latin = |text: SystemText| numbers.and_then(|texts| texts.find(text.latin));
        Self {
            money: LatinMoney {
                pattern: latin(MONEY).map(Affixes::of),
                decimal: latin(MONEY_DECIMAL),
                group: latin(MONEY_GROUP),
            },
            numbers,
            currencies: locale_texts::find(CURRENCIES, tag),
            units: locale_texts::find(UNITS, tag),
            rules,
        }
    }

    /// Writes a number in a style.
    ///
    /// # Errors
    /// Those of the output.
    pub fn write(
        &self,
        style: Style,
        format: NumberFormat,
        number: &Decimal,
        locale: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        let shown = self.shown(style, format, number);
        self.write_shown(style, format, &shown, locale, output)
    }

    /// The digits that are shown, and the power of ten in words.
    pub(crate) fn shown(&self, style: Style, format: NumberFormat, number: &Decimal) -> Shown {
        match style {
            Style::Percent => {
                let mut number = number.clone();
                number.shift(2);
                Shown { number: format.rounded(&number), exponent: 0, compact: None }
            }
            Style::Compact(width) => self.compact(width, format, number),
            _ => Shown { number: format.rounded(number), exponent: 0, compact: None },
        }
    }

    /// The plural category of what is shown.
    pub(crate) fn category(&self, shown: &Shown) -> Category {
        self.compact_category(&shown.number, shown.exponent)
    }

    /// The category of a number of so many powers of ten: that of the whole value.
    fn compact_category(&self, number: &Decimal, exponent: u32) -> Category {
        let mut whole = number.clone();
        // Exponents of patterns are below twenty.
        whole.shift(isize::try_from(exponent).unwrap_or(0));
        self.rules.category_of_compact(&whole, exponent)
    }

    pub(crate) fn write_shown(
        &self,
        style: Style,
        format: NumberFormat,
        shown: &Shown,
        locale: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        let number = &shown.number;
        match style {
            Style::Plain => format.write_rounded(number, locale, output),
            Style::Percent => {
                let pattern = self.by_system(PERCENT, locale).unwrap_or("#,##0%");
                let percent = self.by_system(PERCENT_SIGN, locale).unwrap_or("%");
                let affixes = Affixes::of(pattern);
                write_affixed(
                    affixes,
                    format,
                    number,
                    &affixes.grouped(locale),
                    Signs { percent, currency: "" },
                    output,
                )
            }
            Style::Money(money) => self.write_money(money, format, number, locale, output),
            Style::Unit(unit, width) => {
                let mut text = String::new();
                format.write_rounded(number, locale, &mut text)?;
                output.write_str(&self.with_unit(unit, width, self.category(shown), &text))
            }
            Style::Compact(_) => {
                let Some(pattern) = shown.compact else {
                    return format.write_rounded(number, locale, output);
                };
                // The pattern has no groups: those of the locale count.
                write_affixed(Affixes::of(pattern), format, number, locale, Signs::NONE, output)
            }
        }
    }

    /// A text that depends on the numbering system, of exactly this one.
    fn of_system(&self, text: SystemText, locale: &NumberLocale) -> Option<&'static str> {
        let (texts, system) = (self.numbers?, locale.pattern_system());
        if system == keys::LATIN {
            return texts.find(text.latin);
        }
        texts.get(&key(&[text.name, system]))
    }

    /// The same; where the system has none, that of Latin digits.
    fn by_system(&self, text: SystemText, locale: &NumberLocale) -> Option<&'static str> {
        self.of_system(text, locale).or_else(|| self.numbers?.find(text.latin))
    }

    /// The form for a category, or the one for all others.
    fn form(texts: Option<LocaleTexts>, before: &[&str], category: Category) -> Option<&'static str> {
        let texts = texts?;
        let get = |category| texts.get(&key(&[before, &[category]].concat()));
        get(category.as_str()).or_else(|| get(OTHER))
    }

    fn write_money(
        &self,
        MoneyStyle { currency, display, accounting }: MoneyStyle,
        format: NumberFormat,
        number: &Decimal,
        locale: &NumberLocale,
        output: &mut dyn fmt::Write,
    ) -> fmt::Result {
        let latin = Some(self.money).filter(|_| locale.pattern_system() == keys::LATIN);
        let locale = &latin.map_or(*locale, |money| locale.with_signs(money.decimal, money.group));
        let code = currency.as_str();
        let text = |key: &str| self.currencies.and_then(|texts| texts.get(key));
        let usual_symbol = || self.currencies.zip(currency.symbol).and_then(|(texts, key)| texts.find(key));
        if display == CurrencyDisplay::Name {
            let category = self.rules.category(number);
            let name = Self::form(self.currencies, &[code], category)
                .or_else(|| text(&key(&[code, currencies::NAME])))
                .unwrap_or(code);
            let pattern = Self::form(self.numbers, &[keys::MONEY_UNIT], category).unwrap_or("{0} {1}");
            let mut digits = String::new();
            format.write_rounded(number, locale, &mut digits)?;
            return output.write_str(&pattern.replace("{0}", &digits).replace("{1}", name));
        }
        let symbol = match display {
            CurrencyDisplay::Code => code,
            CurrencyDisplay::Never => "",
            CurrencyDisplay::Narrow => {
                text(&key(&[code, currencies::NARROW])).or_else(usual_symbol).unwrap_or(code)
            }
            _ => usual_symbol().unwrap_or(code),
        };
        let (usual, next_to_letters) =
            if accounting { (ACCOUNTING, ACCOUNTING_ALPHA) } else { (MONEY, MONEY_ALPHA) };
        let read = || Affixes::of(self.by_system(usual, locale).unwrap_or("¤\u{a0}#,##0.00"));
        let ready = latin.filter(|_| !accounting).and_then(|money| money.pattern);
        let mut affixes = ready.unwrap_or_else(read);
        // A letter next to the digits has a pattern of its own in some locales.
        let next =
            if affixes.has_symbol_first() { symbol.chars().next_back() } else { symbol.chars().next() };
        if next.is_some_and(char::is_alphabetic) {
            affixes = self.of_system(next_to_letters, locale).map_or(affixes, Affixes::of);
        }
        if !symbol.is_empty() {
            return write_affixed(
                affixes,
                format,
                number,
                &affixes.grouped(locale),
                Signs { percent: "", currency: symbol },
                output,
            );
        }
        // Without its symbol a pattern keeps no space for it.
        let around = affixes.around(format.shown_sign(number), locale, "", "");
        let (mut before, mut behind) = (String::new(), String::new());
        around.write_before(&mut before)?;
        around.write_behind(&mut behind)?;
        output.write_str(before.trim_matches(['\u{a0}', ' ', '\u{202f}']))?;
        format.write_digits(number, &affixes.grouped(locale), output)?;
        output.write_str(behind.trim_matches(['\u{a0}', ' ', '\u{202f}']))
    }

    fn with_unit(&self, unit: Unit, width: Width, category: Category, number: &str) -> String {
        let width = width.as_str();
        let pattern =
            |name: &str, category| Self::form(self.units, &[name, width], category).unwrap_or("{0}");
        let amount = pattern(&Unit::name(unit.name), category).replace("{0}", number);
        let Some(per) = unit.per.map(Unit::name) else { return amount };
        let text = |parts: &[&str]| self.units.and_then(|texts| texts.get(&key(parts)));
        if let Some(pattern) = text(&[&per, width, units::PER]) {
            return pattern.replace("{0}", &amount);
        }
        let name = pattern(&per, Category::One).replace("{0}", "").trim().to_owned();
        let joined = text(&[units::PER, width]).unwrap_or("{0}/{1}");
        joined.replace("{0}", &amount).replace("{1}", &name)
    }

    fn compact(&self, width: Width, format: NumberFormat, number: &Decimal) -> Shown {
        let scaled = |magnitude: Option<Magnitude>| {
            let mut number = number.clone();
            number.shift(magnitude.map_or(0, |magnitude| -magnitude.exponent));
            compact_digits(format, &number)
        };
        let mut magnitude = self.magnitude(width, number.magnitude());
        let mut shown = scaled(magnitude);
        // 999,999 becomes a million where it is rounded: the form is that of what is shown.
        let exponent = magnitude.map_or(0, |magnitude| magnitude.exponent);
        let rounded = i32::try_from(exponent).ok().map(|exponent| shown.magnitude() + exponent);
        let larger = rounded.and_then(|rounded| self.magnitude(width, rounded));
        if larger != magnitude {
            magnitude = larger;
            shown = scaled(magnitude);
        }
        let Some(Magnitude { zeros, exponent }) = magnitude else {
            return Shown { number: shown, exponent: 0, compact: None };
        };
        // The form goes by the number that is shown, "1 Million"; a message selects by the whole value.
        let category = self.rules.category(&shown);
        let compact = self.compact_form(width, zeros, category);
        Shown { number: shown, exponent: u32::try_from(exponent).unwrap_or(0), compact }
    }

    /// How a number of a power of ten is written compactly; none where it is written whole.
    fn magnitude(&self, width: Width, magnitude: i32) -> Option<Magnitude> {
        // Patterns exist for thousands to hundreds of trillions.
        let zeros = u32::try_from(magnitude).ok()?.min(keys::MAGNITUDES.end - 1);
        let pattern = self.compact_form(width, zeros, Category::Other).filter(|pattern| *pattern != "0")?;
        let digits = pattern.split(';').next().unwrap_or_default().matches('0').count();
        let exponent = isize::try_from(zeros).ok()? + 1 - isize::try_from(digits).ok()?;
        (exponent >= 0).then_some(Magnitude { zeros, exponent })
    }

    fn compact_form(&self, width: Width, zeros: u32, category: Category) -> Option<&'static str> {
        let name = if width == Width::Long { keys::COMPACT_LONG } else { keys::COMPACT_SHORT };
        let zeros = keys::MAGNITUDES.contains(&zeros).then(|| alloc::format!("{zeros}"))?;
        Self::form(self.numbers, &[name, &zeros], category)
    }

    /// From one number to another, and the plural category of the whole.
    pub(crate) fn range_text(
        &self,
        style: Style,
        format: NumberFormat,
        range: NumberRange<'_>,
        locale: &NumberLocale,
        tag: &LanguageTag,
    ) -> (String, Category) {
        let shown = [range.start, range.end].map(|number| self.shown(style, format, number));
        let [first, last] = shown.each_ref().map(|shown| self.category(shown));
        let category = self.rules.category_of_range(tag, first, last);
        // A unit is said once, behind both numbers; money and the like with each.
        let each = if matches!(style, Style::Unit(..)) { Style::Plain } else { style };
        let mut ends = [String::new(), String::new()];
        for (text, shown) in ends.iter_mut().zip(&shown) {
            // Writing to a `String` does not fail.
            let _ = self.write_shown(each, format, shown, locale, text);
        }
        let [start, end] = &ends;
        let joined = if start == end {
            start.clone()
        } else {
            let pattern = self.by_system(RANGE, locale).unwrap_or("{0}–{1}");
            pattern.replace("{0}", start).replace("{1}", end)
        };
        match style {
            Style::Unit(unit, width) => (self.with_unit(unit, width, category, &joined), category),
            _ => (joined, category),
        }
    }
}

/// Compact numbers have two significant digits, and all that stand before the decimal sign, unless digits are asked
/// for (ECMA-402).
fn compact_digits(format: NumberFormat, number: &Decimal) -> Decimal {
    if format.digits != NumberFormat::default().digits {
        return format.rounded(number);
    }
    let digits = if number.magnitude() >= 1 { Digits::Fraction(0, 0) } else { Digits::Significant(1, 2) };
    NumberFormat { digits, ..format }.rounded(number)
}

fn write_affixed(
    affixes: Affixes,
    format: NumberFormat,
    number: &Decimal,
    locale: &NumberLocale,
    signs: Signs<'_>,
    output: &mut dyn fmt::Write,
) -> fmt::Result {
    let around = affixes.around(format.shown_sign(number), locale, signs.percent, signs.currency);
    around.write_before(output)?;
    format.write_digits(number, locale, output)?;
    around.write_behind(output)
}
