//! The policy: which sources decide a request's locale, in which order, and what follows from it.
//!
//! A [`Policy`] is made once; [`Policy::decide`] is a pure function from [`Facts`] to a [`Decision`].
//!
//! ```
//! use crow_fly_core::{locale_set::LocaleSet, policy::{Facts, Outcome, Policy, LocaleSource}};
//!
//! let policy = Policy::new(LocaleSet::parse(["en", "cy"])?);
//! let facts = Facts { path: "/cy/sailings", accept_lines: &[b"pl, en;q=0.5"], ..Facts::default() };
//! let decision = policy.decide(&facts);
//! assert_eq!(policy.set().text(decision.locale), "cy");
//! assert_eq!(decision.source, LocaleSource::Path);
//! assert_eq!(decision.outcome, Outcome::Serve("/sailings".into()));
//!
//! // A first visit to the root goes to the visitor's language.
//! let facts = Facts { accept_lines: &[b"cy, en;q=0.5"], ..Facts::default() };
//! assert!(matches!(policy.decide(&facts).outcome, Outcome::Redirect { status: 302, .. }));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use alloc::string::String;
use alloc::vec::Vec;

use crate::locale_set::{LocaleId, LocaleSet};
use crate::route::Routes;

mod decide;
mod decision;
mod explanation;
mod facts;
mod source;
mod trace;
mod zone;

pub use decide::{Asked, ReadPath, ToAsk};
pub use decision::{Decision, Outcome};
pub use explanation::{ExplainedStep, Explanation};
pub use facts::{Facts, SessionValue, TimeZoneFacts};
pub use source::{LocaleSource, Sources};
pub use trace::{Reason, Step, Trace, Verdict};
pub use zone::{TimeZoneChoice, TimeZoneRule};

/// The ordered sources and the rules around them.
#[derive(Clone, Debug)]
pub struct Policy {
    pub(crate) set: LocaleSet,
    pub(crate) routes: Routes,
    sources: Vec<LocaleSource>,
    /// Their answers before they are asked.
    unasked: Trace,
    redirect: RedirectRule,
    formats: FormatsRule,
    matching: Matching,
    hosts: Vec<(String, LocaleId)>,
    time_zone: Option<TimeZoneRule>,
}

/// When a preference sends a visitor to another address.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum RedirectRule {
    /// Never.
    Never,
    /// From the root only: a first visit.
    #[default]
    Root,
    /// From every page whose address names no locale.
    Everywhere,
}

/// What numbers and dates follow.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FormatsRule {
    /// The locale of the words.
    #[default]
    Words,
    /// The visitor's region and `-u-` keywords, where their language is that of the words.
    Visitor,
}

/// How the values of the sources `header` and `query` are matched.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Matching {
    /// They name one of the locales.
    #[default]
    Exact,
    /// They are language tags, and the closest locale is chosen (UTS #35 language matching).
    Closest,
}

impl Policy {
    /// The usual policy: path, session, cookie, Accept-Language, default; the default locale at the bare path;
    /// redirects from the root.
    pub fn new(set: LocaleSet) -> Self {
        Self {
            routes: Routes::new(&set),
            set,
            sources: LocaleSource::USUAL.to_vec(),
            unasked: Trace::unasked(LocaleSource::USUAL),
            redirect: RedirectRule::default(),
            formats: FormatsRule::default(),
            matching: Matching::default(),
            hosts: Vec::new(),
            time_zone: None,
        }
    }

    /// Sets the sources, first to last. The default need not be named; it always comes last. The path, where it is
    /// named, always comes first: one address has one language.
    #[must_use]
    pub fn with_sources(mut self, sources: impl IntoIterator<Item = LocaleSource>) -> Self {
        self.sources.clear();
        let sources: Vec<LocaleSource> = sources.into_iter().collect();
        let first = sources.contains(&LocaleSource::Path).then_some(LocaleSource::Path);
        for source in first.into_iter().chain(sources).filter(|source| *source != LocaleSource::Default) {
            if !self.sources.contains(&source) {
                self.sources.push(source);
            }
        }
        self.sources.push(LocaleSource::Default);
        self.unasked = Trace::unasked(&self.sources);
        self
    }

    /// Sets how paths and locales go together.
    #[must_use]
    pub fn with_routes(mut self, routes: Routes) -> Self {
        self.routes = routes;
        self
    }

    /// Sets when preferences redirect.
    #[must_use]
    pub const fn with_redirect(mut self, redirect: RedirectRule) -> Self {
        self.redirect = redirect;
        self
    }

    /// Sets what numbers and dates follow.
    #[must_use]
    pub const fn with_formats(mut self, formats: FormatsRule) -> Self {
        self.formats = formats;
        self
    }

    /// Sets how values of `header` and `query` are matched.
    #[must_use]
    pub const fn with_matching(mut self, matching: Matching) -> Self {
        self.matching = matching;
        self
    }

    /// Has the visitor's time zone decided as well.
    #[must_use]
    pub fn with_time_zone(mut self, rule: TimeZoneRule) -> Self {
        self.time_zone = Some(rule);
        self
    }

    /// Adds a host that stands for a locale: `cy.example.org`. Without any, the first label of a host is read as
    /// a locale.
    #[must_use]
    pub fn with_host(mut self, host: &str, locale: LocaleId) -> Self {
        self.hosts.push((host.to_ascii_lowercase(), locale));
        self
    }

    /// The locales.
    pub const fn set(&self) -> &LocaleSet {
        &self.set
    }

    /// How paths and locales go together.
    pub const fn routes(&self) -> &Routes {
        &self.routes
    }

    /// The sources, first to last, the default at the end.
    pub fn sources(&self) -> &[LocaleSource] {
        &self.sources
    }

    /// What numbers and dates follow.
    pub const fn formats(&self) -> FormatsRule {
        self.formats
    }

    /// How the time zone is decided, where it is.
    pub const fn time_zone(&self) -> Option<&TimeZoneRule> {
        self.time_zone.as_ref()
    }

    /// Whether the path is among the sources.
    pub fn uses_path(&self) -> bool {
        self.sources.contains(&LocaleSource::Path)
    }

    /// The address of a page in a locale: prefixed where the path is a source, and as it is otherwise. It is always
    /// [local](crate::route::local).
    pub fn path(&self, locale: LocaleId, path: &str) -> String {
        if self.uses_path() { self.routes.path(locale, path) } else { self.routes.unlocalized(path) }
    }
}
