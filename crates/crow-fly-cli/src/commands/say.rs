//! `crow-fly say`: one message, as the server says it.

use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly::source::PseudoLocales;
use crow_fly::{
    Args, Config, CrowFly, InspectedText, LanguageTag, Translator, Value, json_argument, say, text_argument,
};
use crow_fly_core::catalog::{SectionSource, split_key};
use crow_fly_core::message::{Message, MessageErrors};
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::translation::PseudoLocale;
use serde::Serialize;
use serde_json::json;

use super::Outcome;
use crate::arguments::{SayArguments, SayFormat};
use crate::output::Output;
use crate::project::Project;
use crate::render;

/// A message as a locale says it.
#[derive(Serialize)]
struct Said {
    key: String,
    locale: String,
    /// The locale that the text is from.
    from: String,
    file: String,
    line: Option<u32>,
    text: String,
    html: String,
    errors: Vec<String>,
    /// Whether the locale's own message has errors.
    #[serde(skip)]
    is_passed_over: bool,
}

impl Said {
    /// The message in the form that is asked for.
    fn shown(&self, what: &SayArguments) -> &str {
        match what.format {
            SayFormat::Html => &self.html,
            SayFormat::Text | SayFormat::Json => &self.text,
        }
    }
}

pub(crate) fn run(project: &Project, what: &SayArguments, output: &mut Output<'_>) -> Result<Outcome> {
    let Some((section, name)) = split_key(&what.key) else {
        bail!("`{}` names no section: write `section.name`", what.key);
    };
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(say_message(project, what, (section, name), output))
}

