//! Why a date is not shown in the calendar that a message or a locale asks for.

use core::fmt;

use smol_str::SmolStr;

use crate::calendar::Calendar;

/// Why a date is shown in another calendar, and in which.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum CalendarProblem {
    /// This program does not have what was asked for.
    Absent { asked: SmolStr, used: Calendar },
    /// The calendar does not have the day, which is shown in the Gregorian calendar.
    OutOfRange(Calendar),
}

impl fmt::Display for CalendarProblem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Absent { asked, used } => {
                write!(f, "there is no calendar `{asked}` here, so the date is in `{used}`")?;
                match Calendar::named(asked) {
                    Some(_) => write!(
                        f,
                        ": switch on the feature `calendars`, or make the data of locales with a tag such as `en-u-ca-{asked}`"
                    ),
                    None => write!(f, ": take `-u-ca-{asked}` out of the locale"),
                }
            }
            Self::OutOfRange(calendar) => {
                let (first, last) = calendar.range();
                let used = Calendar::Gregorian;
                write!(
                    f,
                    "`{calendar}` has only the days from {first} to {last}, so the date is in `{used}`: \
                     write `calendar={used}` where a text has such days"
                )
            }
        }
    }
}
