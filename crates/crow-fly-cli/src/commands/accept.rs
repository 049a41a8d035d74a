//! `crow-fly accept`: translations are marked as up to date with the reference.

use std::collections::BTreeMap;
use std::io::Write;

use anyhow::Result;

use super::Outcome;
use crate::accepted::{Accepted, hashes};
use crate::arguments::AcceptArguments;
use crate::project::Project;
use crate::render;

pub(crate) fn run(project: &Project, what: &AcceptArguments, output: &mut dyn Write) -> Result<Outcome> {
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<Vec<_>>>()?;
    let file = project.config.checks().accepted();
    let mut accepted = Accepted::read(file)?;
    let listing = project.list()?;
    let reference_id = project.config.policy().set().default_locale();
    let reference = hashes(&project.read(&listing, reference_id).sections);
    let is_wanted = |key: &str| {
        let is_below = |start: &String| {
            key == start || key.strip_prefix(start.as_str()).is_some_and(|rest| rest.starts_with('.'))
        };
        what.keys.is_empty() || what.keys.iter().any(is_below)
    };
    let mut counts = BTreeMap::new();
    for (id, tag) in project.config.chains().all() {
        if id == reference_id || !only.is_empty() && !only.contains(&id) {
            continue;
        }
        let own = project.read(&listing, id);
        let count = accepted.accept(&tag.to_string(), &own.sections, &reference, is_wanted);
        counts.insert(tag.to_string(), count);
    }
    accepted.write(file)?;
    if what.format.is_json() {
        render::json(output, &counts)?;
    } else {
        for (locale, count) in counts {
            writeln!(output, "{locale}: {} accepted", render::count(count, "text"))?;
        }
    }
    Ok(Outcome::Well)
}
