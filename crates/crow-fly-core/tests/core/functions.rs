//! The functions of messages, rule by rule, from data files.

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::html::Html;
use crow_fly_core::message::{Isolation, Message, Program, Speech};
use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::value::{Args, Money, Value};

use crate::tag;

fn said(locale: &str, source: &str, args: &Args<'_>) -> (String, String) {
    let message = match Message::parse(source) {
        Ok(message) => message,
        Err(errors) => return (format!("no message: {errors}"), String::new()),
    };
    let speech = Speech::of(&tag(locale)).with_isolation(Isolation::None);
    let (mut text, mut kinds) = (String::new(), Vec::new());
    Program::compile(&message)
        .write_text(&speech, args, &mut text, &mut |error| kinds.push(format!("{:?}", error.kind())))
        .unwrap();
    (text, kinds.join(" "))
}

/// Blanks that do not break are written as blanks in the files.
fn plain(text: &str) -> String {
    text.replace(['\u{a0}', '\u{202f}', '\u{2009}'], " ")
}

fn date(text: &str) -> DateValue {
    DateValue::parse(text).unwrap()
}

#[test]
fn functions_do_what_their_rules_say() {
    let mut html = Html::default();
    html.push_trusted("<b>safe</b>");
    let args = args! {
        n: 3, m: -1234.5, z: 0, t: "T", bad: "text", opt: 2, word: "ordinal", locale: "pl", html: html,
        d: date("2026-03-01"), dt: date("2026-03-01T09:05:07"), i: date("2026-03-01T23:30:00Z"), clock: date("17:45"),
        zl: Money::new(Decimal::parse("12.50").unwrap(), Currency::parse("PLN").unwrap()),
        list: ["Curlew", "Avocet", "Iris"],
    };
    let (mut rule, mut cases, mut wrong) = ("", 0, Vec::new());
    for line in include_str!("data/functions.txt").lines() {
        if let Some(name) = line.strip_prefix("## ") {
            rule = name;
            continue;
        }
        if line.is_empty() || line.starts_with('#') {
            continue;
        }
        // Only the separators have blanks on both sides: bars of literals have none before or behind.
        let columns: Vec<&str> = line.splitn(2, " | ").collect();
        let [locale, rest] = columns[..] else { panic!("{line}") };
        let (rest, errors) = match rest.rsplit_once(" | ") {
            Some((rest, errors))
                if errors.starts_with(|letter: char| letter.is_ascii_uppercase()) && is_errors(errors) =>
            {
                (rest, errors)
            }
            _ => (rest, ""),
        };
        let (source, expected) = rest.rsplit_once(" | ").unwrap();
        if source.contains(":crow:name") && !cfg!(feature = "names") {
            continue;
        }
        let (text, kinds) = said(locale, source, &args);
        cases += 1;
        if plain(&text) != plain(expected) || kinds != errors {
            wrong.push(format!("{rule}: {locale} {source}: {text:?} [{kinds}], not {expected:?} [{errors}]"));
        }
    }
    assert!(wrong.is_empty(), "{} of {cases}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(cases > 200, "{cases}");
}

fn is_errors(text: &str) -> bool {
    let known =
        ["BadOperand", "BadOption", "BadSelector", "BadVariantKey", "UnresolvedVariable", "UnknownFunction"];
    text.split(' ').all(|word| known.contains(&word))
}

#[test]
fn formats_are_those_of_an_independent_implementation() {
    let mut wrong = Vec::new();
    let mut cases = 0;
    for line in include_str!("data/formats.txt").lines().filter(|line| !line.starts_with('#')) {
        let [locale, message, value, expected] = line.split('\t').collect::<Vec<_>>()[..] else {
            panic!("{line}")
        };
        let value: serde_json::Value = serde_json::from_str(value).unwrap();
        let value: Value<'_> = match &value {
            serde_json::Value::String(text) => text.as_str().into(),
            serde_json::Value::Array(items) => {
                items.iter().filter_map(serde_json::Value::as_str).collect::<Vec<_>>().into()
            }
            number => number.as_i64().map_or_else(|| number.as_f64().unwrap().into(), Value::from),
        };
        // Names of other languages take a feature.
        if cfg!(not(feature = "names")) && message.contains("crow:name") {
            continue;
        }
        let (text, _) = said(locale, message, &args! { x: value });
        cases += 1;
        if text != expected {
            wrong.push(format!("{locale} {message}: {text:?}, not {expected:?}"));
        }
    }
    assert!(wrong.is_empty(), "{} of {cases}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(cases > 400, "{cases}");
}
