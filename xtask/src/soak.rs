//! A site under everything at once: pages, switches, reloads, misses and hostile requests. Its memory must not grow.

use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use axum::Router;
use axum::body::Body;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args};
use http::{Method, Request};
use tower::ServiceExt as _;

use crate::scale::memory;

const LOCALES: [&str; 6] = ["en", "en-GB", "cy", "pl", "ar", "ja"];

/// How much more memory than at the end of the first minute is noise.
const NOISE: f64 = 1.1;

pub(crate) fn run(minutes: u64) -> Result<()> {
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(soak(minutes))
}

async fn page(t: Translator) -> String {
    let args = args! { seats: 1_250, day: jiff::civil::date(2026, 3, 1), fare: 12.5 };
    let mut page = t.text(("home.seats", args));
    // Some of what pages ask for is not there.
    page.push_str(&t.text("home.not-there"));
    page.push_str(&t.text(&*format!("nowhere.{}", differing(&page))));
    page
}

/// A number that differs from page to page, by what it says.
fn differing(text: &str) -> usize {
    text.bytes().map(usize::from).sum::<usize>() + text.len() * 31
}

async fn soak(minutes: u64) -> Result<()> {
    let config = Config::parse(&format!("development = false\ndefault = 'en'\nlocales = {LOCALES:?}"))?;
    let text = "seats = '{$seats :integer} {$day :date} {$fare :currency currency=EUR}'";
    let crow = CrowFly::new(config, Memory::new(LOCALES.map(|tag| (tag, "home", text))));
    let site = crow.router(Router::new().route("/", get(page)).route("/sailings/{id}", get(page)));
    println!("| minute | requests | memory |\n|--:|--:|--:|");
    let (mut requests, mut first) = (0_u64, None);
    for minute in 1..=minutes {
        let end = Instant::now() + Duration::from_mins(1);
        while Instant::now() < end {
            for at in 0..500 {
                let _ = site.clone().oneshot(request(requests + at)?).await?;
            }
            requests += 500;
            crow.reload().await?;
        }
        let memory = memory()?;
        println!("| {minute} | {requests} | {:.1} MB |", megabytes(memory));
        let first = *first.get_or_insert(memory);
        ensure!(megabytes(memory) <= megabytes(first) * NOISE, "the memory grows");
    }
    Ok(())
}

/// A page, a switch, or what nobody sends who means well.
fn request(at: u64) -> Result<Request<Body>> {
    let locale = LOCALES[usize::try_from(at)? % LOCALES.len()];
    let request = match at % 5 {
        0 => Request::get(format!("/{locale}/sailings/{at}")),
        1 => Request::get("/").header("accept-language", format!("{locale};q=0.8, zz-{at}, *;q=0.1")),
        2 => {
            Request::builder().method(Method::POST).uri(format!("/locale?to={locale}&return=/sailings/{at}"))
        }
        3 => Request::get(format!("/{locale}/%2e%2e//{at}?{}", "a=%00&".repeat(50)))
            .header("cookie", format!("locale={at}; locale=../../{at}")),
        _ => Request::get("/sailings/1")
            .header("accept-language", format!("{},{at}", "aa-bb-cc;q=9,".repeat(300))),
    };
    Ok(request.header("host", "ferries.example").body(Body::empty())?)
}

#[allow(clippy::cast_precision_loss, reason = "a figure for people")]
fn megabytes(bytes: u64) -> f64 {
    bytes as f64 / 1e6
}
