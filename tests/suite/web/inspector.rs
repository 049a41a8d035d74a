//! The page that shows developers what happens.

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args, say};
use http::Request;
use tower::ServiceExt as _;

async fn page(t: Translator) -> String {
    let fare = "<b>12</b>";
    [
        t.text("home.title"),
        t.text("home.help"),
        t.text("home.nothing"),
        t.text(say("home.new").or("New")),
        t.text(("home.fare", args! { fare, place: "Holm" })),
        t.inspector().into_string(),
    ]
    .join("\n")
}

fn app(config: &str) -> Router {
    let head = "default = 'en'\nlocales = ['en', 'cy']\n[remember]\ncookie = 'language'\n";
    let config = Config::parse(&format!("{config}\n{head}")).unwrap();
    let crow = CrowFly::new(
        config,
        Memory::new([
            (
                "en",
                "home",
                "title = 'Ferries'\nhelp = 'Help'\nfare = '''\n.input {$fare :currency}\n{{Fare: {$fare}}}'''",
            ),
            ("cy", "home", "title = 'Fferïau'"),
        ]),
    );
    let pages = Router::new().route("/", get(page)).route("/trip", get(page));
    Router::new().merge(crow.inspector_router()).merge(crow.router(pages))
}

async fn ask(app: &Router, address: &str) -> (u16, String) {
    let request = Request::get(address)
        .header("accept-language", "cy, en;q=0.5")
        .header("cookie", "session=very-secret; language=cy; other=also-secret")
        .header("authorization", "Bearer hidden");
    let response = app.clone().oneshot(request.body(Body::empty()).unwrap()).await.unwrap();
    let status = response.status().as_u16();
    (status, String::from_utf8(to_bytes(response.into_body(), 1 << 20).await.unwrap().to_vec()).unwrap())
}

/// The words of a page, without its elements.
fn words(html: &str) -> String {
    let mut words = String::new();
    for part in html.split('<').skip(1) {
        let (tag, text) = part.split_once('>').unwrap();
        words.push_str(text);
        if tag.starts_with("/tr") || tag.starts_with("/h") || tag.starts_with("/p") {
            words.push('\n');
        } else if tag.starts_with("/t") {
            words.push_str(" | ");
        }
    }
    words.lines().map(str::trim_end).filter(|line| !line.is_empty()).collect::<Vec<_>>().join("\n")
}

#[tokio::test]
async fn a_request_is_shown_with_its_decision_its_texts_and_what_was_wrong() {
    let app = app("development = true");
    ask(&app, "/").await;
    let (_, body) = ask(&app, "/cy/trip?day=1").await;
    let link = body.lines().last().unwrap();
    assert_eq!(
        link,
        "<a class=\"inspector\" href=\"/inspector/2\" lang=\"en\" dir=\"ltr\">inspect this request</a>"
    );
    ask(&app, "/locale?to=de").await;
    let (status, one) = ask(&app, "/inspector/2").await;
    assert_eq!(status, 200);
    insta::assert_snapshot!("one request", words(&one));
    let (_, all) = ask(&app, "/inspector?address=%2F&languages=pl%2C+cy&cookie=").await;
    let time = words(&all)
        .lines()
        .map(|line| {
            // The time of day is that of the test.
            let parts: Vec<&str> = line.split(" | ").collect();
            let is_time = |part: &&str| part.len() == 8 && part.as_bytes()[2] == b':';
            parts
                .iter()
                .map(|part| if is_time(part) { "12:00:00" } else { part })
                .collect::<Vec<_>>()
                .join(" | ")
        })
        .collect::<Vec<_>>()
        .join("\n");
    insta::assert_snapshot!("all requests", time);
    for page in [&one, &all] {
        for hidden in ["very-secret", "also-secret", "hidden", "<script", "<b>12", "style="] {
            assert!(!page.contains(hidden), "{hidden} is in {page}");
        }
    }
    assert_eq!(ask(&app, "/inspector/99").await.0, 404);
    assert!(ask(&app, "/inspector/style.css").await.1.contains("prefers-color-scheme: dark"));
    // What was typed into the form is shown as typed, and nothing that HTTP cannot carry is asked.
    let (_, typed) = ask(&app, "/inspector?address=%22%3E%3Cb%3E&languages=a%0Ab").await;
    assert!(!typed.contains("\"><b>") && typed.contains("That is not an address"), "{typed}");
}

#[tokio::test]
async fn fifty_requests_are_kept() {
    let app = app("development = true");
    for number in 0..60 {
        ask(&app, &format!("/cy/trip?number={number}")).await;
    }
    let (_, all) = ask(&app, "/inspector").await;
    assert_eq!(all.matches("/cy/trip?number=").count(), 50);
    assert_eq!((ask(&app, "/inspector/10").await.0, ask(&app, "/inspector/11").await.0), (404, 200));
}

#[tokio::test]
async fn production_has_none_unless_it_is_forced() {
    let production = app("development = false");
    let (_, body) = ask(&production, "/cy/trip").await;
    assert!(!body.contains("inspector"), "{body}");
    assert_eq!(ask(&production, "/inspector").await.0, 404);
    assert_eq!(ask(&production, "/inspector/1").await.0, 404);
    let forced = app("development = false\ninspector = true");
    assert!(ask(&forced, "/cy/trip").await.1.contains("/inspector/1"));
    assert_eq!(ask(&forced, "/inspector/1").await.0, 200);
    let refused = app("development = true\ninspector = false");
    assert_eq!(ask(&refused, "/inspector").await.0, 404);
}
