//! What is announced beside the page: its other addresses, its entity tag, the menu in the visitor's order.

use axum::Router;
use axum::http::HeaderMap;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator};

use crate::web::visitor::Visitor;
use crate::web::{CONFIG, catalogs, crow};

#[test]
fn every_address_of_a_page_is_announced() {
    let alternates = crow(CONFIG).alternates("https://ferries.example/", "/sailings/7?day=2#top");
    insta::assert_snapshot!(alternates.to_html(), @r#"
    <link rel="alternate" hreflang="en" href="https://ferries.example/sailings/7">
    <link rel="alternate" hreflang="en-GB" href="https://ferries.example/en-GB/sailings/7">
    <link rel="alternate" hreflang="cy" href="https://ferries.example/cy/teithiau/7">
    <link rel="alternate" hreflang="pl" href="https://ferries.example/pl/sailings/7">
    <link rel="alternate" hreflang="ar" href="https://ferries.example/ar/sailings/7">
    <link rel="alternate" hreflang="x-default" href="https://ferries.example/sailings/7">
    "#);
    insta::assert_snapshot!(alternates.to_sitemap().lines().nth(2).unwrap(), @r#"<xhtml:link rel="alternate" hreflang="cy" href="https://ferries.example/cy/teithiau/7"/>"#);
    insta::assert_snapshot!(alternates.to_header().split(", ").nth(5).unwrap(), @r#"<https://ferries.example/sailings/7>; rel="alternate"; hreflang="x-default""#);
    assert_eq!(alternates.links().len(), 6);
}

#[test]
fn announced_addresses_are_safe_whatever_the_path() {
    let alternates = crow(CONFIG).alternates("https://ferries.example", "/\"><script>\r\nX: y");
    let html = alternates.to_html().into_string();
    assert!(!html.contains("<script>") && html.matches('<').count() == 6, "{html}");
    let header = alternates.to_header();
    assert!(!header.contains(['\r', '\n']) && header.matches('<').count() == 6, "{header}");
}

#[test]
fn where_all_locales_share_one_address_there_is_nothing_to_announce() {
    let crow = crow("default = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['cookie']");
    let alternates = crow.alternates("https://ferries.example", "/sailings");
    assert!(
        alternates.links().is_empty()
            && alternates.to_html().as_str().is_empty()
            && alternates.to_header().is_empty()
    );
}

async fn etag(crow: &CrowFly, locale: &str, state: u32) -> String {
    let translator = crow.translator(&locale.parse().unwrap()).await.unwrap();
    translator.etag(state).unwrap()
}

#[tokio::test]
async fn an_entity_tag_changes_with_the_page_the_locale_and_the_texts() {
    let built = |catalogs, revision: &str| {
        CrowFly::builder(Config::parse(CONFIG).unwrap()).catalogs(catalogs).revision(revision).build()
    };
    let crow = built(catalogs(), "1");
    let tag = etag(&crow, "cy", 1).await;
    assert!(tag.starts_with("W/\"") && tag.ends_with('"') && tag.len() == 20, "{tag}");
    assert_eq!(tag, etag(&crow, "cy", 1).await);
    assert_ne!(tag, etag(&crow, "cy", 2).await);
    assert_ne!(tag, etag(&crow, "pl", 1).await);
    assert_eq!(tag, etag(&built(catalogs(), "1"), "cy", 1).await, "two machines give the same tag");
    let texts = Memory::new([("cy", "home", "words = 'geiriau eraill'")]);
    assert_ne!(tag, etag(&built(texts, "1"), "cy", 1).await);
    assert_ne!(tag, etag(&built(catalogs(), "2"), "cy", 1).await, "a new program may make another page");
    let unnamed = crate::web::crow(CONFIG).translator(&"cy".parse().unwrap()).await.unwrap();
    assert_eq!(unnamed.etag(1), None, "a program without a revision gives no tags");
}

#[tokio::test]
async fn the_menu_may_begin_with_what_the_visitor_prefers() {
    let page = get(|t: Translator, headers: HeaderMap| async move {
        let names: Vec<String> = t
            .menu_for(headers.get_all("accept-language"))
            .iter()
            .map(|item| item.locale.to_string())
            .collect();
        names.join(" ")
    });
    let app = crow(CONFIG).router(Router::new().route("/page", page));
    for (header, expected) in [
        ("pl, cy;q=0.5", "pl cy en en-GB ar"),
        ("ar-EG;q=0.3, en-AU;q=0.9", "en en-GB ar cy pl"),
        ("ja, *;q=0.1", "en en-GB cy pl ar"),
        ("cy;q=0, \u{e9}", "en en-GB cy pl ar"),
    ] {
        let answer = Visitor::of(&app).prefers(header.as_bytes()).get("/page").await;
        assert_eq!(answer.body, expected, "{header}");
    }
}
