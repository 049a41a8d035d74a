//! The cookies that remember a choice.

use cookie::Cookie;
use cookie::time::Duration;

use super::head::RequestHead;
use crate::config::{RememberConfig, SameSite};

/// The values of the cookies of a name, in the order they are sent. Cookies of other applications, and what is not a
/// cookie, are passed over.
pub(super) fn values<'r>(head: &'r impl RequestHead, name: &str) -> impl Iterator<Item = &'r str> {
    head.lines("cookie").filter_map(|line| std::str::from_utf8(line).ok()).flat_map(move |line| {
        line.split(';').filter_map(move |pair| {
            let (found, value) = pair.split_once('=')?;
            (found.trim() == name).then(|| value.trim())
        })
    })
}

/// The first usable value of a cookie. If no value is usable, the first one: the trace then says why it cannot be
/// used.
pub(super) fn first_usable<'r>(
    head: &'r impl RequestHead,
    name: &str,
    is_usable: impl Fn(&str) -> bool,
) -> Option<&'r str> {
    let mut values = values(head, name);
    let first = values.next()?;
    // An old path or domain may have left a second cookie of the name, and browsers send both.
    if is_usable(first) { Some(first) } else { values.find(|value| is_usable(value)).or(Some(first)) }
}

/// The value of a `Set-Cookie` header.
pub(super) fn write(remember: &RememberConfig, name: &str, value: &str) -> String {
    let mut cookie = Cookie::build((name, value))
        .path(&*remember.path)
        .max_age(Duration::days(i64::from(remember.days)))
        .same_site(match remember.same_site {
            SameSite::Strict => cookie::SameSite::Strict,
            SameSite::Lax => cookie::SameSite::Lax,
            SameSite::None => cookie::SameSite::None,
        })
        .http_only(true)
        .secure(remember.secure);
    if let Some(domain) = &remember.domain {
        cookie = cookie.domain(domain.as_str());
    }
    cookie.build().to_string()
}
