//! A reader's language where no address says it: a return from a payment, a stored preference, a redirect.

use std::sync::atomic::{AtomicI64, Ordering};

use axum::Router;
use axum::http::StatusCode;
use axum::routing::{get, post};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args, say};
use crow_fly_core::message::Isolation;
use crow_fly_core::names::{Casing, locales, name, own_name};
use jiff::{SignedDuration, Timestamp};

use crate::web::visitor::Visitor;
use crate::web::{CONFIG, crow};

fn head(headers: &[(&str, &str)]) -> http::request::Parts {
    let request = http::Request::get("/pl/paid");
    let request = headers.iter().fold(request, |request, (name, value)| request.header(*name, *value));
    request.body(()).unwrap().into_parts().0
}

#[tokio::test]
async fn a_preference_is_known_whatever_the_address() {
    let crow = crow(CONFIG);
    for (headers, locale) in [
        (&[][..], "en"),
        (&[("accept-language", "ja, cy;q=0.5")], "cy"),
        (&[("cookie", "locale=ar"), ("accept-language", "cy")], "ar"),
        (&[("cookie", "locale=xx; locale=pl")], "pl"),
        (&[("cookie", "locale=../x"), ("accept-language", "ja")], "en"),
    ] {
        assert_eq!(crow.preferred(&head(headers)).to_string(), locale, "{headers:?}");
    }
    assert_eq!(
        crow.path(&crow.preferred(&head(&[("cookie", "locale=cy")])), "/sailings/7").as_deref(),
        Some("/cy/teithiau/7")
    );
    assert_eq!(crow.path(&"de".parse().unwrap(), "/x"), None);
}

/// The recipe: a service returns to `/paid`, which no visitor sees, and the visitor goes on in their language.
fn shop(crow: &CrowFly) -> Router {
    let returned = {
        let crow = crow.clone();
        move |request: axum::extract::Request| async move {
            let locale = crow.preferred(&request.into_parts().0);
            axum::response::Redirect::to(&crow.path(&locale, "/thanks").unwrap())
        }
    };
    let book = |t: Translator| async move { t.redirect("/sailings/7?booked") };
    let pages = Router::new()
        .route("/paid", get(returned))
        .route("/book", post(book))
        .route("/thanks", get(|t: Translator| async move { t.locale().to_string() }));
    crow.router(pages)
}

#[tokio::test]
async fn a_visitor_who_returns_at_a_bare_address_goes_on_in_their_language() {
    let mut visitor = Visitor::of(&shop(&crow(CONFIG))).with_cookie("locale", "cy").prefers("pl");
    let answer = visitor.get("/paid").await;
    assert_eq!((answer.status, answer.header("location")), (StatusCode::SEE_OTHER, "/cy/thanks".to_owned()));
    assert_eq!(visitor.get("/cy/thanks").await.body, "cy");
}

#[tokio::test]
async fn a_handler_redirects_in_the_readers_language() {
    let app = shop(&crow(CONFIG));
    for (path, location) in [("/book", "/sailings/7?booked"), ("/cy/book", "/cy/teithiau/7?booked")] {
        let answer = Visitor::of(&app).ask(http::Method::POST, path, "").await;
        assert_eq!((answer.status, answer.header("location").as_str()), (StatusCode::SEE_OTHER, location));
        assert_eq!(answer.header("cache-control"), "private, no-store");
    }
    let t = crow(CONFIG).translator_for("cy").await;
    assert_eq!(t.redirect("//evil.example").address(), "/cy//evil.example");
}

#[tokio::test]
async fn a_stored_preference_finds_the_closest_locale() {
    let crow = crow(CONFIG);
    for (stored, locale) in [
        ("cy", "cy"),
        ("cy_GB.UTF-8", "cy"),
        ("en-AU", "en-GB"),
        ("ar-EG", "ar"),
        ("ja", "en"),
        ("", "en"),
        ("no tag!", "en"),
    ] {
        let t = crow.translator_for(stored).await;
        assert_eq!(t.locale().to_string(), locale, "{stored}");
    }
    let mail = crow.translator_for("pl-PL").await.with_time_zone("Europe/Warsaw".parse().unwrap());
    assert_eq!((mail.text("home.words").as_str(), mail.time_zone().as_str()), ("słowa", "Europe/Warsaw"));
}

