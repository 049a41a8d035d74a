//! What the layer would do with a request, and why: the engine's own answer, without a server.

use crow_fly_core::policy::Explanation;
use serde::Serialize;

use super::exchange::{Exchange, Input, LoadedCatalogs, RequestHead, SessionEntries, Step};
use super::reply::Reply;
use super::settings::VisitorSettings;
use crate::crow_fly::CrowFly;

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

/// What the layer does with a request, and why. Made by [`CrowFly::explain`].
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

impl CrowFly {
    /// What the layer does with a request, and why. No catalog is loaded, and nothing is remembered.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory, web::KnownOfVisitor};
    /// # let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, Memory::default());
    /// let request = http::Request::get("/").header("accept-language", "cy").body(()).unwrap();
    /// let explained = crow.explain(&request.into_parts().0, KnownOfVisitor::nothing());
    /// assert_eq!(explained.status, Some(302));
    /// assert!(explained.headers.iter().any(|header| header.name == "location" && header.value == "/cy"));
    /// # Ok::<(), crow_fly::ConfigError>(())
    /// ```
    pub fn explain(&self, head: &impl RequestHead, known: KnownOfVisitor) -> ExplainedRequest {
        let KnownOfVisitor { session, settings, form } = known;
        let mut exchange = Exchange::explaining(self);
        let mut remembered = None;
        let mut input = Input::Begin;
        let (answer, status, headers) = loop {
            input = match exchange.step(head, input) {
                Step::Session(_) => Input::Session(session.clone()),
                Step::VisitorSettings => settings.clone().map_or(Input::Nothing, Input::VisitorSettings),
                Step::Form => Input::Form(form.clone()),
                Step::Remember(choice) => {
                    remembered = Some(ExplainedChoice {
                        locale: choice.locale().map(ToString::to_string),
                        time_zone: choice.time_zone().map(|zone| zone.to_string()),
                        session_keys: choice.session_writes().map(|(key, _)| key.to_owned()).collect(),
                    });
                    Input::Nothing
                }
                Step::Catalogs(_) => Input::Catalogs(LoadedCatalogs(self.store().unloaded())),
                Step::Respond(reply) => {
                    break (ExplainedAnswer::Respond, Some(reply.status()), shown(&reply));
                }
                Step::PassOn(_) => break (ExplainedAnswer::PassOn, None, Vec::new()),
                Step::Serve(serving) => {
                    let mut answer = Reply::empty(200);
                    // No text has been said that could fail it.
                    let _ = serving.finish(&mut answer);
                    break (ExplainedAnswer::Serve, None, shown(&answer));
                }
            };
        };
        let refusal = exchange.refusal();
        let decision = exchange.into_explanation().map(|explanation| *explanation);
        ExplainedRequest { answer, status, headers, decision, refusal, choice: remembered }
    }
}

fn shown(reply: &Reply) -> Vec<ExplainedHeader> {
    reply.headers().map(|(name, value)| ExplainedHeader { name, value: value.to_owned() }).collect()
}
