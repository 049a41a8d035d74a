//! What a page hands to its scripts.

use std::collections::BTreeMap;
use std::sync::Arc;

use crow_fly_core::message::Html;
use serde::Serialize;
use serde_json::value::RawValue;

use super::marked::arguments_json;
use crate::menu::MenuItem;
use crate::message_ref::MessageRef;
use crate::public_sections::SectionTexts;
use crate::translator::{NotLoaded, Presence, Translator};

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
    texts: BTreeMap<String, Text>,
    sections: BTreeMap<String, Arc<SectionTexts>>,
    addresses: BTreeMap<String, String>,
}

/// A text: a string, or what there is more of it.
#[derive(Clone, Debug, Serialize)]
#[serde(untagged)]
enum Text {
    Plain(String),
    Whole {
        text: String,
        /// Where it has elements.
        #[serde(skip_serializing_if = "Option::is_none")]
        html: Option<String>,
        /// Where it is in another language than the page.
        #[serde(flatten)]
        language: Option<OtherLanguage>,
        /// Where it has some. Null where a script cannot have them.
        #[serde(skip_serializing_if = "Option::is_none")]
        arguments: Option<Box<RawValue>>,
    },
}

#[derive(Clone, Debug, Serialize)]
struct OtherLanguage {
    locale: String,
    direction: &'static str,
}

/// What is handed over; scripts write names like this.
#[derive(Serialize)]
#[serde(rename_all = "camelCase")]
struct Whole<'h> {
    locale: String,
    direction: &'static str,
    formats: String,
    time_zone: &'static str,
    /// Whether the time zone is the visitor's: texts that are asked for later are for it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    own_time_zone: bool,
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    development: bool,
    languages: Vec<Language>,
    #[serde(skip_serializing_if = "Option::is_none")]
    texts_address: Option<String>,
    addresses: &'h BTreeMap<String, String>,
    texts: &'h BTreeMap<String, Text>,
    sections: BTreeMap<&'h str, &'h RawValue>,
}

/// A language to choose.
#[derive(Serialize)]
struct Language {
    locale: String,
    direction: &'static str,
    name: String,
    /// That of the switch.
    address: String,
    /// Those of this page, where it is there in this language, and of the home page.
    #[serde(skip_serializing_if = "Option::is_none")]
    page: Option<String>,
    home: String,
    current: bool,
}

impl Translator {
    /// What this page hands to its scripts: see [`HandOff`].
    pub fn hand_off(&self) -> HandOff<'_> {
        HandOff {
            translator: self,
            id: "texts".to_owned(),
            texts: BTreeMap::new(),
            sections: BTreeMap::new(),
            addresses: BTreeMap::new(),
        }
    }
}

impl HandOff<'_> {
    /// The `id` of the block, `texts` by default: for a page that has several.
    pub fn id(mut self, id: impl Into<String>) -> Self {
        self.id = id.into();
        self
    }

    /// A text, ready as the page shows it, under its key. One that fell back to another language names it.
    pub fn text<'a>(mut self, message: impl Into<MessageRef<'a>>) -> Self {
        let message = message.into();
        let (text, other) = self.translator.text_in_language(&message);
        // A text that is missing is counted once, and has no elements.
        let is_there = self.translator.has(message.key()) == Presence::Yes;
        let html = is_there.then(|| self.translator.html(message.clone()).into_string());
        let html = html.filter(|html| html.contains('<'));
        let language = other.map(|(locale, direction)| OtherLanguage {
            locale: locale.to_string(),
            direction: direction.as_str(),
        });
        let arguments = match arguments_json(&message) {
            Ok(arguments) => arguments.and_then(|arguments| RawValue::from_string(arguments).ok()),
            Err(_) => Some(RawValue::NULL.to_owned()),
        };
        let value = if html.is_none() && language.is_none() && arguments.is_none() {
            Text::Plain(text)
        } else {
            Text::Whole { text, html, language, arguments }
        };
        self.texts.insert(message.key().to_owned(), value);
        self
    }

    /// A whole section, for scripts that format messages themselves: each message is a string, or the data model of the
    /// standard; one of another language of the chain names it.
    ///
    /// # Errors
    /// Where the section cannot be read.
    pub async fn section(mut self, section: &str) -> Result<Self, NotLoaded> {
        let texts = self.translator.section_texts(section).await?;
        self.sections.insert(section.to_owned(), texts);
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
            self.addresses.insert(section.to_owned(), address);
        }
        Ok(self)
    }

    /// The JSON, the same each time.
    pub fn to_json(&self) -> String {
        let t = self.translator;
        let language = |item: MenuItem| Language {
            locale: item.locale.to_string(),
            direction: item.direction.as_str(),
            name: item.own_name,
            address: item.address,
            page: item.exists.then_some(item.page),
            home: t.home(&item.locale),
            current: item.current,
        };
        let sections = self.sections.iter().map(|(name, texts)| (name.as_str(), texts.json()));
        let whole = Whole {
            locale: t.locale().to_string(),
            direction: t.direction().as_str(),
            formats: t.formats().to_string(),
            time_zone: t.time_zone().as_str(),
            own_time_zone: t.has_own_time_zone(),
            development: t.config().development,
            languages: t.menu().into_iter().map(language).collect(),
            texts_address: t.texts_address(),
            addresses: &self.addresses,
            texts: &self.texts,
            sections: sections.collect(),
        };
        // Texts by text: nothing that JSON could not write.
        serde_json::to_string(&whole).unwrap_or_default()
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
