//! Fast paths beside the general ones, in every locale of CLDR.

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, Isolation, Message, Part, Program};
use crow_fly_core::number::{Decimal, Grouping, NumberFormat, NumberLocale, PluralRules, PluralType, Sign};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::{Args, Value};
use proptest::prelude::*;

use crate::tag;

/// Every locale of CLDR, and some with digits of their own.
fn locales() -> Vec<LanguageTag> {
    let own_digits = ["ar-u-nu-arab", "hi-u-nu-deva", "en-u-nu-fullwide", "de-u-nu-mathsanb", "bn-u-nu-latn"];
    let all: Vec<LanguageTag> = crow_fly_cldr::formats::NUMBERS
        .locales()
        .chain(own_digits)
        .filter(|text| *text != "und")
        .map(tag)
        .collect();
    assert!(all.len() > 700, "{}", all.len());
    all
}

/// One in so many integers below a million, those around each power of ten, and the ends of the type.
fn integers(step: usize) -> Vec<i64> {
    let powers =
        (0..19).map(|power| 10_i64.pow(power)).flat_map(|power| [power - 1, power, power.saturating_add(1)]);
    let ends = [i64::MAX, i64::MAX - 1, 0];
    let positive: Vec<i64> = (0..1_000_000).step_by(step).chain(powers).chain(ends).collect();
    let negative = positive.iter().map(|number| -number).collect::<Vec<_>>();
    positive.into_iter().chain(negative).chain([i64::MIN, i64::MIN + 1]).collect()
}

fn general(format: NumberFormat, number: i64, locale: &NumberLocale) -> String {
    let mut text = String::new();
    format.write(&Decimal::from(number), locale, &mut text).unwrap();
    text
}

fn fast(format: NumberFormat, number: i64, locale: &NumberLocale) -> String {
    let mut text = String::new();
    format.write_integer(number, locale, &mut text).unwrap();
    text
}

#[test]
fn an_integer_has_the_category_and_the_digits_of_its_decimal() {
    let numbers = integers(3989);
    for tag in locales() {
        for plural_type in [PluralType::Cardinal, PluralType::Ordinal] {
            let rules = PluralRules::of(&tag, plural_type);
            for number in &numbers {
                let decimal = rules.category(&Decimal::from(number.unsigned_abs()));
                assert_eq!(rules.category_of_integer(number.unsigned_abs()), decimal, "{tag} {number}");
            }
        }
        let locale = NumberLocale::of(&tag);
        for number in &numbers {
            let format = NumberFormat::default();
            assert_eq!(fast(format, *number, &locale), general(format, *number, &locale), "{tag} {number}");
        }
    }
}

/// Messages that take a fast path; a declaration that is not used keeps a message from it.
const MESSAGES: [&str; 6] = [
    "{{Only text}}",
    "{{{$x}, {$n} and {$list}}}",
    ".input {$n :number} .match $n 1000 {{M}} zero {{z}} one {{1 {$n} {$x}}} two {{2 {$n}}} few {{f {$n}}} many {{m {$n}}} 3 {{three}} * {{o {$n}}}",
    ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} few {{{$n}rd}} many {{{$n}m}} * {{{$n}th}}",
    ".input {$n :number select=exact useGrouping=always} .match $n 1 {{one}} * {{{$n}}}",
    ".input {$n :integer signDisplay=always minimumIntegerDigits=5} .match $n one {{one {$n}}} * {{{$n}}}",
];

/// The two programs of a message: one that may take a fast path, and one that may not.
fn programs(source: &str) -> [Program; 2] {
    let general = format!(".local $unused = {{1}} {source}");
    [source, &general].map(|source| Program::compile(&Message::parse(source).unwrap()))
}

fn outputs(
    program: &Program,
    context: &FormatContext,
    args: &Args<'_>,
) -> (String, String, Vec<Part>, usize) {
    let mut errors = 0;
    let text = program.format(context, args).reporting(&mut |_| errors += 1).text();
    (text, program.format(context, args).html().into_string(), program.format(context, args).parts(), errors)
}

#[test]
fn a_message_on_a_fast_path_is_what_the_general_path_makes() {
    let programs = MESSAGES.map(programs);
    let numbers = integers(90_001);
    for (at, tag) in locales().into_iter().enumerate() {
        let context = FormatContext::of(&tag);
        // Each locale has another tenth of the numbers, and the small ones.
        let some = numbers.iter().copied().skip(at % 10).step_by(10).chain(0..8);
        for number in some {
            let args = args! { n: number, x: "<X>", list: ["a", "b"] };
            for ([fast, general], source) in programs.iter().zip(MESSAGES) {
                let outputs = [fast, general].map(|program| outputs(program, &context, &args));
                assert_eq!(outputs[0], outputs[1], "{tag} {number}: {source}");
            }
        }
    }
}

/// Values that a plural may be given beside integers.
fn value() -> impl Strategy<Value = Option<Value<'static>>> {
    prop_oneof![
        any::<i64>().prop_map(|number| Some(Value::from(number))),
        any::<u64>().prop_map(|number| Some(Value::from(number))),
        any::<f64>().prop_map(|number| Some(Value::from(number))),
        "(-?[0-9]{1,20}(\\.[0-9]{1,3})?|[a-z]{0,3})".prop_map(|text| Some(Value::from(text))),
        Just(None),
    ]
}

