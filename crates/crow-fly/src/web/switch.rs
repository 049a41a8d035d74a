//! The switch address: checks a choice, and returns to the page in the new language.

use std::borrow::Cow;
use std::sync::Arc;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::Policy;
use crow_fly_core::route::PathMatch;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;

use tracing::{info, warn};

use super::cookies;
use super::head::RequestHead;
use super::reply::Reply;
use crate::config::Config;
use crate::site::Site;

/// What a visitor chose at the switch address, and wants to be remembered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Choice {
    locale: Option<LanguageTag>,
    time_zone: Option<TimeZoneName>,
    session: Vec<(Arc<str>, String)>,
}

impl Choice {
    /// The locale, where one was chosen.
    pub const fn locale(&self) -> Option<&LanguageTag> {
        self.locale.as_ref()
    }

    /// The time zone, where one was chosen.
    pub const fn time_zone(&self) -> Option<TimeZoneName> {
        self.time_zone
    }

    /// The keys and values to write into the request's session. None where the request has no session, or the
    /// configuration does not name sessions as a source.
    pub fn session_writes(&self) -> impl Iterator<Item = (&str, &str)> {
        self.session.iter().map(|(key, value)| (&**key, value.as_str()))
    }

    /// One event for a visitor's choice.
    pub(super) fn log(&self) {
        info!(
            target: "crow_fly::switch",
            locale = self.locale.as_ref().map(tracing::field::display),
            time_zone = self.time_zone.as_ref().map(tracing::field::display),
            "a visitor chose",
        );
    }

    pub(super) fn forget_session(&mut self) {
        self.session.clear();
    }
}

/// A choice that was understood: what to remember, if anything, and the answer.
#[derive(Debug)]
pub(super) struct Switched {
    pub(super) choice: Option<Choice>,
    pub(super) reply: Reply,
}

/// The parameters of a choice: `to`, `time-zone` and `return`.
struct Parameters<'f> {
    to: Option<Cow<'f, str>>,
    time_zone: Option<Cow<'f, str>>,
    back: Option<Cow<'f, str>>,
}

impl<'f> Parameters<'f> {
    /// The first value of each; the query goes before the form.
    fn read(query: &'f str, form: &'f [u8]) -> Self {
        let value = |wanted: &str| {
            let mut pairs = form_urlencoded::parse(query.as_bytes()).chain(form_urlencoded::parse(form));
            pairs.find(|(name, _)| name == wanted).map(|(_, value)| value)
        };
        Self { to: value("to"), time_zone: value("time-zone"), back: value("return") }
    }
}

/// Reads a choice from the query, or a posted form. An error is why there is none.
pub(super) fn choose(
    config: &Config,
    head: &impl RequestHead,
    form: &[u8],
) -> Result<Switched, &'static str> {
    let parameters = Parameters::read(head.query().unwrap_or_default(), form);
    let (locale, time_zone) = chosen(config, &parameters)?;
    let location = location(config, head, locale, parameters.back.as_deref());
    let mut reply = Reply::redirect(if head.method() == "POST" { 303 } else { 302 }, location);
    if !is_meant(head) {
        return Ok(Switched { choice: None, reply });
    }
    let remember = &config.remember;
    let cookie = locale.map(|locale| (&*remember.cookie, config.site.policy.set().text(locale)));
    let zone_cookie = time_zone.as_ref().map(|zone| (&*config.time_zone.cookie, zone.as_str()));
    for (name, value) in cookie.into_iter().chain(zone_cookie) {
        reply.add("set-cookie", cookies::write(remember, name, value));
    }
    Ok(Switched { choice: Some(choice(config, locale, time_zone)), reply })
}

fn choice(config: &Config, locale: Option<LocaleId>, time_zone: Option<TimeZoneName>) -> Choice {
    let policy = &config.site.policy;
    let mut session = Vec::new();
    if let Some(locale) = locale.filter(|_| config.remembers_locale_in_session()) {
        session.push((Arc::clone(&config.remember.session_key), policy.set().text(locale).to_owned()));
    }
    if let Some(zone) = time_zone.filter(|_| config.remembers_zone_in_session()) {
        session.push((Arc::clone(&config.time_zone.session_key), zone.to_string()));
    }
    Choice { locale: locale.map(|locale| policy.set().tag(locale).clone()), time_zone, session }
}

/// The locale and the time zone that were chosen: at least one of them.
fn chosen(
    config: &Config,
    parameters: &Parameters<'_>,
) -> Result<(Option<LocaleId>, Option<TimeZoneName>), &'static str> {
    let policy = &config.site.policy;
    let mut locale = None;
    if let Some(to) = parameters.to.as_deref() {
        let tag = LanguageTag::parse_lenient(to).map_err(|_| "`to` is not a language tag")?;
        locale = Some(policy.set().exact(&tag).ok_or("`to` is not one of the application's locales")?);
    }
    let mut time_zone = None;
    if let Some(zone) = parameters.time_zone.as_deref().filter(|_| config.follows_time_zone()) {
        time_zone = Some(zone.parse().map_err(|_| "`time-zone` is not a time zone of the IANA database")?);
    }
    if locale.is_none() && time_zone.is_none() {
        return Err("neither `to` nor `time-zone` is there");
    }
    Ok((locale, time_zone))
}

