//! Extreme texts, given to everything that reads one: nothing panics, overflows or takes memory without bound.
//!
//! Tests are built with overflow checks, so that an addition too large fails here.

use std::hint::black_box;

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::args;
use crow_fly_core::catalog::{Catalog, SectionSource};
use crow_fly_core::datetime::{DateValue, RelativeUnit};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::model::{Body, Element};
use crow_fly_core::message::{FormatContext, Message, Program, SyntaxTree};
use crow_fly_core::number::{Category, Currency, Decimal, Unit};
use crow_fly_core::policy::{Facts, LocaleSource, Policy};
use crow_fly_core::tag::{LanguageRange, LanguageTag};
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::value::Value;
use proptest::prelude::*;

use crate::tag;

/// The functions that take a number, a date, a name or a list from text.
const FUNCTIONS: [&str; 18] = [
    "string",
    "number",
    "number maximumSignificantDigits=3",
    "number minimumFractionDigits=100",
    "integer",
    "percent",
    "offset add=99",
    "currency currency=EUR",
    "unit unit=kilometer",
    "date",
    "time",
    "datetime timeZone=|Europe/Warsaw|",
    "crow:compact",
    "crow:list",
    "crow:relative unit=day",
    "crow:range to=1",
    "crow:name type=currency",
    "crow:name type=region",
];

/// Gives a text to every public function that reads one, and to every place of a message.
fn read_everywhere(text: &str) {
    let _ = black_box(Decimal::parse(text));
    let _ = black_box(LanguageTag::parse(text).map(|tag| tag.canonicalized().maximized().to_string()));
    let _ = black_box(LanguageTag::parse_lenient(text));
    let _ = black_box(LanguageRange::parse(text).map(|range| range.truncations().count()));
    let _ = black_box(LocaleSet::parse([text]));
    let _ = black_box(AcceptLanguage::parse(text));
    let _ = black_box((Currency::parse(text), Unit::parse(text), RelativeUnit::parse(text)));
    let _ = black_box((Category::from_keyword(text), DateValue::parse(text)));
    let _ = black_box((text.parse::<TimeZoneName>().is_ok(), text.parse::<LocaleSource>().is_ok()));
    let _ = black_box((Message::parse(text).is_ok(), SyntaxTree::parse(text).to_string().len()));
    let _ = black_box(serde_json::from_str::<Message>(text).is_ok());
    let _ = black_box(Catalog::compile("en", "page", &SectionSource::from_toml(text)));
    let policy = Policy::new(LocaleSet::parse(["en", "pl"]).unwrap());
    let facts = Facts { path: text, ..Facts::default() };
    let _ = black_box(policy.decide(&facts));
}

fn format_everywhere(text: &str) {
    let context = FormatContext::of(&tag("ar-EG"));
    let quoted = text.replace('\\', "\\\\").replace('|', "\\|");
    let number = Decimal::parse(text).ok().map(Value::from);
    let whole = text.parse::<i64>().ok().map(Value::from);
    for function in FUNCTIONS {
        let sources = [
            format!(".input {{$x :{function}}} .match $x |{quoted}| {{{{a {{$x}}}}}} * {{{{b {{$x}}}}}}"),
            format!("{{|{quoted}| :{function}}}"),
            format!(".local $a = {{$x :{function}}} {{{{{{$a :number}} {{$a :date}} {{$a :percent}}}}}}"),
        ];
        for source in sources {
            let Ok(message) = Message::parse(&source) else { continue };
            let program = Program::compile(&message);
            for value in [Some(text.into()), number.clone(), whole.clone()].into_iter().flatten() {
                let _ = black_box(program.format(&context, &args! { x: value }).html());
            }
        }
    }
    for option in
        ["number minimumFractionDigits", "offset add", "crow:range to", "date timeZone", "number u:id"]
    {
        if let Ok(message) = Message::parse(&format!("{{$n :{option}=$x}}")) {
            let _ = black_box(Program::compile(&message).format(&context, &args! { n: 3, x: text }).text());
        }
    }
}

#[test]
fn extreme_texts_are_read_or_refused() {
    let (digits, zeros) = ("9".repeat(5000), "0".repeat(5000));
    let table = [
        "1e-9223372036854775808".into(),
        "0e-9223372036854775808".into(),
        "-1e-9223372036854775808".into(),
        "1e9223372036854775807".into(),
        "1e-9223372036854775809".into(),
        "1e99999999999999999999999999".into(),
        "1e400".into(),
        "1e-400".into(),
        "1e401".into(),
        "9e399".into(),
        "0.1e400".into(),
        "-0e0".into(),
        "1E+00000000000000000000000001".into(),
        i64::MIN.to_string(),
        i64::MAX.to_string(),
        u64::MAX.to_string(),
        i128::MIN.to_string(),
        f64::MAX.to_string(),
        f64::MIN_POSITIVE.to_string(),
        digits.clone(),
        format!("-{digits}"),
        format!("0.{zeros}1"),
        format!("1e{digits}"),
        format!("1e-{zeros}"),
        "9".repeat(400),
        format!("{}.{}", "9".repeat(400), "9".repeat(400)),
        "-009999-12-31T23:59:59.999999999Z".into(),
        "9999-12-31T23:59:59.999999999+25:59".into(),
        "-009999-01-01T00:00:00-25:59[Etc/Unknown]".into(),
        "9999-12-31T24:00:60Z[Europe/London]".into(),
        "99999999999999999999-01-01".into(),
        "2026-02-30".into(),
        "-377705116800".into(),
        "253402300800".into(),
        format!("en-{}", "abcdefgh-".repeat(2000)),
        format!("en-u-{}", "co-aaa-".repeat(500)),
        "x-".repeat(600),
        "i-klingon-x-y".into(),
        format!("en;q={digits}"),
        "en;q=0.000".repeat(500),
        ",".repeat(100_000),
        format!("/{}", "%2e%2e/".repeat(2000)),
        "/%zz/%/%8".into(),
        "\0".into(),
        "\u{feff}\u{2068}\u{202e}".into(),
        "{".repeat(5000),
        format!(".match {}", "$x ".repeat(3000)),
        "{|".repeat(2000),
        "a.".repeat(3000) + "a = ''",
        "[".repeat(3000),
        format!("x = {}{}", "[".repeat(3000), "]".repeat(3000)),
        String::new(),
    ];
    for text in &table {
        read_everywhere(text);
        format_everywhere(text);
    }
}

