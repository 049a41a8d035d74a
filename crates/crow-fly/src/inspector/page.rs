//! The pages of the inspector.

use std::fmt::Display;
use std::sync::Arc;

use crow_fly_core::catalog::split_key;
use crow_fly_core::message::{FormatError, Html};
use crow_fly_core::policy::Explanation;

use crate::journal::{Entry, Journal, SaidText, TextOutcome};
use crate::site::Site;
use crate::translator::Translator;
use crate::web::{ExplainedRequest, KnownOfVisitor, explain};

/// Text and elements of a page; what is shown is escaped.
struct Page(Html);

impl Page {
    fn new(title: &str) -> Self {
        let mut page = Self(Html::default());
        page.tags("<!doctype html>\n<html lang=\"en\" dir=\"ltr\">\n<head>\n<meta charset=\"utf-8\">\n");
        page.tags("<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<link rel=\"icon\" href=\"data:,\">\n");
        page.tags("<link rel=\"stylesheet\" href=\"/inspector/style.css\">\n<title>").text(title);
        page.tags("</title>\n</head>\n<body>\n<main>\n<h1>").text(title).tags("</h1>\n");
        page
    }

    fn finish(mut self) -> Html {
        self.tags("</main>\n</body>\n</html>\n");
        self.0
    }

    /// Elements, written by us.
    fn tags(&mut self, tags: &'static str) -> &mut Self {
        self.0.push_trusted(tags);
        self
    }

    fn text(&mut self, text: impl Display) -> &mut Self {
        self.0.push(&text.to_string());
        self
    }

    /// A text for people, whose code stands in backticks.
    fn prose(&mut self, text: impl Display) -> &mut Self {
        for (place, part) in text.to_string().split('`').enumerate() {
            if place % 2 == 0 {
                self.text(part)
            } else {
                self.code(part)
            };
        }
        self
    }

    fn code(&mut self, text: impl Display) -> &mut Self {
        self.tags("<code>").text(text).tags("</code>")
    }

    fn heading(&mut self, text: &str) -> &mut Self {
        self.tags("<h2>").text(text).tags("</h2>\n")
    }

    /// The head of a table. A name that ends in `#` is that of numbers.
    fn table(&mut self, names: &[&str]) -> &mut Self {
        self.tags("<table>\n<thead><tr>");
        for name in names {
            match name.strip_suffix('#') {
                Some(name) => self.tags("<th scope=\"col\" class=\"number\">").text(name),
                None => self.tags("<th scope=\"col\">").text(name),
            };
            self.tags("</th>");
        }
        self.tags("</tr></thead>\n<tbody>\n")
    }

    fn end_table(&mut self) -> &mut Self {
        self.tags("</tbody>\n</table>\n")
    }
}

/// The last requests, what is in memory, and the form.
pub(super) fn all(site: &Arc<Site>, journal: &Journal, query: &str) -> Html {
    let mut page = Page::new("What happened");
    page.heading("The last requests");
    let entries = journal.all();
    if entries.is_empty() {
        page.tags("<p class=\"soft\">")
            .text("None yet: open a page of the application, and load this one again.")
            .tags("</p>\n");
    } else {
        page.table(&["no.#", "time", "request", "answer", "locale", "by", "texts#", "missing#", "errors#"]);
        for entry in entries {
            row(&mut page, &entry);
        }
        page.end_table();
    }
    try_form(&mut page, site, query);
    memory(&mut page, site);
    page.finish()
}

fn row(page: &mut Page, entry: &Entry) {
    let texts = entry.texts();
    let missing = texts.kept.iter().filter(|text| text.outcome.is_missing()).count();
    let errors: usize = texts.kept.iter().map(|text| text.errors.len()).sum();
    page.tags("<tr><td class=\"number\"><a href=\"/inspector/")
        .text(entry.number)
        .tags("\">")
        .text(entry.number);
    page.tags("</a></td><td>").text(entry.at.strftime("%H:%M:%S")).tags("</td><td>");
    page.code(format!("{} {}", entry.method, entry.address)).tags("</td><td>").text(&entry.answer);
    let decision = entry.decision.as_ref();
    page.tags("</td><td>").text(decision.map_or("", |decision| decision.locale.as_str()));
    page.tags("</td><td>").text(decision.map_or("", |decision| decision.source.as_str()));
    for (count, is_bad) in [(texts.kept.len() + texts.more, false), (missing, true), (errors, true)] {
        let class = if is_bad && count > 0 {
            "</td><td class=\"number wrong\">"
        } else {
            "</td><td class=\"number\">"
        };
        page.tags(class).text(count);
    }
    page.tags("</td></tr>\n");
}

