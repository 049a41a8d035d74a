//! Laws of messages: what is printed is read again, nothing panics, nothing escapes from HTML.

use std::any::Any;
use std::error::Error as _;
use std::sync::Arc;

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::html::Html;
use crow_fly_core::message::{
    FormatContext, FormatErrorKind, FunctionContext, FunctionError, Functions, Invocation, Isolation,
    MarkupHandlers, Message, Part, Program,
};
use crow_fly_core::number::{Currency, Decimal, PluralRules, PluralType};
use crow_fly_core::value::{CustomValue, FunctionValue, Money, Value};
use proptest::prelude::*;

use crate::tag;

/// Sources made of pieces that mean something, so that many of them are well-formed.
pub(crate) fn source() -> impl Strategy<Value = String> {
    let piece = prop_oneof![
        Just("{$x}"),
        Just("{$n :number}"),
        Just("{$n :currency currency=PLN}"),
        Just("{$d :date length=long}"),
        Just("{|a b|}"),
        Just("{1.50 :percent}"),
        Just("{#b}"),
        Just("{/b}"),
        Just("{#br /}"),
        Just("{#a href=$x}"),
        Just("\\{"),
        Just("\\\\"),
        Just(" "),
        Just("."),
        Just("text"),
        Just("{$x :crow:list type=or}"),
        Just("{}"),
        Just("{$n :crow:range to=$d}"),
        Just("{:unknown @note=|x y|}"),
        Just("{$x u:dir=rtl}"),
        Just("żółć"),
        Just("|"),
        Just("{$n :offset add=$n}"),
        Just("{$n :crow:relative unit=day}"),
        Just("{$d :time timeZone=UTC}"),
    ];
    let pattern = proptest::collection::vec(piece, 0..6).prop_map(|pieces| pieces.concat());
    let simple = pattern.clone();
    let complex = (pattern.clone(), pattern.clone(), pattern).prop_map(|(one, two, three)| {
        format!(
            ".input {{$n :number select=ordinal}} .local $k = {{$x :string}} .match $n $k one a {{{{{one}}}}} 1 * {{{{{two}}}}} * * {{{{{three}}}}}"
        )
    });
    prop_oneof![simple, complex, any::<String>()]
}

/// The model without its places.
fn json(message: &Message) -> serde_json::Value {
    serde_json::to_value(message).unwrap()
}

fn value() -> impl Strategy<Value = Value<'static>> {
    prop_oneof![
        any::<i64>().prop_map(Value::from),
        any::<f64>().prop_map(Value::from),
        any::<String>().prop_map(Value::from),
        "[0-9]{4}-[0-9]{2}-[0-9]{2}(T[0-9]{2}:[0-9]{2})?Z?".prop_map(Value::from),
        any::<i64>()
            .prop_map(|seconds| DateValue::from_unix(seconds).map_or(Value::from("never"), Value::from)),
        proptest::sample::select(vec![
            "09:30",
            "2027-03-14",
            "2027-03-14T09:30",
            "2027-03-14T09:30:00+01:00[Europe/Warsaw]"
        ])
        .prop_map(|date| Value::from(date.parse::<DateValue>().unwrap())),
        proptest::collection::vec(any::<String>(), 0..4).prop_map(Value::from),
    ]
}

/// A call of a function of numbers or dates.
fn call() -> impl Strategy<Value = &'static str> {
    proptest::sample::select(vec![
        ":integer",
        ":number",
        ":number minimumFractionDigits=2",
        ":percent",
        ":currency",
        ":currency currency=PLN",
        ":offset add=1",
        ":crow:compact",
        ":date",
        ":date length=medium",
        ":date length=long fields=month-day",
        ":date length=$length",
        ":date length=never",
        ":date timeZone=|Europe/Warsaw|",
        ":date timeZone=input",
        ":time",
        ":time precision=second",
        ":datetime",
        ":datetime dateLength=long timeZoneStyle=long timeZone=|Asia/Kolkata|",
        ":datetime hour12=true",
        ":date u:dir=rtl",
        ":string",
    ])
}

