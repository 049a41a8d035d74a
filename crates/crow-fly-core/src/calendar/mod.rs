//! Calendars: which one a locale has, and what a day is in it.
//!
//! ```
//! use crow_fly_core::calendar::{Calendar, CalendarDate};
//!
//! let date = CalendarDate::of(Calendar::Persian, "2026-12-02".parse()?).unwrap();
//! assert_eq!((date.year(), date.month(), date.day()), (1405, 9, 11));
//! assert_eq!(date.to_gregorian(), "2026-12-02".parse()?);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! Each calendar converts by a published rule, which stands at its name, over its [range](Calendar::range).

mod alexandrian;
mod choice;
mod days;
mod hebrew;
mod indian;
mod islamic;
mod persian;

pub use choice::{CalendarChoice, CalendarReason};

use core::fmt;

use crow_fly_cldr::formats;
use crow_fly_cldr::keys::calendars;
use crow_fly_cldr::texts::Texts;
use jiff::civil::Date;

use days::Ymd;
use islamic::Reckoning;

/// A calendar, as `-u-ca-` and the option `calendar` of messages name it (UTS #35 part 1, "Unicode Calendar Identifier").
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum Calendar {
    /// `gregory`, before 1582, too.
    #[default]
    Gregorian,
    /// `buddhist`, which Thailand prefers: the Gregorian calendar with 543 years more.
    Buddhist,
    /// `persian`, which Iran and Afghanistan prefer: eight leap years in 33, in the years 1178 to 1501, where that is the
    /// official calendar.
    Persian,
    /// `islamic-civil`: eleven leap years in 30, from Friday, 16 July 622 of the Julian calendar.
    IslamicCivil,
    /// `islamic-tbla`: the same from the Thursday before.
    IslamicTabular,
    /// `islamic-umalqura`, of Saudi Arabia: the table of the years 1300 to 1600 that browsers have.
    IslamicUmmAlQura,
    /// `hebrew`: by the molad and its four postponements.
    Hebrew,
    /// `japanese`: the Gregorian calendar with the eras from Meiji on.
    Japanese,
    /// `roc`, of Taiwan: the Gregorian calendar counted from 1912.
    Minguo,
    /// `coptic`: a leap year in four.
    Coptic,
    /// `ethiopic`: the same; years before 1 are those of Amete Alem.
    Ethiopic,
    /// `indian`: the national calendar, with the Saka era.
    Indian,
}

/// A date of a calendar: the year of an era, a month and a day.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct CalendarDate {
    calendar: Calendar,
    era: u8,
    year: i32,
    month: u8,
    day: u8,
}

/// The eras of the Japanese calendar by CLDR's numbers, with their first days.
static JAPANESE_ERAS: [(u8, Date); 5] = [
    (236, Date::constant(2019, 5, 1)),
    (235, Date::constant(1989, 1, 8)),
    (234, Date::constant(1926, 12, 25)),
    (233, Date::constant(1912, 7, 30)),
    (232, Date::constant(1868, 10, 23)),
];

/// How many years Buddhists count before the Gregorian year 1.
const BUDDHIST: i32 = 543;

/// How many Gregorian years there were before the first of Minguo.
const MINGUO: i32 = 1911;

/// How many years of Amete Alem there were before the year 1 of the era after it.
const AMETE_ALEM: i32 = 5500;

impl Calendar {
    /// Every calendar.
    pub const ALL: [Self; 12] = [
        Self::Gregorian,
        Self::Buddhist,
        Self::Persian,
        Self::IslamicCivil,
        Self::IslamicTabular,
        Self::IslamicUmmAlQura,
        Self::Hebrew,
        Self::Japanese,
        Self::Minguo,
        Self::Coptic,
        Self::Ethiopic,
        Self::Indian,
    ];

