//! What translators work on: forms laid out, messages in units and back, pseudo-locales.

use crow_fly_core::message::Message;
use crow_fly_core::message::model::{Element, Pattern};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::translation::{Piece, PseudoLocale, Unit, Units, with_forms_of};
use proptest::prelude::*;

use crate::message_laws::source;

fn tag(text: &str) -> LanguageTag {
    LanguageTag::parse(text).unwrap()
}

/// The keys of all variants, one line each.
fn laid_out(message: &str, locale: &str) -> String {
    let text = with_forms_of(&Message::parse(message).unwrap(), &tag(locale)).to_string();
    let variants = text.lines().filter(|line| !line.starts_with('.'));
    variants.map(|line| line.split(" {{").next().unwrap()).collect::<Vec<_>>().join(", ")
}

#[test]
fn the_forms_of_a_language_are_laid_out() {
    let seats = ".input {$n :integer} .match $n one {{{$n} seat}} * {{{$n} seats}}";
    let none = ".input {$n :integer} .match $n 0 {{none}} one {{{$n} seat}} * {{{$n} seats}}";
    let pier = ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} few {{{$n}rd}} * {{{$n}th}}";
    let two = ".input {$n :integer} .input {$m :integer} .match $n $m 0 * {{none}} one one {{a}} one * {{b}} * one {{c}} * * {{d}}";
    let exact = ".input {$n :integer select=exact} .match $n 1 {{one}} * {{many}}";
    let shown = ".input {$n :integer} .match $n 0 {{なし}} * {{{$n}席}}";
    let hidden = ".input {$n :integer} .match $n 0 {{none}} * {{some}}";
    let ride = ".input {$by :string} .match $by bus {{By bus}} * {{On foot}}";
    let span = ".input {$r :crow:range} .match $r one {{{$r} seat}} * {{{$r} seats}}";
    for (message, locale, expected) in [
        (seats, "en", "one, *"),
        (seats, "pl", "one, few, many, *"),
        (seats, "ar", "zero, one, two, few, many, *"),
        (seats, "ja", "*"),
        (none, "cy", "0, zero, one, two, few, many, *"),
        (pier, "pl", "*"),
        (pier, "en-GB", "one, two, few, *"),
        (two, "de", "0 *, one one, one *, * one, * *"),
        (two, "ja", "0 *, * *"),
        (
            two,
            "pl",
            "0 *, one one, one few, one many, one *, few one, few few, few many, few *, many one, many few, many many, many *, * one, * few, * many, * *",
        ),
        (exact, "pl", "1, *"),
        (shown, "en", "0, one, *"),
        (hidden, "pl", "0, *"),
        (ride, "pl", "bus, *"),
        (span, "pl", "one, few, many, *"),
        ("Plain", "pl", "Plain"),
    ] {
        assert!(Message::parse(message).is_ok(), "{message}");
        assert_eq!(laid_out(message, locale), expected, "{message} in {locale}");
    }
}

/// `form: source → target` for each unit.
fn shown(reference: &str, own: Option<&str>, locale: &str) -> Vec<String> {
    let units = Units::of(reference, own, &tag(locale)).unwrap();
    let line = |unit: &Unit| {
        let target = unit.target().map_or_else(|| "–".to_owned(), Piece::join);
        format!("{}: {} → {target}", unit.form(), Piece::join(unit.source()))
    };
    units.units().iter().map(line).collect()
}

