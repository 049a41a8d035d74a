//! Lists in texts of two directions: the words run as their language does, each item as it does itself.

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::direction::Direction;
use crow_fly_core::html::Html;
use crow_fly_core::message::{FormatContext, Isolation, Message, Part, Program};
use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::{Args, Money, Value};

use crate::tag;

fn program(source: &str) -> Program {
    Program::compile(&Message::parse(source).unwrap())
}

/// Items of every kind, of both directions.
fn items(of: &str) -> Value<'static> {
    let safe = |html: &str| {
        let mut safe = Html::default();
        safe.push_trusted(html);
        Value::from(safe)
    };
    match of {
        "names" => Value::from(["Mara Lind", "Yuki Tanabe", "נועה"]),
        "two" => Value::from(["נועה", "Mara"]),
        "one" => Value::from(["שחף"]),
        "numbers" => Value::List([Value::from(3), Value::from(-1), Value::from("7 🐦")].into()),
        "kinds" => {
            let fee = Money::new(Decimal::parse("12.5").unwrap(), Currency::parse("EUR").unwrap());
            let day = DateValue::parse("2026-03-01").unwrap();
            Value::List([safe("<b>&amp;</b>"), Value::from("<i>"), fee.into(), day.into()].into())
        }
        "nested" => Value::List([Value::from(["א", "B"]), Value::from("ג")].into()),
        of => panic!("{of}"),
    }
}

/// The marks of HTML as those of text.
fn as_marks(html: &str) -> String {
    html.replace("<bdi>", "\u{2068}")
        .replace("<bdi dir=\"ltr\">", "\u{2066}")
        .replace("<bdi dir=\"rtl\">", "\u{2067}")
        .replace("</bdi>", "\u{2069}")
}

