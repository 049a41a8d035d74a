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

use crate::parse_error::ParseValueError;

/// The name of a time zone that exists: `Europe/London`. Free to copy.
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
