//! A part of a page that a script asks for, in the language of the page that asks: the address has the prefix.

#![allow(clippy::print_stdout, reason = "an example")]

use axum::{Router, body::Body, extract::Path, http::Request, response::Html, routing::get};
use crow_fly::{Config, CrowFly, Translator, args, source::Memory};
use tower::ServiceExt as _;

/// The whole page: its script asks for the part by an address that `t.path` gives.
async fn page(t: Translator) -> Html<String> {
    Html(format!("<main data-part=\"{}\">…</main>", t.path("/sailings/3/seats")))
}

/// The part: a handler like any other.
async fn seats(t: Translator, Path(_sailing): Path<u32>) -> Html<String> {
    Html(t.html(("sailing.left", args! { seats: 4 })).into_string())
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs = Memory::new([
        ("en", "sailing", "left = '{$seats :integer} seats left'"),
        ("cy", "sailing", "left = '{$seats :integer} sedd ar ôl'"),
    ]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, catalogs);
    let pages = Router::new().route("/", get(page)).route("/sailings/{sailing}/seats", get(seats));
    let app = crow.router(pages);
    for address in ["/cy", "/cy/sailings/3/seats", "/sailings/3/seats"] {
        let answer = app.clone().oneshot(Request::get(address).body(Body::empty())?).await?;
        let language = answer.headers()["content-language"].to_str()?.to_owned();
        let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
        println!("{address}: {language}: {}", String::from_utf8_lossy(&body));
    }
    Ok(())
}
