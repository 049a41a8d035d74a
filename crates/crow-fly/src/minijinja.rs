//! The translator in `minijinja` templates: an object with the methods it has in Rust.
//!
//! | in a template | gives |
//! |---|---|
//! | `t.text("booking.seats-left", seats=3)` | a text, escaped by the template as any other: for attributes |
//! | `t.html("booking.terms")` | safe HTML: for what is between elements |
//! | `t.marked("booking.seats-left", seats=3)` | the text in a `span` that scripts can say again |
//! | `t.say("booking.bicycles", count=2).or("Bicycles: {$count}").text()` | the default text where no catalog has the key; `.html()` and `.parts()`, too |
//! | `t.parts("booking.terms")` | the parts of a message, each a map with its `type` |
//! | `t.has("booking.terms")` | whether the chain has a text |
//! | `t.path("/sailings")`, `t.url("/sailings")` | the address of a page; with the site's origin |
//! | `t.alternates("https://ferries.example")` | the links to the page in every locale, for its head |
//! | `t.menu()` | the languages: `own_name`, `name`, `address`, `page`, `exists`, `current`, `locale`, `direction` |
//! | `t.locale`, `t.direction` | for `<html lang dir>` |
//! | `t.time_zone` | the time zone that times are shown in |
//!
//! Arguments are numbers, texts, lists, money as `{"amount": "12.50", "currency": "EUR"}`, and dates as text, which is what a
//! date of the application serializes to. Safe strings stay safe in `html`. Anything else, or what is undefined, is an error of
//! the template that names the argument; it never shows as debug text.
//!
//! ```
//! use crow_fly::{Config, CrowFly, source::Memory};
//! use minijinja::{Environment, context, value::Value};
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
//! let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
//! let catalogs = Memory::new([("cy", "home", "seats = '{$seats :integer} sedd ar ôl'")]);
//! let t = CrowFly::new(config, catalogs).translator(&"cy".parse()?).await.unwrap();
//!
//! let template = r#"<p lang="{{ t.locale }}">{{ t.text("home.seats", seats=4) }}</p>"#;
//! let page = Environment::new().render_named_str("page.html", template, context! { t => Value::from_object(t) })?;
//! assert_eq!(page, r#"<p lang="cy">4 sedd ar ôl</p>"#);
//! # Ok(()) }
//! ```

use std::sync::Arc;

use crow_fly_core::html::Html;
use crow_fly_core::number::Decimal;
use crow_fly_core::value::{Args, Value as Argument};
use minijinja::value::{Enumerator, Kwargs, Object, Serde, Value, ValueKind, from_args};
use minijinja::{Error, ErrorKind, State};

use crate::json_argument::json_argument;
use crate::message_ref::say;
use crate::translator::{Presence, Translator};

impl Object for Translator {
    fn get_value(self: &Arc<Self>, key: &Value) -> Option<Value> {
        match key.as_str()? {
            "locale" => Some(Value::from(self.locale().to_string())),
            "direction" => Some(Value::from(self.direction().as_str())),
            "time_zone" => Some(Value::from(self.time_zone().to_string())),
            _ => None,
        }
    }

    fn enumerate(self: &Arc<Self>) -> Enumerator {
        Enumerator::Str(&["locale", "direction", "time_zone"])
    }

    fn call_method(
        self: &Arc<Self>,
        _: &mut State<'_, '_>,
        method: &str,
        args: &[Value],
    ) -> Result<Value, Error> {
        match method {
            "text" | "html" | "marked" | "parts" => Said::new(self, args)?.as_method(method),
            "say" => Ok(Value::from_object(Said::new(self, args)?)),
            "has" => {
                let (key,): (&str,) = from_args(args)?;
                Ok(Value::from(self.has(key) == Presence::Yes))
            }
            "url" => {
                let (path,): (&str,) = from_args(args)?;
                Ok(self.url(path).map_or(Value::UNDEFINED, Value::from))
            }
            "path" => {
                let (path,): (&str,) = from_args(args)?;
                Ok(Value::from(self.path(path)))
            }
            "alternates" => {
                let (origin,): (&str,) = from_args(args)?;
                Ok(Value::from_safe_string(Translator::alternates(self, origin).to_html().into_string()))
            }
            "inspector" => {
                let () = from_args(args)?;
                Ok(Value::from_safe_string(Translator::inspector(self).into_string()))
            }
            "menu" => {
                let () = from_args(args)?;
                Ok(Value::from(Serde(self.menu())))
            }
            _ => Err(Error::new(
                ErrorKind::UnknownMethod,
                format!("a translator has {METHODS}, but no `{method}`"),
            )),
        }
    }
}

