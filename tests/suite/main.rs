//! The library through its public face. One program, since each takes long to link.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a test fails by panicking")]

mod actix;
mod architecture;
mod catalogs;
mod conformance;
mod mistakes;
mod releases;
mod rooms;
mod templates;
mod testing;
mod walk;
mod web;
