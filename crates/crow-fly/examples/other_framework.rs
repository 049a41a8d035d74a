//! An adapter to a framework of one's own: it does what the engine's steps say.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::web::exchange::{Exchange, Form, PageStep, Reply, SessionEntries, SwitchStep};
use crow_fly::{Config, CrowFly, Translator, source::Memory};
use http::request::Parts;
use http::{Request, Response};

/// What this framework's handlers are: a function of an address and a translator.
type Handler = fn(&str, &Translator) -> String;

async fn respond(crow: &CrowFly, request: Request<()>, handler: Handler) -> Response<String> {
    let (head, ()) = request.into_parts();
    let mut step = match crow.exchange(&head) {
        Exchange::Page(step) => step,
        Exchange::Switch(step) => return switch(&head, step),
    };
    loop {
        step = match step {
            // A framework with sessions and accounts reads them here.
            PageStep::Session(asked) => asked.answer(&head, SessionEntries::default()),
            PageStep::VisitorSettings(asked) => asked.answer(&head, None),
            PageStep::Catalogs(asked) => asked.load(&head).await,
            PageStep::Respond(reply) => return reply.into_response(),
            PageStep::PassOn(_) => return Response::new("not a page".to_owned()),
            PageStep::Serve(serving) => {
                let address = serving.address().unwrap_or(head.uri.path());
                let mut response = Response::new(handler(address, serving.translator()));
                return serving.finish(&mut response).map_or(response, Reply::into_response);
            }
        };
    }
}

/// The switch address: this framework has no forms and no sessions, so that the cookie alone remembers.
fn switch(head: &Parts, mut step: SwitchStep) -> Response<String> {
    loop {
        step = match step {
            SwitchStep::Form(asked) => asked.answer(head, Form::Missing),
            SwitchStep::Session(asked) => asked.answer(&SessionEntries::default()),
            SwitchStep::Remember(remembering) => return remembering.done().into_response(),
            SwitchStep::Respond(reply) => return reply.into_response(),
        };
    }
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs = Memory::new([("cy", "home", "title = 'Hwyliadau heddiw'")]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, catalogs);
    for address in ["/cy/sailings?day=2", "/CY/sailings"] {
        let request = Request::get(address).body(())?;
        let answer =
            respond(&crow, request, |address, t| format!("{address}: {}", t.text("home.title"))).await;
        println!("{} {:?} {}", answer.status(), answer.headers(), answer.body());
    }
    Ok(())
}
