//! The slow reference: what `docs/configuration.md` and the documentation of the layer say of a request, written down
//! without regard for speed, and without any of the library's own code.

#![allow(
    clippy::match_same_arms,
    clippy::struct_excessive_bools,
    reason = "case by case, as the documentation has it"
)]

use crate::conformance::site::{Answer, Ask, POLICIES, Session, status};

const LOCALES: [&str; 3] = ["en", "cy", "pl"];

/// A policy, read from its text.
struct Rules {
    sources: Vec<String>,
    bare_default: bool,
    redirect: &'static str,
    base: &'static str,
    pages_are_private: bool,
    formats_follow: bool,
    zone_follows: bool,
    /// Whether `/api` is an area of its own.
    has_area: bool,
    /// Whether the Polish prefix is `polska`, and was `pl` and `poland`.
    polish_is_renamed: bool,
}

impl Rules {
    /// The rules of the area that a path is in, or of the site.
    fn of(policy: &str, path: &str) -> Self {
        let text = POLICIES.iter().find(|known| known.name == policy).unwrap().text;
        let (site, area) = text.split_once("[areas.'/api']").unwrap_or((text, ""));
        let has_area = !area.is_empty();
        let text = if has_area && below("/api", path) { area } else { site };
        let sources = text.lines().find_map(|line| line.strip_prefix("sources = ["));
        let sources = sources.unwrap_or("'path', 'session', 'cookie', 'accept-language']");
        let (formats_follow, zone_follows) =
            (text.contains("formats = 'visitor'"), text.contains("time-zone = 'visitor'"));
        Self {
            sources: sources
                .trim_end_matches(']')
                .split(", ")
                .map(|word| word.trim_matches('\'').to_owned())
                .collect(),
            bare_default: !text.contains("bare-default = false"),
            redirect: ["never", "everywhere"].into_iter().find(|rule| text.contains(rule)).unwrap_or("root"),
            base: if text.contains("base = '/shop'") { "/shop" } else { "" },
            pages_are_private: formats_follow || zone_follows,
            formats_follow,
            zone_follows,
            has_area,
            polish_is_renamed: text.contains("polska"),
        }
    }

    fn has(&self, source: &str) -> bool {
        self.sources.iter().any(|known| known == source)
    }
}

/// What a path is.
enum Place {
    NotOurs,
    Page { locale: Option<&'static str>, bare: String },
    Moved { to: String },
}

fn below(base: &str, path: &str) -> bool {
    base.is_empty() || path == base || path.starts_with(&format!("{base}/"))
}

/// A value that names a locale, in any case.
fn named(value: &str) -> Option<&'static str> {
    LOCALES.into_iter().find(|locale| locale.eq_ignore_ascii_case(value))
}

fn place(rules: &Rules, path: &str) -> Place {
    let skipped = |path: &str| {
        let path = path.replace("%61", "a").replace("//", "/");
        let area = rules.has_area && rules.has("path") && below("/api", &path);
        area || ["/assets", "/shop/assets"].iter().any(|skip| below(skip, &path))
    };
    if !below(rules.base, path) || skipped(path) {
        return Place::NotOurs;
    }
    if !rules.has("path") {
        return Place::Page { locale: None, bare: path.to_owned() };
    }
    let inner = &path[rules.base.len()..];
    let (first, rest) = first_segment(inner);
    let Some(locale) = of_prefix(rules, first) else { return page_of(rules, None, inner) };
    if skipped(&format!("{}{rest}", rules.base)) {
        return Place::NotOurs;
    }
    match locale {
        // It would be an address of another language: the application has it as it is.
        "en" if rules.bare_default && of_prefix(rules, first_segment(&rest).0).is_some() => {
            Place::Page { locale: None, bare: path.to_owned() }
        }
        "en" if rules.bare_default => moved(rules, "en", &rest),
        locale
            if prefix(rules, locale) != first || inner.strip_prefix('/').unwrap() == format!("{first}/") =>
        {
            moved(rules, locale, &rest)
        }
        locale => page_of(rules, Some(locale), &rest),
    }
}

/// A path with another beginning, where it is the page of a sailing: one segment behind it.
fn renamed(path: &str, from: &str, to: &str) -> String {
    match path.strip_prefix(from) {
        Some(id) if !id.is_empty() && !id.contains('/') => format!("{to}{id}"),
        _ => path.to_owned(),
    }
}

/// The prefix of a locale.
fn prefix<'l>(rules: &Rules, locale: &'l str) -> &'l str {
    if rules.polish_is_renamed && locale == "pl" { "polska" } else { locale }
}

/// The locale of a prefix, or of a former one, in any case.
fn of_prefix(rules: &Rules, segment: &str) -> Option<&'static str> {
    let polish = ["polska", "poland"].iter().any(|known| known.eq_ignore_ascii_case(segment));
    if rules.polish_is_renamed && polish { Some("pl") } else { named(segment) }
}

