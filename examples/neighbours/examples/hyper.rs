//! An adapter of one's own over `hyper`, which has no middleware: it does what the engine's steps say.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::web::exchange::{Exchange, Form, PageStep, Reply, SessionEntries, SwitchStep};
use crow_fly::{Config, CrowFly, Translator, source::Memory};
use hyper::http::request::Parts;
use hyper::service::{Service, service_fn};
use hyper::{Request, Response};

/// What the application answers at an address.
fn application(address: &str, t: &Translator) -> Response<String> {
    Response::new(format!("{address}: {}", t.text("home.title")))
}

async fn respond<B>(crow: CrowFly, request: Request<B>) -> Result<Response<String>, hyper::Error> {
    let (head, _body) = request.into_parts();
    let mut step = match crow.exchange(&head) {
        Exchange::Page(step) => step,
        Exchange::Switch(step) => return Ok(switched(&head, step)),
    };
    loop {
        step = match step {
            PageStep::Session(asked) => asked.answer(&head, SessionEntries::default()),
            PageStep::VisitorSettings(asked) => asked.answer(&head, None),
            PageStep::Catalogs(asked) => asked.load(&head).await,
            PageStep::Respond(reply) => return Ok(reply.into_response()),
            PageStep::PassOn(_) => return Ok(Response::new("not a page".to_owned())),
            PageStep::Serve(serving) => {
                let address = serving.address().unwrap_or(head.uri.path());
                let mut response = application(address, serving.translator());
                return Ok(serving.finish(&mut response).map_or(response, Reply::into_response));
            }
        };
    }
}

/// Without forms the address names the choice, and without sessions the cookie remembers it.
fn switched(head: &Parts, step: SwitchStep) -> Response<String> {
    match step {
        SwitchStep::Form(asked) => switched(head, asked.answer(head, Form::Missing)),
        SwitchStep::Session(asked) => switched(head, asked.answer(&SessionEntries::default())),
        SwitchStep::Remember(remembering) => remembering.done().into_response(),
        SwitchStep::Respond(reply) => reply.into_response(),
    }
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs = Memory::new([("cy", "home", "title = 'Hwyliadau heddiw'")]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, catalogs);
    // A server hands the same to `hyper::server::conn::http1`. Here it is asked without one.
    let service = service_fn(|request| respond(crow.clone(), request));
    for address in ["/cy/sailings?day=2", "/CY/sailings", "/locale?to=cy"] {
        let answer = service.call(Request::get(address).body(String::new())?).await?;
        println!("{} {:?} {}", answer.status(), answer.headers(), answer.body());
    }
    Ok(())
}
