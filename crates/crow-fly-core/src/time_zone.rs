//! Names of time zones: checked against the IANA database's, as CLDR lists them.
//!
//! ```
//! use crow_fly_core::time_zone::TimeZoneName;
//!
//! let warsaw: TimeZoneName = "europe/warsaw".parse()?;
//! assert_eq!(warsaw.as_str(), "Europe/Warsaw");
//! assert!("Atlantis/Quay".parse::<TimeZoneName>().is_err());
//! # Ok::<(), crow_fly_core::time_zone::UnknownTimeZone>(())
//! ```

use core::fmt;
use core::str::FromStr;

/// The name of a time zone that exists: `Europe/London`. A pointer's size, and free to copy.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct TimeZoneName(&'static str);

impl TimeZoneName {
    /// Coordinated universal time.
    pub const UTC: Self = Self("UTC");

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

/// A text is no time zone's name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct UnknownTimeZone;

impl fmt::Display for UnknownTimeZone {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("not a time zone of the IANA database; names look like `Europe/London`")
    }
}

impl core::error::Error for UnknownTimeZone {}

impl FromStr for TimeZoneName {
    type Err = UnknownTimeZone;

    fn from_str(name: &str) -> Result<Self, UnknownTimeZone> {
        crow_fly_cldr::zones::find(name).map(Self).ok_or(UnknownTimeZone)
    }
}
