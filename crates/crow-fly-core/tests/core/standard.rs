//! UTS #35 part 9 rule by rule: each case names the rule it is of, a source, and what is said.
//!
//! `$t` is the text `T`, `$n` the number 3, `$d` the number 2.50; nothing is called `$none`.

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, FormatErrorKind as Kind, Isolation, Message, Program};
use crow_fly_core::number::Decimal;

use crate::tag;

/// What a source says in English, without isolation, and the kinds of errors.
fn said(source: &str) -> Result<(String, Vec<Kind>), String> {
    let message = Message::parse(source).map_err(|errors| errors[0].kind().id().to_owned())?;
    let args = args! { t: "T", n: 3, d: Decimal::parse("2.50").unwrap(), "with-dash": "D", "ż": "Ż" };
    let context = FormatContext::of(&tag("en")).with_isolation(Isolation::None);
    let (mut text, mut kinds) = (String::new(), Vec::new());
    Program::compile(&message)
        .format(&context, &args)
        .reporting(&mut |error| kinds.push(error.kind()))
        .write_to(&mut text)
        .unwrap();
    Ok((text, kinds))
}

#[test]
#[allow(clippy::too_many_lines, reason = "a table of cases, one a line")]
fn sources_that_are_said_without_an_error() {
    let cases = [
        ("simple message: text is as it is", "Hello, world!", "Hello, world!"),
        ("simple message: white space is text", "  a \t b  ", "  a \t b  "),
        ("simple message: line breaks are text", "a\r\nb\n", "a\r\nb\n"),
        ("simple message: a full stop inside is text", "a.input", "a.input"),
        ("simple message: other white space before a full stop is text", "\u{a0}.input", "\u{a0}.input"),
        ("simple message: a bar is text", "a|b", "a|b"),
        ("simple message: quotes are text", "'a' \"b\"", "'a' \"b\""),
        ("simple message: controls are text", "a\u{1}b\u{7f}c", "a\u{1}b\u{7f}c"),
        ("simple message: noncharacters are text", "a\u{fffe}b", "a\u{fffe}b"),
        ("simple message: a placeholder may come first", "{$t}!", "T!"),
        ("escapes: all four", "\\\\\\{\\|\\}", "\\{|}"),
        ("escapes: in a quoted pattern", "{{\\{\\}}}", "{}"),
        ("escapes: in a quoted literal", "{|\\|\\\\\\{\\}|}", "|\\{}"),
        ("quoted pattern: braces and blanks stay", "{{ a b }}", " a b "),
        ("quoted pattern: white space around it does not count", " \n{{a}}\t ", "a"),
        ("quoted pattern: marks of direction around it do not count", "\u{200e}{{a}}\u{200f}", "a"),
        ("quoted pattern: a full stop first", "{{.a}}", ".a"),
        ("literal: letters", "{abc}", "abc"),
        ("literal: digits first", "{4x}", "4x"),
        ("literal: hyphen and full stop", "{-.-}", "-.-"),
        ("literal: a date", "{2026-11-23}", "2026-11-23"),
        ("literal: quoted and empty", "{||}", ""),
        ("literal: quoted with line breaks", "{|a\nb|}", "a\nb"),
        ("literal: quoted braces", "{|{}|}", "{}"),
        ("literal: other scripts", "{żółć}{船}", "żółć船"),
        ("literal: symbols that are name characters", "{✓}{€}", "✓€"),
        ("variable: plain", "{$t}", "T"),
        ("variable: with a dash", "{$with-dash}", "D"),
        ("variable: composed and decomposed are one name", "{$z\u{307}}", "Ż"),
        ("variable: white space inside the braces", "{ \n$t\t}", "T"),
        ("variable: a mark of direction on each side of the name", "{$\u{200e}t\u{200f}}", "T"),
        ("attribute: without a value", "{$t @a}", "T"),
        ("attribute: with a value", "{$t @a=b @c=|d e|}", "T"),
        ("attribute: white space around the equals sign", "{$t @a = b}", "T"),
        ("attribute: twice is no error", "{$t @a=1 @a=2}", "T"),
        ("attribute: namespaced", "{$t @x:a=1}", "T"),
        ("attribute: behind a function and its options", "{$n :number signDisplay=always @a}", "+3"),
        ("option: white space around the equals sign", "{$n :number signDisplay = always}", "+3"),
        ("option: quoted value", "{$n :number signDisplay=|always|}", "+3"),
        ("option: value from a variable", ".local $s = {always} {{{$n :number signDisplay=$s}}}", "+3"),
        ("markup: text drops it", "{#a}x{/a}{#b/}", "x"),
        ("markup: options and attributes", "{#a o=1 p=$t @q}x{/a o=2}", "x"),
        ("markup: white space inside", "{ #a }x{ /a }", "x"),
        ("markup: unbalanced is no error", "{/a}x{#b}", "x"),
        (".input: without white space", ".input{$t}{{{$t}}}", "T"),
        (".input: with a function", ".input {$n :number minimumFractionDigits=1} {{{$n}}}", "3.0"),
        (".local: of a literal", ".local $a = {x} {{{$a}}}", "x"),
        (".local: of a variable", ".local $a = {$t} {{{$a}}}", "T"),
        (".local: of another local", ".local $a = {$t} .local $b = {$a} {{{$b}}}", "T"),
        (".local: no white space around the equals sign", ".local $a={x}{{{$a}}}", "x"),
        (".local: may shadow nothing but adds a name", ".local $new = {$n :integer} {{{$new} {$n}}}", "3 3"),
        (
            "declared options travel",
            ".local $a = {$n :number minimumFractionDigits=2} {{{$a} {$a :number}}}",
            "3.00 3.00",
        ),
        (
            "declared options are overridden",
            ".local $a = {$n :number minimumFractionDigits=2} {{{$a :number minimumFractionDigits=1}}}",
            "3.0",
        ),
        (".match: a literal key", ".input {$t :string} .match $t T {{yes}} * {{no}}", "yes"),
        (".match: a quoted key is the same key", ".input {$t :string} .match $t |T| {{yes}} * {{no}}", "yes"),
        (
            ".match: text is compared letter by letter",
            ".input {$t :string} .match $t t {{yes}} * {{no}}",
            "no",
        ),
        (
            ".match: `other` is no catch-all for text",
            ".input {$t :string} .match $t other {{wrong}} * {{right}}",
            "right",
        ),
        (".match: a number's exact key", ".input {$n :number} .match $n 3 {{three}} * {{else}}", "three"),
        (
            ".match: an exact key beats a category",
            ".input {$n :number} .match $n other {{other}} 3 {{three}} * {{else}}",
            "three",
        ),
        (
            ".match: a category beats the catch-all",
            ".input {$n :number} .match $n * {{else}} other {{other}}",
            "other",
        ),
        (
            ".match: an exact key may be written with zeros",
            ".input {$d :number} .match $d 2.5 {{yes}} * {{no}}",
            "yes",
        ),
        (
            ".match: the first variant of equals is said",
            ".input {$t :string} .input {$n :number} .match $t $n * 3 {{first}} T * {{second}} * * {{third}}",
            "second",
        ),
        (
            ".match: line breaks between variants are not needed",
            ".input {$n :number}.match $n 1{{a}}3{{b}}*{{c}}",
            "b",
        ),
        (
            ".match: a selector through locals",
            ".local $a = {$n :integer} .local $b = {$a} .match $b 3 {{yes}} * {{no}}",
            "yes",
        ),
        (":string of a number", "{$d :string}", "2.50"),
        (":string of a literal", "{x :string}", "x"),
        (":number of a literal", "{1234 :number}", "1,234"),
        (":number of a quoted literal", "{|-0.50| :number}", "-0.5"),
        (":number with an exponent", "{1.5e3 :number}", "1,500"),
        (":number keeps given digits only where asked", "{$d :number}", "2.5"),
        (":number with fewer digits", "{$d :number maximumFractionDigits=0}", "3"),
        (
            ":number: significant digits go before fraction digits",
            "{$d :number maximumSignificantDigits=1 minimumFractionDigits=2}",
            "3",
        ),
        (":number: grouping never", "{12345 :number useGrouping=never}", "12345"),
        (
            ":number: grouping from two digits on",
            "{1234 :number useGrouping=min2} {12345 :number useGrouping=min2}",
            "1234 12,345",
        ),
        (":number: no sign", "{-5 :number signDisplay=never}", "5"),
        (
            ":number: a sign except for zero",
            "{0 :number signDisplay=exceptZero} {5 :number signDisplay=exceptZero}",
            "0 +5",
        ),
        (":number: negative zero", "{-0 :number} {-0 :number signDisplay=negative}", "-0 0"),
        (
            ":number: zeros stripped from whole numbers",
            "{5.00 :number minimumFractionDigits=2 trailingZeroDisplay=stripIfInteger}",
            "5",
        ),
        (":integer rounds", "{$d :integer}", "3"),
        (
            ":integer drops inherited fraction digits",
            ".local $a = {$n :number minimumFractionDigits=2} {{{$a :integer}}}",
            "3",
        ),
        (":integer with leading zeros", "{7 :integer minimumIntegerDigits=3}", "007"),
        ("u:id changes nothing", "{$t :string u:id=x}", "T"),
    ];
    let wrong: Vec<String> = cases
        .iter()
        .filter_map(|(rule, source, expected)| match said(source) {
            Ok((text, kinds)) if text == *expected && kinds.is_empty() => None,
            other => Some(format!("{rule}: {source:?} gives {other:?}, expected {expected:?}")),
        })
        .collect();
    assert!(wrong.is_empty(), "{} of {}:\n{}", wrong.len(), cases.len(), wrong.join("\n"));
}

