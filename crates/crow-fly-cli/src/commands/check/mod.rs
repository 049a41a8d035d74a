//! `crow-fly check`: all catalogs against the default locale.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;
use std::path::Path;

use anyhow::{Context, Result};
use crow_fly::{MissKind, MissReport};
use crow_fly_core::catalog::split_key;
use crow_fly_core::check::{Coverage, KeySet};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::rule::Rule;
use crow_fly_core::suggest::nearest;
use serde::Serialize;
use serde_json::json;

use super::Outcome;
use super::coverage::Columns;
use crate::arguments::{CheckArguments, CheckFormat, Least};
use crate::located::Located;
use crate::output::Output;
use crate::project::Project;
use crate::writing::{Disk, Writing};
use crate::{place, reading, render};

mod baseline;
mod code;
mod fix;
mod sarif;
pub(crate) mod walk;

use baseline::Baseline;
use walk::{Checked, Wants};

/// How a locale is.
#[derive(Serialize)]
struct State {
    locale: String,
    #[serde(flatten)]
    coverage: Coverage,
    errors: usize,
    warnings: usize,
    notes: usize,
}

/// How many findings are shown to people: nobody reads more.
const MOST_SHOWN: usize = 1_000;

#[derive(Serialize)]
struct Report<'f> {
    findings: &'f [Located],
    locales: Vec<State>,
}

