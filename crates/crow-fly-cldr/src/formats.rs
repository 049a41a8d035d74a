//! The texts that numbers, money, units, lists and dates are written with. The keys of each file are in
//! [`keys`](crate::keys).

use crate::texts::Texts;

/// Percent, money and compact patterns, and signs that plain numbers have no use for.
pub const NUMBERS: Texts = Texts::new(0, include_bytes!("generated/numbers_keys.bin"));

/// Symbols and names of currencies.
pub const CURRENCIES: Texts = Texts::new(1, include_bytes!("generated/currencies_keys.bin"));

/// Patterns of units.
pub const UNITS: Texts = Texts::new(2, include_bytes!("generated/units_keys.bin"));

/// Patterns of lists.
pub const LISTS: Texts = Texts::new(3, include_bytes!("generated/lists_keys.bin"));

/// Names and patterns of the Gregorian calendar, and of relative times.
pub const DATES: Texts = Texts::new(4, include_bytes!("generated/dates_keys.bin"));
