//! What messages require of the program that formats them.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use crow_fly_cldr::formats::{CURRENCIES, NUMBERS};
use crow_fly_cldr::keys::{currencies, key};

use super::MarkupTag;
use super::function::custom::Functions;
use super::function::registry::BuiltIn;
use super::model::{Element, Expression, Message, Operand, Setting};
use crate::calendar::{Calendar, CalendarChoice};
use crate::data;
use crate::locale_texts::locale_in;
use crate::number::Unit;
use crate::suggest::nearest;
use crate::tag::LanguageTag;

/// What messages require of the program that formats them: functions, markup, and the data of currencies, units, calendars and
/// locales.
///
/// What is named by an argument when the message is formatted is not known here.
///
/// ```
/// use crow_fly_core::message::{Functions, Message, Requirements};
///
/// let mut required = Requirements::default();
/// required.add(&Message::parse("{$fare :currency currency=EUR} by the {$tide :harbour:tide}")?);
/// assert_eq!(required.currencies().collect::<Vec<_>>(), ["EUR"]);
/// let lacking = required.lacking(&Functions::new(), |_| false);
/// assert_eq!(lacking[0].to_string(), "the function `:harbour:tide`");
/// # Ok::<(), crow_fly_core::message::MessageErrors>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[serde(default)]
pub struct Requirements {
    functions: BTreeSet<String>,
    currencies: BTreeSet<String>,
    units: BTreeSet<String>,
    locales: BTreeSet<String>,
    /// Left out where there is none: releases of before have the same id.
    #[serde(skip_serializing_if = "BTreeSet::is_empty")]
    markup: BTreeSet<String>,
    /// Left out where there is none, for the same reason.
    #[serde(skip_serializing_if = "BTreeSet::is_empty")]
    calendars: BTreeSet<String>,
}

/// Something that a program lacks.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Lacking {
    /// A function, with the name of one that is near.
    Function(String, Option<String>),
    /// A currency.
    Currency(String),
    /// A unit.
    Unit(String),
    /// The data of a locale.
    Locale(String),
    /// Markup that becomes nothing in HTML.
    Markup(String),
    /// The names of a calendar.
    Calendar(String),
}

impl Requirements {
    /// Adds what a message requires.
    pub fn add(&mut self, message: &Message) {
        for expression in message.declarations.iter().map(|declaration| &declaration.value) {
            self.expression(expression);
        }
        for element in message.patterns().flatten() {
            match element {
                Element::Text(_) => {}
                Element::Expression(expression) => self.expression(expression),
                Element::Markup(markup) => {
                    if !MarkupTag::is_element(&markup.name) {
                        self.markup.insert(markup.name.to_string());
                    }
                    self.options("", &markup.options);
                }
            }
        }
    }

    /// Adds a locale whose texts are formatted, where this program has data of it: one without data is formatted like
    /// no language in particular, in any program.
    pub fn add_locale(&mut self, tag: &LanguageTag) {
        let calendar = CalendarChoice::of(tag).calendar();
        if calendar != Calendar::Gregorian {
            self.calendars.insert(calendar.id().to_owned());
        }
        let tag = tag.to_string();
        if has_locale(&tag) {
            self.locales.insert(tag);
        }
    }

    fn expression(&mut self, expression: &Expression) {
        let Some(function) = &expression.function else { return };
        if !self.functions.contains(function.name.as_str()) {
            self.functions.insert(function.name.to_string());
        }
        self.options(&function.name, &function.options);
    }

    fn options(&mut self, function: &str, options: &[Setting]) {
        for option in options {
            let Operand::Literal(value) = &option.value else { continue };
            let set = match (function, option.name.as_str()) {
                (_, "u:locale") if has_locale(value) => &mut self.locales,
                ("currency", "currency") => &mut self.currencies,
                ("unit", "unit") => &mut self.units,
                (_, "calendar")
                    if Calendar::named(value).is_some_and(|named| named != Calendar::Gregorian) =>
                {
                    &mut self.calendars
                }
                _ => continue,
            };
            set.insert(value.to_string());
        }
    }

    /// The functions, by name.
    pub fn functions(&self) -> impl Iterator<Item = &str> {
        self.functions.iter().map(String::as_str)
    }

    /// The currencies: ISO 4217 codes.
    pub fn currencies(&self) -> impl Iterator<Item = &str> {
        self.currencies.iter().map(String::as_str)
    }

    /// The units, as CLDR names them.
    pub fn units(&self) -> impl Iterator<Item = &str> {
        self.units.iter().map(String::as_str)
    }

    /// The locales: language tags.
    pub fn locales(&self) -> impl Iterator<Item = &str> {
        self.locales.iter().map(String::as_str)
    }

    /// The calendars, but for the Gregorian one: identifiers such as `persian`.
    pub fn calendars(&self) -> impl Iterator<Item = &str> {
        self.calendars.iter().map(String::as_str)
    }

    /// The markup that is no element of HTML that is let through, by name.
    pub fn markup(&self) -> impl Iterator<Item = &str> {
        self.markup.iter().map(String::as_str)
    }

