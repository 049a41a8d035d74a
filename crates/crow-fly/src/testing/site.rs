//! A walk over a site: all pages in all languages, as a visitor sees them who uses the switch.

use std::collections::BTreeSet;
use std::fmt;

use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::route::{PathMatch, is_below};
use http::{Request, Response, header};

use super::html::{Piece, pieces};
use crate::crow_fly::CrowFly;
use crate::store::MissKind;

/// How many redirects are followed.
const MOST_REDIRECTS: usize = 8;

/// A site that can be asked, and the application that it is made with.
///
/// ```
/// # use axum::{Router, routing::get};
/// # use crow_fly::{testing, source::Memory, Config, CrowFly, Translator};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
/// # let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Ferries'"), ("cy", "home", "title = 'Llongau'")]));
/// # async fn home(t: Translator) -> axum::response::Html<String> {
/// #     axum::response::Html(format!("<html lang={} dir={}>{} <a href=\"{}\">…</a>", t.locale(), t.direction(), t.text("home.title"), t.path("/trip")))
/// # }
/// let app = crow.router(Router::new().route("/", get(home)).route("/trip", get(home)));
/// testing::Site::new(&crow, testing::router(app)).walk(["/", "/trip"]).await.assert_right();
/// # Ok(()) }
/// ```
#[derive(Clone, Debug)]
pub struct Site<'c, A> {
    crow: &'c CrowFly,
    ask: A,
}

/// What a walk has found.
#[derive(Clone, Debug, Default)]
pub struct Walk {
    asked: usize,
    problems: BTreeSet<String>,
}

impl Walk {
    /// How many pages were asked for.
    pub const fn asked(&self) -> usize {
        self.asked
    }

    /// What is wrong, sorted by language and page: `pl /trip: …`. A text that several pages lack is named for the first of them.
    pub fn problems(&self) -> impl Iterator<Item = &str> {
        self.problems.iter().map(String::as_str)
    }

    /// Fails the test where something is wrong.
    ///
    /// # Panics
    /// With all problems.
    #[track_caller]
    pub fn assert_right(&self) {
        assert!(self.problems.is_empty(), "of {} pages, some are not right:\n{self}", self.asked);
    }
}

impl fmt::Display for Walk {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.problems.iter().try_for_each(|problem| writeln!(f, "{problem}"))
    }
}

/// The path and the query of an address: a site that names its own host is asked without it.
fn path_of(address: &str) -> String {
    let whole = address.parse::<http::Uri>().ok();
    let path = whole.as_ref().and_then(http::Uri::path_and_query);
    path.map_or_else(|| address.to_owned(), ToString::to_string)
}

/// The cookies of one visitor.
#[derive(Default)]
struct Cookies(Vec<(String, String)>);

impl Cookies {
    fn header(&self) -> String {
        let cookies: Vec<String> = self.0.iter().map(|(name, value)| format!("{name}={value}")).collect();
        cookies.join("; ")
    }

    fn take<B>(&mut self, response: &Response<B>) {
        let set = response.headers().get_all(header::SET_COOKIE).iter();
        for cookie in set.filter_map(|value| cookie::Cookie::parse(value.to_str().ok()?).ok()) {
            self.0.retain(|(name, _)| name != cookie.name());
            let is_deleted = cookie.max_age().is_some_and(|age| age.whole_seconds() <= 0);
            if !is_deleted {
                self.0.push((cookie.name().to_owned(), cookie.value().to_owned()));
            }
        }
    }
}

impl<'c, A: AsyncFn(Request<()>) -> Response<String>> Site<'c, A> {
    /// A site that answers requests by `ask`: [`router`](super::router) makes one of an axum application; a client of HTTP is
    /// another.
    pub const fn new(crow: &'c CrowFly, ask: A) -> Self {
        Self { crow, ask }
    }

