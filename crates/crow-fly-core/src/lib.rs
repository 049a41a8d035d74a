//! The computation behind Crow Fly. You probably want the `crow-fly` crate, which adds what talks to the world.
//!
//! Everything here is a pure function over data: no I/O, no clock, no HTTP types.
#![no_std]
#![warn(missing_docs)]

extern crate alloc;

pub mod accept;
pub mod catalog;
pub mod chain;
pub mod check;
pub mod direction;
pub mod finding;
pub mod locale_set;
pub mod message;
pub mod names;
pub mod number;
pub mod policy;
pub mod route;
pub mod tag;
pub mod value;

mod suggest;
