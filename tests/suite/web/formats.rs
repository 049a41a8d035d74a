//! Formats through the translator: the locale's, the visitor's time zone, and what the application adds.

use axum::Router;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Html, Translator, args};
use crow_fly_core::datetime::DateValue;
use crow_fly_core::message::{Functions, Invocation, MarkupHandlers};
use crow_fly_core::value::FunctionValue;

use crate::web::visitor::Visitor;

const CONFIG: &str = "
default = 'en'
locales = ['en', 'en-GB', 'pl']
[messages]
isolation = 'none'
[policy]
time-zone = 'visitor'
[time-zone]
default = 'Europe/London'
";

fn app() -> Router {
    let functions = Functions::new().with("harbour:berth", |call: &Invocation<'_>| {
        let berth = call.operand().map(|value| format!("{value:?}")).unwrap_or_default();
        Ok(FunctionValue::text(format!("berth {}", berth.len())))
    });
    let markup = MarkupHandlers::new().with("trip", |_| {
        let (mut start, mut end) = (Html::default(), Html::default());
        start.push_trusted("<a href=\"/trip\">");
        end.push_trusted("</a>");
        Some((start, end))
    });
    let catalogs = Memory::new([
        (
            "en",
            "home",
            "tide = '{$at :datetime}'\ndeparts = '{$time :time}'\nberth = '{$n :harbour:berth}'\nlink = '{#trip}Trip{/trip}'",
        ),
        ("pl", "home", "tide = '{$at :datetime dateLength=long}'"),
    ]);
    let config = Config::parse(CONFIG).unwrap();
    let page = |t: Translator| async move {
        let at = DateValue::parse("2026-07-01T22:30:00Z").unwrap();
        let texts = [
            t.text(("home.tide", args! { at: at })),
            t.text(("home.departs", args! { time: "17:45" })),
            t.text(("home.berth", args! { n: 7 })),
            t.html("home.link").into_string(),
        ];
        texts.join("\n").replace('\u{202f}', " ")
    };
    let crow = CrowFly::builder(config).catalogs(catalogs).functions(functions).markup(markup).build();
    crow.router(Router::new().route("/", get(page)).route(
        "/parts",
        get(|t: Translator| async move {
            serde_json::to_string(&t.parts(("home.departs", args! { time: "09:05" }))).unwrap()
        }),
    ))
}

#[tokio::test]
async fn times_are_told_in_the_visitors_zone_and_in_the_locales_own_way() {
    let app = app();
    for (path, zone, lines) in [
        ("/", None, ["Jul 1, 2026, 11:30 PM", "5:45 PM"]),
        ("/", Some("Asia/Tokyo"), ["Jul 2, 2026, 7:30 AM", "5:45 PM"]),
        // British English has no texts of its own here: the words are those of the chain, the clock is its own.
        ("/en-GB", None, ["1 Jul 2026, 23:30", "17:45"]),
        ("/pl", Some("Europe/Warsaw"), ["2 lipca 2026 00:30", "5:45 PM"]),
    ] {
        let mut visitor = Visitor::of(&app).prefers("en");
        if let Some(zone) = zone {
            visitor = visitor.with_cookie("time-zone", zone);
        }
        let body = visitor.get(path).await.body;
        assert_eq!(body.lines().take(2).collect::<Vec<_>>(), lines, "{path} {zone:?}");
    }
}

#[tokio::test]
async fn the_applications_own_functions_and_markup_are_there_in_every_locale() {
    let body = Visitor::of(&app()).get("/").await.body;
    assert_eq!(body.lines().skip(2).collect::<Vec<_>>(), ["berth 10", "<a href=\"/trip\">Trip</a>"]);
    let parts = Visitor::of(&app()).get("/parts").await.body;
    assert_eq!(
        parts.replace('\u{202f}', " "),
        r#"[{"type":"value","kind":"date","source":"$time","locale":"en","dir":"ltr","value":"9:05 AM"}]"#
    );
}

/// A text of another script is as foreign on a page as one of another language, a text of another region is not.
#[tokio::test]
async fn a_text_that_reads_otherwise_than_its_page_has_its_own_formats_and_its_own_language() {
    let config = "default = 'uz'\nlocales = ['uz', 'uz-Arab', 'sr', 'sr-Latn', 'pt', 'pt-PT']\n\
        [chains]\nuz-Arab = ['uz']\nsr-Latn = ['sr']\n[browser]\nsections = ['home']\n";
    let own = "number = '{$n :number}'\nmany = '.input {$n :integer} .match $n one {{one}} * {{other}}'";
    let catalogs = Memory::new([("uz", "home", own), ("sr", "home", own), ("pt", "home", own)]);
    let crow = CrowFly::new(Config::parse(config).unwrap(), catalogs);
    let args = || args! { n: 1234.5 };
    for (page, number, lang) in [
        ("uz", "1 234,5", None),
        ("uz-Arab", "1 234,5", Some("<span lang=\"uz\" dir=\"ltr\">")),
        ("sr-Latn", "1.234,5", Some("<span lang=\"sr\" dir=\"ltr\">")),
        ("pt-PT", "1234,5", None),
    ] {
        let t = crow.translator_for(page).await;
        for t in [t.clone(), t.with_time_zone("Asia/Tashkent".parse().unwrap())] {
            let text = t.text(("home.number", args())).replace(['\u{a0}', '\u{202f}'], " ");
            assert_eq!(text.trim_matches(['\u{2066}', '\u{2069}']), number, "{page}");
            let html = t.html(("home.number", args())).into_string();
            assert_eq!(lang.is_some(), html.contains("<span"), "{page}: {html}");
            assert!(html.starts_with(lang.unwrap_or("1")), "{page}: {html}");
            let handed = t.hand_off().text(("home.number", args())).section("home").await.unwrap().to_json();
            // Scripts are told so of both: of a text that is ready, and of a message.
            let handed: serde_json::Value = serde_json::from_str(&handed).unwrap();
            let marks = [&handed["texts"]["home.number"], &handed["sections"]["home"]["messages"]["number"]];
            assert_eq!(marks.map(|one| one["locale"].is_string()), [lang.is_some(); 2], "{page}: {handed}");
        }
        // The plural rules are those of the catalog's language: Portugal's differ.
        let t = crow.translator_for(page).await.with_time_zone("Asia/Tashkent".parse().unwrap());
        assert_eq!(
            t.text(("home.many", args! { n: 0 })),
            if page == "pt-PT" { "one" } else { "other" },
            "{page}"
        );
    }
    // The same for a default text in code, which is in the language of the default locale.
    let say = || crow_fly::say("home.none").with(args! { n: 1234.5 }).or("{$n :number}");
    for (page, lang) in [("uz", false), ("uz-Arab", true), ("pt", true)] {
        let t = crow.translator_for(page).await;
        for t in [t.clone(), t.with_time_zone("Asia/Tashkent".parse().unwrap())] {
            let html = t.html(say()).into_string();
            assert_eq!(html.contains("<span lang=\"uz\""), lang, "{page}: {html}");
            assert!(html.contains("1\u{a0}234,5"), "{page}: {html}");
        }
    }
}
