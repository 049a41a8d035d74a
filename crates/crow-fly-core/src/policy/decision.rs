//! What was decided for a request.

use alloc::string::String;

use super::source::Sources;
use super::{LocaleSource, Policy, TimeZoneChoice, Trace};
use crate::locale_set::LocaleId;
use crate::tag::LanguageTag;

/// What was decided for a request.
#[derive(Clone, Debug)]
#[non_exhaustive]
pub struct Decision {
    /// The locale of the answer.
    pub locale: LocaleId,
    /// The source that decided it.
    pub source: LocaleSource,
    /// What happens with the request.
    pub outcome: Outcome,
    /// The visitor's time zone, where the policy decides one.
    pub time_zone: Option<TimeZoneChoice>,
    /// The answer of every source.
    pub trace: Trace,
    /// The tag that numbers and dates follow, where it is not the locale's.
    pub(super) visitor_formats: Option<LanguageTag>,
    /// Whether the page follows the visitor's time zone.
    pub(super) follows_zone: bool,
    /// The sources that answers under this address depend on.
    pub(super) depends_on: Sources,
}

/// What happens with a request.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Outcome {
    /// The application answers, under this path.
    Serve(String),
    /// The path is not one of the application's pages: the request goes on untouched.
    Skip,
    /// The visitor is sent elsewhere.
    Redirect {
        /// 302 where a preference asks for it, 308 to the one address a page has.
        status: u16,
        /// The address, with the query.
        location: String,
    },
}

impl Decision {
    /// The tag that numbers and dates follow.
    pub fn formats<'d>(&'d self, policy: &'d Policy) -> &'d LanguageTag {
        self.visitor_formats.as_ref().unwrap_or_else(|| policy.set.tag(self.locale))
    }

    /// The tag that numbers and dates follow where it is not the locale's own.
    pub const fn visitor_formats(&self) -> Option<&LanguageTag> {
        self.visitor_formats.as_ref()
    }

    /// Whether the page follows the visitor's own time zone, whatever that is.
    pub const fn follows_visitor_zone(&self) -> bool {
        self.follows_zone
    }

    /// The sources outside of the address that answers under it depend on: the same for every visitor, since a cache
    /// takes the names of headers, for `Vary` (RFC 9110 §12.5.5), from any one of the answers.
    pub const fn depends_on(&self) -> Sources {
        self.depends_on
    }
}
