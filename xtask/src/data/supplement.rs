//! Small tables that belong to no locale's texts: digits of currencies, plural ranges, day periods, hour cycles, first days of weeks.

use anyhow::{Context, Result};
use crow_fly_cldr::keys::dates::DAYS;
use serde_json::Value;

use super::Table;
use super::emit::{Source, padded};
use super::packages::Packages;
use super::plurals::variant;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let mut source = Source::new(
        "supplement.rs",
        "currencyData.json, pluralRanges.json, dayPeriods.json, timeData.json, weekData.json, \
         calendarPreferenceData.json",
    );
    source.line("use crate::plurals::Category::*;\n");
    let read = |name: &str| packages.json(&format!("cldr-core/supplemental/{name}.json"));

    let json = read("currencyData")?;
    let rows = object(&json["supplemental"]["currencyData"]["fractions"])?
        .filter(|(code, _)| *code != "DEFAULT")
        .map(|(code, facts)| Ok(format!("({}, {})", padded(code, 3), text(&facts["_digits"])?)));
    source.line("/// Digits behind the decimal sign, of currencies that have not two.");
    source.sorted_array("CURRENCY_DIGITS", "([u8; 3], u8)", rows.collect::<Result<_>>()?);

    let json = read("pluralRanges")?;
    let rows = object(&json["supplemental"]["plurals"])?.map(|(locale, ranges)| {
        let ranges = object(ranges)?.map(|(name, result)| {
            let (start, end) = name
                .strip_prefix("pluralRange-start-")
                .and_then(|name| name.split_once("-end-"))
                .context("a plural range without start and end")?;
            Ok(format!("({}, {}, {})", variant(start), variant(end), variant(text(result)?)))
        });
        Ok(format!("(\"{locale}\", &[{}])", ranges.collect::<Result<Vec<_>>>()?.join(", ")))
    });
    source.line("/// Start, end, and the category of the range.");
    source.sorted_array("PLURAL_RANGES", "(&str, &[super::RangeRow])", rows.collect::<Result<_>>()?);

    let json = read("dayPeriods")?;
    let rows = object(&json["supplemental"]["dayPeriodRuleSet"])?.map(|(locale, periods)| {
        let periods = object(periods)?.map(|(name, rule)| {
            let (from, before) = match rule["_at"].as_str() {
                Some(at) => (minutes(at)?, minutes(at)?),
                None => (minutes(text(&rule["_from"])?)?, minutes(text(&rule["_before"])?)?),
            };
            Ok(format!("(\"{name}\", {from}, {before})"))
        });
        Ok(format!("(\"{locale}\", &[{}])", periods.collect::<Result<Vec<_>>>()?.join(", ")))
    });
    source.line("/// Name, first minute of the day, and the minute it ends before; the same for a moment.");
    source.sorted_array("DAY_PERIODS", "(&str, &[super::PeriodRow])", rows.collect::<Result<_>>()?);

    let json = read("timeData")?;
    let rows = object(&json["supplemental"]["timeData"])?.map(|(place, facts)| {
        Ok(format!("(\"{}\", '{}')", place.replace('_', "-"), text(&facts["_preferred"])?))
    });
    source.line("/// The preferred hour letter of regions, and of locales that differ from theirs.");
    source.sorted_array("HOURS", "(&str, char)", rows.collect::<Result<_>>()?);

    let json = read("weekData")?;
    let rows = object(&json["supplemental"]["weekData"]["firstDay"])?
        // What CLDR has for comparison only is no region.
        .filter(|(region, _)| !region.contains("-alt-"))
        .map(|(region, day)| Ok(format!("(\"{region}\", {})", weekday(text(day)?)?)));
    source.line("/// The first day of the week in regions: 0 is Sunday.");
    source.sorted_array("FIRST_DAYS", "(&str, u8)", rows.collect::<Result<_>>()?);

    let json = read("calendarPreferenceData")?;
    let mut rows = Vec::new();
    for (region, calendars) in object(&json["supplemental"]["calendarPreferenceData"])? {
        let first = text(&calendars[0])?;
        if first != "gregorian" {
            rows.push(format!("(\"{region}\", \"{first}\")"));
        }
    }
    source.line("/// The calendars of regions that prefer another one to the Gregorian.");
    source.sorted_array("CALENDARS", "(&str, &str)", rows);
    Ok(source.finish())
}

fn object(value: &Value) -> Result<impl Iterator<Item = (&String, &Value)>> {
    Ok(value.as_object().context("not a table")?.iter())
}

fn text(value: &Value) -> Result<&str> {
    value.as_str().context("not a text")
}

/// A day of the week, from 0 for Sunday.
fn weekday(day: &str) -> Result<usize> {
    DAYS.iter().position(|known| *known == day).context("not a day of the week")
}

/// `18:30` as minutes of the day.
fn minutes(time: &str) -> Result<u32> {
    let (hours, minutes) = time.split_once(':').context("a time without a colon")?;
    Ok(hours.parse::<u32>()? * 60 + minutes.parse::<u32>()?)
}
