//! Everything at once: a budget below one chain, hostile messages in a public section, files that change and keep their time, hooks
//! that hang. No answer is later than the limits allow, each is right, and memory stays as it is.
//!
//! `xtask -- proof bounds` does it for ten minutes, alone in its process.

#![allow(clippy::print_stdout, reason = "a proof says what it did")]

use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::time::{Duration, Instant};

use axum::Router;
use axum::body::Body;
use axum::routing::get;
use crow_fly::source::Directory;
use crow_fly::web::VisitorSettings;
use crow_fly::{Config, CrowFly, Translator};
use http::Request;
use tower::ServiceExt;

const CONFIG: &str = "
development = false
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['visitor', 'cookie']
hook-seconds = 0.2
[catalogs]
wait-seconds = 1
max-megabytes = 1
[browser]
sections = ['hostile']
";

/// How long a visitor waits at most: for a hook, for catalogs, and for a machine that has much else to do.
const LIMIT: Duration = Duration::from_millis(200 + 1_000 + 3_000);

/// Replaces a file by one of the same size and time.
fn replace(path: &Path, text: &str) {
    let time = std::fs::metadata(path).and_then(|about| about.modified());
    let new = path.with_extension("new");
    std::fs::write(&new, text).unwrap();
    if let Ok(time) = time {
        std::fs::File::options().write(true).open(&new).unwrap().set_modified(time).unwrap();
    }
    std::fs::rename(&new, path).unwrap();
}

/// A home page of one version, in a file that is larger than the whole budget.
fn home(version: u64) -> String {
    let lines = (0..12_000)
        .map(|line| format!("line-{line} = 'Words that take their room, {line}'\n"))
        .collect::<Vec<_>>()
        .concat();
    format!("version = '{:09}'\n{lines}", version % 1_000_000_000)
}

fn site(folder: &Path) -> Router {
    for locale in ["en", "cy", "pl"] {
        std::fs::create_dir(folder.join(locale)).unwrap();
        replace(&folder.join(locale).join("home.toml"), &home(0));
        let echo = "{$x}".repeat(4_000);
        let declared = (0..300)
            .map(|at| format!(".local $a{at} = {{$x :string u:locale=cy}} "))
            .collect::<Vec<_>>()
            .concat();
        let shown = (0..300).map(|at| format!("{{$a{at}}}")).collect::<Vec<_>>().concat();
        let hostile = format!("echo = '{echo}'\ndeclared = '{declared}{{{{{shown}}}}}'\n");
        replace(&folder.join(locale).join("hostile.toml"), &hostile);
    }
    let crow = CrowFly::new(Config::parse(CONFIG).unwrap(), Directory::new(folder));
    let layer = crow.layer().visitor_settings(|request| {
        let hangs = request.headers.contains_key("x-hangs");
        Box::pin(async move {
            if hangs {
                std::future::pending::<()>().await;
            }
            Some(VisitorSettings::new().with_locale("pl"))
        })
    });
    let page = get(|t: Translator| async move { format!("{} {}", t.locale(), t.text("home.version")) });
    let reload = {
        let crow = crow.clone();
        get(move || async move { crow.reload().await.is_ok().to_string() })
    };
    layer.router(Router::new().route("/", page)).merge(crow.texts_router()).route("/reload", reload)
}

async fn ask(app: &Router, path: &str, hangs: bool) -> (u16, String, String) {
    let mut request = Request::get(path).header("cookie", "locale=cy");
    if hangs {
        request = request.header("x-hangs", "1");
    }
    let begun = Instant::now();
    let answer = app.clone().oneshot(request.body(Body::empty()).unwrap()).await.unwrap();
    let status = answer.status().as_u16();
    let cache = answer.headers().get("cache-control").map_or("", |value| value.to_str().unwrap()).to_owned();
    let body = axum::body::to_bytes(answer.into_body(), 1 << 21).await.unwrap();
    assert!(begun.elapsed() < LIMIT, "{path} {hangs}: {:?}", begun.elapsed());
    (status, cache, String::from_utf8(body.to_vec()).unwrap())
}

/// The memory of this process, in bytes; 0 where the system does not say it.
fn memory() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"));
    line.and_then(|line| line.trim().trim_end_matches(" kB").parse::<u64>().ok()).unwrap_or_default() * 1024
}

#[tokio::test(flavor = "multi_thread")]
async fn no_answer_is_later_than_the_limits_allow() {
    let seconds: Option<u64> = std::env::var("BOUNDS_SECONDS").ok().and_then(|seconds| seconds.parse().ok());
    let folder = tempfile::tempdir().unwrap();
    let app = site(folder.path());
    let (asked, late) = (Arc::new(AtomicU64::new(0)), Arc::new(AtomicBool::new(false)));
    let until = Instant::now() + Duration::from_secs(seconds.unwrap_or(2));
    let mut visitors = Vec::new();
    for visitor in 0..8_u64 {
        let (app, asked, late) = (app.clone(), Arc::clone(&asked), Arc::clone(&late));
        visitors.push(tokio::spawn(async move {
            for round in visitor.. {
                if Instant::now() > until || late.load(Ordering::Relaxed) {
                    return;
                }
                asked.fetch_add(1, Ordering::Relaxed);
                let hangs = round % 5 == 0;
                match round % 4 {
                    // The visitor's own language; that of the cookie where the application does not say it in time.
                    0 | 1 => {
                        let (status, cache, body) = ask(&app, "/", hangs).await;
                        let locale = if hangs { "cy" } else { "pl" };
                        assert_eq!(status, 200, "{body}");
                        assert!(body.starts_with(locale) && body.len() == 12, "{body}");
                        assert!(!hangs || cache == "no-store", "{cache}");
                    }
                    2 => {
                        let x = "y".repeat(if round % 3 == 0 { 3 } else { 1_000 });
                        let (status, ..) =
                            ask(&app, &format!("/texts/pl?key=hostile.echo&x={x}"), false).await;
                        assert_eq!(status, if x.len() == 3 { 200 } else { 422 });
                    }
                    _ => {
                        let (status, ..) = ask(&app, "/texts/cy?key=hostile.declared&x=words", false).await;
                        assert_eq!(status, 200);
                    }
                }
            }
        }));
    }
    let (mut version, mut at_first) = (0, 0);
    let begun = Instant::now();
    // On a slow machine one change may take all of the time.
    while Instant::now() < until || version < 2 {
        version += 1;
        for locale in ["en", "cy", "pl"] {
            replace(&folder.path().join(locale).join("home.toml"), &home(version));
        }
        let (status, _, body) = ask(&app, "/reload", false).await;
        assert_eq!((status, body.as_str()), (200, "true"));
        assert_eq!(ask(&app, "/", false).await.2, format!("pl {version:09}"));
        tokio::time::sleep(Duration::from_millis(100)).await;
        // Once everything has been asked for.
        if at_first == 0 && seconds.is_some_and(|seconds| begun.elapsed() > Duration::from_secs(seconds / 4))
        {
            at_first = memory();
        }
    }
    for visitor in visitors {
        visitor.await.unwrap();
    }
    let (asked, at_last) = (asked.load(Ordering::Relaxed), memory());
    println!("{asked} requests, {version} changes; memory {at_first} bytes, then {at_last}");
    assert!(asked > 20, "{asked}");
    if at_first > 0 {
        assert!(at_last < at_first + at_first / 5, "{at_first} bytes, then {at_last}");
    }
}
