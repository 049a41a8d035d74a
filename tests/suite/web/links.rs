//! Links inside messages lead to the reader's language, whatever language the text is in.

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Html, args, say};
use crow_fly_core::message::MarkupHandlers;

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy']
[policy]
skip = ['/assets']
[paths]
'/sailings/{id}' = { cy = '/teithiau/{id}' }
";

fn crow() -> CrowFly {
    let catalogs = Memory::new([
        (
            "en",
            "home",
            "see = 'See {#a href=|/sailings/7?a=b|}it{/a}'
only-english = '{#a href=|/sailings/7|}Only English{/a}'
argument = '{#a href=$page}page{/a}'
own = '{#trip id=$id}trip{/trip}'
",
        ),
        (
            "cy",
            "home",
            "see = 'Gweler {#a href=|/sailings/7?a=b|}o{/a}'\nown = '{#trip id=$id}taith{/trip}'\n",
        ),
    ]);
    let markup = MarkupHandlers::new().with("trip", |tag| {
        let (mut start, mut end) = (Html::default(), Html::default());
        start.push_trusted("<a class=\"trip\" hreflang=\"");
        start.push(&tag.context().tag().to_string());
        start.push_trusted("\" href=\"");
        start.push(&tag.link(&format!("/sailings/{}", tag.option("id")?)));
        start.push_trusted("\">");
        end.push_trusted("</a>");
        Some((start, end))
    });
    CrowFly::builder(Config::parse(CONFIG).unwrap()).catalogs(catalogs).markup(markup).build()
}

#[tokio::test]
async fn a_link_leads_to_the_page_in_the_readers_language() {
    let crow = crow();
    let (english, welsh) = (crow.translator_for("en").await, crow.translator_for("cy").await);
    assert_eq!(english.html("home.see").as_str(), "See <a href=\"/sailings/7?a=b\">it</a>");
    assert_eq!(welsh.html("home.see").as_str(), "Gweler <a href=\"/cy/teithiau/7?a=b\">o</a>");
    // The reader's language, not that of the text.
    let fallback = welsh.html("home.only-english").into_string();
    assert!(fallback.contains("<a href=\"/cy/teithiau/7\">Only English</a>"), "{fallback}");
    let default = welsh.html(say("home.nothing").or("{#a href=|/sailings/7|}new{/a}")).into_string();
    assert!(default.contains("<a href=\"/cy/teithiau/7\">new</a>"), "{default}");
    // Parts and handlers have the same address.
    let parts = serde_json::to_string(&welsh.parts("home.see")).unwrap();
    assert!(parts.contains("/cy/teithiau/7?a=b"), "{parts}");
    let own = welsh.html(("home.own", args! { id: 9 }));
    assert_eq!(own.as_str(), "<a class=\"trip\" hreflang=\"cy\" href=\"/cy/teithiau/9\">taith</a>");
}

#[tokio::test]
async fn what_is_not_a_page_of_the_application_stays_as_it_is() {
    let welsh = crow().translator_for("cy").await;
    for (page, href) in [
        ("/sailings/7#top", "/cy/teithiau/7#top"),
        ("/cy/teithiau/7", "/cy/teithiau/7"),
        ("/assets/map.pdf", "/assets/map.pdf"),
        ("https://elsewhere.example/x", "https://elsewhere.example/x"),
        ("mailto:quay@ferries.example", "mailto:quay@ferries.example"),
        ("#top", "#top"),
        ("?a=b", "?a=b"),
        ("//elsewhere.example/x", "//elsewhere.example/x"),
    ] {
        let html = welsh.html(("home.argument", args! { page: page })).into_string();
        assert!(html.contains(&format!("<a href=\"{href}\">")), "{page}: {html}");
    }
}
