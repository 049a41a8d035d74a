//! Relative times of dates and moments, durations of applications, and names of time zones.

use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::message::{FormatContext, Message, Program};
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::value::{Args, Value};
use jiff::civil::date;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Span, Timestamp, ToSpan as _};
use proptest::prelude::*;

use crate::tag;

fn said(locale: &str, zone: Option<&str>, now: &str, source: &str, args: &Args<'_>) -> String {
    let mut context = FormatContext::of(&tag(locale));
    if let Some(zone) = zone {
        context = context.with_time_zone(TimeZone::get(zone).unwrap());
    }
    let now: Timestamp = now.parse().unwrap();
    let program = Program::compile(&Message::parse(source).unwrap());
    program.format(&context, args).with_now(&now).text().replace('\u{202f}', " ")
}

#[test]
fn a_moment_is_as_far_from_now_as_its_unit_says() {
    // The time that counts as now, the moment, the text in UTC.
    let cases = [
        ("2026-05-01T09:30:00Z", "2026-05-01T09:30:00Z", "now"),
        ("2026-05-01T09:30:00Z", "2026-05-01T09:30:59Z", "in 59 seconds"),
        ("2026-05-01T09:30:00Z", "2026-05-01T09:29:59Z", "1 second ago"),
        ("2026-05-01T09:30:00Z", "2026-05-01T09:31:59Z", "in 1 minute"),
        ("2026-05-01T09:30:00Z", "2026-05-01T10:29:59Z", "in 59 minutes"),
        ("2026-05-01T09:30:00Z", "2026-05-01T07:30:00Z", "2 hours ago"),
        ("2026-05-01T23:50:00Z", "2026-05-02T00:10:00Z", "in 20 minutes"),
        ("2026-05-01T23:50:00Z", "2026-05-02", "tomorrow"),
        ("2026-05-01T00:00:00Z", "2026-05-01", "today"),
        ("2026-05-01T23:59:59Z", "2026-05-01", "today"),
        ("2026-05-01T00:00:00Z", "2026-04-30", "yesterday"),
        ("2026-05-01T09:30:00Z", "2026-05-02T09:29:00Z", "in 23 hours"),
        ("2026-05-01T09:30:00Z", "2026-05-02T09:30:00Z", "tomorrow"),
        ("2026-05-01T00:10:00Z", "2026-05-02T23:50:00Z", "tomorrow"),
        ("2026-05-01T23:50:00Z", "2026-05-03T00:10:00Z", "in 2 days"),
        ("2026-05-01T09:30:00Z", "2026-05-04T08:00:00Z", "in 3 days"),
        ("2026-05-01T09:30:00Z", "2026-05-07", "in 6 days"),
        ("2026-05-01T09:30:00Z", "2026-05-08", "in 1 week"),
        ("2026-05-01T09:30:00Z", "2026-05-31", "in 4 weeks"),
        ("2026-05-01T09:30:00Z", "2026-06-01", "in 1 month"),
        ("2026-01-31T09:30:00Z", "2026-02-28", "in 4 weeks"),
        ("2026-05-01T09:30:00Z", "2027-04-30", "in 11 months"),
        ("2026-05-01T09:30:00Z", "2027-05-01", "in 1 year"),
        ("2026-05-01T09:30:00Z", "2016-05-02", "9 years ago"),
        ("2026-05-01T09:30:00Z", "-009999-01-01", "12,025 years ago"),
        // A clock's time is of the reader's zone.
        ("2026-05-01T09:30:00Z", "2026-05-01T09:50", "in 20 minutes"),
    ];
    for (now, moment, expected) in cases {
        let args = args! { moment };
        assert_eq!(said("en", None, now, "{$moment :crow:relative}", &args), expected, "{now} {moment}");
    }
}