#[test]
fn sources_that_are_refused() {
    let cases = [
        ("a keyword is written in small letters", ".INPUT {$t} {{a}}", "unknown-keyword"),
        ("there are no reserved statements", ".foo {$t} {{a}}", "unknown-keyword"),
        ("a full stop first opens a statement", " .5 degrees", "unknown-keyword"),
        ("text behind a pattern", "{{a}}b", "trailing-content"),
        ("two patterns", "{{a}}{{b}}", "trailing-content"),
        ("a declaration behind the pattern", "{{a}} .input {$t}", "trailing-content"),
        ("one brace closes no pattern", "{{a}", "lone-brace"),
        ("escapes of other characters", "\\n", "bad-escape"),
        ("NUL in text", "a\0", "null-character"),
        ("NUL in a literal", "{|\0|}", "null-character"),
        ("a name that begins with a digit", "{$1a}", "expected-name"),
        ("a name that begins with a hyphen", "{$-a}", "expected-name"),
        ("a name with nothing", "{$ a}", "expected-name"),
        ("a function without a name", "{$t :}", "expected-name"),
        ("a namespace without a name", "{$t :a:}", "expected-name"),
        ("an attribute without a name", "{$t @}", "expected-name"),
        ("no white space before a function", "{$n:number}", "missing-space"),
        ("no white space before an option", "{$n :number a=|1|b=2}", "missing-space"),
        ("no white space before an attribute", "{|a|@b}", "missing-space"),
        ("a mark of direction is no white space", "{$n\u{200e}:number}", "missing-space"),
        ("an option without a value", "{$n :number a=}", "expected-value"),
        ("an attribute's value is a literal", "{$n @a=$b}", "expected-value"),
        ("markup without a name", "{#}", "expected-name"),
        ("a slash that is not beside the brace", "{#a / }", "unexpected-character"),
        ("closing markup that stands alone", "{/a/}", "unexpected-character"),
        ("a key that is a variable", ".input {$t :string} .match $t $t {{a}} * {{b}}", "expected-key"),
        (
            "no white space between keys",
            ".input {$t :string} .match $t |a||b| {{a}} * {{b}}",
            "missing-space",
        ),
        (
            "no white space between `.match` and its selector",
            ".input {$t :string} .match$t * {{b}}",
            "missing-space",
        ),
        ("a selector that is a literal", ".match |a| * {{b}}", "expected-variable"),
        ("a selector that is an expression", ".match {$t :string} * {{b}}", "expected-variable"),
        (
            "a variable declared by two `.local`s",
            ".local $a = {1} .local $a = {2} {{a}}",
            "duplicate-declaration",
        ),
        (
            "a parameter declared after its use",
            ".local $a = {$t} .input {$t :string} {{a}}",
            "duplicate-declaration",
        ),
        (
            "a variable used in an option, declared later",
            ".local $a = {1 :number x=$b} .local $b = {2} {{a}}",
            "duplicate-declaration",
        ),
        (
            "names are compared in NFC",
            ".local $\u{e5} = {1} .local $a\u{30a} = {2} {{a}}",
            "duplicate-declaration",
        ),
        ("the same option twice on an unknown function", "{$t :x:y a=1 a=2}", "duplicate-option-name"),
        ("the same option twice on closing markup", "{/a b=1 b=2}", "duplicate-option-name"),
        (
            "too few keys",
            ".input {$t :string} .input {$n :number} .match $t $n a {{a}} * * {{b}}",
            "variant-key-mismatch",
        ),
        (
            "no variant for the rest",
            ".input {$t :string} .input {$n :number} .match $t $n * 1 {{a}} a * {{b}}",
            "missing-fallback-variant",
        ),
        (
            "quoted and bare keys are the same",
            ".input {$n :number} .match $n 1 {{a}} |1| {{b}} * {{c}}",
            "duplicate-variant",
        ),
        ("an attribute is no annotation", ".input {$t @x} .match $t * {{a}}", "missing-selector-annotation"),
        (
            "a parameter that is not declared is not annotated",
            ".match $t * {{a}}",
            "missing-selector-annotation",
        ),
    ];
    let wrong: Vec<String> = cases
        .iter()
        .filter(|(_, source, expected)| said(source).as_ref().err().map(String::as_str) != Some(*expected))
        .map(|(rule, source, expected)| {
            format!("{rule}: {source:?} gives {:?}, expected {expected}", said(source))
        })
        .collect();
    assert!(wrong.is_empty(), "{} of {}:\n{}", wrong.len(), cases.len(), wrong.join("\n"));
}

