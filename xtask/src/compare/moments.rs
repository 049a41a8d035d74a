//! Durations, relative times of moments, and names of time zones.

use super::calendars::ZEROS;
use super::questions::Question;

/// Zones of every part of the world, with and without a summer time, one of them against the usual.
const ZONES: [&str; 30] = [
    "Africa/Cairo",
    "Africa/Casablanca",
    "Africa/Johannesburg",
    "Africa/Lagos",
    "Africa/Nairobi",
    "America/Anchorage",
    "America/Bogota",
    "America/Chicago",
    "America/Halifax",
    "America/Los_Angeles",
    "America/Mexico_City",
    "America/New_York",
    "America/Sao_Paulo",
    "America/St_Johns",
    "Asia/Dubai",
    "Asia/Kolkata",
    "Asia/Seoul",
    "Asia/Shanghai",
    "Asia/Tehran",
    "Asia/Tokyo",
    "Atlantic/Reykjavik",
    "Australia/Lord_Howe",
    "Australia/Sydney",
    "Europe/Dublin",
    "Europe/Istanbul",
    "Europe/London",
    "Europe/Moscow",
    "Europe/Warsaw",
    "Pacific/Auckland",
    "Pacific/Honolulu",
];

pub(super) fn ask(questions: &mut Vec<Question>) {
    let mut ask = |about: &str, now: &str, message: String, value: &str, node: String| {
        let (about, now) = (about.to_owned(), now.parse().unwrap_or_default());
        questions.push(Question { about, message, value: value.to_owned().into(), node, now });
    };
    for (iso, node) in [
        ("PT1H30M", "{hours:1,minutes:30}"),
        ("PT1S", "{seconds:1}"),
        ("PT2H5M9S", "{hours:2,minutes:5,seconds:9}"),
        ("P1DT1H", "{days:1,hours:1}"),
        ("P2W3D", "{weeks:2,days:3}"),
        ("P1Y2M", "{years:1,months:2}"),
        ("-PT1H30M", "{hours:-1,minutes:-30}"),
        ("PT12H0.5S", "{hours:12,milliseconds:500}"),
        ("PT1234H", "{hours:1234}"),
    ] {
        for style in ["long", "short", "narrow", "digital"] {
            let message = format!("{{$x :crow:duration style={style}}}");
            ask(
                "duration",
                "",
                message,
                iso,
                format!("new Intl.DurationFormat(l,{{style:'{style}'}}).format({node})"),
            );
        }
    }
    // In Warsaw the clock changes at 01:00Z of 29 March and of 25 October.
    for now in ["2026-03-28T22:50:00Z", "2026-10-24T22:10:00Z"] {
        for seconds in [
            0,
            45,
            -45,
            60,
            1200,
            -3599,
            3600,
            7300,
            14_400,
            82_000,
            86_400,
            90_000,
            -90_000,
            100_000,
            180_000,
            -500_000,
            604_800,
            2_000_000,
            3_000_000,
            -30_000_000,
            40_000_000,
        ] {
            for zone in ["Europe/Warsaw", "America/New_York", "Pacific/Auckland"] {
                let message = format!("{{$x :crow:relative timeZone=|{zone}|}}");
                let now: jiff::Timestamp = now.parse().unwrap_or_default();
                let moment = (now + jiff::SignedDuration::from_secs(seconds)).to_string();
                let node = format!("R(l,'{now}','{moment}','{zone}')");
                ask("relative, moment", &now.to_string(), message, &moment, node);
            }
        }
    }
    for zone in ZONES {
        for moment in ["2026-01-15T12:00:00Z", "2026-07-15T12:00:00Z"] {
            for style in ["long", "short"] {
                let message = format!("{{$x :time timeZone=|{zone}| timeZoneStyle={style}}}");
                let node = format!(
                    "D(l,{{timeZone:'{zone}',timeZoneName:'{style}'}}).formatToParts(new Date('{moment}')).find(part=>part.type==='timeZoneName').value"
                );
                ask(if style == "long" { "zone, long" } else { "zone, short" }, "", message, moment, node);
            }
        }
    }
}

/// Whether a time has the name of its zone that Node gives.
pub(super) fn has_zone(about: &str, ours: &str, theirs: &str) -> bool {
    about.starts_with("zone") && ours.contains(theirs)
}

/// Why an answer differs, of those that are asked here; none where it has no reason.
pub(super) fn difference(about: &str, locale: &str, ours: &str, theirs: &str) -> Option<&'static str> {
    let is_offset = theirs.contains(|letter: char| letter.is_numeric());
    match about {
        "duration" if without_first_zeros(ours) == without_first_zeros(theirs) => {
            Some("CLDR's pattern of the clock has two digits of the hour")
        }
        "duration" if locale.starts_with("sr") && ours.replace('.', ":") == theirs.replace('.', ":") => {
            Some("CLDR's pattern of the clock has full stops")
        }
        "relative, moment" if locale == "gd" => Some("the locale has words for three days, too"),
        "zone, long" if is_offset => {
            Some("the place, where the locale has no name for a zone; Node writes the offset")
        }
        "zone, short"
            if is_offset
                && !theirs.contains(|letter: char| letter.is_numeric() && !ZEROS.contains(&letter)) =>
        {
            Some("Greenwich Mean Time; Node writes that it is at no distance")
        }
        _ => None,
    }
}

/// A text with numbers that have no zeros before them.
fn without_first_zeros(text: &str) -> String {
    let (mut shown, mut after) = (String::new(), ' ');
    for (at, letter) in text.char_indices() {
        let next = text[at..].chars().nth(1).is_some_and(char::is_numeric);
        if after.is_numeric() || !ZEROS.contains(&letter) || !next {
            shown.push(letter);
        }
        after = letter;
    }
    shown
}

/// Whether answers of a kind have reasons here.
pub(super) fn has_reasons(about: &str) -> bool {
    about == "duration" || about == "relative, moment" || about.starts_with("zone")
}

/// How far a moment is from now, reckoned once more: the days from what Node says of the date.
pub(super) const SCRIPT: &str = "
const day = (moment, timeZone) => {
  const parts = D('en-u-ca-gregory', { timeZone, year: 'numeric', month: 'numeric', day: 'numeric' }).formatToParts(new Date(moment));
  const of = (type) => Number(parts.find((part) => part.type === type).value);
  return [of('year'), of('month'), of('day')];
};
const R = (l, now, moment, zone) => {
  const say = (number, unit, numeric) => new Intl.RelativeTimeFormat(l, { numeric }).format(number, unit);
  const seconds = Math.trunc((new Date(moment) - new Date(now)) / 1000);
  const [y1, m1, d1] = day(now, zone), [y2, m2, d2] = day(moment, zone);
  const days = (Date.UTC(y2, m2 - 1, d2) - Date.UTC(y1, m1 - 1, d1)) / 86400000;
  if (Math.abs(seconds) < 60) return say(seconds, 'second', 'auto');
  if (Math.abs(seconds) < 3600) return say(Math.trunc(seconds / 60), 'minute', 'always');
  if (Math.abs(seconds) < 86400 || days === 0) return say(Math.trunc(seconds / 3600), 'hour', 'always');
  if (Math.abs(days) < 7) return say(days, 'day', 'auto');
  let months = (y2 - y1) * 12 + m2 - m1;
  if (months > 0 && d2 < d1) months -= 1;
  if (months < 0 && d2 > d1) months += 1;
  if (months === 0) return say(Math.trunc(days / 7), 'week', 'always');
  if (Math.abs(months) < 12) return say(months, 'month', 'always');
  return say(Math.trunc(months / 12), 'year', 'always');
};
";
