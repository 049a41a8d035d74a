//! Texts by address: public sections as JSON, and formatted texts for keys and arguments.

use std::hash::{DefaultHasher, Hash, Hasher};

use crow_fly_core::catalog::split_key;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::Args;
use serde_json::{Value, json};

use crate::crow_fly::CrowFly;
use crate::json_argument::text_argument;
use crate::message_ref::say;
use crate::web::exchange::RequestHead;

/// An answer with texts. Made by [`CrowFly::answer_texts`].
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TextsReply {
    status: u16,
    headers: Vec<(&'static str, String)>,
    body: String,
}

/// The longest query that is read, in bytes.
const LONGEST_QUERY: usize = 2_000;

/// How many arguments a text takes here.
const MOST_ARGUMENTS: usize = 16;

/// How long a formatted text is kept by caches, in seconds.
const KEPT: u32 = 60;

impl TextsReply {
    fn new(status: u16, body: String, caching: &str) -> Self {
        let headers = vec![
            ("content-type", "application/json".to_owned()),
            ("cache-control", caching.to_owned()),
            ("x-content-type-options", "nosniff".to_owned()),
        ];
        Self { status, headers, body }
    }

    /// There is nothing here now; a cache must not remember it, since there may be something soon.
    fn not_found() -> Self {
        Self::new(404, "{}".to_owned(), "no-store")
    }

    fn unavailable() -> Self {
        Self::new(503, "{}".to_owned(), "no-store").with("retry-after", "2")
    }

    fn with(mut self, name: &'static str, value: impl Into<String>) -> Self {
        self.headers.push((name, value.into()));
        self
    }

    /// An answer that is the same until its tag changes.
    fn tagged(body: String, tag: &str, head: &impl RequestHead, caching: &str) -> Self {
        let tag = format!("\"{tag}\"");
        // RFC 9110 §13.1.2: any of several, and weak ones compare equal.
        let is_known = |other: &str| {
            let other = other.trim();
            other == "*" || other.strip_prefix("W/").unwrap_or(other) == tag
        };
        let known = head.header("if-none-match").is_some_and(|tags| tags.split(',').any(is_known));
        let reply =
            if known { Self::new(304, String::new(), caching) } else { Self::new(200, body, caching) };
        reply.with("etag", tag)
    }

    /// The status.
    pub const fn status(&self) -> u16 {
        self.status
    }

    /// The headers; names are in lower case.
    pub fn headers(&self) -> impl Iterator<Item = (&'static str, &str)> {
        self.headers.iter().map(|(name, value)| (*name, value.as_str()))
    }

    /// JSON.
    pub fn body(&self) -> &str {
        &self.body
    }

    /// Takes the body out.
    pub fn into_body(self) -> String {
        self.body
    }
}

impl CrowFly {
    /// Answers a request for texts below the path of `[browser]` in the configuration. Only the sections that are named
    /// there are handed out.
    ///
    /// | address | answer |
    /// |---|---|
    /// | `/texts/pl/booking.0123456789abcdef.json` | the section, for ever: another version has another address. The last three versions have theirs; an address that is not known is a 404 that no cache keeps |
    /// | `/texts/pl/booking.json` | the section as it is now, with an `ETag` |
    /// | `/texts/pl?key=booking.seats-left&seats=3` | the formatted text, as text and as HTML, for a minute |
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['booking']")?;
    /// let crow = CrowFly::new(config, Memory::new([("en", "booking", "left = '{$seats :integer} left'")]));
    /// let request = http::Request::get("/texts/en?key=booking.left&seats=1200").body(()).unwrap();
    /// let reply = crow.answer_texts(&request.into_parts().0).await;
    /// assert!(reply.body().contains("1,200 left"), "{reply:?}");
    /// # Ok(()) }
    /// ```
    pub async fn answer_texts(&self, head: &impl RequestHead) -> TextsReply {
        if !head.is_page() {
            return TextsReply::new(405, "{}".to_owned(), "no-store").with("allow", "GET, HEAD");
        }
        let base = self.config().browser.path.as_str();
        let Some(rest) = head.path().strip_prefix(base).and_then(|rest| rest.strip_prefix('/')) else {
            return TextsReply::not_found();
        };
        let (locale, file) = rest.split_once('/').map_or((rest, None), |(locale, file)| (locale, Some(file)));
        let tag = LanguageTag::parse(locale).ok();
        let Some(locale) = tag.and_then(|tag| self.policy().set().exact(&tag)) else {
            return TextsReply::not_found();
        };
        match file {
            Some(file) => self.answer_section(head, locale, file).await,
            None => self.answer_text(head, locale).await,
        }
    }

    async fn answer_section(&self, head: &impl RequestHead, locale: LocaleId, file: &str) -> TextsReply {
        let Some(name) = file.strip_suffix(".json") else { return TextsReply::not_found() };
        let (section, hash) =
            name.split_once('.').map_or((name, None), |(section, hash)| (section, Some(hash)));
        if !self.config().browser.has(section) {
            return TextsReply::not_found();
        }
        const FOR_EVER: &str = "public, max-age=31536000, immutable";
        if let Some(texts) = hash.and_then(|hash| self.public_sections().of_hash(locale, section, hash)) {
            return TextsReply::new(200, texts.json().to_owned(), FOR_EVER);
        }
        let translator = self.translator_of(locale).await;
        let Ok(texts) = translator.section_texts(section).await else { return TextsReply::unavailable() };
        match hash {
            None => TextsReply::tagged(texts.json().to_owned(), &texts.hash(), head, "no-cache"),
            Some(hash) if texts.hash() == hash => TextsReply::new(200, texts.json().to_owned(), FOR_EVER),
            // A server that has not the newest release yet, or not the oldest any more.
            Some(_) => TextsReply::not_found(),
        }
    }

    async fn answer_text(&self, head: &impl RequestHead, locale: LocaleId) -> TextsReply {
        let query = head.query().unwrap_or_default();
        if query.len() > LONGEST_QUERY {
            return TextsReply::new(414, "{}".to_owned(), "no-store");
        }
        let pairs: Vec<_> = form_urlencoded::parse(query.as_bytes()).collect();
        let key = pairs.iter().find(|(name, _)| name == "key").map(|(_, value)| &**value);
        let Some((key, section)) = key.and_then(|key| Some((key, split_key(key)?.0))) else {
            return TextsReply::not_found();
        };
        let given = || pairs.iter().filter(|(name, _)| name != "key");
        if !self.config().browser.has(section) || given().count() > MOST_ARGUMENTS {
            return TextsReply::not_found();
        }
        let translator = self.translator_of(locale).await;
        if translator.load([section]).await.is_err_and(|error| !error.is_partial()) {
            return TextsReply::unavailable();
        }
        let args: Args<'_> = given().map(|(name, value)| (&**name, text_argument(value))).collect();
        let message = say(key).with(args);
        if translator.has(key) != crate::Presence::Yes {
            return TextsReply::not_found();
        }
        let (_, other) = translator.text_in_language(&message);
        let Some(said) = translator.inspect(message) else { return TextsReply::not_found() };
        if !said.errors.is_empty() {
            let errors: Vec<Value> = said.errors.iter().map(|error| Value::from(error.to_string())).collect();
            return TextsReply::new(422, json!({ "errors": errors }).to_string(), "no-store");
        }
        let (locale, direction) = match &other {
            Some((locale, direction)) => (locale, *direction),
            None => (translator.locale(), translator.direction()),
        };
        let body = json!({
            "key": key,
            "text": said.text,
            "html": said.html.as_str(),
            "locale": locale.to_string(),
            "direction": direction.as_str(),
        });
        let body = body.to_string();
        let mut tag = DefaultHasher::new();
        body.hash(&mut tag);
        TextsReply::tagged(body, &format!("{:016x}", tag.finish()), head, &format!("public, max-age={KEPT}"))
    }
}
