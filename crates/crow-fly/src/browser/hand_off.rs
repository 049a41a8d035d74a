//! What a page hands to its scripts.

use std::sync::Arc;

use serde_json::{Map, Value, json};

use super::section::SectionTexts;
use crate::message_ref::MessageRef;
use crate::translator::{NotLoaded, Translator};
use crow_fly_core::message::Html;

/// What a page hands to its scripts: the locale, its direction, formats and time zone, the languages to choose from, texts
/// that are ready, and whole sections. Made by [`Translator::hand_off`].
///
/// ```
/// # use crow_fly::{args, testing};
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::NotLoaded> {
/// # let t = testing::translator("en", [("booking", "title = 'Book'\nleft = '{$seats :integer} left'")]).await;
/// let block = t
///     .hand_off()
///     .text("booking.title")
///     .text(("booking.left", args! { seats: 3 }))
///     .section("booking")
///     .await?
///     .to_html();
/// assert!(block.as_str().starts_with("<script type=\"application/json\" id=\"texts\">{\"locale\":\"en\""));
/// # Ok(()) }
/// ```
#[derive(Clone, Debug)]
#[must_use = "nothing is handed over until `to_html` or `to_json` is called"]
pub struct HandOff<'t> {
    translator: &'t Translator,
    id: String,
    texts: Map<String, Value>,
    sections: Vec<(String, Arc<SectionTexts>)>,
    addresses: Map<String, Value>,
}

impl Translator {
    /// What this page hands to its scripts: see [`HandOff`].
    pub fn hand_off(&self) -> HandOff<'_> {
        HandOff {
            translator: self,
            id: "texts".to_owned(),
            texts: Map::new(),
            sections: Vec::new(),
            addresses: Map::new(),
        }
    }
}

impl HandOff<'_> {
    /// The `id` of the block, `texts` unless said otherwise: for a page that has several.
    pub fn id(mut self, id: impl Into<String>) -> Self {
        self.id = id.into();
        self
    }

    /// A text, ready as the page shows it, under its key. One that fell back to another language says which.
    pub fn text<'a>(mut self, message: impl Into<MessageRef<'a>>) -> Self {
        let message = message.into();
        let key = message.key().to_owned();
        let (text, other) = self.translator.text_in_language(&message);
        let value = match other {
            None => Value::String(text),
            Some((locale, direction)) => {
                json!({ "text": text, "locale": locale.to_string(), "direction": direction.as_str() })
            }
        };
        self.texts.insert(key, value);
        self
    }

    /// A whole section, for scripts that format messages themselves: each message is a string, or the data model of the
    /// standard; one of another language of the chain says which.
    ///
    /// # Errors
    /// Where the section cannot be read.
    pub async fn section(mut self, section: &str) -> Result<Self, NotLoaded> {
        let texts = self.translator.section_texts(section).await?;
        self.sections.push((section.to_owned(), texts));
        Ok(self)
    }

    /// The address of a public section, for scripts that may need it later: see
    /// [`CrowFly::answer_texts`](crate::CrowFly::answer_texts).
    ///
    /// # Errors
    /// Where the section cannot be read.
    pub async fn section_address(mut self, section: &str) -> Result<Self, NotLoaded> {
        let texts = self.translator.section_texts(section).await?;
        if let Some(base) = self.translator.texts_address() {
            let address = format!("{base}/{section}.{}.json", texts.hash());
            self.addresses.insert(section.to_owned(), Value::from(address));
        }
        Ok(self)
    }

    /// The JSON, the same each time.
    pub fn to_json(&self) -> String {
        let t = self.translator;
        let languages: Vec<Value> = t
            .menu()
            .into_iter()
            .map(|item| {
                json!({
                    "locale": item.locale.to_string(),
                    "direction": item.direction.as_str(),
                    "name": item.own_name,
                    "address": item.address,
                    "current": item.current,
                })
            })
            .collect();
        let mut json = String::from("{");
        let mut put = |name: &str, value: &str| {
            if json.len() > 1 {
                json.push(',');
            }
            json.push_str(&Value::from(name).to_string());
            json.push(':');
            json.push_str(value);
        };
        put("locale", &Value::from(t.locale().to_string()).to_string());
        put("direction", &Value::from(t.direction().as_str()).to_string());
        put("formats", &Value::from(t.formats().to_string()).to_string());
        put("timeZone", &Value::from(t.time_zone().as_str()).to_string());
        put("languages", &Value::from(languages).to_string());
        if let Some(address) = t.texts_address() {
            put("textsAddress", &Value::from(address).to_string());
        }
        put("addresses", &Value::from(self.addresses.clone()).to_string());
        put("texts", &Value::from(self.texts.clone()).to_string());
        let mut sections = String::from("{");
        for (name, texts) in &self.sections {
            if sections.len() > 1 {
                sections.push(',');
            }
            sections.push_str(&Value::from(name.as_str()).to_string());
            sections.push(':');
            sections.push_str(texts.json());
        }
        sections.push('}');
        put("sections", &sections);
        json.push('}');
        json
    }

    /// The JSON in an element that no browser runs: `<script type="application/json">`. A Content Security Policy needs
    /// nothing for it, and nothing in a text ends it.
    pub fn to_html(&self) -> Html {
        let mut html = Html::default();
        html.push_trusted("<script type=\"application/json\" id=\"");
        html.push(&self.id);
        html.push_trusted("\">");
        html.push_trusted(&in_script(&self.to_json()));
        html.push_trusted("</script>");
        html
    }
}

/// JSON that can stand in an element of HTML: what could end the element, or begin another one or a comment, is escaped as
/// JSON escapes characters.
fn in_script(json: &str) -> String {
    let mut safe = String::with_capacity(json.len());
    for letter in json.chars() {
        match letter {
            '<' => safe.push_str("\\u003c"),
            '>' => safe.push_str("\\u003e"),
            '&' => safe.push_str("\\u0026"),
            '\u{2028}' => safe.push_str("\\u2028"),
            '\u{2029}' => safe.push_str("\\u2029"),
            letter => safe.push(letter),
        }
    }
    safe
}
