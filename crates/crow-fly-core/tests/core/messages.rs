//! Messages: syntax, data-model errors, formatting, selection, HTML.

use crow_fly_core::args;
use crow_fly_core::message::model::{Body, Element, Name, Operand};
use crow_fly_core::message::{FormatContext, FormatErrorKind, Isolation, Message, Part, Program};
use crow_fly_core::number::Decimal;
use crow_fly_core::value::{Args, Value};
use insta::assert_snapshot;

use crate::tag;

/// The text of a message in a locale, without isolation, and the kinds of errors.
fn said(locale: &str, source: &str, args: &Args<'_>) -> (String, Vec<FormatErrorKind>) {
    let message = Message::parse(source).unwrap_or_else(|errors| panic!("{source}: {errors}"));
    let context = FormatContext::of(&tag(locale)).with_isolation(Isolation::None);
    let (mut text, mut kinds) = (String::new(), Vec::new());
    Program::compile(&message)
        .format(&context, args)
        .reporting(&mut |error| kinds.push(error.kind()))
        .write_to(&mut text)
        .unwrap();
    (text, kinds)
}

fn text(locale: &str, source: &str, args: &Args<'_>) -> String {
    said(locale, source, args).0
}

#[test]
fn well_formed_sources_are_said() {
    let args = args! { x: "X", n: 5 };
    for (source, expected) in [
        ("", ""),
        ("plain", "plain"),
        (" two\nlines ", " two\nlines "),
        ("a | b . c", "a | b . c"),
        ("\\{ \\} \\\\ \\|", "{ } \\ |"),
        ("{$x}", "X"),
        ("{ $x }", "X"),
        ("{\t\n$x\u{3000}\u{200e}}", "X"),
        ("{\u{200f}$\u{200e}x\u{200e}}", "X"),
        ("{|a \\| {b} \\\\|}", "a | {b} \\"),
        ("{.}{-}{0123}{2026-03-01}{a.b-c}", ".-01232026-03-01a.b-c"),
        ("{+a}{_b}{ż}", "+a_bż"),
        ("{$x @note @by=me @why=|because {x}|}", "X"),
        ("{$x :string @a}", "X"),
        ("{$n :number u:id=a}", "5"),
        ("{{quoted}}", "quoted"),
        (" \u{3000}{{ {$x} }} ", " X "),
        ("{{}}", ""),
        (".input{$x}{{{$x}}}", "X"),
        (".input {$n :number} .local $m = {$n} {{{$m}}}", "5"),
        (".local $m={|a|}{{{$m}}}", "a"),
        (".input {$x :string} .match $x X{{yes}}*{{no}}", "yes"),
        (".input {$x :string}\n.match $x\n|X| {{yes}}\n* {{no}}\n", "yes"),
        (".input {$n :integer} .input {$x :string} .match $n $x 5 X{{both}} * *{{none}}", "both"),
        ("{#b}bold{/b}{#br /}{#x:y a=1 b=$x @c}{/x:y d=2}", "bold"),
        ("a\u{a0}b\u{200b}c", "a\u{a0}b\u{200b}c"),
    ] {
        assert_eq!(said("en", source, &args), (expected.to_owned(), vec![]), "{source:?}");
    }
}

