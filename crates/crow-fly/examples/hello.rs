//! A whole application: two languages, one page, one text.

#![allow(clippy::print_stdout, reason = "an example")]

use axum::{Router, body::Body, http::Request, routing::get};
use crow_fly::{Config, CrowFly, Translator, source::Memory};
use tower::ServiceExt as _;

async fn home(t: Translator) -> String {
    t.text("home.welcome")
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    // A site has these in `crow-fly.toml` and `catalogs/<locale>/<section>.toml`: `CrowFly::from_file("crow-fly.toml")?`.
    let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    let catalogs =
        Memory::new([("en", "home", "welcome = 'Welcome aboard'"), ("cy", "home", "welcome = 'Croeso'")]);
    let app = CrowFly::new(config, catalogs).router(Router::new().route("/", get(home)));

    // A server hands `app` to `axum::serve`. Here it is asked without one.
    for (address, header) in [("/", "en"), ("/cy", "en"), ("/", "cy, en;q=0.5")] {
        let request = Request::get(address).header("accept-language", header).body(Body::empty())?;
        let answer = app.clone().oneshot(request).await?;
        let location = answer.headers().get("location").map(|to| to.to_str().unwrap_or_default().to_owned());
        let status = answer.status().as_u16();
        let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
        let said = location.unwrap_or_else(|| String::from_utf8_lossy(&body).into_owned());
        println!("{address} ({header}): {status} {said}");
    }
    Ok(())
}
