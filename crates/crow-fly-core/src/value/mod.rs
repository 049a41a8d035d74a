//! What messages are given, and what functions make of it: values by name, types of the application's own.

#[cfg(any(feature = "chrono", feature = "time"))]
mod foreign;
pub mod kinds;

use alloc::borrow::Cow;
use alloc::boxed::Box;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::any::Any;
use core::fmt;
use core::mem::ManuallyDrop;

use jiff::{SignedDuration, Span};

use crate::datetime::DateValue;
use crate::direction::Direction;
use crate::function_context::FunctionContext;
use crate::html::Html;
use crate::number::{Currency, Decimal};

/// A value for a message. Made by `From` from what an application has.
// The tag is a number of its own, not worked out from the parts of a `Cow`: every placeholder asks for it.
#[derive(Clone, Debug)]
#[non_exhaustive]
#[repr(u8)]
pub enum Value<'a> {
    /// A text. It is never read as message source.
    Text(Cow<'a, str>),
    /// A whole number.
    Integer(i64),
    /// Any other exact number.
    Number(Box<Decimal>),
    /// An amount of money.
    Money(Box<Money>),
    /// A date, a time, or both.
    Date(DateValue),
    /// A stretch of time.
    Duration(Box<Span>),
    /// Several values: for `:crow:list`.
    List(Box<[Self]>),
    /// HTML that is safe as it is: in HTML output it is not escaped, in text its elements are left out.
    Html(Box<Html>),
    /// A value of the application's own type.
    Custom(Arc<dyn CustomValue>),
}

/// An amount of a currency.
///
/// ```
/// use crow_fly_core::{number::{Currency, Decimal}, value::Money};
///
/// let fare = Money::new(Decimal::parse("12.50")?, Currency::parse("PLN").unwrap());
/// # Ok::<(), crow_fly_core::ParseValueError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Money {
    /// How much.
    pub amount: Decimal,
    /// Of what.
    pub currency: Currency,
}

impl Money {
    /// An amount of a currency.
    pub fn new(amount: impl Into<Decimal>, currency: Currency) -> Self {
        Self { amount: amount.into(), currency }
    }
}

/// A type of the application's own, as an argument of messages.
///
/// Functions of the application's own get it as it is; built-in functions get what [`FunctionValue::with_value`] says.
pub trait CustomValue: Any + fmt::Debug + Send + Sync {
    /// What it is where no function is applied to it.
    fn format(&self, context: &FunctionContext) -> FunctionValue;
}

/// The keys a value matches.
pub(crate) type Keys = Arc<dyn Fn(&str) -> bool + Send + Sync>;

/// What a function makes of its operand: a text, what it selects by, and what it hands on to later functions.
///
/// ```
/// use crow_fly_core::value::FunctionValue;
///
/// let tide = FunctionValue::text("high water").with_keys(|key| key == "high").with_value(4).with_option("unit", "metre");
/// ```
#[derive(Clone)]
pub struct FunctionValue {
    pub(crate) text: String,
    pub(crate) direction: Option<Direction>,
    pub(crate) keys: Option<Keys>,
    pub(crate) value: Option<Box<Value<'static>>>,
    pub(crate) options: Vec<(String, Value<'static>)>,
}

impl FunctionValue {
    /// A value that formats as a text, of unknown direction.
    pub fn text(text: impl Into<String>) -> Self {
        Self { text: text.into(), direction: None, keys: None, value: None, options: Vec::new() }
    }

    /// Sets which way the text runs.
    #[must_use]
    pub fn with_direction(mut self, direction: Direction) -> Self {
        self.direction = Some(direction);
        self
    }

    /// Lets the value be selected by: the keys it matches.
    #[must_use]
    pub fn with_keys(mut self, keys: impl Fn(&str) -> bool + Send + Sync + 'static) -> Self {
        self.keys = Some(Arc::new(keys));
        self
    }

    /// What other functions get where this value is their operand; the text by default.
    #[must_use]
    pub fn with_value(mut self, value: impl Into<Value<'static>>) -> Self {
        self.value = Some(Box::new(value.into()));
        self
    }

    /// Hands an option on to later functions of the application's own, as built-in functions hand theirs on.
    #[must_use]
    pub fn with_option(mut self, name: impl Into<String>, value: impl Into<Value<'static>>) -> Self {
        self.options.push((name.into(), value.into()));
        self
    }
}

impl fmt::Debug for FunctionValue {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("FunctionValue").field("text", &self.text).finish_non_exhaustive()
    }
}

