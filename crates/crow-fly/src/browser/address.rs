//! Texts by address: public sections as JSON, and formatted texts for keys and arguments.

use std::collections::BTreeSet;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use crow_fly_core::catalog::split_key;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::value::{Args, Value};
use serde::Serialize;
use serde_json::{Map, Value as Json};
use tracing::warn;

use super::module;
use super::reply::{DirectReply, JSON};
use crate::json_argument::{json_argument, text_argument};
use crate::message_ref::say;
use crate::site::Site;
use crate::translator::Translator;
use crate::web::exchange::RequestHead;

/// A formatted text.
#[derive(Serialize)]
struct FormattedText {
    key: String,
    text: String,
    html: String,
    locale: String,
    direction: &'static str,
}

/// Why there is none.
#[derive(Serialize)]
struct Refused {
    errors: Vec<String>,
}

/// One of many texts: as it is, or why it is not there.
#[derive(Serialize)]
#[serde(untagged)]
enum Answered {
    Text(FormattedText),
    Refused(Refused),
}

/// The longest query that is read, in bytes.
const LONGEST_QUERY: usize = 4_000;

/// The reader's time zone, which the address names: a cache has one text for each.
const TIME_ZONE: &str = "time-zone";

/// The reader's formats, where they are not those of the words: a tag of the same language.
const FORMATS: &str = "formats";

/// How many texts one address asks for.
const MOST_TEXTS: usize = 32;

/// How many arguments a text takes here.
const MOST_ARGUMENTS: usize = 16;

/// The longest text that is made of what a visitor sends, in bytes.
const LONGEST_TEXT: usize = 64 * 1024;

/// The most bytes of the texts of one answer: those after them are refused.
const LONGEST_ANSWER: usize = 256 * 1024;

/// How long a formatted text is kept by caches, in seconds.
const KEPT: u32 = 60;

/// Answers a request for texts below the path of `[browser]` in the configuration.
pub(crate) async fn answer(site: &Arc<Site>, head: &impl RequestHead) -> DirectReply {
    if !head.is_page() {
        return DirectReply::not_allowed();
    }
    let base = site.config().browser.path.as_str();
    let Some(rest) = head.path().strip_prefix(base).and_then(|rest| rest.strip_prefix('/')) else {
        return DirectReply::not_found();
    };
    if let Some(reply) = module::answer(head, rest) {
        return reply;
    }
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
        return DirectReply::for_ever(JSON, texts.json().get().to_owned()).in_language(language);
    }
    let translator = Translator::without_request(site, locale).await;
    let Ok(texts) = translator.section_texts(name).await else { return DirectReply::unavailable() };
    match hash {
        None => DirectReply::tagged(JSON, texts.json().get().to_owned(), &texts.hash(), head, "no-cache")
            .in_language(language),
        Some(hash) if texts.hash() == hash => {
            DirectReply::for_ever(JSON, texts.json().get().to_owned()).in_language(language)
        }
        // A server that has not the newest release yet, or not the oldest any more.
        Some(_) => DirectReply::not_found(),
    }
}

/// Why a text is not there.
enum Problem {
    /// There is no such text: in development the answer says why.
    Absent(Option<String>),
    /// It cannot be formatted with what was given.
    Errors(Vec<String>),
}

impl Problem {
    fn absent(site: &Site, why: impl FnOnce() -> String) -> Self {
        Self::Absent(site.config().development.then(why))
    }

    /// The answer to a request for this text alone.
    fn reply(self) -> DirectReply {
        let (status, errors) = match self {
            Self::Absent(None) => return DirectReply::not_found(),
            Self::Absent(Some(why)) => (404, vec![why]),
            Self::Errors(errors) => (422, errors),
        };
        let body = serde_json::to_string(&Refused { errors }).unwrap_or_default();
        DirectReply::json(status, body, "no-store").in_language("en")
    }
}

impl From<Problem> for Refused {
    fn from(problem: Problem) -> Self {
        let errors = match problem {
            Problem::Absent(why) => why.into_iter().collect(),
            Problem::Errors(errors) => errors,
        };
        Self { errors }
    }
}

