//! What the layer does to responses.

use http::header::{CACHE_CONTROL, CONTENT_LANGUAGE, HeaderMap, HeaderValue, LOCATION, VARY};
use http::{Response, StatusCode};

use crate::config::Config;

/// A redirect: 308 to the one address a page has, 302 and 303 for this visitor only.
pub(super) fn redirect<B: Default>(status: u16, location: &str) -> Response<B> {
    let mut response = Response::new(B::default());
    // A location that is no header value cannot come from a parsed URI; then the page does not exist.
    let Ok(location) = HeaderValue::from_str(location) else { return not_found() };
    *response.status_mut() = StatusCode::from_u16(status).unwrap_or(StatusCode::FOUND);
    response.headers_mut().insert(LOCATION, location);
    if status != 308 {
        response.headers_mut().insert(CACHE_CONTROL, HeaderValue::from_static("private, no-store"));
    }
    response
}

pub(super) fn not_found<B: Default>() -> Response<B> {
    status(StatusCode::NOT_FOUND)
}

pub(super) fn status<B: Default>(status: StatusCode) -> Response<B> {
    let mut response = Response::new(B::default());
    *response.status_mut() = status;
    response
}

/// Says the language of the content, unless the application has.
pub(super) fn content_language(headers: &mut HeaderMap, locale: &str) {
    if let (false, Ok(value)) = (headers.contains_key(CONTENT_LANGUAGE), HeaderValue::from_str(locale)) {
        headers.insert(CONTENT_LANGUAGE, value);
    }
}

/// Adds the request headers that mattered to those that are there.
pub(super) fn vary(headers: &mut HeaderMap, names: impl Iterator<Item = &'static str>, config: &Config) {
    let there: Vec<String> = headers
        .get_all(VARY)
        .iter()
        .filter_map(|value| value.to_str().ok())
        .flat_map(|value| value.split(','))
        .map(|name| name.trim().to_ascii_lowercase())
        .collect();
    if there.iter().any(|name| name == "*") {
        return;
    }
    for name in names {
        let name = if name == "header" { config.header_name.as_str() } else { name };
        if !there.iter().any(|other| other.eq_ignore_ascii_case(name))
            && let Ok(value) = HeaderValue::from_str(name)
        {
            headers.append(VARY, value);
        }
    }
}