impl Value<'_> {
    /// Whether it owns no memory: dropping it frees nothing.
    #[inline]
    fn owns_nothing(&self) -> bool {
        // Each kind is named: one that is new must not be left out of what is given back.
        match self {
            Self::Text(Cow::Borrowed(_))
            | Self::Integer(_)
            | Self::Date(
                DateValue::Instant(_) | DateValue::Civil(_) | DateValue::Date(_) | DateValue::Time(_),
            ) => true,
            Self::Text(Cow::Owned(_))
            | Self::Date(DateValue::Zoned(_))
            | Self::Number(_)
            | Self::Money(_)
            | Self::Duration(_)
            | Self::List(_)
            | Self::Html(_)
            | Self::Custom(_) => false,
        }
    }
}

impl PartialEq for Value<'_> {
    /// Values of the application's own types are equal where they are one and the same.
    fn eq(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Text(one), Self::Text(other)) => one == other,
            (Self::Integer(one), Self::Integer(other)) => one == other,
            (Self::Number(one), Self::Number(other)) => one == other,
            (Self::Money(one), Self::Money(other)) => one == other,
            (Self::Date(one), Self::Date(other)) => one == other,
            (Self::Duration(one), Self::Duration(other)) => one.fieldwise() == other.fieldwise(),
            (Self::List(one), Self::List(other)) => one == other,
            (Self::Html(one), Self::Html(other)) => one == other,
            (Self::Custom(one), Self::Custom(other)) => Arc::ptr_eq(one, other),
            _ => false,
        }
    }
}

impl From<Money> for Value<'_> {
    fn from(money: Money) -> Self {
        Self::Money(Box::new(money))
    }
}

impl From<Html> for Value<'_> {
    fn from(html: Html) -> Self {
        Self::Html(Box::new(html))
    }
}

impl From<DateValue> for Value<'_> {
    fn from(date: DateValue) -> Self {
        Self::Date(date)
    }
}

macro_rules! from_dates {
    ($($type:ty)*) => {
        $(impl From<$type> for Value<'_> {
            fn from(date: $type) -> Self {
                Self::from(DateValue::from(date))
            }
        })*
    };
}

from_dates!(jiff::Timestamp jiff::Zoned jiff::civil::DateTime jiff::civil::Date jiff::civil::Time);

impl From<Span> for Value<'_> {
    fn from(span: Span) -> Self {
        Self::Duration(Box::new(span))
    }
}

impl From<SignedDuration> for Value<'_> {
    /// In hours, minutes, seconds and smaller units. One that is longer than a [`Span`] is its text.
    fn from(duration: SignedDuration) -> Self {
        let (seconds, nanoseconds) = (duration.as_secs(), i64::from(duration.subsec_nanos()));
        let span = Span::new()
            .try_hours(seconds / 3600)
            .and_then(|span| span.try_minutes(seconds / 60 % 60))
            .and_then(|span| span.try_seconds(seconds % 60))
            .and_then(|span| span.try_milliseconds(nanoseconds / 1_000_000))
            .and_then(|span| span.try_microseconds(nanoseconds / 1000 % 1000))
            .and_then(|span| span.try_nanoseconds(nanoseconds % 1000));
        span.map_or_else(|_| Self::Text(duration.to_string().into()), Self::from)
    }
}

impl From<core::time::Duration> for Value<'_> {
    fn from(duration: core::time::Duration) -> Self {
        SignedDuration::try_from(duration)
            .map_or_else(|_| Self::Text(format!("PT{}S", duration.as_secs()).into()), Self::from)
    }
}

impl<V: Into<Self>> From<Vec<V>> for Value<'_> {
    fn from(values: Vec<V>) -> Self {
        Self::List(values.into_iter().map(Into::into).collect())
    }
}

impl<V: Into<Self> + Clone> From<&[V]> for Value<'_> {
    fn from(values: &[V]) -> Self {
        Self::List(values.iter().cloned().map(Into::into).collect())
    }
}

impl<V: Into<Self>, const N: usize> From<[V; N]> for Value<'_> {
    fn from(values: [V; N]) -> Self {
        Self::List(values.into_iter().map(Into::into).collect())
    }
}

impl From<Arc<dyn CustomValue>> for Value<'_> {
    fn from(value: Arc<dyn CustomValue>) -> Self {
        Self::Custom(value)
    }
}

