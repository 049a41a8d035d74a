//! The library through its `actix-web` face: what holds for the layer holds for the middleware.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

use actix_session::storage::CookieSessionStore;
use actix_session::{SessionExt, SessionMiddleware};
use actix_web::body::MessageBody;
use actix_web::cookie::Key;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::http::Method;
use actix_web::http::header::{COOKIE, SET_COOKIE};
use actix_web::middleware::Next;
use actix_web::test::{TestRequest, call_service, init_service, read_body};
use actix_web::{App, Error, HttpMessage, HttpResponse, web};
use crow_fly::source::Memory;
use crow_fly::web::{RequestDecision, RequestLocale, Sections, TranslatorWith, VisitorSettings};
use crow_fly::{Config, CrowFly, Translator, current};

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['path', 'visitor', 'session', 'cookie', 'accept-language']
skip = ['/assets']
time-zone = 'visitor'
[paths]
'/sailings/{id}' = { cy = '/teithiau/{id}' }
[time-zone]
default = 'Europe/London'
";

fn crow() -> CrowFly {
    let catalogs = Memory::new([
        ("en", "home", "words = 'words'"),
        ("cy", "home", "words = 'geiriau'"),
        ("pl", "home", "words = 'słowa'"),
    ]);
    CrowFly::new(Config::parse(CONFIG).unwrap(), catalogs)
}

async fn home(t: Translator) -> String {
    format!("home {} {}", current().unwrap().locale(), t.text("home.words"))
}

async fn sailing(id: web::Path<u32>, t: Translator) -> String {
    format!("sailing {id} {} {} {}", t.path("/sailings/1"), t.original_path().unwrap(), t.time_zone())
}

async fn told(locale: Option<RequestLocale>, decision: Option<RequestDecision>) -> String {
    format!(
        "{:?} {:?}",
        locale.map(|locale| locale.0.to_string()),
        decision.map(|decision| decision.0.source)
    )
}

/// An answer that names its own language, as that of a page in Latin.
async fn latin(_: Translator) -> HttpResponse {
    HttpResponse::Ok().insert_header(("content-language", "la")).body("salvete")
}

/// The application, with sessions around it and a signed-in visitor where the request has a certain header.
async fn app()
-> impl Service<actix_http::Request, Response = ServiceResponse<impl MessageBody>, Error = Error> {
    let sign_in = |request: actix_web::dev::ServiceRequest, next: Next<_>| async move {
        if request.headers().contains_key("x-account") {
            request
                .extensions_mut()
                .insert(VisitorSettings::new().with_locale("pl-PL").with_time_zone("Europe/Warsaw"));
        }
        if request.headers().contains_key("x-basket") {
            request.get_session().insert("basket", 3).unwrap();
        }
        next.call(request).await
    };
    init_service(
        App::new()
            .route("/", web::get().to(home))
            .route("/sailings/{id}", web::get().to(sailing))
            .route("/told", web::get().to(told))
            .route("/latin", web::get().to(latin))
            .route("/book", web::post().to(|t: Translator| async move { t.redirect("/sailings/7?booked") }))
            .route("/assets/told", web::get().to(told))
            .default_service(web::to(|t: Translator| async move {
                HttpResponse::Ok().body(format!("missing {}", t.locale()))
            }))
            .wrap(crow().middleware())
            .wrap(actix_web::middleware::from_fn(sign_in))
            .wrap(
                SessionMiddleware::builder(CookieSessionStore::default(), Key::from(&[7; 64]))
                    .cookie_secure(false)
                    .build(),
            ),
    )
    .await
}

/// Asks; status, `Location` or body, `Content-Language`, `Vary`, cookies set.
async fn ask<S, B>(
    app: &S,
    method: Method,
    path: &str,
    headers: &[(&str, &str)],
    form: &str,
) -> (u16, String, String, String, Vec<String>)
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = Error>,
    B: MessageBody,
{
    let mut request = TestRequest::with_uri(path).method(method).set_payload(form.to_owned());
    for (name, value) in headers {
        request = request.append_header((*name, *value));
    }
    let response = call_service(app, request.to_request()).await;
    let header = |name: &str| {
        let lines = response.headers().get_all(name).map(|line| line.to_str().unwrap().to_owned());
        lines.collect::<Vec<_>>().join(", ")
    };
    let (status, location) = (response.status().as_u16(), header("location"));
    let (language, vary) = (header("content-language"), header("vary"));
    let set = response.headers().get_all(SET_COOKIE).map(|line| line.to_str().unwrap());
    let cookies = set.map(|line| line.split(';').next().unwrap().to_owned()).collect();
    let body = String::from_utf8(read_body(response).await.to_vec()).unwrap();
    (status, if location.is_empty() { body } else { location }, language, vary, cookies)
}

