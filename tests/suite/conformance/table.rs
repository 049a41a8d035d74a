//! More than a hundred requests by hand, for people: what each policy makes of the same visitors.
//!
//! Columns: policy, request, what is known of the visitor, answer, `Vary`, `Cache-Control`, what is remembered.
//! `C` and `AL` are the headers Cookie and Accept-Language, `-` is nothing.

use crate::conformance::adapters::check;
use crate::conformance::reference;
use crate::conformance::site::{Answer, Ask, Session, status};

const ROWS: &str = "
usual      | GET /                       | -                              | 200 en /                | C, AL | -       | -
usual      | GET /?a=b                   | -                              | 200 en /?a=b            | C, AL | -       | -
usual      | HEAD /                      | accept pl                      | 302 /pl                 | C, AL | nobody  | -
usual      | GET /                       | accept pl                      | 302 /pl                 | C, AL | nobody  | -
usual      | GET /?a=b                   | accept ja, pl;q=0.5            | 302 /pl?a=b             | C, AL | nobody  | -
usual      | GET /                       | accept ja                      | 200 en /                | C, AL | -       | -
usual      | GET /                       | cookie cy; accept pl           | 302 /cy                 | C, AL | nobody  | -
usual      | GET /                       | cookie en; accept pl           | 200 en /                | C, AL | -       | -
usual      | GET /                       | cookie xx; accept pl           | 302 /pl                 | C, AL | nobody  | -
usual      | GET /                       | cookie CY                      | 302 /cy                 | C, AL | nobody  | -
usual      | GET /                       | session cy; cookie pl          | 302 /cy                 | C, AL | nobody  | -
usual      | GET /                       | session de; cookie pl          | 302 /pl                 | C, AL | nobody  | -
usual      | GET /                       | session empty; cookie pl       | 302 /pl                 | C, AL | nobody  | -
usual      | GET /                       | session broken; cookie pl      | 302 /pl                 | C, AL | nobody  | -
usual      | GET /                       | session en; cookie pl          | 200 en /                | C, AL | -       | -
usual      | POST /                      | cookie cy                      | 200 en /                | C, AL | -       | -
usual      | DELETE /                    | cookie cy                      | 200 en /                | C, AL | -       | -
usual      | GET /cy                     | -                              | 200 cy /                | -     | -       | -
usual      | GET /cy/                    | cookie pl; accept pl           | 308 /cy                 | -     | hour    | -
usual      | POST /cy                    | session pl                     | 200 cy /                | -     | -       | -
usual      | GET /pl/sailings/7?a=b      | cookie cy                      | 200 pl /sailings/7?a=b  | -     | -       | -
usual      | GET /sailings/7             | cookie cy; accept pl           | 200 en /sailings/7      | -     | -       | -
usual      | GET /sailings/7             | session cy                     | 200 en /sailings/7      | -     | -       | -
usual      | GET /nowhere                | accept cy                      | 404 en /nowhere         | -     | -       | -
usual      | GET /cy/nowhere             | -                              | 404 cy /nowhere         | -     | -       | -
usual      | GET /cy/teithiau/7          | -                              | 200 cy /sailings/7      | -     | -       | -
usual      | GET /cy/sailings/7?a        | accept pl                      | 308 /cy/teithiau/7?a    | -     | hour    | -
usual      | POST /cy/sailings/7         | -                              | 308 /cy/teithiau/7      | -     | hour    | -
usual      | GET /teithiau/7             | -                              | 404 en /teithiau/7      | -     | -       | -
usual      | GET /CY/x?q                 | cookie pl                      | 308 /cy/x?q             | -     | hour    | -
usual      | GET /PL                     | -                              | 308 /pl                 | -     | hour    | -
usual      | GET /en                     | -                              | 308 /                   | C, AL | hour    | -
usual      | GET /en                     | cookie en; accept pl           | 308 /                   | C, AL | hour    | -
usual      | GET /en                     | accept pl                      | 302 /pl                 | C, AL | nobody  | -
usual      | GET /en/sailings/7          | accept pl                      | 308 /sailings/7         | -     | hour    | -
usual      | GET /en/cy                  | -                              | 404 en /en/cy           | -     | -       | -
usual      | GET /en//evil.example       | -                              | 308 /.//evil.example    | -     | hour    | -
usual      | GET //evil.example          | -                              | 404 en //evil.example   | -     | -       | -
usual      | GET /de/x                   | -                              | 404 en /de/x            | -     | -       | -
usual      | GET /my                     | cookie cy; accept pl           | 200 en /my              | -     | -       | -
usual      | POST /my                    | accept pl                      | 200 en /my              | -     | -       | -
usual      | GET /assets/x.css           | cookie cy; accept pl           | 200 untouched           | -     | -       | -
usual      | GET /assets/y.css           | -                              | 404 untouched           | -     | -       | -
usual      | POST /assets/x.css          | session cy                     | 200 untouched           | -     | -       | -
usual      | GET /assetsx                | -                              | 404 en /assetsx         | -     | -       | -
usual      | GET /cy/assets/x.css        | -                              | 404 untouched           | -     | -       | -
usual      | GET /cy//%61ssets/x.css     | cookie pl                      | 404 untouched           | -     | -       | -
usual      | GET /locale?to=cy           | -                              | 302 /cy                 | -     | nobody  | cookie cy
usual      | GET /locale?to=CY           | -                              | 302 /cy                 | -     | nobody  | cookie cy
usual      | GET /locale?to=en           | cookie en                      | 302 /                   | -     | nobody  | cookie en
usual      | GET /locale?to=cy           | session empty                  | 302 /cy                 | -     | nobody  | cookie cy, session
usual      | GET /locale?to=cy           | session pl                     | 302 /cy                 | -     | nobody  | cookie cy, session
usual      | GET /locale?to=cy           | session broken                 | 302 /cy                 | -     | nobody  | cookie cy, session
usual      | HEAD /locale?to=cy          | session pl                     | 302 /cy                 | -     | nobody  | -
usual      | GET /locale?to=cy           | sec-purpose prefetch           | 302 /cy                 | -     | nobody  | -
usual      | GET /locale?to=cy           | sec-fetch-site cross-site      | 302 /cy                 | -     | nobody  | -
usual      | GET /locale?to=cy           | sec-fetch-site same-origin     | 302 /cy                 | -     | nobody  | cookie cy
usual      | GET /locale?to=cy           | sec-fetch-site cross-site; sec-fetch-dest document | 302 /cy | - | nobody | cookie cy
usual      | GET /locale?to=cy           | sec-fetch-site cross-site; sec-fetch-dest image    | 302 /cy | - | nobody | -
usual      | GET /locale?to=pl&return=/cy/teithiau/7?a | -                | 302 /pl/sailings/7?a    | -     | nobody  | cookie pl
usual      | GET /locale?to=cy&return=/EN/sailings/7   | -                | 302 /cy/teithiau/7      | -     | nobody  | cookie cy
usual      | GET /locale?to=cy&return=//evil.example   | -                | 302 /cy//evil.example   | -     | nobody  | cookie cy
usual      | GET /locale?to=en&return=//evil.example   | -                | 302 /.//evil.example    | -     | nobody  | cookie en
usual      | GET /locale?to=cy&return=https://evil.example/ | -           | 302 /cy                 | -     | nobody  | cookie cy
usual      | GET /locale?to=cy&return=/assets/x.css    | -                | 302 /assets/x.css       | -     | nobody  | cookie cy
usual      | GET /locale?to=cy           | host a.example; referer https://a.example/pl/x?a | 302 /cy/x?a | - | nobody | cookie cy
usual      | GET /locale?to=cy           | host a.example; referer https://b.example/pl/x   | 302 /cy     | - | nobody | cookie cy
usual      | GET /locale?to=de           | -                              | 400                     | -     | -       | -
usual      | GET /locale                 | -                              | 400                     | -     | -       | -
usual      | POST /locale                | form to=pl&return=/sailings/7  | 303 /pl/sailings/7      | -     | nobody  | cookie pl
usual      | POST /locale?to=cy          | form to=pl                     | 303 /cy                 | -     | nobody  | cookie cy
usual      | POST /locale                | form to=de                     | 400                     | -     | -       | -
usual      | PUT /locale?to=cy           | -                              | 405                     | -     | -       | -
prefixed   | GET /                       | -                              | 302 /en                 | C, AL | nobody  | -
prefixed   | GET /                       | cookie cy                      | 302 /cy                 | C, AL | nobody  | -
prefixed   | GET /en                     | cookie cy                      | 200 en /                | -     | -       | -
prefixed   | GET /EN                     | cookie cy                      | 308 /en                 | -     | hour    | -
prefixed   | GET /sailings/7             | cookie cy                      | 200 en /sailings/7      | -     | -       | -
prefixed   | POST /sailings/7            | -                              | 200 en /sailings/7      | -     | -       | -
everywhere | GET /sailings/7?a           | accept cy                      | 302 /cy/teithiau/7?a    | C, AL | nobody  | -
everywhere | GET /sailings/7             | -                              | 200 en /sailings/7      | C, AL | -       | -
everywhere | GET /sailings/7             | cookie en; accept cy           | 200 en /sailings/7      | C, AL | -       | -
everywhere | POST /sailings/7            | accept cy                      | 200 en /sailings/7      | C, AL | -       | -
everywhere | GET /en/sailings/7          | accept cy                      | 302 /cy/teithiau/7      | C, AL | nobody  | -
everywhere | GET /cy/teithiau/7          | accept pl                      | 200 cy /sailings/7      | -     | -       | -
never      | GET /                       | accept cy                      | 200 en /                | -     | -       | -
never      | GET /sailings/7             | session pl                     | 200 en /sailings/7      | -     | -       | -
never      | GET /en/sailings/7          | session pl                     | 200 en /sailings/7      | -     | -       | -
negotiated | GET /sailings/7?locale=cy   | cookie pl                      | 200 cy /sailings/7?locale=cy | - | -      | -
negotiated | GET /sailings/7?locale=xx   | cookie pl                      | 200 pl /sailings/7?locale=xx | x-site-language, C, AL | - | -
negotiated | GET /sailings/7             | host promy.example:8080        | 200 pl /sailings/7      | x-site-language | - | -
negotiated | GET /sailings/7             | x-site-language cy; host promy.example | 200 cy /sailings/7 | x-site-language | - | -
negotiated | GET /sailings/7             | visitor cy; session pl         | 200 cy /sailings/7      | x-site-language, C, AL | - | -
negotiated | GET /cy                     | -                              | 404 en /cy              | x-site-language, C, AL | - | -
negotiated | GET /assets/x.css           | cookie cy                      | 200 untouched           | -     | -       | -
negotiated | GET /locale?to=pl&return=/sailings/7 | -                     | 302 /sailings/7         | -     | nobody  | cookie pl
zone       | GET /cy                     | -                              | 200 cy /                | C     | visitor | -
zone       | GET /                       | visitor pl; session cy         | 302 /pl                 | C     | nobody  | -
base       | GET /shop/cy/cart           | -                              | 200 cy /shop/cart       | -     | -       | -
base       | GET /status                 | cookie cy                      | 404 untouched           | -     | -       | -
base       | GET /shop/de                | -                              | 404 en /shop/de         | -     | -       | -
base       | GET /shop/cy/assets/x.css   | -                              | 404 untouched           | -     | -       | -
chosen     | GET /polska/sailings/7      | cookie cy                      | 200 pl /sailings/7      | -     | -       | -
chosen     | GET /POLSKA                 | -                              | 308 /polska             | -     | hour    | -
chosen     | GET /pl/sailings/7?a        | -                              | 308 /polska/sailings/7?a | -    | hour    | -
chosen     | POST /poland                | -                              | 308 /polska             | -     | hour    | -
chosen     | GET /                       | accept pl                      | 302 /polska             | C, AL | nobody  | -
chosen     | GET /locale?to=pl&return=/cy/teithiau/7 | -                  | 302 /polska/sailings/7  | -     | nobody  | cookie pl
area       | GET /api/x                  | x-site-language cy; cookie pl  | 200 cy /api/x           | x-site-language, AL | - | -
area       | GET /api/x?locale=cy        | accept pl                      | 200 cy /api/x?locale=cy | x-site-language | - | -
area       | GET /api/x                  | accept pl                      | 200 pl /api/x           | x-site-language, AL | - | -
area       | POST /api/x                 | session pl                     | 200 en /api/x           | x-site-language, AL | - | -
area       | GET /cy/api/x               | -                              | 404 untouched           | -     | -       | -
area       | GET /locale?to=cy&return=/api/x | -                          | 302 /api/x              | -     | nobody  | cookie cy
area       | GET /cy                     | x-site-language pl             | 200 cy /                | -     | -       | -
formats    | GET /cy                     | accept pl                      | 200 cy /                | AL    | visitor | -
";

