//! Hooks of the application that hang, fail, or answer late: no answer later than the limits allow, none that a cache may keep.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

use axum::Router;
use axum::body::Body;
use axum::routing::get;
use crow_fly::sessions::{SessionEntry, Sessions};
use crow_fly::source::Memory;
use crow_fly::web::{HookFuture, LocaleLayer, Stored, VisitorSettings};
use crow_fly::{Config, CrowFly, Translator};
use http::{Extensions, Request};
use tokio::time::{Instant, sleep};
use tower::ServiceExt;

use crate::mistakes::Log;

/// When a hook answers, and what.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Behaviour {
    InTime,
    Late,
    Hangs,
    Fails,
}

use Behaviour::{Fails, Hangs, InTime, Late};

impl Behaviour {
    async fn wait(self) {
        match self {
            InTime | Fails => sleep(Duration::from_millis(100)).await,
            Late => sleep(Duration::from_secs(3)).await,
            Hangs => std::future::pending().await,
        }
    }
}

/// Sessions that hold Welsh.
#[derive(Debug)]
struct Slow(Behaviour, Arc<AtomicUsize>);

impl Sessions for Slow {
    fn read<'a>(&'a self, _: &'a Extensions, _: &'a str) -> HookFuture<'a, SessionEntry> {
        Box::pin(async move {
            self.0.wait().await;
            if self.0 == Fails { SessionEntry::NoSession } else { SessionEntry::Text("cy".to_owned()) }
        })
    }

    fn write<'a>(&'a self, _: &'a Extensions, _: &'a str, _: &'a str) -> HookFuture<'a, Stored> {
        Box::pin(async move {
            self.0.wait().await;
            self.1.fetch_add(1, Ordering::Relaxed);
            if self.0 == Fails { Err("it is full".into()) } else { Ok(()) }
        })
    }
}

fn crow(policy: &str) -> CrowFly {
    let config =
        format!("default = 'en'\nlocales = ['en', 'cy', 'pl']\ndevelopment = false\n[policy]\n{policy}\n");
    CrowFly::new(Config::parse(&config).unwrap(), Memory::new([("cy", "home", "title = 'Croeso'")]))
}

fn app(layer: LocaleLayer) -> Router {
    layer.router(Router::new().fallback(get(|t: Translator| async move {
        ([("cache-control", "max-age=600")], t.locale().to_string())
    })))
}

/// Status, where it leads to or the locale, `Cache-Control`, and how long it took.
async fn ask(app: &Router, path: &str, cookie: &str) -> (u16, String, String, Duration) {
    let begun = Instant::now();
    let request = Request::get(path).header("cookie", cookie).body(Body::empty()).unwrap();
    let answer = app.clone().oneshot(request).await.unwrap();
    let took = begun.elapsed();
    let header = |name: &str| {
        answer.headers().get(name).map(|value| value.to_str().unwrap().to_owned()).unwrap_or_default()
    };
    let (status, location, cache) = (answer.status().as_u16(), header("location"), header("cache-control"));
    let body = axum::body::to_bytes(answer.into_body(), 1000).await.unwrap();
    let body = String::from_utf8(body.to_vec()).unwrap();
    (status, if location.is_empty() { body } else { location }, cache, took)
}

const LIMIT: Duration = Duration::from_secs(2);
const SOON: Duration = Duration::from_millis(100);

#[tokio::test(start_paused = true)]
async fn a_hook_that_is_late_holds_no_request_longer_than_its_limit() {
    let prefixes = "sources = ['path', 'session', 'visitor', 'cookie']";
    let negotiated = "sources = ['session', 'visitor', 'cookie']";
    // The policy, the address, how the sessions are and how the settings, what is answered, and after what time.
    for (policy, path, sessions, settings, said, cache, took) in [
        (prefixes, "/", InTime, InTime, "/cy", "private, no-store", SOON),
        (prefixes, "/", Fails, InTime, "/pl", "private, no-store", SOON * 2),
        (prefixes, "/", Late, InTime, "/pl", "private, no-store", LIMIT + SOON),
        (prefixes, "/", Hangs, Hangs, "en", "no-store", LIMIT * 2),
        (prefixes, "/", Hangs, Fails, "en", "no-store", LIMIT + SOON),
        (prefixes, "/en", Hangs, Hangs, "/", "no-store", LIMIT * 2),
        // What the address decides asks nobody.
        (prefixes, "/cy/x", Hangs, Hangs, "cy", "max-age=600", Duration::ZERO),
        (negotiated, "/x", InTime, InTime, "cy", "max-age=600", SOON),
        (negotiated, "/x", Late, InTime, "pl", "no-store", LIMIT + SOON),
        (negotiated, "/x", Hangs, Late, "en", "no-store", LIMIT * 2),
        (negotiated, "/x", Fails, Fails, "en", "max-age=600", SOON * 2),
    ] {
        let layer =
            crow(policy).layer().sessions(Slow(sessions, Arc::default())).visitor_settings(move |_| {
                Box::pin(async move {
                    settings.wait().await;
                    (settings != Fails).then(|| VisitorSettings::new().with_locale("pl"))
                })
            });
        let app = app(layer);
        let row = format!("{policy} {path} {sessions:?} {settings:?}");
        // Under load: all of them at once.
        let asked: Vec<_> = (0..100).map(|_| ask(&app, path, "locale=en")).collect();
        for (_, got, got_cache, got_took) in futures_util::future::join_all(asked).await {
            assert_eq!((got.as_str(), got_cache.as_str()), (said, cache), "{row}");
            assert!(got_took >= took && got_took < took + SOON / 2, "{row}: {got_took:?}");
        }
    }
}