async fn text(site: &Arc<Site>, head: &impl RequestHead, locale: LocaleId) -> DirectReply {
    let query = head.query().unwrap_or_default();
    if query.len() > LONGEST_QUERY {
        return DirectReply::json(414, "{}".to_owned(), "no-store");
    }
    let pairs: Vec<_> = form_urlencoded::parse(query.as_bytes()).collect();
    let value = |wanted: &str| pairs.iter().find(|(name, _)| name == wanted).map(|(_, value)| &**value);
    let mut translator = Translator::without_request(site, locale).await.with_longest(LONGEST_TEXT);
    if let Some(zone) = value(TIME_ZONE) {
        let Ok(zone) = zone.parse() else { return DirectReply::not_found() };
        translator = translator.with_time_zone(zone);
    }
    match (value("key"), value("texts")) {
        (Some(key), _) => {
            let given = pairs.iter().filter(|(name, _)| !matches!(&**name, "key" | TIME_ZONE));
            let given: Vec<_> = given.map(|(name, value)| (&**name, text_argument(value))).collect();
            one(&translator, head, key, given).await
        }
        (None, Some(texts)) => {
            if let Some(formats) = value(FORMATS) {
                let tag = LanguageTag::parse(formats).ok();
                let own = tag.filter(|tag| tag.language() == translator.locale().language());
                let Some(own) = own else { return DirectReply::not_found() };
                translator = translator.with_formats(own);
            }
            many(&translator, head, texts).await
        }
        (None, None) => DirectReply::not_found(),
    }
}

/// Answers with one text.
async fn one(
    t: &Translator,
    head: &impl RequestHead,
    key: &str,
    given: Vec<(&str, Value<'_>)>,
) -> DirectReply {
    if !load(t, [key]).await {
        return DirectReply::unavailable();
    }
    match formatted(t, key, given) {
        Ok(text) => {
            let language = text.locale.clone();
            kept(&text, head).in_language(&language)
        }
        Err(problem) => problem.reply(),
    }
}

/// Answers with many texts, in the order in which they were asked for: each is there, or says why not.
async fn many(t: &Translator, head: &impl RequestHead, texts: &str) -> DirectReply {
    let questions = match read_questions(texts) {
        Ok(questions) => questions,
        Err(why) => {
            let body = serde_json::to_string(&Refused { errors: vec![why] }).unwrap_or_default();
            return DirectReply::json(400, body, "no-store").in_language("en");
        }
    };
    let within = questions.iter().flat_map(|(_, given)| given.values().filter_map(text_within));
    let keys = questions.iter().map(|(key, _)| key.as_str()).chain(within.map(|(key, _)| key));
    if !load(t, keys).await {
        return DirectReply::unavailable();
    }
    let mut left = LONGEST_ANSWER;
    let answers: Vec<Answered> = questions
        .iter()
        .map(|(key, given)| {
            let too_long = || Problem::Errors(vec!["the texts of one answer are too long".to_owned()]);
            // What would not be sent is not formatted.
            let given = if left > 0 { arguments(t, given) } else { Err(too_long()) };
            let text = given.and_then(|given| formatted(t, key, given)).and_then(|text| {
                left = left.saturating_sub(text.text.len() + text.html.len());
                if left > 0 { Ok(text) } else { Err(too_long()) }
            });
            text.map_or_else(|problem| Answered::Refused(problem.into()), Answered::Text)
        })
        .collect();
    let language = t.locale().to_string();
    let is_whole = answers.iter().all(|answer| matches!(answer, Answered::Text(_)));
    let texts = Texts { texts: &answers };
    if is_whole {
        return kept(&texts, head).in_language(&language);
    }
    // What is not there now may be there soon.
    DirectReply::json(200, serde_json::to_string(&texts).unwrap_or_default(), "no-store")
        .in_language(&language)
}

#[derive(Serialize)]
struct Texts<'a> {
    texts: &'a [Answered],
}

/// A key, and its arguments as JSON.
type Question = (String, Map<String, Json>);

