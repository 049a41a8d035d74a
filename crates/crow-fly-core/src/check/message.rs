//! A message by itself: functions and options that do not exist.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use super::parsed::Place;
use crate::message::model::{Function, Setting};
use crate::message::{Message, Program, WrongOption};
use crate::rule::Rule;
use crate::suggest::nearest;

/// Checks the functions of a message, and their options.
pub(super) fn check(place: &mut Place<'_, '_>, message: &Message) {
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
    for WrongOption { setting, known } in message.wrong_options() {
        place.find_at(Rule::WrongOption, setting.span.range(), || wrong_option(setting, &known));
    }
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
    let help = if is_known {
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
