//! What the layer would do with a request, and why: the engine's own answer, without a server.

use std::fmt;
use std::sync::Arc;

use crow_fly_core::names::{Casing, own_name};
use crow_fly_core::policy::{Explanation, LocaleSource};
use crow_fly_core::tag::LanguageTag;
use serde::Serialize;

use super::announce;
use super::exchange::{Exchange, Form, PageStep, RequestHead, SessionEntries, SwitchStep, Told};
use super::reply::Reply;
use super::settings::VisitorSettings;
use crate::site::Site;

/// What is known of a visitor that is not in a request's head.
#[derive(Clone, Debug, Default)]
pub struct KnownOfVisitor {
    session: SessionEntries,
    settings: Option<VisitorSettings>,
    form: Vec<u8>,
}

impl KnownOfVisitor {
    /// Nothing.
    pub fn nothing() -> Self {
        Self::default()
    }

    /// What the session holds.
    #[must_use]
    pub fn with_session(mut self, session: SessionEntries) -> Self {
        self.session = session;
        self
    }

    /// The signed-in visitor's settings.
    #[must_use]
    pub fn with_settings(mut self, settings: VisitorSettings) -> Self {
        self.settings = Some(settings);
        self
    }

    /// The form of a choice that is posted, as a browser encodes it.
    #[must_use]
    pub fn with_form(mut self, form: impl Into<Vec<u8>>) -> Self {
        self.form = form.into();
        self
    }
}

/// What the layer does with a request, and why. Made by [`CrowFly::explain`](crate::CrowFly::explain).
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[non_exhaustive]
pub struct ExplainedRequest {
    /// Who answers, and what.
    pub answer: ExplainedAnswer,
    /// The status of our own answer. None where the application answers.
    pub status: Option<u16>,
    /// The headers of our own answer. For an answer of the application's, the headers that the layer adds if they are
    /// missing.
    pub headers: Vec<ExplainedHeader>,
    /// Where the layer leads to if the application answers 404: the path is the page's in another language.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub if_not_found: Option<String>,
    /// The decision, source by source; none at the switch address, where a page is not asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub decision: Option<Explanation>,
    /// Why a choice at the switch address is refused.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub refusal: Option<&'static str>,
    /// What is remembered of a choice at the switch address.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub choice: Option<ExplainedChoice>,
}

/// Who answers a request.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum ExplainedAnswer {
    /// The application, with a translator.
    Serve,
    /// The application, and the request is not touched.
    PassOn,
    /// The layer, by a redirect, an error, or the answer to a choice.
    Respond,
}

/// One header.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[non_exhaustive]
pub struct ExplainedHeader {
    /// Its name, in lower case.
    pub name: &'static str,
    /// Its value.
    pub value: String,
}

/// What is remembered of a choice.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
#[non_exhaustive]
pub struct ExplainedChoice {
    /// The locale.
    pub locale: Option<String>,
    /// The time zone.
    pub time_zone: Option<String>,
    /// The keys that are written into the session.
    pub session_keys: Vec<String>,
}

/// What happens, in one sentence.
impl fmt::Display for ExplainedRequest {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (status, location) = (self.status.unwrap_or_default(), self.location());
        match (&self.decision, self.answer) {
            (_, ExplainedAnswer::PassOn) => f.write_str(
                "passes on untouched: the path is skipped, an area behind a prefix, or outside of the base",
            ),
            (Some(decision), ExplainedAnswer::Serve) => {
                let path = decision.target.as_deref().unwrap_or_default();
                write!(f, "serves {path} in {}, decided by {}", named(&decision.locale), decision.source)?;
                match &self.if_not_found {
                    Some(address) => write!(f, "; if there is no such page, 308 to {address}"),
                    None => Ok(()),
                }
            }
            (Some(_), _) if status == 308 => write!(f, "308 to {location}: the one address this page has"),
            (Some(decision), _) if !location.is_empty() => {
                let (locale, source) = (named(&decision.locale), decision.source);
                write!(f, "{status} to {location}: the visitor prefers {locale}, decided by {source}")
            }
            (Some(_), _) => write!(f, "{status}: there is no such address"),
            (None, _) => self.switched(f, status, location),
        }
    }
}