/// One request.
pub(super) async fn one(site: &Arc<Site>, entry: &Entry) -> Html {
    let mut page = Page::new(&format!("Request {}", entry.number));
    page.tags("<p><a href=\"/inspector\">").text("All requests").tags("</a></p>\n<p>");
    page.code(format!("{} {}", entry.method, entry.address)).text(": ").text(&entry.answer).tags("</p>\n");
    if let Some(decision) = &entry.decision {
        explained(&mut page, decision);
        let tag = crow_fly_core::tag::LanguageTag::parse(&decision.locale).ok();
        if let Some(locale) = tag.and_then(|tag| site.policy().set().exact(&tag)) {
            let chain: Vec<String> = site.config().chains().tags(locale).map(ToString::to_string).collect();
            page.tags("<p>").text("Chain: ").code(chain.join(" → ")).tags("</p>\n");
        }
    }
    let texts = entry.texts();
    page.heading("Texts");
    if texts.kept.is_empty() {
        page.tags("<p class=\"soft\">").text("None.").tags("</p>\n");
    } else {
        page.table(&["key", "arguments", "found in"]);
        for text in &texts.kept {
            said(&mut page, site, entry, text).await;
        }
        page.end_table();
    }
    if texts.more > 0 {
        page.tags("<p class=\"soft\">").text(format!("And {} more.", texts.more)).tags("</p>\n");
    }
    page.finish()
}

async fn said(page: &mut Page, site: &Arc<Site>, entry: &Entry, text: &SaidText) {
    page.tags("<tr><td>").code(&text.key).tags("</td><td>");
    let arguments: Vec<String> =
        text.arguments.iter().map(|(name, value)| format!("{name}: {value}")).collect();
    if !arguments.is_empty() {
        page.code(arguments.join(", "));
    }
    page.tags("</td><td>");
    match &text.outcome {
        TextOutcome::Found { place, other: None } => page.code(place),
        TextOutcome::Found { place, other: Some(other) } => {
            page.code(place).tags(" <span class=\"wrong\">").text(format!("in {other}")).tags("</span>")
        }
        TextOutcome::Default => {
            page.tags("<span class=\"wrong\">").text("the default text in code").tags("</span>")
        }
        TextOutcome::Missing(why) => page.tags("<span class=\"wrong\">").prose(why).tags("</span>"),
    };
    let source = if text.errors.is_empty() { None } else { source_of(site, entry, &text.key).await };
    for error in &text.errors {
        page.tags("<div class=\"wrong\">").prose(error).tags("</div>");
        if let Some(marked) = source.as_deref().and_then(|source| marked(source, error)) {
            page.tags("<pre>").text(marked).tags("</pre>");
        }
    }
    page.tags("</td></tr>\n");
}

/// The source of a message, as the request's locale has it now.
async fn source_of(site: &Arc<Site>, entry: &Entry, key: &str) -> Option<String> {
    let tag = crow_fly_core::tag::LanguageTag::parse(&entry.decision.as_ref()?.locale).ok()?;
    let locale = site.policy().set().exact(&tag)?;
    let translator = Translator::without_request(site, locale).await;
    // What cannot be loaded is not there.
    let _ = translator.load([split_key(key)?.0]).await;
    Some(translator.source(key).await?.text().to_owned())
}

/// The line of a source that an error is in, with carets below what it is about.
fn marked(source: &str, error: &FormatError) -> Option<String> {
    let about = error.option().unwrap_or_else(|| error.subject().trim_matches(['{', '}', '|']));
    let at = (!about.is_empty()).then(|| source.find(about)).flatten()?;
    let start = source.get(..at)?.rfind('\n').map_or(0, |at| at + 1);
    let line = source.get(start..)?.lines().next()?;
    let before = source.get(start..at)?.chars().count();
    Some(format!("{line}\n{}{}", " ".repeat(before), "^".repeat(about.chars().count())))
}

