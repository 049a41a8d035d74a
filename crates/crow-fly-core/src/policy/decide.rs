//! From facts to a decision.

use alloc::borrow::{Cow, ToOwned};
use alloc::string::String;

use super::decision::{Decision, Outcome};
use super::source::Sources;
use super::{
    Facts, FormatsRule, LocaleSource, Matching, Policy, Reason, RedirectRule, SessionValue, TimeZoneRule,
    Trace, Verdict,
};
use crate::accept::AcceptLanguage;
use crate::calendar::CalendarChoice;
use crate::locale_set::LocaleId;
use crate::route::PathMatch;
use crate::tag::{LanguageTag, plain};

/// What a path means to a policy. Made by [`Policy::read`].
#[derive(Clone, Debug)]
pub struct ReadPath<'p> {
    /// None where it is a page, and the path is not a source.
    path_match: Option<PathMatch<'p>>,
    /// Whether the address decides the locale by itself, for every visitor.
    decides: bool,
    /// Whether it is a page that follows the visitor's time zone.
    follows_zone: bool,
}

/// The choice of one source after another.
struct Choice {
    locale: LocaleId,
    source: LocaleSource,
}

/// The answers that are not in a request's head, and have been asked for: an answer may be that there is none.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Asked {
    /// The session has been asked.
    pub session: bool,
    /// The signed-in visitor's settings have been asked for.
    pub visitor: bool,
}

/// What is asked for outside of the request's head.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ToAsk {
    /// The session.
    Session,
    /// The settings of the signed-in visitor.
    VisitorSettings,
}

impl Asked {
    const fn has(self, source: LocaleSource) -> bool {
        match source {
            LocaleSource::Session => self.session,
            LocaleSource::Visitor => self.visitor,
            // These are in the head of the request.
            LocaleSource::Path
            | LocaleSource::Host
            | LocaleSource::Query
            | LocaleSource::Header
            | LocaleSource::Cookie
            | LocaleSource::AcceptLanguage
            | LocaleSource::Default => true,
        }
    }
}

impl Policy {
    /// Decides a request: the locale, what happens, and why.
    pub fn decide(&self, facts: &Facts<'_>) -> Decision {
        self.decide_read(facts, self.read(facts.path))
    }

