//! Which calendar a locale has, and why.

use core::fmt;

use crow_fly_cldr::supplement;
use smol_str::SmolStr;

use super::Calendar;
use crate::locale_texts::{candidates, locale_in};
use crate::tag::LanguageTag;

/// The calendar of a locale, and why (UTS #35 part 4, "Calendar Preference"; part 1, `-u-ca-` and `-u-rg-`).
///
/// ```
/// use crow_fly_core::calendar::{Calendar, CalendarChoice, CalendarReason};
///
/// let of = |tag: &str| CalendarChoice::of(&tag.parse().unwrap());
/// assert_eq!(of("fa").calendar(), Calendar::Persian);
/// assert_eq!(of("en-TH").calendar(), Calendar::Buddhist);
/// assert_eq!(of("fa-u-ca-gregory").reason(), CalendarReason::Keyword);
/// ```
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
pub struct CalendarChoice {
    #[serde(rename = "id")]
    calendar: Calendar,
    reason: CalendarReason,
    #[serde(skip_serializing_if = "Option::is_none")]
    lacking: Option<SmolStr>,
}

/// Why a locale has its calendar.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum CalendarReason {
    /// The tag names it, by `-u-ca-`.
    Keyword,
    /// The region that `-u-rg-` names prefers it.
    RegionOverride,
    /// Its region prefers it, or the one that is likely.
    Region,
}

impl CalendarChoice {
    /// The calendar of a locale. One that this program does not have is [lacking](Self::lacking); the locale then has what
    /// its region prefers, or the Gregorian one.
    pub fn of(tag: &LanguageTag) -> Self {
        let tag = &*tag.as_canonical();
        let is_there = |calendar: Calendar| {
            calendar
                .texts()
                .is_none_or(|texts| locale_in(texts, tag).is_some() || (is_unknown(tag) && texts.has("und")))
        };
        let named = tag.keyword("ca");
        if let Some(calendar) = named.and_then(Calendar::named).filter(|calendar| is_there(*calendar)) {
            return Self { calendar, reason: CalendarReason::Keyword, lacking: None };
        }
        let (region, reason) = match tag.region_override() {
            Some(region) => (Some(region), CalendarReason::RegionOverride),
            None => (tag.maximized().region().map(|region| region.as_str().into()), CalendarReason::Region),
        };
        let preferred = region.and_then(|region| supplement::calendar(&region)).and_then(Calendar::named);
        let there = preferred.filter(|calendar| is_there(*calendar));
        let absent = preferred.filter(|_| there.is_none()).map(Calendar::id);
        Self { calendar: there.unwrap_or_default(), reason, lacking: named.or(absent).map(SmolStr::new) }
    }

    /// The calendar.
    pub const fn calendar(&self) -> Calendar {
        self.calendar
    }

    /// Why the locale has it.
    pub const fn reason(&self) -> CalendarReason {
        self.reason
    }

    /// The identifier of the calendar that the locale asks for, and this program does not have.
    pub fn lacking(&self) -> Option<&str> {
        self.lacking.as_deref()
    }
}

/// Whether CLDR has nothing of a locale, so that the root speaks for it.
fn is_unknown(tag: &LanguageTag) -> bool {
    candidates(tag).iter().all(|locale| crow_fly_cldr::data::has(locale).is_none())
}

/// `persian, which its region prefers`
impl fmt::Display for CalendarChoice {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let why = match self.reason {
            CalendarReason::Keyword => "which `-u-ca-` names",
            CalendarReason::RegionOverride => "which the region of `-u-rg-` prefers",
            CalendarReason::Region => "which its region prefers",
        };
        write!(f, "{}, {why}", self.calendar)?;
        match self.lacking() {
            Some(lacking) => write!(f, "; there is no calendar `{lacking}` here"),
            None => Ok(()),
        }
    }
}
