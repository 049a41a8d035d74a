//! Kinds of values: what the fields of generated message types take.
//!
//! These traits only mark; what a value becomes is said by its conversion into [`Value`].

use alloc::borrow::Cow;
use alloc::string::String;
use alloc::vec::Vec;

use super::{Money, Value};
use crate::datetime::DateValue;
use crate::number::Decimal;

macro_rules! kinds {
    ($($kind:ident, $doc:literal, $message:literal, $note:literal: $($type:ty),* $(,)?;)*) => {
        $(
            #[doc = $doc]
            #[diagnostic::on_unimplemented(message = $message, label = $message, note = $note)]
            pub trait $kind {}

            #[diagnostic::do_not_recommend]
            impl<T: $kind + ?Sized> $kind for &T {}

            $(
                #[diagnostic::do_not_recommend]
                impl $kind for $type {}
            )*
        )*
    };
}

kinds! {
    Number, "What is formatted, or selected by, as a number.",
        "`{Self}` is not a number, and this parameter of the message is one",
        "give an integer, a float, a `Decimal` or a `Money`; a text that is a number is parsed first":
        i8, i16, i32, i64, i128, isize, u8, u16, u32, u64, u128, usize, f32, f64, Decimal, Money, Value<'_>;
    Amount, "What is formatted as an amount of money, and brings its currency.",
        "`{Self}` has no currency, and this parameter of the message needs one",
        "give a `Money`, or name the currency in the message: `{{$fare :currency currency=EUR}}`":
        Money, Value<'_>;
    Text, "What is formatted, or selected by, as a text.",
        "`{Self}` is not a text, and this parameter of the message is one",
        "give a `&str`, a `String` or a `bool`":
        str, String, Cow<'_, str>, bool, Value<'_>;
    Date, "What is formatted as a date or a time.",
        "`{Self}` is not a date or a time, and this parameter of the message is one",
        "give a `DateValue`, or a date of `jiff`; dates of `chrono` and `time` by the features of these names":
        DateValue, jiff::Timestamp, jiff::Zoned, jiff::civil::DateTime, jiff::civil::Date, jiff::civil::Time, Value<'_>;
    Relative, "What is formatted as a time from now: a number of units, or a date.",
        "`{Self}` is neither a number nor a date, and this parameter of the message is one of them",
        "give an integer, a float, a `Decimal`, a `DateValue`, or a date of `jiff`; dates of `chrono` and `time` by the features of these names":
        i8, i16, i32, i64, i128, isize, u8, u16, u32, u64, u128, usize, f32, f64, Decimal,
        DateValue, jiff::Timestamp, jiff::Zoned, jiff::civil::DateTime, jiff::civil::Date, Value<'_>;
    Duration, "What is formatted as a duration.",
        "`{Self}` is not a duration, and this parameter of the message is one",
        "give seconds as a number, a `std::time::Duration`, or a `Span` or `SignedDuration` of `jiff`; those of `chrono` and `time` by the features of these names":
        i8, i16, i32, i64, i128, isize, u8, u16, u32, u64, u128, usize, f32, f64, Decimal,
        jiff::Span, jiff::SignedDuration, core::time::Duration, Value<'_>;
    List, "What is joined.",
        "`{Self}` is not a list, and this parameter of the message is one",
        "give a `Vec` or an array of texts or numbers":
        Value<'_>;
}

impl<T> List for Vec<T> {}
impl<T> List for [T] {}
impl<T, const N: usize> List for [T; N] {}

#[cfg(feature = "rust-decimal")]
impl Number for rust_decimal::Decimal {}
#[cfg(feature = "rust-decimal")]
impl Relative for rust_decimal::Decimal {}
#[cfg(feature = "rust-decimal")]
impl Duration for rust_decimal::Decimal {}

#[cfg(feature = "chrono")]
mod of_chrono {
    use chrono::{DateTime, FixedOffset, NaiveDate, NaiveDateTime, NaiveTime, TimeDelta, Utc};

    use super::{Date, Duration, Relative};

    impl Relative for NaiveDate {}
    impl Relative for NaiveDateTime {}
    impl Relative for DateTime<Utc> {}
    impl Relative for DateTime<FixedOffset> {}
    impl Duration for TimeDelta {}
    impl Date for NaiveDate {}
    impl Date for NaiveTime {}
    impl Date for NaiveDateTime {}
    impl Date for DateTime<Utc> {}
    impl Date for DateTime<FixedOffset> {}
}

#[cfg(feature = "time")]
mod of_time {
    use super::{Date, Duration, Relative};

    impl Relative for time::Date {}
    impl Relative for time::PrimitiveDateTime {}
    impl Relative for time::OffsetDateTime {}
    impl Relative for time::UtcDateTime {}
    impl Duration for time::Duration {}
    impl Date for time::Date {}
    impl Date for time::Time {}
    impl Date for time::PrimitiveDateTime {}
    impl Date for time::OffsetDateTime {}
    impl Date for time::UtcDateTime {}
}