#[test]
fn days_are_those_of_the_readers_zone() {
    let source = "{$moment :crow:relative unit=day}";
    let now = "2026-05-01T23:30:00Z";
    let args = args! { moment: "2026-05-02T00:30:00Z" };
    let of = |zone| said("en", Some(zone), now, source, &args);
    assert_eq!([of("UTC"), of("Europe/Warsaw"), of("America/New_York")], ["tomorrow", "today", "today"]);
    // The message's own zone goes before it, and a moment's own where nobody named one.
    let own = "{$moment :crow:relative unit=day timeZone=UTC}";
    assert_eq!(said("en", Some("Europe/Warsaw"), now, own, &args), "tomorrow");
    let declared = ".local $m = {$moment :datetime timeZone=UTC} {{{$m :crow:relative unit=day}}}";
    assert_eq!(said("en", Some("Europe/Warsaw"), now, declared, &args), "tomorrow");
    let zoned = args! { moment: "2026-05-02T02:30:00+02:00[Europe/Warsaw]" };
    assert_eq!(said("en", None, now, source, &zoned), "today");
    assert_eq!(said("en-u-tz-uslax", None, now, source, &args), "today");
}

#[test]
fn hours_are_counted_over_changes_of_the_clock() {
    // In Warsaw the clock goes from 02:00 to 03:00 on 29 March 2026, and from 03:00 to 02:00 on 25 October.
    let of = |now, moment: &str| {
        said("en", Some("Europe/Warsaw"), now, "{$moment :crow:relative}", &args! { moment })
    };
    assert_eq!(of("2026-03-29T00:30:00Z", "2026-03-29T03:30"), "in 1 hour");
    assert_eq!(of("2026-10-24T23:30:00Z", "2026-10-25T03:30"), "in 3 hours");
    // A day of 25 hours: 24 hours later is the same day.
    assert_eq!(of("2026-10-24T22:05:00Z", "2026-10-25T22:30:00Z"), "in 24 hours");
    assert_eq!(of("2026-10-24T22:05:00Z", "2026-10-25T23:05:00Z"), "tomorrow");
    // A day of 23 hours.
    assert_eq!(of("2026-03-28T23:30:00Z", "2026-03-29T22:30:00Z"), "in 23 hours");
    assert_eq!(of("2026-03-28T23:30:00Z", "2026-03-29T23:30:00Z"), "tomorrow");
}

#[test]
fn a_unit_that_is_asked_for_counts_beginnings() {
    let cases = [
        ("en", "month", "2026-01-31", "2026-02-01", "next month"),
        ("en", "month", "2026-01-01", "2026-01-31", "this month"),
        ("en", "quarter", "2026-03-31", "2026-04-01", "next quarter"),
        ("en", "year", "2026-12-31", "2027-01-01", "next year"),
        // 3 May 2026 is a Sunday.
        ("en-US", "week", "2026-05-02", "2026-05-03", "next week"),
        ("en-GB", "week", "2026-05-02", "2026-05-03", "this week"),
        ("en-GB-u-fw-sun", "week", "2026-05-02", "2026-05-03", "next week"),
        ("en-GB-u-rg-uszzzz", "week", "2026-05-02", "2026-05-03", "next week"),
        ("en", "hour", "2026-05-02", "2026-05-03", "in 24 hours"),
        // The year 1405 begins on 21 March 2026, and its second month on 21 April.
        ("en-u-ca-persian", "year", "2026-03-20", "2026-03-21", "next year"),
        ("en-u-ca-persian", "month", "2026-04-20", "2026-04-21", "next month"),
        ("en-u-ca-persian", "month", "2026-04-30", "2026-05-01", "this month"),
        // Adar II, in a leap year; from Elul to Tishri.
        ("en-u-ca-hebrew", "month", "2027-03-09", "2027-03-10", "next month"),
        ("en-u-ca-hebrew", "month", "2026-09-11", "2026-09-12", "next month"),
        ("en-u-ca-japanese", "year", "2019-04-30", "2019-05-01", "this year"),
        ("th", "year", "2026-12-31", "2027-01-01", "ปีหน้า"),
    ];
    for (locale, unit, now, date, expected) in cases {
        let source = format!("{{$date :crow:relative unit={unit}}}");
        let text = said(locale, None, &format!("{now}T00:00:00Z"), &source, &args! { date });
        assert_eq!(text, expected, "{locale} {unit} {now} {date}");
    }
    // What has passed says so, though it is less than one.
    let ago =
        |source| said("en", None, "2026-05-01T09:30:30Z", source, &args! { moment: "2026-05-01T09:30:00Z" });
    assert_eq!(ago("{$moment :crow:relative unit=minute}"), "0 minutes ago");
    assert_eq!(ago("{$moment :crow:relative width=narrow}"), "30s ago");
    assert_eq!(ago("{$moment :crow:relative numeric=always unit=day}"), "0 days ago");
}

