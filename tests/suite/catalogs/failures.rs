//! Failures are said as they are: 503 where there is no text, 200 that nobody keeps where a part is missing.

use std::time::Duration;

use tokio::time::sleep;

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{answer, ask, crow, pages, said};

#[tokio::test(start_paused = true)]
async fn a_locale_without_a_folder_is_an_error_until_it_has_one() {
    let source = Controlled::titles();
    for locale in ["en", "cy"] {
        source.remove(locale);
    }
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(ask(&app, "/").await.status, 503);
    assert_eq!(ask(&app, "/cy").await.status, 503);
    assert_eq!(said(&app, "/pl").await, answer(200, "Promy", "no-store"), "its chain ends in English");
    let health = crow.health();
    let locales: Vec<_> =
        health.locales.iter().map(|locale| (locale.locale.as_str(), locale.status.as_str())).collect();
    assert_eq!(locales, [("en", "failed"), ("cy", "failed"), ("pl", "ready")]);
    assert_eq!(health.status.as_str(), "degraded");
    assert_eq!(health.findings, ["there are no catalogs of `cy`", "there are no catalogs of `en`"]);
    source.write("en", "home", "title = 'Ferries'");
    sleep(Duration::from_secs(2)).await;
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""));
    assert_eq!(said(&app, "/cy").await, answer(200, "Ferries", "no-store"));
    source.write("cy", "home", "title = 'Fferïau'");
    sleep(Duration::from_secs(10)).await;
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    assert_eq!(crow.health().status.as_str(), "ready");
}

#[tokio::test]
async fn a_locale_may_inherit_everything() {
    let source = Controlled::titles();
    source.remove("cy");
    let crow = crow(source, "inherits = ['cy']");
    assert_eq!(said(&crow.router(pages()), "/cy").await, answer(200, "Ferries", ""));
    crow.load_all().await.unwrap();
}

#[tokio::test(start_paused = true)]
async fn a_locale_all_of_whose_files_are_broken_has_none() {
    let source = Controlled::titles();
    source.write("en", "home", "title = ");
    let crow = crow(source.clone(), "");
    let app = crow.router(pages());
    assert_eq!(ask(&app, "/").await.status, 503);
    // Half a file has some of its messages.
    source.write("en", "home", "title = 'Ferries'\nbye =");
    crow.reload().await.unwrap();
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", "no-store"));
    let health = crow.health();
    let section = &health.locales[0].sections[0];
    assert_eq!((section.status.as_str(), section.messages), ("degraded", Some(1)));
    assert!(section.error.as_deref().unwrap().starts_with("en/home.toml:2:"), "{section:?}");
    // It was half written: nobody has to say that it is whole now.
    source.write("en", "home", "title = 'Ferries'\nbye = 'Goodbye'");
    sleep(Duration::from_secs(3)).await;
    assert_eq!(said(&app, "/say/home.bye").await, answer(200, "Goodbye", ""));
}

#[tokio::test]
async fn an_empty_file_and_a_message_with_errors_are_not_failures() {
    let source = Controlled::new(&[("en", "home", ""), ("cy", "home", "title = 'a {$'"), ("pl", "home", "")]);
    let app = crow(source, "").router(pages());
    assert_eq!(said(&app, "/").await, answer(200, "home.title", ""));
    assert_eq!(said(&app, "/cy").await, answer(200, "home.title", ""));
}
