//! Requests and responses as a framework holds them: what the engine reads of the one, and changes of the other.

use http::header::{self, HeaderMap, HeaderName, HeaderValue};
use http::request::Parts;
use http::uri::{Authority, Uri};
use http::{Method, Request};

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

/// What the engine reads and changes of a response.
pub trait ResponseHead {
    /// The status.
    fn status(&self) -> u16;
    /// The lines of a header; the name is in lower case.
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]>;
    /// Sets a header to one line. Names are in lower case.
    fn set(&mut self, name: &'static str, value: HeaderValue);

    /// Sets a header to one line, unless the response has that header already.
    fn set_missing(&mut self, name: &'static str, value: impl FnOnce() -> HeaderValue) {
        if self.lines(name).next().is_none() {
            self.set(name, value());
        }
    }
}

/// The head of a request that is whole, or in its parts: one type, so that the engine is compiled once for both.
pub(super) struct HttpHead<'r> {
    method: &'r Method,
    uri: &'r Uri,
    headers: &'r HeaderMap,
}

impl<'r> HttpHead<'r> {
    pub(super) fn of<B>(request: &'r Request<B>) -> Self {
        Self { method: request.method(), uri: request.uri(), headers: request.headers() }
    }

    pub(super) const fn of_parts(parts: &'r Parts) -> Self {
        Self { method: &parts.method, uri: &parts.uri, headers: &parts.headers }
    }
}

/// Both have a method, an address and headers.
macro_rules! head {
    ($($head:ty),*) => {$(
        impl RequestHead for $head {
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
                self.uri.authority().map(Authority::as_str)
            }

            fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
                lines(&self.headers, name)
            }
        }
    )*};
}

head!(Parts, HttpHead<'_>);

impl<B> ResponseHead for http::Response<B> {
    fn status(&self) -> u16 {
        self.status().as_u16()
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        lines(self.headers(), name)
    }

    fn set(&mut self, name: &'static str, value: HeaderValue) {
        self.headers_mut().insert(header_name(name), value);
    }

    // Looks for the name once.
    fn set_missing(&mut self, name: &'static str, value: impl FnOnce() -> HeaderValue) {
        self.headers_mut().entry(header_name(name)).or_insert_with(value);
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

fn header_name(name: &'static str) -> HeaderName {
    known(name).unwrap_or_else(|| HeaderName::from_static(name))
}

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
