//! What both are asked: a message of ours, and the same of ECMA-402.

use crow_fly_core::value::Value;
use jiff::Timestamp;
use serde_json::json;

use super::{calendars, moments};

/// One question: what it is about, the message we format, its argument, and what Node is asked.
pub(super) struct Question {
    pub(super) about: String,
    pub(super) message: String,
    pub(super) value: Value<'static>,
    pub(super) node: String,
    /// The time that counts as now.
    pub(super) now: Timestamp,
}

/// Takes what a question is about, our message, its argument, and what Node is asked.
pub(super) type Ask<'q> = dyn FnMut(&str, String, Value<'static>, String) + 'q;

pub(super) fn questions() -> Vec<Question> {
    let mut questions = Vec::new();
    let mut ask = |about: &str, message, value, node| {
        questions.push(Question {
            about: about.to_owned(),
            message,
            value,
            node,
            now: Timestamp::UNIX_EPOCH,
        });
    };
    for number in [0.0, 1.0, 2.0, 3.5, 12.0, 1234.5, 1_234_567.891, -42.0] {
        numbers(number, &mut ask);
        money(number, &mut ask);
        units(number, &mut ask);
    }
    compact_numbers(&mut ask);
    dates(&mut ask);
    lists(&mut ask);
    relative_times(&mut ask);
    names(&mut ask);
    number_ranges(&mut ask);
    date_ranges(&mut ask);
    digits(&mut ask);
    calendars::ask(&mut ask);
    moments::ask(&mut questions);
    questions
}

fn numbers(number: f64, ask: &mut Ask<'_>) {
    ask("number", "{$x :number}".into(), number.into(), format!("N(l).format({number})"));
    ask(
        "percent",
        "{$x :percent}".into(),
        number.into(),
        format!("N(l,{{style:'percent'}}).format({number})"),
    );
}

fn money(number: f64, ask: &mut Ask<'_>) {
    for currency in ["USD", "EUR", "JPY", "PLN", "GBP"] {
        let node =
            |extra: &str| format!("N(l,{{style:'currency',currency:'{currency}'{extra}}}).format({number})");
        ask("currency", format!("{{$x :currency currency={currency}}}"), number.into(), node(""));
        ask(
            "currency, narrow",
            format!("{{$x :currency currency={currency} currencyDisplay=narrowSymbol}}"),
            number.into(),
            node(",currencyDisplay:'narrowSymbol'"),
        );
        ask(
            "currency, code",
            format!("{{$x :currency currency={currency} currencyDisplay=code}}"),
            number.into(),
            node(",currencyDisplay:'code'"),
        );
        ask(
            "currency, name",
            format!("{{$x :currency currency={currency} currencyDisplay=name}}"),
            number.into(),
            node(",currencyDisplay:'name'"),
        );
        ask(
            "currency, accounting",
            format!("{{$x :currency currency={currency} currencySign=accounting}}"),
            number.into(),
            node(",currencySign:'accounting'"),
        );
    }
}

fn units(number: f64, ask: &mut Ask<'_>) {
    for unit in ["kilometer", "kilometer-per-hour", "minute", "celsius", "liter"] {
        for width in ["long", "short", "narrow"] {
            ask(
                "unit",
                format!("{{$x :unit unit={unit} unitDisplay={width}}}"),
                number.into(),
                format!("N(l,{{style:'unit',unit:'{unit}',unitDisplay:'{width}'}}).format({number})"),
            );
        }
    }
}

fn compact_numbers(ask: &mut Ask<'_>) {
    for number in [5.0, 999.0, 1234.0, 15_600.0, 999_999.0, 1_234_567.0, -25_000_000.0, 9_876_543_210.0] {
        for width in ["short", "long"] {
            ask(
                "compact",
                format!("{{$x :crow:compact width={width}}}"),
                number.into(),
                format!("N(l,{{notation:'compact',compactDisplay:'{width}'}}).format({number})"),
            );
        }
    }
}

