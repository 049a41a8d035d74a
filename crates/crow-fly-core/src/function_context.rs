//! The function context (UTS #35 part 9, "Function Context"): what functions and values know of the locale they are
//! formatted in, computed once.

use alloc::borrow::Cow;

use jiff::tz::TimeZone;

use crate::data;
use crate::datetime::DatePatterns;
use crate::direction::Direction;
use crate::list::ListPatterns;
use crate::number::{NumberLocale, NumberPatterns, PluralRules, PluralType};
use crate::tag::LanguageTag;
use crate::time_zone::TimeZoneName;

/// The plural rules and the direction of a locale, its patterns of numbers, dates and lists, and the reader's time zone.
#[derive(Clone, Debug)]
pub struct FunctionContext {
    pub(crate) tag: LanguageTag,
    pub(crate) direction: Direction,
    pub(crate) cardinal: PluralRules,
    pub(crate) ordinal: PluralRules,
    pub(crate) numbers: NumberLocale,
    pub(crate) number_patterns: NumberPatterns,
    pub(crate) dates: DatePatterns,
    pub(crate) lists: ListPatterns,
    pub(crate) zones: Zones,
}

/// The time zones of a caller.
#[derive(Clone, Debug, Default)]
pub(crate) struct Zones {
    /// The one it has named: moments are shown in it.
    pub(crate) named: Option<TimeZone>,
    /// The one that the locale names, by `-u-tz-`: of moments that have none of their own.
    pub(crate) locale: Option<TimeZone>,
    /// The one of moments that have none of their own, where the locale does not name one.
    pub(crate) default: Option<TimeZone>,
}

impl Zones {
    /// The one of moments that have none of their own.
    pub(crate) const fn usual(&self) -> Option<&TimeZone> {
        match &self.locale {
            Some(zone) => Some(zone),
            None => self.default.as_ref(),
        }
    }

    /// Takes the one that a locale names, where it does.
    fn set_locale(&mut self, tag: &LanguageTag) {
        if let Some(zone) = TimeZoneName::of_locale(tag).and_then(TimeZoneName::find) {
            self.locale = Some(zone);
        }
    }
}

impl FunctionContext {
    /// The context of a locale: words and formats alike, without a time zone.
    pub fn of(tag: &LanguageTag) -> Self {
        let words = &*tag.as_canonical();
        let tag = &*with_data(words);
        let cardinal = PluralRules::of(tag, PluralType::Cardinal);
        let mut zones = Zones::default();
        zones.set_locale(words);
        Self {
            tag: words.clone(),
            direction: Direction::of(words),
            cardinal,
            ordinal: PluralRules::of(tag, PluralType::Ordinal),
            numbers: NumberLocale::of(tag),
            number_patterns: NumberPatterns::of(tag, cardinal),
            dates: DatePatterns::of(tag),
            lists: ListPatterns::of(tag),
            zones,
        }
    }

    /// The context of another locale, with the same time zones.
    pub(crate) fn in_locale(&self, tag: &LanguageTag) -> Self {
        let mut zones = self.zones.clone();
        zones.set_locale(tag);
        Self { zones, ..Self::of(tag) }
    }

    /// Takes the formats of numbers and dates from another tag; plural categories stay those of the words.
    pub(crate) fn set_formats(&mut self, tag: &LanguageTag) {
        self.zones.set_locale(tag);
        let tag = &*with_data(tag);
        self.numbers = NumberLocale::of(tag);
        self.number_patterns = NumberPatterns::of(tag, self.cardinal);
        self.dates = DatePatterns::of(tag);
    }

    /// The locale of the words, canonical.
    pub const fn tag(&self) -> &LanguageTag {
        &self.tag
    }

    /// The direction of the words.
    pub const fn direction(&self) -> Direction {
        self.direction
    }

    /// The time zone moments are shown in, where the caller has named one.
    pub const fn time_zone(&self) -> Option<&TimeZone> {
        self.zones.named.as_ref()
    }

    /// How numbers are written: digits, signs and groups.
    pub const fn numbers(&self) -> &NumberLocale {
        &self.numbers
    }

    /// The patterns of percents, money, units and compact numbers.
    pub const fn number_patterns(&self) -> &NumberPatterns {
        &self.number_patterns
    }

    /// The patterns of dates and times.
    pub const fn dates(&self) -> &DatePatterns {
        &self.dates
    }

    /// The patterns of lists.
    pub const fn lists(&self) -> &ListPatterns {
        &self.lists
    }

    /// The plural rules of the words, for numbers of things or for places in an order.
    pub const fn plural_rules(&self, plural_type: PluralType) -> &PluralRules {
        match plural_type {
            PluralType::Cardinal => &self.cardinal,
            PluralType::Ordinal => &self.ordinal,
        }
    }
}

/// The tag, or, where the data of its locale is left out, one that CLDR has no data of either.
fn with_data(tag: &LanguageTag) -> Cow<'_, LanguageTag> {
    if data::is_left_out(tag) { Cow::Owned(tag.in_unknown_language()) } else { Cow::Borrowed(tag) }
}
