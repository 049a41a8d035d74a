//! Calendars: conversions beside published tables and a second implementation, and dates in each calendar.

use std::sync::OnceLock;

use crow_fly_core::args;
use crow_fly_core::calendar::{Calendar, CalendarChoice, CalendarDate, CalendarReason};
use crow_fly_core::message::{FormatContext, FormatErrorKind, Isolation, Message, Program};
use jiff::ToSpan;
use jiff::civil::{Date, date};
use proptest::prelude::*;

use crate::tag;

/// Dates that *Calendrical Calculations* gives in its table of samples, as far as they are in the ranges: Gregorian, Coptic,
/// Ethiopic, Hebrew (by CLDR's months), Islamic civil, Persian.
#[rustfmt::skip]
const SAMPLES: [(&str, &str, &str, &str, &str, &str); 27] = [
    ("0694-11-10", "0411-03-11", "0687-03-11", "4455-02-13", "0075-07-13", ""),
    ("1013-04-25", "0729-08-24", "1005-08-24", "4773-09-06", "0403-10-05", ""),
    ("1096-05-24", "0812-09-23", "1088-09-23", "4856-09-23", "0489-05-22", ""),
    ("1190-03-23", "0906-07-20", "1182-07-20", "4950-08-07", "0586-02-07", ""),
    ("1240-03-10", "0956-07-07", "1232-07-07", "5000-07-08", "0637-08-07", ""),
    ("1288-04-02", "1004-07-30", "1280-07-30", "5048-08-21", "0687-02-20", ""),
    ("1298-04-27", "1014-08-25", "1290-08-25", "5058-09-07", "0697-07-07", ""),
    ("1391-06-12", "1107-10-10", "1383-10-10", "5151-11-01", "0793-07-01", ""),
    ("1436-02-03", "1152-05-29", "1428-05-29", "5196-05-07", "0839-07-06", ""),
    ("1492-04-09", "1208-08-05", "1484-08-05", "5252-08-03", "0897-06-01", ""),
    ("1553-09-19", "1270-01-12", "1546-01-12", "5314-01-01", "0960-09-30", ""),
    ("1560-03-05", "1276-06-29", "1552-06-29", "5320-06-27", "0967-05-27", ""),
    ("1648-06-10", "1364-10-06", "1640-10-06", "5408-10-20", "1058-05-18", ""),
    ("1680-06-30", "1396-10-26", "1672-10-26", "5440-11-03", "1091-06-02", ""),
    ("1716-07-24", "1432-11-19", "1708-11-19", "5476-12-05", "1128-08-04", ""),
    ("1768-06-19", "1484-10-14", "1760-10-14", "5528-11-04", "1182-02-03", ""),
    ("1819-08-02", "1535-11-27", "1811-11-27", "5579-12-11", "1234-10-10", "1198-05-10"),
    ("1839-03-27", "1555-07-19", "1831-07-19", "5599-08-12", "1255-01-11", "1218-01-07"),
    ("1903-04-19", "1619-08-11", "1895-08-11", "5663-08-22", "1321-01-21", "1282-01-29"),
    ("1929-08-25", "1645-12-19", "1921-12-19", "5689-12-19", "1348-03-19", "1308-06-03"),
    ("1941-09-29", "1658-01-19", "1934-01-19", "5702-01-08", "1360-09-08", "1320-07-07"),
    ("1943-04-19", "1659-08-11", "1935-08-11", "5703-08-14", "1362-04-13", "1322-01-29"),
    ("1943-10-07", "1660-01-26", "1936-01-26", "5704-01-08", "1362-10-07", "1322-07-14"),
    ("1992-03-17", "1708-07-08", "1984-07-08", "5752-07-12", "1412-09-13", "1370-12-27"),
    ("1996-02-25", "1712-06-17", "1988-06-17", "5756-07-05", "1416-10-05", "1374-12-06"),
    ("2038-11-10", "1755-03-01", "2031-03-01", "5799-02-12", "1460-10-12", "1417-08-19"),
    ("2094-07-18", "1810-11-11", "2086-11-11", "5854-12-05", "1518-03-05", "1473-04-28"),
];