#[test]
fn every_error_of_a_source_is_reported_with_its_span() {
    for (source, expected) in [
        ("a } b", "lone-brace 2..3"),
        ("{{a } b}}", "lone-brace 4..5"),
        ("\\a", "bad-escape 0..2"),
        ("a\\", "bad-escape 1..2"),
        ("a\0b", "null-character 1..2"),
        ("{", "unclosed-placeholder 0..1"),
        ("{$x", "unclosed-placeholder 0..3"),
        ("{}", "empty-placeholder 0..2"),
        ("{ }", "empty-placeholder 0..3"),
        ("{|a", "unclosed-literal 1..3"),
        ("{$}", "expected-name 2..3"),
        ("{$1}", "expected-name 2..3"),
        ("{:}", "expected-name 2..3"),
        ("{$x :}", "expected-name 5..6"),
        ("{$x:number}", "missing-space 3..4"),
        ("{|a|:number}", "missing-space 4..5"),
        ("{$x :number a}", "expected-equals 13..14"),
        ("{$x :number a=}", "expected-value 14..15"),
        ("{$x :number a=|1|b=2}", "missing-space 17..18"),
        ("{$x @a b=1}", "misplaced-option 7..8"),
        ("{$x @a=$y}", "expected-value 7..8"),
        ("{$x :number :string}", "misplaced-function 12..13"),
        ("{$x a=1}", "option-without-function 4..5"),
        ("{$x is here}", "unclosed-placeholder 0..4"),
        ("{{a {$x is here}} b", "unclosed-placeholder 4..8; trailing-content 18..19"),
        ("{$x $y}", "unexpected-character 4..5"),
        ("{*}", "unexpected-character 1..2"),
        ("{#b / }", "unexpected-character 5..6"),
        (".", "unknown-keyword 0..1"),
        (" .Input {$x} {{a}}", "unknown-keyword 1..7"),
        (".input {$x}", "missing-body 11..11"),
        (".input {|x|} {{a}}", "expected-variable 7..12"),
        (".input $x {{a}}", "expected-expression 7..8"),
        (".local$x = {1} {{a}}", "missing-space 6..7"),
        (".local x = {1} {{a}}", "expected-variable 7..8"),
        (".local $x {1} {{a}}", "expected-equals 10..11"),
        (".local $x = 1 {{a}}", "expected-expression 12..13"),
        ("{{a}} b", "trailing-content 6..7"),
        ("{{a", "unclosed-pattern 0..3"),
        (".match", "expected-variable 6..6"),
        (".input {$x :string} .match$x * {{a}}", "missing-space 26..27"),
        (".input {$x :string} .match $x", "expected-variant 29..29"),
        (".input {$x :string} .match $x * {a}", "expected-pattern 32..33"),
        (".input {$x :string} .match $x {{a}}", "expected-key 30..31"),
        (".input {$x :string} .match $x a|b| {{a}} * {{b}}", "missing-space 31..32"),
        (".input {$x :string} .match $x a b {{a}} * {{b}}", "variant-key-mismatch 30..33"),
        (".input {$x :string} .match $x a {{a}}", "missing-fallback-variant 27..29"),
        (".input {$x :string} .match $x |*| {{a}}", "missing-fallback-variant 27..29"),
        (".input {$x} .match $x * {{a}}", "missing-selector-annotation 19..21"),
        (".match $x * {{a}}", "missing-selector-annotation 7..9"),
        (".local $x = {$y @a} .match $x * {{a}}", "missing-selector-annotation 27..29"),
        (".input {$x} .input {$x} {{a}}", "duplicate-declaration 19..23"),
        (".local $x = {$x} {{a}}", "duplicate-declaration 7..9"),
        (".local $x = {$y} .local $y = {1} {{a}}", "duplicate-declaration 24..26"),
        (".input {$x :number a=$x} {{a}}", "duplicate-declaration 7..24"),
        ("{$x :number a=1 a=2}", "duplicate-option-name 16..17"),
        ("{#b a=1 a=2}", "duplicate-option-name 8..9"),
        (".input {$x :string} .match $x a {{1}} |a| {{2}} * {{3}}", "duplicate-variant 38..41"),
        (".input {$x :string} .match $x \u{e5} {{1}} a\u{30a} {{2}} * {{3}}", "duplicate-variant 39..42"),
        (
            "{$x {} } {$} {:",
            "unexpected-character 4..5; lone-brace 7..8; expected-name 11..12; expected-name 15..15",
        ),
    ] {
        let errors = Message::parse(source).expect_err(source);
        let shown: Vec<_> =
            errors.iter().map(|error| format!("{} {:?}", error.kind().id(), error.span().range())).collect();
        assert_eq!(shown.join("; "), expected, "{source:?}");
    }
    assert_eq!(Message::parse(&"a".repeat(Message::MAX_LENGTH + 1)).unwrap_err()[0].kind().id(), "too-long");
    assert_eq!(Message::parse(&"}".repeat(1_000)).unwrap_err().len(), 64);
}

