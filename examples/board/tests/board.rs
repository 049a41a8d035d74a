//! The board as its visitors meet it: the program on a port of its own, asked over HTTP.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use reqwest::Client;

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
