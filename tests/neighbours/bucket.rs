//! Releases in a bucket, over the S3 protocol.

use std::process::Command;
use std::sync::Arc;

use async_trait::async_trait;
use crow_fly::release::{Activation, Release, ReleaseError, ReleaseStore, Releases};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, HealthStatus};
use http_body_util::BodyExt;
use object_store::aws::AmazonS3Builder;
use object_store::client::{
    HttpClient, HttpConnector, HttpError, HttpErrorKind, HttpRequest, HttpResponse, HttpResponseBody,
    HttpService,
};
use object_store::path::Path;
use object_store::{
    BackoffConfig, ClientOptions, Error, ObjectStore, ObjectStoreExt, PutMode, PutOptions, RetryConfig,
};
use std::time::Duration;

use crate::program::{Program, free_port};

/// Requests over plain HTTP: the server is on this machine, and TLS takes long to build.
#[derive(Debug)]
struct Plain(reqwest::Client);

#[async_trait]
impl HttpService for Plain {
    async fn call(&self, request: HttpRequest) -> Result<HttpResponse, HttpError> {
        let wrong = |error: reqwest::Error| {
            let kind = if error.is_connect() { HttpErrorKind::Connect } else { HttpErrorKind::Request };
            HttpError::new(kind, error)
        };
        let (head, body) = request.into_parts();
        let body = body.collect().await.map(http_body_util::Collected::to_bytes)?;
        let asked = self.0.request(head.method, head.uri.to_string()).headers(head.headers).body(body);
        let answered = asked.send().await.map_err(wrong)?;
        let mut response = http::Response::builder().status(answered.status());
        if let Some(headers) = response.headers_mut() {
            *headers = answered.headers().clone();
        }
        let bytes = answered.bytes().await.map_err(wrong)?;
        let body = http_body_util::Full::new(bytes).map_err(|never| match never {});
        response
            .body(HttpResponseBody::new(body))
            .map_err(|error| HttpError::new(HttpErrorKind::Decode, error))
    }
}

impl HttpConnector for Plain {
    fn connect(&self, _: &ClientOptions) -> object_store::Result<HttpClient> {
        Ok(HttpClient::new(Self(self.0.clone())))
    }
}

/// An S3 server with one bucket.
async fn server() -> Option<(Program, Arc<dyn ObjectStore>)> {
    let port = free_port();
    let mut command = Command::new("moto_server");
    command.args(["-H", "127.0.0.1", "-p", &port.to_string()]);
    let program = Program::start(&mut command, "moto[server]", port)?;
    let endpoint = format!("http://127.0.0.1:{port}");
    let client = reqwest::Client::builder().no_proxy().build().unwrap();
    let made = client.put(format!("{endpoint}/ferries")).send().await.unwrap();
    assert!(made.status().is_success());
    let retry = RetryConfig {
        backoff: BackoffConfig { init_backoff: Duration::from_millis(10), ..BackoffConfig::default() },
        max_retries: 1,
        retry_timeout: Duration::from_secs(2),
    };
    let bucket = AmazonS3Builder::new()
        .with_endpoint(endpoint)
        .with_allow_http(true)
        .with_bucket_name("ferries")
        .with_region("eu-west-2")
        .with_access_key_id("made-up")
        .with_secret_access_key("made-up")
        .with_client_options(ClientOptions::new().with_allow_http(true).with_timeout(Duration::from_secs(5)))
        .with_retry(retry)
        .with_http_connector(Plain(client))
        .build()
        .unwrap();
    Some((program, Arc::new(bucket)))
}

fn config() -> Config {
    Config::parse("default = 'en'\nlocales = ['en', 'cy']\ndevelopment = false\n").unwrap()
}

async fn release(version: u32) -> Release {
    let catalogs = Memory::new([
        ("en", "home", format!("title = 'Ferries {version}'")),
        ("cy", "home", format!("title = 'Fferïau {version}'")),
    ]);
    Release::of(&config(), &catalogs).await.unwrap()
}

async fn deploy(store: &ReleaseStore, version: u32) -> Activation {
    let release = release(version).await;
    store.publish(&release).await.unwrap();
    store.activate(release.id()).await.unwrap()
}

