//! The demo as its visitors meet it: the real program on a real port, asked over HTTP.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

mod program;

use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, testing};
use program::Site;
use reqwest::redirect::Policy;
use reqwest::{Client, Response, StatusCode};

fn browser(follow: bool) -> Client {
    let policy = if follow { Policy::limited(5) } else { Policy::none() };
    Client::builder().cookie_store(true).redirect(policy).no_proxy().build().unwrap()
}

fn header<'r>(response: &'r Response, name: &str) -> &'r str {
    response.headers().get(name).map_or("", |value| value.to_str().unwrap())
}

/// The `lang` and `dir` of a page, its title, and its first paragraph of content.
fn essence(html: &str) -> String {
    let between = |start: &str, end: &str| {
        html.split_once(start).and_then(|(_, rest)| rest.split_once(end)).map_or("", |(text, _)| text)
    };
    format!(
        "{} | {} | {}",
        between("<html ", ">"),
        between("<title ", "</title>").rsplit_once("\">").map_or("", |(_, title)| title),
        between("<p class=\"lead\">", "</p>")
    )
}

#[tokio::test]
async fn a_sailing_says_in_words_when_it_leaves() {
    // The first sailing departs at 9:30.
    for (time, expected) in [
        ("09:00", ["in 30 minutes", "ymhen 30 munud", "za 30 minut", "خلال 30 دقيقة"]),
        ("09:29:15", ["in 45 seconds", "ymhen 45 eiliad", "za 45 sekund", "خلال 45 ثانية"]),
        ("11:31", ["2 hours ago", "2 awr yn ôl", "2 godziny temu", "قبل ساعتين"]),
    ] {
        let site = Site::run(Command::new(env!("CARGO_BIN_EXE_ferry")).args(["--time", time]));
        for (locale, expected) in ["", "/cy", "/pl", "/ar"].into_iter().zip(expected) {
            let page = browser(true).get(site.at(&format!("{locale}/sailings/1"))).send().await.unwrap();
            let html = page.text().await.unwrap();
            assert!(html.contains(expected), "{time} {locale}: {html}");
        }
    }
}

#[tokio::test]
async fn every_page_speaks_every_language() {
    let (site, browser) = (Site::open(), browser(true));
    let mut seen = Vec::new();
    for locale in ["", "/en-GB", "/cy", "/pl", "/ar"] {
        for page in ["/", "/sailings/2", "/trip", "/sailings/99"] {
            let path =
                if page == "/" && !locale.is_empty() { locale.to_owned() } else { format!("{locale}{page}") };
            let response = browser.get(site.at(&path)).send().await.unwrap();
            let (status, language) =
                (response.status().as_u16(), header(&response, "content-language").to_owned());
            let html = response.text().await.unwrap();
            assert!(!html.contains('⟦') && !html.contains("{$"), "{path}: {html}");
            assert_eq!(html.matches("<li><a href=\"/locale?").count(), 5, "{path} has a menu");
            assert_eq!(html.matches("rel=\"alternate\"").count(), 6, "{path} announces its addresses");
            assert_eq!(html.matches("aria-current").count(), 1, "{path} marks one language");
            seen.push(format!("{path} {status} {language} | {}", essence(&html)));
        }
    }
    insta::assert_snapshot!(seen.join("\n"));
}

#[tokio::test]
async fn a_walk_over_all_pages_in_all_languages_finds_nothing() {
    let config = Config::from_file(concat!(env!("CARGO_MANIFEST_DIR"), "/crow-fly.toml")).unwrap();
    let crow = CrowFly::new(config, Memory::default());
    let (site, browser) = (Site::open(), browser(false));
    let ask = async |request: axum::http::Request<()>| {
        let cookies = request.headers()["cookie"].clone();
        let address = site.at(&request.uri().to_string());
        let response = browser.get(address).header("cookie", cookies).send().await.unwrap();
        let mut answer = axum::http::Response::builder().status(response.status());
        answer.headers_mut().unwrap().extend(response.headers().clone());
        answer.body(response.text().await.unwrap()).unwrap()
    };
    let walk = testing::Site::new(&crow, ask).walk(["/", "/sailings/2", "/trip", "/trip?boat=Curlew"]).await;
    assert_eq!(walk.asked(), 20);
    walk.assert_right();
}

#[tokio::test]
async fn a_first_visit_a_switch_and_a_return() {
    let (site, browser) = (Site::open(), browser(false));
    let get = |path: &str| browser.get(site.at(path)).header("accept-language", "pl, en;q=0.5").send();
    let first = get("/").await.unwrap();
    assert_eq!((first.status(), header(&first, "location")), (StatusCode::FOUND, "/pl"));

    let switched = get("/locale?to=cy&return=%2F%3Fboat%3DCurlew").await.unwrap();
    assert_eq!(header(&switched, "location"), "/cy?boat=Curlew");
    let page = get("/cy?boat=Curlew").await.unwrap().text().await.unwrap();
    assert!(page.contains("<html lang=\"cy\" dir=\"ltr\">") && page.contains("tri hwyliad"), "{page}");
    assert_eq!(header(&get("/").await.unwrap(), "location"), "/cy");

    get("/locale?to=en&return=/").await.unwrap();
    assert_eq!(get("/").await.unwrap().status(), StatusCode::OK);
    assert_eq!(get("/locale?to=xx&return=/").await.unwrap().status(), StatusCode::BAD_REQUEST);
    let forged = get("/locale?to=en&return=//evil.example").await.unwrap();
    assert_eq!(header(&forged, "location"), "/.//evil.example");
    assert_eq!(get("/de").await.unwrap().status(), StatusCode::NOT_FOUND);
    assert_eq!(get("/assets/ferry.css").await.unwrap().status(), StatusCode::OK);
    for path in ["/assets/nope.css", "/cy/assets/ferry.css"] {
        let missing = get(path).await.unwrap();
        assert_eq!(
            (missing.status(), header(&missing, "content-language")),
            (StatusCode::NOT_FOUND, ""),
            "{path}"
        );
    }
}

