//! The kit for the tests of an application, used as such tests use it.

use std::panic::{AssertUnwindSafe, catch_unwind};

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::testing::{self, Request, Strict};
use crow_fly::web::VisitorSettings;
use crow_fly::{Config, CrowFly, Money, Translator, Value, args, say};
use crow_fly_core::datetime::DateValue;
use tower::ServiceExt as _;

fn config() -> Config {
    Config::parse(
        "default = 'en'\nlocales = ['en', 'pl', 'cy']\n[policy]\nsources = ['path', 'visitor', 'cookie', 'accept-language']",
    )
    .unwrap()
}

#[tokio::test]
async fn texts_are_keys_and_arguments() {
    let t = testing::keys("pl").await;
    assert_eq!(t.locale().to_string(), "pl");
    assert_eq!(t.text("home.title"), "home.title");
    assert_eq!(t.html(("home.hello", args! { name: "<Mair>" })).as_str(), "home.hello(name: &lt;Mair&gt;)");
    // What a default says is not what is tested.
    assert_eq!(t.text(say("home.new").or("New")), "home.new");
    let fare = Money::new(crow_fly_core::number::Decimal::parse("12.50").unwrap(), "EUR".parse().unwrap());
    let day = DateValue::parse("2026-05-01").unwrap();
    let stops = vec![Value::from("Holm"), Value::from(2)];
    assert_eq!(
        t.text(("booking.done", args! { fare, day, stops, paid: true })),
        "booking.done(fare: 12.50 EUR, day: 2026-05-01, stops: [Holm, 2], paid: true)"
    );
}

#[tokio::test]
async fn an_application_is_tested_by_its_keys() {
    let page = async |t: Translator| t.text(("home.seats", args! { seats: 3 }));
    let app = testing::app_of_keys(config()).router(Router::new().route("/", get(page)));
    let request = http::Request::get("/cy").body(Body::empty()).unwrap();
    let response = app.oneshot(request).await.unwrap();
    assert_eq!(response.headers()["content-language"], "cy");
    assert_eq!(to_bytes(response.into_body(), 1000).await.unwrap(), "home.seats(seats: 3)");
}

/// What a test says that fails.
fn failure(test: impl FnOnce()) -> Option<String> {
    let error = catch_unwind(AssertUnwindSafe(test)).err()?;
    error
        .downcast_ref::<String>()
        .cloned()
        .or_else(|| error.downcast_ref::<&str>().map(|text| (*text).to_owned()))
}

#[tokio::test]
async fn a_strict_translator_fails_its_test() {
    let catalog = "seats = 'Seats: {$n :integer}'\nhello = 'Hello'";
    let strict = testing::translator("en", [("home", catalog)]).await;
    assert_eq!(strict.text("home.hello"), "Hello");
    assert_eq!(failure(|| drop(strict)), None);

    let strict = testing::translator("en", [("home", catalog)]).await;
    strict.text("home.helo");
    strict.text(("home.seats", args! { n: "many" }));
    insta::assert_snapshot!(failure(|| drop(strict)).unwrap());

    // A failure that was expected is taken.
    let strict = testing::translator("en", [("home", catalog)]).await;
    strict.text("home.helo");
    assert_eq!(strict.take_failures(), ["no text for `home.helo` in `en`; did you mean `home.hello`?"]);
    assert_eq!(failure(|| drop(strict)), None);

    // Of the application's own catalogs, whatever its configuration says.
    let crow = CrowFly::new(config(), Memory::new([("cy", "home", "title = 'Croeso'")]));
    let strict = Strict::new(crow.translator_for("cy").await);
    assert_eq!(strict.text(say("home.new").or("New")), "New");
    strict.text("home.gone");
    // The default in code is in the language of the default locale: it is no Welsh text.
    let failures = ["no text for `home.new` in `cy` or `en`", "no text for `home.gone` in `cy` or `en`"];
    assert_eq!(strict.take_failures(), failures);
    let strict = Strict::new(crow.translator_for("en").await);
    assert_eq!(strict.text(say("home.new").or("New")), "New");
    assert_eq!(failure(|| drop(strict)), None);
}

#[tokio::test]
async fn a_request_says_its_locale_and_why() {
    let crow = testing::app_of_keys(config());
    let decided = Request::get("/").cookie("locale", "xx").browser_languages("pl, en;q=0.5").decide(&crow);
    decided.assert_locale("pl").assert_redirect("/pl");
    insta::assert_snapshot!(decided);
    let member = Request::get("/?day=1").visitor(VisitorSettings::new().with_locale("cy")).decide(&crow);
    member.assert_locale("cy").assert_redirect("/cy?day=1");
    let page = Request::get("/cy/trip").browser_languages("pl").decide(&crow);
    page.assert_locale("cy").assert_served();
    let told = failure(|| _ = page.assert_locale("pl")).unwrap();
    insta::assert_snapshot!(told);
    assert!(
        failure(|| _ = page.assert_redirect("/pl")).unwrap().starts_with("a redirect to `/pl` was expected")
    );
    let switch = Request::get("/locale?to=de").decide(&crow);
    insta::assert_snapshot!(switch);
    assert_eq!(switch.locale(), None);
}
