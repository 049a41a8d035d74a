//! Messages said, beside texts written by hand.

use std::collections::HashMap;
use std::fmt::Write as _;
use std::hint::black_box;

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::number::Decimal;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::Args;

use super::Table;

fn program(source: &str) -> Program {
    Program::compile(&Message::parse(source).expect("the source is well-formed"))
}

fn context(tag: &str) -> FormatContext {
    FormatContext::of(&LanguageTag::parse(tag).expect("the tag is well-formed"))
}

/// What is measured: a message into a text that is there already.
pub(super) fn format_into(to: &mut String, program: &Program, context: &FormatContext, args: &Args<'_>) {
    to.clear();
    // Writing to a `String` does not fail.
    let _ = program.format(context, args).write_to(to);
    black_box(&to);
}

pub(super) fn messages(table: &Table<'_>) {
    texts(table);
    plurals(table);
    arabic_plurals(table);
    formats(table);
}

fn texts(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let english = context("en").with_isolation(Isolation::None);
    let plain = program("Be at the quay fifteen minutes before.");
    let named = program("Thank you, {$name}. Your trip is booked.");
    let texts = HashMap::from([("trip.early", "Be at the quay fifteen minutes before.")]);
    let none = args! {};
    table.row(
        "a plain text; a `HashMap` lookup and `push_str`",
        1.5,
        || format_into(&mut ours, black_box(&plain), &english, &none),
        || {
            other.clear();
            other.push_str(texts.get(black_box("trip.early")).copied().unwrap_or_default());
            black_box(&other);
        },
    );
    table.row(
        "a text with a name; `write!`",
        1.25,
        || format_into(&mut ours, black_box(&named), &english, &args! { name: black_box("Mair") }),
        || {
            other.clear();
            let _ = write!(other, "Thank you, {}. Your trip is booked.", black_box("Mair"));
            black_box(&other);
        },
    );
}

fn plurals(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let english = context("en").with_isolation(Isolation::None);
    let polish = context("pl");
    let seats =
        program(".input {$seats :integer} .match $seats one {{One seat left}} * {{{$seats} seats left}}");
    let miejsca = program(
        ".input {$seats :integer} .match $seats one {{Zostało {$seats} miejsce}} few {{Zostały {$seats} miejsca}} * {{Zostało {$seats} miejsc}}",
    );
    table.row(
        "a plural in English; `match` and `write!` with separators",
        1.5,
        || format_into(&mut ours, black_box(&seats), &english, &args! { seats: black_box(1250) }),
        || {
            other.clear();
            match black_box(1250_u32) {
                1 => other.push_str("One seat left"),
                seats => {
                    separated(&mut other, seats, ",");
                    other.push_str(" seats left");
                }
            }
            black_box(&other);
        },
    );
    table.row(
        "a plural in Polish; `match` and `write!` with separators",
        1.5,
        || format_into(&mut ours, black_box(&miejsca), &polish, &args! { seats: black_box(12_503) }),
        || {
            other.clear();
            let seats = black_box(12_503_u32);
            let (verb, noun) = match (seats % 10, seats % 100) {
                _ if seats == 1 => ("Zostało ", " miejsce"),
                (2..=4, rest) if !(12..=14).contains(&rest) => ("Zostały ", " miejsca"),
                _ => ("Zostało ", " miejsc"),
            };
            other.push_str(verb);
            separated(&mut other, seats, "\u{a0}");
            other.push_str(noun);
            black_box(&other);
        },
    );
}

fn arabic_plurals(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let arabic = context("ar-EG").with_isolation(Isolation::None);
    let maqaid = program(
        ".input {$seats :integer} .match $seats zero {{لا مقاعد}} one {{مقعد واحد}} two {{مقعدان}} few {{{$seats} مقاعد}} many {{{$seats} مقعدًا}} * {{{$seats} مقعد}}",
    );
    table.row(
        "a plural in Arabic, Arabic digits; `match` and `write!` with separators",
        2.0,
        || format_into(&mut ours, black_box(&maqaid), &arabic, &args! { seats: black_box(12_503) }),
        || {
            other.clear();
            let seats = black_box(12_503_u32);
            let noun = match (seats, seats % 100) {
                (0..=2, _) => "",
                (_, 3..=10) => " مقاعد",
                (_, 11..=99) => " مقعدًا",
                _ => " مقعد",
            };
            separated(&mut other, seats, "٬");
            other.push_str(noun);
            black_box(&other);
        },
    );
}

fn formats(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let english = context("en").with_isolation(Isolation::None);
    let (fare, day) = (program("{$fare :currency currency=USD}"), program("{$day :date}"));
    let amount = Decimal::parse("1234.5").expect("a number");
    let date = jiff::civil::date(2026, 3, 1);
    table.row(
        "an amount of money; `write!` with two digits",
        1.7,
        || format_into(&mut ours, black_box(&fare), &english, &args! { fare: amount.clone() }),
        || {
            other.clear();
            let _ = write!(other, "{:.2}", black_box(1234.5_f64));
            black_box(&other);
        },
    );
    table.row(
        "a medium date; `strftime` of the same fields",
        1.5,
        || format_into(&mut ours, black_box(&day), &english, &args! { day: black_box(date) }),
        || {
            other.clear();
            let _ = write!(other, "{}", black_box(date).strftime("%b %-d, %Y"));
            black_box(&other);
        },
    );
}

fn separated(output: &mut String, number: u32, separator: &str) {
    if number >= 1000 {
        separated(output, number / 1000, separator);
        let _ = write!(output, "{separator}{:03}", number % 1000);
    } else {
        let _ = write!(output, "{number}");
    }
}
