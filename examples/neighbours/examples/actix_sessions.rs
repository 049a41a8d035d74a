//! Choices in sessions of `actix-session`, which Redis keeps: every machine of a site knows them.
//!
//! `cargo run -p crow-fly-neighbours --example actix_sessions -- redis://127.0.0.1:6379`

#![allow(clippy::print_stdout, reason = "an example")]

use actix_session::storage::RedisSessionStore;
use actix_session::{Session, SessionMiddleware};
use actix_web::cookie::Key;
use actix_web::web::{self, ServiceConfig};
use actix_web::{App, test};
use crow_fly::{Config, CrowFly, Translator, source::Memory};

async fn home(t: Translator) -> String {
    t.text("home.title")
}

/// A page that opens a session: a choice alone opens none.
async fn basket(session: Session) -> Result<&'static str, actix_session::SessionInsertError> {
    session.insert("trips", 1)?;
    Ok("one trip")
}

fn pages(config: &mut ServiceConfig) {
    config.route("/", web::get().to(home)).route("/basket", web::get().to(basket));
}

#[actix_web::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let Some(redis) = std::env::args().nth(1) else {
        println!("Name a Redis: redis://127.0.0.1:6379");
        return Ok(());
    };
    let config =
        "default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'session', 'accept-language']";
    let catalogs = Memory::new([("en", "home", "title = 'Ferries'"), ("cy", "home", "title = 'Fferïau'")]);
    let crow = CrowFly::new(Config::parse(config)?, catalogs);
    let (store, key) = (RedisSessionStore::new(redis).await?, Key::from(&[7; 64]));
    let mut cookie = String::new();
    for (machine, address) in [(1, "/basket"), (1, "/locale?to=cy"), (2, "/"), (2, "/cy")] {
        // Another machine: the same program, which shares nothing but Redis and the key of the cookies.
        let sessions = SessionMiddleware::builder(store.clone(), key.clone()).cookie_secure(false).build();
        // What is wrapped last runs first: sessions before the locale.
        let app = App::new().configure(pages).wrap(crow.middleware()).wrap(sessions);
        let app = test::init_service(app).await;
        let request = test::TestRequest::with_uri(address).insert_header(("cookie", cookie.clone()));
        let answer = test::call_service(&app, request.to_request()).await;
        if let Some(set) = answer.response().cookies().find(|cookie| cookie.name() == "id") {
            cookie = set.stripped().to_string();
        }
        let to = answer.headers().get("location").and_then(|value| value.to_str().ok()).unwrap_or_default();
        let said = format!("machine {machine}, {address}: {} {to}", answer.status().as_u16());
        println!("{said}{}", String::from_utf8_lossy(&test::read_body(answer).await));
    }
    Ok(())
}
