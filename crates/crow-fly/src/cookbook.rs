//! The cookbook: one task each, from a first page to a fleet behind a cache.
//!
//! The programs are those of `crates/crow-fly/examples`: `cargo run -p crow-fly --example plurals --all-features`. A test
//! compiles and runs them all, and compares what they print.
//!
//! # A first page
//!
#![doc = concat!("```ignore\n", include_str!("../examples/hello.rs"), "```")]
//!
//! # Adding a locale
//!
//! 1. `crow-fly add-locale pl --write` writes the locale into `crow-fly.toml`, and a file for each section with the texts of the
//!    reference, marked as not translated: the chain speaks for them until they are.
//! 2. Name it in `drafts` while it is not finished: its addresses work, and nothing leads there.
//! 3. `crow-fly coverage` shows what is left, `crow-fly check` what is wrong.
//!
//! # Plurals
//!
#![doc = concat!("```ignore\n", include_str!("../examples/plurals.rs"), "```")]
//!
//! # Money, dates and time zones
//!
#![doc = concat!("```ignore\n", include_str!("../examples/dates_and_zones.rs"), "```")]
//!
//! Whose zone a page shows is a matter of the policy: `time-zone = "visitor"` follows the visitor's choice, and makes pages
//! private.
//!
//! # Forms
//!
#![doc = concat!("```ignore\n", include_str!("../cookbook/form_errors.rs"), "```")]
//!
//! # Mail and jobs
//!
#![doc = concat!("```ignore\n", include_str!("../cookbook/mail.rs"), "```")]
//!
//! # An API beside the pages
//!
#![doc = concat!("```ignore\n", include_str!("../examples/api_area.rs"), "```")]
//!
//! # Sessions, in Redis or elsewhere
//!
//! With the feature `sessions` and `"session"` among the `sources`, a choice at the switch is written into the session that the
//! visitor has. The session layer stands outside of the router, and any store of `tower-sessions` will do:
//!
//! ```ignore
//! let pool = Pool::new(RedisConfig::from_url("redis://sessions")?, None, None, None, 6)?;
//! pool.connect();
//! let sessions = SessionManagerLayer::new(RedisStore::new(pool));      // of the crate `tower-sessions-redis-store`
//! let app = crow.router(pages).layer(sessions);
//! ```
//!
//! Reading a page neither creates nor touches a session, and asks the store only where the answer can matter. Sessions of
//! another kind implement [`Sessions`](crate::sessions::Sessions): two functions.
//!
//! # Catalogs in the binary
//!
#![doc = concat!("```ignore\n", include_str!("../examples/embedded.rs"), "```")]
//!
//! # Catalogs above others
//!
#![doc = concat!("```ignore\n", include_str!("../examples/overlay.rs"), "```")]
//!
//! # Releases from a bucket
//!
//! Texts change without a deployment, for all machines or none. With the feature `releases`:
//!
//! ```ignore
//! let bucket = AmazonS3Builder::from_env().with_bucket_name("ferries").build()?;    // of the crate `object_store`
//! let store = ReleaseStore::new(Arc::new(bucket)).below("site/catalogs");
//! let releases = Releases::new(store).with_cache("/var/cache/ferries")?;
//! let crow = CrowFly::builder(config).catalogs(releases).build();
//! ```
//!
//! `crow-fly release publish` checks and uploads, `crow-fly release activate` makes servers take it, `crow-fly release roll-back` the
//! one before.
//!
//! # Messages as types
//!
//! A crate with a build script of one line makes a type of each message, so that a wrong key or parameter does not compile:
//!
//! ```ignore
//! fn main() {
//!     crow_fly_codegen::Catalogs::of("../catalogs", "en").build();
//! }
//!
//! t.text(messages::sailing::SeatsLeft { seats: 3 })
//! ```
//!
//! # Testing an application
//!
//! ```
//! use crow_fly::{Config, args, testing};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
//! // Keys instead of texts: a test of a handler does not break when a text is worded anew.
//! let t = testing::keys("en").await;
//! assert_eq!(t.text(("booking.seats-left", args! { seats: 3 })), "booking.seats-left(seats: 3)");
//!
//! // Which locale a request gets, and why.
//! let crow = testing::app_of_keys(Config::parse("default = 'en'\nlocales = ['en', 'pl']")?);
//! testing::Request::get("/").browser_languages("pl").decide(&crow).assert_redirect("/pl");
//! # Ok(()) }
//! ```
//!
//! # Behind a proxy or a cache
//!
//! - Rules of a proxy see paths with their prefix: [what happens to a request] shows one for `/admin`.
//! - `origin = "https://ferries.example"` gives addresses in mail and `hreflang` the host that visitors see.
//! - A prefix for each locale needs no `Vary`, so that any cache is right. What a cache that ignores `Vary` does with the other
//!   policies stands there, policy by policy.
//! - Mount the application below a path with `base`, also where the proxy takes that path off.
//!
//! [what happens to a request]: crate::web
//!
//! # A function of one's own
//!
#![doc = concat!("```ignore\n", include_str!("../examples/custom_function.rs"), "```")]
//!
//! # A source of one's own
//!
#![doc = concat!("```ignore\n", include_str!("../examples/custom_source.rs"), "```")]
//!
//! `source::conformance` holds it against the contract in your tests.
//!
//! # `actix-web`
//!
#![doc = concat!("```ignore\n", include_str!("../cookbook/actix.rs"), "```")]
//!
//! # Another framework
//!
#![doc = concat!("```ignore\n", include_str!("../examples/other_framework.rs"), "```")]
//!
//! # Templates
//!
#![doc = concat!("```ignore\n", include_str!("../cookbook/minijinja.rs"), "```")]
//!
//! In templates of `askama` and `maud` nothing has to be prepared: `{{ t.html("home.title") }}`, `(t.html("home.title"))`.
