//! The cookies that remember a choice.

use cookie::Cookie;
use cookie::time::Duration;

use super::head::RequestHead;
use crate::config::{RememberConfig, SameSite};

/// The value of the first cookie of a name. Cookies of other applications, and what is no cookie, are passed over.
pub(super) fn read<'r>(head: &'r impl RequestHead, name: &str) -> Option<&'r str> {
    head.lines("cookie").filter_map(|line| std::str::from_utf8(line).ok()).find_map(|line| {
        line.split(';')
            .filter_map(|pair| pair.split_once('='))
            .find(|(found, _)| found.trim() == name)
            .map(|(_, value)| value.trim())
    })
}

/// The value of a `Set-Cookie` header.
pub(super) fn write(remember: &RememberConfig, name: &str, value: &str) -> String {
    let mut cookie = Cookie::build((name, value))
        .path(remember.path.as_str())
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