#[test]
fn a_short_message_does_not_repeat_its_way_to_a_long_text() {
    let text = "x".repeat(1024);
    let forms = [
        // As it is; through other variables; through a function; in an option; in markup.
        (format!(".local $x = {{|{text}|}} "), "{$x}"),
        (format!(".local $x = {{|{text}|}} .local $y = {{$x}} .local $z = {{$y :string}} "), "{$z}"),
        (format!(".local $x = {{|{text}|}} "), "{$x :string}"),
        (format!(".local $x = {{|{text}|}} "), "{$n :string u:id=$x}"),
        (format!(".local $x = {{|{text}|}} "), "{#a title=$x}"),
    ];
    let longest = Message::MAX_LENGTH / text.len();
    for (declarations, shown) in forms {
        let message =
            |times: usize| Message::parse(&format!("{declarations}{{{{{}}}}}", shown.repeat(times)));
        assert!(message(longest).is_ok(), "{shown}");
        let errors = message(longest * 20).expect_err(shown);
        let told: Vec<_> =
            errors.iter().map(|error| (error.kind().id(), error.span().range().start)).collect();
        // Told once, where the bound is passed.
        let place = declarations.len() + 2 + longest * shown.len();
        assert_eq!(told, [("repeated-text", place)], "{shown}");
    }
    // Each variant by itself: only one of them is shown.
    let variants: String =
        (0..20).fold(String::new(), |all, at| all + &format!("{at} {{{{{}}}}} ", "{$x}".repeat(40)));
    let source = format!(".input {{$n :integer}} .local $x = {{|{text}|}} .match $n {variants}* {{{{}}}}");
    assert!(Message::parse(&source).is_ok());
}

#[test]
fn numbers_are_written_and_selected_by_their_options() {
    for (locale, source, value, expected) in [
        ("en", "{$n}", "1234.5", "1,234.5"),
        ("en", "{$n :number}", "1234.5678", "1,234.568"),
        ("en", "{$n :integer}", "1234.5", "1,235"),
        ("pl", "{$n :number}", "12345.5", "12\u{a0}345,5"),
        ("en", "{$n :number minimumFractionDigits=2}", "5", "5.00"),
        ("en", "{$n :number maximumFractionDigits=0}", "5.5", "6"),
        ("en", "{$n :number maximumSignificantDigits=2}", "1234", "1,200"),
        ("en", "{$n :number minimumIntegerDigits=3 useGrouping=never}", "5", "005"),
        ("en", "{$n :number signDisplay=always}", "5", "+5"),
        ("en", "{$n :number minimumFractionDigits=2 trailingZeroDisplay=stripIfInteger}", "5", "5"),
        ("en", ".local $d = {2} {{{$n :number minimumFractionDigits=$d}}}", "5", "5.00"),
        (
            "en",
            ".input {$n :number minimumFractionDigits=2} {{{$n :number signDisplay=always} {$n :integer}}}",
            "5",
            "+5.00 5",
        ),
        ("en", ".input {$n :number} .match $n one {{one}} * {{other}}", "1", "one"),
        ("en", ".input {$n :number minimumFractionDigits=1} .match $n one {{one}} * {{other}}", "1", "other"),
        ("en", ".input {$n :number} .match $n 1 {{exact}} one {{one}} * {{other}}", "1", "exact"),
        ("en", ".input {$n :number} .match $n one {{one}} 1 {{exact}} * {{other}}", "1.0", "exact"),
        ("en", ".input {$n :number select=exact} .match $n one {{one}} * {{other}}", "1", "other"),
        (
            "en",
            ".input {$n :number select=ordinal} .match $n one {{st}} two {{nd}} few {{rd}} * {{th}}",
            "23",
            "rd",
        ),
        (
            "cy",
            ".input {$n :integer} .match $n zero {{0}} one {{1}} two {{2}} few {{3}} many {{6}} * {{+}}",
            "6",
            "6",
        ),
        (
            "ar",
            ".input {$n :integer} .match $n zero {{0}} one {{1}} two {{2}} few {{3}} many {{11}} * {{+}}",
            "11",
            "11",
        ),
        (
            "en",
            ".local $m = {$n :integer} .match $m other {{wrong}} one {{right}} * {{wrong}}",
            "1.2",
            "right",
        ),
    ] {
        let args = args! { n: Decimal::parse(value).unwrap() };
        assert_eq!(
            said(locale, source, &args),
            (expected.to_owned(), vec![]),
            "{source} of {value} in {locale}"
        );
    }
}

