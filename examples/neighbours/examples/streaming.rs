//! A page that is sent in pieces: the translator goes with the stream, and its sections are loaded before the first piece,
//! since the head of the answer is gone then.

#![allow(clippy::print_stdout, reason = "an example")]

use std::convert::Infallible;

use axum::{Router, body::Body, http::Request, response::IntoResponse, routing::get};
use crow_fly::web::{Sections, TranslatorWith};
use crow_fly::{Config, CrowFly, args, source::Memory};
use futures_util::stream;
use tower::ServiceExt as _;

struct Board;

impl Sections for Board {
    const NAMES: &'static [&'static str] = &["board"];
}

async fn board(t: TranslatorWith<Board>) -> impl IntoResponse {
    let t = t.into_inner();
    let boats = ["Curlew", "Avocet", "Sandpiper"];
    let pieces = boats.map(move |boat| Ok::<_, Infallible>(t.text(("board.row", args! { boat })) + "\n"));
    Body::from_stream(stream::iter(pieces))
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = "default = 'en'\nlocales = ['en', 'pl']\n[catalogs]\neager = []";
    let catalogs = Memory::new([
        ("en", "board", "row = '{$boat} is at the quay.'"),
        ("pl", "board", "row = '{$boat} stoi przy nabrzeżu.'"),
    ]);
    let crow = CrowFly::new(Config::parse(config)?, catalogs);
    let app = crow.router(Router::new().route("/board", get(board)));
    let answer = app.oneshot(Request::get("/pl/board").body(Body::empty())?).await?;
    let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
    print!("{}", String::from_utf8_lossy(&body));
    Ok(())
}