#[actix_web::test]
async fn requests_are_decided_as_the_layer_decides_them() {
    let app = app().await;
    for (path, headers, status, said, language) in [
        ("/", &[][..], 200, "home en words", "en"),
        ("/cy", &[], 200, "home cy geiriau", "cy"),
        ("/cy/teithiau/7?a=b", &[], 200, "sailing 7 /cy/teithiau/1 /cy/teithiau/7 Europe/London", "cy"),
        ("/cy/sailings/7?a=b", &[], 308, "/cy/teithiau/7?a=b", ""),
        ("/PL/sailings/7", &[], 308, "/pl/sailings/7", ""),
        ("/sailings/7", &[("x-account", "1")], 200, "sailing 7 /sailings/1 /sailings/7 Europe/Warsaw", "en"),
        ("/", &[("x-account", "1")], 302, "/pl", ""),
        ("/", &[("accept-language", "cy;q=0.8, ja")], 302, "/cy", ""),
        ("/", &[("cookie", "locale=cy"), ("accept-language", "pl")], 302, "/cy", ""),
        ("/cy/told", &[], 200, "Some(\"cy\") Some(Path)", "cy"),
        ("/cy/latin", &[], 200, "salvete", "la"),
        ("/assets/told", &[("accept-language", "cy")], 200, "Some(\"en\") None", ""),
        ("/de", &[], 200, "missing en", "en"),
        ("/cyx", &[], 200, "missing en", "en"),
    ] {
        let answer = ask(&app, Method::GET, path, headers, "").await;
        assert_eq!(
            (answer.0, answer.1.as_str(), answer.2.as_str()),
            (status, said, language),
            "{path} {headers:?}"
        );
    }
    let negotiated = ask(&app, Method::GET, "/", &[("accept-language", "pl")], "").await;
    assert_eq!(negotiated.3, "Cookie, Accept-Language");
}

#[actix_web::test]
async fn a_choice_is_remembered_in_cookie_and_session() {
    let app = app().await;
    let unknown = ask(&app, Method::GET, "/locale?to=cy", &[], "").await;
    assert_eq!(unknown.4, ["locale=cy"], "a choice opens no session");
    let chosen = ask(
        &app,
        Method::POST,
        "/locale",
        &[("x-basket", "1")],
        "to=cy&time-zone=asia/tokyo&return=/sailings/3?a=b",
    )
    .await;
    assert_eq!((chosen.0, chosen.1.as_str()), (303, "/cy/teithiau/3?a=b"));
    assert_eq!(chosen.4.get(..2).unwrap(), ["locale=cy", "time-zone=Asia/Tokyo"]);
    let session = chosen.4.iter().find(|cookie| cookie.starts_with("id=")).unwrap();
    // The session alone remembers as well.
    let answer = ask(&app, Method::GET, "/", &[(COOKIE.as_str(), session.as_str())], "").await;
    assert_eq!((answer.0, answer.1.as_str()), (302, "/cy"));
    let answer = ask(&app, Method::GET, "/pl/sailings/1", &[(COOKIE.as_str(), session.as_str())], "").await;
    assert!(answer.1.ends_with("Asia/Tokyo"), "{}", answer.1);

    let booked = ask(&app, Method::POST, "/cy/book", &[], "").await;
    assert_eq!((booked.0, booked.1.as_str()), (303, "/cy/teithiau/7?booked"));

    let huge = format!("to=cy&return=/{}", "a".repeat(100_000));
    for (method, path, form, status) in [
        (Method::GET, "/locale?to=de", "", 400),
        (Method::POST, "/locale", huge.as_str(), 413),
        (Method::DELETE, "/locale?to=cy", "", 405),
    ] {
        let refused = ask(&app, method, path, &[], form).await;
        assert_eq!((refused.0, refused.4.len()), (status, 0), "{path}");
    }
}