#[test]
fn the_first_selector_counts_most() {
    let source = ".input {$a :integer} .input {$b :integer} .match $a $b one 1 {{one 1}} one * {{one *}} 1 * {{1 *}} * 1 {{* 1}} * * {{* *}}";
    for (a, b, expected) in [(1, 1, "1 *"), (1, 2, "1 *"), (2, 1, "* 1"), (2, 2, "* *")] {
        assert_eq!(text("en", source, &args! { a: a, b: b }), expected, "{a} {b}");
    }
}

#[test]
fn errors_while_formatting_show_fallbacks_and_stop_nothing() {
    use FormatErrorKind as Kind;
    let args = args! { word: "many", n: 3 };
    for (source, expected, kinds) in [
        ("a {$gone} b", "a {$gone} b", &[Kind::UnresolvedVariable][..]),
        ("{$gone :number}", "{$gone}", &[Kind::UnresolvedVariable]),
        ("{$word :number}", "{$word}", &[Kind::BadOperand]),
        ("{|a \\| \\\\| :number}", "{|a \\| \\\\|}", &[Kind::BadOperand]),
        ("{007 :number}", "{|007|}", &[Kind::BadOperand]),
        ("{:number}", "{:number}", &[Kind::BadOperand]),
        ("{$n :no:such}", "{$n}", &[Kind::UnknownFunction]),
        ("{:nosuch a=1}", "{:nosuch}", &[Kind::UnknownFunction]),
        ("{$n :number minimumFractionDigits=x}", "3", &[Kind::BadOption]),
        ("{$n :number minimumFractionDigits=$gone}", "3", &[Kind::UnresolvedVariable, Kind::BadOption]),
        ("{$n :number nosuch=1}", "3", &[Kind::BadOption]),
        (".local $x = {$gone} {{{$x} and {$x :number}}}", "{$x} and {$x}", &[Kind::UnresolvedVariable]),
        (
            ".input {$gone :number} .match $gone one {{one}} * {{other}}",
            "other",
            &[Kind::UnresolvedVariable, Kind::BadSelector],
        ),
        (
            ".input {$n :number select=$word} .match $n 3 {{three}} * {{other {$n}}}",
            "other 3",
            &[Kind::BadOption, Kind::BadSelector],
        ),
        (
            ".input {$n :number select=nosuch} .match $n 3 {{three}} * {{other}}",
            "other",
            &[Kind::BadOption, Kind::BadSelector],
        ),
        (
            ".input {$word :number} .input {$n :integer} .match $word $n * 3 {{right}} * * {{wrong}}",
            "right",
            &[Kind::BadOperand, Kind::BadSelector],
        ),
    ] {
        assert_eq!(said("en", source, &args), (expected.to_owned(), kinds.to_vec()), "{source}");
    }
}

#[test]
fn placeholders_are_isolated_by_the_default_strategy() {
    let said = |locale: &str, source: &str| {
        let program = Program::compile(&Message::parse(source).unwrap());
        program.format(&FormatContext::of(&tag(locale)), &args! { x: "x", n: 5 }).text()
    };
    assert_eq!(said("en", "{$x}"), "\u{2068}x\u{2069}");
    assert_eq!(said("en", "{$n}"), "5");
    assert_eq!(said("en", "{$n :number u:dir=ltr}"), "\u{2066}5\u{2069}");
    assert_eq!(said("en", "{$x :string u:dir=rtl}"), "\u{2067}x\u{2069}");
    assert_eq!(said("ar", "{$n}"), "\u{2067}5\u{2069}");
    assert_eq!(said("ar", "{#b}{$x}{/b}"), "\u{2068}x\u{2069}");
}