/// A message to be said, with its arguments: `t.say("…", n=1)`.
#[derive(Clone, Debug)]
struct Said {
    t: Arc<Translator>,
    key: String,
    values: Vec<(String, Argument<'static>)>,
    default: Option<String>,
}

impl Said {
    fn new(t: &Arc<Translator>, args: &[Value]) -> Result<Self, Error> {
        let (key, named): (&str, Kwargs) = from_args(args)?;
        Ok(Self { t: Arc::clone(t), key: key.to_owned(), values: arguments(key, &named)?, default: None })
    }

    fn as_method(&self, method: &str) -> Result<Value, Error> {
        let args = self.values.iter().map(|(name, value)| (name.as_str(), value.clone()));
        let mut message = say(&self.key).with(args.collect::<Args<'_>>());
        if let Some(default) = &self.default {
            message = message.or(default);
        }
        Ok(match method {
            "text" => Value::from(self.t.text(message)),
            "html" => Value::from_safe_string(self.t.html(message).into_string()),
            "marked" => Value::from_safe_string(self.t.marked(message).to_html().into_string()),
            "parts" => Value::from(Serde(self.t.parts(message))),
            _ => {
                let told =
                    format!("a message has `or`, `text`, `html`, `marked` and `parts`, but no `{method}`");
                return Err(Error::new(ErrorKind::UnknownMethod, told));
            }
        })
    }
}

impl Object for Said {
    fn call_method(
        self: &Arc<Self>,
        _: &mut State<'_, '_>,
        method: &str,
        args: &[Value],
    ) -> Result<Value, Error> {
        if method == "or" {
            let (default,): (String,) = from_args(args)?;
            return Ok(Value::from_object(Self { default: Some(default), ..(**self).clone() }));
        }
        let () = from_args(args)?;
        self.as_method(method)
    }

    /// Shown by itself it is its text.
    fn render(self: &Arc<Self>, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let text = self.as_method("text").map_err(|_| std::fmt::Error)?;
        f.write_str(text.as_str().unwrap_or_default())
    }
}

const METHODS: &str =
    "`text`, `html`, `marked`, `parts`, `say`, `has`, `path`, `url`, `alternates` and `menu`";

/// A template's named arguments as those of a message.
fn arguments(key: &str, named: &Kwargs) -> Result<Vec<(String, Argument<'static>)>, Error> {
    let of_name = |name: &str| {
        let value = named.get::<Value>(name)?;
        let wrong = |why: String| {
            Error::new(ErrorKind::InvalidOperation, format!("the argument `{name}` of `{key}` {why}"))
        };
        argument(&value, 0).map(|argument| (name.to_owned(), argument)).map_err(wrong)
    };
    named.args().map(of_name).collect()
}

/// How deep lists of lists are read: texts show less.
const MAX_DEPTH: usize = 32;

/// The argument that a value of a template is, so deep in lists; else why it is none.
fn argument(value: &Value, depth: usize) -> Result<Argument<'static>, String> {
    if depth > MAX_DEPTH {
        return Err(format!("is a list of lists that is more than {MAX_DEPTH} deep"));
    }
    match value.kind() {
        ValueKind::Undefined => Err("is undefined; give it to the template, or leave it out".to_owned()),
        // As an absent value in Rust.
        ValueKind::None => Ok(Argument::from("")),
        ValueKind::Bool => Ok(Argument::from(value.is_true())),
        ValueKind::Number => {
            if let Ok(whole) = i64::try_from(value.clone()) {
                // Whole floats come here as well: they are written without a fraction anyway.
                return Ok(Argument::from(whole));
            }
            let text = value.to_string();
            Ok(Decimal::parse(&text).map_or_else(|_| Argument::from(text), Argument::from))
        }
        ValueKind::String if value.is_safe() => {
            let mut html = Html::default();
            // The template vouches for it.
            html.push_trusted(value.as_str().unwrap_or_default());
            Ok(Argument::from(html))
        }
        ValueKind::String => Ok(Argument::from(value.as_str().unwrap_or_default().to_owned())),
        ValueKind::Seq | ValueKind::Iterable => {
            let items =
                value.try_iter().map_err(|error| format!("is a list that cannot be read: {error}"))?;
            Ok(Argument::from(items.map(|item| argument(&item, depth + 1)).collect::<Result<Vec<_>, _>>()?))
        }
        ValueKind::Map => {
            let json = serde_json::to_value(value)
                .map_err(|error| format!("is a map that cannot be read: {error}"))?;
            json_argument(&json).map_err(|error| format!("is a map; {error}"))
        }
        other => Err(format!("is {other}; give a number, a text, a list or money")),
    }
}