fn explained(page: &mut Page, decision: &Explanation) {
    page.heading("Decision");
    page.tags("<p>").text("Locale ").code(&decision.locale).text(" by ").text(decision.source);
    page.text(", formats ").code(&decision.formats).text(", calendar ").text(&decision.calendar);
    if let Some(zone) = &decision.time_zone {
        page.text(", time zone ").code(zone);
    }
    page.tags("</p>\n").table(&["source", "verdict", "value", "why"]);
    for step in decision.trace.iter().chain(&decision.time_zone_trace) {
        page.tags("<tr><td>").text(step.source).tags("</td><td");
        page.tags(if step.verdict == "chosen" { " class=\"chosen\">" } else { ">" });
        page.text(step.verdict.replace('-', " "));
        page.tags("</td><td>");
        if let Some(value) = &step.value {
            page.code(value);
        }
        page.tags("</td><td>").prose(&step.why).tags("</td></tr>\n");
    }
    page.end_table();
}

/// A form that asks what another request would get, and the answer to it.
fn try_form(page: &mut Page, site: &Arc<Site>, query: &str) {
    let fields: Vec<_> = form_urlencoded::parse(query.as_bytes()).collect();
    let value = |name: &str| fields.iter().find(|(found, _)| found == name).map_or("", |(_, value)| &**value);
    page.heading("Try another request");
    page.tags("<form method=\"get\" action=\"/inspector\">\n");
    let rows = [
        ("address", "Address", "/"),
        ("languages", "Accept-Language", "pl, en;q=0.5"),
        ("cookie", "The locale's cookie", "pl"),
    ];
    for (name, label, example) in rows {
        page.tags("<label>")
            .text(label)
            .tags("<input name=\"")
            .text(name)
            .tags("\" value=\"")
            .text(value(name));
        page.tags("\" placeholder=\"").text(example).tags("\"></label>\n");
    }
    page.tags("<button>").text("Ask").tags("</button>\n</form>\n");
    if query.is_empty() {
        return;
    }
    let address = if value("address").is_empty() { "/" } else { value("address") };
    let cookie = format!("{}={}", site.config().remember.cookie, value("cookie"));
    let mut request = http::Request::get(address);
    for (name, value) in [("accept-language", value("languages")), ("cookie", &cookie)] {
        if !value.is_empty() && !value.ends_with('=') {
            request = request.header(name, value);
        }
    }
    match request.body(()) {
        Err(_) => {
            page.tags("<p class=\"wrong\">")
                .text("That is not an address and headers that HTTP can carry.")
                .tags("</p>\n");
        }
        Ok(request) => {
            let explained = explain(site, &request.into_parts().0, &KnownOfVisitor::nothing());
            answered(page, &explained);
        }
    }
}

fn answered(page: &mut Page, request: &ExplainedRequest) {
    page.tags("<p>").prose(request);
    for header in &request.headers {
        page.tags(" ").code(format!("{}: {}", header.name, header.value));
    }
    page.tags("</p>\n");
    if let Some(decision) = &request.decision {
        explained(page, decision);
    }
}

/// What is in memory.
fn memory(page: &mut Page, site: &Arc<Site>) {
    let health = site.store().health();
    page.heading("Catalogs in memory");
    page.tags("<p>").text(format!("{} bytes", health.bytes));
    if let Some(release) = &health.release {
        page.text(format!(", {release}"));
        if let Some(number) = health.activation {
            page.text(format!(", activation {number}"));
        }
    }
    page.tags("</p>\n").table(&["locale", "section", "file", "messages#", "bytes#"]);
    for locale in &health.locales {
        for section in &locale.sections {
            page.tags("<tr><td>").text(&locale.locale).tags("</td><td>").text(&section.section);
            page.tags("</td><td>").code(&section.file).tags("</td><td class=\"number\">");
            match section.messages {
                Some(count) => page.text(count),
                None => page.tags("<span class=\"soft\">").text("not loaded").tags("</span>"),
            };
            page.tags("</td><td class=\"number\">")
                .text(section.bytes.map(|bytes| bytes.to_string()).unwrap_or_default());
            if let Some(error) = &section.error {
                page.tags("<div class=\"wrong\">").prose(error).tags("</div>");
            }
            page.tags("</td></tr>\n");
        }
    }
    page.end_table();
}
