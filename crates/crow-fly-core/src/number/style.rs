//! Numbers that are more than digits: percents, money, units, compact forms (UTS #35 part 3 and part 6, "Unit
//! Preferences" aside).

use alloc::borrow::ToOwned;
use alloc::string::String;
use core::fmt;

use crow_fly_cldr::formats::{CURRENCIES, NUMBERS, UNITS};
use crow_fly_cldr::keys::{EXPLICIT, OTHER, currencies, key, numbers as keys, units};
use crow_fly_cldr::supplement::currency_digits;
use crow_fly_cldr::texts::{Key, LocaleTexts};

use super::format::{NumberFormat, NumberLocale};
use super::pattern::{Affixes, Around, Marks};
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

impl Style {
    /// Whether words stand around the whole: those of a unit, or the name of a currency.
    const fn has_words(self) -> bool {
        matches!(self, Self::Unit(..) | Self::Money(MoneyStyle { display: CurrencyDisplay::Name, .. }))
    }
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
    /// Every width by its name.
    pub(crate) const NAMES: [(&'static str, Self); 3] = [
        (Self::Long.as_str(), Self::Long),
        (Self::Short.as_str(), Self::Short),
        (Self::Narrow.as_str(), Self::Narrow),
    ];

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
pub(super) struct SystemText {
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
pub(super) const ABOUT: SystemText = SystemText::constant(keys::ABOUT);
pub(super) const RANGE: SystemText = SystemText::constant(keys::RANGE);
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
    pub(super) rules: PluralRules,
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

/// Which form of a word a number takes.
#[derive(Clone, Copy)]
pub(super) struct Form {
    category: Category,
    /// The exact number, where texts may have a form for it.
    exact: Option<&'static str>,
}

impl Form {
    pub(super) fn of(category: Category, number: &Decimal) -> Self {
        let [zero, one] = EXPLICIT;
        let exact = match number.integer_digits() {
            _ if number.is_negative() || !number.is_integer() => None,
            [] => Some(zero),
            [1] => Some(one),
            _ => None,
        };
        Self { category, exact }
    }
}

impl From<Category> for Form {
    fn from(category: Category) -> Self {
        Self { category, exact: None }
    }
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

    /// The pattern of a duration as a clock shows it, by its fields: `hms`.
    pub(crate) fn clock(&self, fields: &str) -> &'static str {
        let own = UNITS.key(&key(&[units::CLOCK, fields])).and_then(|key| self.units?.find(key));
        own.unwrap_or(match fields {
            "hm" => "h:mm",
            "ms" => "m:ss",
            _ => "h:mm:ss",
        })
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
        if style == Style::Plain {
            return format.write_rounded(number, locale, output);
        }
        let marks = Marks { about: "", sign: format.shown_sign(number) };
        let (around, locale) = self.around(&style, shown, marks, locale);
        if style.has_words() {
            let [before, after] = around.texts();
            let mut text = before;
            format.write_digits(number, &locale, &mut text)?;
            text.push_str(&after);
            return output.write_str(&self.in_words(style, self.form_of(shown), &text));
        }
        if around.is_trimmed {
            let [before, after] = around.texts();
            output.write_str(&before)?;
            format.write_digits(number, &locale, output)?;
            return output.write_str(&after);
        }
        around.write_before(output)?;
        if around.has_digits {
            format.write_digits(number, &locale, output)?;
        }
        around.write_after(output)
    }

    /// What stands around the digits of a number, and the locale that writes those.
    #[inline]
    pub(super) fn around<'s>(
        &'s self,
        style: &'s Style,
        shown: &Shown,
        marks: Marks,
        locale: &NumberLocale,
    ) -> (Around<'s>, NumberLocale) {
        match style {
            Style::Plain | Style::Unit(..) => (Around::marks(marks, locale), *locale),
            Style::Percent => {
                let pattern = self.by_system(PERCENT, locale).unwrap_or("#,##0%");
                let percent = self.by_system(PERCENT_SIGN, locale).unwrap_or("%");
                let affixes = Affixes::of(pattern);
                (affixes.around(marks, locale, percent, ""), affixes.grouped(locale))
            }
            Style::Money(money) => self.around_money(money, marks, locale),
            // The pattern has no groups: those of the locale count.
            Style::Compact(_) => match shown.compact {
                Some(pattern) => (Affixes::of(pattern).around(marks, locale, "", ""), *locale),
                None => (Around::marks(marks, locale), *locale),
            },
        }
    }

    /// A number, or a range of them, with the words that its style has around the whole.
    pub(super) fn in_words(&self, style: Style, form: Form, text: &str) -> String {
        match style {
            Style::Unit(unit, width) => self.with_unit(unit, width, form, text),
            Style::Money(money) if money.display == CurrencyDisplay::Name => {
                let code = money.currency.as_str();
                let name = Self::form(self.currencies, &[code], form)
                    .or_else(|| self.currencies?.get(&key(&[code, currencies::NAME])))
                    .unwrap_or(code);
                let pattern = Self::form(self.numbers, &[keys::MONEY_UNIT], form).unwrap_or("{0} {1}");
                pattern.replace("{0}", text).replace("{1}", name)
            }
            _ => text.to_owned(),
        }
    }

    /// The form of words that a number takes.
    pub(super) fn form_of(&self, shown: &Shown) -> Form {
        Form::of(self.category(shown), &shown.number)
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
    pub(super) fn by_system(&self, text: SystemText, locale: &NumberLocale) -> Option<&'static str> {
        self.of_system(text, locale).or_else(|| self.numbers?.find(text.latin))
    }

    /// The text for an exact number, else for a category, else for all others.
    fn form(texts: Option<LocaleTexts>, before: &[&str], form: Form) -> Option<&'static str> {
        let texts = texts?;
        let get = |count| texts.get(&key(&[before, &[count]].concat()));
        form.exact.and_then(get).or_else(|| get(form.category.as_str())).or_else(|| get(OTHER))
    }