proptest! {
    #[test]
    fn what_is_printed_is_read_again_as_the_same_message(source in source()) {
        let Ok(message) = Message::parse(&source) else { return Ok(()) };
        let printed = message.to_string();
        let again = Message::parse(&printed).map_err(|errors| TestCaseError::fail(format!("{printed}: {errors}")))?;
        prop_assert_eq!(json(&again), json(&message), "{}", printed);
        prop_assert_eq!(again.to_string(), printed);
        let read: Message = serde_json::from_value(json(&message)).unwrap();
        prop_assert_eq!(json(&read), json(&message));
    }

    #[test]
    fn formatting_never_panics_and_is_deterministic(source in source(), x in value(), n in value(), d in value()) {
        let Ok(message) = Message::parse(&source) else { return Ok(()) };
        let program = Program::compile(&message);
        let args = args! { x: x, n: n, d: d };
        for locale in ["en", "pl", "ar-EG", "hi-u-nu-deva", "ja", "zz"] {
            let context = FormatContext::of(&tag(locale));
            let text = program.format(&context, &args).text();
            prop_assert_eq!(&text, &program.format(&context, &args).to_string());
            prop_assert_eq!(text, program.format(&context, &args).text());
            program.format(&context, &args).parts();
        }
    }

    /// A function that takes an argument as it is makes the same of it as of a declared value.
    #[test]
    fn an_argument_formats_as_the_same_value_declared(x in value(), call in call(), length in "long|short|narrow") {
        let context = FormatContext::of(&tag("cy"));
        let args = args! { x: x, length: length };
        let format = |source: String| {
            let program = Program::compile(&Message::parse(&source).unwrap());
            let mut errors = Vec::new();
            let parts = program.format(&context, &args).reporting(&mut |error| errors.push(error.kind())).parts();
            let text = program.format(&context, &args).text();
            // A part names its variable.
            format!("{text} {parts:?} {errors:?}").replace("$y", "$x")
        };
        prop_assert_eq!(
            format(format!("{{$x {call}}}")),
            format(format!(".local $y = {{$x}} {{{{{{$y {call}}}}}}}")),
        );
    }

    #[test]
    fn no_source_upsets_the_message_parser(source in "[ -~\\n\u{e9}\u{3000}\u{200f}\\\\{}|$:@#/=*.]{0,80}") {
        match Message::parse(&source) {
            Ok(message) => {
                let text = Program::compile(&message).format(&FormatContext::of(&tag("ar")), &args! { x: 1 }).text();
                prop_assert!(text.len() <= source.len() * 4 + 64);
            }
            Err(errors) => {
                prop_assert!(!errors.is_empty());
                prop_assert!(errors.iter().all(|error| source.get(error.span().range()).is_some()), "{:?}", errors);
            }
        }
    }

    #[test]
    fn sources_made_of_message_parts_are_parsed_or_explained(
        parts in prop::collection::vec(
            prop_oneof![
                Just(".input {$x :number} "), Just(".local $y = {$x} "), Just(".match $x "), Just("* {{a}} "), Just("one {{b{$x}}} "),
                Just("{{c}}"), Just("{$x :integer select=ordinal}"), Just("{#b}"), Just("{/b}"), Just("{|q|}"), Just("}"), Just("{"), Just("\\"),
            ], 0..12),
    ) {
        let source = parts.concat();
        if let Ok(message) = Message::parse(&source) {
            let program = Program::compile(&message);
            let _ = program.format(&FormatContext::of(&tag("pl")), &args! { x: 3 }).html();
        }
    }

    #[test]
    fn html_never_has_an_argument_unescaped(source in source(), x in "[<>&\"'a/]{0,12}") {
        let Ok(message) = Message::parse(&source) else { return Ok(()) };
        let html = Program::compile(&message).format(&FormatContext::of(&tag("en")), &args! { x: &x, n: 1, d: &x }).html().into_string();
        // Without what the library writes itself, no character is left that means something in HTML.
        let mut rest = html.clone();
        for tag in ["<bdi>", "<bdi dir=\"ltr\">", "<bdi dir=\"rtl\">", "</bdi>", "<b>", "</b>", "<br>", "<a>", "</a>"] {
            rest = rest.replace(tag, "");
        }
        if let Some(start) = rest.find("<a href=\"") {
            // The value of an attribute ends at the first quote that is no part of it.
            let end = rest[start + 9..].find('"').unwrap() + start + 9;
            prop_assert!(!rest[start + 9..end].contains(['<', '>']));
            prop_assert_eq!(&rest[end..end + 2], "\">");
        } else {
            prop_assert!(!rest.contains(['<', '>', '"', '\'']), "{}", html);
        }
        for entity in rest.split('&').skip(1) {
            let known = ["amp;", "lt;", "gt;", "quot;", "#39;"];
            prop_assert!(known.iter().any(|known| entity.starts_with(known)), "{}", html);
        }
    }

    #[test]
    fn selection_by_two_picks_what_a_naive_search_picks(
        keys in prop::collection::vec(("(0|1|2|one|two|few|other|\\*)", "(0|1|one|other|\\*)"), 0..6), a in 0u64..4, b in 0u64..3,
    ) {
        let mut rows: Vec<(String, String)> = Vec::new();
        for row in keys.into_iter().chain([("*".to_owned(), "*".to_owned())]) {
            if !rows.contains(&row) {
                rows.push(row);
            }
        }
        let variants: Vec<String> = rows.iter().enumerate().map(|(at, (one, other))| format!("{one} {other} {{{{{at}}}}}")).collect();
        let variants = variants.join(" ");
        let source = format!(".input {{$a :integer}} .input {{$b :integer}} .match $a $b {variants}");
        let said = Program::compile(&Message::parse(&source).unwrap()).format(&FormatContext::of(&tag("en")), &args! { a: a, b: b }).text();
        let score = |key: &str, number: u64| match key {
            "*" => Some(2),
            _ if key.parse() == Ok(number) => Some(0),
            "one" if number == 1 => Some(1),
            "other" if number != 1 => Some(1),
            _ => None,
        };
        let naive = rows.iter().enumerate().filter_map(|(at, (one, other))| Some((score(one, a)?, score(other, b)?, at))).min().unwrap();
        prop_assert_eq!(said, naive.2.to_string(), "{}", source);
    }

    #[test]
    fn selection_picks_what_a_naive_reference_picks(
        n in 0_i64..130,
        keys in proptest::collection::vec(prop_oneof![
            Just("0"), Just("1"), Just("2"), Just("21"), Just("zero"), Just("one"), Just("two"), Just("few"), Just("many"), Just("other"),
        ], 0..6),
        locale in prop_oneof![Just("en"), Just("pl"), Just("ar"), Just("cy"), Just("ja")],
    ) {
        let mut unique: Vec<&str> = Vec::new();
        for key in keys {
            if !unique.contains(&key) {
                unique.push(key);
            }
        }
        let variants = unique.iter().map(|key| format!("{key} {{{{{key}}}}}")).collect::<Vec<_>>().join(" ");
        let message = Message::parse(&format!(".input {{$n :integer}} .match $n {variants} * {{{{any}}}}")).unwrap();
        let said = Program::compile(&message).format(&FormatContext::of(&tag(locale)), &args! { n: n }).text();
        let category = PluralRules::of(&tag(locale), PluralType::Cardinal).category(&Decimal::from(n)).as_str();
        let number = n.to_string();
        let expected = [number.as_str(), category].into_iter().find(|key| unique.contains(key)).unwrap_or("any");
        prop_assert_eq!(said, expected);
    }
}

