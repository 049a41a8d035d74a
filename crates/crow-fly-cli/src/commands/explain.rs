//! `crow-fly explain`: how a request is decided, source by source.

use std::io::Write;

use anyhow::Result;
use crow_fly::core::names::{Casing, own_name};
use crow_fly::core::policy::{ExplainedStep, Explanation, Facts, SessionValue, TimeZoneFacts};

use super::Outcome;
use crate::arguments::ExplainArguments;
use crate::project::Project;
use crate::render;

pub(crate) fn run(
    project: &Project,
    what: &ExplainArguments,
    json: bool,
    output: &mut dyn Write,
) -> Result<Outcome> {
    let (host, address) = split_url(&what.url);
    let (path, query) = address.split_once('?').map_or((address, None), |(path, query)| (path, Some(query)));
    let parameter = &project.config.query_parameter;
    let pairs = form_urlencoded::parse(query.unwrap_or_default().as_bytes());
    let query_value = pairs.into_owned().find(|(name, _)| name == parameter).map(|(_, value)| value);
    let lines: Vec<&[u8]> = what.accept_lines.iter().map(String::as_bytes).collect();
    let facts = Facts {
        path,
        query,
        is_page: matches!(what.method.as_str(), "GET" | "HEAD"),
        host,
        query_value: query_value.as_deref(),
        header_value: what.header.as_deref(),
        visitor: what.visitor.as_deref(),
        session: match what.session.as_deref() {
            None => SessionValue::None,
            Some("") => SessionValue::Empty,
            Some(value) => SessionValue::Text(value),
        },
        cookie: what.cookie.as_deref(),
        accept_lines: &lines,
        time_zone: TimeZoneFacts { cookie: what.time_zone.as_deref(), ..TimeZoneFacts::default() },
    };
    let policy = &project.config.policy;
    let decision = policy.decide(&facts);
    let explanation = policy.explain(&facts, &decision);
    if json {
        render::json(output, &explanation)?;
        return Ok(Outcome::Well);
    }
    let name = own_name(policy.set().tag(decision.locale), Casing::Sentence);
    writeln!(output, "{} {address}", what.method)?;
    writeln!(output, "{}\n", summary(&explanation, &name))?;
    trace(output, &explanation.trace)?;
    let vary = if explanation.vary.is_empty() { "nothing".to_owned() } else { explanation.vary.join(", ") };
    writeln!(output, "\nthe answer varies with: {vary}")?;
    writeln!(output, "numbers and dates follow: {}", explanation.formats)?;
    if let Some(zone) = &explanation.time_zone {
        writeln!(output, "times are told in: {zone}\n")?;
        trace(output, &explanation.time_zone_trace)?;
    }
    Ok(Outcome::Well)
}

fn trace(output: &mut dyn Write, steps: &[ExplainedStep]) -> std::io::Result<()> {
    let rows = steps.iter().map(|step| {
        vec![
            step.source.to_string(),
            step.verdict.replace('-', " "),
            step.value.clone().unwrap_or_else(|| "–".to_owned()),
            step.why.clone(),
        ]
    });
    render::table(output, &["source", "verdict", "value", "why"], rows)
}

fn summary(explanation: &Explanation, name: &str) -> String {
    let target = explanation.target.as_deref().unwrap_or_default();
    let Explanation { locale, source, .. } = explanation;
    match (explanation.outcome, explanation.status) {
        ("redirect", Some(308)) => format!("308 to {target}: the one address this page has"),
        ("redirect", Some(status)) => {
            format!("{status} to {target}: the visitor prefers {locale} ({name}), decided by {source}")
        }
        ("skip", _) => "goes on untouched: the path is none of the application's pages".to_owned(),
        ("not-found", _) => {
            "404: there is no such address; its first segment names no locale the application has".to_owned()
        }
        _ => format!("serves {target} in {locale} ({name}), decided by {source}"),
    }
}

/// The host, where a whole URL was typed, and the rest.
fn split_url(url: &str) -> (Option<&str>, &str) {
    let Some((_, rest)) = url.split_once("://") else { return (None, url) };
    match rest.find('/') {
        Some(slash) => (rest.get(..slash), rest.get(slash..).unwrap_or("/")),
        None => (Some(rest), "/"),
    }
}