#[test]
fn exponents_are_bounded_before_any_arithmetic() {
    for (text, expected) in [
        ("1e-9223372036854775808", None),
        ("0e-9223372036854775808", None),
        ("1e9223372036854775807", None),
        ("1e401", None),
        ("1e400", None),
        ("1e399", Some(400)),
        ("1e-400", Some(400)),
        ("1e-401", None),
        ("0e400", Some(0)),
        ("1e", None),
        ("1e-", None),
    ] {
        let digits = |number: Decimal| number.integer_digits().len().max(number.fraction_digits().len());
        assert_eq!(Decimal::parse(text).ok().map(digits), expected, "{text}");
    }
    let said = |source: &str| {
        let program = Program::compile(&Message::parse(source).unwrap());
        program.format(&FormatContext::of(&tag("en")), &args! { x: "1e-9223372036854775808" }).text()
    };
    assert_eq!(said("{$x :number}"), "\u{2068}{$x}\u{2069}");
    assert_eq!(said("{1e-9223372036854775808 :integer}"), "\u{2068}{|1e-9223372036854775808|}\u{2069}");
    assert_eq!(said(".local $n = {1 :number} .match $n 1e-9223372036854775808 {{a}} * {{b}}"), "b");
}

/// Texts near the limits of the types that read them.
fn extreme() -> impl Strategy<Value = String> {
    let edge = prop_oneof![
        Just("9223372036854775807".to_owned()),
        Just("9223372036854775808".to_owned()),
        Just("170141183460469231731687303715884105728".to_owned()),
        "[0-9]{1,25}",
        "0{0,400}[0-9]",
    ];
    let number = (
        "-?",
        edge.clone(),
        "(\\.[0-9]{1,30})?",
        prop_oneof![
            Just(String::new()),
            ("[eE][-+]?", edge.clone()).prop_map(|(mark, digits)| mark + &digits)
        ],
    )
        .prop_map(|(sign, integer, fraction, exponent)| format!("{sign}{integer}{fraction}{exponent}"));
    let date = ("-?0{0,3}", "[0-9]{4,6}", "-[0-9]{2}-[0-9]{2}", "(T[0-9]{2}:[0-9]{2}(:[0-9]{2}(\\.[0-9]{1,12})?)?)?(Z|[-+][0-9]{2}:[0-9]{2})?(\\[[A-Za-z/]{1,20}\\])?")
        .prop_map(|(sign, year, day, time)| format!("{sign}{year}{day}{time}"));
    let tag = "[a-zA-Z*]{1,9}([-_][a-zA-Z0-9*]{0,9}){0,12}";
    let header = ("[a-zA-Z*-]{1,12}", edge)
        .prop_map(|(range, weight)| format!("{range};q=0.{weight},{range};q={weight}"));
    let path = "(/|//|/\\./|%2f|%[0-9a-zA-Z]{2}|[a-z]{1,4}|\\?|#){0,20}";
    prop_oneof![number, date, tag, header, path, any::<String>()]
}

proptest! {
    #[test]
    fn no_extreme_text_upsets_what_reads_it(text in extreme()) {
        read_everywhere(&text);
        format_everywhere(&text);
    }
}

/// A model that was not parsed may have longer texts, and more of them, than any source.
#[test]
fn a_model_of_any_length_says_all_of_it() {
    let context = FormatContext::of(&tag("en"));
    let says = |pattern: Vec<Element>, text: &str| {
        let message = Message { body: Body::Pattern(pattern), ..Message::parse("").unwrap() };
        Program::compile(&message).format(&context, &args! { ship: "Curlew" }).text() == text
    };
    let Body::Pattern(ship) = Message::parse("{$ship}").unwrap().body else { panic!("it has one pattern") };
    for length in [65_534, 65_535, 65_536, 65_537, 200_000] {
        let text = "\u{e9}x".repeat(length / 3) + &"y".repeat(length % 3);
        let long = Element::Text(text.as_str().into());
        assert!(says(vec![long.clone()], &text), "{length}");
        assert!(says(vec![long, ship[0].clone()], &format!("{text}\u{2068}Curlew\u{2069}")), "{length}");
        let many = vec![Element::Text("z".into()); length];
        assert!(says(many, &"z".repeat(length)), "{length}");
    }
}
