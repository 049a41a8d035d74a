//! From facts to a decision.

use alloc::borrow::{Cow, ToOwned};
use alloc::string::String;

use super::{
    Facts, FormatsRule, LocaleSource, Policy, Reason, RedirectRule, SessionValue, Step, TimeZoneChoice,
    Trace, Verdict,
};
use crate::accept::AcceptLanguage;
use crate::locale_set::LocaleId;
use crate::route::PathMatch;
use crate::tag::{LanguageTag, plain};
use crate::time_zone::TimeZoneName;

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
    /// What is to be remembered.
    pub remember: Remember,
    /// What every source said.
    pub trace: Trace,
    /// The tag that numbers and dates follow, where it is not the locale's.
    visitor_formats: Option<LanguageTag>,
    /// The sources that mattered, as bits.
    mattered: u16,
}

/// What happens with a request.
#[derive(Clone, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Outcome {
    /// The application answers, under this path.
    Serve(String),
    /// The path is none of the application's pages: the request goes on untouched.
    Skip,
    /// The visitor is sent elsewhere.
    Redirect {
        /// 302 where a preference asks for it, 308 to the one address a page has.
        status: u16,
        /// The address, with the query.
        location: String,
    },
    /// There is no such address.
    NotFound,
}

/// What a decision wants to be remembered, beside what is already.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Remember {
    /// A locale to write into the session: the cookie restores it when the session is new.
    pub session: Option<LocaleId>,
    /// A time zone to write into the session, likewise.
    pub session_time_zone: Option<TimeZoneName>,
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

    /// The request headers that could have changed the answer, for `Vary`. The one that a `header` source reads
    /// is called `header` here; its name is the application's.
    pub const fn vary(&self) -> Vary {
        Vary { mattered: self.mattered, at: 0 }
    }
}

/// The names of request headers that an answer depends on. Made by [`Decision::vary`].
#[derive(Clone, Debug)]
pub struct Vary {
    mattered: u16,
    at: usize,
}

impl Vary {
    const HEADERS: [(&'static str, u16); 3] = [
        ("header", LocaleSource::Header.bit()),
        ("Cookie", LocaleSource::Session.bit() | LocaleSource::Cookie.bit() | LocaleSource::Visitor.bit()),
        ("Accept-Language", LocaleSource::AcceptLanguage.bit()),
    ];
}

impl Iterator for Vary {
    type Item = &'static str;

    fn next(&mut self) -> Option<&'static str> {
        loop {
            let (name, bits) = Self::HEADERS.get(self.at)?;
            self.at += 1;
            if self.mattered & bits != 0 {
                return Some(name);
            }
        }
    }
}

/// The choice of one source after another.
struct Choice {
    locale: LocaleId,
    source: LocaleSource,
    mattered: u16,
}

impl Policy {
    /// Decides a request: the locale, what happens, and why.
    pub fn decide(&self, facts: &Facts<'_>) -> Decision {
        self.decide_parsed(facts, self.read(facts.path))
    }