/// The first days of Muharram and of Ramadan of 1420 to 1450 as they have been published in Saudi Arabia.
#[rustfmt::skip]
const UMM_AL_QURA: [(&str, i32, u8); 62] = [
    ("1999-04-17", 1420, 1), ("1999-12-09", 1420, 9), ("2000-04-06", 1421, 1), ("2000-11-27", 1421, 9),
    ("2001-03-26", 1422, 1), ("2001-11-16", 1422, 9), ("2002-03-15", 1423, 1), ("2002-11-06", 1423, 9),
    ("2003-03-04", 1424, 1), ("2003-10-26", 1424, 9), ("2004-02-21", 1425, 1), ("2004-10-15", 1425, 9),
    ("2005-02-10", 1426, 1), ("2005-10-04", 1426, 9), ("2006-01-31", 1427, 1), ("2006-09-24", 1427, 9),
    ("2007-01-20", 1428, 1), ("2007-09-13", 1428, 9), ("2008-01-10", 1429, 1), ("2008-09-01", 1429, 9),
    ("2008-12-29", 1430, 1), ("2009-08-22", 1430, 9), ("2009-12-18", 1431, 1), ("2010-08-11", 1431, 9),
    ("2010-12-07", 1432, 1), ("2011-08-01", 1432, 9), ("2011-11-26", 1433, 1), ("2012-07-20", 1433, 9),
    ("2012-11-15", 1434, 1), ("2013-07-09", 1434, 9), ("2013-11-04", 1435, 1), ("2014-06-28", 1435, 9),
    ("2014-10-25", 1436, 1), ("2015-06-18", 1436, 9), ("2015-10-14", 1437, 1), ("2016-06-06", 1437, 9),
    ("2016-10-02", 1438, 1), ("2017-05-27", 1438, 9), ("2017-09-21", 1439, 1), ("2018-05-16", 1439, 9),
    ("2018-09-11", 1440, 1), ("2019-05-06", 1440, 9), ("2019-08-31", 1441, 1), ("2020-04-24", 1441, 9),
    ("2020-08-20", 1442, 1), ("2021-04-13", 1442, 9), ("2021-08-09", 1443, 1), ("2022-04-02", 1443, 9),
    ("2022-07-30", 1444, 1), ("2023-03-23", 1444, 9), ("2023-07-19", 1445, 1), ("2024-03-11", 1445, 9),
    ("2024-07-07", 1446, 1), ("2025-03-01", 1446, 9), ("2025-06-26", 1447, 1), ("2026-02-18", 1447, 9),
    ("2026-06-16", 1448, 1), ("2027-02-08", 1448, 9), ("2027-06-06", 1449, 1), ("2028-01-28", 1449, 9),
    ("2028-05-25", 1450, 1), ("2029-01-16", 1450, 9),
];

