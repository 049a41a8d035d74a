//! Choices kept in Redis: two machines of one site know the same visitor.

use std::path::Path;
use std::process::Command;

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::Request;
use axum::http::header::{COOKIE, LOCATION, SET_COOKIE};
use axum::middleware::{Next, from_fn};
use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio::time::timeout;
use tower::ServiceExt;
use tower_sessions::cookie::time::{Duration, OffsetDateTime};
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{Error, Result};
use tower_sessions::{Expiry, Session, SessionManagerLayer, SessionStore};

use crate::program::{Program, free_port};
use crate::site;

const CONFIG: &str = "
default = 'en'
locales = ['en', 'cy', 'pl']
[policy]
sources = ['path', 'session', 'accept-language']
";

/// Sessions in Redis, by its protocol (RESP 2), one connection for each command: a client with a pool is a minute of
/// compilation, and what is tested here are sessions that come from another process.
#[derive(Clone, Copy, Debug)]
struct Redis {
    port: u16,
}

impl Redis {
    /// What Redis answers: the value, where there is one.
    async fn ask(self, command: &[&str]) -> Result<Option<Vec<u8>>> {
        let backend = |error: &dyn std::fmt::Display| Error::Backend(error.to_string());
        let answer = timeout(std::time::Duration::from_secs(2), self.answer(command)).await;
        answer.map_err(|late| backend(&late))?.map_err(|error| backend(&error))
    }

    async fn answer(self, command: &[&str]) -> std::io::Result<Option<Vec<u8>>> {
        let mut stream = BufReader::new(TcpStream::connect(("127.0.0.1", self.port)).await?);
        let words = command.iter().map(|word| format!("${}\r\n{word}\r\n", word.len()));
        let bytes: String = std::iter::once(format!("*{}\r\n", command.len())).chain(words).collect();
        stream.write_all(bytes.as_bytes()).await?;
        let mut line = String::new();
        stream.read_line(&mut line).await?;
        // `+OK`, `:1`, `$5` and its bytes, `$-1` for nothing.
        match line.trim_end().split_at_checked(1) {
            Some(("$", length)) => {
                let Ok(length) = length.parse() else { return Ok(None) };
                let mut value = vec![0; length];
                stream.read_exact(&mut value).await?;
                Ok(Some(value))
            }
            Some(("+" | ":", _)) => Ok(None),
            _ => Err(std::io::Error::other(line)),
        }
    }

    async fn set(self, record: &Record, only: &[&str]) -> Result<()> {
        let seconds = (record.expiry_date - OffsetDateTime::now_utc()).whole_seconds().max(1);
        let text = serde_json::to_string(record).map_err(|error| Error::Encode(error.to_string()))?;
        let (id, seconds) = (record.id.to_string(), seconds.to_string());
        let command = [&["SET", &id, &text, "EX", &seconds], only].concat();
        self.ask(&command).await.map(|_| ())
    }
}

#[async_trait::async_trait]
impl SessionStore for Redis {
    async fn create(&self, record: &mut Record) -> Result<()> {
        self.set(record, &["NX"]).await
    }

    async fn save(&self, record: &Record) -> Result<()> {
        self.set(record, &[]).await
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let Some(value) = self.ask(&["GET", &id.to_string()]).await? else { return Ok(None) };
        serde_json::from_slice(&value).map(Some).map_err(|error| Error::Decode(error.to_string()))
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        self.ask(&["DEL", &id.to_string()]).await.map(|_| ())
    }
}

fn machine(redis: Redis) -> Router {
    let sessions = SessionManagerLayer::new(redis)
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

/// Starts Redis in a folder; none where it is not installed.
fn start(folder: &Path, port: u16) -> Option<Program> {
    let mut command = Command::new("redis-server");
    command.args(["--port", &port.to_string(), "--bind", "127.0.0.1", "--save", "", "--appendonly", "no"]);
    Program::start(command.arg("--dir").arg(folder), "redis-server", port)
}

/// The example for `actix-web`, with the sessions of its own crate.
#[test]
fn the_example_of_actix_sessions_knows_a_choice_on_every_machine() {
    let (port, folder) = (free_port(), tempfile::tempdir().unwrap());
    let Some(_program) = start(folder.path(), port) else { return };
    let examples = std::env::current_exe().unwrap().parent().unwrap().with_file_name("examples");
    let output =
        Command::new(examples.join("actix_sessions")).arg(format!("redis://127.0.0.1:{port}")).output();
    let output =
        output.unwrap_or_else(|error| panic!("{error}; run `cargo test --workspace`, which builds it"));
    assert_eq!(
        String::from_utf8(output.stdout).unwrap(),
        "machine 1, /basket: 200 one trip\nmachine 1, /locale?to=cy: 302 /cy\nmachine 2, /: 302 /cy\nmachine 2, /cy: 200 Fferïau\n"
    );
}

#[tokio::test]
async fn a_choice_is_known_on_every_machine() {
    let (port, folder) = (free_port(), tempfile::tempdir().unwrap());
    let Some(mut program) = start(folder.path(), port) else { return };
    let redis = Redis { port };
    let (first, second) = (machine(redis), machine(redis));

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
    redis.ask(&["SET", key, "not a session"]).await.unwrap();
    assert_eq!(ask(&second, "/", &session).await.0, "/pl");
    program.stop();
    assert_eq!(ask(&second, "/", &session).await.0, "/pl");
}
