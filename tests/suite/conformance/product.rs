//! The product of policies, kinds of path, methods, sessions, cookies and headers, by the slow reference.

use crate::conformance::adapters::check;
use crate::conformance::reference::answer;
use crate::conformance::site::{Ask, POLICIES, Session};

const TARGETS: [&str; 31] = [
    "/",
    "/?a=b",
    "/cy",
    "/cy/",
    "/CY/x?q=1",
    "/en",
    "/en?a",
    "/en/cy",
    "/sailings/7",
    "/cy/teithiau/7?a=b",
    "/cy/sailings/7?a=b",
    "/pl/sailings/7?locale=cy",
    "/?locale=cy",
    "/de/x",
    "/assets/x.css",
    "/cy/assets/x.css",
    "/my",
    "/Polska/sailings/7",
    "/poland?a",
    "/api/x?locale=cy",
    "/api/x",
    "/cy/api/x",
    "/shop",
    "/shop/cart",
    "/shop/cy/cart",
    "/shop/de",
    "//evil.example",
    "/locale?to=cy&return=/sailings/7?a",
    "/locale?to=PL&return=//evil.example",
    "/locale?to=de",
    "/shop/locale?to=cy&return=/shop/en/cart",
];

const METHODS: [&str; 4] = ["GET", "HEAD", "POST", "DELETE"];

const SESSIONS: [Session; 4] = [Session::None, Session::Empty, Session::Text("cy"), Session::OtherShape];

const HEADERS: [&[(&str, &str)]; 7] = [
    &[],
    &[("cookie", "locale=pl")],
    &[("cookie", "theme=dark; locale=xx; locale=cy"), ("accept-language", "pl")],
    &[("accept-language", "ja, en;q=0.3, pl;q=0.5")],
    &[("accept-language", "ja"), ("host", "promy.example:8080")],
    &[("x-site-language", "cy"), ("cookie", "locale=../x"), ("sec-purpose", "prefetch")],
    &[
        ("host", "ferries.example"),
        ("referer", "https://ferries.example/pl/sailings/7?b"),
        ("sec-fetch-site", "cross-site"),
    ],
];

/// Every fifth row of the product: 6,944 of 34,720, all of its parts among them.
fn rows() -> impl Iterator<Item = Ask> {
    let all = POLICIES.iter().flat_map(|policy| {
        TARGETS.into_iter().flat_map(move |target| {
            METHODS.into_iter().flat_map(move |method| {
                SESSIONS.into_iter().flat_map(move |session| {
                    HEADERS.into_iter().map(move |headers| Ask {
                        policy: policy.name,
                        method,
                        target,
                        headers: headers.to_vec(),
                        session,
                        visitor: (target.len() % 2 == 0).then_some("pl"),
                        form: "to=en&return=/cy/teithiau/7",
                    })
                })
            })
        })
    });
    all.step_by(5)
}

#[tokio::test]
async fn every_adapter_answers_as_the_documentation_says() {
    let rows: Vec<_> = rows().map(|ask| (answer(&ask), ask)).collect();
    assert!(rows.len() >= 4000, "{}", rows.len());
    check(&rows).await;
}
