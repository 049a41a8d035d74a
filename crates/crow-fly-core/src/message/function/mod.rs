//! Functions of messages: one file each, one line each in the registry. Applications' own come beside them.

mod compact;
mod currency;
pub(super) mod custom;
mod date;
mod datetime;
pub(super) mod definition;
mod duration;
mod families;
mod fields;
mod integer;
pub(super) mod list;
mod name;
mod number;
pub(super) mod numeric;
mod offset;
pub(super) mod option;
mod percent;
mod range;
pub(super) mod registry;
mod relative;
pub(super) mod resolved;
mod string;
pub(super) mod temporal;
mod time;
pub(super) mod unicode;
mod unit;