/// Reads `[["sailing.seats-left", { "seats": 3 }], ["trip.title"]]`.
fn read_questions(texts: &str) -> Result<Vec<Question>, String> {
    const FORM: &str = "`texts` is not JSON of the form [[\"section.key\", { \"name\": value }], …]";
    let read: Vec<Vec<Json>> = serde_json::from_str(texts).map_err(|error| format!("{FORM}: {error}"))?;
    if read.len() > MOST_TEXTS {
        return Err(format!("`texts` asks for {} texts; at most {MOST_TEXTS} are answered", read.len()));
    }
    let question = |mut parts: Vec<Json>| {
        let given = if parts.len() > 1 { parts.pop() } else { None };
        match (parts.pop(), given, parts.is_empty()) {
            (Some(Json::String(key)), None, true) => Ok((key, Map::new())),
            (Some(Json::String(key)), Some(Json::Object(given)), true) => Ok((key, given)),
            _ => Err(FORM.to_owned()),
        }
    };
    read.into_iter().map(question).collect()
}

/// The key and the arguments of an argument that is a text of its own: `{ "text": "home.title", "arguments": {} }`.
fn text_within(argument: &Json) -> Option<(&str, Option<&Map<String, Json>>)> {
    let members = argument.as_object()?;
    let key = members.get("text")?.as_str()?;
    let given = members.get("arguments").map(|given| given.as_object());
    (members.len() == 1 + usize::from(given.is_some())).then_some((key, given.flatten()))
}

/// The arguments of a question; a text within one is formatted first, and has none within it.
fn arguments<'q>(t: &Translator, given: &'q Map<String, Json>) -> Result<Vec<(&'q str, Value<'q>)>, Problem> {
    let plain = |name: &str, value: &Json| {
        json_argument(value).map_err(|error| Problem::Errors(vec![format!("the argument `{name}`: {error}")]))
    };
    let argument = |(name, value): (&'q String, &'q Json)| {
        let Some((key, given)) = text_within(value) else { return Ok((name.as_str(), plain(name, value)?)) };
        let given = given.into_iter().flatten().map(|(name, value)| Ok((name.as_str(), plain(name, value)?)));
        let text = formatted(t, key, given.collect::<Result<_, _>>()?)?;
        Ok((name.as_str(), Value::from(text.text)))
    };
    given.iter().map(argument).collect()
}

/// Brings the sections of keys into memory, where they are public; whether they could be.
async fn load(t: &Translator, keys: impl IntoIterator<Item = &str>) -> bool {
    let public = &t.config().browser;
    let sections: BTreeSet<&str> = keys
        .into_iter()
        .filter_map(|key| Some(split_key(key)?.0))
        .filter(|section| public.has(section))
        .collect();
    sections.is_empty() || !t.load(sections).await.is_err_and(|error| !error.is_partial())
}

/// A text whose section is loaded.
fn formatted(t: &Translator, key: &str, given: Vec<(&str, Value<'_>)>) -> Result<FormattedText, Problem> {
    let site = t.site();
    let section = split_key(key).ok_or(Problem::Absent(None))?.0;
    if !site.config().browser.has(section) {
        return Err(Problem::absent(site, || {
            format!("`{section}` is not one of the public sections: add it to `sections` of `[browser]`")
        }));
    }
    if given.len() > MOST_ARGUMENTS {
        return Err(Problem::Absent(None));
    }
    let message = say(key).with(given.into_iter().collect::<Args<'_>>());
    if let Some(miss) = t.miss(key) {
        return Err(Problem::absent(site, || {
            let sentence = t.sentence(key, miss, true);
            warn!(target: "crow_fly::misses", key, locale = %t.locale(), by = "script", "{sentence}");
            sentence
        }));
    }
    let said = t.inspect(message).ok_or(Problem::Absent(None))?;
    if !said.errors.is_empty() {
        return Err(Problem::Errors(said.errors.iter().map(ToString::to_string).collect()));
    }
    Ok(FormattedText {
        key: key.to_owned(),
        text: said.text,
        html: said.html.into_string(),
        locale: said.locale.to_string(),
        direction: said.direction.as_str(),
    })
}

/// What caches keep for a moment.
fn kept(body: &impl Serialize, head: &impl RequestHead) -> DirectReply {
    // Texts by text: nothing that JSON could not write.
    let body = serde_json::to_string(body).unwrap_or_default();
    let mut tag = DefaultHasher::new();
    body.hash(&mut tag);
    DirectReply::tagged(
        JSON,
        body,
        &format!("{:016x}", tag.finish()),
        head,
        &format!("public, max-age={KEPT}"),
    )
}