#[test]
fn a_declared_direction_and_identifier_stay_with_the_value() {
    let formatted = |source: &str| {
        let program = Program::compile(&Message::parse(source).unwrap());
        let context = FormatContext::of(&tag("en"));
        let args = args! { x: "a", right: "rtl", name: "n" };
        let parts = program.format(&context, &args).parts();
        let ids: Vec<_> = parts
            .iter()
            .filter_map(|part| match part {
                Part::Value { id, dir, .. } => Some(format!("{id:?} {dir:?}")),
                _ => None,
            })
            .collect();
        (
            program.format(&context, &args).text(),
            program.format(&context, &args).html().into_string(),
            ids.join(", ").replace("Some(", "").replace(')', ""),
        )
    };
    for (source, text, html, parts) in [
        (
            ".local $v = {1 :number u:dir=rtl} {{<{$v}>}}",
            "<\u{2067}1\u{2069}>",
            "&lt;<bdi dir=\"rtl\">1</bdi>&gt;",
            "None RightToLeft",
        ),
        (
            ".local $v = {1 :number u:dir=rtl u:id=v} .local $w = {$v} {{{$w}}}",
            "\u{2067}1\u{2069}",
            "<bdi dir=\"rtl\">1</bdi>",
            "\"v\" RightToLeft",
        ),
        (
            ".input {$x :string u:dir=ltr} .match $x a {{<{$x}>}} * {{other}}",
            "<\u{2066}a\u{2069}>",
            "&lt;<bdi dir=\"ltr\">a</bdi>&gt;",
            "None LeftToRight",
        ),
        (".input {$x :string u:id=x} {{{$x}}}", "\u{2068}a\u{2069}", "<bdi>a</bdi>", "\"x\" None"),
        (".local $v = {1 :number u:dir=auto} {{{$v}}}", "\u{2068}1\u{2069}", "<bdi>1</bdi>", "None None"),
        (".local $v = {1 :number u:dir=inherit} {{{$v}}}", "1", "1", "None LeftToRight"),
        (
            ".local $v = {1 :number u:dir=$right u:id=$name} {{{$v}}}",
            "\u{2067}1\u{2069}",
            "<bdi dir=\"rtl\">1</bdi>",
            "\"n\" RightToLeft",
        ),
        // A function makes a new value, which has only its own options.
        (".local $v = {1 :number u:dir=rtl u:id=v} {{{$v :number}}}", "1", "1", "None LeftToRight"),
        // What stands for a value that cannot be formatted has none.
        (".local $v = {x :number u:dir=rtl} {{{$v}}}", "\u{2068}{$v}\u{2069}", "<bdi>{$v}</bdi>", ""),
        (
            ".local $v = {5 :number u:locale=ar u:id=v} {{{$v}}}",
            "\u{2067}5\u{2069}",
            "<bdi dir=\"rtl\">5</bdi>",
            "\"v\" RightToLeft",
        ),
    ] {
        assert_eq!(formatted(source), (text.to_owned(), html.to_owned(), parts.to_owned()), "{source}");
    }
}

#[test]
fn html_is_safe_whatever_comes_in() {
    let html = |locale: &str, source: &str, args: &Args<'_>| {
        let program = Program::compile(&Message::parse(source).unwrap());
        let mut kinds = Vec::new();
        let context = FormatContext::of(&tag(locale));
        let html = program.format(&context, args).reporting(&mut |error| kinds.push(error.kind())).html();
        (html.into_string(), kinds)
    };
    let evil = args! { x: "<script>alert('1 & \"2\"')</script>", n: 3 };
    assert_eq!(
        html("en", "{$x}", &evil).0,
        "<bdi>&lt;script&gt;alert(&#39;1 &amp; &quot;2&quot;&#39;)&lt;/script&gt;</bdi>"
    );
    assert_eq!(html("en", "a < b & {$n}", &evil).0, "a &lt; b &amp; 3");
    assert_eq!(html("ar", "{$n}", &evil).0, "<bdi dir=\"rtl\">3</bdi>");
    assert_eq!(
        html("en", "{#strong}{$n}{/strong}{#br /}", &evil),
        ("<strong>3</strong><br>".to_owned(), vec![])
    );
    for (source, expected) in [
        ("{#script}x{/script}", "x"),
        ("{#b}x", "<b>x</b>"),
        ("x{/b}", "x"),
        ("{#b}{#i}x{/b}{/i}", "<b><i>x</i></b>"),
        ("{#b onclick=|alert(1)|}x{/b}", "<b>x</b>"),
    ] {
        assert_eq!(html("en", source, &evil).0, expected, "{source}");
    }
    assert!(!html("en", "{#script}x{/script}", &evil).1.is_empty());
}