    /// What a path says; nothing where it is no source.
    pub fn read<'p>(&self, path: &'p str) -> Option<PathMatch<'p>> {
        if self.uses_path() { Some(self.routes.read(&self.set, path)) } else { None }
    }

    /// The same as [`Policy::decide`], with the path [read](Policy::read) already.
    pub fn decide_parsed(&self, facts: &Facts<'_>, path_match: Option<PathMatch<'_>>) -> Decision {
        let mut trace = Trace::new();
        let by_path = match &path_match {
            Some(PathMatch::Page { locale: Some(locale), .. } | PathMatch::Moved { locale, .. }) => {
                Some(*locale)
            }
            // With the default at the bare path, the path has spoken, unless a preference may redirect from it.
            Some(PathMatch::Page { locale: None, path }) if self.is_default_page(facts, path) => {
                Some(self.set.default_locale())
            }
            _ => None,
        };
        match &path_match {
            Some(PathMatch::Skipped) => return self.skipped(),
            // Where a preference redirects from the one address of the page, the way there is not taken in two steps.
            // That address is never moved itself, so this asks once.
            Some(PathMatch::Moved { address, .. }) => {
                let there = self.decide(&Facts { path: address, ..*facts });
                if matches!(there.outcome, Outcome::Redirect { .. }) {
                    return there;
                }
            }
            _ => {}
        }
        let mut choice = self.choose(facts, by_path, path_match.as_ref(), &mut trace);
        let outcome = match path_match {
            None => Outcome::Serve(facts.path.to_owned()),
            Some(PathMatch::Skipped) => Outcome::Skip,
            Some(PathMatch::Unsupported) => Outcome::NotFound,
            Some(PathMatch::Moved { address, .. }) => {
                Outcome::Redirect { status: 308, location: with_query(address, facts.query) }
            }
            Some(PathMatch::Page { locale: Some(_), path }) => Outcome::Serve(path.into_owned()),
            Some(PathMatch::Page { locale: None, path }) => self.bare(facts, path, choice.locale),
        };
        let visitor_formats = self.visitor_formats(facts, &mut choice);
        let time_zone = self.time_zone.as_ref().map(|rule| {
            choice.mattered |= rule.mattered();
            rule.choose(&facts.time_zone)
        });
        let remember = self.remember(facts);
        Decision {
            locale: choice.locale,
            source: choice.source,
            outcome,
            time_zone,
            remember,
            trace,
            visitor_formats,
            mattered: choice.mattered,
        }
    }

    /// What is no page of the application's: nobody is asked.
    fn skipped(&self) -> Decision {
        let trace = self.sources().iter().map(|source| Step {
            source: *source,
            verdict: if *source == LocaleSource::Path { Verdict::Absent } else { Verdict::NotReached },
        });
        Decision {
            locale: self.set.default_locale(),
            source: LocaleSource::Default,
            outcome: Outcome::Skip,
            time_zone: None,
            remember: Remember::default(),
            trace: trace.collect(),
            visitor_formats: None,
            mattered: 0,
        }
    }

    /// Whether a source can matter for a path: behind a prefix, only the path decides the locale.
    pub fn asks(&self, source: LocaleSource, path_match: Option<&PathMatch<'_>>) -> bool {
        let by_path = match path_match {
            Some(PathMatch::Skipped) => return false,
            Some(PathMatch::Page { locale: Some(_), .. }) => true,
            Some(PathMatch::Page { locale: None, path }) => {
                !self.routes.has_prefixed_default() && !self.redirects_from(path)
            }
            _ => false,
        };
        let for_formats = source == LocaleSource::Visitor && self.formats == FormatsRule::Visitor;
        let for_zone = self.time_zone.as_ref().is_some_and(|rule| rule.sources().contains(&source));
        for_zone || self.sources().contains(&source) && (for_formats || !by_path)
    }

    /// Inputs the sources in order until one decides.
    fn choose(
        &self,
        facts: &Facts<'_>,
        by_path: Option<LocaleId>,
        path_match: Option<&PathMatch<'_>>,
        trace: &mut Trace,
    ) -> Choice {
        let mut choice: Option<Choice> = None;
        let mut mattered = 0;
        for source in self.sources() {
            let verdict = match (&choice, source) {
                (Some(_), _) => Verdict::NotReached,
                (None, LocaleSource::Path) => match (by_path, path_match) {
                    (Some(locale), _) => Verdict::Chosen(locale),
                    (None, Some(PathMatch::Unsupported)) => Verdict::Unusable(Reason::NotSupported),
                    (None, _) => Verdict::Absent,
                },
                (None, source) => self.ask(*source, facts),
            };
            if choice.is_none() {
                mattered |= source.bit();
            }
            let locale = match verdict {
                Verdict::Chosen(locale) => Some(locale),
                Verdict::Matched(found) => Some(found.locale),
                _ => None,
            };
            if let Some(locale) = locale {
                choice = Some(Choice { locale, source: *source, mattered });
            }
            trace.push(Step { source: *source, verdict });
        }
        choice.unwrap_or(Choice {
            locale: self.set.default_locale(),
            source: LocaleSource::Default,
            mattered,
        })
    }

    /// What a source other than the path says.
    fn ask(&self, source: LocaleSource, facts: &Facts<'_>) -> Verdict {
        match source {
            LocaleSource::Host => facts.host.map_or(Verdict::Absent, |host| self.host(host)),
            LocaleSource::Query => self.explicit(facts.query_value),
            LocaleSource::Header => self.explicit(facts.header_value),
            LocaleSource::Cookie => self.explicit(facts.cookie),
            LocaleSource::Session => match facts.session {
                SessionValue::None | SessionValue::Empty => Verdict::Absent,
                SessionValue::OtherShape => Verdict::Unusable(Reason::OtherShape),
                SessionValue::Text(text) => self.explicit(Some(text)),
            },
            LocaleSource::Visitor => facts.visitor.map_or(Verdict::Absent, |text| match parse(text) {
                None => Verdict::Unusable(Reason::NotATag),
                Some(tag) => {
                    self.set.closest_to(&tag).map_or(Verdict::Unusable(Reason::NothingNear), Verdict::Matched)
                }
            }),
            LocaleSource::AcceptLanguage => self.accept_lines(facts),
            LocaleSource::Default | LocaleSource::Path => Verdict::Chosen(self.set.default_locale()),
        }
    }

    /// A value that must be one of the locales.
    fn explicit(&self, value: Option<&str>) -> Verdict {
        let Some(text) = value.filter(|text| !text.is_empty()) else { return Verdict::Absent };
        match parse(text) {
            None => Verdict::Unusable(Reason::NotATag),
            Some(tag) => {
                self.set.exact(&tag).map_or(Verdict::Unusable(Reason::NotSupported), Verdict::Chosen)
            }
        }
    }

    /// A host of the table, or without a table one whose first label is a locale.
    fn host(&self, host: &str) -> Verdict {
        if self.hosts.is_empty() {
            let label = host.split('.').next().unwrap_or_default();
            return match self.explicit(Some(label)) {
                // `www` and the like are hosts, not failed locales.
                Verdict::Unusable(_) => Verdict::Absent,
                verdict => verdict,
            };
        }
        let known = self.hosts.iter().find(|(known, _)| known.eq_ignore_ascii_case(host));
        known.map_or(Verdict::Absent, |(_, locale)| Verdict::Chosen(*locale))
    }

    fn accept_lines(&self, facts: &Facts<'_>) -> Verdict {
        let parsed = || AcceptLanguage::parse_lines(facts.accept_lines.iter().copied());
        let found = match facts.accept_lines {
            [line] => self.set.closest_in(line),
            _ => self.set.closest(&parsed()),
        };
        if let Some(found) = found {
            return Verdict::Matched(found);
        }
        // Nothing serves; the header is looked at once more, for the reason.
        let header = parsed();
        match (header.is_empty(), header.malformed(), header.is_truncated()) {
            (_, _, true) => Verdict::Unusable(Reason::TooLong),
            (false, ..) => Verdict::Unusable(Reason::NothingNear),
            (true, 0, _) => Verdict::Absent,
            (true, ..) => Verdict::Unusable(Reason::Malformed),
        }
    }

    /// A page whose address names no locale: a preference may send the visitor to one that does.
    fn bare(&self, facts: &Facts<'_>, path: Cow<'_, str>, locale: LocaleId) -> Outcome {
        let default_stays = locale == self.set.default_locale() && !self.routes.has_prefixed_default();
        if self.redirects_from(&path) && facts.is_page {
            if default_stays {
                return Outcome::Serve(path.into_owned());
            }
            let location = with_query(self.routes.path(&self.set, locale, &path), facts.query);
            return Outcome::Redirect { status: 302, location };
        }
        // With a prefix for every locale, a page without one does not exist; only where nothing is ever redirected
        // is it negotiated.
        if self.routes.has_prefixed_default() && self.redirect != RedirectRule::Never {
            return Outcome::NotFound;
        }
        Outcome::Serve(path.into_owned())
    }

    /// Whether a bare path is the default's, whatever the visitor prefers.
    fn is_default_page(&self, facts: &Facts<'_>, path: &str) -> bool {
        let may_redirect = facts.is_page && self.redirects_from(path);
        !may_redirect && !self.routes.has_prefixed_default()
    }

    /// Whether a preference may redirect from a bare path.
    fn redirects_from(&self, path: &str) -> bool {
        match self.redirect {
            RedirectRule::Never => false,
            RedirectRule::Root => self.routes.is_root(path),
            RedirectRule::Everywhere => true,
        }
    }

    /// A new session learns what the cookie knows.
    fn remember(&self, facts: &Facts<'_>) -> Remember {
        let used = |source| self.sources().contains(&source);
        let mut remember = Remember::default();
        if used(LocaleSource::Session)
            && used(LocaleSource::Cookie)
            && facts.session == SessionValue::Empty
            && let Verdict::Chosen(locale) = self.explicit(facts.cookie)
        {
            remember.session = Some(locale);
        }
        remember.session_time_zone =
            self.time_zone.as_ref().and_then(|rule| rule.to_restore(&facts.time_zone));
        remember
    }

    /// The visitor's region and `-u-` keywords, where they are of the language of the words.
    fn visitor_formats(&self, facts: &Facts<'_>, choice: &mut Choice) -> Option<LanguageTag> {
        if self.formats == FormatsRule::Words {
            return None;
        }
        let words = self.set.tag(choice.locale);
        let fits = |tag: &LanguageTag| {
            tag.canonicalized().language() == words.language()
                && tag.canonicalized().maximized().script() == words.maximized().script()
        };
        if let Some(tag) = facts
            .visitor
            .filter(|_| self.sources().contains(&LocaleSource::Visitor))
            .and_then(parse)
            .filter(fits)
        {
            choice.mattered |= LocaleSource::Visitor.bit();
            return Some(words.with_formats_of(&tag.canonicalized()));
        }
        choice.mattered |= LocaleSource::AcceptLanguage.bit();
        let header = AcceptLanguage::parse_lines(facts.accept_lines.iter().copied());
        let preferred = header.ranges().iter().filter_map(|range| parse(range.as_str())).find(fits)?;
        Some(words.with_formats_of(&preferred.canonicalized()))
    }
}