/// New years, and days around them, as almanacs have them.
const KNOWN: [(Calendar, &str, u8, i32, u8, u8); 34] = [
    (Calendar::Persian, "2020-03-20", 0, 1399, 1, 1),
    (Calendar::Persian, "2021-03-20", 0, 1399, 12, 30),
    (Calendar::Persian, "2021-03-21", 0, 1400, 1, 1),
    (Calendar::Persian, "2024-03-20", 0, 1403, 1, 1),
    (Calendar::Persian, "2025-03-20", 0, 1403, 12, 30),
    (Calendar::Persian, "2025-03-21", 0, 1404, 1, 1),
    (Calendar::Persian, "2029-03-20", 0, 1408, 1, 1),
    (Calendar::Persian, "1979-02-11", 0, 1357, 11, 22),
    (Calendar::Hebrew, "2023-09-16", 0, 5784, 1, 1),
    (Calendar::Hebrew, "2024-03-24", 0, 5784, 7, 14),
    (Calendar::Hebrew, "2024-02-23", 0, 5784, 6, 14),
    (Calendar::Hebrew, "2024-10-03", 0, 5785, 1, 1),
    (Calendar::Hebrew, "2025-03-14", 0, 5785, 7, 14),
    (Calendar::Hebrew, "2025-09-23", 0, 5786, 1, 1),
    (Calendar::Hebrew, "1948-05-14", 0, 5708, 9, 5),
    (Calendar::Coptic, "2023-09-12", 1, 1740, 1, 1),
    (Calendar::Coptic, "2024-09-11", 1, 1741, 1, 1),
    (Calendar::Ethiopic, "2023-09-11", 1, 2015, 13, 6),
    (Calendar::Ethiopic, "2023-09-12", 1, 2016, 1, 1),
    (Calendar::Ethiopic, "2007-09-12", 1, 2000, 1, 1),
    (Calendar::Ethiopic, "0008-08-26", 0, 5500, 13, 5),
    (Calendar::Indian, "1957-03-22", 0, 1879, 1, 1),
    (Calendar::Indian, "2024-03-21", 0, 1946, 1, 1),
    (Calendar::Indian, "2025-03-22", 0, 1947, 1, 1),
    (Calendar::Japanese, "2019-04-30", 235, 31, 4, 30),
    (Calendar::Japanese, "2019-05-01", 236, 1, 5, 1),
    (Calendar::Japanese, "1989-01-07", 234, 64, 1, 7),
    (Calendar::Japanese, "1989-01-08", 235, 1, 1, 8),
    (Calendar::Japanese, "1868-10-23", 232, 1, 10, 23),
    (Calendar::Minguo, "1912-01-01", 1, 1, 1, 1),
    (Calendar::Minguo, "1911-12-31", 0, 1, 12, 31),
    (Calendar::Buddhist, "2026-12-02", 0, 2569, 12, 2),
    (Calendar::IslamicTabular, "0622-07-18", 0, 1, 1, 1),
    (Calendar::IslamicCivil, "0622-07-19", 0, 1, 1, 1),
];

fn of(calendar: Calendar, day: Date) -> CalendarDate {
    CalendarDate::of(calendar, day).unwrap_or_else(|| panic!("{calendar} {day}"))
}

fn text(date: CalendarDate) -> String {
    format!("{:04}-{:02}-{:02}", date.year(), date.month(), date.day())
}

#[test]
fn dates_are_those_of_published_tables() {
    for (day, coptic, ethiopic, hebrew, islamic, persian) in SAMPLES {
        let day: Date = day.parse().unwrap();
        for (calendar, expected) in [
            (Calendar::Coptic, coptic),
            (Calendar::Ethiopic, ethiopic),
            (Calendar::Hebrew, hebrew),
            (Calendar::IslamicCivil, islamic),
            (Calendar::Persian, persian),
        ] {
            if expected.is_empty() {
                assert_eq!(CalendarDate::of(calendar, day), None, "{calendar} {day}");
            } else {
                assert_eq!(text(of(calendar, day)), expected, "{calendar} {day}");
            }
        }
    }
    for (day, year, month) in UMM_AL_QURA {
        let first = of(Calendar::IslamicUmmAlQura, day.parse().unwrap());
        assert_eq!((first.year(), first.month(), first.day()), (year, month, 1), "{day}");
    }
    for (calendar, day, era, year, month, of_month) in KNOWN {
        let date = of(calendar, day.parse().unwrap());
        let parts = (date.era(), date.year(), date.month(), date.day());
        assert_eq!(parts, (era, year, month, of_month), "{calendar} {day}");
        assert_eq!(CalendarDate::new(calendar, era, year, month, of_month), Some(date));
    }
}

/// How many days a month of a year has.
type Length = fn(i32, u8) -> u8;

/// A calendar that counts day by day: nothing but how long a month is.
struct Walker {
    year: i32,
    month: u8,
    day: u8,
    length: Length,
}

impl Walker {
    fn step(&mut self) {
        if self.day < (self.length)(self.year, self.month) {
            self.day += 1;
            return;
        }
        self.day = 1;
        loop {
            self.month += 1;
            if self.month > 13 {
                (self.year, self.month) = (self.year + 1, 1);
            }
            if (self.length)(self.year, self.month) > 0 {
                return;
            }
        }
    }
}

/// The leap years of the 33 by name, and not by a formula.
fn persian(year: i32, month: u8) -> u8 {
    match month {
        1..=6 => 31,
        7..=11 => 30,
        12 if [1, 5, 9, 13, 17, 22, 26, 30].contains(&(year % 33)) => 30,
        12 => 29,
        _ => 0,
    }
}