#[tokio::test(start_paused = true)]
async fn a_write_that_is_late_goes_on_in_a_task_of_its_own() {
    // A session that does not answer when it is read counts as none, and is not written.
    for (behaviour, took, written) in
        [(InTime, SOON * 3, 2), (Late, LIMIT * 2, 1), (Hangs, LIMIT * 2, 0), (Fails, SOON * 3, 1)]
    {
        let written_now = Arc::new(AtomicUsize::new(0));
        let by_hook = Arc::clone(&written_now);
        let layer = crow("sources = ['path', 'session', 'cookie']")
            .layer()
            .sessions(Slow(behaviour, Arc::clone(&written_now)))
            .store_choice(move |_, _| {
                let written = Arc::clone(&by_hook);
                Box::pin(async move {
                    behaviour.wait().await;
                    written.fetch_add(1, Ordering::Relaxed);
                    Ok(())
                })
            });
        let app = app(layer);
        let begun = Instant::now();
        let request = Request::get("/locale?to=cy").body(Body::empty()).unwrap();
        let answer = app.oneshot(request).await.unwrap();
        assert!(answer.headers()["set-cookie"].to_str().unwrap().contains("locale=cy"), "{behaviour:?}");
        assert_eq!(answer.status(), 302);
        assert!(begun.elapsed() <= took, "{behaviour:?}: {:?}", begun.elapsed());
        sleep(Duration::from_mins(1)).await;
        assert_eq!(written_now.load(Ordering::Relaxed), written, "{behaviour:?}");
    }
}

#[tokio::test(start_paused = true)]
async fn the_log_says_which_hook_is_late() {
    let (log, _guard) = Log::begin();
    let app = app(crow("sources = ['path', 'session']\nhook-seconds = 0.5")
        .layer()
        .sessions(Slow(Hangs, Arc::default())));
    for _ in 0..9 {
        assert_eq!(ask(&app, "/", "").await.3, Duration::from_millis(500));
    }
    log.says_once("a hook has not answered in time: the request goes on without it hook=\"sessions\" path=\"/\" limit=500ms count=1");
    assert_eq!(log.text().lines().count(), 1, "{}", log.text());
}

/// The same with `actix-web`, whose sessions are those of its own middleware.
#[test]
fn a_hook_that_is_late_in_actix_holds_no_request_longer_than_its_limit() {
    use actix_web::{App, test, web};

    actix_web::rt::System::new().block_on(async {
        let written = Arc::new(AtomicUsize::new(0));
        let by_hook = Arc::clone(&written);
        let (go, gone) = tokio::sync::watch::channel(false);
        let crow = crow("sources = ['visitor', 'cookie']\nhook-seconds = 0.05");
        let middleware = crow
            .middleware()
            .visitor_settings(|request| {
                let hangs = request.path() == "/slow";
                Box::pin(async move {
                    if hangs {
                        std::future::pending::<()>().await;
                    }
                    Some(VisitorSettings::new().with_locale("pl"))
                })
            })
            .store_choice(move |_, _| {
                let (written, mut gone) = (Arc::clone(&by_hook), gone.clone());
                Box::pin(async move {
                    gone.wait_for(|go| *go).await?;
                    written.fetch_add(1, Ordering::Relaxed);
                    Ok(())
                })
            });
        let page = |t: Translator| async move { t.locale().to_string() };
        let app = test::init_service(App::new().default_service(web::get().to(page)).wrap(middleware)).await;
        for (path, body, cache) in [("/fast", "pl", None), ("/slow", "cy", Some("no-store"))] {
            let request = test::TestRequest::with_uri(path).insert_header(("cookie", "locale=cy"));
            let answer = test::call_service(&app, request.to_request()).await;
            let got = answer.headers().get("cache-control").map(|value| value.to_str().unwrap().to_owned());
            assert_eq!(got.as_deref(), cache, "{path}");
            assert_eq!(test::read_body(answer).await, body, "{path}");
        }
        let choice = test::TestRequest::with_uri("/locale?to=cy").to_request();
        assert_eq!(test::call_service(&app, choice).await.status().as_u16(), 302);
        assert_eq!(written.load(Ordering::Relaxed), 0);
        go.send_replace(true);
        while written.load(Ordering::Relaxed) == 0 {
            tokio::task::yield_now().await;
        }
    });
}

/// An adapter of one's own says that a hook has not answered: the rest is the engine's.
#[tokio::test]
async fn an_adapter_of_ones_own_says_that_a_hook_is_late() {
    use crow_fly::web::exchange::{Exchange, PageStep};

    for (path, cookie, expected) in [
        ("/x", "locale=cy", "200 cy no-store"),
        ("/x", "", "200 en no-store"),
        ("/assets/x", "", "untouched"),
    ] {
        let crow = crow("sources = ['session', 'visitor', 'cookie']\nskip = ['/assets']");
        let (head, ()) = Request::get(path).header("cookie", cookie).body(()).unwrap().into_parts();
        let Exchange::Page(mut step) = crow.exchange(&head) else { panic!("it is a page") };
        let told = loop {
            step = match step {
                PageStep::Session(asked) => asked.unanswered(&head),
                PageStep::VisitorSettings(asked) => asked.unanswered(&head),
                PageStep::Catalogs(asked) => asked.load(&head).await,
                PageStep::Respond(reply) => break reply.status().to_string(),
                PageStep::PassOn(_) => break "untouched".to_owned(),
                PageStep::Serve(serving) => {
                    let mut answer = http::Response::new(());
                    answer.headers_mut().insert("cache-control", "max-age=600".parse().unwrap());
                    assert!(serving.finish(&mut answer).is_none());
                    let cache = answer.headers()["cache-control"].to_str().unwrap();
                    break format!("200 {} {cache}", serving.translator().locale());
                }
            };
        };
        assert_eq!(told, expected, "{path} {cookie}");
    }
}