#[tokio::test]
async fn a_mail_has_whole_links_and_a_subject_without_invisible_characters() {
    let crow = crow(&format!("origin = 'https://ferries.example/'\n{CONFIG}"));
    let t = crow.translator_for("cy-GB").await;
    assert_eq!(t.url("/sailings/7").as_deref(), Some("https://ferries.example/cy/teithiau/7"));
    assert_eq!(t.url("//evil.example").as_deref(), Some("https://ferries.example/cy//evil.example"));
    assert_eq!(crate::web::crow(CONFIG).translator_for("cy").await.url("/x"), None);
    let hello = || say("home.hello").with(args! { name: "مريم" });
    assert_eq!(t.text(hello()), "Helo, \u{2068}مريم\u{2069}");
    assert_eq!(t.text(hello().isolation(Isolation::None)), "Helo, مريم");
    assert!(!t.html(hello().isolation(Isolation::None)).as_str().contains("bdi"));
}

#[tokio::test]
async fn all_texts_of_a_request_have_one_time() {
    // A clock that goes on by a minute whenever it is read.
    let minutes = AtomicI64::new(0);
    let start: Timestamp = "2026-05-01T09:00:00Z".parse().unwrap();
    let crow = CrowFly::builder(Config::parse("default = 'en'\nlocales = ['en', 'pl']").unwrap())
        .catalogs(Memory::new([
            ("en", "home", "leaves = '{$moment :crow:relative}'"),
            ("pl", "home", "leaves = '{$moment :crow:relative}'"),
        ]))
        .clock(move || start + SignedDuration::from_mins(minutes.fetch_add(1, Ordering::Relaxed)))
        .build();
    let leaves = move || ("home.leaves", args! { moment: start + SignedDuration::from_mins(90) });
    let page = move |t: Translator| async move { format!("{}, {}", t.text(leaves()), t.text(leaves())) };
    let app = crow.router(Router::new().route("/", get(page)));
    // The clock is read once for a translator.
    assert_eq!(Visitor::of(&app).get("/").await.body, "in 1 hour, in 1 hour");
    let t = crow.translator_for("en").await;
    let later = |minutes| t.clone().with_now(start + SignedDuration::from_mins(minutes)).text(leaves());
    assert_eq!([later(31), later(90), later(150)], ["in 59 minutes", "now", "1 hour ago"]);
    let mail = crow.translator_for_mail("pl", "Europe/Warsaw").await;
    assert_eq!([mail.text(leaves()), mail.text(leaves())], ["za 1 godzinę", "za 1 godzinę"]);
}

