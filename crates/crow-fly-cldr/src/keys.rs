//! The keys of the files of texts: what the generator writes and what readers ask for, in one place.
//!
//! A key is made of parts, joined by `/`: `month/wide/1`, `percent/latn`. [`key`] joins them at run time, and
//! [`Texts::constant`](crate::texts::Texts::constant) finds one while code is compiled.

use alloc::string::String;

/// Joins the parts of a key.
pub fn key(parts: &[&str]) -> String {
    parts.join("/")
}

/// The plural categories that forms are kept by.
pub const CATEGORIES: [&str; 6] = ["zero", "one", "two", "few", "many", OTHER];

/// The counts that forms are kept for beside categories: of exactly this number (UTS #35 part 3, "Explicit 0 and 1 rules").
pub const EXPLICIT: [&str; 2] = ["0", "1"];

/// The category that every text with forms has.
pub const OTHER: &str = "other";

/// `numbers.bin`: those of [`BY_SYSTEM`](numbers::BY_SYSTEM) with a numbering system behind them, the others with a plural
/// category.
pub mod numbers {
    /// The numbering system of the digits 0 to 9.
    pub const LATIN: &str = "latn";
    /// The sign of a percentage.
    pub const PERCENT_SIGN: &str = "percent-sign";
    /// The text of what is not a number.
    pub const NAN: &str = "nan";
    /// The text of an infinite number.
    pub const INFINITY: &str = "infinity";
    /// The group sign of amounts of money, where it is another than that of numbers.
    pub const MONEY_GROUP: &str = "money-group";
    /// The decimal sign of amounts of money, where it is another than that of numbers.
    pub const MONEY_DECIMAL: &str = "money-decimal";
    /// The pattern of percentages.
    pub const PERCENT: &str = "percent";
    /// The pattern of ranges.
    pub const RANGE: &str = "range";
    /// The sign before what is about a number.
    pub const ABOUT: &str = "about";
    /// The pattern of money.
    pub const MONEY: &str = "money";
    /// The pattern of money in accounts.
    pub const ACCOUNTING: &str = "accounting";
    /// The pattern of money where a letter stands next to the number.
    pub const MONEY_ALPHA: &str = "money-alpha";
    /// The pattern of money in accounts where a letter stands next to the number.
    pub const ACCOUNTING_ALPHA: &str = "accounting-alpha";
    /// What joins an amount and the name of its currency; by category.
    pub const MONEY_UNIT: &str = "money-unit";
    /// Compact numbers, short; by zeros of the magnitude, then by category.
    pub const COMPACT_SHORT: &str = "compact-short";
    /// Compact numbers, long; by zeros of the magnitude, then by category.
    pub const COMPACT_LONG: &str = "compact-long";
    /// Compact amounts of money; by zeros of the magnitude, then by category.
    pub const COMPACT_MONEY: &str = "compact-money";

    /// The keys that have a numbering system behind them.
    pub const BY_SYSTEM: [&str; 12] = [
        PERCENT_SIGN,
        NAN,
        INFINITY,
        MONEY_GROUP,
        MONEY_DECIMAL,
        PERCENT,
        RANGE,
        ABOUT,
        MONEY,
        ACCOUNTING,
        MONEY_ALPHA,
        ACCOUNTING_ALPHA,
    ];
    /// The zeros of the magnitudes of compact numbers.
    pub const MAGNITUDES: core::ops::Range<u32> = 3..15;
}

/// `currencies.bin`: a code is its symbol; with one of these, or a plural category, behind it.
pub mod currencies {
    /// The narrow symbol.
    pub const NARROW: &str = "narrow";
    /// The name.
    pub const NAME: &str = "name";
}

/// `units.bin`: a unit, a width, and a plural category or `per`; and `per` with a width.
pub mod units {
    /// The pattern of a unit that something is counted by.
    pub const PER: &str = "per";
    /// The widths.
    pub const WIDTHS: [&str; 3] = [LONG, "short", "narrow"];
    /// The width that every unit has.
    pub const LONG: &str = "long";
    /// Patterns of durations as a clock shows them, by their fields.
    pub const CLOCK: &str = "clock";
    /// The fields of those.
    pub const CLOCKS: [&str; 3] = ["hm", "hms", "ms"];
}

/// `lists.bin`: a kind with its width, and a part.
pub mod lists {
    /// The kinds.
    pub const KINDS: [&str; 3] = [AND, OR, UNIT];
    /// All of them.
    pub const AND: &str = "and";
    /// One of them.
    pub const OR: &str = "or";
    /// Parts of one amount.
    pub const UNIT: &str = "unit";
    /// What widths add to a kind.
    pub const WIDTHS: [&str; 3] = [LONG, SHORT, NARROW];
    /// Nothing: the long width.
    pub const LONG: &str = "";
    /// The short width.
    pub const SHORT: &str = "-short";
    /// The narrow width.
    pub const NARROW: &str = "-narrow";
    /// The parts.
    pub const PARTS: [&str; 4] = [PAIR, START, MIDDLE, END];
    /// A list of two.
    pub const PAIR: &str = "2";
    /// The first item of more, and the rest.
    pub const START: &str = "start";
    /// An item in the middle, and the rest.
    pub const MIDDLE: &str = "middle";
    /// The last two of more.
    pub const END: &str = "end";
}

