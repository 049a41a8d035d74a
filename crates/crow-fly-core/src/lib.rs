//! The computation behind Crow Fly. You probably want the `crow-fly` crate, which adds what talks to the world and
//! hands on what applications use of it.
//!
//! Everything here is a pure function over data: no I/O, no clock, no HTTP types, no globals but the
//! [`data`] of locales. A request takes this
//! way:
//!
//! ```
//! use crow_fly_core::{args, locale_set::LocaleSet, message::{Message, Program, FormatContext}, policy::{Facts, Policy}};
//!
//! // Which locale?
//! let policy = Policy::new(LocaleSet::parse(["en", "cy"])?);
//! let decision = policy.decide(&Facts { path: "/cy/sailings", ..Facts::default() });
//! let locale = policy.set().tag(decision.locale);
//!
//! // Which text does it have?
//! let message = Message::parse(".input {$n :integer} .match $n two {{dwy fferi}} * {{{$n} fferi}}")?;
//! let text = Program::compile(&message).format(&FormatContext::of(locale), &args! { n: 2 }).text();
//! assert_eq!(text, "dwy fferi");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! | module | answers | by |
//! |---|---|---|
//! | [`tag`] | what is this language tag? | RFC 5646, UTS #35 part 1 |
//! | [`accept`] | which languages does this header ask for? | RFC 9110 |
//! | [`locale_set`] | which of our locales suits it? | RFC 4647, UTS #35 language matching |
//! | [`chain`] | where does a missing text come from? | CLDR parents |
//! | [`route`] | which locale does this address name, and how is a page addressed in one? | |
//! | [`policy`] | who decides, in which order, and what follows? | |
//! | [`message`] | how does this text read, with these values? | UTS #35 part 9 |
//! | [`number`] | how is this number written, and counted? | UTS #35 part 3 |
//! | [`calendar`] | which calendar has this locale, and what is this day in it? | UTS #35 part 4 |
//! | [`datetime`], [`list`] | how is this date written, and how are these joined? | UTS #35 parts 4 and 2 |
//! | [`data`] | which languages can this program write in? | CLDR |
//! | [`names`], [`direction`] | what is this locale called, and which way does it run? | UTS #35 part 2 |
//! | [`time_zone`] | is there such a time zone? | IANA database |
//! | [`catalog`], [`check`] | what is in these files, and what is wrong with them? | |
//! | [`translation`] | what do translators work on? | |
//!
//! # Limitations
//!
//! Calendars have [ranges](calendar). Time zones are named by their offset. Zones that a message names are found by
//! `jiff`, in whatever database its features give it.
#![no_std]
#![warn(missing_docs)]

extern crate alloc;

pub use parse_error::ParseValueError;

pub mod accept;
pub mod calendar;
pub mod catalog;
pub mod chain;
pub mod check;
pub mod data;
pub mod datetime;
#[doc(hidden)]
pub mod debug;
pub mod direction;
mod duration;
pub mod finding;
pub mod function_context;
pub mod html;
pub mod list;
pub mod locale_set;
pub mod message;
pub mod names;
pub mod number;
mod parse_error;
pub mod policy;
pub mod route;
pub mod rule;
pub mod tag;
pub mod time_zone;
pub mod translation;
pub mod value;

mod locale_texts;
pub mod suggest;
