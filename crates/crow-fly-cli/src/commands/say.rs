//! `crow-fly say`: one message in a locale.

use std::io::Write;

use anyhow::{Result, bail};
use crow_fly::core::catalog::{SectionSource, split_key};
use crow_fly::core::locale_set::LocaleId;
use crow_fly::core::message::{FormatError, Message, Program};
use crow_fly::core::number::Decimal;
use crow_fly::{Args, LanguageTag, Value};
use serde_json::json;

use super::Outcome;
use crate::arguments::SayArguments;
use crate::project::Project;
use crate::render;

/// A message that was found along the chain.
struct Found<'p> {
    tag: &'p LanguageTag,
    message: Message,
}

/// The text of a message, and what was wrong while it was formatted.
struct Formatted {
    text: String,
    errors: Vec<String>,
}

pub(crate) fn run(
    project: &Project,
    what: &SayArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let set = project.config.policy().set();
    let locale = what.locale.as_deref().map_or(Ok(set.default_locale()), |text| project.locale(text))?;
    let mut tried = Vec::new();
    let Some(found) = find(project, what, locale, &mut tried)? else {
        if json {
            let missing =
                json!({ "key": what.key, "locale": set.text(locale), "from": null, "tried": tried });
            render::json(output, &missing)?;
        } else {
            writeln!(std::io::stderr(), "no message `{}`: looked in {}", what.key, tried.join(", "))?;
        }
        return Ok(Outcome::Found);
    };
    let Formatted { text, errors } = format(project, what, locale, &found);
    if json {
        let parameters = found.message.parameters();
        render::json(
            output,
            &json!({
                "key": what.key, "locale": set.text(locale), "from": found.tag, "text": text, "errors": errors, "parameters": parameters,
            }),
        )?;
    } else {
        writeln!(output, "{text}")?;
        for error in &errors {
            writeln!(std::io::stderr(), "warning: {error}")?;
        }
        if found.tag != set.tag(locale) {
            let (locale, from) = (set.text(locale), found.tag);
            writeln!(std::io::stderr(), "note: `{locale}` has no such message; this one is from `{from}`")?;
        }
    }
    Ok(if errors.is_empty() { Outcome::Well } else { Outcome::Found })
}

/// Finds a message along the chain; the locales without it go to `tried`.
fn find<'p>(
    project: &'p Project,
    what: &SayArguments,
    locale: LocaleId,
    tried: &mut Vec<String>,
) -> Result<Option<Found<'p>>> {
    let Some((section, name)) = split_key(&what.key) else {
        bail!("`{}` names no section: write `section.name`", what.key);
    };
    let listing = project.list()?;
    let chains = project.config.chains();
    for id in chains.of(locale) {
        let tag = chains.tag(*id);
        let catalogs = project.read(&listing, *id);
        let below = project.ready_made(*id, section);
        let own = catalogs.sections.get(section);
        let mut entries = own.into_iter().chain(below.as_ref()).flat_map(SectionSource::entries);
        let Some(entry) = entries.find(|entry| entry.key() == name) else {
            tried.push(tag.to_string());
            continue;
        };
        let Ok(message) = Message::parse(entry.text()) else {
            let file = catalogs.files.get(section).map_or("", String::as_str);
            bail!("{file}: the message has errors; `crow-fly check` shows them");
        };
        return Ok(Some(Found { tag, message }));
    }
    Ok(None)
}

fn format(project: &Project, what: &SayArguments, locale: LocaleId, found: &Found<'_>) -> Formatted {
    let context = project.config.format_context(found.tag, locale);
    let args: Args<'_> =
        what.arguments.iter().map(|(name, value)| (name.as_str(), argument(value))).collect();
    let mut errors = Vec::new();
    let mut report = |error: FormatError| errors.push(error.to_string());
    let program = Program::compile(&found.message);
    let formatting = program.format(&context, &args).reporting(&mut report);
    let text = if what.html { formatting.html().into_string() } else { formatting.text() };
    Formatted { text, errors }
}

/// A number where the text reads as one.
fn argument(text: &str) -> Value<'_> {
    Decimal::parse(text).map_or_else(|_| Value::from(text), Value::from)
}