    /// The calendar of an identifier: `persian`.
    pub fn named(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|calendar| calendar.id() == id)
    }

    /// Its identifier: `gregory`.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Gregorian => "gregory",
            Self::Buddhist => "buddhist",
            Self::Persian => "persian",
            Self::IslamicCivil => "islamic-civil",
            Self::IslamicTabular => "islamic-tbla",
            Self::IslamicUmmAlQura => "islamic-umalqura",
            Self::Hebrew => "hebrew",
            Self::Japanese => "japanese",
            Self::Minguo => "roc",
            Self::Coptic => "coptic",
            Self::Ethiopic => "ethiopic",
            Self::Indian => "indian",
        }
    }

    /// The first and the last day that it has, as dates of the Gregorian calendar.
    pub fn range(self) -> (Date, Date) {
        let first = match self {
            Self::Gregorian | Self::Minguo => Date::MIN,
            Self::Buddhist => Date::constant(-542, 1, 1),
            Self::Persian => Date::constant(1799, 3, 21),
            Self::IslamicCivil => Date::constant(622, 7, 19),
            Self::IslamicTabular => Date::constant(622, 7, 18),
            Self::IslamicUmmAlQura => Date::constant(1882, 11, 12),
            Self::Hebrew => Date::constant(-3760, 9, 7),
            Self::Japanese => Date::constant(1868, 10, 23),
            Self::Coptic => Date::constant(284, 8, 29),
            Self::Ethiopic => Date::constant(-5492, 7, 17),
            Self::Indian => Date::constant(79, 3, 22),
        };
        let last = match self {
            Self::Persian => Date::constant(2123, 3, 20),
            Self::IslamicUmmAlQura => Date::constant(2174, 11, 25),
            _ => Date::MAX,
        };
        (first, last)
    }

    /// The texts it has of its own; none for the Gregorian calendar, which has all.
    pub(crate) fn texts(self) -> Option<Texts> {
        let name = match self {
            Self::Gregorian => return None,
            Self::IslamicCivil | Self::IslamicTabular | Self::IslamicUmmAlQura => "islamic",
            other => other.id(),
        };
        let place = calendars::FILES.iter().position(|file| *file == name)?;
        u8::try_from(place).ok().map(formats::calendar)
    }

    /// Whether its months and days are those of the Gregorian calendar.
    const fn is_gregorian_but_for_years(self) -> bool {
        matches!(self, Self::Gregorian | Self::Buddhist | Self::Japanese | Self::Minguo)
    }

    /// Whether this program has its names: those of the Gregorian, Buddhist and Persian calendars come with the feature
    /// `full-data`, the others with `calendars`; the data of some languages has what its build script was asked for.
    pub fn is_available(self) -> bool {
        self.texts().is_none_or(|texts| texts.has("und"))
    }
}

impl serde::Serialize for Calendar {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.id())
    }
}

impl fmt::Display for Calendar {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.id())
    }
}

impl CalendarDate {
    /// A day in a calendar; none where it is not in the calendar's [range](Calendar::range).
    #[inline]
    pub fn of(calendar: Calendar, date: Date) -> Option<Self> {
        if calendar == Calendar::Gregorian {
            Some(Self::gregorian(date))
        } else {
            Self::of_another(calendar, date)
        }
    }

    /// A day in the Gregorian calendar.
    #[inline]
    pub(crate) fn gregorian(date: Date) -> Self {
        let year = i32::from(date.year());
        // There is no year zero: the year before 1 is 1 before Christ.
        let (era, year) = if year > 0 { (1, year) } else { (0, 1 - year) };
        let (month, day) = (date.month().unsigned_abs(), date.day().unsigned_abs());
        Self { calendar: Calendar::Gregorian, era, year, month, day }
    }

    fn of_another(calendar: Calendar, date: Date) -> Option<Self> {
        let (first, last) = calendar.range();
        if date < first || date > last {
            return None;
        }
        let gregorian = i32::from(date.year());
        let of_gregorian = |era, year| Self { calendar, era, year, ..Self::gregorian(date) };
        let of_era = |era, Ymd { year, month, day }| Self { calendar, era, year, month, day };
        let day = || days::of(date);
        Some(match calendar {
            Calendar::Gregorian => Self::gregorian(date),
            Calendar::Buddhist => of_gregorian(0, gregorian + BUDDHIST),
            Calendar::Minguo if gregorian > MINGUO => of_gregorian(1, gregorian - MINGUO),
            Calendar::Minguo => of_gregorian(0, MINGUO + 1 - gregorian),
            Calendar::Japanese => {
                let (era, start) = JAPANESE_ERAS.iter().find(|(_, start)| *start <= date)?;
                of_gregorian(*era, gregorian - i32::from(start.year()) + 1)
            }
            Calendar::Persian => of_era(0, persian::of(day())?),
            Calendar::IslamicCivil => of_era(0, Reckoning::Civil.of(day())?),
            Calendar::IslamicTabular => of_era(0, Reckoning::Tabular.of(day())?),
            Calendar::IslamicUmmAlQura => of_era(0, Reckoning::UmmAlQura.of(day())?),
            Calendar::Hebrew => of_era(0, hebrew::of(day())?),
            Calendar::Coptic => of_era(1, alexandrian::of(alexandrian::COPTIC, day())),
            Calendar::Ethiopic => {
                let date = alexandrian::of(alexandrian::ETHIOPIC, day());
                if date.year > 0 {
                    of_era(1, date)
                } else {
                    of_era(0, Ymd { year: date.year + AMETE_ALEM, ..date })
                }
            }
            Calendar::Indian => of_era(0, indian::of(day(), gregorian)?),
        })
    }

    /// The date of a calendar by its parts: an [era](Self::era), the year of that era, and a [month](Self::month) and a day
    /// from 1; none where the calendar has no such date.
    ///
    /// ```
    /// use crow_fly_core::calendar::{Calendar, CalendarDate};
    ///
    /// let new_year = CalendarDate::new(Calendar::Persian, 0, 1404, 1, 1).unwrap();
    /// assert_eq!(new_year.to_gregorian(), jiff::civil::date(2025, 3, 21));
    /// // 1404 is no leap year.
    /// assert_eq!(CalendarDate::new(Calendar::Persian, 0, 1404, 12, 30), None);
    /// ```
    pub fn new(calendar: Calendar, era: u8, year: i32, month: u8, day: u8) -> Option<Self> {
        let wanted = Self { calendar, era, year, month, day };
        let date = wanted.find()?;
        // Another date for the same parts would be one that the calendar writes otherwise.
        (Self::of(calendar, date)? == wanted).then_some(wanted)
    }