#[test]
fn markup_becomes_elements_of_the_list_and_what_the_application_makes_of_it() {
    let handlers = MarkupHandlers::new()
        .with("tide", |tag| {
            let mut start = Html::default();
            start.push_trusted("<tide-mark level=\"");
            start.push(tag.option("level")?);
            start.push_trusted("\">");
            let mut end = Html::default();
            end.push_trusted("</tide-mark>");
            Some((start, end))
        })
        .with("b", |_| None);
    let context =
        FormatContext::of(&tag("en")).with_markup(Arc::new(handlers)).with_isolation(Isolation::None);
    for (source, html, wrong) in [
        ("{#strong}a{/strong}", "<strong>a</strong>", ""),
        (
            "{#a href=|/trip?a=b&c| title=|Your \"trip\"|}x{/a}",
            "<a href=\"/trip?a=b&amp;c\" title=\"Your &quot;trip&quot;\">x</a>",
            "",
        ),
        ("{#a href=|https://ferries.example/|}x{/a}", "<a href=\"https://ferries.example/\">x</a>", ""),
        ("{#a href=|javascript:alert(1)|}x{/a}", "<a>x</a>", "BadOption href"),
        ("{#a href=|JAVASCRIPT:alert(1)|}x{/a}", "<a>x</a>", "BadOption href"),
        ("{#a href=|/\\\\evil.example|}x{/a}", "<a>x</a>", "BadOption href"),
        ("{#b onclick=x class=y}a{/b}", "<b class=\"y\">a</b>", "BadOption onclick"),
        ("{#script}a{/script}", "a", "BadMarkup script"),
        ("{#b}{#i}a{/b}{/i}", "<b><i>a</i></b>", "BadMarkup b, BadMarkup b"),
        ("{#b}{#script}a{/b}c{/script}", "<b>a</b>c", "BadMarkup script, BadMarkup script"),
        ("{#script}{#b}a{/script}c{/b}", "<b>ac</b>", "BadMarkup script, BadMarkup script"),
        ("a{/b}", "a", "BadMarkup b"),
        ("{#br}a{#br /}", "a<br>", "BadMarkup br"),
        ("{#tide level=$x}a{/tide}", "<tide-mark level=\"&lt;5&gt;\">a</tide-mark>", ""),
        ("{#tide}a{/tide}", "a", "BadMarkup tide"),
        ("{#tide level=| JavaScript:alert(1)|}a{/tide}", "a", "BadOption level, BadMarkup tide"),
        ("{#i u:id=x u:dir=rtl}a{/i}", "<i>a</i>", "BadOption u:dir"),
        ("{#tide level=$none}a{/tide}", "a", "UnresolvedVariable {$none}, BadOption level, BadMarkup tide"),
        ("{$safe}{$x}", "<em>kept</em>&lt;5&gt;", ""),
    ] {
        let mut safe = Html::default();
        safe.push_trusted("<em>kept</em>");
        let mut errors = Vec::new();
        let args = args! { x: "<5>", safe: safe };
        let said = Program::compile(&Message::parse(source).unwrap())
            .format(&context, &args)
            .reporting(&mut |error| errors.push(format!("{:?} {}", error.kind(), error.subject())))
            .html();
        assert_eq!((said.as_str(), errors.join(", ").as_str()), (html, wrong), "{source}");
    }
}

