//! The cookie that remembers a choice.

use cookie::Cookie;
use cookie::time::Duration;
use http::header::{COOKIE, HeaderMap, HeaderValue};

use crate::config::{RememberConfig, SameSite};

/// The value of the first cookie of a name. Cookies of other applications, and what is no cookie, are passed over.
pub(super) fn read<'r>(headers: &'r HeaderMap, name: &str) -> Option<&'r str> {
    headers.get_all(COOKIE).iter().filter_map(|line| std::str::from_utf8(line.as_bytes()).ok()).find_map(
        |line| {
            line.split(';')
                .filter_map(|pair| pair.split_once('='))
                .find(|(found, _)| found.trim() == name)
                .map(|(_, value)| value.trim())
        },
    )
}

/// The `Set-Cookie` header for a locale.
pub(super) fn write(remember: &RememberConfig, locale: &str) -> Option<HeaderValue> {
    let mut cookie = Cookie::build((remember.cookie.as_str(), locale))
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
    HeaderValue::from_str(&cookie.build().to_string()).ok()
}
