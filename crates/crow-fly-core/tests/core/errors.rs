//! What errors say: texts that people read, word by word.

use std::sync::Arc;

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::{
    FormatContext, FunctionError, Functions, Invocation, Isolation, Message, MessageErrorKind as Kind,
    Program,
};
use crow_fly_core::number::Decimal;
use crow_fly_core::policy::LocaleSource;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::Value;

use crate::tag;

#[test]
fn tag_errors_name_the_subtag_and_what_may_stand_there() {
    let said = |text: &str| format!("{text:?}: {}", LanguageTag::parse(text).unwrap_err());
    let long = "en-".repeat(400);
    let texts = [
        "",
        &long,
        "en--GB",
        "en-GB-",
        "e",
        "12",
        "en-toolongsubtag",
        "en-G\u{e9}",
        "en\nGB",
        "en-GB-GB",
        "en-1996-1996",
        "en-u-a-u-b",
        "en-u",
        "x",
    ];
    let all: Vec<String> =
        texts.iter().map(|text| said(text)).map(|line| line.replace(&long, "long")).collect();
    insta::assert_snapshot!(all.join("\n"), @r#"
    "": a language tag cannot be empty
    "long": the text is too long for a language tag
    "en--GB": there is nothing between or beside the hyphens at byte 3
    "en-GB-": there is nothing between or beside the hyphens at byte 6
    "e": `e` is no language: a tag begins with two to eight letters
    "12": `12` is no language: a tag begins with two to eight letters
    "en-toolongsubtag": `toolongsubtag` is longer than the eight characters a subtag may have
    "en-Gé": `Gé` has a character other than ASCII letters, digits and hyphens
    "en\nGB": `en\nGB` has a character other than ASCII letters, digits and hyphens
    "en-GB-GB": `GB` fits no place of a language tag here: after the language come script, region and variants
    "en-1996-1996": the variant `1996` stands twice
    "en-u-a-u-b": `u` has nothing behind it
    "en-u": `u` has nothing behind it
    "x": `x` has nothing behind it
    "#);
}

#[test]
fn keyword_errors_say_the_form_of_a_keyword() {
    insta::assert_snapshot!(tag("en").set_keyword("hour", Some("h23")).unwrap_err(), @"`hour` is no `-u-` keyword: a key has two characters, each part of a value three to eight");
    insta::assert_snapshot!(tag("en").set_keyword("hc", Some("23")).unwrap_err(), @"`23` is no `-u-` keyword: a key has two characters, each part of a value three to eight");
}

#[test]
fn every_message_error_says_what_and_what_to_do() {
    let kinds = [
        Kind::TooLong,
        Kind::RepeatedText,
        Kind::NullCharacter,
        Kind::LoneBrace,
        Kind::BadEscape,
        Kind::UnclosedPlaceholder,
        Kind::EmptyPlaceholder,
        Kind::UnclosedLiteral,
        Kind::ExpectedName,
        Kind::ExpectedVariable,
        Kind::ExpectedValue,
        Kind::ExpectedEquals,
        Kind::ExpectedExpression,
        Kind::MissingSpace,
        Kind::MisplacedOption,
        Kind::OptionWithoutFunction,
        Kind::MisplacedFunction,
        Kind::UnexpectedCharacter,
        Kind::UnknownKeyword,
        Kind::MissingBody,
        Kind::UnclosedPattern,
        Kind::TrailingContent,
        Kind::ExpectedVariant,
        Kind::ExpectedKey,
        Kind::ExpectedPattern,
        Kind::VariantKeyMismatch,
        Kind::MissingFallbackVariant,
        Kind::MissingSelectorAnnotation,
        Kind::DuplicateDeclaration,
        Kind::DuplicateOptionName,
        Kind::DuplicateVariant,
    ];
    let all: Vec<String> =
        kinds.iter().map(|kind| format!("{}: {}; {}", kind.id(), kind.text(), kind.help())).collect();
    insta::assert_snapshot!(all.join("\n"), @r"
    too-long: the message is too long; split it into several messages
    repeated-text: a pattern shows too much of the message's own `.local` texts; show them fewer times: what is shown of them has 64 kB at most
    null-character: a NUL character cannot stand in a message; delete it
    lone-brace: a `}` closes nothing; write `\}` where the brace is text
    bad-escape: only `\`, `{`, `|` and `}` can follow a backslash; write `\\` where the backslash is text
    unclosed-placeholder: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    empty-placeholder: a placeholder is empty; name a variable (`{$name}`), a literal or a function; a brace that is text is written `\{`
    unclosed-literal: a quoted literal is not closed; close it with `|`; a bar inside it is written `\|`
    expected-name: a name is missing; write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first
    expected-variable: a variable is missing; write a variable: `$name`
    expected-value: a value is missing after `=`; write a literal or, for an option, a variable: `select=ordinal`, `digits=$count`
    expected-equals: an `=` is missing; write `.local $name = {…}`, or for an option `name=value`
    expected-expression: an expression in braces is missing; write it behind the declaration: `{$count :number}`
    missing-space: white space is missing; put a space before it
    misplaced-option: an option comes after an attribute; put options before attributes
    option-without-function: an option has no function to belong to; name the function before it: `{$count :number option=value}`
    misplaced-function: an expression has two functions; apply one in a `.local` declaration, the other to its variable
    unexpected-character: this cannot stand here; see what may stand in a placeholder: `{$variable :function option=value @attribute}`
    unknown-keyword: a message that begins with `.` needs `.input`, `.local` or `.match`; put the whole text in `{{…}}` where the full stop is text
    missing-body: there is no pattern after the declarations; add a pattern, `{{…}}`, or `.match`
    unclosed-pattern: a pattern is not closed; close it with `}}`
    trailing-content: there is text after the end of the message; put all text between `{{` and `}}`
    expected-variant: `.match` has no variants; add one line a variant: `one {{…}}`, and `* {{…}}` for all others
    expected-key: a key is missing; write a key for each selector, or `*`
    expected-pattern: a variant has no pattern; add it behind the keys: `one {{…}}`
    variant-key-mismatch: a variant has more or fewer keys than there are selectors; give it one key for each selector
    missing-fallback-variant: no variant fits all that is left; add one whose keys are all `*`
    missing-selector-annotation: a selector has no function; declare how to select: `.input {$count :number}`
    duplicate-declaration: a variable is declared twice, or used before it is declared; give the new variable another name, or move its declaration up
    duplicate-option-name: an option is given twice; keep one of the two
    duplicate-variant: two variants have the same keys; delete or change one of the two
    ");
    for kind in kinds {
        assert!(
            !kind.text().ends_with('.')
                && kind.text().starts_with(|first: char| !first.is_uppercase() || first == 'N'),
            "{kind:?}"
        );
    }
}

#[test]
fn several_errors_of_a_message_are_one_line_each_with_its_place() {
    insta::assert_snapshot!(Message::parse("{$a b} } {:").unwrap_err(), @"a placeholder is not closed (byte 0); a `}` closes nothing (byte 7); a name is missing (byte 11)");
    let twice = Message::parse("{$a :f o=1 o=2}").unwrap_err();
    assert_eq!(twice[0].related().unwrap().range(), 7..8);
}

#[test]
fn errors_of_formatting_say_which_function_option_and_value_and_what_is_expected() {
    let sources = [
        "{$gone}",
        "{$word :number}",
        "{$long :integer}",
        "{:number}",
        "{$word :nosuch}",
        "{$n :currency}",
        "{$n :currency currency=Euro}",
        "{$n :unit}",
        "{$n :unit unit=league}",
        "{$word :date}",
        "{$day :time}",
        "{$list :date}",
        "{$day :date length=tiny}",
        "{$day :date timeZone=|Atlantis/Quay|}",
        "{$day :date calendar=moon}",
        "{$n :offset}",
        "{$n :offset add=-1}",
        "{$n :crow:relative}",
        "{$n :crow:range}",
        "{$n :crow:range to=$word}",
        "{$day :crow:range to=$n}",
        "{$word :crow:name type=region}",
        "{$n :number select=other}",
        "{$n :number select=$word}",
        "{$n :number minimumFractionDigits=2 maximumFractionDigit=2}",
        "{$n :number minimumFractionDigits=x}",
        "{$n :number minimumFractionDigits=$word}",
        "{$n :number minimumFractionDigits=$gone}",
        "{$word :string select=exact}",
        "{$n :number u:dir=sideways}",
        "{$n :number u:color=red}",
        "{$n :harbour:tide}",
        ".input {$word :number} .match $word * {{x}}",
        ".input {$day :date} .match $day * {{x}}",
        ".input {$n :number} .match $n horse {{x}} * {{y}}",
        "{#blink}x{/blink}{#b}",
        "{#br}x{/br}",
        "{#b /}",
        "x{/b}",
        "{#a href=|javascript:alert(1)|}x{/a}",
        "{#b onclick=x}x{/b}",
        "{#b u:dir=rtl}x{/b}",
    ];
    let functions = Functions::new().with("harbour:tide", |_: &Invocation<'_>| {
        Err(FunctionError::bad_operand().because("the tide table ends in 2030"))
    });
    let context =
        FormatContext::of(&tag("en")).with_isolation(Isolation::None).with_functions(Arc::new(functions));
    let day = DateValue::parse("2026-05-01").unwrap();
    let mut said = Vec::new();
    for source in sources {
        let program = Program::compile(&Message::parse(source).unwrap());
        let list = vec![Value::from("Curlew"), Value::from("Avocet")];
        let args = args! { word: "x\ny", n: 1, long: "a".repeat(60), day: day.clone(), list };
        program
            .format(&context, &args)
            .reporting(&mut |error| {
                let id = error.kind().id();
                let cause = std::error::Error::source(&error).map(|cause| format!(" <- {cause}"));
                said.push(format!("{source}\n  {id}: {error}{}", cause.unwrap_or_default()));
            })
            .html();
    }
    insta::assert_snapshot!(said.join("\n"));
}

#[test]
fn errors_of_sets_numbers_and_sources() {
    insta::assert_snapshot!(LocaleSet::parse(["en", "EN"]).unwrap_err(), @"the locale `en` is listed twice; keep one of the two");
    insta::assert_snapshot!(LocaleSet::parse(Vec::<&str>::new()).unwrap_err(), @"an application needs at least one locale; list them in `locales`");
    let bad = LocaleSet::parse(["en", "e n"]).unwrap_err();
    insta::assert_snapshot!(format!("{bad}: {}", std::error::Error::source(&bad).unwrap()), @"a locale is not a language tag: `e n` has a character other than ASCII letters, digits and hyphens");
    insta::assert_snapshot!(LocaleSet::parse(["en"]).unwrap().with_default(&tag("cy")).unwrap_err(), @"the default `cy` is not one of the locales; add it to them");
    insta::assert_snapshot!(Decimal::parse("1,5").unwrap_err(), @"`1,5` is not a number; write digits, with an optional `-`, fraction and exponent: `-12.50`");
    insta::assert_snapshot!(Decimal::parse("1e999").unwrap_err(), @"`1e999` is not a number of a size that is read; write at most 400 digits on each side of the full stop");
    insta::assert_snapshot!("cooky".parse::<LocaleSource>().unwrap_err(), @"`cooky` is not a source of locales; write `path`, `host`, `query`, `header`, `visitor`, `session`, `cookie`, `accept-language` or `default`");
}
