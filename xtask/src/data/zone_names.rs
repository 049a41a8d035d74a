//! Names of time zones: `timeZoneNames.json` of each locale, and `metaZones.json`: which metazone each zone is of, and when.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result};
use crow_fly_cldr::keys::{key, zones as keys};
use jiff::Timestamp;
use serde_json::Value;

use super::Table;
use super::emit::Source;
use super::packages::Packages;
use super::texts::{File, Texts, parent};
use super::zones::{canonical_names, names};

/// The last period of a zone in a metazone, and those before: seconds since 1970 at which each ends, and the metazone.
type Periods = Vec<(i64, Option<String>)>;

/// Which metazone each zone is of, and the zone that each name stands for.
pub(super) fn table(packages: &Packages) -> Result<Table> {
    let periods = periods(packages)?;
    let metazones: BTreeSet<&str> =
        periods.values().flatten().filter_map(|(_, metazone)| metazone.as_deref()).collect();
    let metazones: Vec<&str> = metazones.into_iter().collect();
    let mut source = Source::new("metazones.rs", "metaZones.json, bcp47/timezone.json");
    source.line("/// The metazones.");
    source.array("METAZONES", "&str", metazones.iter().map(|name| format!("{name:?}")));
    source.line("/// Zones, each with its metazones: until when in seconds since 1970, and which; the last place is none.");
    let rows = periods.iter().map(|(zone, periods)| {
        let periods = periods.iter().map(|(end, metazone)| {
            let at = metazones.iter().position(|known| Some(*known) == metazone.as_deref());
            let end = if *end == i64::MAX { "i64::MAX".to_owned() } else { end.to_string() };
            format!("({end}, {})", at.unwrap_or(metazones.len()))
        });
        format!("({zone:?}, &[{}])", periods.collect::<Vec<_>>().join(", "))
    });
    source.sorted_array("PERIODS", "(&str, &[(i64, u8)])", rows.collect());
    let zones = packages.json("cldr-bcp47/bcp47/timezone.json")?;
    let zones = zones["keyword"]["u"]["tz"].as_object().context("no time zones")?;
    let names = names(zones);
    let canonical = canonical_names(zones);
    source.line(
        "/// Names that CLDR has another one for, by their places in `zones::NAMES`: the place of that one.",
    );
    let place = |name: &str| names.iter().position(|known| *known == name);
    let rows = names.iter().enumerate().filter_map(|(at, name)| {
        let of = canonical.get(name).filter(|of| of != &name)?;
        Some(format!("({at}, {})", place(of)?))
    });
    source.array("ALIASES", "(u16, u16)", rows);
    Ok(source.finish())
}

/// The metazones of every zone, in the order of time.
fn periods(packages: &Packages) -> Result<BTreeMap<String, Periods>> {
    let json = packages.json("cldr-core/supplemental/metaZones.json")?;
    let mut all = BTreeMap::new();
    walk(&json["supplemental"]["metaZones"]["metazoneInfo"]["timezone"], "", &mut |zone, rows| {
        let rows = rows.as_array().context("a zone without metazones")?;
        let mut periods = Periods::new();
        for row in rows {
            let row = &row["usesMetazone"];
            let moment = |name: &str| row[name].as_str().map(seconds).transpose();
            let (from, to) = (moment("_from")?, moment("_to")?.unwrap_or(i64::MAX));
            // Where one does not begin as the one before ends, there is none between them.
            if let Some(from) = from
                && periods.last().is_none_or(|(end, _)| *end < from)
            {
                periods.push((from, None));
            }
            periods.push((to, row["_mzone"].as_str().map(str::to_owned)));
        }
        all.insert(zone.to_owned(), periods);
        Ok(())
    })?;
    Ok(all)
}

/// `1996-05-13 22:00`, in UTC.
fn seconds(moment: &str) -> Result<i64> {
    let moment: Timestamp = format!("{}:00Z", moment.replace(' ', "T")).parse()?;
    Ok(moment.as_second())
}

/// Visits what stands at the end of each name: `Europe`, `Warsaw`.
fn walk(value: &Value, name: &str, visit: &mut dyn FnMut(&str, &Value) -> Result<()>) -> Result<()> {
    let is_zone = |of: &serde_json::Map<String, Value>| {
        ["exemplarCity", "long", "short"].into_iter().any(|part| of.contains_key(part))
    };
    match value {
        Value::Object(of) if !is_zone(of) => of.iter().try_for_each(|(part, value)| {
            walk(value, &if name.is_empty() { part.clone() } else { format!("{name}/{part}") }, visit)
        }),
        value => visit(name, value),
    }
}