fn first_segment(inner: &str) -> (&str, String) {
    let after = inner.strip_prefix('/').unwrap_or(inner);
    let first = after.split('/').next().unwrap();
    let rest = &after[first.len()..];
    (first, if rest.is_empty() { "/".to_owned() } else { rest.to_owned() })
}

fn page_of(rules: &Rules, locale: Option<&'static str>, rest: &str) -> Place {
    if locale == Some("cy") && rest.starts_with("/sailings/") {
        return moved(rules, "cy", rest);
    }
    let bare = if locale == Some("cy") { renamed(rest, "/teithiau/", "/sailings/") } else { rest.to_owned() };
    Place::Page { locale, bare: format!("{}{bare}", rules.base) }
}

fn moved(rules: &Rules, locale: &'static str, rest: &str) -> Place {
    let bare = if locale == "cy" { renamed(rest, "/teithiau/", "/sailings/") } else { rest.to_owned() };
    Place::Moved { to: address(rules, locale, &format!("{}{bare}", rules.base)) }
}

/// The address of a page, given by its bare path, in a locale.
fn address(rules: &Rules, locale: &str, bare: &str) -> String {
    let prefixed = rules.has("path") && below(rules.base, bare) && !(locale == "en" && rules.bare_default);
    if !prefixed {
        return if bare.starts_with("//") { format!("/.{bare}") } else { bare.to_owned() };
    }
    let inner = &bare[rules.base.len()..];
    let inner = if locale == "cy" { renamed(inner, "/sailings/", "/teithiau/") } else { inner.to_owned() };
    format!("{}/{}{}", rules.base, prefix(rules, locale), if inner == "/" { "" } else { &inner })
}

/// The locale an Accept-Language header prefers: languages only.
fn accepted(header: &str) -> Option<&'static str> {
    let mut ranges: Vec<(&str, f64)> = header
        .split(',')
        .map(|member| {
            let (range, weight) = member.split_once(";q=").unwrap_or((member, "1"));
            (range.trim(), weight.parse().unwrap())
        })
        .collect();
    ranges.sort_by(|one, other| other.1.total_cmp(&one.1));
    ranges.into_iter().find_map(|(range, _)| named(range))
}

fn cookie(ask: &Ask) -> Option<&'static str> {
    let values: Vec<&str> =
        ask.header("cookie")?.split("; ").filter_map(|pair| pair.strip_prefix("locale=")).collect();
    values.into_iter().find_map(named)
}

fn asked(source: &str, ask: &Ask) -> Option<&'static str> {
    match source {
        "query" => named(ask.query()?.split('&').find_map(|pair| pair.strip_prefix("locale="))?),
        "header" => named(ask.header("x-site-language")?),
        "host" => (ask.header("host")?.split(':').next() == Some("promy.example")).then_some("pl"),
        "visitor" => named(ask.visitor?),
        "session" => match ask.session {
            Session::Text(text) => named(text),
            _ => None,
        },
        "cookie" => cookie(ask),
        "accept-language" => accepted(ask.header("accept-language")?),
        _ => None,
    }
}

/// Whether a bare path is one a preference redirects from.
fn redirects_from(rules: &Rules, bare: &str) -> bool {
    match rules.redirect {
        "never" => false,
        "everywhere" => true,
        _ => matches!(bare.strip_prefix(rules.base), Some("" | "/")),
    }
}

fn preferred(rules: &Rules, ask: &Ask) -> &'static str {
    rules.sources.iter().find_map(|source| asked(source, ask)).unwrap_or("en")
}

/// Whether the address alone says the language, for everybody.
fn address_decides(rules: &Rules, place: &Place) -> bool {
    match place {
        Place::NotOurs => true,
        Place::Page { .. } if !rules.has("path") => false,
        Place::Page { locale: Some(_), .. } => true,
        Place::Page { locale: None, bare } => !redirects_from(rules, bare),
        Place::Moved { to, .. } => address_decides(rules, &self::place(rules, to)),
    }
}

fn vary(rules: &Rules, ask: &Ask, place: &Place) -> String {
    let mut names: Vec<&str> = Vec::new();
    if !address_decides(rules, place) {
        for source in &rules.sources {
            match source.as_str() {
                "query" | "host" if asked(source, ask).is_some() => break,
                "header" => names.push("x-site-language"),
                "visitor" | "session" | "cookie" => names.push("Cookie"),
                "accept-language" => names.push("Accept-Language"),
                _ => {}
            }
        }
    }
    if rules.zone_follows {
        names.push("Cookie");
    }
    if rules.formats_follow {
        names.push("Accept-Language");
    }
    let order = ["x-site-language", "Cookie", "Accept-Language"];
    order.into_iter().filter(|name| names.contains(name)).collect::<Vec<_>>().join(", ")
}