#[cfg(feature = "rust-decimal")]
impl From<rust_decimal::Decimal> for Value<'_> {
    fn from(number: rust_decimal::Decimal) -> Self {
        // Its text is digits with visible zeros, which always parses.
        let text = number.to_string();
        Decimal::read(&text).map_or_else(|| Self::Text(text.into()), Self::from)
    }
}

impl<'a> From<&'a str> for Value<'a> {
    fn from(text: &'a str) -> Self {
        Self::Text(Cow::Borrowed(text))
    }
}

impl<'a> From<&'a String> for Value<'a> {
    fn from(text: &'a String) -> Self {
        Self::Text(Cow::Borrowed(text))
    }
}

impl<'a> From<&&'a str> for Value<'a> {
    fn from(text: &&'a str) -> Self {
        Self::Text(Cow::Borrowed(text))
    }
}

impl<'a> From<&&'a String> for Value<'a> {
    fn from(text: &&'a String) -> Self {
        Self::Text(Cow::Borrowed(text))
    }
}

impl<'a> From<&'a Cow<'_, str>> for Value<'a> {
    fn from(text: &'a Cow<'_, str>) -> Self {
        Self::Text(Cow::Borrowed(text))
    }
}

impl From<bool> for Value<'_> {
    /// The text `true` or `false`: a message selects by it with `:string`.
    fn from(is_so: bool) -> Self {
        Self::Text(Cow::Borrowed(if is_so { "true" } else { "false" }))
    }
}

impl<V: Into<Self>> From<Option<V>> for Value<'_> {
    /// What is absent is an empty text.
    fn from(value: Option<V>) -> Self {
        value.map_or(Self::Text(Cow::Borrowed("")), Into::into)
    }
}

impl<V: Clone + Into<Self>> From<&Option<V>> for Value<'_> {
    fn from(value: &Option<V>) -> Self {
        Self::from(value.clone())
    }
}

impl<V: Clone + Into<Self>> From<&Vec<V>> for Value<'_> {
    fn from(values: &Vec<V>) -> Self {
        Self::from(values.as_slice())
    }
}

macro_rules! from_references {
    ($($type:ty)*) => {
        $(impl From<&$type> for Value<'_> {
            fn from(value: &$type) -> Self {
                Self::from(value.clone())
            }
        }

        // A reference that `args!` borrows by its name.
        impl From<&&$type> for Value<'_> {
            fn from(value: &&$type) -> Self {
                Self::from((*value).clone())
            }
        })*
    };
}

from_references!(bool i8 i16 i32 i64 i128 isize u8 u16 u32 u64 u128 usize f32 f64);
from_references!(Decimal Money Html DateValue Arc<dyn CustomValue>);
from_references!(Span SignedDuration core::time::Duration);
from_references!(jiff::Timestamp jiff::Zoned jiff::civil::DateTime jiff::civil::Date jiff::civil::Time);
#[cfg(feature = "rust-decimal")]
from_references!(rust_decimal::Decimal);
#[cfg(feature = "chrono")]
from_references!(
    chrono::NaiveDate chrono::NaiveTime chrono::NaiveDateTime chrono::DateTime<chrono::Utc>
    chrono::DateTime<chrono::FixedOffset> chrono::TimeDelta
);
#[cfg(feature = "time")]
from_references!(time::Date time::Time time::PrimitiveDateTime time::OffsetDateTime time::UtcDateTime time::Duration);

impl From<String> for Value<'_> {
    fn from(text: String) -> Self {
        Self::Text(Cow::Owned(text))
    }
}

impl<'a> From<Cow<'a, str>> for Value<'a> {
    fn from(text: Cow<'a, str>) -> Self {
        Self::Text(text)
    }
}

impl From<Decimal> for Value<'_> {
    fn from(number: Decimal) -> Self {
        Self::Number(Box::new(number))
    }
}

macro_rules! from_integers {
    ($small:ty: $($integer:ty)*) => {
        $(impl From<$integer> for Value<'_> {
            fn from(number: $integer) -> Self {
                i64::try_from(number).map_or_else(|_| Self::Number(Box::new(Decimal::from(<$small>::from(number)))), Self::Integer)
            }
        })*
    };
}

from_integers!(i128: i8 i16 i32 i64 i128);
from_integers!(u128: u8 u16 u32 u64 u128);

impl From<usize> for Value<'_> {
    fn from(number: usize) -> Self {
        // No machine Rust runs on has a `usize` of more than 64 bits.
        Self::from(number as u64)
    }
}

impl From<isize> for Value<'_> {
    fn from(number: isize) -> Self {
        Self::Integer(number as i64)
    }
}

