//! `crow-fly check`: all catalogs against the default locale.

use std::collections::BTreeMap;
use std::io::Write;

use anyhow::Result;
use crow_fly::core::check::{Sources, check};
use crow_fly::core::finding::{Finding, Severity};
use crow_fly::core::locale_set::LocaleId;
use serde::Serialize;

use super::Outcome;
use crate::arguments::{CheckArguments, Least};
use crate::project::Project;
use crate::render;

/// How complete a locale is.
#[derive(Serialize)]
struct State {
    locale: String,
    /// Messages of its own that the default locale has too.
    messages: usize,
    /// Messages of the default locale.
    of: usize,
    errors: usize,
    warnings: usize,
    notes: usize,
}

#[derive(Serialize)]
struct Report<'f> {
    findings: Vec<Located<'f>>,
    locales: Vec<State>,
}

#[derive(Serialize)]
struct Located<'f> {
    file: String,
    #[serde(flatten)]
    finding: &'f Finding,
}

pub(crate) fn run(project: &Project, what: &CheckArguments, json: bool, output: &mut dyn Write) -> Result<Outcome> {
    let config = &project.config;
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<Vec<_>>>()?;
    let sources = project.sources()?;
    let set = config.policy.set();
    let mut findings = check(set, &config.chains, &sources);
    findings.extend(strangers(project)?);
    let wanted = |locale: LocaleId| only.is_empty() || only.contains(&locale);
    let texts: BTreeMap<String, LocaleId> = config.chains.all().map(|(id, tag)| (tag.to_string(), id)).collect();
    findings.retain(|finding| texts.get(&finding.locale).map_or(only.is_empty(), |id| wanted(*id)));
    let states: Vec<State> = config.chains.all().filter(|(id, _)| wanted(*id)).map(|(id, tag)| state(set.default_locale(), id, &tag.to_string(), &sources, &findings)).collect();

    let located = |finding| -> String {
        let Finding { locale, section, .. }: &Finding = finding;
        if section.is_empty() { config.catalogs.join(locale).display().to_string() } else { project.file(locale, section).display().to_string() }
    };
    if json {
        let findings = findings.iter().map(|finding| Located { file: located(finding), finding }).collect();
        render::json(output, &Report { findings, locales: states })?;
    } else {
        for finding in &findings {
            let source = texts.get(&finding.locale).and_then(|id| sources.get(id)).and_then(|sections| sections.get(&finding.section));
            render::finding(output, &located(finding), source, finding)?;
        }
        let rows = states.iter().map(|state| {
            let percent = if state.of == 0 { 100 } else { state.messages * 100 / state.of };
            let say = |count: usize| if count == 0 { "–".to_owned() } else { count.to_string() };
            vec![state.locale.clone(), format!("{} of {}", state.messages, state.of), format!("{percent}%"), say(state.errors), say(state.warnings), say(state.notes)]
        });
        render::table(output, &["locale", "messages", "", "errors", "warnings", "notes"], rows)?;
        let total = |severity| findings.iter().filter(|finding| finding.severity == severity).count();
        writeln!(
            output,
            "\n{}, {}, {}",
            render::count(total(Severity::Error), "error"),
            render::count(total(Severity::Warning), "warning"),
            render::count(total(Severity::Note), "note"),
        )?;
    }
    let least = match what.fail_on {
        Least::Error => Severity::Error,
        Least::Warning => Severity::Warning,
        Least::Note => Severity::Note,
    };
    Ok(if findings.iter().any(|finding| finding.severity >= least) { Outcome::Found } else { Outcome::Well })
}

fn state(default: LocaleId, id: LocaleId, locale: &str, sources: &Sources, findings: &[Finding]) -> State {
    let keys = |id: LocaleId| {
        let sections = sources.get(&id).into_iter().flatten();
        sections.flat_map(|(section, source)| source.entries().iter().map(move |entry| (section.as_str(), entry.key())))
    };
    let reference: std::collections::BTreeSet<_> = keys(default).collect();
    let count = |severity| findings.iter().filter(|finding| finding.locale == locale && finding.severity == severity).count();
    State {
        locale: locale.to_owned(),
        messages: keys(id).filter(|key| reference.contains(key)).count(),
        of: reference.len(),
        errors: count(Severity::Error),
        warnings: count(Severity::Warning),
        notes: count(Severity::Note),
    }
}

/// Folders beside the locales' that no locale reads.
fn strangers(project: &Project) -> Result<Vec<Finding>> {
    let known: Vec<String> = project.config.chains.all().map(|(_, tag)| tag.to_string()).collect();
    let folders = project.directory.folders()?;
    Ok(folders.into_iter().filter(|folder| !known.contains(folder)).map(|folder| crow_fly::core::check::stray_folder(&folder, &known)).collect())
}
