//! The addresses of one page in every locale, announced: to search engines, to caches, in a sitemap.

use std::borrow::Cow;
use std::fmt::Write as _;

use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::Html;
use crow_fly_core::policy::Policy;
use crow_fly_core::tag::LanguageTag;

/// The addresses of one page in every locale. Made by [`CrowFly::alternates`](crate::CrowFly::alternates).
///
/// ```
/// use crow_fly::{Config, CrowFly, source::Memory};
///
/// let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
/// let alternates = crow.alternates("https://ferries.example", "/sailings");
/// assert!(alternates.to_html().as_str().contains(
///     r#"<link rel="alternate" hreflang="cy" href="https://ferries.example/cy/sailings">"#
/// ));
/// # Ok::<(), crow_fly::ConfigError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Alternates {
    links: Vec<Alternate>,
}

/// One of the addresses.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct Alternate {
    /// The locale; none for `x-default`, the address for everybody else.
    pub locale: Option<LanguageTag>,
    /// The address, origin and all.
    pub address: String,
}

impl Alternate {
    /// The value of `hreflang`: the tag, or `x-default`.
    pub fn hreflang(&self) -> String {
        self.locale.as_ref().map_or_else(|| "x-default".to_owned(), ToString::to_string)
    }
}

impl Alternates {
    /// `page` is the page's bare path in a locale; none where there is no such page.
    pub(crate) fn of<'p>(
        policy: &Policy,
        origin: &str,
        page: impl Fn(LocaleId) -> Option<Cow<'p, str>>,
    ) -> Self {
        if !policy.uses_path() {
            return Self { links: Vec::new() };
        }
        let origin = origin.trim_end_matches('/');
        let at = |locale| {
            let page = page(locale)?;
            let path = page.split(['?', '#']).next().unwrap_or_default();
            Some(format!("{origin}{}", policy.path(locale, path)))
        };
        let set = policy.set();
        let locales = set
            .offered()
            .filter_map(|(id, tag)| Some(Alternate { locale: Some(tag.clone()), address: at(id)? }));
        let others = at(set.default_locale()).map(|address| Alternate { locale: None, address });
        Self { links: locales.chain(others).collect() }
    }

    /// The addresses, in the order of the locales, `x-default` last.
    pub fn links(&self) -> &[Alternate] {
        &self.links
    }

    /// `<link rel="alternate" hreflang="…" href="…">` elements for a page's head, one a line.
    pub fn to_html(&self) -> Html {
        self.elements(r#"<link rel="alternate" hreflang=""#, ">")
    }

    /// `<xhtml:link rel="alternate" …/>` elements for a `<url>` of an XML sitemap, one a line.
    pub fn to_sitemap(&self) -> String {
        self.elements(r#"<xhtml:link rel="alternate" hreflang=""#, "/>").into_string()
    }

    /// The `<url>` elements of this page in an XML sitemap: one for each locale, each with all addresses.
    pub(crate) fn to_urls(&self) -> Html {
        let mut urls = Html::default();
        let all = self.to_sitemap();
        for link in self.links.iter().filter(|link| link.locale.is_some()) {
            urls.push_trusted("<url>\n<loc>");
            urls.push(&link.address);
            urls.push_trusted("</loc>\n");
            urls.push_trusted(&all);
            urls.push_trusted("</url>\n");
        }
        urls
    }

    fn elements(&self, start: &str, end: &str) -> Html {
        let mut elements = Html::default();
        for link in &self.links {
            elements.push_trusted(start);
            elements.push(&link.hreflang());
            elements.push_trusted("\" href=\"");
            elements.push(&link.address);
            elements.push_trusted("\"");
            elements.push_trusted(end);
            elements.push_trusted("\n");
        }
        elements
    }

    /// The value of a `Link` header (RFC 8288).
    pub fn to_header(&self) -> String {
        let mut value = String::new();
        for link in &self.links {
            let separator = if value.is_empty() { "" } else { ", " };
            // What would end the address early, or the header, stays encoded.
            let plain = |letter: char| letter.is_ascii_graphic() && !matches!(letter, '<' | '>' | '"');
            let address: String = link.address.chars().filter(|letter| plain(*letter)).collect();
            // Writing to a `String` does not fail.
            let _ =
                write!(value, "{separator}<{address}>; rel=\"alternate\"; hreflang=\"{}\"", link.hreflang());
        }
        value
    }
}