#[actix_web::test]
async fn a_visitors_settings_are_found_and_a_choice_is_stored() {
    let accounts = Rc::new(RefCell::new(HashMap::from([("7".to_owned(), "pl".to_owned())])));
    let (known, stored) = (Rc::clone(&accounts), Rc::clone(&accounts));
    let account = |request: &actix_web::HttpRequest| {
        request.headers().get("x-number").map(|number| number.to_str().unwrap().to_owned())
    };
    let middleware = crow()
        .middleware()
        .visitor_settings(move |request| {
            let locale = account(request).and_then(|number| known.borrow().get(&number).cloned());
            Box::pin(async move {
                tokio::task::yield_now().await;
                Some(VisitorSettings::new().with_locale(locale?))
            })
        })
        .store_choice(move |request, choice| {
            let number = account(request);
            let stored = Rc::clone(&stored);
            Box::pin(async move {
                let number = number.ok_or("nobody is signed in")?;
                let locale = choice.locale().ok_or("no locale was chosen")?;
                stored.borrow_mut().insert(number, locale.to_string());
                Ok(())
            })
        });
    let app = init_service(App::new().route("/", web::get().to(home)).wrap(middleware)).await;
    let signed_in = [("x-number", "7")];
    assert_eq!(ask(&app, Method::GET, "/", &signed_in, "").await.1, "/pl");
    assert_eq!(ask(&app, Method::GET, "/locale?to=cy", &signed_in, "").await.4, ["locale=cy"]);
    assert_eq!(ask(&app, Method::GET, "/", &signed_in, "").await.1, "/cy", "the choice wins from now on");
    // What cannot be stored is in the cookie all the same.
    assert_eq!(ask(&app, Method::GET, "/locale?to=pl", &[], "").await.4, ["locale=pl"]);
    assert_eq!(accounts.borrow().get("7").map(String::as_str), Some("cy"));
}

#[actix_web::test]
async fn without_the_middleware_a_visitor_sees_nothing_of_our_internals() {
    let app = init_service(App::new().route("/", web::get().to(home))).await;
    let answer = ask(&app, Method::GET, "/", &[], "").await;
    assert_eq!(answer.0, 500);
    assert_eq!(answer.1, "Internal Server Error");
}

struct Booking;

impl Sections for Booking {
    const NAMES: &'static [&'static str] = &["booking"];
}

async fn booking(t: TranslatorWith<Booking>) -> String {
    t.text("booking.title")
}

async fn broken(t: Translator) -> String {
    t.text("home.nothing")
}

#[actix_web::test]
async fn handlers_name_their_sections_and_operators_ask_for_health() {
    let catalogs = Memory::new([("en", "home", "words = 'words'"), ("cy", "booking", "title = 'Archebu'")]);
    let config = "strict = true\ndefault = 'en'\nlocales = ['en', 'cy']\n[catalogs]\neager = ['home']\n";
    let crow = CrowFly::new(Config::parse(config).unwrap(), catalogs);
    let pages = web::scope("")
        .route("/booking", web::get().to(booking))
        .route("/broken", web::get().to(broken))
        .wrap(crow.middleware());
    let (health, misses) = (crow.clone(), crow.clone());
    let app = App::new()
        .route("/health", web::get().to(move || std::future::ready(health.health())))
        .route("/misses", web::get().to(move || std::future::ready(misses.misses())))
        .service(pages);
    let app = init_service(app).await;
    let ask = async |path: &str| {
        let response = call_service(&app, TestRequest::with_uri(path).to_request()).await;
        let status = response.status().as_u16();
        let errors = response.headers().get("text-errors").map(|value| value.to_str().unwrap().to_owned());
        (status, String::from_utf8(read_body(response).await.to_vec()).unwrap(), errors)
    };
    assert_eq!(ask("/cy/booking").await, (200, "Archebu".to_owned(), None));
    let failed = Some("no text for `home.nothing` in `cy` or `en`".to_owned());
    let (status, page, errors) = ask("/cy/broken").await;
    assert_eq!((status, errors), (500, failed));
    assert!(page.contains("<h1>This page has an error</h1>"), "{page}");
    let (status, body, _) = ask("/health").await;
    assert_eq!(status, 200);
    assert!(body.contains("\"status\": \"ready\""), "{body}");
    assert!(ask("/misses").await.1.contains("\"key\": \"home.nothing\""));
}

#[actix_web::test]
async fn a_section_that_cannot_be_loaded_is_503() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir_all(folder.path().join("en/booking.toml")).unwrap();
    std::fs::write(folder.path().join("en/home.toml"), "words = 'words'").unwrap();
    let config = "default = 'en'\nlocales = ['en']\ndevelopment = false\n[catalogs]\neager = ['home']\n";
    let crow = CrowFly::new(Config::parse(config).unwrap(), crow_fly::source::Directory::new(folder.path()));
    let app = App::new().route("/booking", web::get().to(booking)).route("/", web::get().to(home));
    let app = init_service(app.wrap(crow.middleware())).await;
    let response = call_service(&app, TestRequest::with_uri("/booking").to_request()).await;
    assert_eq!(response.status().as_u16(), 503);
    assert_eq!(response.headers().get("retry-after").unwrap(), "2");
    let response = call_service(&app, TestRequest::with_uri("/").to_request()).await;
    assert_eq!(response.status().as_u16(), 200);
}

struct Home;

impl crow_fly::typed::Section for Home {
    const NAME: &'static str = "home";
}

struct Words;

impl<'a> crow_fly::typed::Message<'a> for Words {
    type Section = Home;
    const KEY: &'static str = "home.words";