/// The same of the 30 of the Islamic calendar.
fn islamic(year: i32, month: u8) -> u8 {
    match month {
        12 if [2, 5, 7, 10, 13, 16, 18, 21, 24, 26, 29].contains(&(year % 30)) => 30,
        13 => 0,
        _ => 29 + month % 2,
    }
}

fn alexandrian(year: i32, month: u8) -> u8 {
    match month {
        13 => 5 + u8::from((year + 1) % 4 == 0),
        _ => 30,
    }
}

fn indian(year: i32, month: u8) -> u8 {
    let gregorian = year + 78;
    let is_leap = gregorian % 4 == 0 && (gregorian % 100 != 0 || gregorian % 400 == 0);
    match month {
        1 => 30 + u8::from(is_leap),
        2..=6 => 31,
        7..=12 => 30,
        _ => 0,
    }
}

/// The first days of the years of the Hebrew calendar, and which are leap years: by the molad, counted month by month from that
/// of year 1, and by the four postponements as they are taught: not on a Sunday, Wednesday or Friday, not after noon, and the two
/// of Tuesday and Monday.
fn hebrew_year(year: i32) -> (i64, bool) {
    static YEARS: OnceLock<Vec<(i64, bool)>> = OnceLock::new();
    let is_leap = |year: i32| [0, 3, 6, 8, 11, 14, 17].contains(&(year % 19));
    let of_year = |year: i32, months: i64| {
        // Monday evening, five hours and 204 parts after six.
        let parts = 24 * 1080 + 5 * 1080 + 204 + months * (29 * 24 * 1080 + 12 * 1080 + 793);
        let (mut start, part) = (parts / (24 * 1080), parts % (24 * 1080));
        let late_tuesday = start % 7 == 2 && part >= 9 * 1080 + 204 && !is_leap(year);
        let late_monday = start % 7 == 1 && part >= 15 * 1080 + 589 && is_leap(year - 1);
        if part >= 18 * 1080 || late_tuesday || late_monday {
            start += 1;
        }
        if [0, 3, 5].contains(&(start % 7)) {
            start += 1;
        }
        (start, is_leap(year))
    };
    let years = YEARS.get_or_init(|| {
        let mut months = 0;
        let mut next = |year| {
            let found = of_year(year, months);
            months += if is_leap(year) { 13 } else { 12 };
            found
        };
        (1..7000).map(&mut next).collect()
    });
    years[usize::try_from(year - 1).unwrap()]
}

fn hebrew(year: i32, month: u8) -> u8 {
    let ((start, is_leap), (end, _)) = (hebrew_year(year), hebrew_year(year + 1));
    match (month, end - start) {
        (3, 353 | 383) => 29,
        (6, _) if !is_leap => 0,
        (2, 355 | 385) | (1 | 3 | 5 | 6 | 8 | 10 | 12, _) => 30,
        _ => 29,
    }
}

#[test]
fn conversions_agree_with_counting_day_by_day() {
    let walks: [(Calendar, Date, Length); 7] = [
        (Calendar::Persian, date(1980, 1, 1), persian),
        (Calendar::IslamicCivil, date(1980, 1, 1), islamic),
        (Calendar::IslamicTabular, date(1700, 1, 1), islamic),
        (Calendar::Coptic, date(1880, 1, 1), alexandrian),
        (Calendar::Ethiopic, date(1980, 1, 1), alexandrian),
        (Calendar::Hebrew, date(1980, 1, 1), hebrew),
        (Calendar::Indian, date(1880, 1, 1), indian),
    ];
    for (calendar, first, length) in walks {
        let start = of(calendar, first);
        let mut walker = Walker { year: start.year(), month: start.month(), day: start.day(), length };
        let mut day = first;
        for _ in 0..20_000 {
            let date = of(calendar, day);
            let counted = (walker.year, walker.month, walker.day);
            assert_eq!((date.year(), date.month(), date.day()), counted, "{calendar} {day}");
            assert_eq!(date.to_gregorian(), day, "{calendar}");
            walker.step();
            day = day.tomorrow().unwrap();
        }
    }
}

