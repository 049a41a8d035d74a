//! The same in `actix-web`: a middleware, and the translator as an extractor.

#![allow(clippy::print_stdout, reason = "an example")]

use actix_web::web::{self, Path};
use actix_web::{App, test};
use crow_fly::{Config, CrowFly, Translator, args, source::Memory};

async fn sailing(t: Translator, number: Path<u32>) -> String {
    t.text(("sailing.title", args! { number: number.into_inner() }))
}

#[actix_web::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs = Memory::new([
        ("en", "sailing", "title = 'Sailing {$number}'"),
        ("cy", "sailing", "title = 'Hwyliad {$number}'"),
    ]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, catalogs);
    let app = App::new().route("/sailings/{number}", web::get().to(sailing)).wrap(crow.middleware());
    // A server hands the same to `HttpServer::new`. Here it is asked without one.
    let app = test::init_service(app).await;
    for address in ["/sailings/7", "/cy/sailings/7", "/CY/sailings/7"] {
        let answer = test::call_service(&app, test::TestRequest::with_uri(address).to_request()).await;
        let status = answer.status();
        println!("{address}: {status} {}", String::from_utf8_lossy(&test::read_body(answer).await));
    }
    Ok(())
}
