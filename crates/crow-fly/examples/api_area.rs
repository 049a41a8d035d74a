//! An API beside the pages: it has no prefixes, and goes by a header of its own.

#![allow(clippy::print_stdout, reason = "an example")]

use axum::{Router, body::Body, http::Request, routing::get};
use crow_fly::{Config, CrowFly, Translator, source::Memory};
use tower::ServiceExt as _;

const CONFIG: &str = r#"
default = "en"
locales = ["en", "cy"]

[areas."/api"]
sources = ["header", "accept-language"]
header = "x-language"
matching = "closest"
"#;

async fn status(t: Translator) -> String {
    format!("{{\"status\": \"{}\"}}", t.text("trip.on-time"))
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs =
        Memory::new([("en", "trip", "on-time = 'On time'"), ("cy", "trip", "on-time = 'Ar amser'")]);
    let pages = Router::new().route("/status", get(status)).route("/api/status", get(status));
    let app = CrowFly::new(Config::parse(CONFIG)?, catalogs).router(pages);
    for (address, header) in [("/api/status", "cy-GB"), ("/cy/status", "en"), ("/cy/api/status", "en")] {
        let request = Request::get(address).header("x-language", header).body(Body::empty())?;
        let answer = app.clone().oneshot(request).await?;
        let (status, vary) = (answer.status(), answer.headers().get("vary").cloned());
        let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
        println!("{address} {header}: {status} {} {vary:?}", String::from_utf8_lossy(&body));
    }
    Ok(())
}
