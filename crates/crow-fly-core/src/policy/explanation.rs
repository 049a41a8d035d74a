//! A decision in words: for people, and for JSON.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use super::decision::{Decision, Outcome};
use super::trace::{Reason, Step, Verdict};
use super::zone::{self, TimeZoneRule};
use super::{Facts, LocaleSource, Policy, SessionValue, TimeZoneFacts};
use crate::accept::AcceptLanguage;
use crate::calendar::CalendarChoice;
use crate::locale_set::{LocaleId, Match, MatchKind};
use crate::route::PathMatch;
use crate::time_zone::TimeZoneName;

/// A decision in words, for people and for JSON.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
pub struct Explanation {
    /// The locale decided.
    pub locale: String,
    /// The source that decided.
    pub source: LocaleSource,
    /// What happens: `serve`, `skip` or `redirect`.
    pub outcome: &'static str,
    /// The path served, or the address redirected to.
    pub target: Option<String>,
    /// The status of a redirect.
    pub status: Option<u16>,
    /// The tag that numbers and dates follow.
    pub formats: String,
    /// The calendar of dates, and why.
    pub calendar: CalendarChoice,
    /// The sources outside of the address that answers under it depend on.
    pub depends_on: Vec<LocaleSource>,
    /// The answer of every source.
    pub trace: Vec<ExplainedStep>,
    /// The visitor's time zone, where the policy decides one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub time_zone: Option<String>,
    /// The answer of every source for the time zone.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub time_zone_trace: Vec<ExplainedStep>,
}

/// The answer of one source, in words.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
pub struct ExplainedStep {
    /// The source.
    pub source: LocaleSource,
    /// `absent`, `unusable`, `chosen` or `not-reached`.
    pub verdict: &'static str,
    /// The value it had.
    pub value: Option<String>,
    /// Why.
    pub why: String,
}

impl Policy {
    /// Puts a decision into words. Not for the hot path.
    pub fn explain(&self, facts: &Facts<'_>, decision: &Decision) -> Explanation {
        let (outcome, target, status) = match &decision.outcome {
            Outcome::Serve(path) => ("serve", Some(path.clone()), None),
            Outcome::Redirect { status, location } => ("redirect", Some(location.clone()), Some(*status)),
            Outcome::Skip => ("skip", None, None),
        };
        Explanation {
            locale: self.set.text(decision.locale).to_owned(),
            source: decision.source,
            outcome,
            target,
            status,
            formats: decision.formats(self).to_string(),
            calendar: CalendarChoice::of(decision.formats(self)),
            depends_on: decision.depends_on().iter().collect(),
            trace: decision.trace.iter().map(|step| self.explain_step(facts, *step)).collect(),
            time_zone: decision.time_zone.map(|choice| choice.name.to_string()),
            time_zone_trace: decision
                .time_zone
                .and(self.time_zone())
                .filter(|_| decision.follows_zone)
                .map_or_else(Vec::new, |rule| rule.explain(&facts.time_zone)),
        }
    }

    fn explain_step(&self, facts: &Facts<'_>, step: Step) -> ExplainedStep {
        let value = self.value_of(facts, step.source);
        let (verdict, why) = match step.verdict {
            Verdict::NotReached => ("not-reached", "not asked".to_owned()),
            Verdict::Absent => ("absent", absence(step.source, facts.session).to_owned()),
            Verdict::Unusable(reason) => ("unusable", reason.text().to_owned()),
            Verdict::Chosen(locale) => ("chosen", self.chosen(step.source, value.as_deref(), locale)),
            Verdict::Matched(found) => ("chosen", self.matched(facts, step.source, found)),
        };
        ExplainedStep { source: step.source, verdict, value, why }
    }

    fn value_of(&self, facts: &Facts<'_>, source: LocaleSource) -> Option<String> {
        match source {
            LocaleSource::Path => Some(shown(facts.path)),
            LocaleSource::Host => facts.host.map(shown),
            LocaleSource::Query => facts.query_value.map(shown),
            LocaleSource::Header => facts.header_value.map(shown),
            LocaleSource::Visitor => facts.visitor.map(shown),
            LocaleSource::Cookie => facts.cookie.map(shown),
            LocaleSource::Session => match facts.session {
                SessionValue::Text(text) => Some(shown(text)),
                _ => None,
            },
            LocaleSource::AcceptLanguage if facts.accept_lines.is_empty() => None,
            LocaleSource::AcceptLanguage => {
                let lines = facts.accept_lines.iter().map(|line| String::from_utf8_lossy(line));
                Some(shown(&lines.collect::<Vec<_>>().join(", ")))
            }
            LocaleSource::Default => Some(self.set.text(self.set.default_locale()).to_owned()),
        }
    }