/// Requests of policies, and of former paths, that the reference does not know.
const MORE_ROWS: &str = "
usual      | GET /cy/hwyliadau/7?a       | accept pl                      | 308 /cy/teithiau/7?a    | -     | hour    | -
usual      | GET /CY/hwyliadau/7         | -                              | 308 /cy/teithiau/7      | -     | hour    | -
usual      | GET /cy/t%65ithiau/7        | -                              | 200 cy /sailings/7      | -     | -       | -
usual      | GET /hwyliadau/7            | -                              | 404 en /hwyliadau/7     | -     | -       | -
usual      | GET /pl/teithiau/7?a        | -                              | 308 /pl/sailings/7?a    | -     | hour    | -
usual      | GET /pl/hwyliadau/7         | cookie cy                      | 308 /pl/sailings/7      | -     | hour    | -
usual      | POST /pl/teithiau/7         | -                              | 404 pl /teithiau/7      | -     | -       | -
usual      | GET /pl/teithiau            | -                              | 404 pl /teithiau        | -     | -       | -
everywhere | GET /pl/teithiau/7          | -                              | 308 /pl/sailings/7      | -     | hour    | -
board      | GET /pl/teithiau/7          | -                              | 308 /pl/sailings/7      | -     | hour    | -
mounted    | GET /pl/teithiau/7          | -                              | 308 /app/pl/sailings/7  | -     | hour    | -
base       | GET /shop/pl/teithiau/7     | -                              | 308 /shop/pl/sailings/7 | -     | hour    | -
chosen     | GET /polska/teithiau/7      | -                              | 308 /polska/sailings/7  | -     | hour    | -
mounted    | GET /cy/teithiau/7          | -                              | 200 cy /sailings/7      | -     | -       | -
mounted    | GET /cy/sailings/7          | -                              | 308 /app/cy/teithiau/7  | -     | hour    | -
mounted    | GET /CY?a                   | -                              | 308 /app/cy?a           | -     | hour    | -
mounted    | GET /                       | accept pl                      | 302 /app/pl             | C, AL | nobody  | -
mounted    | GET /                       | -                              | 200 en /                | C, AL | -       | -
mounted    | GET /en                     | accept pl                      | 302 /app/pl             | C, AL | nobody  | -
mounted    | GET /en                     | -                              | 308 /app/               | C, AL | hour    | -
mounted    | GET /EN/x                   | accept pl                      | 308 /app/x              | -     | hour    | -
mounted    | GET /assets/x.css           | -                              | 200 untouched           | -     | -       | -
mounted    | GET /locale?to=pl&return=/cy/teithiau/7     | -              | 302 /app/pl/sailings/7  | -     | nobody  | cookie pl
mounted    | GET /locale?to=pl&return=/app/cy/teithiau/7 | -              | 302 /app/pl/sailings/7  | -     | nobody  | cookie pl
mounted    | GET /locale?to=pl&return=/assets/x.css      | -              | 302 /app/assets/x.css   | -     | nobody  | cookie pl
mounted    | GET /locale?to=pl           | host a.example; referer https://a.example/app/cy/x | 302 /app/pl/x | - | nobody | cookie pl
draft      | GET /pl                     | -                              | 200 pl /                | -     | -       | -
draft      | GET /                       | accept pl                      | 200 en /                | C, AL | -       | -
draft      | GET /                       | accept pl, cy;q=0.5            | 302 /cy                 | C, AL | nobody  | -
draft      | GET /locale?to=pl           | -                              | 302 /pl                 | -     | nobody  | cookie pl
board      | GET /cy/teithiau/7          | -                              | 200 cy /sailings/7      | C     | visitor | -
board      | GET /sailings/7             | cookie cy                      | 200 en /sailings/7      | C     | visitor | -
board      | POST /pl/sailings/7         | visitor cy                     | 200 pl /sailings/7      | C     | visitor | -
board      | GET /cy/sailings/7          | -                              | 308 /cy/teithiau/7      | -     | hour    | -
board      | GET /cy                     | visitor pl                     | 200 cy /                | -     | -       | -
board      | GET /my                     | session cy                     | 200 en /my              | -     | -       | -
board      | GET /                       | -                              | 200 en /                | C     | -       | -
board      | GET /                       | session cy                     | 302 /cy                 | C     | nobody  | -
draft      | GET /                       | cookie pl                      | 302 /pl                 | C, AL | nobody  | -
";