/// The texts of each locale.
pub(super) fn file(packages: &Packages) -> Result<File> {
    let periods = periods(packages)?;
    let regions = Regions::of(packages)?;
    let explicit = packages.json("cldr-core/supplemental/parentLocales.json")?;
    let explicit = &explicit["supplemental"]["parentLocales"]["parentLocale"];
    let mut all: BTreeMap<String, Texts> = BTreeMap::new();
    for locale in packages.locales("cldr-dates-full")? {
        let texts = texts(packages, &locale, &periods, &regions)?;
        all.insert(locale, texts);
    }
    // What a locale does not have, it does not inherit either: short names are written where they are in use.
    let mut refused = Vec::new();
    for (locale, texts) in &all {
        let above = std::iter::successors(parent(explicit, locale), |locale| parent(explicit, locale));
        let keys: BTreeSet<&String> =
            above.filter_map(|locale| all.get(&locale)).flat_map(|texts| texts.keys()).collect();
        let lacking = keys.into_iter().filter(|key| !texts.contains_key(*key));
        refused.push((locale.clone(), lacking.cloned().collect::<Vec<_>>()));
    }
    for (locale, keys) in refused {
        all.entry(locale).or_default().extend(keys.into_iter().map(|key| (key, String::new())));
    }
    Ok(File { name: keys::FILE, keys: keys::FILE, texts: all })
}

/// The regions of zones.
struct Regions {
    of_zones: BTreeMap<String, String>,
    /// How many zones each has.
    counts: BTreeMap<String, usize>,
    /// The zone that stands for a region that has several.
    primary: Value,
}

impl Regions {
    fn of(packages: &Packages) -> Result<Self> {
        let json = packages.json("cldr-bcp47/bcp47/timezone.json")?;
        let mut of_zones = BTreeMap::new();
        let mut counts = BTreeMap::new();
        for (short, zone) in json["keyword"]["u"]["tz"].as_object().context("no time zones")? {
            let name = zone["_alias"].as_str().and_then(|names| names.split_whitespace().next());
            let is_none = ["utc", "unk"].iter().any(|start| short.starts_with(start));
            let (Some(name), false, true) = (name, is_none, zone["_deprecated"].is_null()) else { continue };
            let own = || short.get(..2).unwrap_or_default().to_uppercase();
            let region = zone["_region"].as_str().map_or_else(own, str::to_owned);
            *counts.entry(region.clone()).or_insert(0) += 1;
            of_zones.insert(name.to_owned(), region);
        }
        let mut json = packages.json("cldr-core/supplemental/primaryZones.json")?;
        Ok(Self { of_zones, counts, primary: json["supplemental"]["primaryZones"].take() })
    }

    /// The region that a zone is the only one of, or stands for.
    fn only(&self, zone: &str) -> Option<&str> {
        let region = self.of_zones.get(zone)?;
        (self.counts.get(region) == Some(&1) || self.primary[region] == zone).then_some(region)
    }
}

fn texts(
    packages: &Packages,
    locale: &str,
    periods: &BTreeMap<String, Periods>,
    regions: &Regions,
) -> Result<Texts> {
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/timeZoneNames.json"))?;
    let names = &json["main"][locale]["dates"]["timeZoneNames"];
    let mut texts = Texts::new();
    let mut put = |key: String, text: &Value| {
        if let Some(text) = text.as_str() {
            texts.insert(key, text.to_owned());
        }
    };
    put(keys::REGION.to_owned(), &names["regionFormat"]);
    put(key(&[keys::REGION, keys::DAYLIGHT]), &names["regionFormat-type-daylight"]);
    let mut cities = BTreeMap::new();
    let mut put_names = |name: &str, of: &Value| {
        for width in keys::WIDTHS {
            for kind in [keys::STANDARD, keys::DAYLIGHT] {
                put(key(&[name, width, kind]), &of[width][kind]);
            }
        }
    };
    walk(&names["zone"], "", &mut |zone, of| {
        put_names(zone, of);
        cities.insert(zone.to_owned(), of["exemplarCity"].as_str().map(str::to_owned));
        Ok(())
    })?;
    for (metazone, of) in names["metazone"].as_object().into_iter().flatten() {
        put_names(metazone, of);
    }
    let territories =
        packages.optional_json(&format!("cldr-localenames-full/main/{locale}/territories.json"))?;
    let territories = territories
        .map_or(Value::Null, |mut json| json["main"][locale]["localeDisplayNames"]["territories"].take());
    // Where zones without a name are.
    for (zone, periods) in periods {
        let metazone =
            periods.last().and_then(|(end, metazone)| metazone.as_ref().filter(|_| *end == i64::MAX));
        let is_named = metazone
            .is_some_and(|metazone| texts.contains_key(&key(&[metazone, keys::LONG, keys::STANDARD])));
        let last = zone.rsplit('/').next().unwrap_or_default().replace('_', " ");
        let region = || regions.only(zone).and_then(|region| territories[region].as_str());
        let city = || cities.get(zone).cloned().flatten();
        if let Some(place) = region().map(str::to_owned).or_else(city).filter(|_| !is_named)
            && place != last
        {
            texts.insert(key(&[keys::LOCATION, zone]), place);
        }
    }
    Ok(texts)
}
