//! Names of time zones: checked against the IANA database's, as CLDR lists them.
//!
//! ```
//! use crow_fly_core::time_zone::TimeZoneName;
//!
//! let warsaw: TimeZoneName = "europe/warsaw".parse()?;
//! assert_eq!(warsaw.as_str(), "Europe/Warsaw");
//! assert!("Atlantis/Quay".parse::<TimeZoneName>().is_err());
//! # Ok::<(), crow_fly_core::ParseValueError>(())
//! ```

use core::fmt;
use core::str::FromStr;

use jiff::tz::TimeZone;

use crate::parse_error::ParseValueError;
use crate::tag::LanguageTag;

/// The name of a time zone that exists: `Europe/London`. Free to copy.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct TimeZoneName(&'static str);

impl TimeZoneName {
    /// Coordinated universal time.
    pub const UTC: Self = Self("UTC");

    /// The zone that a locale names by `-u-tz-`, if it does and CLDR has it (UTS #35 part 1, "Key Type Definitions").
    ///
    /// ```
    /// # use crow_fly_core::{tag::LanguageTag, time_zone::TimeZoneName};
    /// let zone = TimeZoneName::of_locale(&LanguageTag::parse("pl-u-tz-plwaw")?);
    /// assert_eq!(zone.map(TimeZoneName::as_str), Some("Europe/Warsaw"));
    /// # Ok::<(), crow_fly_core::tag::TagError>(())
    /// ```
    pub fn of_locale(tag: &LanguageTag) -> Option<Self> {
        crow_fly_cldr::zones::of_short(tag.keyword("tz")?).map(Self)
    }

    /// The zone itself; none where the zone database of this program does not have it.
    pub(crate) fn find(self) -> Option<TimeZone> {
        TimeZone::get(self.0).ok()
    }

    /// The name, as the database writes it.
    pub const fn as_str(self) -> &'static str {
        self.0
    }
}

impl fmt::Display for TimeZoneName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.0)
    }
}

impl FromStr for TimeZoneName {
    type Err = ParseValueError;

    fn from_str(name: &str) -> Result<Self, ParseValueError> {
        let error = || {
            ParseValueError::new(
                "a time zone of the IANA database",
                name,
                "write a name such as `Europe/London`",
            )
        };
        crow_fly_cldr::zones::find(name).map(Self).ok_or_else(error)
    }
}
