//! What takes more than a number and a text: markup, parts, lists, relative times, ranges, compact numbers.

use std::fmt::Write as _;
use std::hint::black_box;

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::tag::LanguageTag;

use super::Table;
use super::messages::format_into;

fn program(source: &str) -> Program {
    Program::compile(&Message::parse(source).expect("the source is well-formed"))
}

fn english() -> FormatContext {
    FormatContext::of(&LanguageTag::parse("en").expect("it is a tag")).with_isolation(Isolation::None)
}

pub(super) fn formats(table: &Table<'_>) {
    markup(table);
    words(table);
    ranges(table);
}

/// A name as HTML, by hand.
fn escaped(to: &mut String, text: &str) {
    for letter in text.chars() {
        match letter {
            '&' => to.push_str("&amp;"),
            '<' => to.push_str("&lt;"),
            '>' => to.push_str("&gt;"),
            '"' => to.push_str("&quot;"),
            letter => to.push(letter),
        }
    }
}

fn markup(table: &Table<'_>) {
    let english = english();
    let thanks = program("Thank you, {$name}. {#strong}Your trip{/strong} is booked.");
    let args = || args! { name: black_box("Mair & Siôn") };
    table.row(
        "HTML with markup and a name; `push_str` and escaping",
        4.2,
        || {
            black_box(black_box(&thanks).format(&english, &args()).html());
        },
        || {
            let mut html = String::with_capacity(64);
            html.push_str("Thank you, ");
            escaped(&mut html, black_box("Mair & Siôn"));
            html.push_str(". <strong>Your trip</strong> is booked.");
            black_box(html);
        },
    );
    table.row(
        "the parts of the same; a `Vec` of them by hand",
        4.0,
        || {
            black_box(black_box(&thanks).format(&english, &args()).parts());
        },
        || {
            // What each is, and its text.
            black_box(vec![
                ("text", "Thank you, ".to_owned()),
                ("text", black_box("Mair & Siôn").to_owned()),
                ("text", ". ".to_owned()),
                ("open", "strong".to_owned()),
                ("text", "Your trip".to_owned()),
                ("close", "strong".to_owned()),
                ("text", " is booked.".to_owned()),
            ]);
        },
    );
}

fn words(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let english = english();
    let (days, boats, many) = (
        program("{$days :crow:relative unit=day}"),
        program("{$boats :crow:list}"),
        program("{$n :crow:compact}"),
    );
    let three = ["Avocet", "Curlew", "Sandpiper"];
    table.row(
        "a relative time; `match` and `write!`",
        40.0,
        || format_into(&mut ours, black_box(&days), &english, &args! { days: black_box(-3) }),
        || {
            other.clear();
            let days = black_box(-3_i32);
            let _ = match days {
                -1 => write!(other, "yesterday"),
                0 => write!(other, "today"),
                1 => write!(other, "tomorrow"),
                ..-1 => write!(other, "{} days ago", -days),
                _ => write!(other, "in {days} days"),
            };
            black_box(&other);
        },
    );
    let mut ours = String::with_capacity(256);
    table.row(
        "a list of three; `write!` with the same words",
        6.0,
        || {
            let boats_arg = black_box(three).map(str::to_owned).to_vec();
            format_into(&mut ours, black_box(&boats), &english, &args! { boats: boats_arg });
        },
        || {
            other.clear();
            let boats = black_box(three).map(str::to_owned).to_vec();
            let _ = write!(other, "{}, {}, and {}", boats[0], boats[1], boats[2]);
            black_box(&other);
        },
    );
    let mut ours = String::with_capacity(256);
    table.row(
        "a compact number; `write!` with one digit",
        22.0,
        || format_into(&mut ours, black_box(&many), &english, &args! { n: black_box(1_234_567) }),
        || {
            other.clear();
            let _ = write!(other, "{:.1}M", f64::from(black_box(1_234_567_u32)) / 1e6);
            black_box(&other);
        },
    );
}

fn ranges(table: &Table<'_>) {
    let (mut ours, mut other) = (String::with_capacity(256), String::with_capacity(256));
    let english = english();
    let days = program(".input {$from :date} {{{$from :crow:range to=$to}}}");
    let (from, to) = (jiff::civil::date(2026, 3, 1), jiff::civil::date(2026, 3, 9));
    table.row(
        "a range of dates; `strftime` of both",
        6.0,
        || {
            let args = args! { from: black_box(from), to: black_box(to) };
            format_into(&mut ours, black_box(&days), &english, &args);
        },
        || {
            other.clear();
            let (from, to) = (black_box(from), black_box(to));
            let _ = write!(other, "{} – {}", from.strftime("%b %-d"), to.strftime("%-d, %Y"));
            black_box(&other);
        },
    );
}
