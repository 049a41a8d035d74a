//! A message by itself: functions and options that do not exist.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use super::notation::Notations;
use super::parsed::Place;
use crate::calendar::{Calendar, CalendarChoice, CalendarDate};
use crate::datetime::DateValue;
use crate::message::model::{Expression, Function, Operand, Setting};
use crate::message::{Message, Program, WrongOption, is_currency};
use crate::number::Unit;
use crate::rule::Rule;
use crate::suggest::nearest;
use crate::tag::LanguageTag;

/// Checks the functions of a message, and their options. `is_alone` says that no reference has its variables.
pub(super) fn check(place: &mut Place<'_, '_>, message: &Message, is_alone: bool, notations: &Notations) {
    for function in message.expressions().filter_map(|expression| expression.function.as_ref()) {
        let is_known = Program::FUNCTIONS.contains(&function.name.as_str())
            || place.settings.functions().iter().any(|known| function.name == **known);
        // Where the application names none, functions in its namespaces are known to its code only.
        let own = function.name.split_once(':').is_some_and(|(namespace, _)| namespace != "crow");
        let is_trusted = own && place.settings.functions().is_empty();
        if !is_known && !is_trusted {
            let known = place.settings.functions();
            let (text, help, near) = unknown_function(function, known);
            let range = function.span.range();
            match near.map(|near| format!(":{near}")) {
                Some(near) => {
                    place.find_fixed(Rule::UnknownFunction, range.clone(), (range, &near), || (text, help));
                }
                None => place.find_at(Rule::UnknownFunction, range, || (text, help)),
            }
        }
    }
    let functions = message.expressions().filter_map(|expression| expression.function.as_ref());
    for expression in message.expressions() {
        let range = expression.span.range();
        // What is quoted is meant to be the words themselves.
        let is_quoted = place.entry.text().get(range.clone()).is_some_and(|text| text.contains('|'));
        if notations.has(&range) {
            continue;
        }
        if let Some(word) = name(expression).filter(|word| (is_alone && !is_quoted) || word.contains('.')) {
            place.find_at(Rule::WordInBraces, range, || {
                let name = word.rsplit('.').next().unwrap_or(word);
                let given = if name == word { name.to_owned() } else { format!("{name}: {word}") };
                (
                    format!("`{{{word}}}` is the word itself, not a value"),
                    format!("write `{{${name}}}`, and give it in the code: `args! {{ {given} }}`"),
                )
            });
        }
    }
    // The functions themselves refuse units and zones that do not exist.
    for setting in
        functions.flat_map(|function| &function.options).filter(|setting| setting.name == "currency")
    {
        if let Some((what, help)) = unknown_value(setting) {
            place.find_at(Rule::WrongOption, setting.span.range(), || {
                (format!("there is no {what} `{}`", setting.value), help.to_owned())
            });
        }
    }
    check_calendars(place, message);
    for WrongOption { setting, known } in message.wrong_options() {
        place.find_at(Rule::WrongOption, setting.span.range(), || wrong_option(setting, &known));
    }
}

/// Checks that days which the message itself names are in the calendar that they are shown in.
fn check_calendars(place: &mut Place<'_, '_>, message: &Message) {
    for expression in message.expressions() {
        let Some(function) = &expression.function else { continue };
        let day = match &expression.operand {
            Some(Operand::Literal(day)) => Some(day.as_str()),
            Some(Operand::Variable(name)) => message.literal_of(name),
            None => None,
        };
        let shows_dates = matches!(function.name.as_str(), "date" | "datetime" | "crow:date");
        let day = day.filter(|_| shows_dates).and_then(|day| DateValue::read(day)?.date());
        let Some((calendar, day)) = calendar_of(function, place.locale).zip(day) else { continue };
        if CalendarDate::of(calendar, day).is_none() {
            let (first, last) = calendar.range();
            place.find_at(Rule::NoCalendar, expression.span.range(), || {
                (
                    format!("the calendar `{calendar}` does not have the day {day}, only {first} to {last}"),
                    "write `calendar=gregory`, or another calendar that has it".to_owned(),
                )
            });
        }
    }
}