    #[inline]
    fn around_money<'s>(
        &'s self,
        MoneyStyle { currency, display, accounting }: &'s MoneyStyle,
        marks: Marks,
        locale: &NumberLocale,
    ) -> (Around<'s>, NumberLocale) {
        let latin = Some(self.money).filter(|_| locale.pattern_system() == keys::LATIN);
        let locale = latin.map_or(*locale, |money| locale.with_signs(money.decimal, money.group));
        let code = currency.as_str();
        let text = |key: &str| self.currencies.and_then(|texts| texts.get(key));
        let usual_symbol = || self.currencies.zip(currency.symbol).and_then(|(texts, key)| texts.find(key));
        let symbol = match display {
            CurrencyDisplay::Name => return (Around::marks(marks, &locale), locale),
            CurrencyDisplay::Code => code,
            CurrencyDisplay::Never => "",
            CurrencyDisplay::Narrow => {
                text(&key(&[code, currencies::NARROW])).or_else(usual_symbol).unwrap_or(code)
            }
            CurrencyDisplay::Symbol => usual_symbol().unwrap_or(code),
        };
        let (usual, next_to_letters) =
            if *accounting { (ACCOUNTING, ACCOUNTING_ALPHA) } else { (MONEY, MONEY_ALPHA) };
        let read = || Affixes::of(self.by_system(usual, &locale).unwrap_or("¤\u{a0}#,##0.00"));
        let ready = latin.filter(|_| !accounting).and_then(|money| money.pattern);
        let mut affixes = ready.unwrap_or_else(read);
        // A letter next to the digits has a pattern of its own in some locales.
        let next =
            if affixes.has_symbol_first() { symbol.chars().next_back() } else { symbol.chars().next() };
        if next.is_some_and(char::is_alphabetic) {
            affixes = self.of_system(next_to_letters, &locale).map_or(affixes, Affixes::of);
        }
        let mut around = affixes.around(marks, &locale, "", symbol);
        // Without its symbol a pattern keeps no space for it.
        around.is_trimmed = symbol.is_empty();
        (around, affixes.grouped(&locale))
    }

    fn with_unit(&self, unit: Unit, width: Width, form: Form, number: &str) -> String {
        let width = width.as_str();
        let pattern = |name: &str, form| Self::form(self.units, &[name, width], form).unwrap_or("{0}");
        let amount = pattern(&Unit::name(unit.name), form).replace("{0}", number);
        let Some(per) = unit.per.map(Unit::name) else { return amount };
        let text = |parts: &[&str]| self.units.and_then(|texts| texts.get(&key(parts)));
        if let Some(pattern) = text(&[&per, width, units::PER]) {
            return pattern.replace("{0}", &amount);
        }
        let name = pattern(&per, Category::One.into()).replace("{0}", "").trim().to_owned();
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
        let form = Form::of(self.rules.category(&shown), &shown);
        let compact = self.compact_form(width, zeros, form);
        Shown { number: shown, exponent: u32::try_from(exponent).unwrap_or(0), compact }
    }

    /// How a number of a power of ten is written compactly; none where it is written whole.
    fn magnitude(&self, width: Width, magnitude: i32) -> Option<Magnitude> {
        // Patterns exist for thousands to hundreds of trillions.
        let zeros = u32::try_from(magnitude).ok()?.min(keys::MAGNITUDES.end - 1);
        let pattern =
            self.compact_form(width, zeros, Category::Other.into()).filter(|pattern| *pattern != "0")?;
        let digits = pattern.split(';').next().unwrap_or_default().matches('0').count();
        let exponent = isize::try_from(zeros).ok()? + 1 - isize::try_from(digits).ok()?;
        (exponent >= 0).then_some(Magnitude { zeros, exponent })
    }

    fn compact_form(&self, width: Width, zeros: u32, form: Form) -> Option<&'static str> {
        let name = if width == Width::Long { keys::COMPACT_LONG } else { keys::COMPACT_SHORT };
        let zeros = keys::MAGNITUDES.contains(&zeros).then(|| alloc::format!("{zeros}"))?;
        Self::form(self.numbers, &[name, &zeros], form)
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
