//! `crow-fly explain`: what the server does with a request, and why, source by source.

use std::io::Write;
use std::path::Path;

use anyhow::{Context, Result, bail, ensure};
use clap::Parser as _;
use crow_fly::sessions::{SessionEntries, SessionEntry};
use crow_fly::web::{ExplainedRequest, KnownOfVisitor, VisitorSettings};
use crow_fly::{Config, CrowFly};
use crow_fly_core::policy::ExplainedStep;
use crow_fly_core::route::local;
use http::header::{COOKIE, HOST};
use http::request::Parts;
use http::{HeaderName, HeaderValue, Method, Request};
use serde::Serialize;

use self::header::Header;
use super::Outcome;
use crate::arguments::{ExplainArguments, RequestArguments, RequestLine};
use crate::failure::first_paragraph;
use crate::output::Output;
use crate::place::Misplaced;
use crate::project::Project;
use crate::reading;
use crate::render;

mod header;

pub(crate) fn run(project: &Project, what: &ExplainArguments, output: &mut Output<'_>) -> Result<Outcome> {
    let crow = CrowFly::new(project.config.clone(), project.directory.clone());
    if let Some(file) = &what.requests {
        return each(&crow, project, file, what.format.is_json(), output);
    }
    let (request, explained) = explain(&crow, project, &what.request)?;
    let header = what.detail.then(|| Header::of(project, &what.request.accept_lines));
    if what.format.is_json() {
        let mut value = serde_json::to_value(&explained)?;
        if let Some(header) = &header {
            value["header"] = serde_json::to_value(header)?;
        }
        render::json(output, &value)?;
        return Ok(Outcome::Well);
    }
    let address = request.uri.path_and_query().map_or("/", |address| address.as_str());
    writeln!(output, "{} {address}", request.method)?;
    writeln!(output, "{explained}")?;
    if let Some(choice) = &explained.choice {
        for key in &choice.session_keys {
            writeln!(output, "the session remembers it under `{key}`")?;
        }
    }
    if !explained.headers.is_empty() {
        writeln!(output)?;
        let rows = explained.headers.iter().map(|header| vec![header.name.to_owned(), header.value.clone()]);
        render::table(output, &["header", "value"], rows)?;
    }
    if let Some(decision) = &explained.decision {
        writeln!(output)?;
        trace(output, &decision.trace)?;
        writeln!(output, "\nnumbers and dates follow: {}", decision.formats)?;
        writeln!(output, "calendar: {}", decision.calendar)?;
        if let Some(zone) = &decision.time_zone {
            writeln!(output, "times are shown in: {zone}\n")?;
            trace(output, &decision.time_zone_trace)?;
        }
    }
    if let Some(header) = &header {
        header.print(output)?;
    }
    Ok(Outcome::Well)
}

/// What the layer does with a request that was described.
fn explain(crow: &CrowFly, project: &Project, what: &RequestArguments) -> Result<(Parts, ExplainedRequest)> {
    let request = request(&project.config, what)?;
    let explained = crow.explain(&request, &known(what));
    // Only the switch address decides nothing, and reads a form.
    let reads_form = explained.decision.is_none() && request.method == Method::POST;
    ensure!(
        what.form.is_none() || reads_form,
        "no form is read here; the switch address reads one: `crow-fly explain {} --method POST --form …`",
        project.config.switch_path()
    );
    Ok((request, explained))
}

/// A request of a file.
#[derive(Serialize)]
struct OfFile {
    /// The line as it is written.
    request: String,
    #[serde(flatten)]
    explained: ExplainedRequest,
}

