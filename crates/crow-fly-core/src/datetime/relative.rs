//! Relative times: `3 days ago`, `tomorrow` (UTS #35 part 4, "Calendar Fields").

use alloc::string::String;

use crow_fly_cldr::keys::{OTHER, dates as keys, key};

use super::DatePatterns;
use crate::number::{Decimal, NumberFormat, NumberLocale, PluralRules, Width};
use crate::parse_error::parse_by_read;

/// What is counted from now.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs, reason = "each is its name")]
pub enum RelativeUnit {
    Second,
    Minute,
    Hour,
    Day,
    Week,
    Month,
    Quarter,
    Year,
}

parse_by_read!(
    RelativeUnit,
    "a unit of time",
    "write `second`, `minute`, `hour`, `day`, `week`, `month`, `quarter` or `year`",
    "Reads a unit: `day`, or `days`."
);

impl RelativeUnit {
    pub(crate) fn read(name: &str) -> Option<Self> {
        Some(match name.strip_suffix('s').unwrap_or(name) {
            "second" => Self::Second,
            "minute" => Self::Minute,
            "hour" => Self::Hour,
            "day" => Self::Day,
            "week" => Self::Week,
            "month" => Self::Month,
            "quarter" => Self::Quarter,
            "year" => Self::Year,
            _ => return None,
        })
    }

    const fn as_str(self) -> &'static str {
        match self {
            Self::Second => "second",
            Self::Minute => "minute",
            Self::Hour => "hour",
            Self::Day => "day",
            Self::Week => "week",
            Self::Month => "month",
            Self::Quarter => "quarter",
            Self::Year => "year",
        }
    }
}

/// A number of units from now.
#[derive(Clone, Copy, Debug)]
pub struct RelativeTime<'n> {
    /// How many: negative ones have passed.
    pub number: &'n Decimal,
    /// Of what.
    pub unit: RelativeUnit,
    /// How much room the text takes.
    pub width: Width,
    /// Whether `yesterday` and the like are used where the language has such.
    pub words: bool,
}

impl DatePatterns {
    /// The text of a relative time: `3 days ago`, `tomorrow`.
    pub fn relative(
        &self,
        time: RelativeTime<'_>,
        format: &NumberFormat,
        numbers: &NumberLocale,
        rules: &PluralRules,
    ) -> String {
        let field = match time.width {
            Width::Long => String::from(time.unit.as_str()),
            width => alloc::format!("{}-{}", time.unit.as_str(), width.as_str()),
        };
        let shown = format.rounded(time.number);
        // No language has words for more than three.
        if time.words && shown.is_integer() && shown.magnitude() < 1 {
            let offset = if shown.is_zero() { String::from("0") } else { alloc::format!("{shown}") };
            if let Some(word) = self.text(&key(&[keys::RELATIVE, &field, &offset])) {
                return word.into();
            }
        }
        let direction = if time.number.is_negative() { keys::PAST } else { keys::FUTURE };
        let shown = shown.unsigned();
        let category = rules.category(&shown);
        let of = |category: &str| self.text(&key(&[keys::RELATIVE, &field, direction, category]));
        let mut digits = String::new();
        // Writing to a `String` does not fail.
        let _ = format.write_rounded(&shown, numbers, &mut digits);
        of(category.as_str()).or_else(|| of(OTHER)).unwrap_or("{0}").replace("{0}", &digits)
    }
}
