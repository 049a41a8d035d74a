//! Crow Fly gives a web application its languages: one layer decides each request's locale, catalogs load when
//! they are first needed, and one short call gives a text.
//!
//! ```
//! use axum::{extract::Path, routing::get, Router};
//! use crow_fly::{args, Config, CrowFly, Translator, source::Memory};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
//! async fn sailing(t: Translator, Path(seats): Path<u32>) -> String {
//!     t.text(("booking.seats-left", args! { seats: seats }))
//! }
//!
//! let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
//! let catalogs = Memory::new([
//!     ("en", "booking", "seats-left = '.input {$seats :integer} .match $seats one {{One seat left}} * {{{$seats} seats left}}'"),
//!     ("cy", "booking", "seats-left = '{$seats :integer} sedd ar ôl'"),
//! ]);
//! let app = CrowFly::new(config, catalogs).router(Router::new().route("/seats/{seats}", get(sailing)));
//!
//! # use tower::ServiceExt;
//! # let ask = |path: &str| axum::http::Request::get(path).body(axum::body::Body::empty()).unwrap();
//! let answer = app.oneshot(ask("/cy/seats/4")).await?;
//! assert_eq!(answer.headers()["content-language"], "cy");
//! # let body = axum::body::to_bytes(answer.into_body(), 1000).await?;
//! # assert_eq!(body, "4 sedd ar ôl");
//! # Ok(()) }
//! ```
//!
//! A server hands `app` to `axum::serve`. [The cookbook](cookbook) goes on from here: plurals, dates, forms, mail, an API,
//! sessions, releases, tests, a proxy, each with a whole program.
//!
//! # The types to know
//!
//! - [`CrowFly`]: the application's one object, made from a [`Config`] and a [source of catalogs](source).
//! - [`Translator`]: gives texts in the request's locale; an extractor of axum and `actix-web`.
//! - [`web::LocaleLayer`]: the `tower` layer that decides, strips the prefix, redirects and announces.
//! - [`web::exchange`]: the engine behind it, for adapters to other frameworks.
//!
//! The computation is a crate of its own, `crow-fly-core`: tags, matching, policy, messages, for those who need a part of it
//! alone. What applications use of it is re-exported here.
//!
//! # Limitations
//!
//! - Without the feature `zone-names`, time zones are named by their offset. What messages can say stands in `docs/messages.md`.
//! - Loads need a tokio runtime with timers. A body that is streamed after the handler has returned cannot change the
//!   head of its response: where it meets a section that is not loaded, `no-store` comes too late.
//!
//! # Features
//!
//! | feature | default | adds |
//! |---|---|---|
//! | `axum` | yes | the [`Translator`] extractor and `CrowFly::router` |
//! | `full-data` | yes | the data of every locale of CLDR, about 1.2 MB; without it a program installs that of its languages ([`data`]) |
//! | `actix` | no | the same for `actix-web`: the extractor and `CrowFly::middleware` |
//! | `actix-sessions` | no | with it, choices remembered in sessions of the `actix-session` crate |
//! | `sessions` | no | choices remembered in sessions of the `tower-sessions` crate |
//! | `bundled-time-zones` | no | the zone database in the program, for containers that have none; without it, the system's |
//! | `minijinja` | no | the [`Translator`] as an object of `minijinja` templates |
//! | `notify` | no | in development, changes told by the system; without it folders are listed for each request |
//! | `metrics` | no | counters and gauges through the `metrics` facade |
//! | `calendars` | no | the calendars that no region prefers to the Gregorian one (Hebrew, Islamic, Japanese …), 80 kB of data |
//! | `zone-names` | no | the names of time zones (Central European Summer Time, EST), 0.4 MB of data; without it zones are named by their offsets |
//! | `names` | no | the name of every locale in every locale, about 1 MB of data |
//! | `chrono`, `time` | no | dates and times of these crates as arguments of messages |
//! | `rust-decimal` | no | `rust_decimal::Decimal` as an argument of messages |
#![warn(missing_docs)]

pub mod browser;
pub mod config;
#[cfg(doc)]
pub mod cookbook;
pub mod pages;
#[cfg(feature = "manifest")]
pub mod release;
pub mod sessions;
pub mod source;
pub mod testing;
pub mod typed;
pub mod web;

mod alternates;
mod crow_fly;
mod inspector;
mod journal;
mod json_argument;
mod menu;
mod message_ref;
mod passed_on;

#[cfg(feature = "minijinja")]
mod minijinja;
mod public_sections;
mod scope;
mod site;
mod store;
mod translator;

pub use alternates::{Alternate, Alternates};
pub use config::{Config, ConfigError, MissingText};
pub use crow_fly::{CrowFly, CrowFlyBuilder};
pub use crow_fly_core::args;
pub use crow_fly_core::data;
pub use crow_fly_core::datetime::DateValue;
pub use crow_fly_core::direction::Direction;
pub use crow_fly_core::finding;
pub use crow_fly_core::locale_set::LocaleId;
pub use crow_fly_core::message::{
    CustomFunction, FunctionError, Functions, Html, Invocation, Isolation, Links, MarkupHandlers, MarkupTag,
    Part,
};
pub use crow_fly_core::names;
pub use crow_fly_core::number::{Currency, Decimal};
pub use crow_fly_core::policy::Decision;
pub use crow_fly_core::tag::LanguageTag;
pub use crow_fly_core::time_zone::TimeZoneName;
pub use crow_fly_core::value::{Args, CustomValue, FunctionValue, Money, Value};
pub use json_argument::{JsonArgumentError, json_argument, text_argument};
pub use menu::MenuItem;
pub use message_ref::{MessageRef, say};
pub use scope::{Within, current, within};
pub use store::{
    CatalogsError, Health, HealthStatus, LocaleHealth, Miss, MissCount, MissKind, MissReport, SectionHealth,
};
pub use translator::{InspectedText, MessageSource, NotLoaded, Origin, Presence, Translator};
pub use web::MissingLayer;