/// A name that no booking has room for.
const LONG: &str = "Mair of the Long Marsh, of the Longer Marsh, and of the Longest Marsh of all";

#[tokio::test]
async fn a_booking_and_its_mistakes() {
    let (site, browser) = (Site::open(), browser(true));
    let book =
        |path: &str, form: [(&'static str, &'static str); 2]| browser.post(site.at(path)).form(&form).send();
    let mut errors = Vec::new();
    for (path, form) in [
        ("/sailings/3", [("name", ""), ("seats", "5")]),
        ("/cy/sailings/3", [("name", "Mair"), ("seats", "5")]),
        ("/pl/sailings/3", [("name", " "), ("seats", "5")]),
        ("/ar/sailings/3", [("name", LONG), ("seats", "0")]),
        ("/en-GB/sailings/3", [("name", LONG), ("seats", "three")]),
        ("/pl/sailings/4", [("name", "x"), ("seats", "1")]),
    ] {
        let response = book(path, form).await.unwrap();
        assert_eq!(response.status(), StatusCode::UNPROCESSABLE_ENTITY);
        let html = response.text().await.unwrap();
        for error in html.split("role=\"alert\">").skip(1) {
            errors.push(format!("{path}: {}", error.split_once("</p>").unwrap().0));
        }
    }
    insta::assert_snapshot!(errors.join("\n"));

    let booked = book("/pl/sailings/3", [("name", "<b>Łucja & Mair</b>"), ("seats", "3")]).await.unwrap();
    assert!(booked.url().path() == "/pl/trip");
    let html = booked.text().await.unwrap();
    assert!(html.contains("<bdi>&lt;b&gt;Łucja &amp; Mair&lt;/b&gt;</bdi>"), "{html}");
    assert!(html.contains("3 miejsca") && html.contains("37,50 korony"), "{html}");
    let welsh = browser.get(site.at("/cy/trip")).send().await.unwrap().text().await.unwrap();
    assert!(welsh.contains("3 sedd o"), "{welsh}");
}

#[tokio::test]
async fn a_taken_port_is_replaced_by_a_free_one() {
    let taken = std::net::TcpListener::bind(("127.0.0.1", 0)).unwrap();
    let port = taken.local_addr().unwrap().port().to_string();
    let mut program = Command::new(env!("CARGO_BIN_EXE_ferry"))
        .args(["--port", &port])
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let lines: Vec<String> =
        BufReader::new(program.stdout.take().unwrap()).lines().take(3).map(Result::unwrap).collect();
    program.kill().unwrap();
    program.wait().unwrap();
    assert_eq!(lines[0], format!("Port {port} is in use; taking a free one."));
    assert!(!lines[2].contains(&format!(":{port}/")));
}

#[cfg(unix)]
#[tokio::test]
async fn operators_see_the_health_and_have_catalogs_reloaded() {
    let site = Site::open();
    let client = browser(true);
    let json = async |path: &str| {
        let response = client.get(site.at(path)).send().await.unwrap();
        let status = response.status();
        (status, serde_json::from_str::<serde_json::Value>(&response.text().await.unwrap()).unwrap())
    };
    client.get(site.at("/cy")).send().await.unwrap();
    let (status, health) = json("/health").await;
    assert_eq!((status, health["status"].as_str()), (StatusCode::OK, Some("ready")));
    let sections = |locale: &str| {
        let locales = health["locales"].as_array().unwrap().iter();
        let sections = locales.clone().find(|found| found["locale"] == locale).unwrap()["sections"].clone();
        let loaded = sections.as_array().unwrap().iter().filter(|section| section["status"] == "ready");
        loaded.map(|section| section["section"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    // The page and its menu need these; the trip and the other languages wait until somebody comes.
    assert_eq!(
        (sections("cy"), sections("pl")),
        (vec!["common".into(), "home".into(), "sailing".into()], vec![])
    );
    let (_, misses) = json("/misses").await;
    assert_eq!(misses.as_array().map(Vec::len), Some(0), "{misses}");
    assert_eq!(site.answer_to("HUP", "catalogs"), "The catalogs are as they lie on disk.");
}

#[tokio::test]
async fn every_stop_of_the_tour_is_there() {
    let (site, browser) = (Site::open(), browser(true));
    let tour = browser.get(site.at("/tour")).send().await.unwrap().text().await.unwrap();
    let stops = tour.split("<td><a href=\"").skip(1).filter_map(|rest| rest.split('"').next());
    let stops: Vec<String> = stops.map(|address| address.replace("&amp;", "&")).collect();
    assert!(stops.len() > 10, "{tour}");
    for stop in stops {
        let status = browser.get(site.at(&stop)).send().await.unwrap().status().as_u16();
        assert_eq!(status, if stop == "/cy/nowhere" { 404 } else { 200 }, "{stop}");
    }
    // The files are those that it names.
    let files = tour.split("<code>").skip(2).filter_map(|rest| rest.split("</code>").next());
    for file in files.flat_map(|files| files.split(", ")).filter(|file| !file.starts_with('[')) {
        let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR"));
        let is_there = folder.join(file).exists() || folder.join("../ferry-messages").join(file).exists();
        assert!(is_there, "{file}");
    }
}
