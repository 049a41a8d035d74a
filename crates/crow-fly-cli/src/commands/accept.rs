//! `crow-fly accept`: translations are marked as up to date with the default locale.

use std::collections::BTreeMap;
use std::io::Write;

use anyhow::{Result, bail};
use crow_fly_core::suggest::nearest;

use super::Outcome;
use crate::accepted::{Accepted, AcceptedText, Hashes, hashes};
use crate::arguments::AcceptArguments;
use crate::output::Output;
use crate::project::Project;
use crate::render;
use crate::writing::Writing;

/// How many texts of a locale are listed that were never accepted before: a project that begins has thousands.
const MOST_NEW: usize = 20;

pub(crate) fn run(
    project: &Project,
    what: &AcceptArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    if writing.is_some() && what.keys.is_empty() && !what.all {
        bail!("nothing is accepted without a key: name keys, or add `--all`");
    }
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<Vec<_>>>()?;
    let mut accepted = Accepted::read(project.config.checks().accepted())?;
    let listing = project.list()?;
    let reference_id = project.config.policy().set().default_locale();
    let reference = hashes(&project.read(&listing, reference_id).sections);
    let unknown = unknown(&what.keys, &reference);
    let is_wanted =
        |key: &str| what.keys.is_empty() || what.keys.iter().any(|start| is_at_or_below(key, start));
    let mut texts: BTreeMap<String, Vec<AcceptedText>> = BTreeMap::new();
    for (id, tag) in project.config.chains().all() {
        if id == reference_id || !only.is_empty() && !only.contains(&id) {
            continue;
        }
        let own = project.read(&listing, id);
        let locale = tag.to_string();
        let of_locale = accepted.accept(&locale, &own.sections, &reference, is_wanted);
        texts.insert(locale, of_locale);
    }
    let writing = writing.filter(|_| unknown.is_empty());
    if let Some(writing) = writing {
        writing.write(vec![accepted.change()?])?;
    }
    if what.format.is_json() {
        let json = serde_json::json!({ "locales": texts, "unknown": unknown, "written": writing.is_some() });
        render::json(output, &json)?;
    } else {
        print(&texts, &unknown, writing.is_some(), what, output)?;
    }
    Ok(if unknown.is_empty() { Outcome::Well } else { Outcome::Found })
}

fn is_at_or_below(key: &str, start: &str) -> bool {
    key.strip_prefix(start).is_some_and(|rest| rest.is_empty() || rest.starts_with('.'))
}

/// The keys that the default locale does not have, each with one that is written alike.
fn unknown(wanted: &[String], reference: &Hashes) -> BTreeMap<String, Option<String>> {
    let is_known = |wanted: &&String| reference.keys().any(|key| is_at_or_below(key, wanted));
    let missing = wanted.iter().filter(|wanted| !is_known(wanted));
    missing.map(|wanted| (wanted.clone(), nearest(wanted, reference.keys().cloned()))).collect()
}

fn print(
    texts: &BTreeMap<String, Vec<AcceptedText>>,
    unknown: &BTreeMap<String, Option<String>>,
    is_written: bool,
    what: &AcceptArguments,
    output: &mut Output<'_>,
) -> Result<()> {
    for (key, near) in unknown {
        let help = near.as_ref().map(|near| format!("; did you mean `{near}`?")).unwrap_or_default();
        writeln!(output, "the default locale has no text `{key}`{help}")?;
    }
    if !unknown.is_empty() {
        writeln!(output, "nothing is written")?;
        return Ok(());
    }
    let what_happens = if is_written { "accepted" } else { "to accept" };
    for (locale, texts) in texts {
        writeln!(output, "{locale}: {} {what_happens}", render::count(texts.len(), "text"))?;
        if is_written {
            continue;
        }
        for text in texts.iter().filter(|text| text.is_stale) {
            writeln!(output, "  {} (the text of the default locale has changed)", text.key)?;
        }
        let new: Vec<&AcceptedText> = texts.iter().filter(|text| !text.is_stale).collect();
        for text in new.iter().take(MOST_NEW) {
            writeln!(output, "  {}", text.key)?;
        }
        if new.len() > MOST_NEW {
            writeln!(output, "  and {} more, for the first time", new.len() - MOST_NEW)?;
        }
    }
    if !is_written && texts.values().any(|texts| !texts.is_empty()) {
        let which = if what.keys.is_empty() && !what.all { "name keys, or add `--all`, and" } else { "" };
        let which = [which, "add `--write`"].join(" ");
        writeln!(output, "to accept them: {}", which.trim_start())?;
    }
    Ok(())
}