/// Explains each request of a file in one line. All of them are read first: a mistake in one stops everything.
fn each(
    crow: &CrowFly,
    project: &Project,
    file: &Path,
    is_json: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let shown = file.display();
    let text = reading::text(file)?;
    let mut requests = Vec::new();
    for (number, line) in text.lines().enumerate() {
        let line = line.trim();
        if line.is_empty() || line.starts_with('#') {
            continue;
        }
        let wrong =
            |text: String| Misplaced::in_line(&shown, u32::try_from(number + 1).unwrap_or(u32::MAX), text);
        let words = shlex::split(line).ok_or_else(|| wrong("a quote is not closed".to_owned()))?;
        let parsed =
            RequestLine::try_parse_from(words).map_err(|error| wrong(first_paragraph(&error.to_string())))?;
        let (_, explained) =
            explain(crow, project, &parsed.request).map_err(|error| wrong(format!("{error:#}")))?;
        requests.push(OfFile { request: line.to_owned(), explained });
    }
    if is_json {
        render::json(output, &requests)?;
        return Ok(Outcome::Well);
    }
    let longest = requests.iter().map(|one| one.request.chars().count()).max().unwrap_or_default();
    let width = longest.min(60);
    for OfFile { request, explained } in &requests {
        writeln!(output, "{request:<width$}  {explained}")?;
    }
    Ok(Outcome::Well)
}

/// The head of the request that was described.
fn request(config: &Config, what: &RequestArguments) -> Result<Parts> {
    let method = what.method.to_ascii_uppercase();
    let method: Method = method.parse().with_context(|| format!("`{method}` is not a method of HTTP"))?;
    let mut request = Request::builder().method(method);
    let (host, address) = split_url(&what.url)?;
    // What is not ASCII is sent escaped, as a browser does.
    request = request.uri(&*local(address));
    if let Some(host) = host {
        request = request.header(HOST, host);
    }
    for line in &what.accept_lines {
        request = request.header("accept-language", line);
    }
    let cookies = [(config.cookie(), &what.cookie), (config.time_zone_cookie(), &what.time_zone)];
    for (name, value) in cookies {
        if let Some(value) = value {
            request = request.header(COOKIE, format!("{name}={value}"));
        }
    }
    for header in &what.headers {
        let (name, value) = header
            .split_once(':')
            .with_context(|| format!("`{header}` is not a header: write it as `Host: ferries.example`"))?;
        let name: HeaderName =
            name.trim().parse().with_context(|| format!("`{}` is not a name for a header", name.trim()))?;
        request = request.header(name, HeaderValue::from_str(value.trim())?);
    }
    let request = request.body(()).with_context(|| format!("`{}` cannot be asked for", what.url))?;
    Ok(request.into_parts().0)
}

fn known(what: &RequestArguments) -> KnownOfVisitor {
    let mut known = KnownOfVisitor::nothing();
    if let Some(value) = what.session.as_deref() {
        let entry = if value.is_empty() { SessionEntry::Empty } else { SessionEntry::Text(value.to_owned()) };
        known = known.with_session(SessionEntries::new(entry));
    }
    if let Some(tag) = &what.visitor {
        known = known.with_settings(VisitorSettings::new().with_locale(tag));
    }
    match &what.form {
        Some(form) => known.with_form(form.as_bytes()),
        None => known,
    }
}

fn trace(output: &mut Output<'_>, steps: &[ExplainedStep]) -> std::io::Result<()> {
    let rows = steps.iter().map(|step| {
        vec![
            step.source.to_string(),
            step.verdict.replace('-', " "),
            step.value.clone().unwrap_or_else(|| render::NOTHING.to_owned()),
            step.why.clone(),
        ]
    });
    render::table(output, &["source", "verdict", "value", "why"], rows)
}

/// The host, where a whole URL was typed, and the path with its query.
fn split_url(url: &str) -> Result<(Option<&str>, &str)> {
    if url.starts_with('/') && !url.starts_with("//") {
        return Ok((None, url));
    }
    let rest = url.strip_prefix("https://").or_else(|| url.strip_prefix("http://")).unwrap_or_default();
    let (host, address) = match rest.find(['/', '?', '#']) {
        Some(end) => rest.split_at_checked(end).unwrap_or((rest, "")),
        None => (rest, ""),
    };
    match (host, address) {
        ("", _) => bail!(
            "`{url}` is not an address: write a path, such as `/sailings?day=2`, or a whole URL, such as `https://ferries.example/cy`"
        ),
        (host, "") => Ok((Some(host), "/")),
        (host, address) if address.starts_with('/') => Ok((Some(host), address)),
        (_, query) => bail!("`{url}` has no path before `{query}`: write `/{query}` after the host"),
    }
}
