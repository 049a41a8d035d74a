//! The switch address and what is remembered.

use axum::http::{Method, StatusCode};
use tower_sessions::{MemoryStore, Session, SessionManagerLayer};

use crate::visitor::Visitor;
use crate::{CONFIG, app, crow, pages};

#[tokio::test]
async fn a_choice_is_remembered_and_leads_back_to_the_page() {
    let app = app(CONFIG);
    let mut visitor = Visitor::of(&app).prefers("pl");
    let answer = visitor.get("/locale?to=cy&return=/sailings/7?a%3Db%26c").await;
    assert_eq!(
        (answer.status, answer.header("location")),
        (StatusCode::FOUND, "/cy/teithiau/7?a=b&c".to_owned())
    );
    insta::assert_snapshot!(answer.header("set-cookie").split(", id=").next().unwrap(), @"locale=cy; HttpOnly; SameSite=Lax; Path=/; Max-Age=31536000");
    assert!(answer.header("cache-control").contains("no-store"));

    // The session knows it, and so does the cookie alone, from which a new session learns it.
    assert_eq!(visitor.get("/").await.header("location"), "/cy");
    visitor.cookies.remove("id");
    assert_eq!(visitor.get("/").await.header("location"), "/cy");
    assert!(visitor.cookies.contains_key("id"), "the session was restored");
    visitor.cookies.remove("locale");
    assert_eq!(visitor.get("/").await.header("location"), "/cy");

    // Who chooses the default stays at the root; a cookie that is right is not set again.
    assert_eq!(visitor.get("/locale?to=en&return=/").await.header("location"), "/");
    assert_eq!(visitor.get("/").await.body, "home en words");
    assert!(!visitor.get("/locale?to=en&return=/").await.header("set-cookie").contains("locale="));
}

#[tokio::test]
async fn a_form_may_be_posted_and_return_to_the_address_in_the_bar() {
    let mut visitor = Visitor::of(&app(CONFIG));
    let answer = visitor.ask(Method::POST, "/locale", "to=pl&return=%2Fcy%2Fteithiau%2F7%3Fa").await;
    assert_eq!(
        (answer.status, answer.header("location")),
        (StatusCode::SEE_OTHER, "/pl/sailings/7?a".to_owned())
    );
    let answer = visitor.ask(Method::POST, "/locale?return=/EN-gb/x", "to=cy").await;
    assert_eq!(answer.header("location"), "/cy/x");
    assert_eq!(visitor.ask(Method::DELETE, "/locale?to=cy", "").await.status, StatusCode::METHOD_NOT_ALLOWED);
}

#[tokio::test]
async fn forged_choices_are_refused_and_nothing_is_remembered() {
    let app = app(CONFIG);
    for query in [
        "",
        "to=",
        "to=de&return=/",
        "to=../../etc&return=/",
        "to=cy%0d%0aX:y&return=/",
        "to=cy&return=//evil.example",
        "to=cy&return=/%5Cevil.example",
        "to=cy&return=https://evil.example/",
        "to=cy&return=/%09/evil.example",
        "to=cy&return=/a%0d%0aSet-Cookie:%20x=y",
        "to=cy&return=javascript:alert(1)",
        "to=cy&return=%00",
        "to=cy&return=",
        "to=cy&return=/%ff",
    ] {
        let mut visitor = Visitor::of(&app);
        let answer = visitor.get(&format!("/locale?{query}")).await;
        assert_eq!(answer.status, StatusCode::BAD_REQUEST, "{query}");
        assert!(visitor.cookies.is_empty() && answer.header("location").is_empty(), "{query}");
    }
    let huge = format!("to=cy&return=/{}", "a".repeat(100_000));
    assert_eq!(Visitor::of(&app).ask(Method::POST, "/locale", &huge).await.status, StatusCode::BAD_REQUEST);
    // A page whose own path begins with two slashes leads nowhere else.
    let answer = Visitor::of(&app).get("/locale?to=en&return=/cy//evil.example").await;
    assert_eq!(answer.header("location"), "/.//evil.example");
}

#[tokio::test]
async fn sessions_of_another_shape_are_passed_over() {
    let sessions = SessionManagerLayer::new(MemoryStore::default()).with_secure(false);
    let spoil = axum::middleware::from_fn(
        |session: Session, request: axum::extract::Request, next: axum::middleware::Next| async move {
            session.insert("locale", ["cy"]).await.unwrap();
            next.run(request).await
        },
    );
    let app = crow(CONFIG).router(pages()).layer(spoil).layer(sessions);
    assert_eq!(Visitor::of(&app).get("/").await.body, "home en words");
    assert_eq!(Visitor::of(&app).prefers("pl").get("/").await.header("location"), "/pl");
}

#[tokio::test]
async fn the_menu_is_the_configuration() {
    let menu = axum::Router::new().route(
        "/page",
        axum::routing::get(|t: crow_fly::Translator| async move {
            let line = |item: &crow_fly::MenuItem| {
                format!("{} {} {} {}", item.locale, item.own_name, item.address, item.current)
            };
            t.menu().iter().map(line).collect::<Vec<_>>().join("\n")
        }),
    );
    let answer = Visitor::of(&crow(CONFIG).router(menu)).get("/cy/page?a=b").await;
    insta::assert_snapshot!(answer.body, @r"
    en English /locale?to=en&return=%2Fpage%3Fa%3Db false
    en-GB British English /locale?to=en-GB&return=%2Fpage%3Fa%3Db false
    cy Cymraeg /locale?to=cy&return=%2Fpage%3Fa%3Db true
    pl polski /locale?to=pl&return=%2Fpage%3Fa%3Db false
    ar العربية /locale?to=ar&return=%2Fpage%3Fa%3Db false
    ");
}
