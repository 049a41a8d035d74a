//! The messages of Saltmarsh Ferries: made from `examples/ferry/catalogs/en` when this crate is built.

include!(concat!(env!("OUT_DIR"), "/messages.rs"));
