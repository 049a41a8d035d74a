//! A walk over a site finds what is not right on its pages, and nothing on pages that are.

use axum::Router;
use axum::response::Html;
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator, args, testing};

const CATALOGS: [(&str, &str, &str); 3] = [
    ("en", "home", "title = 'Ferries'\nhelp = 'Help'\nhello = 'Hello, {$name}'"),
    ("cy", "home", "title = 'Llongau'\nhello = 'Helo, {$name}'"),
    ("ar", "home", "title = 'العبّارات'\nhelp = 'مساعدة'\nhello = 'أهلًا {$name}'"),
];

fn crow(more: &str) -> CrowFly {
    let config = format!("default = 'en'\nlocales = ['en', 'cy', 'ar']\n{more}");
    CrowFly::new(Config::parse(&config).unwrap(), Memory::new(CATALOGS))
}

/// A page with a head that is right, and a menu.
fn page(t: &Translator, content: &str) -> Html<String> {
    let (locale, direction) = (t.locale(), t.direction());
    let menu: Vec<String> = t
        .menu()
        .iter()
        .map(|item| format!("<a href=\"{}\" lang=\"{}\">{}</a>", item.address, item.locale, item.own_name))
        .collect();
    let menu = menu.concat();
    Html(format!("<!doctype html><html lang=\"{locale}\" dir=\"{direction}\">{menu}{content}</html>"))
}

async fn walked(crow: &CrowFly, pages: Router) -> Vec<String> {
    let walk = testing::Site::new(crow, testing::router(crow.router(pages))).walk(["/", "/trip"]).await;
    assert_eq!(walk.asked(), 6);
    walk.problems().map(str::to_owned).collect()
}

async fn right(t: Translator) -> Html<String> {
    page(&t, &format!("<p>{} <a href=\"{}\">x</a></p>", t.html("home.title"), t.path("/trip")))
}

#[tokio::test]
async fn pages_that_are_right_have_no_problems() {
    for more in [
        "",
        "[policy]\nbare-default = true",
        "[policy]\nsources = ['cookie', 'accept-language']",
        "drafts = ['ar']",
        "origin = 'https://ferries.example'",
        "strict = true",
        "names = { 'ar' = 'Masr' }",
    ] {
        let pages = Router::new().route("/", get(right)).route("/trip", get(right));
        assert_eq!(walked(&crow(more), pages).await, Vec::<String>::new(), "{more}");
    }
}

#[tokio::test]
async fn each_problem_is_reported_with_its_page_and_language() {
    async fn home(t: Translator) -> Html<String> {
        page(&t, &format!("{} {} {}", t.html("home.help"), t.text("home.nothing"), t.text("home.hello")))
    }
    async fn trip(t: Translator) -> Html<String> {
        let hello = t.text(("home.hello", args! { name: "Mair" }));
        Html(format!("<html lang=en>{hello} <a href='/trip'>x</a> <form action='/cy/trip'></form></html>"))
    }
    let crow = crow("[policy]\nbare-default = true");
    let found = walked(&crow, Router::new().route("/", get(home)).route("/trip", get(trip))).await;
    insta::assert_snapshot!(found.join("\n"), @"
    ar /: `home.nothing` is missing
    ar /: a placeholder is shown: `{$name}`
    ar /trip: `/cy/trip` leaves the language
    ar /trip: `/trip` leaves the language
    ar /trip: `dir` of the page is `ltr`
    ar /trip: `lang` of the page is `en`
    cy /: `home.help` is in another language
    cy /: `home.nothing` is missing
    cy /: a placeholder is shown: `{$name}`
    cy /: a text is in `en`
    cy /trip: `/trip` leaves the language
    cy /trip: `lang` of the page is `en`
    en /: `home.nothing` is missing
    en /: a placeholder is shown: `{$name}`
    en /trip: `/cy/trip` leaves the language
    ");
}

/// In strict mode a page fails before its text can be missing.
#[tokio::test]
async fn a_strict_site_fails_and_says_which_page() {
    async fn home(t: Translator) -> Html<String> {
        page(&t, &t.html("home.help").to_string())
    }
    let found =
        walked(&crow("strict = true"), Router::new().route("/", get(home)).route("/trip", get(right))).await;
    assert_eq!(found, ["cy /: /cy answers 500 Internal Server Error"]);
}

#[tokio::test]
async fn a_page_that_fails_is_reported_and_the_walk_goes_on() {
    let found = walked(&crow(""), Router::new().route("/", get(right))).await;
    assert_eq!(found.len(), 3, "{found:?}");
    assert!(found.iter().all(|problem| problem.ends_with("/trip answers 404 Not Found")), "{found:?}");
}