proptest! {
    #[test]
    fn random_values_take_the_same_way(at in 0..705_usize, message in 0..MESSAGES.len(), n in value(), x in value()) {
        let locales = crow_fly_cldr::formats::NUMBERS.locales().collect::<Vec<_>>();
        let context = FormatContext::of(&tag(locales[at % locales.len()]));
        let named = [("n", n), ("x", x)].into_iter().filter_map(|(name, value)| Some((name, value?)));
        let args: Args<'_> = named.collect();
        let [fast, general] = programs(MESSAGES[message]);
        prop_assert_eq!(outputs(&fast, &context, &args), outputs(&general, &context, &args));
    }

    #[test]
    fn random_integers_are_written_the_same_way(
        at in 0..705_usize, number in any::<i64>(), digits in 1_u8..22,
        grouping in prop_oneof![Just(Grouping::Auto), Just(Grouping::Always), Just(Grouping::Never), Just(Grouping::Min2)],
        sign in prop_oneof![Just(Sign::Auto), Just(Sign::Always), Just(Sign::ExceptZero), Just(Sign::Negative), Just(Sign::Never)],
    ) {
        let locales = crow_fly_cldr::formats::NUMBERS.locales().collect::<Vec<_>>();
        let locale = NumberLocale::of(&tag(locales[at % locales.len()]));
        let format = NumberFormat { integer_digits: digits, grouping, sign, ..NumberFormat::default() };
        prop_assert_eq!(fast(format, number, &locale), general(format, number, &locale));
        let rules = PluralRules::of(&tag(locales[at % locales.len()]), PluralType::Cardinal);
        prop_assert_eq!(rules.category_of_integer(number.unsigned_abs()), rules.category(&Decimal::from(number.unsigned_abs())));
    }
}

/// Whether a letter of a currency stands next to a digit.
fn letters_touch_digits(text: &str) -> bool {
    let letters: Vec<char> =
        text.chars().filter(|letter| !matches!(letter, '\u{200e}' | '\u{200f}' | '\u{61c}')).collect();
    letters.windows(2).any(|pair| match *pair {
        [one, other] => {
            one.is_alphabetic() && other.is_numeric() || one.is_numeric() && other.is_alphabetic()
        }
        _ => false,
    })
}

#[test]
fn letters_of_a_currency_keep_their_distance_from_the_digits() {
    let amounts = ["XTS", "USD", "BRL", "XCD", "INR", "CHF"].into_iter().flat_map(|currency| {
        ["code", "symbol", "narrowSymbol"].into_iter().flat_map(move |display| {
            ["standard", "accounting"].map(|sign| {
                format!("{{$n :currency currency={currency} currencyDisplay={display} currencySign={sign}}}")
            })
        })
    });
    let amounts: Vec<_> =
        amounts.map(|source| (Program::compile(&Message::parse(&source).unwrap()), source)).collect();
    let mut wrong = Vec::new();
    for tag in locales() {
        let context = FormatContext::of(&tag).with_isolation(Isolation::None);
        for (program, source) in &amounts {
            for number in [5, -5] {
                let text = program.format(&context, &args! { n: number }).text();
                if letters_touch_digits(&text) {
                    wrong.push(format!("{tag} {source}: {text}"));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
}

#[test]
fn a_plus_stands_where_the_minus_stands() {
    let program = |source: &str| Program::compile(&Message::parse(source).unwrap());
    let pairs = ["number", "currency currency=USD", "currency currency=XTS", "percent"];
    let pairs = pairs.map(|function| program(&format!("{{$n :{function} signDisplay=always}}")));
    for tag in locales() {
        let context = FormatContext::of(&tag).with_isolation(Isolation::None);
        let digit = general(NumberFormat::default(), 5, &NumberLocale::of(&tag));
        let [plus, minus] =
            [5, -5].map(|number| pairs[0].format(&context, &args! { n: number }).text().replace(&digit, ""));
        for pair in &pairs {
            let [above, below] = [5, -5].map(|number| pair.format(&context, &args! { n: number }).text());
            assert_eq!(below.replace(&minus, &plus), above, "{tag}");
        }
    }
}

/// A range says what its ends say: equal ends are one of them, and what is shown alike is not said twice.
#[test]
fn a_range_of_one_value_is_that_value() {
    let said = |context: &FormatContext, source: &str, args: &Args<'_>| {
        Program::compile(&Message::parse(source).unwrap()).format(context, args).text()
    };
    let args =
        args! { n: 1234.5, day: "2026-03-01", at: "2026-03-01T09:05:07", later: "2026-03-01T09:05:40" };
    for tag in locales() {
        let context = FormatContext::of(&tag).with_isolation(Isolation::None);
        for (name, function) in [
            ("n", ":number"),
            ("n", ":percent"),
            ("n", ":currency currency=EUR"),
            ("n", ":currency currency=EUR currencyDisplay=name"),
            ("n", ":unit unit=kilometer unitDisplay=long"),
            ("n", ":crow:compact width=long"),
            ("day", ":date"),
            ("day", ":date length=short fields=month-day-weekday"),
            ("at", ":time precision=second"),
            ("at", ":datetime dateLength=long"),
        ] {
            let one = said(&context, &format!("{{${name} {function}}}"), &args);
            let range = format!(".local $a = {{${name} {function}}} {{{{{{$a :crow:range to=${name}}}}}}}");
            assert_eq!(said(&context, &range, &args), one, "{tag} {function}");
        }
        // Seconds that are not shown make no range; shown ones say the day once.
        let range = |function: &str| {
            let source = format!(".local $a = {{$at {function}}} {{{{{{$a :crow:range to=$later}}}}}}");
            said(&context, &source, &args)
        };
        assert_eq!(range(":datetime"), said(&context, "{$at :datetime}", &args), "{tag}");
        let day = said(&context, "{$at :date}", &args);
        assert_eq!(range(":datetime timePrecision=second").matches(&*day).count(), 1, "{tag}");
    }
}