#[test]
fn years_of_the_table_are_made_of_their_months() {
    let (mut day, last) = Calendar::IslamicUmmAlQura.range();
    let mut expected = (1300, 1, 1);
    let mut lengths = Vec::new();
    while day <= last {
        let date = of(Calendar::IslamicUmmAlQura, day);
        assert_eq!((date.year(), date.month(), date.day()), expected, "{day}");
        assert_eq!(date.to_gregorian(), day);
        let tomorrow = day.tomorrow().unwrap();
        let is_last =
            CalendarDate::of(Calendar::IslamicUmmAlQura, tomorrow).is_none_or(|next| next.day() == 1);
        if is_last {
            assert!([29, 30].contains(&date.day()), "{day}");
            lengths.push(i32::from(date.day()));
            expected =
                if date.month() == 12 { (date.year() + 1, 1, 1) } else { (date.year(), date.month() + 1, 1) };
        } else {
            expected.2 += 1;
        }
        day = tomorrow;
    }
    assert_eq!(lengths.len(), 301 * 12);
    assert!(lengths.chunks(12).all(|year| [354, 355].contains(&year.iter().sum())));
}

#[test]
fn a_range_ends_where_the_calendar_does() {
    for calendar in Calendar::ALL {
        let (first, last) = calendar.range();
        for (inside, outside) in [(first, first.yesterday()), (last, last.tomorrow())] {
            assert_eq!(of(calendar, inside).to_gregorian(), inside, "{calendar}");
            if let Ok(outside) = outside {
                assert_eq!(CalendarDate::of(calendar, outside), None, "{calendar} {outside}");
            }
        }
        assert_eq!(Calendar::named(calendar.id()), Some(calendar));
    }
    // The years in which the rule is the official calendar are whole.
    assert_eq!(text(of(Calendar::Persian, Calendar::Persian.range().0)), "1178-01-01");
    assert_eq!(text(of(Calendar::Persian, Calendar::Persian.range().1)), "1501-12-29");
}

fn any_day(calendar: Calendar) -> impl Strategy<Value = Date> {
    let (first, last) = calendar.range();
    let days = i32::try_from(last.duration_since(first).as_hours() / 24).unwrap();
    (0..=days).prop_map(move |days| first.checked_add(days.days()).unwrap())
}

proptest! {
    #![proptest_config(crate::cases(2000))]

    #[test]
    fn a_day_converts_there_and_back(
        (calendar, day) in prop::sample::select(&Calendar::ALL[..])
            .prop_flat_map(|calendar| (Just(calendar), any_day(calendar)))
    ) {
        let date = of(calendar, day);
        prop_assert_eq!(date.to_gregorian(), day);
        prop_assert_eq!(
            CalendarDate::new(calendar, date.era(), date.year(), date.month(), date.day()),
            Some(date)
        );
        // The day after is the next one of the month, or the first of another.
        if let Some(next) = day.tomorrow().ok().and_then(|next| CalendarDate::of(calendar, next)) {
            let same_month = (next.era(), next.year(), next.month()) == (date.era(), date.year(), date.month());
            let is_next = same_month && next.day() == date.day() + 1;
            // An era of the Japanese calendar may begin within a month.
            prop_assert!(is_next || next.day() == 1 || next.era() != date.era());
        }
    }

    #[test]
    fn no_parts_are_a_date_by_mistake(
        calendar in prop::sample::select(&Calendar::ALL[..]),
        era in prop_oneof![0_u8..3, 230_u8..240],
        year in prop_oneof![any::<i32>(), -10..7000],
        month in 0_u8..16,
        day in 0_u8..34,
    ) {
        if let Some(date) = CalendarDate::new(calendar, era, year, month, day) {
            prop_assert_eq!((date.era(), date.year(), date.month(), date.day()), (era, year, month, day));
            prop_assert_eq!(CalendarDate::of(calendar, date.to_gregorian()), Some(date));
        }
    }
}

