//! The switch address: checks a choice, remembers it, and returns to the page in the new language.

use std::borrow::Cow;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::policy::Policy;
use crow_fly_core::route::{Reading, is_local};
use crow_fly_core::tag::LanguageTag;
use http::header::SET_COOKIE;
use http::request::Parts;
use http::{Method, Response, StatusCode};
use http_body::Body;
use http_body_util::{BodyExt, Limited};
use tracing::{info, warn};

use super::{cookies, respond};
use crate::crow_fly::CrowFly;
use crate::sessions::Sessions;

/// A form that names a locale and an address is far smaller.
const MAX_FORM: usize = 8 * 1024;

/// What a visitor chose, checked.
struct Choice {
    locale: LocaleId,
    location: String,
}

/// Whether the path is the switch address.
pub(super) fn is_switch(crow: &CrowFly, path: &str) -> bool {
    path == crow.config().switch_path
}

/// Answers the switch address: parameters `to` and `return`, in the query or in a posted form.
pub(super) async fn answer<B, R>(
    crow: &CrowFly,
    sessions: Option<&dyn Sessions>,
    parts: &Parts,
    body: B,
) -> Response<R>
where
    B: Body,
    B::Error: Into<Box<dyn std::error::Error + Send + Sync>>,
    R: Default,
{
    let mut form = parts.uri.query().unwrap_or_default().as_bytes().to_vec();
    if parts.method == Method::POST {
        if let Ok(posted) = Limited::new(body, MAX_FORM).collect().await {
            form.push(b'&');
            form.extend_from_slice(&posted.to_bytes());
        }
    } else if !matches!(parts.method, Method::GET | Method::HEAD) {
        return respond::status(StatusCode::METHOD_NOT_ALLOWED);
    }
    let choice = match read(crow, &form) {
        Ok(choice) => choice,
        Err(reason) => {
            warn!(target: "crow_fly::switch", reason, "a choice of language was refused");
            return respond::status(StatusCode::BAD_REQUEST);
        }
    };
    let locale = crow.policy().set().text(choice.locale);
    let remember = &crow.config().remember;
    if let Some(sessions) = sessions
        && let Err(error) = sessions.write(&parts.extensions, &remember.session_key, locale).await
    {
        warn!(target: "crow_fly::switch", %error, "the session cannot remember the choice; the cookie does");
    }
    info!(target: "crow_fly::switch", locale, "a visitor chose a language");
    let status = if parts.method == Method::POST { 303 } else { 302 };
    let mut response = respond::redirect(status, &choice.location);
    if cookies::read(&parts.headers, &remember.cookie) != Some(locale)
        && let Some(cookie) = cookies::write(remember, locale)
    {
        response.headers_mut().append(SET_COOKIE, cookie);
    }
    response
}

fn read(crow: &CrowFly, form: &[u8]) -> Result<Choice, &'static str> {
    let value =
        |wanted: &str| form_urlencoded::parse(form).find(|(name, _)| name == wanted).map(|(_, value)| value);
    let to = value("to").ok_or("no locale was named")?;
    let tag = LanguageTag::parse_lenient(&to).map_err(|_| "the locale is no language tag")?;
    let policy = crow.policy();
    let locale = policy.set().exact(&tag).ok_or("the application has no such locale")?;
    let page = value("return").unwrap_or(Cow::Borrowed("/"));
    if !is_local(&page) {
        return Err("the return address is not one of this site");
    }
    let (path, query) = page.split_once('?').map_or((&*page, None), |(path, query)| (path, Some(query)));
    // A form may return to the address in the browser's bar, prefix and all: its page is what counts.
    let bare = if policy.uses_path() { bare_path(policy, path) } else { path.to_owned() };
    let bare = match query {
        Some(query) => format!("{bare}?{query}"),
        None => bare,
    };
    let location = policy.path(locale, &bare);
    // The page behind a prefix may be an address that is not local by itself.
    if is_local(&location) {
        Ok(Choice { locale, location })
    } else {
        Err("the return address is not one of this site")
    }
}

fn bare_path(policy: &Policy, path: &str) -> String {
    match policy.routes().read(policy.set(), path) {
        Reading::Page { path, .. } => path.into_owned(),
        Reading::Moved { address, .. } => match policy.routes().read(policy.set(), &address) {
            Reading::Page { path, .. } => path.into_owned(),
            _ => address,
        },
        Reading::Skipped | Reading::Unsupported => path.to_owned(),
    }
}