impl ExplainedRequest {
    /// What the switch address answers.
    fn switched(&self, f: &mut fmt::Formatter<'_>, status: u16, location: &str) -> fmt::Result {
        if location.is_empty() {
            let why = self.refusal.unwrap_or("the switch address takes GET and POST");
            return write!(f, "{status}: {why}");
        }
        let Some(choice) = &self.choice else {
            return write!(
                f,
                "{status} to {location}: the choice is not remembered, since a visitor did not make it"
            );
        };
        let locale = choice.locale.as_deref().map(named);
        let zone = choice.time_zone.as_ref().map(|zone| format!("the time zone {zone}"));
        let chosen: Vec<String> = [locale, zone].into_iter().flatten().collect();
        write!(f, "{status} to {location}: the visitor chooses {}", chosen.join(" and "))
    }

    fn location(&self) -> &str {
        let mut headers = self.headers.iter();
        headers.find(|header| header.name == "location").map_or("", |header| header.value.as_str())
    }
}

/// `cy (Cymraeg)`.
fn named(locale: &str) -> String {
    match LanguageTag::parse(locale) {
        Ok(tag) => format!("{locale} ({})", own_name(&tag, Casing::Sentence)),
        Err(_) => locale.to_owned(),
    }
}

/// What the layer does with a request, and why.
pub(crate) fn explain(site: &Arc<Site>, head: &impl RequestHead, known: &KnownOfVisitor) -> ExplainedRequest {
    let told = Arc::new(Told::default());
    let (answer, status, headers, choice) = match Exchange::begin_explaining(site, head, &told) {
        Exchange::Page(step) => {
            let (answer, status, headers) = page(step, head, known);
            (answer, status, headers, None)
        }
        Exchange::Switch(step) => {
            let (reply, choice) = switch(step, head, known);
            (ExplainedAnswer::Respond, Some(reply.status()), shown(&reply), choice)
        }
    };
    let (decision, refusal) = (told.explanation.get().cloned(), told.refusal.get().copied());
    let may_be_elsewhere = answer == ExplainedAnswer::Serve && head.is_page();
    let by_path = decision.as_ref().is_some_and(|decision| decision.source == LocaleSource::Path);
    let if_not_found = if may_be_elsewhere && by_path {
        announce::elsewhere(site.config(), head.path(), head.query())
    } else {
        None
    };
    ExplainedRequest { answer, status, headers, if_not_found, decision, refusal, choice }
}

fn page(
    mut step: PageStep,
    head: &impl RequestHead,
    known: &KnownOfVisitor,
) -> (ExplainedAnswer, Option<u16>, Vec<ExplainedHeader>) {
    loop {
        step = match step {
            PageStep::Session(asked) => asked.answer(head, known.session.clone()),
            PageStep::VisitorSettings(asked) => asked.answer(head, known.settings.clone()),
            PageStep::Catalogs(asked) => asked.without_loading(head),
            PageStep::Respond(reply) => {
                return (ExplainedAnswer::Respond, Some(reply.status()), shown(&reply));
            }
            PageStep::PassOn(_) => return (ExplainedAnswer::PassOn, None, Vec::new()),
            PageStep::Serve(serving) => {
                let mut answer = Reply::empty(200);
                // No text has been said that could fail it.
                let _ = serving.finish(&mut answer);
                return (ExplainedAnswer::Serve, None, shown(&answer));
            }
        };
    }
}

fn switch(
    mut step: SwitchStep,
    head: &impl RequestHead,
    known: &KnownOfVisitor,
) -> (Reply, Option<ExplainedChoice>) {
    loop {
        step = match step {
            SwitchStep::Form(asked) => asked.answer(head, Form::Read(known.form.clone())),
            SwitchStep::Session(asked) => asked.answer(&known.session),
            SwitchStep::Remember(remembering) => {
                let choice = remembering.choice();
                let explained = ExplainedChoice {
                    locale: choice.locale().map(ToString::to_string),
                    time_zone: choice.time_zone().map(|zone| zone.to_string()),
                    session_keys: choice.session_writes().map(|(key, _)| key.to_owned()).collect(),
                };
                return (remembering.done(), Some(explained));
            }
            SwitchStep::Respond(reply) => return (reply, None),
        };
    }
}

fn shown(reply: &Reply) -> Vec<ExplainedHeader> {
    reply.headers().map(|(name, value)| ExplainedHeader { name, value: value.to_owned() }).collect()
}
