//! Texts by address: public sections as JSON, and formatted texts for keys and arguments.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::split_key;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::Args;
use serde::Serialize;
use tracing::warn;

use super::reply::DirectReply;
use crate::json_argument::text_argument;
use crate::message_ref::say;
use crate::site::Site;
use crate::translator::Translator;
use crate::web::exchange::RequestHead;

/// A formatted text.
#[derive(Serialize)]
struct FormattedText<'t> {
    key: &'t str,
    text: &'t str,
    html: &'t str,
    locale: String,
    direction: &'static str,
}

/// Why there is none.
#[derive(Serialize)]
struct Refused {
    errors: Vec<String>,
}

/// The longest query that is read, in bytes.
const LONGEST_QUERY: usize = 2_000;

/// The reader's time zone, which the address names: a cache has one text for each.
const TIME_ZONE: &str = "time-zone";

/// How many arguments a text takes here.
const MOST_ARGUMENTS: usize = 16;

/// The longest text that is made of what a visitor sends, in bytes.
const LONGEST_TEXT: usize = 64 * 1024;

/// How long a formatted text is kept by caches, in seconds.
const KEPT: u32 = 60;

/// The content of an address with a hash never changes.
const FOR_EVER: &str = "public, max-age=31536000, immutable";

/// Answers a request for texts below the path of `[browser]` in the configuration.
pub(crate) async fn answer(site: &Arc<Site>, head: &impl RequestHead) -> DirectReply {
    if !head.is_page() {
        return DirectReply::not_allowed();
    }
    let base = site.config().browser.path.as_str();
    let Some(rest) = head.path().strip_prefix(base).and_then(|rest| rest.strip_prefix('/')) else {
        return DirectReply::not_found();
    };
    let (locale, file) = rest.split_once('/').map_or((rest, None), |(locale, file)| (locale, Some(file)));
    let tag = LanguageTag::parse(locale).ok();
    let Some(locale) = tag.and_then(|tag| site.policy().set().exact(&tag)) else {
        return DirectReply::not_found();
    };
    match file {
        Some(file) => section(site, head, locale, file).await,
        None => text(site, head, locale).await,
    }
}

async fn section(site: &Arc<Site>, head: &impl RequestHead, locale: LocaleId, file: &str) -> DirectReply {
    let Some(name) = file.strip_suffix(".json") else { return DirectReply::not_found() };
    let (name, hash) = name.split_once('.').map_or((name, None), |(section, hash)| (section, Some(hash)));
    if !site.config().browser.has(name) {
        return DirectReply::not_found();
    }
    let language = site.policy().set().text(locale);
    if let Some(texts) = hash.and_then(|hash| site.public_sections().of_hash(locale, name, hash)) {
        return DirectReply::json(200, texts.json().get().to_owned(), FOR_EVER).in_language(language);
    }
    let translator = Translator::without_request(site, locale).await;
    let Ok(texts) = translator.section_texts(name).await else { return DirectReply::unavailable() };
    match hash {
        None => DirectReply::tagged(texts.json().get().to_owned(), &texts.hash(), head, "no-cache")
            .in_language(language),
        Some(hash) if texts.hash() == hash => {
            DirectReply::json(200, texts.json().get().to_owned(), FOR_EVER).in_language(language)
        }
        // A server that has not the newest release yet, or not the oldest any more.
        Some(_) => DirectReply::not_found(),
    }
}

/// There is no such text: in development the answer says why.
fn absent(site: &Site, why: impl FnOnce() -> String) -> DirectReply {
    if !site.config().development {
        return DirectReply::not_found();
    }
    let body = serde_json::to_string(&Refused { errors: vec![why()] }).unwrap_or_default();
    DirectReply::json(404, body, "no-store").in_language("en")
}

async fn text(site: &Arc<Site>, head: &impl RequestHead, locale: LocaleId) -> DirectReply {
    let query = head.query().unwrap_or_default();
    if query.len() > LONGEST_QUERY {
        return DirectReply::json(414, "{}".to_owned(), "no-store");
    }
    let pairs: Vec<_> = form_urlencoded::parse(query.as_bytes()).collect();
    let key = pairs.iter().find(|(name, _)| name == "key").map(|(_, value)| &**value);
    let Some((key, section)) = key.and_then(|key| Some((key, split_key(key)?.0))) else {
        return DirectReply::not_found();
    };
    let given = || pairs.iter().filter(|(name, _)| !matches!(&**name, "key" | TIME_ZONE));
    if !site.config().browser.has(section) {
        return absent(site, || {
            format!("`{section}` is not one of the public sections: add it to `sections` of `[browser]`")
        });
    }
    if given().count() > MOST_ARGUMENTS {
        return DirectReply::not_found();
    }
    let mut translator = Translator::without_request(site, locale).await.with_longest(LONGEST_TEXT);
    if let Some((_, zone)) = pairs.iter().find(|(name, _)| name == TIME_ZONE) {
        let Ok(zone) = zone.parse() else { return DirectReply::not_found() };
        translator = translator.with_time_zone(zone);
    }
    if translator.load([section]).await.is_err_and(|error| !error.is_partial()) {
        return DirectReply::unavailable();
    }
    let args: Args<'_> = given().map(|(name, value)| (&**name, text_argument(value))).collect();
    let message = say(key).with(args);
    if let Some(miss) = translator.miss(key) {
        return absent(site, || {
            let sentence = translator.sentence(key, miss, true);
            warn!(target: "crow_fly::misses", key, locale = %translator.locale(), by = "script", "{sentence}");
            sentence
        });
    }
    let Some(said) = translator.inspect(message) else { return DirectReply::not_found() };
    if !said.errors.is_empty() {
        let errors: Vec<String> = said.errors.iter().map(ToString::to_string).collect();
        let body = serde_json::to_string(&Refused { errors }).unwrap_or_default();
        return DirectReply::json(422, body, "no-store").in_language("en");
    }
    let body = FormattedText {
        key,
        text: &said.text,
        html: said.html.as_str(),
        locale: said.locale.to_string(),
        direction: said.direction.as_str(),
    };
    // Texts by text: nothing that JSON could not write.
    let body = serde_json::to_string(&body).unwrap_or_default();
    let mut tag = DefaultHasher::new();
    body.hash(&mut tag);
    DirectReply::tagged(body, &format!("{:016x}", tag.finish()), head, &format!("public, max-age={KEPT}"))
        .in_language(&said.locale.to_string())
}
