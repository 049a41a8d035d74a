//! `crow-fly say`: one message in a locale.

use std::io::Write;

use anyhow::{Result, bail};
use crow_fly::core::catalog::split_key;
use crow_fly::core::message::{Message, Program};
use crow_fly::core::number::Decimal;
use crow_fly::{Args, Value};
use serde_json::json;

use super::Outcome;
use crate::arguments::SayArguments;
use crate::project::Project;
use crate::render;

pub(crate) fn run(
    project: &Project,
    what: &SayArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let set = project.config.policy.set();
    let locale = what.locale.as_deref().map_or(Ok(set.default_locale()), |text| project.locale(text))?;
    let Some((section, name)) = split_key(&what.key) else {
        bail!("`{}` names no section: write `section.name`", what.key);
    };
    let mut tried = Vec::new();
    for tag in project.config.chains.tags(locale) {
        let sections = project.sections(tag)?;
        let entry = sections
            .get(section)
            .and_then(|source| source.entries().iter().find(|entry| entry.key() == name));
        let Some(entry) = entry else {
            tried.push(tag.to_string());
            continue;
        };
        let Ok(message) = Message::parse(entry.text()) else {
            let file = project.file(&tag.to_string(), section);
            bail!("{}: the message has errors; `crow-fly check` shows them", file.display());
        };
        let args: Args<'_> =
            what.arguments.iter().map(|(name, value)| (name.as_str(), argument(value))).collect();
        let wanted = set.tag(locale);
        let context = project.config.format_context(tag);
        let context =
            if tag.language() == wanted.language() { context.with_formats(wanted) } else { context };
        let mut errors = Vec::new();
        let program = Program::compile(&message);
        let mut report = |error: crow_fly::core::message::FormatError| errors.push(error.to_string());
        let formatting = program.format(&context, &args).reporting(&mut report);
        let text = if what.html { formatting.html().into_string() } else { formatting.text() };
        if json {
            let parameters = message.parameters();
            render::json(
                output,
                &json!({
                    "key": what.key, "locale": set.text(locale), "from": tag, "text": text, "errors": errors, "parameters": parameters,
                }),
            )?;
        } else {
            writeln!(output, "{text}")?;
            for error in &errors {
                writeln!(std::io::stderr(), "warning: {error}")?;
            }
            if tag != set.tag(locale) {
                writeln!(
                    std::io::stderr(),
                    "note: `{}` has no such message; this one is from `{tag}`",
                    set.text(locale)
                )?;
            }
        }
        return Ok(if errors.is_empty() { Outcome::Well } else { Outcome::Found });
    }
    if json {
        render::json(
            output,
            &json!({ "key": what.key, "locale": set.text(locale), "from": null, "tried": tried }),
        )?;
    } else {
        writeln!(std::io::stderr(), "no message `{}`: looked in {}", what.key, tried.join(", "))?;
    }
    Ok(Outcome::Found)
}

/// A number where the text reads as one.
fn argument(text: &str) -> Value<'_> {
    Decimal::parse(text).map_or_else(|_| Value::from(text), Value::from)
}
