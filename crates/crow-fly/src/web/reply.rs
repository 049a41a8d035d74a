//! What Crow Fly answers itself, and what it adds to the application's answers.

use super::head::ResponseHead;
use crate::config::Config;

/// An answer that the application is not asked for: a status and headers, no body.
#[derive(Debug)]
pub(crate) struct Reply {
    pub(crate) status: u16,
    pub(crate) headers: Vec<(&'static str, String)>,
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
        let mut headers = vec![("location", location)];
        if status != 308 {
            headers.push(("cache-control", "private, no-store".to_owned()));
        }
        Self { status, headers }
    }
}

impl ResponseHead for Reply {
    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        self.headers.iter().filter(move |(other, _)| *other == name).map(|(_, value)| value.as_bytes())
    }

    fn set(&mut self, name: &'static str, value: &str) {
        self.headers.retain(|(other, _)| *other != name);
        self.headers.push((name, value.to_owned()));
    }
}

/// Says the language of the content, unless the application has.
pub(crate) fn content_language(head: &mut impl ResponseHead, locale: &str) {
    if head.lines("content-language").next().is_none() {
        head.set("content-language", locale);
    }
}

/// Adds the request headers that mattered to those that are there; all in one line, since there are shared caches
/// that only read one.
pub(crate) fn vary(head: &mut impl ResponseHead, names: impl Iterator<Item = &'static str>, config: &Config) {
    let mut names =
        names.map(|name| if name == "header" { config.header_name.as_str() } else { name }).peekable();
    if names.peek().is_none() {
        return;
    }
    let mut line = String::new();
    for there in head.lines("vary").filter_map(|line| std::str::from_utf8(line).ok()) {
        push(&mut line, there.trim());
    }
    let said = |line: &str, name: &str| {
        line.split(',').map(str::trim).any(|other| other == "*" || other.eq_ignore_ascii_case(name))
    };
    for name in names {
        if !said(&line, name) {
            push(&mut line, name);
        }
    }
    head.set("vary", &line);
}

fn push(list: &mut String, name: &str) {
    if !list.is_empty() {
        list.push_str(", ");
    }
    list.push_str(name);
}
