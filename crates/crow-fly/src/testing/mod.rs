//! A kit for the tests of an application.
//!
//! - [`keys`] and [`app_of_keys`] give keys and arguments instead of texts, so that a test does not break when a text is
//!   worded anew.
//! - [`translator`] and [`Strict`] are for tests of the texts themselves: a missing text, or an error in one, fails the
//!   test.
//! - [`assert_complete`] fails the test where a locale lacks texts in its own language.
//! - [`Site`] asks for all pages in all languages, and reports what is not right on them.
//! - [`Request`] tells which locale a request gets, and why.
//!
//! ```
//! use crow_fly::{args, testing, Config, CrowFly};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
//! // Keys.
//! let t = testing::keys("en").await;
//! assert_eq!(t.text(("booking.seats-left", args! { seats: 3 })), "booking.seats-left(seats: 3)");
//!
//! // Texts.
//! let t = testing::translator("pl", [("booking", "title = 'Rezerwacja'")]).await;
//! assert_eq!(t.text("booking.title"), "Rezerwacja");
//!
//! // Locales.
//! let config = Config::parse("default = 'en'\nlocales = ['en', 'pl']")?;
//! let crow = testing::app_of_keys(config);
//! let decision = testing::Request::get("/").browser_languages("pl, en;q=0.5").decide(&crow);
//! decision.assert_locale("pl").assert_redirect("/pl");
//! # Ok(()) }
//! ```

mod html;
mod request;
mod site;
mod strict;

pub use request::{Decided, Request};
pub use site::{Site, Walk};
pub use strict::Strict;

use crate::config::{Config, MissingText};
use crate::crow_fly::CrowFly;
use crate::source::Memory;
use crate::translator::Translator;

/// A translator whose texts are their keys and arguments: `booking.seats-left(seats: 3)`. No catalog is needed.
///
/// # Panics
/// Where `locale` is not a language tag.
pub async fn keys(locale: &str) -> Translator {
    app_of_keys(configuration(locale)).translator_for(locale).await
}

/// An application whose texts are their keys and arguments: for tests of handlers and templates. Its locales, addresses
/// and policy are those of the configuration; its catalogs are not read.
pub fn app_of_keys(mut config: Config) -> CrowFly {
    config.missing = MissingText::KeyAndArguments;
    config.strict = false;
    CrowFly::new(config, Memory::default())
}

/// A translator of sections in TOML. A text that is missing, or has an error, fails the test: see [`Strict`].
///
/// # Panics
/// Where `locale` is not a language tag, or the sections have errors.
pub async fn translator<'s>(locale: &str, sections: impl IntoIterator<Item = (&'s str, &'s str)>) -> Strict {
    let sections: Vec<_> = sections.into_iter().map(|(section, toml)| (locale, section, toml)).collect();
    let crow = CrowFly::new(configuration(locale), Memory::new(sections));
    if let Err(errors) = crow.load_all().await {
        panic!("{errors}");
    }
    Strict::new(crow.translator_for(locale).await)
}

/// Fails the test where a locale lacks a text of the default locale in its own language, or a catalog has errors; it lists what is
/// missing by locale and section. A locale that inherits from one of its language (`en-GB` from `en`) is complete; drafts are not
/// looked at. What may be in another language is said by the configuration: `inherits` names locales, `may-fall-back`
/// sections.
///
/// ```should_panic
/// # use crow_fly::{testing, source::Memory, Config, CrowFly};
/// # #[tokio::main(flavor = "current_thread")] async fn main() {
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']").unwrap();
/// # let home = [("en", "home", "title = 'Ferries'\nhelp = 'Help'"), ("cy", "home", "title = 'Llongau'")];
/// let crow = CrowFly::new(config, Memory::new(home));
/// testing::assert_complete(&crow).await;
/// // The test fails here: `cy`: `home` lacks 1 text of 2 in its language: `help`
/// # }
/// ```
///
/// # Panics
/// With the list.
pub async fn assert_complete(crow: &CrowFly) {
    let (errors, lacking) = crow.load_and_compare().await;
    let errors = errors.map(|errors| errors.to_string()).into_iter();
    let all: Vec<String> = errors.chain(lacking).collect();
    assert!(
        all.is_empty(),
        "the catalogs are not complete:\n{}\nname what may be in another language in `[catalogs]`: `inherits` has locales, \
         `may-fall-back` sections",
        all.join("\n")
    );
}

/// What answers the requests of a [`Site`]: an axum application, without a port.
///
/// # Panics
/// What it gives panics where a body of the application fails.
#[cfg(feature = "axum")]
pub fn router(app: axum::Router) -> impl AsyncFn(http::Request<()>) -> http::Response<String> {
    async move |request| {
        let request = request.map(|()| axum::body::Body::empty());
        let Ok(response) = tower_service::Service::call(&mut app.clone(), request).await;
        let (head, body) = response.into_parts();
        let body = http_body_util::BodyExt::collect(body).await;
        let bytes = body.unwrap_or_else(|error| panic!("the body fails: {error}")).to_bytes();
        http::Response::from_parts(head, String::from_utf8_lossy(&bytes).into_owned())
    }
}

/// The page at an address of an axum application: what a `GET` without any headers gets.
///
/// ```
/// # use axum::{Router, routing::get};
/// # use crow_fly::{testing, Config};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// let crow = testing::app_of_keys(Config::parse("default = 'en'\nlocales = ['en', 'pl']")?);
/// let pages = Router::new().route("/trip", get(async |t: crow_fly::Translator| t.text("trip.title")));
/// assert_eq!(testing::body(crow.router(pages), "/pl/trip").await, "trip.title");
/// # Ok(()) }
/// ```
///
/// # Panics
/// Where the address is none, or a body of the application fails.
#[cfg(feature = "axum")]
pub async fn body(app: axum::Router, address: &str) -> String {
    let request = http::Request::get(address).body(());
    let request = request.unwrap_or_else(|error| panic!("`{address}` is no address: {error}"));
    router(app)(request).await.into_body()
}

fn configuration(locale: &str) -> Config {
    let config = Config::builder([locale]).build();
    config.unwrap_or_else(|error| panic!("{error}"))
}