/// A type of the application's own.
#[derive(Debug)]
struct Berth(u32);

impl CustomValue for Berth {
    fn format(&self, _: &FunctionContext) -> FunctionValue {
        let number = self.0;
        FunctionValue::text(format!("berth {number}"))
            .with_value(i64::from(number))
            .with_keys(move |key| key == number.to_string())
    }
}

fn harbour_functions() -> Functions {
    let tide = |call: &Invocation<'_>| {
        let Some(Value::Integer(level)) = call.operand().cloned() else {
            return Err(FunctionError::bad_operand().because("a tide is an integer"));
        };
        let words = if call.option("in") == Some(&Value::from("feet")) { level * 3 } else { level };
        let high = level > 2;
        let shown = FunctionValue::text(format!("{words}, {}", call.context().tag()))
            .with_keys(move |key| (key == "high") == high)
            .with_value(level);
        Ok(match call.option("in") {
            Some(Value::Text(unit)) => shown.with_option("in", unit.clone().into_owned()),
            _ => shown,
        })
    };
    // It sees the application's own type as it was given, not as it is shown.
    let pier = |call: &Invocation<'_>| match call.operand() {
        Some(Value::Custom(value)) => {
            let value: &dyn Any = &**value;
            let Berth(number) = value.downcast_ref::<Berth>().ok_or_else(FunctionError::bad_operand)?;
            Ok(FunctionValue::text(format!("pier {}", number / 3)).with_keys(|key| key == "near"))
        }
        _ => Err("no berth".parse::<u8>().map_or_else(
            |error| FunctionError::bad_operand().because(error),
            |_| FunctionError::bad_option(),
        )),
    };
    Functions::new().with("harbour:tide", tide).with("harbour:pier", pier)
}

