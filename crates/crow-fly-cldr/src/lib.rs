//! The Unicode CLDR tables that Crow Fly stands on: generated data, and the accessors to read it.
//!
//! You probably want the `crow-fly` crate; this one holds no logic and promises no stable interface. The tables
//! are written by `cargo run -p xtask -- data` from the CLDR release named in [`VERSION`] and lie in
//! `src/generated`, data under the Unicode licence (`LICENSE-UNICODE`).
//!
//! Subtags are handed in and out as [`Code`]s, up to four ASCII letters in one integer.
//!
//! ```
//! use crow_fly_cldr::{code, likely};
//!
//! assert_eq!(likely::language(code(b"pl")), Some((code(b"Latn"), code(b"PL"))));
//! ```
#![no_std]
#![warn(missing_docs)]

extern crate alloc;

pub mod aliases;
pub mod data;
pub mod formats;
pub mod keys;
pub mod likely;
pub mod matching;
pub mod names;
pub mod numbers;
pub mod parents;
pub mod plurals;
pub mod registry;
pub mod scripts;
pub mod supplement;
pub mod texts;
pub mod zones;

mod code;
mod key_list;
#[path = "generated/mod.rs"]
#[rustfmt::skip]
#[allow(clippy::pedantic, reason = "data as it was written")]
mod generated;

pub use code::{Code, Parts, code};

/// The CLDR release the tables come from.
pub const VERSION: &str = "48.2.0";
