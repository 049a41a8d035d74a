//! An adapter to a framework of one's own: it does what the engine's steps say.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::web::exchange::{Exchange, Input, Reply, Step};
use crow_fly::{Config, CrowFly, Translator, source::Memory};
use http::{Request, Response};

/// What this framework's handlers are: a function of an address and a translator.
type Handler = fn(&str, &Translator) -> String;

async fn respond(crow: &CrowFly, request: Request<()>, handler: Handler) -> Response<String> {
    let (head, ()) = request.into_parts();
    let mut exchange = Exchange::new(crow);
    let mut input = Input::Begin;
    loop {
        input = match exchange.step(&head, input) {
            // A framework with sessions, accounts or bodies reads them here.
            Step::Session(_) | Step::VisitorSettings | Step::Form | Step::Remember(_) => Input::Nothing,
            Step::Catalogs(needs) => Input::Catalogs(crow.load(needs).await),
            Step::Respond(reply) => return answer(&reply),
            Step::PassOn(_) => return Response::new("not a page".to_owned()),
            Step::Serve(serving) => {
                let address = serving.address().unwrap_or(head.uri.path());
                let mut response = Response::new(handler(address, serving.translator()));
                return serving.finish(&mut response).map_or(response, |reply| answer(&reply));
            }
        };
    }
}

/// A reply of the engine: a status and headers.
fn answer(reply: &Reply) -> Response<String> {
    let response = Response::builder().status(reply.status());
    let response = reply.headers().fold(response, |response, (name, value)| response.header(name, value));
    response.body(String::new()).unwrap_or_default()
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