    fn arguments(self) -> crow_fly::Args<'a> {
        crow_fly::Args::new()
    }
}

#[actix_web::test]
async fn texts_by_address_the_inspector_and_typed_messages() {
    let crow = CrowFly::new(
        Config::parse(&format!("development = true\n{CONFIG}[browser]\nsections = ['home']")).unwrap(),
        Memory::new([("en", "home", "words = 'words'"), ("cy", "home", "words = 'geiriau'")]),
    );
    let (texts, inspector) = (crow.clone(), crow.clone());
    let page = |t: crow_fly::typed::TypedTranslator<Home>| async move { t.text(Words) };
    let outside = App::new()
        .route(
            "/texts/{rest:.*}",
            web::to(move |request: actix_web::HttpRequest| {
                let crow = texts.clone();
                async move { crow.answer_texts(&request).await }
            }),
        )
        .route(
            "/inspector{rest:.*}",
            web::to(move |request: actix_web::HttpRequest| {
                let crow = inspector.clone();
                async move { crow.answer_inspector(&request).await }
            }),
        )
        .service(web::scope("").wrap(crow.middleware()).route("/", web::get().to(page)));
    let app = init_service(outside).await;
    // Inside of the middleware, where addresses without a prefix are English, the answer's language is its own.
    let texts = crow.clone();
    let inside = App::new().wrap(crow.middleware()).route(
        "/texts/{rest:.*}",
        web::to(move |request: actix_web::HttpRequest| {
            let crow = texts.clone();
            async move { crow.answer_texts(&request).await }
        }),
    );
    let inside = init_service(inside).await;
    for address in ["/texts/cy?key=home.words", "/texts/cy/home.json"] {
        let response = call_service(&inside, TestRequest::get().uri(address).to_request()).await;
        assert_eq!(response.headers().get("content-language").unwrap(), "cy", "{address}");
    }
    let body = async |address: &str| {
        let response = call_service(&app, TestRequest::get().uri(address).to_request()).await;
        let status = response.status().as_u16();
        (status, String::from_utf8(read_body(response).await.to_vec()).unwrap())
    };
    assert_eq!(body("/").await, (200, "words".to_owned()));
    let (status, text) = body("/texts/cy?key=home.words").await;
    assert!(status == 200 && text.contains("\"text\":\"geiriau\""), "{text}");
    assert_eq!(body("/texts/cy/home.0123456789abcdef.json").await.0, 404);
    let (status, page) = body("/inspector/1").await;
    assert!(status == 200 && page.contains("home.words"), "{page}");
}

/// Texts for scripts and the inspector, by one call; the middleware around their routes leaves them alone.
#[actix_web::test]
async fn texts_and_the_inspector_have_their_routes() {
    let config = "development = true\ndefault = 'en'\nlocales = ['en', 'cy']\n[policy]\nsources = ['path', 'cookie']\nredirect = 'everywhere'\n[browser]\nsections = ['home']\n[areas.'/api']\nsources = ['accept-language']\n";
    let catalogs = Memory::new([("en", "home", "title = 'Ferries'"), ("cy", "home", "title = 'Fferïau'")]);
    let crow = CrowFly::new(Config::parse(config).unwrap(), catalogs);
    let page = |t: Translator| async move { t.text("home.title") };
    let app = App::new()
        .configure(crow.direct_routes())
        .route("/", web::get().to(page))
        .route("/api/title", web::get().to(page))
        .wrap(crow.middleware());
    let app = init_service(app).await;
    let ask = async |path: &str| {
        let request = TestRequest::with_uri(path).insert_header((COOKIE, "locale=cy"));
        let request = request.insert_header(("accept-language", "cy")).to_request();
        let response = call_service(&app, request).await;
        let (status, varies) = (response.status().as_u16(), response.headers().contains_key("vary"));
        (status, varies, String::from_utf8(read_body(response).await.to_vec()).unwrap())
    };
    let (status, varies, body) = ask("/texts/cy?key=home.title").await;
    assert_eq!((status, varies), (200, false), "{body}");
    assert!(body.contains("Fferïau"), "{body}");
    assert_eq!(ask("/texts/cy/home.json").await.0, 200);
    assert_eq!(ask("/cy").await, (200, false, "Fferïau".to_owned()));
    // An area decides by its own sources.
    assert_eq!(ask("/api/title").await, (200, true, "Fferïau".to_owned()));
    let (status, varies, body) = ask("/inspector").await;
    assert_eq!((status, varies), (200, false));
    assert!(body.contains("/api/title"), "{body}");
    assert_eq!(ask("/inspector/1").await.0, 200);
    assert_eq!(ask("/inspector/style.css").await.0, 200);
    // Every other page is redirected.
    assert_eq!(ask("/inspectors").await.0, 302);
}