#[test]
fn functions_and_types_of_the_applications_own_do_what_built_in_ones_do() {
    let context = FormatContext::of(&tag("en"))
        .with_functions(Arc::new(harbour_functions()))
        .with_isolation(Isolation::None);
    let berth: Arc<dyn CustomValue> = Arc::new(Berth(4));
    let args = args! { level: 3, unit: "feet", berth: berth };
    for (source, text) in [
        ("{$level :harbour:tide}", "3, en"),
        ("{$level :harbour:tide in=feet}", "9, en"),
        ("{$level :harbour:tide in=$unit}", "9, en"),
        (".local $t = {$level :harbour:tide} .match $t high {{high}} * {{low}}", "high"),
        (".local $t = {$level :harbour:tide} {{{$t} {$t :number minimumFractionDigits=1}}}", "3, en 3.0"),
        // Options are carried on, and overridden.
        (".local $t = {$level :harbour:tide in=feet} {{{$t :harbour:tide}}}", "9, en"),
        (".local $t = {$level :harbour:tide in=feet} {{{$t :harbour:tide in=metres}}}", "3, en"),
        ("{|x| :harbour:tide}", "{|x|}"),
        ("{$level :harbour:depth}", "{$level}"),
        ("{$berth}", "berth 4"),
        ("{$berth :number minimumIntegerDigits=2}", "04"),
        (".input {$berth :integer} .match $berth 4 {{four}} * {{other}}", "four"),
        ("{$berth :harbour:pier}", "pier 1"),
        (".local $b = {$berth} {{{$b} at {$b :harbour:pier}}}", "berth 4 at pier 1"),
        (".local $p = {$berth :harbour:pier} .match $p near {{near}} * {{far}}", "near"),
        ("{$level :harbour:pier}", "{$level}"),
    ] {
        let said = Program::compile(&Message::parse(source).unwrap()).format(&context, &args).text();
        assert_eq!(said, text, "{source}");
    }
}

#[test]
fn an_error_of_the_applications_function_has_a_cause() {
    let context = FormatContext::of(&tag("en")).with_functions(Arc::new(harbour_functions()));
    let mut errors = Vec::new();
    let program =
        Program::compile(&Message::parse("{x :harbour:tide} {$n :harbour:pier} {$n :harbour:none}").unwrap());
    program.format(&context, &args! { n: 1 }).reporting(&mut |error| errors.push(error)).text();
    let told: Vec<_> = errors
        .iter()
        .map(|error| {
            (error.kind(), error.subject(), error.source().map(ToString::to_string).unwrap_or_default())
        })
        .collect();
    assert_eq!(
        told,
        [
            (FormatErrorKind::BadOperand, "{|x|}", "a tide is an integer".to_owned()),
            (FormatErrorKind::BadOperand, "{$n}", "invalid digit found in string".to_owned()),
            (FormatErrorKind::UnknownFunction, "{$n}", String::new()),
        ]
    );
}

#[test]
fn parts_say_what_each_piece_is() {
    let program = Program::compile(
        &Message::parse("{#link to=|/trip|}{$name :string u:id=who}{/link}: {$n :integer} of {$none}{#br /}")
            .unwrap(),
    );
    let parts: Vec<Part> =
        program.format(&FormatContext::of(&tag("en")), &args! { name: "Mair", n: 1200 }).parts();
    insta::assert_snapshot!(serde_json::to_string_pretty(&parts).unwrap());
}