fn dates(ask: &mut Ask<'_>) {
    for date in ["2026-03-01T09:05:07", "2025-12-31T23:59:00", "2026-07-14T00:30:00"] {
        let node = |options: &str| {
            format!("D(l,{{{options},timeZone:'UTC',calendar:'gregory'}}).format(new Date('{date}Z'))")
        };
        let mut say = |about, function: &str, options: &str| {
            ask(about, format!("{{$x :{function} calendar=gregory}}"), date.into(), node(options));
        };
        say("date, medium", "date", "dateStyle:'medium'");
        say("date, long", "date length=long", "dateStyle:'long'");
        say("date, short", "date length=short", "dateStyle:'short'");
        say("date, full", "date length=long fields=year-month-day-weekday", "dateStyle:'full'");
        say("date, month and day", "date length=long fields=month-day", "month:'long',day:'numeric'");
        say("date, weekday", "date length=long fields=weekday", "weekday:'long'");
        say(
            "date, abbreviated with weekday",
            "date fields=year-month-day-weekday",
            "year:'numeric',month:'short',day:'numeric',weekday:'short'",
        );
        say("time", "time", "timeStyle:'short'");
        say("time, seconds", "time precision=second", "timeStyle:'medium'");
        say("date and time, medium", "datetime", "dateStyle:'medium',timeStyle:'short'");
        say("date and time, long", "datetime dateLength=long", "dateStyle:'long',timeStyle:'short'");
    }
}

fn lists(ask: &mut Ask<'_>) {
    for (kind, node) in [("and", "conjunction"), ("or", "disjunction"), ("unit", "unit")] {
        for width in ["long", "short", "narrow"] {
            for items in [
                &["Curlew"][..],
                &["Curlew", "Iris"],
                &["Curlew", "Avocet", "Iris"],
                &["A", "B", "C", "Otter"],
            ] {
                ask(
                    "list",
                    format!("{{$x :crow:list type={kind} width={width}}}"),
                    items.into(),
                    format!(
                        "new Intl.ListFormat(l,{{type:'{node}',style:'{width}'}}).format({})",
                        json!(items)
                    ),
                );
            }
        }
    }
}

fn relative_times(ask: &mut Ask<'_>) {
    for unit in ["second", "minute", "hour", "day", "week", "month", "year"] {
        for number in [-3, -1, 0, 1, 2, 5, 1000] {
            for width in ["long", "short", "narrow"] {
                ask(
                    "relative",
                    format!("{{$x :crow:relative unit={unit} width={width}}}"),
                    number.into(),
                    format!(
                        "new Intl.RelativeTimeFormat(l,{{numeric:'auto',style:'{width}'}}).format({number},'{unit}')"
                    ),
                );
            }
        }
    }
}

fn names(ask: &mut Ask<'_>) {
    for code in ["en", "cy", "pl", "pt-BR", "zh-Hant", "ar"] {
        ask(
            "name, language",
            "{$x :crow:name}".into(),
            code.into(),
            format!("new Intl.DisplayNames(l,{{type:'language'}}).of('{code}')"),
        );
    }
    for code in ["GB", "PL", "US", "JP", "419"] {
        ask(
            "name, region",
            "{$x :crow:name type=region}".into(),
            code.into(),
            format!("new Intl.DisplayNames(l,{{type:'region'}}).of('{code}')"),
        );
    }
    for code in ["USD", "EUR", "PLN"] {
        ask(
            "name, currency",
            "{$x :crow:name type=currency}".into(),
            code.into(),
            format!("new Intl.DisplayNames(l,{{type:'currency'}}).of('{code}')"),
        );
    }
}

