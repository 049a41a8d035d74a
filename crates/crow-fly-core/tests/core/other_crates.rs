//! Values of well-known crates as arguments of messages.

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::value::{Args, Value};

use crate::tag;

fn text(source: &str, args: &Args<'_>) -> String {
    let context = FormatContext::of(&tag("en"))
        .with_isolation(Isolation::None)
        .with_default_time_zone(jiff::tz::TimeZone::get("Europe/Warsaw").unwrap());
    Program::compile(&Message::parse(source).unwrap()).format(&context, args).text()
}

/// Every kind of date of a crate: what the three functions show of it.
fn table(rows: [(&str, Value<'static>); 5]) -> String {
    let shown = |value: &Value<'static>| {
        ["date", "time", "datetime"]
            .map(|function| text(&format!("{{$when :{function}}}"), &args! { when: value.clone() }))
            .join(" | ")
    };
    rows.map(|(name, value)| format!("{name}: {}", shown(&value))).join("\n")
}

#[test]
fn dates_of_chrono_are_dates() {
    use chrono::{DateTime, FixedOffset, NaiveDate, NaiveTime, TimeZone as _, Utc};

    let day = NaiveDate::from_ymd_opt(2026, 5, 1).unwrap();
    let clock = NaiveTime::from_hms_opt(9, 30, 0).unwrap();
    let utc = Utc.with_ymd_and_hms(2026, 5, 1, 9, 30, 0).unwrap();
    let offset = FixedOffset::east_opt(3 * 3600).unwrap();
    insta::assert_snapshot!(table([
        ("date", day.into()),
        ("time", clock.into()),
        ("both", day.and_time(clock).into()),
        ("moment", utc.into()),
        ("moment with an offset", utc.with_timezone(&offset).into()),
    ]), @"
    date: May 1, 2026 | {$when} | May 1, 2026, 12:00 AM
    time: {$when} | 9:30 AM | {$when}
    both: May 1, 2026 | 9:30 AM | May 1, 2026, 9:30 AM
    moment: May 1, 2026 | 11:30 AM | May 1, 2026, 11:30 AM
    moment with an offset: May 1, 2026 | 12:30 PM | May 1, 2026, 12:30 PM
    ");
    // References, leap seconds, what is out of range.
    assert_eq!(text("{$day :date}", &args! { day: &day }), "May 1, 2026");
    let leap = NaiveTime::from_hms_nano_opt(23, 59, 59, 1_999_999_999).unwrap();
    assert_eq!(text("{$leap :time precision=second}", &args! { leap }), "11:59:59\u{202f}PM");
    for far in [NaiveDate::MAX, NaiveDate::MIN] {
        assert_eq!(text("{$far}", &args! { far }), far.to_string());
        assert_eq!(text("{$far :date}", &args! { far }), "{$far}");
    }
    let far = DateTime::<Utc>::MAX_UTC;
    assert_eq!(text("{$far}", &args! { far }), far.to_string());
}

#[test]
fn dates_of_time_are_dates() {
    use time::UtcDateTime;
    use time::macros::{date, datetime, time};

    insta::assert_snapshot!(table([
        ("date", date!(2026 - 05 - 01).into()),
        ("time", time!(9:30).into()),
        ("both", datetime!(2026-05-01 9:30).into()),
        ("moment", datetime!(2026-05-01 9:30 UTC).into()),
        ("moment with an offset", datetime!(2026-05-01 12:30 +3).into()),
    ]), @"
    date: May 1, 2026 | {$when} | May 1, 2026, 12:00 AM
    time: {$when} | 9:30 AM | {$when}
    both: May 1, 2026 | 9:30 AM | May 1, 2026, 9:30 AM
    moment: May 1, 2026 | 11:30 AM | May 1, 2026, 11:30 AM
    moment with an offset: May 1, 2026 | 12:30 PM | May 1, 2026, 12:30 PM
    ");
    let when = UtcDateTime::new(date!(2026 - 05 - 01), time!(9:30));
    assert_eq!(text("{$when :datetime}", &args! { when: &when }), "May 1, 2026, 11:30\u{202f}AM");
}
