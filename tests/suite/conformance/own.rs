//! An adapter for a framework of one's own, as an application would write it: some sixty lines. The framework is made
//! up; it hands over owned requests, has sessions and accounts, and calls one function.

use crow_fly::web::VisitorSettings;
use crow_fly::web::exchange::{
    Exchange, Form, MAX_FORM, PageStep, Reply, RequestHead, ResponseHead, SwitchStep,
};
use crow_fly::{CrowFly, Translator};
use http::HeaderValue;

use crate::conformance::site::Session;

/// A request of the framework.
#[derive(Debug, Default)]
pub(crate) struct Request {
    pub(crate) method: String,
    pub(crate) path: String,
    pub(crate) query: Option<String>,
    pub(crate) headers: Vec<(String, String)>,
    pub(crate) body: Vec<u8>,
    pub(crate) session: Session,
    pub(crate) session_written: bool,
    pub(crate) account: Option<VisitorSettings>,
    /// Handlers find the translator here.
    pub(crate) translator: Option<Translator>,
}

/// A response of the framework.
#[derive(Debug, Default)]
pub(crate) struct Response {
    pub(crate) status: u16,
    pub(crate) headers: Vec<(String, String)>,
    pub(crate) body: String,
}

fn lines<'h>(headers: &'h [(String, String)], name: &str) -> impl Iterator<Item = &'h [u8]> {
    headers.iter().filter(move |(other, _)| other == name).map(|(_, value)| value.as_bytes())
}

impl RequestHead for Request {
    fn method(&self) -> &str {
        &self.method
    }

    fn path(&self) -> &str {
        &self.path
    }

    fn query(&self) -> Option<&str> {
        self.query.as_deref()
    }

    fn authority(&self) -> Option<&str> {
        None
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        lines(&self.headers, name)
    }
}

impl ResponseHead for Response {
    fn status(&self) -> u16 {
        self.status
    }

    fn lines<'r>(&'r self, name: &str) -> impl Iterator<Item = &'r [u8]> {
        lines(&self.headers, name)
    }

    fn set(&mut self, name: &'static str, value: HeaderValue) {
        self.headers.retain(|(other, _)| other != name);
        self.headers.push((name.to_owned(), String::from_utf8_lossy(value.as_bytes()).into_owned()));
    }
}

/// Has an application answer a request in the visitor's language.
pub(crate) async fn respond(
    crow: &CrowFly,
    request: &mut Request,
    application: impl AsyncFnOnce(&Request) -> Response,
) -> Response {
    let mut step = match crow.exchange(request) {
        Exchange::Page(step) => step,
        Exchange::Switch(step) => return switch(request, step),
    };
    loop {
        step = match step {
            PageStep::Session(asked) => asked.answer(request, request.session.entries()),
            PageStep::VisitorSettings(asked) => asked.answer(request, request.account.clone()),
            PageStep::Catalogs(asked) => asked.load(request).await,
            PageStep::Respond(reply) => return answer(&reply),
            PageStep::PassOn(passed_on) => return passed_on.call(|| application(request)).await,
            PageStep::Serve(serving) => {
                if let Some(address) = serving.address() {
                    let (path, query) =
                        address.split_once('?').map_or((address, None), |(p, q)| (p, Some(q)));
                    (request.path, request.query) = (path.to_owned(), query.map(str::to_owned));
                }
                request.translator = Some(serving.translator().clone());
                let mut response = serving.call(|| application(request)).await;
                return match serving.finish(&mut response) {
                    Some(reply) => answer(&reply),
                    None => response,
                };
            }
        };
    }
}

/// Answers a request of the switch address.
fn switch(request: &mut Request, mut step: SwitchStep) -> Response {
    loop {
        step = match step {
            SwitchStep::Form(asked) if request.body.len() > MAX_FORM => asked.answer(request, Form::TooLarge),
            SwitchStep::Form(asked) => asked.answer(request, Form::Read(request.body.clone())),
            SwitchStep::Session(asked) => asked.answer(&request.session.entries()),
            SwitchStep::Remember(remembering) => {
                request.session_written = remembering.choice().session_writes().next().is_some();
                return answer(&remembering.done());
            }
            SwitchStep::Respond(reply) => return answer(&reply),
        };
    }
}

fn answer(reply: &Reply) -> Response {
    let headers = reply.headers().map(|(name, value)| (name.to_owned(), value.to_owned()));
    Response { status: reply.status(), headers: headers.collect(), body: String::new() }
}
