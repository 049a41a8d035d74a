//! Names of time zones: `Central European Summer Time`, `EST` (UTS #35 part 4, "Time Zone Names").

use alloc::borrow::ToOwned;
use alloc::string::String;

use crow_fly_cldr::formats::ZONES;
use crow_fly_cldr::keys::{key, zones as keys};
use crow_fly_cldr::texts::LocaleTexts;
use crow_fly_cldr::zones;
use jiff::Timestamp;
use jiff::tz::{Dst, TimeZone};

use crate::locale_texts;
use crate::tag::LanguageTag;

/// What names a zone at a moment.
#[derive(Clone, Copy, Debug)]
pub(super) struct NamedZone {
    /// As CLDR has its texts.
    zone: &'static str,
    metazone: Option<&'static str>,
    is_daylight: bool,
}

/// The names of a locale.
#[derive(Clone, Copy, Debug)]
pub(super) struct ZoneNames(Option<LocaleTexts>);

impl NamedZone {
    /// The names of a zone at a moment; none of an offset, or of a zone that CLDR does not have.
    pub(super) fn of(zone: &TimeZone, moment: Timestamp) -> Option<Self> {
        let canonical = zones::canonical(zone.iana_name()?)?;
        let metazone = zones::metazone(canonical, moment.as_second());
        Some(Self { zone: canonical, metazone, is_daylight: is_daylight(zone, moment) })
    }
}

/// Whether a zone's clocks are ahead of their usual time. The database also has zones whose usual time is that of summer, and
/// winter the exception; they are ahead in summer all the same.
fn is_daylight(zone: &TimeZone, moment: Timestamp) -> bool {
    let now = zone.to_offset_info(moment);
    let next = zone.following(moment).next();
    let Some(next) = next.filter(|next| next.dst() != now.dst()) else { return now.dst() == Dst::Yes };
    let (usual, exception) = match now.dst() {
        Dst::Yes => (next.offset(), now.offset()),
        Dst::No => (now.offset(), next.offset()),
    };
    if exception < usual { now.dst() == Dst::No } else { now.dst() == Dst::Yes }
}

impl ZoneNames {
    /// The names of a tag.
    pub(super) fn of(tag: &LanguageTag) -> Self {
        Self(locale_texts::find(ZONES, tag))
    }

    fn text(self, parts: &[&str]) -> Option<&'static str> {
        self.0?.find(ZONES.key(&key(parts))?).filter(|text| !text.is_empty())
    }

    /// The name of a zone: its own, or its metazone's. In words it may be the place where it is; letters are only where the
    /// locale uses them.
    pub(super) fn name(self, zone: NamedZone, is_long: bool) -> Option<String> {
        let NamedZone { zone, metazone, is_daylight } = zone;
        let kind = if is_daylight { keys::DAYLIGHT } else { keys::STANDARD };
        let width = if is_long { keys::LONG } else { keys::SHORT };
        let named = self.text(&[zone, width, kind]).or_else(|| self.text(&[metazone?, width, kind]));
        if let Some(name) = named {
            return Some(name.to_owned());
        }
        if !is_long || zone.starts_with("Etc/") {
            return None;
        }
        let daylight = if is_daylight { self.text(&[keys::REGION, keys::DAYLIGHT]) } else { None };
        let pattern = daylight.or_else(|| self.text(&[keys::REGION]))?;
        let city = || zone.rsplit('/').next().unwrap_or(zone).replace('_', " ");
        let place = self.text(&[keys::LOCATION, zone]).map_or_else(city, ToOwned::to_owned);
        Some(pattern.replace("{0}", &place))
    }
}
