//! The departure board at the quay of the made-up *Saltmarsh Ferries*, with `actix-web`.
//!
//! One program without files beside it: configuration, catalogs and the data of three languages are in the binary (`build.rs`).
//!
//! `/`, `/cy` and `/pl` show the boats that leave after a minute of the day: `/?after=555`. A script keeps the table as it is now.

#![allow(clippy::print_stdout, reason = "a demo says where it can be seen")]

use std::fmt::Write as _;
use std::net::Ipv4Addr;
use std::sync::LazyLock;
use std::time::Instant;

use actix_web::web::{self, Query};
use actix_web::{App, HttpResponse, HttpServer};
use clap::Parser;
use crow_fly::browser::MarkedText;
use crow_fly::{Config, CrowFly, Html, Translator, args};
use jiff::Span;
use jiff::civil::Time;

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

/// What time it is, as a minute of the day.
#[derive(serde::Deserialize)]
struct Clock {
    after: Option<u32>,
}

/// A boat that leaves.
#[derive(serde::Serialize)]
struct Departure {
    time: Time,
    minutes: u32,
    boat: &'static str,
    to: &'static str,
}

/// When the program was started.
static START: LazyLock<Instant> = LazyLock::new(Instant::now);

/// How often the page asks for what has changed, in milliseconds.
const EVERY: u32 = 2_000;

/// The boats that have not left yet.
fn departures(clock: &Clock) -> Vec<Departure> {
    // It opens at nine, whenever it is started.
    let passed = START.elapsed().as_secs() / 60;
    let now = clock.after.unwrap_or_else(|| u32::try_from(540 + passed).unwrap_or(u32::MAX));
    let left = DEPARTURES.iter().filter(|(minute, ..)| *minute >= now);
    left.map(|&(minute, boat, to)| Departure {
        time: Time::midnight().saturating_add(Span::new().minutes(minute)),
        minutes: minute - now,
        boat,
        to,
    })
    .collect()
}

async fn departures_now(clock: Query<Clock>) -> HttpResponse {
    HttpResponse::Ok().insert_header(("cache-control", "no-store")).json(departures(&clock))
}

async fn board(t: Translator, clock: Query<Clock>) -> HttpResponse {
    let (title, gone) = (t.marked("board.title"), t.marked("board.gone"));
    let mark = title.attributes();
    let mut page = format!(
        "<!doctype html>\n<html lang=\"{}\" dir=\"{}\">\n<meta name=\"viewport\" content=\"width=device-width\">\n\
         <link rel=\"icon\" href=\"data:,\">\n<title{mark}>{title}</title>\n<h1{mark}>{title}</h1>\n",
        t.locale(),
        t.direction(),
        title = title.html(),
    );
    let rows: Vec<Departure> = departures(&clock);
    let hidden = if rows.is_empty() { "" } else { " hidden" };
    let _ = writeln!(page, "<p id=\"gone\"{}{hidden}>{}</p>", gone.attributes(), gone.html());
    let _ = writeln!(page, "<table data-every=\"{EVERY}\">\n<tbody>");
    for Departure { time, minutes, boat, to } in rows {
        let time = t.marked(("board.time", args! { time }));
        let row = t.marked(("board.row", args! { minutes, boat, to }));
        let cell = |text: &MarkedText<'_>| format!("<td{}>{}</td>", text.attributes(), text.html());
        let _ = writeln!(page, "<tr>{}{}</tr>", cell(&time), cell(&row));
    }
    page.push_str("</tbody>\n</table>\n");
    for item in t.menu() {
        let (address, name) = (Html::escape(&item.address), Html::escape(&item.own_name));
        let (locale, direction) = (&item.locale, item.direction);
        let _ = writeln!(
            page,
            "<a href=\"{address}\" hreflang=\"{locale}\" lang=\"{locale}\" dir=\"{direction}\">{name}</a>"
        );
    }
    let hand_off = t.hand_off().to_html();
    let _ = writeln!(page, "{hand_off}\n<script type=\"module\" src=\"/assets/board.js\"></script>");
    HttpResponse::Ok().content_type("text/html; charset=utf-8").body(page)
}

async fn script() -> HttpResponse {
    HttpResponse::Ok().content_type("text/javascript; charset=utf-8").body(include_str!("../assets/board.js"))
}

#[actix_web::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    crow_fly::data::install(include_bytes!(concat!(env!("OUT_DIR"), "/locale_data.bin")))?;
    let catalogs = include!(concat!(env!("OUT_DIR"), "/catalogs.rs"));
    let crow = CrowFly::new(Config::parse(include_str!("../crow-fly.toml"))?, catalogs);
    let site = crow.clone();
    let app = move || {
        App::new()
            .route("/", web::get().to(board))
            .route("/departures", web::get().to(departures_now))
            .route("/assets/board.js", web::get().to(script))
            .configure(site.direct_routes())
            .wrap(site.middleware())
    };
    let server = HttpServer::new(app).workers(2).bind((Ipv4Addr::LOCALHOST, Arguments::parse().port))?;
    for address in server.addrs() {
        for (locale, tag) in crow.policy().set().iter() {
            println!("{tag:3} http://{address}{}", crow.policy().path(locale, "/"));
        }
    }
    server.run().await?;
    Ok(())
}
