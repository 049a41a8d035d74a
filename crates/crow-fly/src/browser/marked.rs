//! Texts that a script can say again: their elements carry the key and the arguments.

use std::any::Any;
use std::collections::BTreeMap;
use std::fmt;
use std::sync::Arc;

use crow_fly_core::catalog::split_key;
use crow_fly_core::message::{FunctionContext, Html};
use crow_fly_core::value::{CustomValue, FunctionValue, Value as Argument};
use serde_json::{Map, Value, json};
use tracing::warn;

use crate::json_argument::argument_json;
use crate::message_ref::MessageRef;
use crate::translator::Translator;

/// A text, and what marks its element: with both, a script can change the language of the page without a new page. Made by
/// [`Translator::marked`]; shown as it is, it is a `span`.
///
/// A text is not marked where a script could not get it: its section is not public, or an argument is HTML or of a type of the
/// application's own. In development a warning names it.
#[derive(Clone, Debug)]
pub struct MarkedText<'t> {
    translator: &'t Translator,
    message: MessageRef<'t>,
    mark: Option<Mark>,
}

#[derive(Clone, Debug)]
struct Mark {
    key: String,
    /// One JSON object.
    arguments: Option<String>,
}

impl Translator {
    /// A text whose element says which text it is: `crow-fly.js` says it again in another language.
    ///
    /// ```
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['booking']")?;
    /// # let t = CrowFly::new(config, Memory::new([("en", "booking", "left = '{$seats :integer} left'")])).translator_for("en").await;
    /// let left = t.marked(("booking.left", args! { seats: 3 }));
    /// assert_eq!(
    ///     left.to_string(),
    ///     "<span data-text=\"booking.left\" data-arguments=\"{&quot;seats&quot;:3}\">3 left</span>"
    /// );
    /// // In an element of its own.
    /// assert_eq!(format!("<li{}>{}</li>", left.attributes(), left.html()), left.to_string().replace("span", "li"));
    /// # Ok(()) }
    /// ```
    pub fn marked<'t>(&'t self, message: impl Into<MessageRef<'t>>) -> MarkedText<'t> {
        let message = message.into();
        let mark = match Mark::of(self, &message) {
            Ok(mark) => Some(mark),
            Err(why) => {
                if self.config().development {
                    warn!(target: "crow_fly::scripts", key = message.key(), "a text is not marked for scripts: {why}");
                }
                None
            }
        };
        MarkedText { translator: self, message, mark }
    }
}

impl Mark {
    /// The mark of a message; an error is why a script could not get it.
    fn of(t: &Translator, message: &MessageRef<'_>) -> Result<Self, String> {
        let key = message.key();
        let section = split_key(key).map_or("", |(section, _)| section);
        if !t.config().browser.has(section) {
            return Err(format!(
                "`{section}` is not one of the public sections; add it to `sections` of `[browser]`"
            ));
        }
        let arguments = arguments_json(message).map_err(|name| {
            format!("the argument `{name}` is HTML, or of a type that only the server has")
        })?;
        Ok(Self { key: key.to_owned(), arguments })
    }
}

/// The arguments of a message as one JSON object, sorted by name; none where there are none. An error is the name of one that
/// cannot be JSON.
pub(super) fn arguments_json<'m>(message: &'m MessageRef<'_>) -> Result<Option<String>, &'m str> {
    let json = |argument: &Argument<'_>| match argument {
        Argument::Custom(value) => (&**value as &dyn Any).downcast_ref::<TextWithin>()?.json.clone(),
        argument => argument_json(argument),
    };
    let argument = |name: &'m str| match message.args.get(name).and_then(json) {
        Some(value) => Ok((name.to_owned(), value)),
        None => Err(name),
    };
    // Sorted, whatever order a map of JSON has in this program.
    let members = message.args.names().map(argument).collect::<Result<BTreeMap<String, Value>, _>>()?;
    // Values by text: nothing that JSON could not write.
    Ok((!members.is_empty()).then(|| serde_json::to_string(&members).unwrap_or_default()))
}

impl MarkedText<'_> {
    /// The value of `data-text`: the key. None where the text is not marked.
    pub fn key(&self) -> Option<&str> {
        self.mark.as_ref().map(|mark| mark.key.as_str())
    }

    /// The value of `data-arguments`: the arguments as one JSON object. None where there are none.
    pub fn arguments(&self) -> Option<&str> {
        self.mark.as_ref()?.arguments.as_deref()
    }

    /// Both attributes, each after a space: for a start tag.
    pub fn attributes(&self) -> Html {
        let mut html = Html::default();
        let attributes = [("data-text", self.key()), ("data-arguments", self.arguments())];
        for (name, value) in attributes.into_iter().filter_map(|(name, value)| Some((name, value?))) {
            html.push_trusted(&format!(" {name}=\""));
            html.push(value);
            html.push_trusted("\"");
        }
        html
    }

    /// The text: for `title` and `option`, which hold no elements.
    pub fn text(&self) -> String {
        self.translator.text(self.message.clone())
    }

    /// The text as HTML: for the content of the element.
    pub fn html(&self) -> Html {
        self.translator.html(self.message.clone())
    }

    /// The text in a `span` with the attributes; as HTML without one where it is not marked.
    pub fn to_html(&self) -> Html {
        let text = self.html();
        if self.mark.is_none() {
            return text;
        }
        let mut html = Html::default();
        html.push_trusted("<span");
        html.push_trusted(self.attributes().as_str());
        html.push_trusted(">");
        html.push_trusted(text.as_str());
        html.push_trusted("</span>");
        html
    }
}

impl fmt::Display for MarkedText<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.to_html().fmt(f)
    }
}

/// A marked text as an argument of another one: a page's title, in the title of the site.
///
/// ```
/// # use crow_fly::{args, Config, CrowFly, source::Memory};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
/// # let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['site']")?;
/// # let t = CrowFly::new(config, Memory::new([("en", "site", "title = '{$page} - Ferries'\ntrip = 'Your trip'")])).translator_for("en").await;
/// let title = t.marked(("site.title", args! { page: t.marked("site.trip") }));
/// assert_eq!(title.arguments(), Some(r#"{"page":{"text":"site.trip"}}"#));
/// # Ok(()) }
/// ```
impl From<MarkedText<'_>> for Argument<'_> {
    fn from(marked: MarkedText<'_>) -> Self {
        let text = marked.text();
        let json = marked.mark.and_then(Mark::within);
        Self::Custom(Arc::new(TextWithin { text, json }))
    }
}

/// A text that is an argument, and how a script says which one it is.
#[derive(Debug)]
struct TextWithin {
    text: String,
    json: Option<Value>,
}

impl CustomValue for TextWithin {
    fn format(&self, _: &FunctionContext) -> FunctionValue {
        FunctionValue::text(self.text.as_str())
    }
}

impl Mark {
    /// The text as an argument; none where it has a text as an argument itself.
    fn within(self) -> Option<Value> {
        let Some(arguments) = self.arguments else { return Some(json!({ "text": self.key })) };
        let arguments: Map<String, Value> = serde_json::from_str(&arguments).ok()?;
        let is_plain = arguments.values().all(|value| value.get("text").is_none());
        is_plain.then(|| json!({ "text": self.key, "arguments": arguments }))
    }
}