/// Whether a visitor asks, and not a browser ahead of them or another site in their name. Where a browser says
/// nothing of itself, a visitor asks.
fn is_meant(head: &impl RequestHead) -> bool {
    let is = |name, expected: &str| {
        head.header(name).is_some_and(|value| value.trim().eq_ignore_ascii_case(expected))
    };
    let fetched_ahead = ["sec-purpose", "purpose"].iter().any(|name| {
        let purpose = head.header(name).and_then(|value| value.split([';', ',']).next());
        purpose.is_some_and(|purpose| purpose.trim().eq_ignore_ascii_case("prefetch"))
    });
    let embedded = is("sec-fetch-site", "cross-site") && !is("sec-fetch-dest", "document");
    head.method() != "HEAD" && !fetched_ahead && !embedded
}

/// The page to return to: the one that was named, the one the visitor comes from, or the home page.
fn location(
    config: &Config,
    head: &impl RequestHead,
    locale: Option<LocaleId>,
    back: Option<&str>,
) -> String {
    let candidates = [back, same_origin_referer(head)].into_iter().flatten();
    let is_page =
        |page: &&str| page.starts_with('/') && page.split(['?', '#']).next() != Some(&*config.switch_path);
    let policy = &config.site.policy;
    // The browser's addresses have the base, and so may a return address from its bar.
    let asked_for = |page| policy.routes().asked_for(page);
    let page = candidates.map(asked_for).find(is_page).unwrap_or("/");
    // Whatever the address is, it is made local.
    match locale {
        None => policy.routes().unlocalized(page),
        Some(locale) if !policy.uses_path() => policy.path(locale, page),
        Some(locale) => {
            let end = page.find(['?', '#']).unwrap_or(page.len());
            let (path, behind) = page.split_at_checked(end).unwrap_or((page, ""));
            // The address may be the one in the browser's bar, prefix and all: its page is what counts.
            match bare_path(policy, path) {
                Some(bare) => policy.path(locale, &format!("{bare}{behind}")),
                None => policy.routes().unlocalized(page),
            }
        }
    }
}

/// Path and query of the page a visitor comes from, where it is one of this host.
fn same_origin_referer(head: &impl RequestHead) -> Option<&str> {
    let referer = head.header("referer")?;
    let (scheme, rest) = referer.split_once("://")?;
    let end = rest.find(['/', '?', '#'])?;
    let (authority, page) = rest.split_at_checked(end)?;
    let same = matches!(scheme, "http" | "https")
        && head.host_and_port().is_some_and(|host| host.eq_ignore_ascii_case(authority));
    same.then_some(page)
}

/// The application's own path of a page; none for what is not a page of it.
fn bare_path(policy: &Policy, path: &str) -> Option<String> {
    match policy.routes().read(path) {
        PathMatch::Page { path, .. } => Some(path.into_owned()),
        PathMatch::Moved { address, .. } => {
            let address = policy.routes().asked_for(&address);
            match policy.routes().read(address) {
                PathMatch::Page { path, .. } => Some(path.into_owned()),
                _ => Some(address.to_owned()),
            }
        }
        PathMatch::Skipped => None,
    }
}

/// Logs, once, why a choice is not kept: a browser keeps a secure cookie only over HTTPS.
pub(super) fn warn_of_plain_http(site: &Site, head: &impl RequestHead) {
    if site.config().remember.secure && comes_by_plain_http(head) && site.once.plain_http.is_first() {
        warn!(
            target: "crow_fly::switch",
            host = head.host(),
            "a choice was made over plain HTTP: browsers do not keep its cookie, which is `Secure`; serve the site over HTTPS, or set `secure = false` in `[remember]`",
        );
    }
}

/// Whether a proxy or the browser says that the visitor's own connection is plain HTTP. Browsers keep secure cookies
/// of `localhost` whatever the connection.
fn comes_by_plain_http(head: &impl RequestHead) -> bool {
    let is_local = |host: &str| host == "localhost" || host.ends_with(".localhost") || host == "127.0.0.1";
    if head.host().is_none_or(is_local) {
        return false;
    }
    let here = head.host_and_port().unwrap_or_default();
    let is_plain = |address: &str| {
        address.strip_prefix("http://").is_some_and(|rest| rest.split('/').next() == Some(here))
    };
    match head.header("x-forwarded-proto") {
        Some(protocol) => protocol.trim().eq_ignore_ascii_case("http"),
        None => ["origin", "referer"].into_iter().any(|name| head.header(name).is_some_and(is_plain)),
    }
}