async fn say_message(
    project: &Project,
    what: &SayArguments,
    (section, name): (&str, &str),
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let set = project.config.policy().set();
    let pseudo = what.pseudo.as_deref().map(pseudo_locale).transpose()?;
    let wanted: Vec<LanguageTag> = match (&what.locale, &pseudo) {
        (Some(text), _) => vec![set.tag(project.locale(text)?).clone()],
        (None, Some(pseudo)) => vec![pseudo.clone()],
        (None, None) if what.all => set.iter().map(|(_, tag)| tag.clone()).collect(),
        (None, None) => vec![set.tag(set.default_locale()).clone()],
    };
    let values = what.arguments.iter().map(|(name, text)| Ok((name.as_str(), argument(name, text)?)));
    let values = values.collect::<Result<Vec<(&str, Value<'_>)>>>()?;
    let zone = what.time_zone.as_deref().map(zone).transpose()?;
    let listing = project.list()?;
    let crow = match &pseudo {
        None => CrowFly::new(project.config.clone(), project.directory.clone()),
        Some(pseudo) => {
            let reference = set.tag(set.default_locale());
            let config = Config::builder([&reference.to_string(), &pseudo.to_string()]).build()?;
            CrowFly::new(config, PseudoLocales::new(project.directory.clone(), reference))
        }
    };
    let (mut said, mut missing) = (Vec::new(), Vec::new());
    for tag in &wanted {
        let mut translator = crow.translator(tag).await.context("the locale is not there any more")?;
        if let Some(zone) = zone {
            translator = translator.with_time_zone(zone);
        }
        // Where a file cannot be read, the rest of the chain answers.
        let _ = translator.load([section]).await;
        let own = set.exact(tag).map(|locale| project.read(&listing, locale)).unwrap_or_default();
        let own = own
            .sections
            .get(section)
            .and_then(|own| own.entries().iter().rev().find(|own| own.key() == name));
        let error = own.and_then(|own| Message::parse(own.text()).err());
        match say_in(&translator, what, &values, error.as_ref()) {
            Some(one) => said.push(one),
            None => missing.push(tag.to_string()),
        }
    }
    let is_well = missing.is_empty() && said.iter().all(|said| said.errors.is_empty());
    let is_json = what.format == SayFormat::Json;
    output.keep_direction();
    if is_json && what.all {
        render::json(output, &json!({ "said": said, "missing": missing }))?;
    } else if is_json {
        match (said.first(), missing.first()) {
            (Some(said), _) => render::json(output, &with_parameters(project, said)?)?,
            (None, locale) => {
                render::json(output, &json!({ "key": what.key, "locale": locale, "from": null }))?;
            }
        }
    } else if what.all {
        let head = ["locale", "from", "text"];
        let rows =
            said.iter().map(|said| vec![said.locale.clone(), said.from.clone(), said.shown(what).to_owned()]);
        render::table(output, &head, rows)?;
        said.iter().try_for_each(|said| complain(said, true))?;
        missing_in(what, &missing)?;
    } else {
        for said in &said {
            writeln!(output, "{}", said.shown(what))?;
            complain(said, false)?;
        }
        missing_in(what, &missing)?;
    }
    Ok(if is_well { Outcome::Well } else { Outcome::Found })
}

/// A message as a translator says it; none where its chain does not have it.
fn say_in(
    translator: &Translator,
    what: &SayArguments,
    values: &[(&str, Value<'_>)],
    error: Option<&MessageErrors>,
) -> Option<Said> {
    let args: Args<'_> = values.iter().map(|(name, value)| (*name, value.clone())).collect();
    let locale = translator.locale().to_string();
    let origin = translator.origin(&what.key)?;
    let InspectedText { text, html, errors, .. } = translator.inspect(say(&what.key).with(args))?;
    let told = |error: &dyn std::error::Error| match error.source() {
        Some(cause) => format!("{error}: {cause}"),
        None => error.to_string(),
    };
    // The locale's own message may have errors: then it is passed over.
    let passed_over = error
        .map(|error| format!("the message of `{locale}` is not used: {error}; `crow-fly check` shows where"));
    let errors = passed_over.into_iter().chain(errors.iter().map(|error| told(error))).collect();
    let (from, file, line) = (origin.locale().to_string(), origin.file().to_owned(), origin.line());
    let is_passed_over = error.is_some();
    Some(Said {
        key: what.key.clone(),
        locale,
        from,
        file,
        line,
        text,
        html: html.into_string(),
        errors,
        is_passed_over,
    })
}

/// The message with the parameters that it takes.
fn with_parameters(project: &Project, said: &Said) -> Result<serde_json::Value> {
    let mut value = serde_json::to_value(said)?;
    let chains = project.config.chains();
    let found = chains.all().find(|(_, tag)| tag.to_string() == said.from);
    if let (Some((id, _)), Some((section, name))) = (found, split_key(&said.key)) {
        let catalogs = project.read(&project.list()?, id);
        let source = catalogs.sections.get(section).cloned().or_else(|| project.ready_made(id, section));
        let entries = source.iter().flat_map(SectionSource::entries);
        let text = entries.rev().find(|entry| entry.key() == name).map(|entry| entry.text().to_owned());
        if let Some(message) = text.and_then(|text| Message::parse(&text).ok()) {
            value["parameters"] = serde_json::to_value(message.parameters())?;
        }
    }
    Ok(value)
}

/// What went wrong, and where the text is from if not from the locale.
fn complain(said: &Said, names_locale: bool) -> Result<()> {
    let Said { locale, from, .. } = said;
    for error in &said.errors {
        let place = if names_locale { format!("{locale}: ") } else { String::new() };
        render::warning(format_args!("{place}{error}"))?;
    }
    if from != locale && !names_locale {
        let why = if said.is_passed_over { "" } else { &format!("`{locale}` has no such message; ") };
        render::note(format_args!("{why}this one is from `{from}`"))?;
    }
    Ok(())
}

fn missing_in(what: &SayArguments, missing: &[String]) -> Result<()> {
    if !missing.is_empty() {
        render::beside(format_args!("no message `{}` for {}", what.key, missing.join(", ")))?;
    }
    Ok(())
}

/// The pseudo-locale that was typed.
fn pseudo_locale(text: &str) -> Result<LanguageTag> {
    let tag = LanguageTag::parse_lenient(text).ok().map(|tag| tag.canonicalized());
    tag.filter(|tag| PseudoLocale::of(tag).is_some())
        .with_context(|| format!("`{text}` is not a pseudo-locale: use `en-XA` or `ar-XB`"))
}

fn zone(text: &str) -> Result<TimeZoneName> {
    text.parse().with_context(|| format!("`{text}` cannot be used"))
}

/// An argument: JSON where it begins like a list, an object or a quoted text, a number where it reads as one.
fn argument<'t>(name: &str, text: &'t str) -> Result<Value<'t>> {
    if text.starts_with(['[', '{', '"']) {
        let wrong = || format!("the value of `{name}` begins like JSON but is not JSON: {text}");
        let value = serde_json::from_str(text).with_context(wrong)?;
        return json_argument(&value).with_context(|| format!("the value of `{name}` is not an argument"));
    }
    Ok(text_argument(text))
}