    /// Asks for pages, by their bare paths, in each language: a visitor with cookies comes by the switch. Reported are answers
    /// that are errors, texts that are missing or in another language, another `lang` or `dir` than the language has, and
    /// links that leave the language.
    pub async fn walk<'p>(&self, pages: impl IntoIterator<Item = &'p str>) -> Walk {
        let (mut walk, pages) = (Walk::default(), pages.into_iter().collect::<Vec<_>>());
        let set = self.crow.config().policy().set();
        for (locale, tag) in set.iter() {
            let mut cookies = Cookies::default();
            for page in &pages {
                walk.asked += 1;
                let mut say = |problem: String| walk.problems.insert(format!("{tag} {page}: {problem}"));
                let known: BTreeSet<String> = self.missed(&tag.to_string()).collect();
                let (path, response) = self.visit(self.crow.switch_address(tag, page), &mut cookies).await;
                let status = response.status();
                if !status.is_success() {
                    say(format!("{path} answers {status}"));
                    continue;
                }
                self.missed(&tag.to_string()).filter(|missed| !known.contains(missed)).for_each(|missed| {
                    say(missed);
                });
                let of_header = response.headers().get(header::CONTENT_LANGUAGE);
                let of_header = of_header.and_then(|value| value.to_str().ok());
                if of_header.is_some_and(|language| language != tag.to_string()) {
                    say(format!("{path} has `Content-Language: {}`", of_header.unwrap_or_default()));
                }
                for problem in self.problems_of(response.body(), locale) {
                    say(problem);
                }
            }
        }
        walk
    }

    /// Asks for an address and follows where it leads; gives the last path, too.
    async fn visit(&self, address: String, cookies: &mut Cookies) -> (String, Response<String>) {
        let mut address = address;
        for _ in 0..MOST_REDIRECTS {
            let request = Request::get(&address).header(header::COOKIE, cookies.header()).body(());
            let request = request.unwrap_or_else(|error| panic!("`{address}` is no address: {error}"));
            let response = (self.ask)(request).await;
            cookies.take(&response);
            let leads_to = response.headers().get(header::LOCATION).and_then(|value| value.to_str().ok());
            match leads_to.filter(|_| response.status().is_redirection()) {
                Some(next) => address = path_of(next),
                None => return (address, response),
            }
        }
        panic!("`{address}` leads to one address after another")
    }

    /// What was missing in a locale until now, in words.
    fn missed(&self, locale: &str) -> impl Iterator<Item = String> {
        let report = self.crow.misses();
        let all: Vec<String> = report
            .iter()
            .filter(|miss| miss.locale == locale)
            .map(|miss| match miss.kind {
                MissKind::FellBack => format!("`{}` is in another language", miss.key),
                MissKind::Missing(_) => format!("`{}` is missing", miss.key),
            })
            .collect();
        all.into_iter()
    }

    fn problems_of(&self, page: &str, locale: LocaleId) -> Vec<String> {
        let config = self.crow.config();
        let tag = config.policy().set().tag(locale);
        let (language, direction) = (tag.to_string(), Direction::of(tag));
        let mut problems = Vec::new();
        // The element of a menu that names another language, while it is open.
        let mut menu: Option<&str> = None;
        for piece in &pieces(page) {
            let Piece::Open { name, .. } = piece else {
                if let Piece::Close(name) = piece
                    && menu == Some(*name)
                {
                    menu = None;
                }
                if let Piece::Text(text) = piece
                    && let Some(shown) = text.split("{$").nth(1)
                {
                    let name = shown.split(['}', ' ']).next().unwrap_or_default();
                    problems.push(format!("a placeholder is shown: `{{${name}}}`"));
                }
                continue;
            };
            if name.eq_ignore_ascii_case("html") {
                match piece.attribute("lang") {
                    Some(lang) if lang == language => {}
                    Some(lang) => problems.push(format!("`lang` of the page is `{lang}`")),
                    None => problems.push("the page has no `lang`".to_owned()),
                }
                let dir = piece.attribute("dir");
                if dir.unwrap_or("ltr") != direction.as_str() {
                    problems.push(format!("`dir` of the page is `{}`", dir.unwrap_or("ltr")));
                }
                continue;
            }
            // A menu says each language in itself: links to the switch, and to the page in another language.
            let target = piece.attribute("href").or_else(|| piece.attribute("action")).unwrap_or_default();
            let leads_elsewhere = piece.attribute("hreflang").is_some()
                || name.eq_ignore_ascii_case("link")
                || target.split('?').next().is_some_and(|path| path.ends_with(config.switch_path()))
                || is_below(crate::inspector::PATH, target);
            let is_of_menu = leads_elsewhere || name.eq_ignore_ascii_case("option");
            if is_of_menu && menu.is_none() && !name.eq_ignore_ascii_case("link") {
                menu = Some(*name);
            }
            let other = piece.attribute("lang").filter(|lang| *lang != language && menu.is_none());
            if let Some(lang) = other {
                problems.push(format!("a text is in `{lang}`"));
            }
            if !leads_elsewhere && self.leaves(target, locale) {
                problems.push(format!("`{target}` leaves the language"));
            }
        }
        problems
    }

    /// Whether a link leads to a page in another language.
    fn leaves(&self, link: &str, locale: LocaleId) -> bool {
        let config = self.crow.config();
        let (policy, set) = (config.policy(), config.policy().set());
        let Some(path) = link.split(['?', '#']).next().filter(|path| path.starts_with('/')) else {
            return false;
        };
        if path.starts_with("//") || is_below(crate::inspector::PATH, path) {
            return false;
        }
        match policy.routes().read(path) {
            PathMatch::Skipped => false,
            PathMatch::Moved { locale: other, .. } | PathMatch::Page { locale: Some(other), .. } => {
                other != locale
            }
            // Without a prefix it is the default locale's, or the visitor is led on.
            PathMatch::Page { locale: None, path: bare } => {
                locale != set.default_locale()
                    && policy.path(set.default_locale(), &bare) == path
                    && policy.path(locale, &bare) != path
            }
        }
    }
}
