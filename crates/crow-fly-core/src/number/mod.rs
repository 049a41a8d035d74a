//! Numbers: exact decimals, their plural categories, and how a locale writes them: plain, as percents, money, units,
//! compact.

mod decimal;
mod format;
mod pattern;
mod plural;
mod range;
mod style;

pub use decimal::{Decimal, RoundingMode};
pub use format::{Digits, Grouping, NumberFormat, NumberLocale, Sign};
pub use plural::{Category, PluralRules, PluralType};
pub(crate) use range::NumberRange;
pub use style::{Currency, CurrencyDisplay, MoneyStyle, NumberPatterns, Style, Unit, Width};