#[test]
fn durations_of_applications_are_arguments() {
    let of = |value: Value<'_>| {
        said("en", None, "2026-05-01T09:30:00Z", "{$x :crow:duration}/{$x}", &args! { x: value })
    };
    let spans: [Value<'_>; 4] = [
        Span::new().hours(1).minutes(30).into(),
        SignedDuration::from_mins(90).into(),
        std::time::Duration::from_mins(90).into(),
        chrono::TimeDelta::minutes(90).into(),
    ];
    for span in spans {
        assert_eq!(of(span), "1 hour, 30 minutes/1 hour, 30 minutes");
    }
    assert_eq!(
        of(time::Duration::milliseconds(-1500).into()),
        "-1 second, 500 milliseconds/-1 second, 500 milliseconds"
    );
    assert_eq!(of((&2.days()).into()), "2 days/2 days");
    assert_eq!(Value::from(90.minutes()).to_string(), "PT90M");
    assert_eq!(Value::from(90.minutes()), Value::from(90.minutes()));
    assert_ne!(Value::from(90.minutes()), Value::from(SignedDuration::from_mins(90)));
    // What no span holds is a text, and no duration.
    assert_eq!(
        of(std::time::Duration::MAX.into()),
        "\u{2068}{$x}\u{2069}/\u{2068}PT18446744073709551615S\u{2069}"
    );
}

