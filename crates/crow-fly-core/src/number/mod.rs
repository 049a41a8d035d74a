//! Numbers: exact decimals, their plural categories, and how a locale writes them.

mod decimal;
mod format;
mod plural;

pub use decimal::{Decimal, DecimalError};
pub use format::{Digits, Grouping, NumberFormat, NumberLocale, Sign};
pub use plural::{Category, PluralRules, PluralType};