#[test]
fn parts_hand_on_no_option_that_html_refuses() {
    let handlers = MarkupHandlers::new().with("tide", |_| Some((Html::default(), Html::default())));
    let context = FormatContext::of(&tag("en")).with_markup(Arc::new(handlers));
    let args = args! { address: "javascript:alert(1)" };
    for (source, options, wrong) in [
        ("{#a href=|/trip| title=x}", &["href", "title"][..], ""),
        ("{#a href=|javascript:alert(1)|}", &[], "href"),
        ("{#a href=|JavaScript:alert(1)| class=x}", &["class"], "href"),
        ("{#a href=|data:text/html,x|}", &[], "href"),
        ("{#a href=$address}", &[], "href"),
        ("{#a onclick=x style=y target=z}", &[], "onclick style target"),
        ("{#b href=|/trip|}", &[], "href"),
        ("{#sailing number=7 to=|/trip|}", &["number", "to"], ""),
        ("{#sailing to=|java\u{9}script:alert(1)|}", &[], "to"),
        ("{#sailing to=$address onload=x}", &[], "to onload"),
        ("{#iframe src=|vbscript:x| srcdoc=y width=3}", &["width"], "src srcdoc"),
        ("{#img src=|//ferries.example/x.png|}", &["src"], ""),
        ("{#tide level=3 onward=yes href=x}", &["level", "onward"], "href"),
    ] {
        let mut errors = Vec::new();
        let program = Program::compile(&Message::parse(source).unwrap());
        let parts = program
            .format(&context, &args)
            .reporting(&mut |error| errors.push(error.subject().to_owned()))
            .parts();
        let [Part::Markup { options: handed_on, .. }] = &parts[..] else { panic!("{source}: {parts:?}") };
        assert_eq!(handed_on.keys().collect::<Vec<_>>(), options, "{source}");
        assert_eq!(errors.join(" "), wrong, "{source}");
        // HTML output has none of the refused options either.
        let html = program.format(&context, &args).html();
        for refused in errors {
            assert!(!html.as_str().contains(&refused), "{source}: {html:?}");
        }
    }
}

#[test]
fn the_json_form_takes_no_name_that_is_none() {
    let expression = |arg: &str, function: &str| {
        format!(
            r#"{{"type":"message","declarations":[],"pattern":["a","b",{{"type":"expression","arg":{{"type":"variable","name":"{arg}"}},"function":{{"type":"function","name":"{function}"}}}}]}}"#
        )
    };
    let read = |json: &str| {
        serde_json::from_str::<Message>(json)
            .map(|message| message.to_string())
            .map_err(|error| error.to_string())
    };
    assert_eq!(read(&expression("x", "harbour:tide")).unwrap(), "ab{$x :harbour:tide}");
    for (arg, function) in [
        ("x :number", "number"),
        ("x", "number a=b"),
        ("", "number"),
        ("x", "1st"),
        ("x}{$y", "number"),
        ("x", "a:b:c"),
    ] {
        assert!(read(&expression(arg, function)).unwrap_err().contains("is not a name"), "{arg} {function}");
    }
    let select = r#"{"type":"select","declarations":[],"selectors":[{"type":"variable","name":"x"}],"variants":[{"keys":[{"type":"*"}],"value":[]}]}"#;
    assert!(read(select).unwrap_err().contains("a selector has no function"));
}

#[test]
fn what_may_run_any_way_is_set_apart() {
    let context = FormatContext::of(&tag("en"));
    let args = args! { list: ["Curlew", "שחף"], name: "שחף", n: 5 };
    for (source, html) in [
        ("{$list :crow:list}", "<bdi>Curlew</bdi> and <bdi>שחף</bdi>"),
        ("{$name :string u:locale=pl}", "<bdi>שחף</bdi>"),
        ("{$n :number u:locale=pl}", "5"),
        ("{$n :crow:relative unit=day}", "in 5 days"),
    ] {
        let said = Program::compile(&Message::parse(source).unwrap()).format(&context, &args).html();
        assert_eq!(said.as_str(), html, "{source}");
    }
}

#[test]
fn an_applications_function_is_given_money_as_money() {
    let functions =
        Functions::new().with("harbour:fee", |invocation: &Invocation<'_>| match invocation.operand() {
            Some(Value::Money(money)) => {
                Ok(FunctionValue::text(format!("{} in {}", money.amount, money.currency.as_str())))
            }
            _ => Err(FunctionError::bad_operand()),
        });
    let context =
        FormatContext::of(&tag("en")).with_functions(Arc::new(functions)).with_isolation(Isolation::None);
    let fee = Money::new(Decimal::parse("12.50").unwrap(), Currency::parse("PLN").unwrap());
    for (source, said) in [
        ("{$fee :harbour:fee}", "12.50 in PLN"),
        (".local $net = {$fee :currency} {{{$net :harbour:fee}}}", "12.50 in PLN"),
        (".input {$fee :number} {{{$fee :harbour:fee}}}", "12.50 in PLN"),
        ("{|12.50| :harbour:fee}", "{|12.50|}"),
    ] {
        let program = Program::compile(&Message::parse(source).unwrap());
        assert_eq!(program.format(&context, &args! { fee: fee.clone() }).text(), said, "{source}");
    }
}