#[cfg(feature = "zone-names")]
#[test]
fn zones_have_their_names_at_the_moment_that_is_shown() {
    let cases = [
        ("en", "Europe/Warsaw", "2026-07-01", "Central European Summer Time", "GMT+2"),
        ("en", "Europe/Warsaw", "2026-01-01", "Central European Standard Time", "GMT+1"),
        ("en-GB", "Europe/Warsaw", "2026-07-01", "Central European Summer Time", "CEST"),
        ("en", "America/New_York", "2026-01-01", "Eastern Standard Time", "EST"),
        ("en-GB", "America/New_York", "2026-01-01", "Eastern Standard Time", "GMT-5"),
        ("de", "Europe/Berlin", "2026-07-01", "Mitteleuropäische Sommerzeit", "MESZ"),
        // Names of a zone's own; the database has Irish summer as the usual time.
        ("en", "Europe/London", "2026-07-01", "British Summer Time", "GMT+1"),
        ("en", "Europe/London", "2026-01-01", "Greenwich Mean Time", "GMT"),
        ("en", "Europe/Dublin", "2026-07-01", "Irish Standard Time", "GMT+1"),
        ("en", "Europe/Dublin", "2026-01-01", "Greenwich Mean Time", "GMT"),
        // Another metazone before 2016.
        ("en", "Europe/Istanbul", "2015-07-01", "Eastern European Summer Time", "GMT+3"),
        ("en", "Europe/Istanbul", "2026-07-01", "Türkiye Standard Time", "GMT+3"),
        ("de", "Africa/Casablanca", "2026-07-01", "Marokko (Sommerzeit)", "GMT+1"),
        ("en", "Antarctica/Troll", "2026-07-01", "Troll Daylight Time", "GMT+2"),
        ("pl", "Asia/Kolkata", "2026-07-01", "czas indyjski standardowy", "GMT+5:30"),
        ("en", "Etc/GMT-5", "2026-07-01", "GMT+05:00", "GMT+5"),
        ("en", "UTC", "2026-07-01", "Coordinated Universal Time", "UTC"),
        ("hi", "Asia/Kolkata", "2026-07-01", "भारतीय मानक समय", "IST"),
    ];
    for (locale, zone, day, long, short) in cases {
        let args = args! { moment: format!("{day}T12:00:00Z") };
        let of = |style: &str| {
            let with = |options: &str| {
                said(
                    locale,
                    Some(zone),
                    "2026-01-01T00:00:00Z",
                    &format!("{{$moment :time precision=second hour12=false{options}}}"),
                    &args,
                )
            };
            let named = with(&format!(" timeZoneStyle={style}"));
            named.replace(&with(""), "").trim().to_owned()
        };
        assert_eq!([of("long"), of("short")], [long, short], "{locale} {zone} {day}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(512))]

    #[test]
    fn any_two_moments_have_a_distance(now in -377_000_000_000_i64..253_000_000_000, other in -377_000_000_000_i64..253_000_000_000, near in -200_000_i64..200_000, unit in 0_usize..9) {
        let units = ["", "second", "minute", "hour", "day", "week", "month", "quarter", "year"];
        let source = match units[unit] {
            "" => "{$moment :crow:relative}".to_owned(),
            unit => format!("{{$moment :crow:relative unit={unit}}}"),
        };
        let program = Program::compile(&Message::parse(&source).unwrap());
        let context = FormatContext::of(&tag("en")).with_time_zone(TimeZone::get(TimeZoneName::UTC.as_str()).unwrap());
        let now_at = Timestamp::from_second(now).unwrap();
        for moment in [other, now.saturating_add(near).clamp(-377_000_000_000, 253_000_000_000)] {
            let mut errors = Vec::new();
            let args = args! { moment: DateValue::from_unix(moment).unwrap() };
            let text = program.format(&context, &args).with_now(&now_at).reporting(&mut |error| errors.push(error)).text();
            prop_assert!(errors.is_empty(), "{errors:?}");
            if text.starts_with("in ") {
                prop_assert!(moment > now, "{text}");
            } else if text.ends_with(" ago") {
                prop_assert!(moment < now, "{text}");
            }
        }
    }

    /// Balancing keeps the length: the parts of each duration add up to it.
    #[test]
    fn the_parts_of_a_duration_add_up(seconds in 0_i64..10_000_000, largest in 3_usize..7) {
        let units = ["year", "month", "week", "day", "hour", "minute", "second"];
        let sizes = [0, 0, 604_800, 86_400, 3600, 60, 1];
        let source = format!("{{$n :crow:duration style=short largestUnit={}}}", units[largest]);
        let text = said("en", None, "2026-01-01T00:00:00Z", &source, &args! { n: seconds });
        let words = [("day", 3), ("hr", 4), ("min", 5), ("sec", 6)];
        let parts = text.split(", ").map(|part| {
            let (number, word) = part.split_once(' ').unwrap();
            let (_, unit) = words.iter().find(|(start, _)| word.starts_with(start)).unwrap();
            let number: i64 = number.replace(',', "").parse().unwrap();
            (number, *unit)
        });
        let parts: Vec<(i64, usize)> = parts.collect();
        prop_assert_eq!(parts.iter().map(|(number, unit)| number * sizes[*unit]).sum::<i64>(), seconds);
        prop_assert!(parts.iter().all(|(number, unit)| *unit == largest || number * sizes[*unit] < sizes[*unit - 1]));
    }
}

#[test]
fn a_date_without_a_now_says_what_is_needed() {
    let context = FormatContext::of(&tag("en"));
    let program = Program::compile(&Message::parse("{$day :crow:relative}").unwrap());
    let mut errors = Vec::new();
    let args = args! { day: date(2026, 5, 1) };
    program.format(&context, &args).reporting(&mut |error| errors.push(error.to_string())).text();
    insta::assert_snapshot!(errors.join("\n"));
}