#[test]
fn what_fails_while_it_is_said() {
    let cases = [
        ("an argument that was not given", "{$none}", "{$none}", Kind::UnresolvedVariable),
        ("through a local", ".local $a = {$none} {{{$a}}}", "{$a}", Kind::UnresolvedVariable),
        ("a function that does not exist", "{$t :nosuch}", "{$t}", Kind::UnknownFunction),
        ("a function that does not exist, of a literal", "{x :nosuch}", "{|x|}", Kind::UnknownFunction),
        ("a function that does not exist, alone", "{:no:such a=1}", "{:no:such}", Kind::UnknownFunction),
        ("a literal shows as a quoted one", "{|a \\| b| :number}", "{|a \\| b|}", Kind::BadOperand),
        ("a text is not a number", "{$t :number}", "{$t}", Kind::BadOperand),
        ("a plus sign is not of the number grammar", "{|+1| :number}", "{|+1|}", Kind::BadOperand),
        ("nor is a point first", "{|.5| :number}", "{|.5|}", Kind::BadOperand),
        ("nor a point last", "{|1.| :number}", "{|1.|}", Kind::BadOperand),
        ("nor a zero first", "{007 :integer}", "{|007|}", Kind::BadOperand),
        ("nor hexadecimal digits", "{0x1 :number}", "{|0x1|}", Kind::BadOperand),
        ("an option that does not exist", "{$n :number nosuch=1}", "3", Kind::BadOption),
        ("a digit option that is no digit", "{$n :number minimumFractionDigits=two}", "3", Kind::BadOption),
        ("a digit option out of bounds", "{$n :number minimumFractionDigits=101}", "3", Kind::BadOption),
        ("a word that the option does not take", "{$n :number signDisplay=often}", "3", Kind::BadOption),
    ];
    for (rule, source, text, kind) in cases {
        assert_eq!(said(source), Ok((text.to_owned(), vec![kind])), "{rule}: {source}");
    }
}
