//! The language ranges of an Accept-Language header, and how far each is from every locale.

use std::io::Write;

use anyhow::Result;
use crow_fly::LanguageTag;
use crow_fly_core::accept::{AcceptLanguage, WeightedRange};
use crow_fly_core::locale_set::{LocaleSet, MatchKind};
use serde::Serialize;

use crate::output::Output;
use crate::project::Project;
use crate::render;

/// A header beside the locales of the application.
#[derive(Serialize)]
pub(super) struct Header {
    ranges: Vec<Asked>,
    excluded: Vec<String>,
    malformed: usize,
    truncated: bool,
    locales: Vec<String>,
    closest: Option<Closest>,
}

#[derive(Serialize)]
struct Asked {
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

impl Header {
    /// The lines of a header beside the locales of a project.
    pub(super) fn of(project: &Project, lines: &[String]) -> Self {
        let set = project.config.policy().set();
        Self::new(set, &AcceptLanguage::parse_lines(lines.iter().map(String::as_bytes)))
    }

    fn new(set: &LocaleSet, header: &AcceptLanguage<'_>) -> Self {
        let range = |range: &WeightedRange<'_>| Asked {
            range: range.as_str().to_owned(),
            weight: f64::from(range.weight()) / 1000.0,
            distances: LanguageTag::parse(range.as_str())
                .ok()
                .map(|tag| set.iter().map(|(id, _)| set.distance_from(&tag, id)).collect()),
        };
        let closest = set.closest(header).map(|found| Closest {
            locale: set.text(found.locale).to_owned(),
            range: header
                .ranges()
                .get(usize::from(found.range))
                .map_or("", |range| range.as_str())
                .to_owned(),
            distance: found.distance,
            why: match found.kind {
                MatchKind::Exact => "the header names it",
                MatchKind::Any => "no range is near, and `*` takes any locale",
                _ => "the smallest distance; each place after the first range adds 5",
            },
        });
        Self {
            ranges: header.ranges().iter().map(range).collect(),
            excluded: header.excluded().iter().map(|range| range.as_str().to_owned()).collect(),
            malformed: header.malformed(),
            truncated: header.is_truncated(),
            locales: set.iter().map(|(id, _)| set.text(id).to_owned()).collect(),
            closest,
        }
    }

    /// A row for each locale, and a column for each of the first ranges.
    pub(super) fn print(&self, output: &mut Output<'_>) -> Result<()> {
        let (shown, rest) = self.ranges.split_at(self.ranges.len().min(COLUMNS));
        writeln!(output, "\nThe Accept-Language header: the distance of each range to each locale\n")?;
        let head: Vec<String> = std::iter::once("locale".to_owned())
            .chain(shown.iter().map(|range| format!("{} ({})", range.range, range.weight)))
            .collect();
        let cell = |range: &Asked, at: usize| match &range.distances {
            Some(distances) => distances.get(at).map_or_else(String::new, ToString::to_string),
            None => "any".to_owned(),
        };
        let rows = self.locales.iter().enumerate().map(|(at, locale)| {
            std::iter::once(locale.clone()).chain(shown.iter().map(|range| cell(range, at))).collect()
        });
        render::table(output, &head.iter().map(String::as_str).collect::<Vec<_>>(), rows)?;
        writeln!(output)?;
        if !rest.is_empty() {
            let rest: Vec<&str> = rest.iter().map(|range| range.range.as_str()).collect();
            writeln!(output, "not shown; `--format json` has them: {}", rest.join(", "))?;
        }
        if !self.excluded.is_empty() {
            writeln!(output, "not acceptable: {}", self.excluded.join(", "))?;
        }
        if self.malformed > 0 {
            writeln!(output, "not well-formed and left out: {}", render::count(self.malformed, "range"))?;
        }
        if self.truncated {
            writeln!(output, "the header is longer than what is read of it")?;
        }
        match &self.closest {
            Some(Closest { locale, range, distance, why }) => {
                writeln!(output, "closest: {locale}, by the range {range} at distance {distance}: {why}")?;
            }
            None => writeln!(output, "closest: none")?,
        }
        Ok(())
    }
}

/// How many ranges have a column: more are wider than a terminal.
const COLUMNS: usize = 5;