/// A request as the table writes it.
fn ask(policy: &'static str, request: &'static str, visitor: &'static str) -> Ask {
    let (method, target) = request.split_once(' ').unwrap();
    let mut ask = Ask { policy, method, target, ..Ask::default() };
    for fact in visitor.split("; ").filter(|fact| *fact != "-") {
        let (name, value) = fact.split_once(' ').unwrap();
        match name {
            "session" => {
                ask.session = match value {
                    "empty" => Session::Empty,
                    "broken" => Session::OtherShape,
                    text => Session::Text(text),
                }
            }
            "cookie" => ask.headers.push(("cookie", ["locale=", value].concat().leak())),
            "accept" => ask.headers.push(("accept-language", value)),
            "visitor" => ask.visitor = Some(value),
            "form" => ask.form = value,
            name => ask.headers.push((name, value)),
        }
    }
    ask
}

/// An answer as the table writes it.
fn answer(ask: &Ask, [said, vary, cache, remembered]: [&str; 4]) -> Answer {
    let mut answer = Answer::default();
    let (code, rest) = said.split_once(' ').unwrap_or((said, ""));
    answer.status = code.parse().unwrap();
    match (answer.status, rest) {
        (405, _) => answer.header("allow", "GET, HEAD, POST"),
        (300..400, location) => answer.header("location", location),
        (_, "") => {}
        (_, "untouched") => answer.body = format!("no locale no words {}", ask.target),
        (_, page) => {
            let (locale, target) = page.split_once(' ').unwrap();
            let words = [("en", "words"), ("cy", "geiriau"), ("pl", "słowa")];
            let words = words.iter().find(|(known, _)| *known == locale).unwrap().1;
            answer.body = format!("{locale} {words} {target}");
            answer.header("content-language", locale);
            assert!(answer.status == 404 || status(target) == 200, "{target}");
        }
    }
    if vary != "-" {
        let names = vary.split(", ").map(|name| match name {
            "C" => "Cookie",
            "AL" => "Accept-Language",
            name => name,
        });
        answer.header("vary", names.collect::<Vec<_>>().join(", "));
    }
    match cache {
        "nobody" => answer.header("cache-control", "private, no-store"),
        "hour" => answer.header("cache-control", "max-age=3600"),
        "visitor" => answer.header("cache-control", "private"),
        _ => {}
    }
    if let Some(cookie) = remembered.strip_prefix("cookie ") {
        let locale = cookie.trim_end_matches(", session");
        let cookie = format!("locale={locale}; HttpOnly; SameSite=Lax; Secure; Path=/; Max-Age=31536000");
        answer.header("set-cookie", cookie);
        answer.session_written = remembered.ends_with("session");
    }
    answer
}

fn rows(table: &'static str) -> Vec<(Answer, Ask)> {
    let row = |line: &'static str| {
        let cells: Vec<&str> = line.split(" | ").map(str::trim).collect();
        let [policy, request, visitor, rest @ ..] = cells.as_slice() else { panic!("{line}") };
        let ask = ask(policy, request, visitor);
        (answer(&ask, rest.try_into().unwrap()), ask)
    };
    table.lines().filter(|line| !line.is_empty()).map(row).collect()
}

#[tokio::test]
async fn every_adapter_answers_as_the_table_says() {
    let mut known = rows(ROWS);
    assert!(known.len() >= 100, "{}", known.len());
    known.extend(rows(MORE_ROWS));
    check(&known).await;
}

/// The reference of the large product says the same as the people who wrote the table.
#[test]
fn the_reference_agrees_with_the_table() {
    for (mut expected, ask) in rows(ROWS) {
        let mut got = reference::answer(&ask);
        expected.headers.sort();
        got.headers.sort();
        assert_eq!(got, expected, "{ask:?}");
    }
}