impl LanguageTag {
    /// This tag with another's region and `-u-` keywords: English words, dates the way one's own region writes them.
    ///
    /// ```
    /// # use crow_fly_core::tag::LanguageTag;
    /// let tag = |text| LanguageTag::parse(text).unwrap();
    /// assert_eq!(tag("en").with_formats_of(&tag("en-GB-u-hc-h23")).to_string(), "en-GB-u-hc-h23");
    /// assert_eq!(tag("en-GB").with_formats_of(&tag("en")).to_string(), "en-GB");
    /// ```
    #[must_use]
    pub fn with_formats_of(&self, other: &Self) -> Self {
        let (_, _, region) = other.codes();
        let mut tag = if region == 0 { self.clone() } else { self.with_region(region) };
        for (key, value) in other.keywords() {
            // Both come from a well-formed tag; where a part is too short for `-u-`, the keyword is left out.
            let _ = tag.set_keyword(key, Some(value));
        }
        tag
    }
}

/// A value as a tag; read leniently, as cookies and sessions hold what other systems wrote.
fn parse(text: &str) -> Option<LanguageTag> {
    plain(text.as_bytes()).or_else(|| LanguageTag::parse_lenient(text).ok())
}

fn with_query(location: String, query: Option<&str>) -> String {
    match query {
        Some(query) => alloc::format!("{location}?{query}"),
        None => location,
    }
}
