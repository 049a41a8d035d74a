//! What stands for names of time zones in a program without the feature `zone-names`: there are none.

use alloc::string::String;

use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::tag::LanguageTag;

/// What names a zone at a moment.
#[derive(Clone, Copy, Debug)]
pub(super) struct NamedZone;

/// The names of a locale.
#[derive(Clone, Copy, Debug)]
pub(super) struct ZoneNames;

impl NamedZone {
    #[inline]
    pub(super) const fn of(_zone: &TimeZone, _moment: Timestamp) -> Option<Self> {
        None
    }
}

impl ZoneNames {
    pub(super) const fn of(_tag: &LanguageTag) -> Self {
        Self
    }

    #[allow(clippy::unused_self, reason = "it stands for what has names")]
    pub(super) const fn name(self, _zone: NamedZone, _is_long: bool) -> Option<String> {
        None
    }
}
