//! Requests and responses as a framework holds them: what the engine reads of the one, and changes of the other.

use http::header::{self, HeaderMap, HeaderName, HeaderValue};
use http::request::Parts;

/// What the engine reads of a request.
pub trait RequestHead {
    /// `GET`, `POST`, …
    fn method(&self) -> &str;
    /// The path, percent-encoded as it came.
    fn path(&self) -> &str;
    /// The query, without `?`.
    fn query(&self) -> Option<&str>;
    /// Host and port of the address, where the address has them (HTTP/2).
    fn authority(&self) -> Option<&str>;
    /// The lines of a header; the name is in lower case.
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]>;

    /// Whether the request asks for a page: `GET` or `HEAD`.
    fn is_page(&self) -> bool {
        matches!(self.method(), "GET" | "HEAD")
    }

    /// The first line of a header, where it is text.
    fn header(&self, name: &str) -> Option<&str> {
        self.lines(name).next().and_then(|line| std::str::from_utf8(line).ok())
    }

    /// Host and port: of the address where it has them, of the `Host` header otherwise.
    fn host_and_port(&self) -> Option<&str> {
        self.authority().or_else(|| self.header("host"))
    }

    /// The host without port.
    fn host(&self) -> Option<&str> {
        self.host_and_port().map(without_port)
    }
}

pub(super) fn without_port(host: &str) -> &str {
    let is_port = |port: &str| port.bytes().all(|byte| byte.is_ascii_digit());
    host.rsplit_once(':').filter(|(_, end)| is_port(end)).map_or(host, |(host, _)| host)
}

/// What the engine changes of a response.
pub trait ResponseHead {
    /// The lines of a header; the name is in lower case.
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]>;
    /// Sets a header to one line. Names are in lower case.
    fn set(&mut self, name: &'static str, value: HeaderValue);
}

impl RequestHead for Parts {
    fn method(&self) -> &str {
        self.method.as_str()
    }

    fn path(&self) -> &str {
        self.uri.path()
    }

    fn query(&self) -> Option<&str> {
        self.uri.query()
    }

    fn authority(&self) -> Option<&str> {
        self.uri.authority().map(http::uri::Authority::as_str)
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        lines(&self.headers, name)
    }
}

impl<B> ResponseHead for http::Response<B> {
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        lines(self.headers(), name)
    }

    fn set(&mut self, name: &'static str, value: HeaderValue) {
        let name = known(name).unwrap_or_else(|| HeaderName::from_static(name));
        self.headers_mut().insert(name, value);
    }
}

fn lines<'h>(headers: &'h HeaderMap, name: &str) -> impl Iterator<Item = &'h [u8]> {
    let found = match known(name) {
        Some(name) => headers.get_all(name),
        None => headers.get_all(name),
    };
    found.iter().map(HeaderValue::as_bytes)
}

/// The header of RFC 9110 §12.5.4.
const PREFERRED: HeaderName = HeaderName::from_static("accept-language");

/// The names that every request asks for, which need not be parsed.
fn known(name: &str) -> Option<HeaderName> {
    Some(match name {
        "accept-language" => PREFERRED,
        "cache-control" => header::CACHE_CONTROL,
        "content-language" => header::CONTENT_LANGUAGE,
        "cookie" => header::COOKIE,
        "host" => header::HOST,
        "vary" => header::VARY,
        _ => return None,
    })
}
