//! The switch address: checks a choice, remembers it, and returns to the page in the new language.

use std::borrow::Cow;

use crow_fly_core::policy::{Policy, Remember};
use crow_fly_core::route::{PathMatch, is_local};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::time_zone::TimeZoneName;
use tracing::{info, warn};

use super::cookies;
use super::head::RequestHead;
use super::reply::Reply;
use crate::crow_fly::CrowFly;

/// A form that names a locale and an address is far smaller.
pub(crate) const MAX_FORM: usize = 8 * 1024;

/// What a visitor chose: to be remembered, and answered.
#[derive(Debug)]
pub(crate) struct Choice {
    pub(crate) remember: Remember,
    pub(crate) reply: Reply,
}

/// Whether the path is the switch address.
pub(crate) fn is_switch(crow: &CrowFly, path: &str) -> bool {
    path == crow.config().switch_path
}

/// Reads a choice: parameters `to`, `time-zone` and `return`, in the query or in a posted form.
pub(crate) fn choose(crow: &CrowFly, head: &impl RequestHead, form: &[u8]) -> Result<Choice, Reply> {
    let post = head.method() == "POST";
    if !post && !head.is_page() {
        return Err(Reply::status(405));
    }
    let form = [head.query().unwrap_or_default().as_bytes(), form].join(&b'&');
    let (remember, location) = read(crow, &form).map_err(|reason| {
        warn!(target: "crow_fly::switch", reason, "a choice was refused");
        Reply::status(400)
    })?;
    let config = crow.config();
    let mut reply = Reply::redirect(if post { 303 } else { 302 }, location);
    let locale = remember.session.map(|locale| (&*config.remember.cookie, crow.policy().set().text(locale)));
    let zone = remember.session_time_zone.map(|zone| (&*config.time_zone.cookie, zone.as_str()));
    for (name, value) in locale.into_iter().chain(zone) {
        info!(target: "crow_fly::switch", name, value, "a visitor chose");
        if cookies::read(head, name) != Some(value) {
            reply.headers.push(("set-cookie", cookies::write(&config.remember, name, value)));
        }
    }
    Ok(Choice { remember, reply })
}

fn read(crow: &CrowFly, form: &[u8]) -> Result<(Remember, String), &'static str> {
    let value =
        |wanted: &str| form_urlencoded::parse(form).find(|(name, _)| name == wanted).map(|(_, value)| value);
    let policy = crow.policy();
    let mut remember = Remember::default();
    if let Some(to) = value("to") {
        let tag = LanguageTag::parse_lenient(&to).map_err(|_| "the locale is no language tag")?;
        remember.session = Some(policy.set().exact(&tag).ok_or("the application has no such locale")?);
    }
    if let Some(zone) = value("time-zone").filter(|_| policy.time_zone().is_some()) {
        let zone = zone.parse::<TimeZoneName>().map_err(|_| "there is no such time zone")?;
        remember.session_time_zone = Some(zone);
    }
    if remember == Remember::default() {
        return Err("neither a locale nor a time zone was named");
    }
    let page = value("return").unwrap_or(Cow::Borrowed("/"));
    if !is_local(&page) {
        return Err("the return address is not one of this site");
    }
    let (path, query) = page.split_once('?').map_or((&*page, None), |(path, query)| (path, Some(query)));
    // A form may return to the address in the browser's bar, prefix and all: its page is what counts.
    let location = match remember.session {
        None => page.to_string(),
        Some(locale) => {
            let bare = if policy.uses_path() { bare_path(policy, path) } else { path.to_owned() };
            policy.path(
                locale,
                &match query {
                    Some(query) => format!("{bare}?{query}"),
                    None => bare,
                },
            )
        }
    };
    // The page behind a prefix may be an address that is not local by itself.
    if is_local(&location) {
        Ok((remember, location))
    } else {
        Err("the return address is not one of this site")
    }
}

fn bare_path(policy: &Policy, path: &str) -> String {
    match policy.routes().read(policy.set(), path) {
        PathMatch::Page { path, .. } => path.into_owned(),
        PathMatch::Moved { address, .. } => match policy.routes().read(policy.set(), &address) {
            PathMatch::Page { path, .. } => path.into_owned(),
            _ => address,
        },
        PathMatch::Skipped | PathMatch::Unsupported => path.to_owned(),
    }
}