#[test]
fn a_message_is_split_by_the_forms_of_the_language() {
    let seats = ".input {$n :integer} .match $n one {{A seat}} * {{{$n} seats}}";
    assert_eq!(shown("Hello, {$name}!", None, "pl"), [": Hello, {$name}! → –"]);
    assert_eq!(shown("Hello", Some("Witaj"), "pl"), [": Hello → Witaj"]);
    assert_eq!(shown("Hello", Some("Witaj {$"), "pl"), [": Hello → –"]);
    assert_eq!(
        shown(seats, None, "pl"),
        ["one: A seat → –", "few: {$n} seats → –", "many: {$n} seats → –", "*: {$n} seats → –"]
    );
    let polish = ".input {$n :integer} .match $n 1 {{Jedno}} one {{{$n} miejsce}} * {{{$n} miejsca}}";
    assert_eq!(
        shown(seats, Some(polish), "pl"),
        [
            "one: A seat → {$n} miejsce",
            "few: {$n} seats → –",
            "many: {$n} seats → –",
            "1: {$n} seats → Jedno",
            "*: {$n} seats → {$n} miejsca"
        ]
    );
    // One form in the language, said without a selection.
    assert_eq!(shown(seats, Some("{$n}席"), "ja"), [": {$n} seats → {$n}席"]);
    // The language tells forms apart, the default locale does not.
    assert_eq!(
        shown("{$n} seats", Some(".input {$n :integer} .match $n one {{a}} * {{b}}"), "de"),
        ["one: {$n} seats → a", "*: {$n} seats → b"]
    );
    // Other selectors: one unit, with its frame.
    let whole = shown(seats, Some("Miejsca: {$n}"), "pl");
    assert_eq!(whole.len(), 1);
    assert!(whole[0].ends_with("→ {$n}") || whole[0].ends_with("→ Miejsca: {$n}"), "{whole:?}");
}

/// A translator knows plural forms by the numbers that have them, and what stands in braces by what it is.
#[test]
fn each_form_says_when_it_is_used() {
    let seats = ".input {$n :integer} .match $n 0 {{none}} one {{{$n} seat}} * {{{$n} seats}}";
    let place = ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} * {{{$n}th}}";
    let kind = ".input {$kind :string} .input {$n :integer} .match $kind $n car one {{{$n} car}} car * {{cars}} * * {{{#b}{$n}{/b} of {$name}}}";
    let hints = |message: &str, own: Option<&str>, locale: &str| {
        let units = Units::of(message, own, &tag(locale)).unwrap();
        let hint = |unit: &Unit| format!("{}: {}", unit.form(), unit.hint().unwrap_or("-"));
        units.units().iter().map(hint).collect::<Vec<_>>().join(" | ")
    };
    for (message, locale, expected) in [
        ("{$n} seats", "pl", ": -"),
        (seats, "en", "0: for exactly 0 | one: for 1 | *: for 2–16, 100, 1000, 10000, …"),
        (
            seats,
            "pl",
            "0: for exactly 0 | one: for 1 | few: for 2–4, 22–24, 32–34, 42–44, … | many: for 5–19, 100, 1000, 10000, … | *: for fractions, such as 1.5",
        ),
        (seats, "ja", "0: for exactly 0 | *: for all other numbers"),
        (seats, "fr", "0: for exactly 0 | one: for 1 | many: for 1000000 | *: for 2–17, 100, 1000, 10000, …"),
        (
            place,
            "cy",
            "zero: for 0, 7–9 as places | one: for 1 as places | two: for 2 as places | few: for 3, 4 as places | many: for 5, 6 as places | *: for 10–25, 100, 1000, 10000, … as places",
        ),
        (
            kind,
            "en",
            "car one: $kind: for `car`; $n: for 1 | car *: $kind: for `car`; $n: for 0, 2–16, 100, 1000, … | * *: $kind: for everything else; $n: for all numbers",
        ),
    ] {
        assert_eq!(hints(message, None, locale), expected, "{message} in {locale}");
    }
    // A form that the translation does not tell apart is part of the last one.
    let own = ".input {$n :integer} .match $n one {{a}} few {{b}} * {{c}}";
    assert!(hints(own, Some(own), "ru").ends_with("*: for fractions, such as 1.5"));
    let places = |message: &str| Units::of(message, None, &tag("pl")).unwrap().places().map(str::to_owned);
    assert_eq!(places("Home"), None);
    assert_eq!(
        places("{$at :time} {$who :string} {$all :crow:list}").unwrap(),
        "In braces, to be kept: {$all} (a list), {$at} (a date or a time), {$who} (a text)"
    );
    assert_eq!(
        places(kind).unwrap(),
        "In braces, to be kept: {$kind} (a text), {$n} (a number), {$name} (a value), {#b}…{/b} (markup)"
    );
}

