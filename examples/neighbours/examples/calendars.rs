//! One timetable for readers in Iran, in Thailand, and for English readers there: each has the dates of their own calendar.
//! Without arguments it prints the pages; `--serve` serves them.

#![allow(clippy::print_stdout, reason = "an example")]

use axum::{Router, body::Body, http::Request, response::Html, routing::get};
use crow_fly::{Config, CrowFly, Translator, args, source::Memory};
use tower::ServiceExt as _;

const CONFIG: &str = "default = 'en-TH'\nlocales = ['en-TH', 'fa', 'th']\n[policy]\nbare-default = false";

/// What needs no words. A ticket has the date of a passport in every language.
const DATES: &str = "\nmonth = '{$at :crow:date fields=year-month length=long}'
sailing = '{$at :datetime dateFields=month-day-weekday dateLength=long}'";
const ENGLISH: &str = "title = 'Winter timetable'\nvalid = '.input {$from :date length=long} {{Valid {$from :crow:range to=$to}}}'
closed = 'Our offices are closed on {$at :date fields=month-day length=long}.'
ticket = 'On your ticket: {$at :date length=short calendar=gregory}'";
const PERSIAN: &str = "title = 'برنامهٔ زمستانی'
valid = '.input {$from :date length=long} {{معتبر: {$from :crow:range to=$to}}}'
closed = 'دفترهای ما در {$at :date fields=month-day length=long} بسته است.'
ticket = 'روی بلیت شما: {$at :date length=short calendar=gregory}'";
const THAI: &str = "title = 'ตารางเดินเรือฤดูหนาว'
valid = '.input {$from :date length=long} {{ใช้ได้ {$from :crow:range to=$to}}}'
closed = 'สำนักงานของเราปิดทำการวันที่ {$at :date fields=month-day length=long}'
ticket = 'บนตั๋วของคุณ: {$at :date length=short calendar=gregory}'";

async fn timetable(t: Translator) -> Html<String> {
    let day = |key: &'static str, at: &'static str| t.html((key, args! { at: at }));
    let sailings = ["2026-12-02T07:30", "2026-12-02T16:15", "2026-12-03T07:30", "2026-12-04T18:00"];
    Html(format!(
        include_str!("../pages/calendars.html"),
        locale = t.locale(),
        direction = t.direction(),
        title = t.html("winter.title"),
        valid = t.html(("winter.valid", args! { from: "2026-12-02", to: "2027-03-19" })),
        month = day("winter.month", "2026-12-02"),
        sailings = sailings.map(|at| format!("\n<li>{}</li>", day("winter.sailing", at))).concat(),
        closed = day("winter.closed", "2027-01-01"),
        ticket = day("winter.ticket", "2026-12-02"),
    ))
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let texts = [("en-TH", ENGLISH), ("fa", PERSIAN), ("th", THAI)]
        .map(|(locale, words)| (locale, "winter", format!("{words}{DATES}")));
    let crow = CrowFly::new(Config::parse(CONFIG)?, Memory::new(texts));
    let app = crow.router(Router::new().route("/", get(timetable)));
    if std::env::args().any(|argument| argument == "--serve") {
        let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await?;
        println!("http://{}", listener.local_addr()?);
        return Ok(axum::serve(listener, app).await?);
    }
    for path in ["/en-TH", "/fa", "/th"] {
        let answer = app.clone().oneshot(Request::get(path).body(Body::empty())?).await?;
        let page = axum::body::to_bytes(answer.into_body(), 10_000).await?;
        print!("{}", String::from_utf8_lossy(&page).split_once("<main>").map_or("", |page| page.1));
    }
    Ok(())
}
