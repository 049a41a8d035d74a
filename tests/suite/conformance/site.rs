//! The site that is asked: its policies, its pages, and what a request and its answer are made of.

use crow_fly::sessions::{SessionEntries, SessionEntry};
use crow_fly::source::Memory;
use crow_fly::web::VisitorSettings;
use crow_fly::{Config, Translator};

/// A policy as it is written, and by name.
pub(crate) struct Policy {
    pub(crate) name: &'static str,
    pub(crate) text: &'static str,
}

pub(crate) const POLICIES: [Policy; 10] = [
    Policy { name: "usual", text: "" },
    Policy { name: "prefixed", text: "bare-default = false" },
    Policy {
        name: "everywhere",
        text: "redirect = 'everywhere'\nsources = ['path', 'cookie', 'session', 'accept-language']",
    },
    Policy { name: "never", text: "redirect = 'never'\nbare-default = false" },
    Policy {
        name: "negotiated",
        text: "sources = ['query', 'header', 'host', 'visitor', 'session', 'cookie', 'accept-language']\nheader = 'x-site-language'\nhosts = { 'promy.example' = 'pl' }",
    },
    Policy {
        name: "zone",
        text: "sources = ['path', 'visitor', 'session', 'cookie']\ntime-zone = 'visitor'",
    },
    Policy { name: "base", text: "base = '/shop'" },
    Policy {
        name: "chosen",
        text: "prefixes = { pl = 'polska' }\nformer-prefixes = { pl = ['pl', 'poland'] }",
    },
    Policy {
        name: "area",
        text: "[areas.'/api']\nsources = ['header', 'query', 'accept-language']\nheader = 'x-site-language'",
    },
    Policy { name: "formats", text: "sources = ['path', 'cookie', 'accept-language']\nformats = 'visitor'" },
];

/// Policies that only the table asks: the reference does not know them.
pub(crate) const MORE: [Policy; 3] = [
    Policy { name: "mounted", text: "base = '/app'\nbase-stripped = true" },
    Policy { name: "draft", text: "" },
    Policy {
        name: "board",
        text: "sources = ['path', 'visitor', 'session', 'cookie']\ntime-zone = 'visitor'\n[time-zone]\npages = ['/sailings/{id}']",
    },
];

pub(crate) fn config(policy: &str) -> Config {
    let base = if policy == "base" { "/shop" } else { "" };
    let text = POLICIES.iter().chain(&MORE).find(|known| known.name == policy).unwrap().text;
    let drafts = if policy == "draft" { "drafts = ['pl']" } else { "" };
    Config::parse(&format!(
        "default = 'en'\nlocales = ['en', 'cy', 'pl']\ndevelopment = false\n{drafts}\n[paths]\n'{base}/sailings/{{id}}' = {{ cy = ['{base}/teithiau/{{id}}', '{base}/hwyliadau/{{id}}'] }}\n[policy]\nskip = ['/assets', '/shop/assets']\n{text}"
    ))
    .unwrap()
}

pub(crate) fn catalogs() -> Memory {
    Memory::new([
        ("en", "home", "words = 'words'"),
        ("cy", "home", "words = 'geiriau'"),
        ("pl", "home", "words = 'słowa'"),
    ])
}

/// A request, and what is known of its visitor.
#[derive(Clone, Debug, Default)]
pub(crate) struct Ask {
    pub(crate) policy: &'static str,
    pub(crate) method: &'static str,
    /// Path and query.
    pub(crate) target: &'static str,
    pub(crate) headers: Vec<(&'static str, &'static str)>,
    pub(crate) session: Session,
    /// The locale in the signed-in visitor's settings.
    pub(crate) visitor: Option<&'static str>,
    pub(crate) form: &'static str,
}

/// The session of a request.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum Session {
    #[default]
    None,
    /// It has nothing of ours.
    Empty,
    Text(&'static str),
    /// It has a number under our key.
    OtherShape,
}

impl Session {
    pub(crate) fn entries(self) -> SessionEntries {
        SessionEntries::new(match self {
            Self::None => SessionEntry::NoSession,
            Self::Empty => SessionEntry::Empty,
            Self::Text(text) => SessionEntry::Text(text.to_owned()),
            Self::OtherShape => SessionEntry::OtherShape,
        })
    }
}

impl Ask {
    pub(crate) fn path(&self) -> &'static str {
        self.target.split('?').next().unwrap()
    }

    pub(crate) fn query(&self) -> Option<&'static str> {
        self.target.split_once('?').map(|(_, query)| query)
    }

    pub(crate) fn header(&self, name: &str) -> Option<&'static str> {
        self.headers.iter().find(|(other, _)| *other == name).map(|(_, value)| *value)
    }

    pub(crate) fn settings(&self) -> Option<VisitorSettings> {
        self.visitor.map(|locale| VisitorSettings::new().with_locale(locale))
    }
}

/// What is answered, as far as it is ours.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(crate) struct Answer {
    pub(crate) status: u16,
    /// `location`, `content-language`, `vary`, `cache-control`, `allow` and our cookies, in this order.
    pub(crate) headers: Vec<(String, String)>,
    pub(crate) body: String,
    /// Whether the session was written.
    pub(crate) session_written: bool,
}

/// The headers that are compared.
pub(crate) const HEADERS: [&str; 6] =
    ["location", "content-language", "vary", "cache-control", "allow", "set-cookie"];

impl Answer {
    pub(crate) fn header(&mut self, name: &str, value: impl Into<String>) {
        self.headers.push((name.to_owned(), value.into()));
    }
}

/// The application: what it answers, with which status, under a path and query.
pub(crate) fn page(translator: Option<&Translator>, path_and_query: &str) -> (u16, String) {
    let said = translator.map(|t| (t.locale().to_string(), t.text("home.words")));
    let (locale, words) = said.unwrap_or(("no locale".to_owned(), "no words".to_owned()));
    (status(path_and_query), format!("{locale} {words} {path_and_query}"))
}

/// The status of the application's answer: it has a home page, sailings, a cart and assets.
pub(crate) fn status(path_and_query: &str) -> u16 {
    let path = path_and_query.split('?').next().unwrap();
    let known = [
        "/",
        "/my",
        "/api/x",
        "/sailings/7",
        "/shop",
        "/shop/",
        "/shop/cart",
        "/assets/x.css",
        "/shop/assets/x.css",
    ];
    if known.contains(&path) { 200 } else { 404 }
}
