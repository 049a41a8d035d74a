//! Choices kept in Redis: two machines of one site know the same visitor.

use std::process::Command;

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::Request;
use axum::http::header::{COOKIE, LOCATION, SET_COOKIE};
use axum::middleware::{Next, from_fn};
use tower::ServiceExt;
use tower_sessions::cookie::time::Duration;
use tower_sessions::{Expiry, Session, SessionManagerLayer};
use tower_sessions_redis_store::RedisStore;
use tower_sessions_redis_store::fred::prelude::{ClientLike, Config, KeysInterface, PerformanceConfig, Pool};

use crate::program::{Program, free_port};
use crate::site;

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['path', 'session', 'accept-language']
";

fn machine(redis: &Pool) -> Router {
    let sessions = SessionManagerLayer::new(RedisStore::new(redis.clone()))
        .with_secure(false)
        .with_expiry(Expiry::OnInactivity(Duration::hours(1)));
    // The site has baskets, which are sessions.
    let basket = |session: Session, request: Request<Body>, next: Next| async move {
        if request.uri().path() == "/basket" {
            session.insert("basket", 3).await.unwrap();
        }
        next.run(request).await
    };
    site(CONFIG).layer(from_fn(basket)).layer(sessions)
}

/// Asks for an address with a session cookie; the address redirected to or else the body, and the cookie set.
async fn ask(machine: &Router, path: &str, cookie: &str) -> (String, String) {
    let request = Request::get(path).header(COOKIE, cookie).header("accept-language", "pl");
    let response = machine.clone().oneshot(request.body(Body::empty()).unwrap()).await.unwrap();
    let header = |name| response.headers().get(name).map_or("", |value| value.to_str().unwrap()).to_owned();
    let set = response.headers().get_all(SET_COOKIE).iter().map(|line| line.to_str().unwrap());
    let session = set.map(|line| line.split(';').next().unwrap()).find(|pair| pair.starts_with("id="));
    let (location, session) = (header(LOCATION), session.unwrap_or_default().to_owned());
    let body = to_bytes(response.into_body(), 1 << 16).await.unwrap();
    (if location.is_empty() { String::from_utf8(body.to_vec()).unwrap() } else { location }, session)
}

#[tokio::test]
async fn a_choice_is_known_on_every_machine() {
    let port = free_port();
    let folder = tempfile::tempdir().unwrap();
    let mut command = Command::new("redis-server");
    command.args(["--port", &port.to_string(), "--bind", "127.0.0.1", "--save", "", "--appendonly", "no"]);
    command.arg("--dir").arg(folder.path());
    let Some(mut program) = Program::start(&mut command, "redis-server", port) else { return };
    let config = Config::from_url(&format!("redis://127.0.0.1:{port}")).unwrap();
    let impatient = PerformanceConfig {
        default_command_timeout: std::time::Duration::from_secs(2),
        ..PerformanceConfig::default()
    };
    let redis = Pool::new(config, Some(impatient), None, None, 1).unwrap();
    redis.init().await.unwrap();
    let (first, second) = (machine(&redis), machine(&redis));

    let (_, session) = ask(&first, "/basket", "").await;
    let (location, renewed) = ask(&first, "/locale?to=cy&return=/sailings", &session).await;
    assert_eq!((location.as_str(), renewed), ("/cy/sailings", session.clone()));
    let (_, opened) = ask(&first, "/locale?to=cy&return=/sailings", "").await;
    assert!(opened.is_empty(), "a choice opens no session");
    // Only the session is sent: what it says comes from Redis.
    assert_eq!(ask(&second, "/", &session).await.0, "/cy");
    assert_eq!(ask(&second, "/", "id=forged").await.0, "/pl");
    assert_eq!(
        ask(&second, "/pl/sailings", &session).await.0,
        "pl słowa",
        "an address that names its locale asks no session"
    );

    // A value that is no session any more is passed over, and so is a store that is gone.
    let key = session.trim_start_matches("id=");
    let _: () = redis.set(key, "not a session", None, None, false).await.unwrap();
    assert_eq!(ask(&second, "/", &session).await.0, "/pl");
    program.stop();
    assert_eq!(ask(&second, "/", &session).await.0, "/pl");
}
