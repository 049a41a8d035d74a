//! The translator in `minijinja` templates: an object with the methods it has in Rust.
//!
//! | in a template | gives |
//! |---|---|
//! | `t.text("booking.seats-left", seats=3)` | a text, escaped by the template as any other |
//! | `t.html("booking.terms")` | safe HTML |
//! | `t.path("/sailings")` | the address of a page |
//! | `t.alternates("https://ferries.example")` | the links to the page in every locale, for its head |
//! | `t.menu()` | the languages: `own_name`, `name`, `address`, `page`, `exists`, `current`, `locale`, `direction` |
//! | `t.locale`, `t.direction` | for `<html lang dir>` |
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

use crow_fly_core::number::Decimal;
use crow_fly_core::value::{Args, Value as Argument};
use minijinja::value::{Enumerator, Kwargs, Object, Serde, Value, from_args};
use minijinja::{Error, ErrorKind, State};

use crate::message_ref::say;
use crate::translator::Translator;

impl Object for Translator {
    fn get_value(self: &Arc<Self>, key: &Value) -> Option<Value> {
        match key.as_str()? {
            "locale" => Some(Value::from(self.locale().to_string())),
            "direction" => Some(Value::from(self.direction().as_str())),
            _ => None,
        }
    }

    fn enumerate(self: &Arc<Self>) -> Enumerator {
        Enumerator::Str(&["locale", "direction"])
    }

    fn call_method(
        self: &Arc<Self>,
        _: &mut State<'_, '_>,
        method: &str,
        args: &[Value],
    ) -> Result<Value, Error> {
        match method {
            "text" | "html" => {
                let (key, named): (&str, Kwargs) = from_args(args)?;
                let values = arguments(&named)?;
                let arguments: Args<'_> = values.iter().map(|(name, value)| (*name, value.clone())).collect();
                let message = say(key).with(arguments);
                Ok(if method == "text" {
                    Value::from(self.text(message))
                } else {
                    Value::from_safe_string(self.html(message).into_string())
                })
            }
            "path" => {
                let (path,): (&str,) = from_args(args)?;
                Ok(Value::from(self.path(path)))
            }
            "alternates" => {
                let (origin,): (&str,) = from_args(args)?;
                Ok(Value::from_safe_string(Translator::alternates(self, origin).to_html().into_string()))
            }
            "menu" => {
                let () = from_args(args)?;
                Ok(Value::from(Serde(self.menu())))
            }
            _ => Err(Error::new(
                ErrorKind::UnknownMethod,
                format!(
                    "a translator has `text`, `html`, `path`, `alternates` and `menu`, but no `{method}`"
                ),
            )),
        }
    }
}

/// A template's named arguments as those of a message.
fn arguments(named: &Kwargs) -> Result<Vec<(&str, Argument<'static>)>, Error> {
    named.args().map(|name| Ok((name, argument(&named.get::<Value>(name)?)))).collect()
}

fn argument(value: &Value) -> Argument<'static> {
    if !value.is_number() {
        return Argument::from(value.to_string());
    }
    if let Ok(whole) = i64::try_from(value.clone()) {
        // Whole floats come here as well: they are written without a fraction anyway.
        return Argument::from(whole);
    }
    let text = value.to_string();
    Decimal::parse(&text).map_or_else(|_| Argument::from(text), Argument::from)
}