#[test]
fn a_list_runs_as_its_words_do_and_each_item_as_itself() {
    let (mut wrong, mut cases) = (Vec::new(), 0);
    for line in include_str!("data/lists.txt").lines().filter(|line| !line.starts_with('#')) {
        let [locale, of, message, expected] = line.split(" | ").collect::<Vec<_>>()[..] else {
            panic!("{line}")
        };
        let context = FormatContext::of(&tag(locale));
        let args = args! { x: items(of) };
        let program = program(message);
        let html = program.format(&context, &args).html();
        cases += 1;
        if html.as_str().replace(['\u{a0}', '\u{202f}'], " ") != expected {
            wrong.push(format!(
                "{locale} | {of} | {message} | {}",
                html.as_str().replace(['\u{a0}', '\u{202f}'], " ")
            ));
        }
        // Text and parts are isolated alike.
        let text = program.format(&context, &args).text();
        let parts = program.format(&context, &args).parts().into_iter().map(|part| match part {
            Part::Text { value } | Part::BidiIsolation { value } | Part::Value { value, .. } => value,
            part => panic!("{part:?}"),
        });
        assert_eq!(text, parts.collect::<String>(), "{line}");
        if of != "kinds" {
            assert_eq!(text, as_marks(html.as_str()), "{line}");
        }
        // Without isolation nothing is left of it.
        let bare = context.with_isolation(Isolation::None);
        let without = text.replace(['\u{2066}', '\u{2067}', '\u{2068}', '\u{2069}'], "");
        assert_eq!(program.format(&bare, &args).text(), without, "{line}");
    }
    assert!(wrong.is_empty(), "{} of {cases}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(cases >= 50, "{cases}");
}

#[test]
fn in_every_locale_a_list_has_the_direction_of_its_words() {
    let args: Args<'_> = args! { x: ["שחף", "Curlew", "طائر"] };
    let lists = [
        program("{$x :crow:list}"),
        program("{$x}"),
        program(".local $l = {$x :crow:list type=or} {{{$l}}}"),
    ];
    for locale in crow_fly_cldr::formats::LISTS.locales() {
        let tag: LanguageTag = tag(locale);
        let context = FormatContext::of(&tag);
        for list in &lists {
            let text = list.format(&context, &args).text();
            let (start, end) = match Direction::of(&tag) {
                Direction::LeftToRight => ("\u{2068}שחף\u{2069}", ""),
                Direction::RightToLeft => ("\u{2067}\u{2068}שחף\u{2069}", "\u{2069}"),
            };
            assert!(text.starts_with(start) && text.ends_with(end), "{locale}: {text:?}");
            assert!(
                text.contains("\u{2068}Curlew\u{2069}") && text.contains("\u{2068}طائر\u{2069}"),
                "{locale}: {text:?}"
            );
            // In another locale's message it keeps its own direction.
            let other = program(&format!(".local $l = {{$x :crow:list u:locale=|{locale}|}} {{{{{{$l}}}}}}"));
            let own = program("{$x :crow:list}").format(&context, &args).text();
            let hebrew = other.format(&FormatContext::of(&crate::tag("he")), &args).text();
            let inner =
                own.strip_prefix('\u{2067}').and_then(|own| own.strip_suffix('\u{2069}')).unwrap_or(&own);
            let first = if Direction::of(&tag) == Direction::LeftToRight { '\u{2066}' } else { '\u{2067}' };
            assert_eq!(hebrew, format!("{first}{inner}\u{2069}"), "{locale}");
        }
    }
}

#[test]
fn u_dir_goes_before_the_direction_of_the_words() {
    let args = args! { x: items("numbers") };
    for (locale, direction, expected) in [
        (
            "en",
            "rtl",
            "<bdi dir=\"rtl\"><bdi dir=\"ltr\">3</bdi>, <bdi dir=\"ltr\">-1</bdi>, and <bdi>7 🐦</bdi></bdi>",
        ),
        ("en", "auto", "<bdi><bdi dir=\"ltr\">3</bdi>, <bdi dir=\"ltr\">-1</bdi>, and <bdi>7 🐦</bdi></bdi>"),
        ("en", "ltr", "<bdi dir=\"ltr\">3, -1, and <bdi>7 🐦</bdi></bdi>"),
        ("en", "inherit", "3, -1, and <bdi>7 🐦</bdi>"),
        (
            "he",
            "ltr",
            "<bdi dir=\"ltr\"><bdi dir=\"rtl\">3</bdi>, <bdi dir=\"rtl\">\u{200e}-1</bdi> ו-<bdi>7 🐦</bdi></bdi>",
        ),
    ] {
        let message = program(&format!("{{$x :crow:list u:dir={direction}}}"));
        let html = message.format(&FormatContext::of(&tag(locale)), &args).html();
        assert_eq!(html.as_str(), expected, "{locale} {direction}");
    }
}

/// Lists of lists are shown eight deep; deeper ones are refused, on a small stack, in no time.
#[test]
fn lists_of_lists_have_a_limit() {
    let nested = |depth: usize| (0..depth).fold(Value::from("x"), |value, _| Value::from(vec![value]));
    let told = std::thread::Builder::new().stack_size(512 * 1024).spawn(move || {
        let mut told = Vec::new();
        for source in ["{$x}", "{$x :crow:list}", "{$x :string}", ".local $y = {$x} {{{$y}}}"] {
            let program = Program::compile(&Message::parse(source).unwrap());
            let context = FormatContext::of(&tag("en")).with_isolation(Isolation::None);
            for depth in [8, 9, 2_000] {
                let mut errors = Vec::new();
                let args = args! { x: nested(depth) };
                let text = program.format(&context, &args).reporting(&mut |error| errors.push(error)).text();
                assert_eq!(args.get("x").unwrap().to_string().contains('…'), depth > 8);
                told.push((source, depth, text, errors.iter().map(ToString::to_string).collect::<Vec<_>>()));
            }
        }
        told
    });
    for (source, depth, text, errors) in told.unwrap().join().unwrap() {
        if depth == 8 {
            assert_eq!((text.as_str(), errors.len()), ("x", 0), "{source}: {errors:?}");
        } else {
            assert_eq!(text, if source.starts_with('.') { "{$y}" } else { "{$x}" }, "{source} {depth}");
            assert_eq!(
                errors[0], "`{$x}` cannot be shown: lists of lists are at most 8 deep",
                "{source} {depth}"
            );
            assert_eq!(errors.len(), 1, "{source}: {errors:?}");
        }
    }
}