#[tokio::test]
async fn a_page_that_is_not_there_in_every_language_leads_to_no_404() {
    let article = |t: Translator| async move {
        let t = t.with_pages(|locale| match locale.to_string().as_str() {
            "en" => Some("/news/new-ferry".to_owned()),
            "cy" => Some("/news/fferi-newydd?rhan=1".to_owned()),
            _ => None,
        });
        let item = |item: crow_fly::MenuItem| {
            format!("{} {} {} {}", item.locale, item.exists, item.page, item.address)
        };
        let menu = t.menu().into_iter().map(item).collect::<Vec<_>>().join("\n");
        format!("{menu}\n{}", t.alternates("https://ferries.example").to_html())
    };
    let crow = crow("default = 'en'\nlocales = ['en', 'cy', 'pl']\n");
    let app = crow.router(Router::new().route("/news/{slug}", get(article)));
    let answer = Visitor::of(&app).get("/cy/news/fferi-newydd?a=b").await;
    insta::assert_snapshot!(answer.body, @r#"
    en true /news/new-ferry /locale?to=en&return=%2Fnews%2Fnew-ferry
    cy true /cy/news/fferi-newydd?rhan=1 /locale?to=cy&return=%2Fnews%2Ffferi-newydd%3Frhan%3D1
    pl false /pl /locale?to=pl&return=%2F
    <link rel="alternate" hreflang="en" href="https://ferries.example/news/new-ferry">
    <link rel="alternate" hreflang="cy" href="https://ferries.example/cy/news/fferi-newydd">
    <link rel="alternate" hreflang="x-default" href="https://ferries.example/news/new-ferry">
    "#);
}

#[tokio::test]
async fn a_menu_has_the_names_of_each_language_whichever_page_comes_first() {
    let few = ["en", "en-GB", "cy", "pl", "ar", "tlh"];
    // Of so many the names in other languages are not kept.
    let many: Vec<&str> = locales().filter(|tag| *tag != "und").chain(["tlh"]).collect();
    assert!(many.len() > 200);
    for tags in [&few[..], &many] {
        let crow = crow(&format!("default = 'en'\nlocales = {tags:?}\n"));
        // Twice: the names of the first menus are kept for the later ones.
        for language in ["cy", "ar", "tlh", "en", "cy", "ar", "tlh", "en"] {
            let t = crow.translator_for(language).await;
            let (here, menu) = (t.locale().clone(), t.menu());
            assert!(menu.iter().any(|item| item.locale == here));
            for item in menu {
                assert_eq!(item.own_name, own_name(&item.locale, Casing::Menu), "{language}");
                assert_eq!(item.name, name(&item.locale, &here, Casing::Menu), "{language}: {}", item.locale);
            }
        }
    }
    let crow = crow(&format!("default = 'en'\nlocales = {few:?}\n"));
    let own = crow.translator_for("pl").await.menu().into_iter().map(|item| item.own_name);
    assert_eq!(
        own.collect::<Vec<_>>(),
        ["English", "British English", "Cymraeg", "polski", "العربية", "tlh"]
    );
}

#[tokio::test]
async fn a_draft_is_reachable_for_a_preview_and_nothing_leads_there() {
    let menu = |t: Translator| async move {
        let menu = t.menu().iter().map(|item| item.locale.to_string()).collect::<Vec<_>>().join(" ");
        format!(
            "{} {} [{menu}] {}",
            t.locale(),
            t.text("home.words"),
            t.alternates("https://a.example").links().len()
        )
    };
    let crow = crow("default = 'en'\nlocales = ['en', 'cy', 'pl']\ndrafts = ['pl']\n");
    let app = crow.router(Router::new().fallback(get(menu)));
    assert_eq!(Visitor::of(&app).get("/pl/x").await.body, "pl słowa [en cy pl] 3");
    assert_eq!(Visitor::of(&app).get("/cy/x").await.body, "cy geiriau [en cy] 3");
    assert_eq!(Visitor::of(&app).prefers("pl, cy;q=0.5").get("/").await.header("location"), "/cy");
    assert_eq!(Visitor::of(&app).prefers("pl").get("/").await.body, "en words [en cy] 3");
    assert_eq!(crow.translator_for("pl-PL").await.locale().to_string(), "en");
    // Who previews it may stay in it.
    assert_eq!(Visitor::of(&app).get("/locale?to=pl&return=/x").await.header("location"), "/pl/x");
}

#[tokio::test]
async fn a_menu_has_the_names_that_the_configuration_gives() {
    let locales = "default = 'de'\nlocales = ['de', 'de-CH', 'fr']\n";
    let names = |more: &str| Config::parse(&format!("{locales}{more}"));
    let own = |config| async {
        let crow = CrowFly::new(config, Memory::default());
        let t = crow.translator_for("fr").await;
        t.menu().into_iter().map(|item| item.own_name).collect::<Vec<_>>()
    };
    let written = own(names("names = { 'de-CH' = 'Schweiz' }").unwrap()).await;
    assert_eq!(written, ["Deutsch", "Schweiz", "Français"]);
    let built = Config::builder(["de", "de-CH", "fr"]).names([("de-CH", "Schweiz")]).build().unwrap();
    assert_eq!(own(built).await, written);
    for (wrong, error) in [
        (
            "names = { 'de-AT' = 'x' }",
            "`de-AT` is not one of the locales; add it to `locales`, or correct it",
        ),
        ("names = { 'fr' = ' ' }", "` ` is no name for a menu; write words, in one line"),
        ("names = { 'fr' = \"a\\nb\" }", "`a\\nb` is no name for a menu; write words, in one line"),
    ] {
        let said = names(wrong).unwrap_err().to_string();
        assert!(said.contains(error), "{wrong}: {said}");
    }
}

#[tokio::test]
async fn a_menu_has_the_plain_addresses_beside_the_ones_that_remember() {
    let menu = |t: Translator| async move {
        t.menu().into_iter().map(|item| item.page).collect::<Vec<_>>().join(" ")
    };
    let app = crow(CONFIG).router(Router::new().route("/sailings/{id}", get(menu)));
    let answer = Visitor::of(&app).get("/cy/teithiau/7?a=b").await;
    assert_eq!(
        answer.body,
        "/sailings/7?a=b /en-GB/sailings/7?a=b /cy/teithiau/7?a=b /pl/sailings/7?a=b /ar/sailings/7?a=b"
    );
}