    /// What this program lacks of it. `functions` are the application's own, and `has_markup` says of which markup the
    /// application makes something.
    pub fn lacking(&self, functions: &Functions, has_markup: impl Fn(&str) -> bool) -> Vec<Lacking> {
        let has_function = |name: &str| BuiltIn::named(name).is_some() || functions.get(name).is_some();
        let unknown_functions = self.functions().filter(|name| !has_function(name)).map(|name| {
            let known = functions.names().chain(BuiltIn::NAMES.iter().copied()).map(ToOwned::to_owned);
            Lacking::Function(name.to_owned(), nearest(name, known))
        });
        let unknown_currencies = self.currencies().filter(|code| !is_currency(code));
        let unknown_units = self.units().filter(|unit| Unit::read(unit).is_none());
        let unknown_locales = self.locales().filter(|tag| !has_locale(tag));
        let has_calendar = |id: &str| Calendar::named(id).is_some_and(Calendar::is_available);
        let unknown_calendars = self.calendars().filter(|id| !has_calendar(id));
        unknown_functions
            .chain(unknown_currencies.map(|code| Lacking::Currency(code.to_owned())))
            .chain(unknown_units.map(|unit| Lacking::Unit(unit.to_owned())))
            .chain(unknown_locales.map(|tag| Lacking::Locale(tag.to_owned())))
            .chain(
                self.markup().filter(|name| !has_markup(name)).map(|name| Lacking::Markup(name.to_owned())),
            )
            .chain(unknown_calendars.map(|id| Lacking::Calendar(id.to_owned())))
            .collect()
    }
}

/// Whether there is a currency of this code.
pub(crate) fn is_currency(code: &str) -> bool {
    let code = code.to_ascii_uppercase();
    CURRENCIES.key(&key(&[&code, currencies::NAME])).is_some()
}

fn has_locale(tag: &str) -> bool {
    LanguageTag::parse(tag).is_ok_and(|tag| locale_in(NUMBERS, &tag).is_some() && !data::is_left_out(&tag))
}

impl fmt::Display for Lacking {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Function(name, None) => write!(f, "the function `:{name}`"),
            Self::Function(name, Some(near)) => write!(f, "the function `:{name}` (is it `:{near}`?)"),
            Self::Currency(code) => write!(f, "the currency `{code}`"),
            Self::Unit(unit) => write!(f, "the unit `{unit}`"),
            Self::Locale(tag) => write!(f, "the data of the locale `{tag}`"),
            Self::Markup(name) => write!(f, "the markup `{{#{name}}}`"),
            Self::Calendar(id) => {
                write!(f, "the calendar `{id}` (the feature `calendars`, or data of locales with it)")
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_a_message_requires_is_known_from_its_source() {
        let mut required = Requirements::default();
        for source in [
            "{$n :number} {$fare :currency currency=EUR} {5 :unit unit=knot}",
            ".input {$n :integer u:locale=cy} .match $n one {{{$n :crow:compact}}} * {{{$x}}}",
            "{#link to=|/trip| u:locale=pl}{$unit :unit unit=$unit}{/link}",
            "{$d :date calendar=coptic} {$d :date calendar=gregory}",
            "{$m :currency currency=XXQ} {1 :unit unit=saltmarsh} {:harbour:tide} {$x :nunber} {$d :date u:locale=zzz}",
        ] {
            required.add(&Message::parse(source).expect("it is a message"));
        }
        required.add_locale(&"ar".parse().expect("it is a tag"));
        required.add_locale(&"fa".parse().expect("it is a tag"));
        assert_eq!(required.calendars().collect::<Vec<_>>(), ["coptic", "persian"]);
        required.calendars.clear();
        assert_eq!(required.currencies().collect::<Vec<_>>(), ["EUR", "XXQ"]);
        assert_eq!(required.units().collect::<Vec<_>>(), ["knot", "saltmarsh"]);
        assert_eq!(required.locales().collect::<Vec<_>>(), ["ar", "cy", "fa", "pl"]);
        let lacking: Vec<String> = required
            .lacking(&Functions::new(), |name| name == "link")
            .iter()
            .map(ToString::to_string)
            .collect();
        assert_eq!(
            lacking,
            [
                "the function `:harbour:tide`",
                "the function `:nunber` (is it `:number`?)",
                "the currency `XXQ`",
                "the unit `saltmarsh`",
            ]
        );
        let later: Requirements =
            serde_json::from_str(r#"{"locales": ["zzz"], "new": 1}"#).expect("it is JSON");
        assert_eq!(later.lacking(&Functions::new(), |_| true)[0].to_string(), "the data of the locale `zzz`");
        let later: Requirements =
            serde_json::from_str(r#"{"calendars": ["saltmarsh"]}"#).expect("it is JSON");
        let lacking = later.lacking(&Functions::new(), |_| true);
        assert!(matches!(lacking.as_slice(), [Lacking::Calendar(id)] if id == "saltmarsh"), "{lacking:?}");
    }
}
