//! The demo in a real browser: Debian's Chromium, headless, driven by the W3C WebDriver protocol. Skipped, with a
//! word, where `chromedriver` is not installed.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

mod program;

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use program::Site;
use reqwest::Client;
use serde_json::{Value, json};

/// The driver that opens browsers; stopped when it is dropped.
struct Driver {
    program: Child,
    address: String,
    client: Client,
}

/// One browser with a profile of its own; it forgets everything when it is closed.
struct Browser<'d> {
    driver: &'d Driver,
    session: String,
}

impl Driver {
    /// None where it is not installed.
    fn start() -> Option<Self> {
        let mut command = Command::new("chromedriver");
        let Ok(mut program) = command.arg("--port=0").stdout(Stdio::piped()).stderr(Stdio::null()).spawn()
        else {
            let required = std::env::var_os("REQUIRE_NEIGHBOURS").is_some_and(|value| value == "1");
            assert!(!required, "`chromium-driver` is not installed, and REQUIRE_NEIGHBOURS=1 is set");
            eprintln!("skipped: install Debian's package `chromium-driver` to run this test");
            return None;
        };
        let mut lines = BufReader::new(program.stdout.take().unwrap()).lines();
        let port = lines.find_map(|line| {
            let line = line.ok()?;
            Some(line.split_once("successfully on port ")?.1.trim_end_matches('.').to_owned())
        });
        std::thread::spawn(move || lines.for_each(drop));
        let address = format!("http://127.0.0.1:{}", port.unwrap());
        Some(Self { program, address, client: Client::builder().no_proxy().build().unwrap() })
    }

    async fn post(&self, path: &str, body: Value) -> Value {
        let request = self.client.post(format!("{}{path}", self.address));
        let answer = request.header("content-type", "application/json").body(body.to_string());
        let answer: Value =
            serde_json::from_str(&answer.send().await.unwrap().text().await.unwrap()).unwrap();
        assert!(answer["value"]["error"].is_null(), "{path}: {answer}");
        answer["value"].clone()
    }

    async fn open(&self, languages: &str) -> Browser<'_> {
        let arguments = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run"];
        let arguments: Vec<String> =
            arguments.iter().map(ToString::to_string).chain([format!("--accept-lang={languages}")]).collect();
        let wanted =
            json!({ "capabilities": { "alwaysMatch": { "goog:chromeOptions": { "args": arguments } } } });
        let session = self.post("/session", wanted).await["sessionId"].as_str().unwrap().to_owned();
        Browser { driver: self, session }
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = self.program.kill();
        let _ = self.program.wait();
    }
}

impl Browser<'_> {
    async fn post(&self, command: &str, body: Value) -> Value {
        self.driver.post(&format!("/session/{}/{command}", self.session), body).await
    }

    async fn visit(&self, address: &str) {
        self.post("url", json!({ "url": address })).await;
    }

    /// Follows the link to a language in the page's own menu.
    async fn choose(&self, language: &str) {
        self.click(&format!("a[hreflang={language}], a[lang={language}]")).await;
    }

    /// Books two seats on the sailing that is shown.
    async fn book(&self) {
        let script = "const form = document.querySelector('form[method=post]').elements; \
            form.name.value = 'Mair'; form.seats.value = '2'";
        self.post("execute/sync", json!({ "script": script, "args": [] })).await;
        self.click("form[method=post] button").await;
    }

    async fn click(&self, selector: &str) {
        let element = self.post("element", json!({ "using": "css selector", "value": selector })).await;
        let id = element.as_object().unwrap().values().next().unwrap().as_str().unwrap().to_owned();
        self.post(&format!("element/{id}/click"), json!({})).await;
    }

    /// The path shown, the language and direction of the page, its title, and the colour-free facts a reader sees.
    async fn page(&self) -> String {
        let script = "const page = document.documentElement; \
            const start = document.querySelector('h1').getBoundingClientRect().left < innerWidth / 2 && \
                getComputedStyle(page).direction === 'ltr'; \
            return [location.pathname, page.lang, page.dir, start ? 'from the left' : 'from the right', document.title].join(' | ')";
        let page = self.post("execute/sync", json!({ "script": script, "args": [] })).await;
        page.as_str().unwrap().to_owned()
    }

    async fn close(self) {
        let address = format!("{}/session/{}", self.driver.address, self.session);
        self.driver.client.delete(address).send().await.unwrap();
    }
}

#[tokio::test]
async fn a_first_visit_goes_to_the_visitors_language() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let mut seen = Vec::new();
    for languages in ["pl,en", "ar-EG,en", "cy-GB", "en-AU", "ja", "en-US,pl"] {
        let browser = driver.open(languages).await;
        browser.visit(&site.at("/")).await;
        seen.push(format!("{languages}: {}", browser.page().await));
        browser.close().await;
    }
    insta::assert_snapshot!(seen.join("\n"));
}

#[tokio::test]
async fn a_choice_holds_through_links_the_back_button_and_a_session() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("pl,en").await;
    let mut seen = Vec::new();
    let mut note = |what: &str, page: String| seen.push(format!("{what}: {page}"));
    browser.visit(&site.at("/")).await;
    note("first visit", browser.page().await);
    browser.visit(&site.at("/pl/sailings/3")).await;
    browser.choose("cy").await;
    note("Welsh chosen on a page", browser.page().await);
    browser.post("back", json!({})).await;
    note("back", browser.page().await);
    browser.post("forward", json!({})).await;
    note("forward", browser.page().await);
    browser.visit(&site.at("/")).await;
    note("the root, later", browser.page().await);
    browser.visit(&site.at("/ar/trip")).await;
    note("an address that names its language", browser.page().await);

    // Without a session the cookie remembers a choice. A booking opens a session, which remembers the next one, too.
    let forget = async |name: &str| {
        let address = format!("{}/session/{}/cookie/{name}", driver.address, browser.session);
        driver.client.delete(address).send().await.unwrap();
    };
    browser.visit(&site.at("/cy/sailings/3")).await;
    browser.book().await;
    note("booked", browser.page().await);
    browser.choose("en-GB").await;
    note("British English chosen on a page", browser.page().await);
    forget("saltmarsh-locale").await;
    browser.visit(&site.at("/")).await;
    note("without the cookie", browser.page().await);
    forget("saltmarsh-session").await;
    browser.visit(&site.at("/")).await;
    note("without either", browser.page().await);
    browser.close().await;
    insta::assert_snapshot!(seen.join("\n"));
}