/// The answer to a request.
pub(crate) fn answer(ask: &Ask) -> Answer {
    let rules = Rules::of(ask.policy, ask.path());
    if ask.path() == format!("{}/locale", rules.base) {
        return switched(&rules, ask);
    }
    decided(&rules, ask, ask.path())
}

fn decided(rules: &Rules, ask: &Ask, path: &str) -> Answer {
    let place = place(rules, path);
    let is_page = matches!(ask.method, "GET" | "HEAD");
    let served = |locale: &str, bare: &str| {
        let mut answer = Answer::default();
        let target = match ask.query() {
            Some(query) => format!("{bare}?{query}"),
            None => bare.to_owned(),
        };
        answer.status = status(&target);
        let words = [("en", "words"), ("cy", "geiriau"), ("pl", "słowa")];
        let words = words.iter().find(|(known, _)| *known == locale).unwrap().1;
        answer.body = format!("{locale} {words} {target}");
        answer.header("content-language", locale);
        let vary = vary(rules, ask, &self::place(rules, path));
        if !vary.is_empty() {
            answer.header("vary", vary);
        }
        if rules.pages_are_private {
            answer.header("cache-control", "private");
        }
        answer
    };
    let redirected = |code: u16, to: String| {
        let mut answer = Answer { status: code, ..Answer::default() };
        answer.header("location", ask.query().map_or(to.clone(), |query| format!("{to}?{query}")));
        let vary = vary(rules, ask, &self::place(rules, path));
        if !vary.is_empty() {
            answer.header("vary", vary);
        }
        answer.header("cache-control", if code == 308 { "max-age=3600" } else { "private, no-store" });
        answer
    };
    match &place {
        Place::NotOurs => Answer {
            status: status(ask.target),
            body: format!("no locale no words {}", ask.target),
            ..Answer::default()
        },
        Place::Moved { to, .. } => {
            let there = decided(rules, ask, to);
            if (300..400).contains(&there.status) { there } else { redirected(308, to.clone()) }
        }
        Place::Page { locale: Some(locale), bare } => served(locale, bare),
        Place::Page { locale: None, bare } if !rules.has("path") => served(preferred(rules, ask), bare),
        Place::Page { locale: None, bare } if is_page && redirects_from(rules, bare) => {
            match preferred(rules, ask) {
                "en" if rules.bare_default => served("en", bare),
                locale => redirected(302, address(rules, locale, bare)),
            }
        }
        Place::Page { locale: None, bare } => served("en", bare),
    }
}

/// The switch address.
fn switched(rules: &Rules, ask: &Ask) -> Answer {
    if !matches!(ask.method, "GET" | "HEAD" | "POST") {
        let mut answer = Answer { status: 405, ..Answer::default() };
        answer.header("allow", "GET, HEAD, POST");
        return answer;
    }
    let form = if ask.method == "POST" { ask.form } else { "" };
    let parameters = format!("{}&{form}", ask.query().unwrap_or_default());
    let value = |name: &str| {
        parameters.split('&').find_map(|pair| pair.strip_prefix(&format!("{name}=")).map(str::to_owned))
    };
    let Some(locale) = value("to").and_then(|to| named(&to)) else {
        return Answer { status: 400, ..Answer::default() };
    };
    let back = value("return").filter(|page| page.starts_with('/'));
    let back = back.or_else(|| {
        let (_, rest) = ask.header("referer")?.split_once("://")?;
        let (host, page) = rest.split_at(rest.find('/')?);
        (Some(host) == ask.header("host")).then(|| page.to_owned())
    });
    let back = back.unwrap_or_else(|| "/".to_owned());
    let (path, query) = back
        .split_once('?')
        .map_or((back.as_str(), String::new()), |(path, query)| (path, format!("?{query}")));
    let to = match place(rules, path) {
        Place::NotOurs => back.clone(),
        Place::Page { bare, .. } => address(rules, locale, &bare) + &query,
        Place::Moved { to, .. } => match place(rules, &to) {
            Place::Page { bare, .. } => address(rules, locale, &bare) + &query,
            _ => unreachable!("an address that is moved to is a page"),
        },
    };
    let mut answer = Answer { status: if ask.method == "POST" { 303 } else { 302 }, ..Answer::default() };
    answer.header("location", to);
    answer.header("cache-control", "private, no-store");
    let embedded = ask.header("sec-fetch-site") == Some("cross-site")
        && ask.header("sec-fetch-dest") != Some("document");
    if ask.method != "HEAD" && ask.header("sec-purpose").is_none() && !embedded {
        let cookie = format!("locale={locale}; HttpOnly; SameSite=Lax; Secure; Path=/; Max-Age=31536000");
        answer.header("set-cookie", cookie);
        answer.session_written = rules.has("session") && ask.session != Session::None;
    }
    answer
}
