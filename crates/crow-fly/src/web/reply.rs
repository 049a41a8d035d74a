//! What Crow Fly answers itself, and what it adds to the application's answers.

use std::borrow::Cow;

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

    fn set(&mut self, name: &'static str, value: Cow<'static, str>) {
        self.headers.retain(|(other, _)| *other != name);
        self.headers.push((name, value.into_owned()));
    }
}

/// Says the language of the content, unless the application has.
pub(crate) fn content_language(head: &mut impl ResponseHead, locale: &str) {
    if head.lines("content-language").next().is_none() {
        head.set("content-language", Cow::Owned(locale.to_owned()));
    }
}

/// Adds the request headers that mattered to those that are there; all in one line, since there are shared caches
/// that only read one.
pub(crate) fn vary(head: &mut impl ResponseHead, names: impl Iterator<Item = &'static str>, config: &Config) {
    let mut line = Cow::Borrowed("");
    let mut mattered = names.peekable();
    if mattered.peek().is_some() {
        for there in head.lines("vary").filter_map(|line| std::str::from_utf8(line).ok()) {
            push(&mut line, Cow::Owned(there.trim().to_owned()));
        }
    }
    for name in mattered {
        let name =
            if name == "header" { Cow::Owned(config.header_name.to_string()) } else { Cow::Borrowed(name) };
        let said = |other: &str| other == "*" || other.eq_ignore_ascii_case(&name);
        if !line.split(',').map(str::trim).any(said) {
            push(&mut line, name);
        }
    }
    if !line.is_empty() {
        head.set("vary", line);
    }
}

/// Adds to a list; the usual ones need no new text.
fn push(list: &mut Cow<'static, str>, name: Cow<'static, str>) {
    match (&**list, &*name) {
        ("", _) => *list = name,
        ("Cookie", "Accept-Language") => *list = Cow::Borrowed("Cookie, Accept-Language"),
        _ => {
            let list = list.to_mut();
            list.push_str(", ");
            list.push_str(&name);
        }
    }
}
