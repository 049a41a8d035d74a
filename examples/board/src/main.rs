//! The departure board at the quay of the made-up *Saltmarsh Ferries*, with `actix-web`.
//!
//! One program without files beside it: configuration, catalogs and the data of three languages are in the binary (`build.rs`).
//!
//! `/`, `/cy` and `/pl` show the boats that leave after a minute of the day: `/?after=555`.

#![allow(clippy::print_stdout, reason = "a demo says where it can be seen")]

use std::fmt::Write as _;
use std::net::Ipv4Addr;

use actix_web::web::{self, Query};
use actix_web::{App, HttpResponse, HttpServer};
use clap::Parser;
use crow_fly::{Config, CrowFly, Html, Translator, args};

/// The departure board of Saltmarsh Ferries.
#[derive(Parser)]
struct Arguments {
    /// The port to listen on; 0 takes a free one
    #[arg(long, default_value_t = 4081)]
    port: u16,
}

/// Minute of the day, boat, where to.
const DEPARTURES: [(u32, &str, &str); 4] = [
    (570, "Curlew", "Heron Point"),
    (615, "Avocet", "Tern Island"),
    (700, "Curlew", "Saltmarsh Quay"),
    (785, "Sandpiper", "Heron Point"),
];

#[derive(serde::Deserialize)]
struct Clock {
    after: Option<u32>,
}

async fn board(t: Translator, clock: Query<Clock>) -> HttpResponse {
    let now = clock.after.unwrap_or(540);
    let mut page = format!(
        "<!doctype html>\n<html lang=\"{}\" dir=\"{}\">\n<title>{title}</title>\n<h1>{title}</h1>\n",
        t.locale(),
        t.direction(),
        title = t.html("board.title"),
    );
    let rows: Vec<Html> = DEPARTURES
        .iter()
        .filter(|(minute, ..)| *minute >= now)
        .map(|(minute, boat, to)| {
            t.html(("board.row", args! { minutes: minute - now, boat: *boat, to: *to }))
        })
        .collect();
    if rows.is_empty() {
        let _ = writeln!(page, "<p>{}</p>", t.html("board.gone"));
    }
    for row in rows {
        let _ = writeln!(page, "<p>{row}</p>");
    }
    for item in t.menu() {
        let (address, name) = (Html::escape(&item.address), Html::escape(&item.own_name));
        let _ = writeln!(page, "<a href=\"{address}\" lang=\"{}\">{name}</a>", item.locale);
    }
    HttpResponse::Ok().content_type("text/html; charset=utf-8").body(page)
}

#[actix_web::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    crow_fly::data::install(include_bytes!(concat!(env!("OUT_DIR"), "/locale_data.bin")))?;
    let catalogs = include!(concat!(env!("OUT_DIR"), "/catalogs.rs"));
    let crow = CrowFly::new(Config::parse(include_str!("../crow-fly.toml"))?, catalogs);
    let site = crow.clone();
    let server = HttpServer::new(move || App::new().route("/", web::get().to(board)).wrap(site.middleware()))
        .workers(2)
        .bind((Ipv4Addr::LOCALHOST, Arguments::parse().port))?;
    for address in server.addrs() {
        for (locale, tag) in crow.policy().set().iter() {
            println!("{tag:3} http://{address}{}", crow.policy().path(locale, "/"));
        }
    }
    server.run().await?;
    Ok(())
}