impl From<f64> for Value<'_> {
    /// The shortest digits that read back as the same number; infinities and NaN are texts, and no numbers.
    fn from(number: f64) -> Self {
        if number.is_finite() {
            Self::from(Decimal::from(number))
        } else {
            Self::Text(number.to_string().into())
        }
    }
}

impl From<f32> for Value<'_> {
    fn from(number: f32) -> Self {
        // By way of the shortest digits of the `f32` itself: 0.1 stays 0.1.
        let text = number.to_string();
        Decimal::read(&text).map_or_else(|| Self::Text(text.into()), Self::from)
    }
}

/// How deep lists of lists may be: each is shown a few times, to find out how it is joined.
const MAX_LIST_DEPTH: usize = 8;

impl Value<'_> {
    /// Whether it is a list of lists that is deeper than is shown. It looks no deeper than that.
    pub(crate) fn is_too_deep(&self) -> bool {
        self.is_deeper_than(MAX_LIST_DEPTH)
    }

    fn is_deeper_than(&self, depth: usize) -> bool {
        match (self, depth.checked_sub(1)) {
            (Self::List(_), None) => true,
            (Self::List(values), Some(rest)) => values.iter().any(|value| value.is_deeper_than(rest)),
            _ => false,
        }
    }
}

/// The value in a form of no language, for tests, logs and tools: `3`, `12.50 EUR`, `2026-05-01`, `[1, 2]`.
impl fmt::Display for Value<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Text(text) => f.write_str(text),
            Self::Integer(number) => number.fmt(f),
            Self::Number(number) => number.fmt(f),
            Self::Money(money) => write!(f, "{} {}", money.amount, money.currency.as_str()),
            Self::Date(date) => date.fmt(f),
            Self::Duration(span) => span.fmt(f),
            Self::List(_) if self.is_too_deep() => f.write_str("[…]"),
            Self::List(values) => {
                f.write_str("[")?;
                for (at, value) in values.iter().enumerate() {
                    write!(f, "{}{value}", if at == 0 { "" } else { ", " })?;
                }
                f.write_str("]")
            }
            Self::Html(html) => f.write_str(html.as_str()),
            Self::Custom(value) => write!(f, "{value:?}"),
        }
    }
}

/// The arguments of a message, by name. Made by [`args!`](crate::args).
#[derive(Clone)]
pub struct Args<'a>(Kept<'a>);

/// Most arguments own no memory: to drop those is one comparison. To look through their values for what is to be given
/// back takes a tenth of the time of a short message.
#[derive(Clone)]
enum Kept<'a> {
    /// No value of the list owns memory, nor does the list itself.
    Borrowed(ManuallyDrop<List<'a>>),
    Owned(List<'a>),
}

/// Most messages have one argument or two: those are built where they stand.
#[derive(Clone)]
enum List<'a> {
    One([Named<'a>; 1]),
    Two([Named<'a>; 2]),
    Any(Vec<Named<'a>>),
}

/// A value with its name.
pub(crate) type Named<'a> = (&'a str, Value<'a>);

/// The value of a name among those of a message. Names are compared byte by byte.
#[inline]
pub(crate) fn named<'l, 'a>(list: &'l [Named<'a>], name: &[u8]) -> Option<&'l Value<'a>> {
    list.iter().rev().find(|(found, _)| found.as_bytes() == name).map(|(_, value)| value)
}

impl List<'_> {
    #[inline]
    fn owns_nothing(&self) -> bool {
        match self {
            Self::One([(_, one)]) => one.owns_nothing(),
            Self::Two([(_, one), (_, two)]) => one.owns_nothing() && two.owns_nothing(),
            Self::Any(list) => list.capacity() == 0,
        }
    }
}

impl Default for Args<'_> {
    #[inline]
    fn default() -> Self {
        Self::holding(List::Any(Vec::new()))
    }
}

impl<'a> Args<'a> {
    /// No arguments.
    pub fn new() -> Self {
        Self::default()
    }

    /// The arguments of an array.
    #[inline]
    pub fn of<const N: usize>(values: [(&'a str, Value<'a>); N]) -> Self {
        let mut values = values.into_iter();
        Self::holding(match (values.next(), values.next(), N) {
            (Some(one), None, _) => List::One([one]),
            (Some(one), Some(two), 2) => List::Two([one, two]),
            (one, two, _) => List::Any(one.into_iter().chain(two).chain(values).collect()),
        })
    }

    /// Adds an argument; of two with one name the later one counts.
    #[must_use]
    pub fn with(self, name: &'a str, value: impl Into<Value<'a>>) -> Self {
        let new = (name, value.into());
        let list = match self.0 {
            Kept::Borrowed(list) => ManuallyDrop::into_inner(list),
            Kept::Owned(list) => list,
        };
        Self::holding(match list {
            List::One([one]) => List::Two([one, new]),
            List::Two([one, two]) => List::Any(Vec::from([one, two, new])),
            List::Any(list) if list.is_empty() => List::One([new]),
            List::Any(mut list) => {
                list.push(new);
                List::Any(list)
            }
        })
    }

    #[inline]
    fn holding(list: List<'a>) -> Self {
        Self(if list.owns_nothing() { Kept::Borrowed(ManuallyDrop::new(list)) } else { Kept::Owned(list) })
    }

    /// All of them, in the order in which they were given.
    #[inline]
    pub(crate) fn list(&self) -> &[Named<'a>] {
        let list = match &self.0 {
            Kept::Borrowed(list) => list,
            Kept::Owned(list) => list,
        };
        match list {
            List::One(list) => list,
            List::Two(list) => list,
            List::Any(list) => list,
        }
    }

    /// The names, in the order in which they were given.
    pub fn names(&self) -> impl ExactSizeIterator<Item = &'a str> + '_ {
        self.list().iter().map(|(name, _)| *name)
    }

    /// The value of a name.
    #[inline]
    pub fn get(&self, name: &str) -> Option<&Value<'a>> {
        named(self.list(), name.as_bytes())
    }
}

impl fmt::Debug for Args<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_map().entries(self.list().iter().map(|(name, value)| (name, value))).finish()
    }
}

