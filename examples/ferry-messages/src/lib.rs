//! The messages of Saltmarsh Ferries: made from `examples/ferry/catalogs/en` when this crate is built.

include!(concat!(env!("OUT_DIR"), "/messages.rs"));

/// The page that leads to types: its code is compiled and run.
#[cfg(doctest)]
#[doc = include_str!("../../../docs/types.md")]
pub mod page {}
