//! Arguments of messages from JSON, and as JSON: for commands, and for scripts that ask for texts.

use std::fmt;

use crow_fly_core::datetime::DateValue;
use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::value::{Money, Value as Argument};
use jiff::Span;
use serde_json::{Value, json};

/// An argument of a message, from JSON.
///
/// | JSON | argument |
/// |---|---|
/// | `3`, `12.50` | a number; a function for dates takes it as Unix seconds |
/// | `"Mair"`, `"2026-06-01T12:00:00Z"` | a text; a function for dates reads it as one |
/// | `["Holm", "Ness"]` | a list |
/// | `{ "amount": "12.50", "currency": "EUR" }` | money |
/// | `{ "number": "12.50" }`, `{ "date": "2026-06-01" }`, `{ "duration": "PT1H30M" }` | a number with its zeros, a date, a duration: for messages that name no function |
/// | `true` | the text `true` |
///
/// # Errors
/// For `null`, for other objects, and for an amount or a currency that cannot be read.
///
/// ```
/// use crow_fly::{args, json_argument};
///
/// let fare = json_argument(&serde_json::json!({ "amount": "12.50", "currency": "EUR" }))?;
/// let args = args! { fare: fare };
/// assert!(json_argument(&serde_json::json!({ "amount": 12 })).is_err());
/// # Ok::<(), crow_fly::JsonArgumentError>(())
/// ```
pub fn json_argument(value: &Value) -> Result<Argument<'static>, JsonArgumentError> {
    match value {
        Value::Null => Err(JsonArgumentError::Null),
        Value::Bool(is_so) => Ok(Argument::from(is_so.to_string())),
        Value::Number(number) => {
            let text = number.to_string();
            Ok(read_number(&text).unwrap_or_else(|| Argument::from(text)))
        }
        Value::String(text) => Ok(Argument::from(text.clone())),
        Value::Array(values) => {
            Ok(Argument::from(values.iter().map(json_argument).collect::<Result<Vec<_>, _>>()?))
        }
        Value::Object(members) => {
            if let (1, Some((kind, Value::String(text)))) = (members.len(), members.iter().next()) {
                match kind.as_str() {
                    "number" => {
                        return read_number(text).ok_or_else(|| JsonArgumentError::Number(text.clone()));
                    }
                    "date" => {
                        let date = DateValue::parse(text);
                        return date.map(Argument::from).map_err(|_| JsonArgumentError::Date(text.clone()));
                    }
                    "duration" => {
                        let span = text.parse::<Span>();
                        return span
                            .map(Argument::from)
                            .map_err(|_| JsonArgumentError::Duration(text.clone()));
                    }
                    _ => {}
                }
            }
            let amount = match members.get("amount") {
                Some(Value::String(text)) => text.clone(),
                Some(Value::Number(number)) => number.to_string(),
                _ => return Err(JsonArgumentError::Object),
            };
            let Some(Value::String(currency)) = members.get("currency").filter(|_| members.len() == 2) else {
                return Err(JsonArgumentError::Object);
            };
            let known =
                Currency::parse(currency).map_err(|_| JsonArgumentError::Currency(currency.clone()))?;
            let amount = Decimal::parse(&amount).map_err(|_| JsonArgumentError::Amount(amount))?;
            Ok(Argument::from(Money::new(amount, known)))
        }
    }
}

/// The whole numbers up to which a script has each one.
const MOST_EXACT: u64 = 1 << 53;

/// An argument as JSON that [`json_argument`] reads as the same one, and no script changes on the way. None for HTML and for
/// types of the application's own, which only the server has.
pub(crate) fn argument_json(argument: &Argument<'_>) -> Option<Value> {
    match argument {
        Argument::Text(text) => Some(Value::from(&**text)),
        Argument::Integer(number) if number.unsigned_abs() <= MOST_EXACT => Some(Value::from(*number)),
        // The digits as they are: a script's numbers would lose some.
        Argument::Integer(number) => Some(json!({ "number": number.to_string() })),
        Argument::Number(number) => {
            let text = number.to_string();
            let is_exact = text.parse::<f64>().is_ok_and(|near| near.to_string() == text);
            let exact = text.parse().ok().filter(|_| is_exact);
            Some(exact.map_or_else(|| json!({ "number": text }), Value::Number))
        }
        Argument::Money(money) => {
            Some(json!({ "amount": money.amount.to_string(), "currency": money.currency.as_str() }))
        }
        Argument::Date(date) => Some(json!({ "date": date.to_string() })),
        Argument::Duration(span) => Some(json!({ "duration": span.to_string() })),
        Argument::List(values) => values.iter().map(argument_json).collect(),
        _ => None,
    }
}

/// An argument of a message from what a person has typed: a number where it reads as one, else a text.
///
/// ```
/// use crow_fly::{Value, text_argument};
///
/// assert_eq!(text_argument("3"), Value::Integer(3));
/// assert_eq!(text_argument("007"), Value::from("007"));
/// ```
pub fn text_argument(text: &str) -> Argument<'_> {
    read_number(text).unwrap_or_else(|| Argument::from(text))
}

/// The number that a text is by the grammar of JSON; a whole one is an integer, which dates take as Unix seconds.
fn read_number(text: &str) -> Option<Argument<'static>> {
    let number = Decimal::parse(text).ok()?;
    let is_whole = text.strip_prefix('-').unwrap_or(text).bytes().all(|byte| byte.is_ascii_digit());
    match text.parse::<i64>() {
        // A zero may have a sign, which an integer has not.
        Ok(whole) if is_whole && (whole != 0 || text == "0") => Some(Argument::from(whole)),
        _ => Some(Argument::from(number)),
    }
}

/// Why JSON is not an argument of a message.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum JsonArgumentError {
    /// `null` is not a value.
    Null,
    /// An object that is not money.
    Object,
    /// An amount that is not a number.
    Amount(String),
    /// Not the code of a currency.
    Currency(String),
    /// Not a number.
    Number(String),
    /// Not a date or a time.
    Date(String),
    /// Not a duration.
    Duration(String),
}

impl fmt::Display for JsonArgumentError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Null => f.write_str("`null` is not a value; leave the argument out"),
            Self::Object => f.write_str(
                "an object is money, a number, a date or a duration: `{ \"amount\": \"12.50\", \"currency\": \"EUR\" }`, \
                 `{ \"number\": \"12.50\" }`, `{ \"date\": \"2026-06-01\" }`, `{ \"duration\": \"PT1H30M\" }`",
            ),
            Self::Amount(text) => {
                write!(f, "the amount `{text}` is not a number; write it with a full stop: `12.50`")
            }
            Self::Currency(text) => {
                write!(f, "`{text}` is not the code of a currency; write three letters: `EUR`")
            }
            Self::Number(text) => write!(f, "`{text}` is not a number; write it with a full stop: `12.50`"),
            Self::Date(text) => {
                write!(f, "`{text}` is not a date or a time; write it as `2026-03-01` or `2026-03-01T09:30:00Z`")
            }
            Self::Duration(text) => {
                write!(f, "`{text}` is not a duration; write it as ISO 8601 does: `PT1H30M`")
            }
        }
    }
}

crow_fly_core::debug_as_shown!(JsonArgumentError);

impl std::error::Error for JsonArgumentError {}