#[test]
fn translations_make_a_message_again() {
    let seats = ".input {$n :integer} .match $n one {{A seat}} * {{{$n} seats}}";
    let units = Units::of(seats, None, &tag("pl")).unwrap();
    let pieces = |text: &str| Some(Piece::split(text).unwrap());
    let all =
        [pieces("Miejsce"), pieces("{$n} miejsca"), pieces("{$n} miejsc"), pieces("{$n} \\{miejsca\\}")];
    assert_eq!(
        units.with_targets(&all).unwrap(),
        ".input {$n :integer}\n.match $n\none {{Miejsce}}\nfew {{{$n} miejsca}}\nmany {{{$n} miejsc}}\n* {{{$n} \\{miejsca\\}}}"
    );
    // A form without a text is left out; without `*` there is no message.
    let some = [pieces("Miejsce"), None, None, pieces("{$n} miejsc")];
    assert_eq!(
        units.with_targets(&some).unwrap(),
        ".input {$n :integer}\n.match $n\none {{Miejsce}}\n* {{{$n} miejsc}}"
    );
    let error = units.with_targets(&[pieces("Miejsce"), None, None, None]).unwrap_err();
    assert_eq!(error.to_string(), "the form `*` has no text, and every message needs one; translate it");
    // What is not asked for stays: exact keys, other declarations.
    let polish = ".input {$n :integer} .local $x = {$n :offset subtract=1} .match $n 1 {{Jedno}} one {{a}} few {{b}} many {{c}} * {{d {$x}}}";
    let units = Units::of(seats, Some(polish), &tag("pl")).unwrap();
    let new = units.with_targets(&[None, pieces("B")]).unwrap();
    assert!(
        new.contains(".local $x = ") && new.contains("1 {{Jedno}}") && new.contains("few {{B}}"),
        "{new}"
    );
}

proptest! {
    /// Out to units and back, nothing is lost: the message is the same, whatever it is made of.
    #[test]
    fn units_without_a_change_are_the_message(reference in source(), own in source(), at in 0..6_usize) {
        let locale = tag(["en", "pl", "ar", "ja", "cy", "de"][at]);
        let Ok(message) = Message::parse(&own) else { return Ok(()) };
        let Ok(units) = Units::of(&reference, Some(&own), &locale) else { return Ok(()) };
        let targets: Vec<_> = units.units().iter().map(|unit| unit.target().map(<[Piece]>::to_vec)).collect();
        let same = units.with_targets(&targets).unwrap();
        prop_assert_eq!(Message::parse(&same).unwrap().to_string(), message.to_string());
        // Each piece of code is code by itself, or the frame.
        for unit in units.units() {
            let text = Piece::join(unit.source());
            if !units.is_whole() {
                prop_assert_eq!(Piece::split(&text).unwrap(), unit.source());
            }
        }
    }

    /// A pseudo-locale leaves everything but the words.
    #[test]
    fn a_pseudo_locale_changes_words_alone(source in source()) {
        let Ok(message) = Message::parse(&source) else { return Ok(()) };
        for locale in [PseudoLocale::Accented, PseudoLocale::Mirrored] {
            let strange = Message::parse(&locale.message(&source).unwrap()).unwrap();
            prop_assert_eq!(strange.declarations.len(), message.declarations.len());
            let code = |pattern: &Pattern| -> Vec<String> {
                pattern.iter().filter_map(|element| match element {
                    Element::Text(_) => None,
                    Element::Expression(expression) => Some(expression.to_string()),
                    Element::Markup(markup) => Some(markup.to_string()),
                }).collect()
            };
            let all = |message: &Message| message.patterns().map(code).collect::<Vec<_>>();
            prop_assert_eq!(all(&strange), all(&message));
        }
    }
}

#[test]
fn pseudo_texts_are_long_bracketed_or_turned_around() {
    let accented = |text: &str| PseudoLocale::Accented.message(text).unwrap();
    assert_eq!(accented("Book a crossing"), "[Ɓööķ á çŕöššîñğ ~~~~~~]");
    assert_eq!(accented("Read {#b}this{/b}"), "[Ŕéáđ {#b}ŧħîš{/b} ~~~~]");
    assert_eq!(accented("{$from} – {$to}"), "{$from} – {$to}");
    let mirrored = |text: &str| PseudoLocale::Mirrored.message(text).unwrap();
    assert_eq!(mirrored("Hello, {$name}!"), "\u{202e}Hello\u{202c}, {$name}!");
    assert_eq!(mirrored("{$from} – {$to}"), "{$from} – {$to}");
}
