//! The direction a language is written in.

use core::fmt;

use crow_fly_cldr::scripts;

use crate::tag::{LanguageTag, maximize};

/// The direction of a script, as the `dir` attribute of HTML names it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Serialize)]
pub enum Direction {
    /// From left to right.
    #[default]
    #[serde(rename = "ltr")]
    LeftToRight,
    /// From right to left.
    #[serde(rename = "rtl")]
    RightToLeft,
}

impl Direction {
    /// The direction of a tag, by its script or else its likely one.
    ///
    /// ```
    /// use crow_fly_core::{direction::Direction, tag::LanguageTag};
    ///
    /// let direction = |tag| Direction::of(&LanguageTag::parse(tag).unwrap());
    /// assert_eq!(direction("ar"), Direction::RightToLeft);
    /// assert_eq!(direction("uz-AF"), Direction::RightToLeft);
    /// assert_eq!(direction("ar-Latn"), Direction::LeftToRight);
    /// assert_eq!(direction("iw"), Direction::RightToLeft);
    /// ```
    pub fn of(tag: &LanguageTag) -> Self {
        if scripts::is_right_to_left(maximize(tag.as_canonical().codes()).1) {
            Self::RightToLeft
        } else {
            Self::LeftToRight
        }
    }

    /// `ltr` or `rtl`.
    pub const fn as_str(self) -> &'static str {
        match self {
            Self::LeftToRight => "ltr",
            Self::RightToLeft => "rtl",
        }
    }
}

impl fmt::Display for Direction {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}