    /// What a path means.
    pub fn read<'p>(&self, path: &'p str) -> ReadPath<'p> {
        let path_match = if self.uses_path() {
            Some(self.routes.read(path))
        } else {
            self.routes.skips(path).then_some(PathMatch::Skipped)
        };
        let decides = match &path_match {
            Some(PathMatch::Skipped | PathMatch::Page { locale: Some(_), .. }) => true,
            Some(PathMatch::Page { locale: None, path }) => !self.redirects_from(path),
            // The address it leads to is never moved itself, so this asks once.
            Some(PathMatch::Moved { address, .. }) => self.read(self.routes.asked_for(address)).decides,
            None => false,
        };
        let page = match &path_match {
            None => Some(path),
            Some(PathMatch::Page { path, .. }) => Some(&**path),
            Some(PathMatch::Moved { address, .. }) => Some(&**address),
            Some(PathMatch::Skipped) => None,
        };
        let follows = |rule: &TimeZoneRule| page.is_some_and(|page| rule.follows_visitor_on(page));
        let follows_zone = self.time_zone.as_ref().is_some_and(follows);
        ReadPath { path_match, decides, follows_zone }
    }

    /// The same as [`Policy::decide`], with the path [read](Policy::read) already.
    pub fn decide_read(&self, facts: &Facts<'_>, path: ReadPath<'_>) -> Decision {
        let ReadPath { path_match, decides, follows_zone } = path;
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
                let there = self.decide(&Facts { path: self.routes.asked_for(address), ..*facts });
                if matches!(there.outcome, Outcome::Redirect { .. }) {
                    return there;
                }
            }
            _ => {}
        }
        let depends_on = self.depends_on(facts, decides, follows_zone);
        let mut trace = self.unasked.clone();
        let choice = self.choose(facts, by_path, &mut trace);
        let outcome = match path_match {
            None => Outcome::Serve(facts.path.to_owned()),
            Some(PathMatch::Skipped) => Outcome::Skip,
            Some(PathMatch::Moved { address, .. }) => {
                Outcome::Redirect { status: 308, location: with_query(address, facts.query) }
            }
            Some(PathMatch::Page { locale: Some(_), path }) => Outcome::Serve(path.into_owned()),
            Some(PathMatch::Page { locale: None, path }) => self.bare(facts, path, choice.locale),
        };
        Decision {
            locale: choice.locale,
            source: choice.source,
            outcome,
            time_zone: self
                .time_zone
                .as_ref()
                .map(|rule| if follows_zone { rule.choose(&facts.time_zone) } else { rule.default_choice() }),
            trace,
            visitor_formats: self.visitor_formats(facts, choice.locale),
            follows_zone,
            depends_on,
        }
    }

    /// What is not a page of the application: no source is asked.
    fn skipped(&self) -> Decision {
        let mut trace = self.unasked.clone();
        for step in trace.steps_mut().iter_mut().filter(|step| step.source == LocaleSource::Path) {
            step.verdict = Verdict::Absent;
        }
        Decision {
            locale: self.set.default_locale(),
            source: LocaleSource::Default,
            outcome: Outcome::Skip,
            time_zone: None,
            trace,
            visitor_formats: None,
            follows_zone: false,
            depends_on: Sources::none(),
        }
    }

    /// Whether nothing but the address matters: not for the locale, the formats or the time zone.
    pub fn needs_only_address(&self, path: &ReadPath<'_>) -> bool {
        path.decides && self.formats == FormatsRule::Words && !path.follows_zone
    }

    /// What must be asked next outside of the request's head: asking may reach for another machine, so it is only where
    /// the answer can change the outcome. None where the facts suffice.
    pub fn next_to_ask(&self, facts: &Facts<'_>, path: &ReadPath<'_>, asked: Asked) -> Option<ToAsk> {
        if path.path_match == Some(PathMatch::Skipped) {
            return None;
        }
        let source = self
            .next_for_locale(facts, path, asked)
            .or_else(|| {
                let for_formats = self.formats == FormatsRule::Visitor
                    && self.sources().contains(&LocaleSource::Visitor)
                    && !asked.visitor;
                for_formats.then_some(LocaleSource::Visitor)
            })
            .or_else(|| {
                let rule = self.time_zone.as_ref().filter(|_| path.follows_zone)?;
                rule.next_to_ask(&facts.time_zone, |source| asked.has(source))
            })?;
        if source == LocaleSource::Session { Some(ToAsk::Session) } else { Some(ToAsk::VisitorSettings) }
    }

    fn next_for_locale(&self, facts: &Facts<'_>, path: &ReadPath<'_>, asked: Asked) -> Option<LocaleSource> {
        if path.decides {
            return None;
        }
        let others = self.sources().iter().copied().filter(|source| *source != LocaleSource::Path);
        for source in others {
            if !asked.has(source) {
                return Some(source);
            }
            if self.ask(source, facts).locale().is_some() {
                return None;
            }
        }
        None
    }

    /// The sources outside of the address that answers under it depend on.
    fn depends_on(&self, facts: &Facts<'_>, address_decides: bool, follows_zone: bool) -> Sources {
        let zone = self.time_zone.as_ref().filter(|_| follows_zone);
        let mut depends_on = zone.map_or(Sources::none(), TimeZoneRule::depends_on);
        if self.formats == FormatsRule::Visitor {
            depends_on.insert(LocaleSource::AcceptLanguage);
            if self.sources().contains(&LocaleSource::Visitor) {
                depends_on.insert(LocaleSource::Visitor);
            }
        }
        if !address_decides {
            for source in self.sources() {
                match source {
                    LocaleSource::Path | LocaleSource::Default => {}
                    // Parts of the address: where one decides, it does so for everybody.
                    LocaleSource::Host | LocaleSource::Query => {
                        if self.ask(*source, facts).locale().is_some() {
                            break;
                        }
                    }
                    LocaleSource::Header
                    | LocaleSource::Visitor
                    | LocaleSource::Session
                    | LocaleSource::Cookie
                    | LocaleSource::AcceptLanguage => depends_on.insert(*source),
                }
            }
        }
        depends_on
    }

    /// Asks the sources in order until one decides.
    fn choose(&self, facts: &Facts<'_>, by_path: Option<LocaleId>, trace: &mut Trace) -> Choice {
        for step in trace.steps_mut() {
            step.verdict = match step.source {
                LocaleSource::Path => by_path.map_or(Verdict::Absent, Verdict::Chosen),
                source => self.ask(source, facts),
            };
            if let Some(locale) = step.verdict.locale() {
                return Choice { locale, source: step.source };
            }
        }
        Choice { locale: self.set.default_locale(), source: LocaleSource::Default }
    }

    /// What a source other than the path has.
    fn ask(&self, source: LocaleSource, facts: &Facts<'_>) -> Verdict {
        match source {
            LocaleSource::Host => facts.host.map_or(Verdict::Absent, |host| self.host(host)),
            LocaleSource::Query => self.matched_value(facts.query_value),
            LocaleSource::Header => self.matched_value(facts.header_value),
            LocaleSource::Cookie => self.explicit(facts.cookie),
            LocaleSource::Session => match facts.session {
                SessionValue::None | SessionValue::Empty => Verdict::Absent,
                SessionValue::OtherShape => Verdict::Unusable(Reason::OtherShape),
                SessionValue::Text(text) => self.explicit(Some(text)),
            },
            LocaleSource::Visitor => self.closest(facts.visitor),
            LocaleSource::AcceptLanguage => self.accept_lines(facts),
            LocaleSource::Default | LocaleSource::Path => Verdict::Chosen(self.set.default_locale()),
        }
    }

    /// The locale a visitor prefers, whatever the address is: for pages at addresses that name no locale.
    pub fn preferred(&self, facts: &Facts<'_>) -> LocaleId {
        let mut others = self.sources().iter().filter(|source| **source != LocaleSource::Path);
        others
            .find_map(|source| self.ask(*source, facts).locale())
            .unwrap_or_else(|| self.set.default_locale())
    }

    /// The locale that a value names, as a cookie or a form may hold it.
    pub fn locale_named(&self, value: &str) -> Option<LocaleId> {
        self.explicit(Some(value)).locale()
    }

    /// A value that is matched as the policy sets.
    fn matched_value(&self, value: Option<&str>) -> Verdict {
        match self.matching {
            Matching::Exact => self.explicit(value),
            Matching::Closest => self.closest(value.filter(|text| !text.is_empty())),
        }
    }

    /// A value that stands for the closest locale.
    fn closest(&self, value: Option<&str>) -> Verdict {
        value.map_or(Verdict::Absent, |text| match parse(text) {
            None => Verdict::Unusable(Reason::NotATag),
            Some(tag) => {
                self.set.closest_to(&tag).map_or(Verdict::Unusable(Reason::NothingNear), Verdict::Matched)
            }
        })
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

    /// A page whose address names no locale: a preference may send the visitor to one that does. Otherwise it is the
    /// application's, in the default locale, whether there is such a page or not.
    fn bare(&self, facts: &Facts<'_>, path: Cow<'_, str>, locale: LocaleId) -> Outcome {
        let default_stays = locale == self.set.default_locale() && !self.routes.has_prefixed_default();
        if !facts.is_page || !self.redirects_from(&path) || default_stays {
            return Outcome::Serve(path.into_owned());
        }
        let location = with_query(self.routes.address(locale, &path), facts.query);
        Outcome::Redirect { status: 302, location }
    }

    /// Whether a bare path is the default's, whatever the visitor prefers.
    fn is_default_page(&self, facts: &Facts<'_>, path: &str) -> bool {
        !(facts.is_page && self.redirects_from(path))
    }

    /// Whether a preference may redirect from a bare path.
    fn redirects_from(&self, path: &str) -> bool {
        match self.redirect {
            RedirectRule::Never => false,
            RedirectRule::Root => self.routes.is_root(path),
            RedirectRule::Everywhere => true,
        }
    }

    /// The visitor's region and `-u-` keywords, where they are of the language of the words. A calendar that this program does
    /// not have is left out: what a visitor sends makes no errors.
    fn visitor_formats(&self, facts: &Facts<'_>, locale: LocaleId) -> Option<LanguageTag> {
        if self.formats == FormatsRule::Words {
            return None;
        }
        let mut formats = self.asked_formats(facts, locale)?;
        let calendar = CalendarChoice::of(&formats);
        if calendar.lacking().is_some() {
            // The identifier is short enough for a keyword.
            let _ = formats.set_keyword("ca", Some(calendar.calendar().id()));
        }
        Some(formats)
    }

    fn asked_formats(&self, facts: &Facts<'_>, locale: LocaleId) -> Option<LanguageTag> {
        let words = self.set.tag(locale);
        let fits = |tag: &LanguageTag| tag.reads_like(words);
        if let Some(tag) = facts
            .visitor
            .filter(|_| self.sources().contains(&LocaleSource::Visitor))
            .and_then(parse)
            .filter(fits)
        {
            return Some(words.with_formats_of(&tag.canonicalized()));
        }
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

fn with_query(mut location: String, query: Option<&str>) -> String {
    if let Some(query) = query {
        location.push('?');
        location.push_str(query);
    }
    location
}
