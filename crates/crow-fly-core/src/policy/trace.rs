//! The answer of each source: small data on every request.

use core::fmt;
use core::ops::Deref;

use super::LocaleSource;
use crate::locale_set::{LocaleId, Match};

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