#[test]
fn arguments_are_what_applications_have() {
    let shown = |value: Value<'_>| text("en", "{$x}", &Args::new().with("x", value));
    assert_eq!(shown(3u8.into()), "3");
    assert_eq!(shown((-3i16).into()), "-3");
    assert_eq!(shown(u64::MAX.into()), "18,446,744,073,709,551,615");
    assert_eq!(shown(0.1f32.into()), "0.1");
    assert_eq!(shown(1.5f64.into()), "1.5");
    assert_eq!(shown(f64::NAN.into()), "NaN");
    assert_eq!(shown(7usize.into()), "7");
    assert_eq!(shown(String::from("a").into()), "a");
    assert_eq!(text("en", "{$x :number}", &args! { x: "12.50" }), "12.5");
}

#[test]
fn numbers_may_follow_other_formats_than_the_words() {
    let program = Program::compile(
        &Message::parse(".input {$n :integer} .match $n one {{{$n} sedd}} * {{{$n} o seddi}}").unwrap(),
    );
    let context = FormatContext::of(&tag("cy")).with_formats(&tag("de"));
    assert_eq!(program.format(&context, &args! { n: 12345 }).text(), "12.345 o seddi");
}

#[test]
fn a_message_knows_its_parameters() {
    let source = ".input {$n :number digits=$d} .local $m = {$n} .match $m one {{{$a}}} * {{{$b :string} {$a :integer}}}";
    let parameters = Message::parse(source).unwrap().parameters();
    let shown: Vec<_> =
        parameters.iter().map(|parameter| format!("{} {:?}", parameter.name, parameter.kind)).collect();
    assert_eq!(shown, ["a Number", "b Text", "d Any", "n Number"]);
}

#[test]
fn keys_that_are_numbers_are_compared_by_value() {
    let halves = ".input {$n :number} .match $n 1.5 {{one and a half}} 2 {{two}} * {{other}}";
    for (n, expected) in [("1.5", "one and a half"), ("1.50", "one and a half"), ("2", "two"), ("2.0", "two")]
    {
        assert_eq!(text("en", halves, &args! { n: Decimal::parse(n).unwrap() }), expected, "{n}");
    }
    for n in ["2.5", "1", "15", "-1.5", "0"] {
        assert_eq!(text("en", halves, &args! { n: Decimal::parse(n).unwrap() }), "other", "{n}");
    }
    // A whole number meets a key with a fraction, too.
    assert_eq!(text("en", ".input {$n :integer} .match $n 2.0 {{two}} * {{other}}", &args! { n: 2 }), "two");
    assert_eq!(
        text("en", ".input {$n :integer} .match $n 2.5 {{two}} * {{other}}", &args! { n: 2 }),
        "other"
    );
}

#[test]
fn of_variants_that_suit_equally_the_first_is_selected() {
    let two = ".input {$a :number} .input {$b :number} .match $a $b 1 one {{first}} 1.0 one {{second}} * * {{other}}";
    assert_eq!(text("en", two, &args! { a: 1, b: 1 }), "first");
    let one = ".input {$a :number} .match $a 1.0 {{first}} 1 {{second}} * {{other}}";
    assert_eq!(text("en", one, &args! { a: 1 }), "first");
}

#[test]
fn a_key_that_cannot_match_is_explained() {
    let help = |source: &str| {
        let program = Program::compile(&Message::parse(source).unwrap());
        let mut errors = Vec::new();
        let context = FormatContext::of(&tag("en"));
        let mut text = String::new();
        let args = args! { n: 1 };
        program
            .format(&context, &args)
            .reporting(&mut |error| errors.push(error))
            .write_to(&mut text)
            .unwrap();
        errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
    };
    assert_snapshot!(help(".local $r = {1 :crow:range to=2} .match $r horse {{b}} * {{none}}"), @"the key `horse` never matches; a range is selected by its plural category: `zero`, `one`, `two`, `few`, `many` or `other`");
    assert_snapshot!(help(".input {$n :number} .match $n horse {{b}} * {{none}}"), @"the key `horse` never matches; a number is selected by a number or a plural category: `zero`, `one`, `two`, `few`, `many` or `other`");
}

