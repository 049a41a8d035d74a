//! Dates in each calendar, and why the two differ.

use crow_fly_core::calendar::Calendar;

use super::questions::Ask;

/// Why answers about calendars differ: the part that is asked for, the locales, and the reason.
const REASONS: [(&str, &[&str], &str); 11] = [
    (
        "of its region",
        &["en-TH"],
        "Node has the Gregorian calendar in English; the region prefers the Buddhist",
    ),
    ("fields", &["te", "gd"], WEEK_YEAR),
    ("lengths", &["gl"], WEEK_YEAR),
    ("ranges", &["te"], WEEK_YEAR),
    ("fields", &["id"], "a weekday that stands alone has no Islamic name in CLDR's XML"),
    ("with a time", &["eu", "kk", "lv", "pl"], "a date and its time are joined as in the Gregorian calendar"),
    (
        "with a time",
        &["ko", "zh-HK", "es-MX", "hi-Latn"],
        "the time changed between the two releases of CLDR",
    ),
    ("with a time", &["en-TH"], "hours are those of the region; Node takes those of English"),
    ("with a time", &["pa"], "the time at a date has a pattern only in Node"),
    (
        "ranges",
        &[
            "ar", "ar-EG", "ar-SA", "be", "ckb-IR", "es", "ja", "kn", "ko", "lrc", "mk", "ml", "mn", "mzn",
            "ne", "si", "sq", "uz-Arab", "vi", "yue", "zh", "zh-HK", "zh-TW", "zu",
        ],
        "a range has the words and the era of the single date; Node takes the form of another skeleton",
    ),
    (
        "ranges",
        &["bs", "ca", "cs", "el", "fa", "fa-AF", "fi", "gd", "hr", "hy", "lt", "pl", "ru", "sk", "uk"],
        "months of a range have CLDR's pattern; Node does not find it where the month stands alone",
    ),
];

const WEEK_YEAR: &str = "CLDR's pattern has the year of the week; the year of the date is written";

/// The zeros of the digits that the locales have.
pub(super) const ZEROS: [char; 6] = ['0', '٠', '۰', '०', '০', '၀'];

/// Why an answer differs, of those about calendars.
pub(super) fn difference(about: &str, locale: &str, ours: &str, theirs: &str) -> Option<&'static str> {
    let of = |(part, locales, _): &&(&str, &[&str], &str)| about.contains(part) && locales.contains(&locale);
    let reason = REASONS.iter().find(of).map(|(.., why)| *why);
    let is_of_width = about.contains("ranges") && numbers(ours) == numbers(theirs);
    is_of_width.then_some("a range has the widths of the single date's fields").or(reason)
}

/// A text with its numbers in ASCII digits, at most the last two of each, without zeros before them.
fn numbers(text: &str) -> String {
    let (mut shown, mut number) = (String::new(), None);
    for letter in text.chars().chain([' ']) {
        let value = |zero: &char| u32::from(letter).checked_sub(u32::from(*zero)).filter(|value| *value < 10);
        if let Some(digit) = ZEROS.iter().find_map(value) {
            number = Some((number.unwrap_or(0) * 10 + digit) % 100);
        } else {
            shown.extend(number.take().map(|number: u32| number.to_string()));
            shown.push(letter);
        }
    }
    shown
}

/// Dates in each calendar, by the option, and by the locale where `None`; and fields in it.
pub(super) fn ask(ask: &mut Ask<'_>) {
    for calendar in core::iter::once(None).chain(Calendar::ALL.map(Some)) {
        let (option, node_option) = match calendar {
            None => (String::new(), String::new()),
            Some(calendar) => (format!(" calendar={calendar}"), format!(",calendar:'{calendar}'")),
        };
        let kind = |part: &str| {
            let name = calendar.map_or("of its region", Calendar::id);
            let name = if name.starts_with("islamic") { "islamic" } else { name };
            format!("calendar {name}, {part}")
        };
        let dates =
            ["2026-03-01T09:05:07", "2025-12-31T23:59:00", "2024-03-20T00:30:00", "1989-05-09T12:00:00"];
        for date in dates {
            let mut say = |part, function: &str, options: &str| {
                let node =
                    format!("D(l,{{{options},timeZone:'UTC'{node_option}}}).format(new Date('{date}Z'))");
                ask(&kind(part), format!("{{$x :{function}{option}}}"), date.into(), node);
            };
            for length in ["short", "medium", "long"] {
                say("lengths", &format!("date length={length}"), &format!("dateStyle:'{length}'"));
            }
            say("lengths", "date length=long fields=year-month-day-weekday", "dateStyle:'full'");
            say("with a time", "datetime dateLength=long", "dateStyle:'long',timeStyle:'short'");
            say("with a time", "datetime", "dateStyle:'medium',timeStyle:'short'");
            for (length, month) in [("short", "numeric"), ("medium", "short"), ("long", "long")] {
                let month = format!("month:'{month}'");
                say(
                    "fields",
                    &format!("date length={length} fields=month-day"),
                    &format!("{month},day:'numeric'"),
                );
                say(
                    "fields",
                    &format!("crow:date length={length} fields=year-month"),
                    &format!("year:'numeric',{month}"),
                );
                say("fields", &format!("crow:date length={length} fields=month"), &month);
            }
            say("fields", "crow:date fields=year", "year:'numeric'");
            say("fields", "crow:date fields=weekday length=long", "weekday:'long'");
        }
        for (start, end) in [
            ("2026-03-01T09:00:00", "2026-03-03T11:30:00"),
            ("2026-03-01T09:00:00", "2026-04-25T08:30:00"),
            ("2024-10-01T09:00:00", "2026-10-20T08:30:00"),
        ] {
            let mut say = |function: &str, options: &str| {
                let message =
                    format!(".local $y = {{$x :{function}{option}}} {{{{{{$y :crow:range to=|{end}|}}}}}}");
                let node = format!(
                    "D(l,{{{options},timeZone:'UTC'{node_option}}}).formatRange(new Date('{start}Z'),new Date('{end}Z'))"
                );
                ask(&kind("ranges"), message, start.into(), node);
            };
            for length in ["short", "medium", "long"] {
                say(&format!("date length={length}"), &format!("dateStyle:'{length}'"));
            }
            say("crow:date length=long fields=year-month", "year:'numeric',month:'long'");
            say("date length=medium fields=month-day", "month:'short',day:'numeric'");
        }
    }
}