/// The calendar that a function shows dates in; none where a variable says so.
fn calendar_of(function: &Function, locale: &str) -> Option<Calendar> {
    let option =
        |name: &str| function.options.iter().find(|option| option.name == name).map(|option| &option.value);
    match (option("calendar"), option("u:locale")) {
        (Some(Operand::Literal(id)), _) => Calendar::named(id),
        (None, Some(Operand::Literal(tag))) => {
            Some(CalendarChoice::of(&LanguageTag::parse(tag).ok()?).calendar())
        }
        (None, None) => Some(CalendarChoice::of(&LanguageTag::parse(locale).ok()?).calendar()),
        _ => None,
    }
}

/// A literal that is written like a value, `{name}`, or like a field of one, `{user.name}`: it shows these very letters.
fn name(expression: &Expression) -> Option<&str> {
    let (Some(Operand::Literal(word)), None) = (&expression.operand, &expression.function) else {
        return None;
    };
    let is_name = |part: &str| {
        part.starts_with(|first: char| first.is_ascii_alphabetic() || first == '_')
            && part.bytes().all(|byte| byte.is_ascii_alphanumeric() || byte == b'_')
    };
    word.split('.').all(is_name).then_some(word.as_str())
}

/// What an option names that does not exist, and what to do. No other text is to blame for it.
pub(super) fn unknown_value(setting: &Setting) -> Option<(&'static str, &'static str)> {
    let Operand::Literal(value) = &setting.value else { return None };
    match setting.name.as_str() {
        "currency" if is_letters(value) && !is_currency(value) => {
            Some(("currency", "write a code of ISO 4217, such as `EUR`"))
        }
        "unit" if Unit::read(value).is_none() => Some(("unit", "")),
        _ => None,
    }
}

/// Whether a text is as codes of currencies are: what is not is a wrong option already.
fn is_letters(code: &str) -> bool {
    code.len() == 3 && code.bytes().all(|letter| letter.is_ascii_alphabetic())
}

/// The text and the help of a finding about an unknown function, and the name that was probably meant.
fn unknown_function(function: &Function, own: &[String]) -> (String, String, Option<String>) {
    let known = Program::FUNCTIONS.iter().map(ToString::to_string).chain(own.iter().cloned());
    let near = nearest(&function.name, known);
    let help = near.as_ref().map_or_else(
        || {
            let known: Vec<String> = Program::FUNCTIONS.iter().map(|name| format!("`:{name}`")).collect();
            format!("known functions: {}", known.join(", "))
        },
        |near| format!("did you mean `:{near}`?"),
    );
    (format!("there is no function `:{}`", function.name), help, near)
}

fn wrong_option(setting: &Setting, known: &[&str]) -> (String, String) {
    let name = &setting.name;
    let is_known = known.contains(&name.as_str());
    let help = if is_known && name == "unit" {
        "write a unit as CLDR names it, such as `kilometer-per-hour`".to_owned()
    } else if is_known && name == "timeZone" {
        "write a name of the IANA database, such as `Europe/Warsaw`, or an offset, such as `+01:00`"
            .to_owned()
    } else if is_known && name == "calendar" {
        let known = Calendar::ALL.map(|calendar| format!("`{calendar}`"));
        format!("write one of {}", known.join(", "))
    } else if is_known {
        "see what the function takes in the page on messages (docs/messages.md)".to_owned()
    } else if known == ["u:id"] {
        "delete it: markup has no direction and no locale, only `u:id`".to_owned()
    } else if let Some(near) = nearest(name, known.iter().map(ToString::to_string)) {
        format!("did you mean `{near}`?")
    } else if known.is_empty() {
        "delete it: the function takes none".to_owned()
    } else {
        format!("it takes {}", known.iter().map(|name| format!("`{name}`")).collect::<Vec<_>>().join(", "))
    };
    let text = if is_known {
        format!("the option `{name}` cannot be `{}`", setting.value)
    } else {
        format!("there is no option `{name}` here")
    };
    (text, help)
}
