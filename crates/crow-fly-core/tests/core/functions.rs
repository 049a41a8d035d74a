//! The functions of messages, rule by rule, from data files.

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::html::Html;
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::value::{Args, Money, Value};
use jiff::tz::TimeZone;

use crate::tag;

fn said(locale: &str, source: &str, args: &Args<'_>) -> (String, String) {
    let message = match Message::parse(source) {
        Ok(message) => message,
        Err(errors) => return (format!("no message: {errors}"), String::new()),
    };
    let context = FormatContext::of(&tag(locale)).with_isolation(Isolation::None);
    let (mut text, mut kinds) = (String::new(), Vec::new());
    Program::compile(&message)
        .format(&context, args)
        .reporting(&mut |error| kinds.push(format!("{:?}", error.kind())))
        .write_to(&mut text)
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
    let lines = include_str!("data/formats.txt").lines().chain(include_str!("data/ranges.txt").lines());
    for line in lines.filter(|line| !line.starts_with('#')) {
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
    assert!(cases > 1000, "{cases}");
}

/// The order of time zones: the message's option, the one the caller names, the value's own, the default, UTC.
#[test]
fn time_zones_go_in_order() {
    let zone = |name: &str| TimeZone::get(name).unwrap();
    let utc = FormatContext::of(&tag("en")).with_isolation(Isolation::None);
    let default = utc.clone().with_default_time_zone(zone("Europe/London"));
    let named = default.clone().with_time_zone(zone("Asia/Tokyo"));
    let args = args! {
        moment: date("2026-06-01T12:00:00Z"), zoned: date("2026-06-01T12:00:00+02:00[Europe/Warsaw]"),
        offset: date("2026-06-01T12:00:00+05:30"), unknown: date("2026-06-01T12:00:00-00:00"),
        civil: date("2026-06-01T12:00"), seconds: 1_780_315_200, text: "2026-06-01T12:00:00+05:30",
    };
    for (source, plain_text, default_text, named_text) in [
        ("{$moment :time}", "12:00 PM", "1:00 PM", "9:00 PM"),
        ("{$seconds :time}", "12:00 PM", "1:00 PM", "9:00 PM"),
        ("{$unknown :time}", "12:00 PM", "1:00 PM", "9:00 PM"),
        ("{$zoned :time}", "12:00 PM", "12:00 PM", "7:00 PM"),
        ("{$offset :time}", "12:00 PM", "12:00 PM", "3:30 PM"),
        ("{$text :time}", "12:00 PM", "12:00 PM", "3:30 PM"),
        ("{$civil :time}", "12:00 PM", "12:00 PM", "12:00 PM"),
        ("{$moment :time timeZone=|America/New_York|}", "8:00 AM", "8:00 AM", "8:00 AM"),
        ("{$zoned :time timeZone=|America/New_York|}", "6:00 AM", "6:00 AM", "6:00 AM"),
        // `input` is the zone the value came with, whatever the caller names.
        ("{$zoned :time timeZone=input}", "12:00 PM", "12:00 PM", "12:00 PM"),
        ("{$moment :time timeZone=input}", "12:00 PM", "1:00 PM", "1:00 PM"),
        // A declared zone holds later, too.
        (".local $t = {$zoned :datetime timeZone=UTC} {{{$t :time}}}", "10:00 AM", "10:00 AM", "10:00 AM"),
        ("{$moment :time timeZoneStyle=short}", "12:00 PM UTC", "1:00 PM GMT+1", "9:00 PM GMT+9"),
        (
            "{$zoned :time timeZoneStyle=long}",
            "12:00 PM Central European Summer Time",
            "12:00 PM Central European Summer Time",
            "7:00 PM Japan Standard Time",
        ),
        // A value without a zone has none to show, and no blank before it.
        ("[{$civil :time timeZoneStyle=short}]", "[12:00 PM]", "[12:00 PM]", "[12:00 PM]"),
        (
            "[{$civil :datetime timeZoneStyle=long}]",
            "[Jun 1, 2026, 12:00 PM]",
            "[Jun 1, 2026, 12:00 PM]",
            "[Jun 1, 2026, 12:00 PM]",
        ),
        (
            ".input {$civil :time timeZoneStyle=short} {{[{$civil :crow:range to=|2026-06-01T13:30|}]}}",
            "[12:00 – 1:30 PM]",
            "[12:00 – 1:30 PM]",
            "[12:00 – 1:30 PM]",
        ),
        (
            ".input {$moment :time timeZoneStyle=short} {{{$moment :crow:range to=|2026-06-01T13:30Z|}}}",
            "12:00 – 1:30 PM UTC",
            "1:00 – 2:30 PM GMT+1",
            "9:00 – 10:30 PM GMT+9",
        ),
        // Where the offset changes in between, each end has its own.
        (
            ".input {$moment :time timeZoneStyle=short timeZone=|Europe/London|} {{{$moment :crow:range to=|2026-12-01T12:30Z|}}}",
            "6/1/2026, 1:00 PM GMT+1 – 12/1/2026, 12:30 PM GMT",
            "6/1/2026, 1:00 PM GMT+1 – 12/1/2026, 12:30 PM GMT",
            "6/1/2026, 1:00 PM GMT+1 – 12/1/2026, 12:30 PM GMT",
        ),
        ("{$moment :time timeZone=|+05:30|}", "5:30 PM", "5:30 PM", "5:30 PM"),
        (
            "{$zoned :time timeZone=|-02:00| timeZoneStyle=long}",
            "8:00 AM GMT-02:00",
            "8:00 AM GMT-02:00",
            "8:00 AM GMT-02:00",
        ),
        // The zone that a locale names goes before the configured default, and after that of a value.
        ("{$moment :time u:locale=|en-u-tz-plwaw|}", "2:00 PM", "2:00 PM", "9:00 PM"),
        ("{$offset :time u:locale=|en-u-tz-plwaw|}", "12:00 PM", "12:00 PM", "3:30 PM"),
    ] {
        let program = Program::compile(&Message::parse(source).unwrap());
        let text = |context: &FormatContext| plain(&program.format(context, &args).text());
        assert_eq!(
            [text(&utc), text(&default), text(&named)],
            [plain_text, default_text, named_text],
            "{source}"
        );
    }
}

#[test]
fn a_locale_that_glues_zones_leaves_no_blank_either() {
    for locale in ["en", "de", "ja", "ar", "fr", "zh", "hi", "he", "cy"] {
        let context = FormatContext::of(&tag(locale)).with_isolation(Isolation::None);
        let formatted = |source: &str| {
            let program = Program::compile(&Message::parse(source).unwrap());
            program.format(&context, &args! { t: date("17:45:10") }).text()
        };
        let (with, without) = (formatted("{$t :time timeZoneStyle=long}"), formatted("{$t :time}"));
        assert_eq!(with, without, "{locale}");
    }
}

/// A whole number is Unix seconds of our times, or it is no moment: milliseconds would be the year 57,000.
#[test]
fn whole_numbers_are_seconds_of_our_times() {
    let program = Program::compile(&Message::parse("{$at :date}").unwrap());
    let context = FormatContext::of(&tag("en")).with_isolation(Isolation::None);
    for (at, said) in [
        (0_i64, Some("Jan 1, 1970")),
        (1_764_633_600, Some("Dec 2, 2025")),
        (-2_208_988_800, Some("Jan 1, 1900")),
        (-2_208_988_801, None),
        (7_289_654_399, Some("Dec 31, 2200")),
        (7_289_654_400, None),
        (1_764_633_600_000, None),
        (i64::MAX, None),
        (i64::MIN, None),
    ] {
        let mut errors = Vec::new();
        let args = args! { at };
        let mut report = |error| errors.push(error);
        let text = program.format(&context, &args).reporting(&mut report).text();
        assert_eq!(plain(&text), said.unwrap_or("{$at}"), "{at}");
        let told = errors.iter().map(ToString::to_string).collect::<String>();
        let help =
            "`:date` needs Unix seconds of the years 1900 to 2200; milliseconds are divided by 1000 first";
        assert_eq!(told.contains(help), said.is_none(), "{at}: {told}");
    }
}