async fn title(crow: &CrowFly) -> String {
    crow.translator_for("cy").await.text("home.title")
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_bucket_is_a_store_of_releases() {
    let Some((mut program, bucket)) = server().await else { return };
    // What everything rests on: an object is created once.
    let create = || async {
        let options = PutOptions::from(PutMode::Create);
        bucket.put_opts(&Path::from("once"), "first".into(), options).await
    };
    create().await.unwrap();
    assert!(matches!(create().await, Err(Error::AlreadyExists { .. })));

    let store = ReleaseStore::new(Arc::clone(&bucket)).below("site/catalogs");
    let cache = tempfile::tempdir().unwrap();
    let releases = || Releases::new(store.clone()).with_cache(cache.path()).unwrap();
    deploy(&store, 1).await;
    let crow = CrowFly::new(config(), releases());
    assert_eq!(title(&crow).await, "Fferïau 1");
    deploy(&store, 2).await;
    crow.reload().await.unwrap();
    assert_eq!(title(&crow).await, "Fferïau 2");

    // Two deployments at the same time, again and again: numbers are never given twice.
    for turn in 0..5 {
        let (one, other) = (release(10 + turn).await, release(20 + turn).await);
        store.publish(&one).await.unwrap();
        store.publish(&other).await.unwrap();
        let before = store.activations(1).await.unwrap()[0].number();
        let (first, second) = tokio::join!(store.activate(one.id()), store.activate(other.id()));
        let won = [&first, &second].iter().filter(|result| result.is_ok()).count() as u64;
        for result in [first, second] {
            assert!(matches!(result, Ok(_) | Err(ReleaseError::Taken { .. })), "{result:?}");
        }
        assert_eq!(store.activations(1).await.unwrap()[0].number(), before + won);
    }

    // A file that is damaged in the bucket.
    let bad = release(3).await;
    store.publish(&bad).await.unwrap();
    let file = bad.manifest().files()[0].sha256();
    let damaged = Path::from(format!("site/catalogs/files/{file}"));
    let before = bucket.get(&damaged).await.unwrap().bytes().await.unwrap();
    bucket.put(&damaged, "title = 'Fferïau X'".into()).await.unwrap();
    store.activate(bad.id()).await.unwrap();
    // The newest that is whole is in its place.
    let whole = store.activations(2).await.unwrap()[1].number();
    assert!(crow.reload().await.is_err());
    assert_eq!(crow.health().activation, Some(whole));
    assert_eq!(crow.health().status, HealthStatus::Stale);
    bucket.put(&damaged, before.into()).await.unwrap();
    crow.reload().await.unwrap();
    assert_eq!(title(&crow).await, "Fferïau 3");

    let back = store.roll_back().await.unwrap();
    crow.reload().await.unwrap();
    assert!(crow.health().release.unwrap().contains(&back.release().short()));
    let last = title(&crow).await;
    assert!(store.clean(1).await.unwrap().releases.is_empty(), "what is younger than a day stays");

    // The bucket is gone: what runs goes on, and what starts has the release it had last.
    program.stop();
    assert!(crow.reload().await.is_err());
    assert_eq!(title(&crow).await, last);
    let restarted = CrowFly::new(config(), releases());
    assert_eq!(title(&restarted).await, last);
    let stale = restarted.health().stale.join("\n");
    assert!(stale.contains("the store has no answer about `site/catalogs/active`"), "{stale}");
}

/// What deployments, accidents and servers do, in any order, as in the model of the suite; fewer of them.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn whatever_happens_in_a_bucket_its_servers_serve() {
    let Some((_program, bucket)) = server().await else { return };
    let mut seed = 1_u64;
    let mut random = |limit: usize| {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        usize::try_from(seed >> 33).unwrap() % limit
    };
    for sequence in 0..4 {
        let prefix = format!("sequence-{sequence}");
        let store = ReleaseStore::new(Arc::clone(&bucket)).below(&prefix);
        let mut crow = CrowFly::new(config(), Releases::new(store.clone()));
        for _ in 0..15 {
            match random(7) {
                0 | 1 => {
                    deploy(&store, u32::try_from(random(4)).unwrap()).await;
                }
                2 => drop(store.roll_back().await),
                3 => drop(store.clean(1).await),
                4 | 5 => {
                    // An object is lost, or half of it.
                    let folder = Path::from(format!("{prefix}/{}", ["files", "active"][random(2)]));
                    let all = bucket.list_with_delimiter(Some(&folder));
                    let objects = all.await.unwrap().objects;
                    if !objects.is_empty() {
                        let path = &objects[random(objects.len())].location;
                        match random(2) {
                            0 => bucket.delete(path).await.unwrap(),
                            _ => drop(bucket.put(path, "{".into()).await.unwrap()),
                        }
                    }
                }
                _ => crow = CrowFly::new(config(), Releases::new(store.clone())),
            }
            let _ = crow.reload().await;
            let text = title(&crow).await;
            assert!(text == "home.title" || text.starts_with("Fferïau "), "{text}");
        }
        let mended = release(9).await;
        store.publish(&mended).await.unwrap();
        store.activate(mended.id()).await.unwrap();
        for _ in 0..3 {
            let _ = crow.reload().await;
        }
        assert_eq!(title(&crow).await, "Fferïau 9", "{:?}", crow.health());
    }
}