pub(crate) fn run(
    project: Result<Project>,
    what: &CheckArguments,
    (writing, disk): (Option<&Writing<'_>>, &dyn Disk),
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let project = match project {
        Ok(project) => project,
        // A mistake in the configuration is a finding like others; nothing more can be checked.
        Err(error) => {
            let found = error.downcast_ref().and_then(Located::in_config).ok_or(error)?;
            return report(&[found], Vec::new(), 0, what, output);
        }
    };
    let project = &project;
    let only = what.locale.iter().map(|text| project.locale(text)).collect::<Result<BTreeSet<_>>>()?;
    let wants = if what.misses.is_some() { Wants::Keys } else { Wants::Findings };
    let mut checked = walk::check(project, &only, wants)?;
    if let Some(file) = &what.misses {
        let found = misses(project, file, &checked, &only)?;
        checked.add(project, found.into_iter().map(|finding| Located::of(project, finding)).collect());
    }
    if only.is_empty() {
        let reference = project.config.policy().set().default_locale();
        if let Some(keys) = checked.keys.get(&reference) {
            let found = code::check(project, &checked.reference, keys)?;
            checked.add(project, found);
        }
    }
    if let Some(file) = &what.write_baseline {
        let count = baseline::write(disk, file, &checked.findings)?;
        if what.format == CheckFormat::Json {
            render::json(output, &json!({ "baseline": file, "findings": count }))?;
        } else {
            writeln!(output, "{}: {} to start from", place::path(file), render::count(count, "finding"))?;
        }
        return Ok(Outcome::Well);
    }
    let known = what.baseline.as_deref().or_else(|| project.config.checks().baseline());
    let known = known.map(Baseline::read).transpose()?;
    let left_out = known.as_ref().map_or(0, |known| known.take_out(&mut checked.findings));
    if what.fix {
        fix::fix(&checked.findings, what, writing, output)?;
        return Ok(Outcome::Well);
    }
    report(&checked.findings, states(project, &checked), left_out, what, output)
}

/// All that a check without options finds, the baseline's findings left out.
pub(super) fn findings(project: &Project) -> Result<Vec<Located>> {
    let mut checked = walk::check(project, &BTreeSet::new(), Wants::Findings)?;
    let reference = project.config.policy().set().default_locale();
    if let Some(keys) = checked.keys.get(&reference) {
        let found = code::check(project, &checked.reference, keys)?;
        checked.add(project, found);
    }
    if let Some(baseline) = project.config.checks().baseline() {
        Baseline::read(baseline)?.take_out(&mut checked.findings);
    }
    Ok(checked.findings)
}

/// Prints what was found, and says whether it matters.
fn report(
    findings: &[Located],
    states: Vec<State>,
    left_out: usize,
    what: &CheckArguments,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    match what.format {
        CheckFormat::Sarif => render::json(output, &sarif::log(findings))?,
        CheckFormat::Json => render::json(output, &Report { findings, locales: states })?,
        CheckFormat::Lines => {
            for found in findings {
                writeln!(output, "{}", found.as_line())?;
            }
        }
        CheckFormat::Text => {
            for found in findings.iter().take(MOST_SHOWN) {
                render::finding(output, found)?;
            }
            if let Some(more) = findings.len().checked_sub(MOST_SHOWN).filter(|more| *more > 0) {
                let more = render::count(more, "finding");
                writeln!(output, "{more} not shown here; `--format lines` and `--format json` have all\n")?;
            }
            summary(output, &states, findings)?;
            if left_out > 0 {
                writeln!(output, "{} of the baseline not shown", render::count(left_out, "finding"))?;
            }
        }
    }
    let least = match what.fail_on {
        Least::Error => Severity::Error,
        Least::Warning => Severity::Warning,
        Least::Note => Severity::Note,
    };
    let is_found = findings.iter().any(|found| found.finding.severity >= least);
    Ok(if is_found { Outcome::Found } else { Outcome::Well })
}

/// The description of a rule, or a list of all.
pub(crate) fn about(name: &str, what: &CheckArguments, output: &mut Output<'_>) -> Result<Outcome> {
    if name == "all" {
        let rules = Rule::ALL.iter();
        if what.format == CheckFormat::Json {
            let row =
                |rule: &Rule| json!({ "rule": rule, "severity": rule.severity(), "summary": rule.summary() });
            render::json(output, &rules.map(row).collect::<Vec<_>>())?;
        } else {
            let row =
                |rule: &Rule| vec![rule.to_string(), rule.severity().to_string(), rule.summary().to_owned()];
            render::table(output, &["rule", "severity", "what it finds"], rules.map(row))?;
        }
        return Ok(Outcome::Well);
    }
    let rule = Rule::named(name).with_context(|| {
        let near = nearest(name, Rule::ALL.iter().map(|rule| rule.id().to_owned()));
        let help = near
            .map_or_else(|| "`--about all` lists them".to_owned(), |near| format!("did you mean `{near}`?"));
        format!("there is no rule `{name}`; {help}")
    })?;
    if what.format == CheckFormat::Json {
        let about = json!({
            "rule": rule, "severity": rule.severity(), "summary": rule.summary(), "about": rule.about(),
            "wrong": rule.wrong(), "right": rule.right(), "allowed_by": rule.allowed_by(),
        });
        render::json(output, &about)?;
        return Ok(Outcome::Well);
    }
    writeln!(output, "{rule} ({}): {}\n\n{}", rule.severity(), rule.summary(), rule.about())?;
    if !rule.wrong().is_empty() {
        writeln!(output, "\nwrong: {}\nright: {}", rule.wrong(), rule.right())?;
    }
    if let Some(by) = rule.allowed_by() {
        let note = if by == Rule::NOTE { format!(": `# allow: {rule} (why)`") } else { String::new() };
        writeln!(output, "\nallowed by {by}{note}")?;
    }
    Ok(Outcome::Well)
}

/// What an application has asked for and no catalog has.
fn misses(
    project: &Project,
    file: &Path,
    checked: &Checked,
    only: &BTreeSet<LocaleId>,
) -> Result<Vec<Finding>> {
    let shown = place::path(file);
    let text = reading::text(file)?;
    let report = MissReport::from_json(&text)
        .with_context(|| format!("{shown} is not a file of misses: `CrowFly::misses` writes one"))?;
    let chains = project.config.chains();
    let has = |id: &LocaleId, key: &str| checked.keys.get(id).is_some_and(|keys| keys.contains(key));
    let reference = project.config.policy().set().default_locale();
    let known = || checked.keys.get(&reference).into_iter().flat_map(KeySet::keys);
    let mut findings = Vec::new();
    for miss in report.iter().filter(|miss| matches!(miss.kind, MissKind::Missing(_))) {
        // A locale that the application no longer has is nobody's any more.
        let Some((id, _)) = chains.all().find(|(_, tag)| tag.to_string() == miss.locale) else { continue };
        let is_wanted = only.is_empty() || only.contains(&id);
        if !is_wanted || chains.of(id).iter().any(|id| has(id, &miss.key)) {
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
        findings.push(Finding::of_file(Rule::MissedKey, &miss.locale, section, text, help));
    }
    Ok(findings)
}

/// How complete each locale is, and how many findings there are.
fn summary(output: &mut Output<'_>, states: &[State], findings: &[Located]) -> Result<()> {
    let columns = Columns::of(states.iter().map(|state| &state.coverage));
    let rows = states.iter().map(|state| {
        let percent = state.coverage.percent();
        let counts = columns.cells(&state.coverage).chain([state.errors, state.warnings, state.notes]);
        [state.locale.clone(), format!("{percent}%")].into_iter().chain(counts.map(render::cell)).collect()
    });
    let head =
        ["locale", "covered"].into_iter().chain(columns.heads()).chain(["errors", "warnings", "notes"]);
    if !states.is_empty() {
        render::table(output, &head.collect::<Vec<_>>(), rows)?;
        writeln!(output)?;
    }
    let total = |severity| findings.iter().filter(|found| found.finding.severity == severity).count();
    writeln!(
        output,
        "{}, {}, {}",
        render::count(total(Severity::Error), "error"),
        render::count(total(Severity::Warning), "warning"),
        render::count(total(Severity::Note), "note"),
    )?;
    Ok(())
}

fn states(project: &Project, checked: &Checked) -> Vec<State> {
    let mut counts: BTreeMap<(&str, Severity), usize> = BTreeMap::new();
    for Located { finding, .. } in &checked.findings {
        *counts.entry((&finding.locale, finding.severity)).or_default() += 1;
    }
    let state = |(id, coverage): (&LocaleId, &Coverage)| {
        let locale = project.config.chains().tag(*id).to_string();
        let count = |severity| counts.get(&(locale.as_str(), severity)).copied().unwrap_or_default();
        State {
            coverage: *coverage,
            errors: count(Severity::Error),
            warnings: count(Severity::Warning),
            notes: count(Severity::Note),
            locale,
        }
    };
    checked.coverage.iter().map(state).collect()
}
