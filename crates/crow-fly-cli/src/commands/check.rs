//! `crow-fly check`: all catalogs against the default locale.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;
use std::path::Path;

use anyhow::{Context, Result};
use crow_fly::core::catalog::split_key;
use crow_fly::core::check::{self, check};
use crow_fly::core::finding::{Finding, Severity};
use crow_fly::core::locale_set::LocaleId;
use crow_fly::core::message::Message;
use crow_fly::core::rule::Rule;
use crow_fly::core::suggest::nearest;
use crow_fly::{MissKind, MissReport};
use serde::Serialize;

use super::Outcome;
use crate::arguments::{CheckArguments, Least};
use crate::project::{Catalogs, Project};
use crate::render;

/// How complete a locale is.
#[derive(Serialize)]
struct State {
    locale: String,
    /// Messages of its own that the default locale has too.
    own: usize,
    /// Further ones that its chain supplies in the same language.
    from_chain: usize,
    /// Messages of the default locale that it has neither way.
    missing: usize,
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

pub(crate) fn run(
    project: &Project,
    what: &CheckArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let config = &project.config;
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<Vec<_>>>()?;
    let catalogs = project.read()?;
    let sources = &catalogs.sources;
    let set = config.policy().set();
    let mut findings = check(set, config.chains(), sources);
    findings.extend(catalogs.findings.iter().cloned());
    if let Some(file) = &what.misses {
        findings.extend(misses(project, file, sources)?);
    }
    let wanted = |locale: LocaleId| only.is_empty() || only.contains(&locale);
    let texts: BTreeMap<String, LocaleId> =
        config.chains().all().map(|(id, tag)| (tag.to_string(), id)).collect();
    findings.retain(|finding| texts.get(&finding.locale).map_or(only.is_empty(), |id| wanted(*id)));
    let states: Vec<State> = config
        .chains()
        .all()
        .filter(|(id, _)| wanted(*id))
        .map(|(id, _)| state(project, id, sources, &findings))
        .collect();

    if json {
        let located = |finding| Located { file: file(project, &catalogs, finding), finding };
        render::json(output, &Report { findings: findings.iter().map(located).collect(), locales: states })?;
    } else {
        for finding in &findings {
            let sections = texts.get(&finding.locale).and_then(|id| sources.get(id));
            let source = sections.and_then(|sections| sections.get(&finding.section));
            render::finding(output, &file(project, &catalogs, finding), source, finding)?;
        }
        summary(output, &states, &findings)?;
    }
    let least = match what.fail_on {
        Least::Error => Severity::Error,
        Least::Warning => Severity::Warning,
        Least::Note => Severity::Note,
    };
    Ok(if findings.iter().any(|finding| finding.severity >= least) { Outcome::Found } else { Outcome::Well })
}

/// The file, or the folder, that a finding is about.
fn file(project: &Project, catalogs: &Catalogs, Finding { locale, section, .. }: &Finding) -> String {
    if let Some(file) = catalogs.file(locale, section) {
        return file.to_owned();
    }
    let mut path = project.config.catalogs().to_owned();
    if !locale.is_empty() {
        path.push(locale);
    }
    if !section.is_empty() {
        // Where the file would be.
        path.push(format!("{section}.toml"));
    }
    path.strip_prefix(".").unwrap_or(&path).display().to_string()
}

/// What an application has asked for and no catalog has.
fn misses(project: &Project, file: &Path, sources: &check::Project) -> Result<Vec<Finding>> {
    let shown = file.display();
    let text = std::fs::read_to_string(file).with_context(|| format!("{shown} cannot be read"))?;
    let report = MissReport::from_json(&text)
        .with_context(|| format!("{shown} is not a file of misses: `CrowFly::misses` writes one"))?;
    let chains = project.config.chains();
    let has = |id: &LocaleId, key: &str| {
        let Some((section, name)) = split_key(key) else { return false };
        let source = sources.get(id).and_then(|sections| sections.get(section));
        source.is_some_and(|source| source.entries().iter().any(|entry| entry.key() == name))
    };
    let reference = project.config.policy().set().default_locale();
    let known = || {
        let sections = sources.get(&reference).into_iter().flatten();
        sections.flat_map(|(section, source)| {
            source.entries().iter().map(move |entry| format!("{section}.{}", entry.key()))
        })
    };
    let mut findings = Vec::new();
    for miss in report.iter().filter(|miss| matches!(miss.kind, MissKind::Missing(_))) {
        // A locale that the application no longer has is nobody's any more.
        let Some((id, _)) = chains.all().find(|(_, tag)| tag.to_string() == miss.locale) else { continue };
        if chains.of(id).iter().any(|id| has(id, &miss.key)) {
            continue;
        }
        let times = render::count(usize::try_from(miss.count).unwrap_or(usize::MAX), "time");
        // Keys made from data can be many: not each of them is worth a search through all messages.
        let near = (findings.len() < 100).then(|| nearest(&miss.key, known())).flatten();
        let help = match near {
            Some(near) => format!("did you mean `{near}`?"),
            None => "add the message to the default locale".to_owned(),
        };
        let section = split_key(&miss.key).map_or("", |(section, _)| section);
        let text = format!("the application asked for `{}` {times}, and no catalog has it", miss.key);
        findings.push(Finding::of_file(
            Rule::MissedKey,
            Severity::Warning,
            &miss.locale,
            section,
            text,
            help,
        ));
    }
    Ok(findings)
}

/// How complete each locale is, and how many findings there are.
fn summary(output: &mut dyn Write, states: &[State], findings: &[Finding]) -> Result<()> {
    let rows = states.iter().map(|state| {
        let say = |count: usize| if count == 0 { "–".to_owned() } else { count.to_string() };
        let all = state.own + state.from_chain + state.missing;
        let percent = ((state.own + state.from_chain) * 100).checked_div(all).unwrap_or(100);
        let counts = [state.own, state.from_chain, state.missing, state.errors, state.warnings, state.notes];
        [state.locale.clone(), format!("{percent}%")].into_iter().chain(counts.map(say)).collect()
    });
    let head = ["locale", "said", "own", "from chain", "missing", "errors", "warnings", "notes"];
    render::table(output, &head, rows)?;
    let total = |severity| findings.iter().filter(|finding| finding.severity == severity).count();
    writeln!(
        output,
        "\n{}, {}, {}",
        render::count(total(Severity::Error), "error"),
        render::count(total(Severity::Warning), "warning"),
        render::count(total(Severity::Note), "note"),
    )?;
    Ok(())
}

fn state(project: &Project, id: LocaleId, sources: &check::Project, findings: &[Finding]) -> State {
    let config = &project.config;
    let (tag, set) = (config.chains().tag(id), config.policy().set());
    // A message with errors is not said.
    let keys = |id: LocaleId| -> BTreeSet<(&str, &str)> {
        let sections = sources.get(&id).into_iter().flatten();
        let entries = sections.flat_map(|(section, source)| {
            source.entries().iter().map(move |entry| (section.as_str(), entry))
        });
        entries
            .filter(|(_, entry)| Message::parse(entry.text()).is_ok())
            .map(|(section, entry)| (section, entry.key()))
            .collect()
    };
    let reference = keys(set.default_locale());
    let own: BTreeSet<_> = keys(id).intersection(&reference).copied().collect();
    let chain = config
        .chains()
        .of(id)
        .iter()
        .skip(1)
        .filter(|other| config.chains().tag(**other).language() == tag.language());
    let covered: BTreeSet<_> = chain
        .flat_map(|other| keys(*other))
        .filter(|key| reference.contains(key) && !own.contains(key))
        .collect();
    let text = tag.to_string();
    let count = |severity| {
        findings.iter().filter(|finding| finding.locale == text && finding.severity == severity).count()
    };
    State {
        locale: text.clone(),
        own: own.len(),
        from_chain: covered.len(),
        missing: reference.len() - own.len() - covered.len(),
        errors: count(Severity::Error),
        warnings: count(Severity::Warning),
        notes: count(Severity::Note),
    }
}
