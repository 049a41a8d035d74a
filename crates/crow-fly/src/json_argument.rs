//! Arguments of messages from JSON: for commands, and for scripts that ask for texts.

use std::fmt;

use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::value::{Money, Value as Argument};
use serde_json::Value;

/// An argument of a message, from JSON.
///
/// | JSON | argument |
/// |---|---|
/// | `3`, `12.50` | a number; a function for dates takes it as Unix seconds |
/// | `"Mair"`, `"2026-06-01T12:00:00Z"` | a text; a function for dates reads it as one |
/// | `["Holm", "Ness"]` | a list |
/// | `{ "amount": "12.50", "currency": "EUR" }` | money |
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
}

impl fmt::Display for JsonArgumentError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Null => f.write_str("`null` is not a value; leave the argument out"),
            Self::Object => {
                f.write_str("an object is money: `{ \"amount\": \"12.50\", \"currency\": \"EUR\" }`")
            }
            Self::Amount(text) => {
                write!(f, "the amount `{text}` is not a number; write it with a full stop: `12.50`")
            }
            Self::Currency(text) => {
                write!(f, "`{text}` is not the code of a currency; write three letters: `EUR`")
            }
        }
    }
}

crow_fly_core::debug_as_shown!(JsonArgumentError);

impl std::error::Error for JsonArgumentError {}
