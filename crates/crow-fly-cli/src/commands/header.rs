//! `crow-fly header`: the language ranges of an Accept-Language header, and how far each is from every locale.

use std::io::Write;

use anyhow::Result;
use crow_fly::LanguageTag;
use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::locale_set::{LocaleSet, MatchKind};
use serde::Serialize;

use super::Outcome;
use crate::arguments::HeaderArguments;
use crate::project::Project;
use crate::render;

#[derive(Serialize)]
struct Report {
    ranges: Vec<RangeRow>,
    excluded: Vec<String>,
    malformed: usize,
    truncated: bool,
    locales: Vec<String>,
    closest: Option<Closest>,
}

#[derive(Serialize)]
struct RangeRow {
    range: String,
    weight: f64,
    /// The distance to each locale, in the order of `locales`; none for `*`.
    distances: Option<Vec<u8>>,
}

#[derive(Serialize)]
struct Closest {
    locale: String,
    range: String,
    distance: u8,
    why: &'static str,
}

pub(crate) fn run(
    project: &Project,
    what: &HeaderArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let set = project.config.policy().set();
    let header = AcceptLanguage::parse(&what.header);
    let report = report(set, &header);
    if json {
        render::json(output, &report)?;
        return Ok(Outcome::Well);
    }
    let mut head = vec!["range", "weight"];
    head.extend(report.locales.iter().map(String::as_str));
    let rows = report.ranges.iter().map(|range| {
        let mut row = vec![range.range.clone(), range.weight.to_string()];
        match &range.distances {
            Some(distances) => row.extend(distances.iter().map(ToString::to_string)),
            None => row.extend(report.locales.iter().map(|_| "any".to_owned())),
        }
        row
    });
    render::table(output, &head, rows)?;
    writeln!(output)?;
    if !report.excluded.is_empty() {
        writeln!(output, "not acceptable: {}", report.excluded.join(", "))?;
    }
    if report.malformed > 0 {
        writeln!(output, "{} skipped: not well-formed", render::count(report.malformed, "member"))?;
    }
    if report.truncated {
        writeln!(output, "the header is longer than is read")?;
    }
    match &report.closest {
        Some(closest) => writeln!(
            output,
            "closest: {}, by the range {} at distance {}: {}",
            closest.locale, closest.range, closest.distance, closest.why
        )?,
        None => writeln!(output, "closest: none; the default, {}, serves", set.text(set.default_locale()))?,
    }
    Ok(Outcome::Well)
}

fn report(set: &LocaleSet, header: &AcceptLanguage<'_>) -> Report {
    let row = |range: &crow_fly_core::accept::WeightedRange<'_>| RangeRow {
        range: range.as_str().to_owned(),
        weight: f64::from(range.weight()) / 1000.0,
        distances: LanguageTag::parse(range.as_str())
            .ok()
            .map(|tag| set.iter().map(|(id, _)| set.distance_from(&tag, id)).collect()),
    };
    let closest = set.closest(header).map(|found| Closest {
        locale: set.text(found.locale).to_owned(),
        range: header.ranges().get(usize::from(found.range)).map_or("", |range| range.as_str()).to_owned(),
        distance: found.distance,
        why: match found.kind {
            MatchKind::Exact => "it is what was asked for",
            MatchKind::Any => "nothing named is near, and `*` takes any",
            _ => "the nearest; a range costs 5 for each place it comes after the first",
        },
    });
    Report {
        ranges: header.ranges().iter().map(row).collect(),
        excluded: header.excluded().iter().map(|range| range.as_str().to_owned()).collect(),
        malformed: header.malformed(),
        truncated: header.is_truncated(),
        locales: set.iter().map(|(id, _)| set.text(id).to_owned()).collect(),
        closest,
    }
}