fn number_ranges(ask: &mut Ask<'_>) {
    for (explained, start, end) in [
        (None, 3.0, 5.0),
        (None, 0.0, 1.0),
        (None, 1.0, 2.0),
        (None, -3.0, 5.0),
        (None, 1000.0, 2500.0),
        (None, 0.1234, 0.1239),
        (None, 2.9999, 3.0001),
        (Some("range, equal ends"), 3.0, 3.0),
        (Some("range, two signs"), -5.0, -3.0),
    ] {
        let mut say = |about, function: &str, options: &str| {
            let message = format!(".local $y = {{$x :{function}}} {{{{{{$y :crow:range to=|{end}|}}}}}}");
            let node = format!("N(l,{{{options}}}).formatRange({start},{end})");
            ask(explained.unwrap_or(about), message, start.into(), node);
        };
        say("range, number", "number", "");
        say("range, percent", "percent", "style:'percent'");
        say("range, compact", "crow:compact width=short", "notation:'compact'");
        say("range, compact", "crow:compact width=long", "notation:'compact',compactDisplay:'long'");
        for currency in ["EUR", "USD", "CAD", "JPY"] {
            for (display, node) in
                [("symbol", "symbol"), ("code", "code"), ("name", "name"), ("narrowSymbol", "narrowSymbol")]
            {
                say(
                    "range, money",
                    &format!("currency currency={currency} currencyDisplay={display}"),
                    &format!("style:'currency',currency:'{currency}',currencyDisplay:'{node}'"),
                );
            }
        }
        for unit in ["kilometer", "celsius", "kilometer-per-hour"] {
            for width in ["long", "short", "narrow"] {
                say(
                    "range, unit",
                    &format!("unit unit={unit} unitDisplay={width}"),
                    &format!("style:'unit',unit:'{unit}',unitDisplay:'{width}'"),
                );
            }
        }
    }
}

fn date_ranges(ask: &mut Ask<'_>) {
    for (start, end) in [
        ("2026-03-01T09:00:00", "2026-03-03T11:30:00"),
        ("2026-03-01T09:00:00", "2026-04-03T08:30:00"),
        ("2025-12-31T23:00:00", "2026-01-01T00:30:00"),
        ("2026-03-01T09:00:00", "2026-03-01T11:30:00"),
        ("2026-07-14T09:30:00", "2026-07-14T13:05:00"),
        ("2026-07-14T21:30:00", "2026-07-14T21:45:00"),
    ] {
        let mut say = |about, function: &str, options: &str| {
            let message = format!(
                ".local $y = {{$x :{function} calendar=gregory}} {{{{{{$y :crow:range to=|{end}|}}}}}}"
            );
            let node = format!(
                "D(l,{{{options},timeZone:'UTC',calendar:'gregory'}}).formatRange(new Date('{start}Z'),new Date('{end}Z'))"
            );
            ask(about, message, start.into(), node);
        };
        for length in ["short", "medium", "long"] {
            say("range, date", &format!("date length={length}"), &format!("dateStyle:'{length}'"));
            say(
                "range, date and time",
                &format!("datetime dateLength={length}"),
                &format!("dateStyle:'{length}',timeStyle:'short'"),
            );
        }
        say("range, date", "date length=long fields=year-month-day-weekday", "dateStyle:'full'");
        for (length, month) in [("short", "numeric"), ("medium", "short"), ("long", "long")] {
            say(
                "range, month and day",
                &format!("date length={length} fields=month-day"),
                &format!("month:'{month}',day:'numeric'"),
            );
        }
        for (length, month) in [("short", "numeric"), ("medium", "short")] {
            say(
                "range, with weekday",
                &format!("date length={length} fields=year-month-day-weekday"),
                &format!("year:'numeric',month:'{month}',day:'numeric',weekday:'short'"),
            );
        }
        say("range, weekday", "date length=long fields=weekday", "weekday:'long'");
        say("range, time", "time", "timeStyle:'short'");
    }
}

/// Numbers in digits that are not the locale's own, by `-u-nu-`.
fn digits(ask: &mut Ask<'_>) {
    for system in ["arab", "arabext", "deva", "fullwide", "latn"] {
        for number in [-1234.5, 1_234_567.0] {
            let locale = format!("l+'-u-nu-{system}'");
            let message = |function: &str| format!("{{$x :{function} u:locale=|LOCALE-u-nu-{system}|}}");
            ask("digits", message("number"), number.into(), format!("N({locale}).format({number})"));
            ask(
                "digits, percent",
                message("percent"),
                number.into(),
                format!("N({locale},{{style:'percent'}}).format({number})"),
            );
            ask(
                "digits, money",
                message("currency currency=EUR"),
                number.into(),
                format!("N({locale},{{style:'currency',currency:'EUR'}}).format({number})"),
            );
        }
    }
}