#[test]
fn a_locale_has_the_calendar_of_its_tag_or_of_its_region() {
    use CalendarReason::{Keyword, Region, RegionOverride};
    for (locale, calendar, reason) in [
        ("th", Calendar::Buddhist, Region),
        ("en-TH", Calendar::Buddhist, Region),
        ("fa", Calendar::Persian, Region),
        ("fa-AF", Calendar::Persian, Region),
        ("ps", Calendar::Persian, Region),
        ("ps-PK", Calendar::Gregorian, Region),
        ("ckb", Calendar::Gregorian, Region),
        ("ckb-IR", Calendar::Persian, Region),
        ("uz", Calendar::Gregorian, Region),
        ("uz-Arab", Calendar::Persian, Region),
        ("lrc", Calendar::Persian, Region),
        ("mzn", Calendar::Persian, Region),
        ("und-TH", Calendar::Buddhist, Region),
        ("qaa-IR", Calendar::Persian, Region),
        ("ar-SA", Calendar::Gregorian, Region),
        ("en", Calendar::Gregorian, Region),
        ("en-u-rg-thzzzz", Calendar::Buddhist, RegionOverride),
        ("th-u-rg-uszzzz", Calendar::Gregorian, RegionOverride),
        ("th-u-ca-gregory-rg-irzzzz", Calendar::Gregorian, Keyword),
        ("en-u-ca-persian", Calendar::Persian, Keyword),
        ("ar-u-ca-islamicc", Calendar::IslamicCivil, Keyword),
        ("zh-TW-u-ca-roc", Calendar::Minguo, Keyword),
    ] {
        let choice = CalendarChoice::of(&tag(locale));
        assert_eq!(
            (choice.calendar(), choice.reason(), choice.lacking()),
            (calendar, reason, None),
            "{locale}"
        );
    }
    for (locale, calendar, lacking) in [
        ("zh-u-ca-chinese", Calendar::Gregorian, "chinese"),
        ("th-u-ca-islamic", Calendar::Buddhist, "islamic"),
        ("en-u-ca-saltmars", Calendar::Gregorian, "saltmars"),
    ] {
        let choice = CalendarChoice::of(&tag(locale));
        assert_eq!((choice.calendar(), choice.lacking()), (calendar, Some(lacking)), "{locale}");
    }
}

/// The data of some languages has a calendar by a rule of its own, which reads tags as the choice does.
#[test]
fn the_data_of_a_locale_has_the_calendar_that_the_locale_has() {
    let data = |tag: &str| crow_fly_cldr::data::of_languages([tag], false);
    let tags = crow_fly_cldr::formats::DATES.locales().map(str::to_owned);
    let with_regions = ["en", "fa", "th", "uz", "ckb", "ps", "zh-Hant", "sr-Latn"]
        .into_iter()
        .flat_map(|tag| ["IR", "AF", "TH", "US", "419"].map(|region| format!("{tag}-{region}")));
    let with_keywords = [
        "th-u-rg-uszzzz",
        "en-u-rg-irzzzz",
        "th-u-ca-gregory-rg-irzzzz",
        "fa-u-nu-latn-ca-buddhist",
        "en-u-hc-h23",
    ];
    let mut others = 0;
    for text in tags.chain(with_regions).chain(with_keywords.map(str::to_owned)).filter(|tag| tag != "und") {
        let calendar = CalendarChoice::of(&tag(&text)).calendar();
        let mut named = tag(&text);
        named.set_keyword("ca", Some(calendar.id())).unwrap();
        assert!(data(&text) == data(&named.to_string()), "{text}: {calendar}");
        others += usize::from(calendar != Calendar::Gregorian);
    }
    assert!(others > 30, "{others}");
}

/// The page on messages has each calendar, with its range.
#[test]
fn the_page_on_messages_lists_the_calendars() {
    let page = include_str!("../../../../docs/messages.md");
    let rows: Vec<Vec<&str>> =
        page.lines().map(|line| line.trim_matches('|').split(" | ").map(str::trim).collect()).collect();
    for calendar in Calendar::ALL {
        let (first, last) = calendar.range();
        // The library writes six digits of years before 1.
        let written = |date: Date| date.to_string().replace("-00", "-");
        let id = format!("`{calendar}`");
        let row = rows.iter().find(|row| row.first() == Some(&&*id)).unwrap_or_else(|| panic!("{calendar}"));
        assert_eq!(row[2..], [written(first), written(last)], "{calendar}");
    }
}