/// The calendars beside the Gregorian one: each has a file with the keys of [`dates`].
pub mod calendars {
    /// What all of them share.
    pub const GENERIC: &str = "generic";
    /// The files, as CLDR names the calendars: first those that the region of some locale prefers.
    pub const FILES: [&str; 9] =
        ["buddhist", "persian", "coptic", "ethiopic", "hebrew", "indian", "islamic", "japanese", "roc"];
    /// How many of them some region prefers; the others are there with the feature `calendars`.
    pub const PREFERRED: usize = 2;
    /// The end of the key of a month that has another name in leap years: `7-leap`.
    pub const LEAP: &str = "-leap";
}

/// `dates.bin`
pub mod dates {
    /// The name of the list of keys, which the files of all calendars share.
    pub const FILE: &str = "dates";
    /// What stands between a pattern and the numbering of its fields: `hebr`, or `y=jpanyear` of one field.
    pub const NUMBERS: char = '\u{1f}';
    /// Names of quarters; by width, then by number.
    pub const QUARTER: &str = "quarter";
    /// Names of quarters that stand alone.
    pub const QUARTER_ALONE: &str = "quarter-alone";
    /// Names of months; by width, then by number.
    pub const MONTH: &str = "month";
    /// Names of months that stand alone.
    pub const MONTH_ALONE: &str = "month-alone";
    /// Names of days of the week; by width, then by `sun` to `sat`.
    pub const DAY: &str = "day";
    /// Names of days that stand alone.
    pub const DAY_ALONE: &str = "day-alone";
    /// Names of periods of the day; by width, then by name.
    pub const PERIOD: &str = "period";
    /// Names of periods that stand alone.
    pub const PERIOD_ALONE: &str = "period-alone";
    /// Names of eras; by width, then `0` or `1`.
    pub const ERA: &str = "era";
    /// Whole words.
    pub const WIDE: &str = "wide";
    /// Abbreviations.
    pub const ABBREVIATED: &str = "abbreviated";
    /// Single letters.
    pub const NARROW: &str = "narrow";
    /// Two letters: of days.
    pub const SHORT_NAME: &str = "short";
    /// The months by number, and at last the name that the seventh has in a leap year.
    pub const MONTHS: [&str; 14] =
        ["1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12", "13", "7-leap"];
    /// The quarters by number.
    pub const QUARTERS: [&str; 4] = ["1", "2", "3", "4"];
    /// The days from Sunday.
    pub const DAYS: [&str; 7] = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"];
    /// Patterns of dates; by length.
    pub const DATE: &str = "date";
    /// Skeletons of the patterns of dates; by length.
    pub const DATE_SKELETON: &str = "date-skeleton";
    /// Patterns of times; by length.
    pub const TIME: &str = "time";
    /// Patterns that join a date and a time; by length.
    pub const JOIN: &str = "join";
    /// Patterns that join a date and a time at it; by length.
    pub const AT: &str = "at";
    /// The lengths of patterns.
    pub const LENGTHS: [&str; 4] = [FULL, LONG, MEDIUM, SHORT];
    /// With the day of the week.
    pub const FULL: &str = "full";
    /// With the name of the month.
    pub const LONG: &str = "long";
    /// With an abbreviated name.
    pub const MEDIUM: &str = "medium";
    /// In numbers.
    pub const SHORT: &str = "short";
    /// Patterns by skeleton.
    pub const SKELETON: &str = "skeleton";
    /// Patterns of intervals by skeleton and field; alone, the pattern that joins two dates.
    pub const INTERVAL: &str = "interval";
    /// The pattern that adds a time zone.
    pub const APPEND: &str = "append";
    /// The time zone of [`APPEND`].
    pub const ZONE: &str = "zone";
    /// The pattern of an offset.
    pub const GMT: &str = "gmt";
    /// The text of the offset zero.
    pub const GMT_ZERO: &str = "gmt-zero";
    /// The patterns of hours and minutes of an offset.
    pub const GMT_HOURS: &str = "gmt-hours";
    /// Relative times: by field, then by an offset, or by a direction and a category.
    pub const RELATIVE: &str = "relative";
    /// The direction of what has been.
    pub const PAST: &str = "past";
    /// The direction of what comes.
    pub const FUTURE: &str = "future";
    /// The directions.
    pub const DIRECTIONS: [&str; 2] = [PAST, FUTURE];
}

/// `zone_names.bin`: a metazone or a zone, a width, and whether it is standard or daylight time.
pub mod zones {
    /// The name of the file.
    pub const FILE: &str = "zone_names";
    /// The widths.
    pub const WIDTHS: [&str; 2] = [LONG, SHORT];
    /// Words.
    pub const LONG: &str = "long";
    /// Letters, where they are in use.
    pub const SHORT: &str = "short";
    /// The time of most of the year.
    pub const STANDARD: &str = "standard";
    /// The time of summer.
    pub const DAYLIGHT: &str = "daylight";
    /// Where a zone is that has no name, by zone: a region or a city.
    pub const LOCATION: &str = "location";
    /// The pattern of the time at a location; another one for [`DAYLIGHT`].
    pub const REGION: &str = "region";
}

/// `own_names.bin`, `names.bin`: beside these, codes, and variants behind a `+`.
pub mod names {
    /// The pattern of a name with details.
    pub const PATTERN: &str = "{pattern}";
    /// What stands between details.
    pub const SEPARATOR: &str = "{separator}";
    /// There where names are in title case in menus.
    pub const MENU: &str = "{menu}";
    /// The mark before a variant.
    pub const VARIANT: &str = "+";
}