impl PartialEq for Args<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.list() == other.list()
    }
}

impl<'a, V: Into<Value<'a>>> FromIterator<(&'a str, V)> for Args<'a> {
    fn from_iter<I: IntoIterator<Item = (&'a str, V)>>(values: I) -> Self {
        values.into_iter().fold(Self::default(), |args, (name, value)| args.with(name, value))
    }
}

/// Makes the [`Args`](crate::value::Args) of a message.
///
/// ```
/// use crow_fly_core::{args, value::Value};
///
/// let (name, seats) = (String::from("Mair"), Some(3));
/// // A variable gives its own name; other names may have hyphens.
/// let args = args! { name, seats: &seats, first-name: &name, "last-name": "Owen", is_full: false };
/// assert_eq!(args.get("name"), Some(&Value::from("Mair")));
/// assert_eq!(args.get("seats"), Some(&Value::Integer(3)));
/// assert_eq!(args.get("first-name"), Some(&Value::from("Mair")));
/// assert_eq!(args.get("is_full"), Some(&Value::from("false")));
/// // What a variable holds is borrowed.
/// assert_eq!(name, "Mair");
/// ```
#[macro_export]
macro_rules! args {
    (@of [$($done:tt)*]) => { $crate::value::Args::of([$($done)*]) };
    (@of [$($done:tt)*] $name:literal : $value:expr $(, $($rest:tt)*)?) => {
        $crate::args!(@of [$($done)* ($name, $crate::value::Value::from($value)),] $($($rest)*)?)
    };
    (@of [$($done:tt)*] $name:ident : $value:expr $(, $($rest:tt)*)?) => {
        $crate::args!(@of [$($done)* (::core::stringify!($name), $crate::value::Value::from($value)),] $($($rest)*)?)
    };
    (@of [$($done:tt)*] $one:ident $(- $more:ident)+ : $value:expr $(, $($rest:tt)*)?) => {
        $crate::args!(@of [$($done)* (
            ::core::concat!(::core::stringify!($one) $(, "-", ::core::stringify!($more))+),
            $crate::value::Value::from($value),
        ),] $($($rest)*)?)
    };
    (@of [$($done:tt)*] $name:ident $(, $($rest:tt)*)?) => {
        $crate::args!(@of [$($done)* (::core::stringify!($name), $crate::value::Value::from(&$name)),] $($($rest)*)?)
    };
    // `user.name`, `user.name()`, `&name`: a value needs a name.
    (@of [$($done:tt)*] $($wrong:tt)+) => {
        ::core::compile_error!(::core::concat!(
            "an argument is `name` or `name: value`; give this one a name, as in `name: user.name`: `",
            ::core::stringify!($($wrong)+),
            "`"
        ))
    };
    ($($all:tt)*) => { $crate::args!(@of [] $($all)*) };
}
