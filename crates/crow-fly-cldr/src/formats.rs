//! The texts that numbers, money, units, lists and dates are written with. The keys of each file are in
//! [`keys`](crate::keys).

use crate::texts::Texts;

/// Percent, money and compact patterns, and signs that plain numbers have no use for.
pub const NUMBERS: Texts = Texts::new(include_bytes!("generated/numbers.bin"));

/// Symbols and names of currencies.
pub const CURRENCIES: Texts = Texts::new(include_bytes!("generated/currencies.bin"));

/// Patterns of units.
pub const UNITS: Texts = Texts::new(include_bytes!("generated/units.bin"));

/// Patterns of lists.
pub const LISTS: Texts = Texts::new(include_bytes!("generated/lists.bin"));

/// Names and patterns of the Gregorian calendar, and of relative times.
pub const DATES: Texts = Texts::new(include_bytes!("generated/dates.bin"));