/// A text of one date, with the errors.
fn said(locale: &str, source: &str, day: &str) -> (String, Vec<String>) {
    let context = FormatContext::of(&tag(locale)).with_isolation(Isolation::None);
    let program = Program::compile(&Message::parse(source).unwrap());
    let mut errors = Vec::new();
    let mut report = |error: crow_fly_core::message::FormatError| {
        assert!([FormatErrorKind::NoCalendar, FormatErrorKind::BadOption].contains(&error.kind()), "{error}");
        errors.push(error.to_string());
    };
    let args = args! { d: day };
    let text = program.format(&context, &args).reporting(&mut report).text();
    (text, errors)
}

#[test]
fn dates_are_written_in_their_calendar() {
    let mut wrong = Vec::new();
    for (locale, source, expected) in [
        ("th", "{$d :date}", "2 ธ.ค. 2569"),
        ("th", "{$d :date length=short}", "2/12/69"),
        ("th", "{$d :date calendar=gregory}", "2 ธ.ค. 2026"),
        ("th-u-nu-thai", "{$d :date}", "๒ ธ.ค. ๒๕๖๙"),
        ("en-TH", "{$d :date length=long}", "December 2, 2569 BE"),
        ("fa", "{$d :date length=long}", "۱۱ آذر ۱۴۰۵"),
        ("fa", "{$d :datetime dateLength=short}", "۱۴۰۵/۹/۱۱, ۰:۰۰"),
        ("fa-u-nu-latn", "{$d :date length=short}", "1405/9/11"),
        ("fa", "{$d :date length=long fields=year-month-day-weekday}", "۱۴۰۵ آذر ۱۱, چهارشنبه"),
        ("en-u-ca-persian", "{$d :date length=long}", "Azar 11, 1405 AP"),
        ("en", "{$d :date length=long calendar=hebrew}", "22 Kislev 5787"),
        ("he-u-ca-hebrew", "{$d :date length=long}", "כ״ב בכסלו תשפ״ז"),
        ("ja-u-ca-japanese", "{$d :date length=long}", "令和8年12月2日"),
        ("zh-TW-u-ca-roc", "{$d :date length=long}", "民國115年12月2日"),
        ("ar-SA", "{$d :date length=long calendar=islamic-umalqura}", "٢٢ جمادى الآخرة ١٤٤٨ هـ"),
        ("am", "{$d :date length=long calendar=ethiopic}", "23 ኅዳር 2019 AM"),
        ("hi", "{$d :date length=long calendar=indian}", "11 अग्रहायण 1948 शक"),
        ("en", "{$d :date length=long calendar=coptic}", "Hator 23, 1743 AM"),
        ("haw", "{$d :date length=short}", "2/xii/26"),
        // Two calendars at once, and another locale's.
        ("fa", "{$d :date length=short} ({$d :date length=short calendar=gregory})", "۱۴۰۵/۹/۱۱ (۲۰۲۶/۱۲/۲)"),
        ("en", "{$d :date length=short u:locale=fa}, {$d :date length=short}", "۱۴۰۵/۹/۱۱, 12/2/26"),
        ("fa", ".local $x = {$d :date calendar=gregory length=long} {{{$x :crow:date fields=year}}}", "۲۰۲۶"),
        // Larger parts of a date.
        ("en", "{$d :crow:date fields=year-month length=long}", "December 2026"),
        ("en", "{$d :crow:date fields=year-month length=short}", "12/2026"),
        ("en", "{$d :crow:date fields=year}", "2026"),
        ("en", "{$d :crow:date fields=month length=long}", "December"),
        ("en", "{$d :crow:date fields=quarter length=long}", "4th quarter"),
        ("en", "{$d :crow:date fields=year-quarter}", "Q4 2026"),
        ("en", "{$d :crow:date fields=weekday length=long}", "Wednesday"),
        ("pl", "{$d :crow:date fields=month length=long}", "grudzień"),
        ("pl", "{$d :crow:date fields=year-month length=long}", "grudzień 2026"),
        ("fa", "{$d :crow:date fields=year-month length=long}", "۱۴۰۵ آذر"),
        ("fa", "{$d :crow:date fields=year-quarter length=long}", "سه\u{200c}ماههٔ سوم ۱۴۰۵"),
        ("th", "{$d :crow:date fields=year}", "พ.ศ. 2569"),
        ("en", "{$d :crow:date fields=year-month length=long calendar=hebrew}", "Kislev 5787"),
        // From one date to another.
        (
            "fa",
            ".local $x = {$d :date length=long} {{{$x :crow:range to=|2027-01-05|}}}",
            "۱۱ آذر تا ۱۵ دی ۱۴۰۵",
        ),
        ("th", ".local $x = {$d :date} {{{$x :crow:range to=|2026-12-05|}}}", "2–5 ธ.ค. 2569"),
        (
            "en",
            ".local $x = {$d :crow:date fields=year-month length=long} {{{$x :crow:range to=|2027-01-05|}}}",
            "December 2026\u{2009}–\u{2009}January 2027",
        ),
        (
            "en",
            ".local $x = {$d :crow:date fields=year-month} {{{$x :crow:range to=|2026-12-31|}}}",
            "Dec 2026",
        ),
        (
            "en",
            ".local $x = {$d :crow:date fields=month length=long} {{{$x :crow:range to=|2027-02-05|}}}",
            "December 2026\u{2009}–\u{2009}February 2027",
        ),
        (
            "en",
            ".local $x = {$d :crow:date fields=year-quarter} {{{$x :crow:range to=|2027-02-05|}}}",
            "Q4 2026\u{2009}–\u{2009}Q1 2027",
        ),
        (
            "en-u-ca-japanese",
            ".local $x = {|2019-04-29| :date length=long} {{{$x :crow:range to=|2019-05-02|}}}",
            "April 29, 31 Heisei\u{2009}–\u{2009}May 2, 1 Reiwa",
        ),
    ] {
        let (text, errors) = said(locale, source, "2026-12-02");
        if (text.as_str(), errors.len()) != (expected, 0) {
            wrong.push(format!("{locale} {source}: {text:?}, not {expected:?} {errors:?}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn a_date_that_is_not_in_its_calendar_says_so() {
    let mut wrong = Vec::new();
    for (locale, source, day, expected, error) in [
        (
            "fa",
            "{$d :date}",
            "1500-01-01",
            "۱ ژانویه ۱۵۰۰",
            "the date `{$d}` is not in its calendar: `persian` has only the days from 1799-03-21 to 2123-03-20, so the date is in `gregory`: write `calendar=gregory` where a text has such days",
        ),
        (
            "en",
            "{$d :date calendar=islamic-umalqura}",
            "2180-01-01",
            "Jan 1, 2180",
            "the date `{$d}` is not in its calendar: `islamic-umalqura` has only the days from 1882-11-12 to 2174-11-25, so the date is in `gregory`: write `calendar=gregory` where a text has such days",
        ),
        (
            "ja-u-ca-japanese",
            ".local $x = {$d :date} {{{$x :crow:range to=|1868-12-02|}}}",
            "1868-01-02",
            "1868/01/02～1868/12/02",
            "the date `{$d}` is not in its calendar: `japanese` has only the days from 1868-10-23 to 9999-12-31, so the date is in `gregory`: write `calendar=gregory` where a text has such days",
        ),
        (
            "zh-u-ca-chinese",
            "{$d :date}",
            "2026-12-02",
            "2026年12月2日",
            "the date `{$d}` is not in its calendar: there is no calendar `chinese` here, so the date is in `gregory`: take `-u-ca-chinese` out of the locale",
        ),
        (
            "fa",
            "{$d :date calendar=moon}",
            "2026-12-02",
            "۱۱ آذر ۱۴۰۵",
            "the option `calendar` of `:date` cannot be \"moon\"; it is `gregory`, `buddhist`, `persian`, `islamic-civil`, `islamic-tbla`, `islamic-umalqura`, `hebrew`, `japanese`, `roc`, `coptic`, `ethiopic` or `indian`; the date is in the calendar of its locale",
        ),
    ] {
        let (text, errors) = said(locale, source, day);
        if text != expected || errors != [error] {
            wrong.push(format!("{locale} {source}: {text:?} {errors:?}, not {expected:?}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    // A time has no date that could be outside, or in a calendar that is not there.
    assert_eq!(said("zh-u-ca-chinese", "{$d :time}", "2026-12-02T09:30").1, [""; 0]);
    assert_eq!(said("fa", "{$d :time}", "1500-01-01T09:30").1, [""; 0]);
}
