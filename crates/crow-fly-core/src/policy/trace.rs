//! The answer of each source: as small data on every request, as words for whoever asks.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;
use core::ops::Deref;

use super::{Decision, Facts, LocaleSource, Outcome, Policy, SessionValue};
use crate::accept::AcceptLanguage;
use crate::locale_set::{LocaleId, Match, MatchKind};
use crate::route::PathMatch;

/// The answer of every source, in the policy's order: reads as a slice of [`Step`]s. Allocates nothing.
#[derive(Clone)]
pub struct Trace {
    steps: [Step; LocaleSource::COUNT],
    length: u8,
}

impl Trace {
    /// That of sources which have not been asked; there is one of each at most. Each decision begins with a copy of it.
    pub(super) fn unasked(sources: &[LocaleSource]) -> Self {
        let none = Step { source: LocaleSource::Default, verdict: Verdict::NotReached };
        let mut trace = Self { steps: [none; LocaleSource::COUNT], length: 0 };
        for (step, source) in trace.steps.iter_mut().zip(sources) {
            step.source = *source;
            trace.length += 1;
        }
        trace
    }

    /// The steps, to be filled in as the sources are asked.
    pub(super) fn steps_mut(&mut self) -> &mut [Step] {
        self.steps.get_mut(..usize::from(self.length)).unwrap_or_default()
    }
}

impl Deref for Trace {
    type Target = [Step];

    fn deref(&self) -> &[Step] {
        self.steps.get(..usize::from(self.length)).unwrap_or_default()
    }
}

impl fmt::Debug for Trace {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_list().entries(self.iter()).finish()
    }
}

/// The answer of one source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Step {
    /// The source.
    pub source: LocaleSource,
    /// Its answer.
    pub verdict: Verdict,
}

/// The answer of a source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Verdict {
    /// It has no value.
    Absent,
    /// It has a value that cannot be used.
    Unusable(Reason),
    /// It names this locale, which was chosen.
    Chosen(LocaleId),
    /// It matched this locale by closeness, which was chosen.
    Matched(Match),
    /// An earlier source had decided.
    NotReached,
}

impl Verdict {
    /// The locale, where the source decided.
    pub const fn locale(&self) -> Option<LocaleId> {
        match self {
            Self::Chosen(locale) => Some(*locale),
            Self::Matched(found) => Some(found.locale),
            Self::Absent | Self::Unusable(_) | Self::NotReached => None,
        }
    }
}

/// Why a value cannot be used.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum Reason {
    /// It is no language tag.
    NotATag,
    /// It is a language the application does not have.
    NotSupported,
    /// The session's value has another shape.
    OtherShape,
    /// No range of the header is near any locale.
    NothingNear,
    /// The header has no well-formed member.
    Malformed,
    /// The header is longer than is read, and nothing in what was read is near any locale.
    TooLong,
}

impl Reason {
    /// The reason in words.
    pub const fn text(self) -> &'static str {
        match self {
            Self::NotATag => "no language tag",
            Self::NotSupported => "not one of the application's locales",
            Self::OtherShape => "not of the shape a session value has",
            Self::NothingNear => "nothing the application has is near",
            Self::Malformed => "nothing in it is well-formed",
            Self::TooLong => "longer than is read, and nothing near in what was read",
        }
    }
}

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
    /// The request headers that answers under this address depend on. The one that a `header` source reads is called
    /// `header` here: its name is the application's.
    pub vary: Vec<String>,
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
            vary: decision.vary().map(ToOwned::to_owned).collect(),
            trace: decision.trace.iter().map(|step| self.explain_step(facts, *step)).collect(),
            time_zone: decision.time_zone.map(|choice| choice.name.to_string()),
            time_zone_trace: decision
                .time_zone
                .and(self.time_zone())
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
        match source {
            LocaleSource::Default => "no other source decided".to_owned(),
            LocaleSource::Path if !value.is_some_and(|path| self.names_locale(path)) => {
                format!("an address without prefix is `{text}`")
            }
            _ if value == Some(text) || source == LocaleSource::Path => format!("it names `{text}`"),
            _ => format!("it stands for `{text}`"),
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
            _ => facts.visitor.unwrap_or_default(),
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

/// Values are shown and logged: of a hostile one only the beginning is kept.
pub(super) fn shown(text: &str) -> String {
    text.chars().take(120).flat_map(char::escape_debug).collect()
}

/// Why a source has no value.
pub(super) const fn absence(source: LocaleSource, session: SessionValue<'_>) -> &'static str {
    match (source, session) {
        (LocaleSource::Session, SessionValue::Empty) => "the session remembers nothing",
        (LocaleSource::Session, _) => "there is no session",
        (LocaleSource::Path, _) => "the address names no locale",
        (LocaleSource::Host, _) => "the host names no locale",
        _ => "nothing was sent",
    }
}