    /// The same day in the Gregorian calendar.
    pub fn to_gregorian(self) -> Date {
        self.find().unwrap_or(Date::ZERO)
    }

    fn find(self) -> Option<Date> {
        let Self { calendar, era, year, month, day } = self;
        // No calendar has more years.
        if !(1..=16_000).contains(&year) {
            return None;
        }
        let parts = Ymd { year, month, day };
        if calendar.is_gregorian_but_for_years() {
            let year = match (calendar, era) {
                (Calendar::Gregorian, 0) => 1 - year,
                (Calendar::Buddhist, _) => year - BUDDHIST,
                (Calendar::Minguo, 0) => MINGUO + 1 - year,
                (Calendar::Minguo, _) => year + MINGUO,
                (Calendar::Japanese, _) => {
                    let (_, start) = JAPANESE_ERAS.iter().find(|(number, _)| *number == era)?;
                    i32::from(start.year()) + year - 1
                }
                _ => year,
            };
            let (month, day) = (i8::try_from(month).ok()?, i8::try_from(day).ok()?);
            return Date::new(i16::try_from(year).ok()?, month, day).ok();
        }
        days::date(match calendar {
            Calendar::Persian => persian::day(parts)?,
            Calendar::IslamicCivil => Reckoning::Civil.day(parts)?,
            Calendar::IslamicTabular => Reckoning::Tabular.day(parts)?,
            Calendar::IslamicUmmAlQura => Reckoning::UmmAlQura.day(parts)?,
            Calendar::Hebrew => hebrew::day(parts)?,
            Calendar::Coptic => alexandrian::day(alexandrian::COPTIC, parts)?,
            Calendar::Ethiopic => {
                let year = if era == 0 { year - AMETE_ALEM } else { year };
                alexandrian::day(alexandrian::ETHIOPIC, Ymd { year, ..parts })?
            }
            _ => indian::day(parts)?,
        })
    }

    /// The calendar.
    pub const fn calendar(self) -> Calendar {
        self.calendar
    }

    /// The era, by CLDR's number: of the Gregorian calendar 1, or 0 before Christ; of most others 0.
    pub const fn era(self) -> u8 {
        self.era
    }

    /// The year of the era, from 1.
    pub const fn year(self) -> i32 {
        self.year
    }

    /// The month, from 1 to 12 or 13, by CLDR's number: in the Hebrew calendar 1 is Tishri and 7 Adar, and only leap years have
    /// a sixth, Adar I.
    pub const fn month(self) -> u8 {
        self.month
    }

    /// Whether the month has a name of its own because the year has one more: Adar II.
    pub const fn is_leap_month(self) -> bool {
        matches!(self.calendar, Calendar::Hebrew) && self.month == 7 && hebrew::is_leap(self.year)
    }

    /// The number of the month that digits show: Hebrew years without Adar I have no sixth month.
    pub(crate) const fn month_in_digits(self) -> u8 {
        match self.calendar {
            Calendar::Hebrew if self.month > 6 && !hebrew::is_leap(self.year) => self.month - 1,
            _ => self.month,
        }
    }

    /// The quarter of the year, from 1 to 4; a thirteenth month counts to the last.
    pub(crate) const fn quarter(self) -> u8 {
        let quarter = (self.month_in_digits() - 1) / 3 + 1;
        if quarter > 4 { 4 } else { quarter }
    }

    /// How many months there were since some month of the calendar, eras aside: the difference of two dates is what lies
    /// between their months.
    pub(crate) fn months(self) -> i32 {
        let before = i32::from(self.month_in_digits()) - 1;
        match self.calendar {
            _ if self.calendar.is_gregorian_but_for_years() => {
                let date = self.to_gregorian();
                i32::from(date.year()) * 12 + i32::from(date.month()) - 1
            }
            Calendar::Hebrew => hebrew::months_before(self.year) + before,
            Calendar::Coptic | Calendar::Ethiopic => self.whole_year() * 13 + before,
            _ => self.year * 12 + before,
        }
    }

    /// The same for quarters.
    pub(crate) fn quarters(self) -> i32 {
        self.whole_year() * 4 + i32::from(self.quarter())
    }

    /// The year, without regard to eras: the difference of two dates is what lies between their years.
    pub(crate) fn whole_year(self) -> i32 {
        match (self.calendar, self.era) {
            (Calendar::Ethiopic, 0) => self.year - AMETE_ALEM,
            _ if self.calendar.is_gregorian_but_for_years() => i32::from(self.to_gregorian().year()),
            _ => self.year,
        }
    }

    /// The day of the month, from 1.
    pub const fn day(self) -> u8 {
        self.day
    }
}
