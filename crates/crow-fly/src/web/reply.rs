//! What Crow Fly answers itself, and what it adds to the application's answers.

use super::head::ResponseHead;
use crate::config::Config;

/// An answer that the application is not asked for: a status and headers, no body.
#[derive(Debug)]
pub(crate) struct Reply {
    pub(crate) status: u16,
    pub(crate) headers: Vec<(String, String)>,
}

impl Reply {
    pub(crate) const fn status(status: u16) -> Self {
        Self { status, headers: Vec::new() }
    }

    /// A redirect: 308 to the one address a page has, 302 and 303 for this visitor only.
    pub(super) fn redirect(status: u16, location: String) -> Self {
        // What is no header's value cannot come from a parsed address; then the page does not exist.
        if !location.bytes().all(|byte| matches!(byte, b' '..=b'~')) {
            return Self::status(404);
        }
        let mut headers = vec![("location".to_owned(), location)];
        if status != 308 {
            headers.push(("cache-control".to_owned(), "private, no-store".to_owned()));
        }
        Self { status, headers }
    }
}

impl ResponseHead for Reply {
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers.iter().filter(move |(other, _)| *other == name).map(|(_, value)| value.as_bytes())
    }

    fn append(&mut self, name: &str, value: &str) {
        self.headers.push((name.to_owned(), value.to_owned()));
    }
}

/// Says the language of the content, unless the application has.
pub(crate) fn content_language(head: &mut impl ResponseHead, locale: &str) {
    if head.lines("content-language").next().is_none() {
        head.append("content-language", locale);
    }
}

/// Adds the request headers that mattered to those that are there.
pub(crate) fn vary(head: &mut impl ResponseHead, names: impl Iterator<Item = &'static str>, config: &Config) {
    for name in names {
        let name = if name == "header" { config.header_name.as_str() } else { name };
        let said = |other: &str| other == "*" || other.eq_ignore_ascii_case(name);
        let there = head
            .lines("vary")
            .filter_map(|line| std::str::from_utf8(line).ok())
            .flat_map(|line| line.split(','))
            .any(|other| said(other.trim()));
        if !there {
            head.append("vary", name);
        }
    }
}