#[test]
fn a_model_may_have_texts_and_names_that_are_longer_than_any_source() {
    let mut message = Message::parse("Seats: {$seats}").unwrap();
    let (long_text, long_name) = ("ż".repeat(70_000), "s".repeat(70_000));
    let Body::Pattern(pattern) = &mut message.body else { panic!("it is one pattern") };
    let [Element::Text(text), Element::Expression(expression)] = pattern.as_mut_slice() else {
        panic!("it is a text and an expression");
    };
    *text = long_text.as_str().into();
    expression.operand = Some(Operand::Variable(Name::from(long_name.as_str())));
    let context = FormatContext::of(&tag("en")).with_isolation(Isolation::None);
    let program = Program::compile(&message);
    let args = Args::new().with(long_name.as_str(), 3);
    // Not `assert_eq!`: nobody reads so much.
    let said = program.format(&context, &args).text();
    assert!(said == long_text.clone() + "3", "{} … {}", said.len(), &said[said.len() - 20..]);
    assert!(program.format(&context, &args! {}).text() == long_text + "{$" + &long_name + "}");
}

#[test]
fn whole_numbers_of_any_size_are_keys() {
    let source =
        ".input {$seats :integer} .match $seats -1 {{a}} 32767 {{b}} 32768 {{c}} 32769.0 {{d}} * {{e}}";
    let said = |seats: i64| text("en", source, &args! { seats });
    assert_eq!([-1, 32_767, 32_768, 32_769, 32_770].map(said), ["a", "b", "c", "d", "e"]);
}

/// One text has a limit: beyond it nothing is shown, and one error says so.
#[test]
fn a_text_that_is_too_long_is_one_error() {
    let program = Program::compile(&Message::parse(&"{$x}".repeat(16_000)).unwrap());
    let x = "word ".repeat(380);
    let args = args! { x: x.as_str() };
    let context = FormatContext::of(&"en".parse().unwrap()).with_isolation(Isolation::None);
    for (longest, whole) in
        [(16_000 * x.len(), true), (16_000 * x.len() - 1, false), (1 << 20, false), (0, false)]
    {
        let context = context.clone().with_longest(longest);
        let mut errors = Vec::new();
        let text = program.format(&context, &args).reporting(&mut |error| errors.push(error)).text();
        assert_eq!((text.len() == 16_000 * x.len(), text == "\u{fffd}"), (whole, !whole), "{longest}");
        let html = program.format(&context, &args).reporting(&mut |error| errors.push(error)).html();
        assert_eq!(html.as_str() == "\u{fffd}", !whole);
        let kinds: Vec<_> = errors.iter().map(|error| error.kind().id()).collect();
        assert_eq!(kinds, if whole { vec![] } else { vec!["too-long"; 2] });
    }
    let mut errors = Vec::new();
    let parts =
        program.format(&context, &args).reporting(&mut |error| errors.push(error.to_string())).parts();
    assert_eq!(parts, [Part::Fallback { source: "\u{fffd}".to_owned() }]);
    assert_eq!(
        errors,
        [
            "the text would be longer than 1048576 bytes; shorten the arguments, or show them less often; the limit is for one text"
        ]
    );
}

/// What a message declares is shared by its placeholders, not copied for each of them.
#[test]
fn declarations_and_placeholders_of_other_locales_cost_what_they_say() {
    let took = |count: usize| {
        let mut source = (0..count)
            .map(|at| format!(".local $a{at} = {{$x :string u:locale=cy}}\n"))
            .collect::<Vec<_>>()
            .concat();
        source += "{{";
        source.extend((0..count).map(|at| format!("{{$a{at} :string u:locale=pl}}")));
        source += "}}";
        let program = Program::compile(&Message::parse(&source).unwrap());
        let context = FormatContext::of(&"en".parse().unwrap());
        let best = (0..5).map(|_| {
            let begun = std::time::Instant::now();
            assert!(program.format(&context, &args! { x: "words" }).text().contains("words"));
            begun.elapsed()
        });
        best.min().unwrap()
    };
    let (one, ten) = (took(60), took(600));
    // Linear is ten times as long; a copy of all for each would be a hundred.
    assert!(ten < one * 30, "{one:?}, {ten:?}");
}
