//! The board as its visitors meet it: the program on a port of its own, asked over HTTP.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

#[path = "../../../tests/webdriver.rs"]
mod webdriver;

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use reqwest::Client;
use webdriver::Driver;

struct Board(Child, String);

impl Board {
    fn open() -> Self {
        let mut program = Command::new(env!("CARGO_BIN_EXE_board"))
            .args(["--port", "0"])
            .stdout(Stdio::piped())
            .spawn()
            .unwrap();
        let mut lines = BufReader::new(program.stdout.take().unwrap()).lines().map(Result::unwrap);
        let line = lines.next().unwrap();
        // The rest is read away, so that the program never writes to a closed pipe.
        std::thread::spawn(move || lines.for_each(drop));
        let address = line.split_whitespace().nth(1).unwrap().trim_end_matches('/').to_owned();
        Self(program, address)
    }
}

impl Drop for Board {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

#[tokio::test]
async fn the_board_speaks_its_visitors_language() {
    let board = Board::open();
    let client = Client::builder().cookie_store(true).no_proxy().build().unwrap();
    let page = |path: &'static str, languages: &'static str| {
        let request = client.get(format!("{}{path}", board.1)).header("accept-language", languages);
        async move { request.send().await.unwrap().text().await.unwrap() }
    };
    for (path, languages, language, row) in [
        ("/?after=569", "en", "en", "<bdi>Curlew</bdi> to <bdi>Heron Point</bdi>: in one minute"),
        ("/?after=568", "cy", "cy", "mewn dau funud"),
        ("/pl?after=570", "en", "pl", "trwa wejście na pokład"),
        ("/pl?after=567", "en", "pl", "za 3 minuty"),
        ("/pl?after=1000", "en", "pl", "Ostatni prom już odpłynął."),
        ("/locale?to=cy&return=/?after=1000", "pl", "cy", "Mae’r cwch olaf wedi gadael."),
        ("/?after=1000", "pl", "cy", "Mae’r cwch olaf wedi gadael."),
    ] {
        let html = page(path, languages).await;
        assert!(html.contains(&format!("<html lang=\"{language}\"")) && html.contains(row), "{path}: {html}");
        assert_eq!(html.matches("<a href=\"/locale?").count(), 3, "{path} has a menu");
    }
}

#[tokio::test]
async fn the_table_follows_the_time_in_the_language_that_the_visitor_has_now() {
    let Some(driver) = Driver::start() else { return };
    let board = Board::open();
    let browser = driver.open("pl").await;
    let rows =
        "return [...document.querySelectorAll('td:last-child')].map((cell) => cell.innerText).join(' | ')";
    browser.visit(&format!("{}/pl?after=567", board.1)).await;
    browser.until("return document.documentElement.dataset.awake === 'true'").await;
    let mut seen = vec![browser.run(rows).await];
    // Time passes.
    browser.run("history.replaceState(null, '', '?after=600')").await;
    browser.until("return document.querySelectorAll('tr').length === 3").await;
    seen.push(browser.run(rows).await);
    // In another language, on the same page.
    browser.run("window.mark = 'the same page'").await;
    browser.click("a[hreflang=cy]").await;
    browser.until("return document.documentElement.lang === 'cy'").await;
    seen.push(browser.run(rows).await);
    browser.run("history.replaceState(null, '', '?after=1000')").await;
    browser.until("return !document.getElementById('gone').hidden").await;
    seen.push(browser.run("return document.getElementById('gone').innerText + ' ' + window.mark + ' ' + location.pathname").await);
    assert_eq!(browser.complaints().await, Vec::<String>::new());
    browser.close().await;
    let seen: Vec<&str> = seen.iter().map(|value| value.as_str().unwrap()).collect();
    assert_eq!(
        seen,
        [
            "Curlew do Heron Point: za 3 minuty | Avocet do Tern Island: za 48 minut | Curlew do Saltmarsh Quay: za 133 minuty | \
             Sandpiper do Heron Point: za 218 minut",
            "Avocet do Tern Island: za 15 minut | Curlew do Saltmarsh Quay: za 100 minut | Sandpiper do Heron Point: za 185 minut",
            "Avocet i Tern Island: mewn 15 munud | Curlew i Saltmarsh Quay: mewn 100 munud | \
             Sandpiper i Heron Point: mewn 185 munud",
            "Mae’r cwch olaf wedi gadael. the same page /cy",
        ]
    );
}
