//! The command and the server are asked the same questions.

use std::convert::Infallible;

use crow_fly::{Args, CrowFly, Translator, Value, json_argument, say};
use http::{Request, Response};
use http_body_util::BodyExt;
use serde_json::{Value as Json, json};
use tower::{Layer, ServiceExt, service_fn};

use crate::{FERRY, run};

/// Options of the command, and the headers that they stand for.
type Visitor = (&'static [&'static str], &'static [(&'static str, &'static str)]);

/// A key, its arguments as they are typed, and as JSON.
type Question = (&'static str, &'static [&'static str], Json);

fn questions() -> Vec<Question> {
    vec![
        ("common.company", &[], json!({})),
        ("common.title", &["page=Home & more"], json!({ "page": "Home & more" })),
        ("home.summary", &["count=0"], json!({ "count": 0 })),
        ("home.summary", &["count=1"], json!({ "count": 1 })),
        ("home.summary", &["count=2"], json!({ "count": 2 })),
        ("home.table.from-to", &["from=Holm", "to=Ness"], json!({ "from": "Holm", "to": "Ness" })),
        ("sailing.title", &["from=Holm", "to=مرسى"], json!({ "from": "Holm", "to": "مرسى" })),
        (
            "sailing.departs",
            &["time=2026-06-01T07:30:00Z", "boat=Curlew"],
            json!({ "time": "2026-06-01T07:30:00Z", "boat": "Curlew" }),
        ),
        (
            "sailing.departs",
            &["time=1780299000", "boat=Curlew"],
            json!({ "time": 1_780_299_000, "boat": "Curlew" }),
        ),
        ("sailing.departs", &["time=soon", "boat=Curlew"], json!({ "time": "soon", "boat": "Curlew" })),
        ("sailing.ordinal", &["place=1"], json!({ "place": 1 })),
        ("sailing.ordinal", &["place=23"], json!({ "place": 23 })),
        ("sailing.seats-left", &["seats=0"], json!({ "seats": 0 })),
        ("sailing.seats-left", &["seats=1"], json!({ "seats": 1 })),
        ("sailing.seats-left", &["seats=3"], json!({ "seats": 3 })),
        ("sailing.seats-left", &["seats=1234567"], json!({ "seats": 1_234_567 })),
        ("sailing.seats-left", &["seats=2.5"], json!({ "seats": 2.5 })),
        ("sailing.seats-left", &["seats=many"], json!({ "seats": "many" })),
        ("sailing.seats-left", &[], json!({})),
        ("sailing.seats-left", &["seats=[1, 2]"], json!({ "seats": [1, 2] })),
        ("sailing.crossing-time", &["minutes=45"], json!({ "minutes": 45 })),
        ("sailing.fare", &["crowns=12.5"], json!({ "crowns": 12.5 })),
        (
            "sailing.fare",
            &[r#"crowns={"amount": "12.50", "currency": "EUR"}"#],
            json!({ "crowns": { "amount": "12.50", "currency": "EUR" } }),
        ),
        (
            "trip.departs",
            &["time=2026-06-01T07:30:00Z", "boat=<b>Curlew</b>"],
            json!({ "time": "2026-06-01T07:30:00Z", "boat": "<b>Curlew</b>" }),
        ),
    ]
}

fn ferry() -> CrowFly {
    CrowFly::from_file(format!("{FERRY}/crow-fly.toml")).unwrap()
}

/// The JSON that a call has printed.
fn printed(shown: &str) -> Json {
    let (_, rest) = shown.split_once("\nstatus ").unwrap();
    let json = rest.split_once('\n').unwrap().1.split("--- errors").next().unwrap();
    serde_json::from_str(json).unwrap()
}

/// What the server says to a page of a locale: the text and the HTML of each question.
async fn served(crow: &CrowFly, prefix: &str, questions: &[Question]) -> Json {
    let questions = questions.to_vec();
    let page = service_fn(move |request: Request<String>| {
        let questions = questions.clone();
        async move {
            let t = request.extensions().get::<Translator>().unwrap();
            let all: Vec<Json> = questions
                .iter()
                .map(|(key, _, values)| {
                    let values = values.as_object().unwrap().iter();
                    let args: Vec<(&str, Value<'_>)> =
                        values.map(|(name, value)| (name.as_str(), json_argument(value).unwrap())).collect();
                    let args = || -> Args<'_> { args.iter().cloned().collect() };
                    json!([t.text(say(key).with(args())), t.html(say(key).with(args())).as_str()])
                })
                .collect();
            Ok::<_, Infallible>(Response::new(Json::from(all).to_string()))
        }
    });
    let request = Request::get(format!("{prefix}/trip")).body(String::new()).unwrap();
    let response = crow.layer().layer(page).oneshot(request).await.unwrap();
    let body = response.into_body().collect().await.unwrap().to_bytes();
    serde_json::from_slice(&body).unwrap()
}

#[tokio::test]
async fn both_say_the_same_texts() {
    let (crow, questions) = (ferry(), questions());
    assert!(crow.load_all().await.unwrap().is_empty());
    let locales = [("en", ""), ("en-GB", "/en-GB"), ("cy", "/cy"), ("pl", "/pl"), ("ar", "/ar")];
    let mut of_server = Vec::new();
    for (_, prefix) in locales {
        of_server.push(served(&crow, prefix, &questions).await);
    }
    let mut count = 0;
    for (number, (key, arguments, _)) in questions.iter().enumerate() {
        let mut typed = vec!["say", *key];
        typed.extend(*arguments);
        typed.extend(["--all", "--format", "json"]);
        let shown = run(FERRY, &typed);
        let report = printed(&shown);
        for (at, (locale, _)) in locales.iter().enumerate() {
            assert_eq!(report["said"][at]["locale"], *locale, "{shown}");
            for (place, form) in ["text", "html"].into_iter().enumerate() {
                assert_eq!(report["said"][at][form], of_server[at][number][place], "{key} in {locale}");
                count += 1;
            }
        }
    }
    assert!(count >= 200, "{count} questions");
}

/// What the server does with a request: the status, the place, the language and the inner path.
async fn decided(crow: &CrowFly, request: Request<String>) -> Json {
    let page = service_fn(|request: Request<String>| async move {
        let locale = request.extensions().get::<Translator>().map(|t| t.locale().to_string());
        let about = json!({ "path": request.uri().path(), "locale": locale });
        Ok::<_, Infallible>(Response::new(about.to_string()))
    });
    let response = crow.layer().layer(page).oneshot(request).await.unwrap();
    let header = |name: &str| response.headers().get(name).map(|value| value.to_str().unwrap().to_owned());
    let (status, location, language, vary) =
        (response.status().as_u16(), header("location"), header("content-language"), header("vary"));
    let body = response.into_body().collect().await.unwrap().to_bytes();
    let inner: Json = serde_json::from_slice(&body).unwrap_or(Json::Null);
    json!({ "status": status, "location": location, "language": language, "vary": vary, "locale": inner["locale"], "path": inner["path"] })
}

#[test]
fn whole_numbers_are_unix_seconds_for_dates() {
    let said = |time: &str| run(FERRY, &["say", "sailing.departs", time, "boat=Curlew"]);
    let expected = said("time=2026-06-01T07:30:00Z").replace("2026-06-01T07:30:00Z", "1780299000");
    assert_eq!(said("time=1780299000"), expected);
    assert!(expected.contains("status 0\nDeparts at"), "{expected}");
}

#[tokio::test]
async fn both_decide_the_same() {
    let crow = ferry();
    crow.load_all().await.unwrap();
    let addresses = [
        "/",
        "/pl",
        "/pl/",
        "/cy/trip?x=1",
        "/en/trip",
        "/EN-gb/trip",
        "/assets/style.css",
        "/de/trip",
        "/trip",
        "/ar/sailings/3",
    ];
    let visitors: [Visitor; 7] = [
        (&[], &[]),
        (&["--cookie", "cy"], &[("cookie", "saltmarsh-locale=cy")]),
        (&["--cookie", "xx"], &[("cookie", "saltmarsh-locale=xx")]),
        (&["--accept-language", "pl, en;q=0.5"], &[("accept-language", "pl, en;q=0.5")]),
        (
            &["--accept-language", "de", "--accept-language", "ar;q=0.2"],
            &[("accept-language", "de"), ("accept-language", "ar;q=0.2")],
        ),
        (
            &["--cookie", "pl", "--accept-language", "cy"],
            &[("cookie", "saltmarsh-locale=pl"), ("accept-language", "cy")],
        ),
        (&["--header", "host: ferries.example:8080"], &[("host", "ferries.example:8080")]),
    ];
    for address in addresses {
        for (options, headers) in visitors {
            let mut request = Request::get(address);
            for (name, value) in headers {
                request = request.header(*name, *value);
            }
            let server = decided(&crow, request.body(String::new()).unwrap()).await;
            let mut typed = vec!["explain", address, "--format", "json"];
            typed.extend(options);
            let shown = run(FERRY, &typed);
            let explained = printed(&shown);
            let header = |name: &str| {
                let headers = explained["headers"].as_array().unwrap().iter();
                headers.filter(|header| header["name"] == name).map(|header| header["value"].clone()).next()
            };
            let case = format!("{shown}\nserver: {server}");
            let is_served = explained["answer"] == "serve";
            assert_eq!(
                explained["status"],
                if server["locale"].is_null() && server["path"].is_null() {
                    server["status"].clone()
                } else {
                    Json::Null
                },
                "{case}"
            );
            assert_eq!(header("location").unwrap_or_default(), server["location"], "{case}");
            if is_served {
                assert_eq!(explained["decision"]["locale"], server["locale"], "{case}");
                assert_eq!(explained["decision"]["target"], server["path"], "{case}");
                assert_eq!(header("content-language").unwrap_or_default(), server["language"], "{case}");
                assert_eq!(header("vary").unwrap_or_default(), server["vary"], "{case}");
            }
        }
    }
}