    fn chosen(&self, source: LocaleSource, value: Option<&str>, locale: LocaleId) -> String {
        let text = self.set.text(locale);
        let is_path = source == LocaleSource::Path;
        if source == LocaleSource::Default {
            "no other source decided".to_owned()
        } else if is_path && !value.is_some_and(|path| self.names_locale(path)) {
            format!("an address without prefix is `{text}`")
        } else if is_path || value == Some(text) {
            format!("it names `{text}`")
        } else {
            format!("it stands for `{text}`")
        }
    }

    /// Whether a path has a locale's prefix.
    fn names_locale(&self, path: &str) -> bool {
        matches!(self.routes.read(path), PathMatch::Page { locale: Some(_), .. } | PathMatch::Moved { .. })
    }

    /// In the words of language matching: which range won, and at what distance.
    fn matched(&self, facts: &Facts<'_>, source: LocaleSource, found: Match) -> String {
        let text = self.set.text(found.locale);
        let header = AcceptLanguage::parse_lines(facts.accept_lines.iter().copied());
        let range = match source {
            LocaleSource::AcceptLanguage => {
                header.ranges().get(usize::from(found.range)).map_or("", |range| range.as_str())
            }
            LocaleSource::Query => facts.query_value.unwrap_or_default(),
            LocaleSource::Header => facts.header_value.unwrap_or_default(),
            LocaleSource::Visitor => facts.visitor.unwrap_or_default(),
            // These name a locale, or none.
            LocaleSource::Path
            | LocaleSource::Host
            | LocaleSource::Session
            | LocaleSource::Cookie
            | LocaleSource::Default => "",
        };
        match found.kind {
            MatchKind::Exact if range == text => format!("`{text}` is among the ranges"),
            MatchKind::Exact => format!("the range `{range}` is another form of `{text}`"),
            MatchKind::Any => format!("no named range is near, and `*` takes any: `{text}`"),
            MatchKind::Near => {
                format!("the range `{range}` is nearest to `{text}`, at distance {}", found.distance)
            }
        }
    }
}

impl TimeZoneRule {
    fn explain(&self, facts: &TimeZoneFacts<'_>) -> Vec<ExplainedStep> {
        let mut decided = false;
        let mut step = |source: LocaleSource| {
            let text = if source == LocaleSource::Default {
                Some(self.default.as_str())
            } else {
                zone::value(facts, source)
            };
            let (verdict, why) = match text.map(str::parse::<TimeZoneName>) {
                _ if decided => ("not-reached", "not asked".to_owned()),
                None if source == LocaleSource::Session && facts.session == SessionValue::OtherShape => {
                    ("unusable", Reason::OtherShape.text().to_owned())
                }
                None => ("absent", absence(source, facts.session).to_owned()),
                Some(Err(error)) => ("unusable", format!("{error}")),
                Some(Ok(_)) if source == LocaleSource::Default => {
                    ("chosen", "no other source decided".to_owned())
                }
                Some(Ok(name)) => ("chosen", format!("it names `{name}`")),
            };
            decided |= verdict == "chosen";
            ExplainedStep { source, verdict, value: text.map(shown), why }
        };
        self.sources().iter().copied().chain([LocaleSource::Default]).map(&mut step).collect()
    }
}

/// Values are shown and logged: of a hostile one only the beginning is kept.
fn shown(text: &str) -> String {
    text.chars().take(120).flat_map(char::escape_debug).collect()
}

/// Why a source has no value.
const fn absence(source: LocaleSource, session: SessionValue<'_>) -> &'static str {
    match source {
        LocaleSource::Session => match session {
            SessionValue::Empty => "the session remembers nothing",
            SessionValue::None | SessionValue::Text(_) | SessionValue::OtherShape => "there is no session",
        },
        LocaleSource::Path => "the address names no locale",
        LocaleSource::Host => "the host names no locale",
        LocaleSource::Query
        | LocaleSource::Header
        | LocaleSource::Visitor
        | LocaleSource::Cookie
        | LocaleSource::AcceptLanguage
        | LocaleSource::Default => "nothing was sent",
    }
}
