//! Catalogs from a web server: conditional, compressed, bounded; from one that is slow, stalls, cuts off, or lies.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::io::Write as _;
use std::sync::{Arc, Mutex};
use std::time::Duration;

use crow_fly::release::{Manifest, ManifestFile};
use crow_fly::source::conformance::{Disturbance, Fixture, failures};
use crow_fly::source::{CatalogSource, Http, ListedFile};
use crow_fly::{CrowFly, HealthStatus};
use crow_fly_core::catalog::{FileFormat, is_name};
use flate2::Compression;
use flate2::write::GzEncoder;
use reqwest::Client;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{answer, crow, pages, said};

/// A web server of files, written for these tests: it does to its answers what a test asks for.
#[derive(Clone, Debug)]
struct Server {
    address: String,
    state: Arc<Mutex<State>>,
}

#[derive(Debug, Default)]
struct State {
    files: BTreeMap<String, Vec<u8>>,
    disturbance: Disturbance,
    compresses: bool,
    /// The status of every answer, where it is another one than usual.
    status: Option<u16>,
    /// What was asked for and answered: `/texts/en/home.toml 200`.
    asked: Vec<String>,
}

impl Server {
    async fn start() -> Self {
        let listener = TcpListener::bind(("127.0.0.1", 0)).await.unwrap();
        let address = format!("http://{}/texts/", listener.local_addr().unwrap());
        let server = Self { address, state: Arc::default() };
        server.write_manifest();
        let serving = server.clone();
        tokio::spawn(async move {
            while let Ok((stream, _)) = listener.accept().await {
                let serving = serving.clone();
                // A client that hangs up has its reasons.
                tokio::spawn(async move { serving.serve(stream).await.ok() });
            }
        });
        server
    }

    fn with<T>(&self, change: impl FnOnce(&mut State) -> T) -> T {
        change(&mut self.state.lock().unwrap())
    }

    fn asked(&self) -> Vec<String> {
        self.with(|state| std::mem::take(&mut state.asked))
    }

    /// One request, one answer.
    async fn serve(&self, mut stream: TcpStream) -> std::io::Result<()> {
        let mut head = Vec::new();
        while !head.ends_with(b"\r\n\r\n") {
            head.push(stream.read_u8().await?);
        }
        let head = String::from_utf8_lossy(&head).into_owned();
        let path = head.split(' ').nth(1).unwrap_or_default().to_owned();
        let disturbance = self.with(|state| state.disturbance);
        match disturbance {
            Disturbance::Slow => tokio::time::sleep(Duration::from_millis(30)).await,
            Disturbance::Hanging => std::future::pending().await,
            Disturbance::Failing => return self.send(stream, &path, 500, "", b"the quay is closed").await,
            _ => {}
        }
        let is_manifest = path.ends_with("/manifest.json");
        let (found, compresses, status) = self.with(|state| {
            let found = state.files.get(path.trim_start_matches("/texts/")).cloned();
            (found, state.compresses && head.contains("accept-encoding: gzip"), state.status)
        });
        if let Some(status) = status {
            return self.send(stream, &path, status, "", b"").await;
        }
        let Some(mut body) = found else { return self.send(stream, &path, 404, "", b"no such file").await };
        let mut headers = String::new();
        if is_manifest {
            let etag = format!("\"{}\"", ManifestFile::new("", &body).sha256());
            if head.contains(&format!("if-none-match: {etag}")) {
                return self.send(stream, &path, 304, "", b"").await;
            }
            write!(headers, "etag: {etag}\r\n").unwrap();
        } else if disturbance == Disturbance::Corrupt {
            body.reverse();
        }
        if compresses {
            let mut gzip = GzEncoder::new(Vec::new(), Compression::best());
            gzip.write_all(&body)?;
            body = gzip.finish()?;
            headers.push_str("content-encoding: gzip\r\n");
        }
        if disturbance == Disturbance::Truncated && !is_manifest {
            // The connection ends before the body does.
            let head = format!("HTTP/1.1 200 OK\r\ncontent-length: {}\r\n\r\n", body.len());
            stream.write_all(head.as_bytes()).await?;
            return stream.write_all(&body[..body.len() / 2]).await;
        }
        self.send(stream, &path, 200, &headers, &body).await
    }

    async fn send(
        &self,
        mut stream: TcpStream,
        path: &str,
        status: u16,
        headers: &str,
        body: &[u8],
    ) -> std::io::Result<()> {
        self.with(|state| state.asked.push(format!("{path} {status}")));
        let length = body.len();
        let head =
            format!("HTTP/1.1 {status} _\r\n{headers}content-length: {length}\r\nconnection: close\r\n\r\n");
        stream.write_all(head.as_bytes()).await?;
        stream.write_all(body).await
    }

    /// Writes the manifest of all files.
    fn write_manifest(&self) {
        self.with(|state| {
            state.files.remove("manifest.json");
            let files: Vec<_> =
                state.files.iter().map(|(path, bytes)| ManifestFile::new(path, bytes)).collect();
            let manifest = serde_json::json!({ "format": 1, "files": files });
            state.files.insert("manifest.json".to_owned(), manifest.to_string().into_bytes());
        });
    }

    fn put(&self, path: &str, bytes: &[u8]) {
        self.with(|state| state.files.insert(path.to_owned(), bytes.to_vec()));
    }

    fn titles(&self) {
        for (locale, title) in [("en", "Ferries"), ("cy", "Fferïau"), ("pl", "Promy")] {
            self.put(&format!("{locale}/home.toml"), format!("title = '{title}'").as_bytes());
        }
        self.write_manifest();
    }

    fn catalogs(&self) -> Http {
        let client = Client::builder().no_proxy().build().unwrap();
        let http = Http::new(client, &format!("{}manifest.json", self.address)).unwrap();
        http.with_timeout(Duration::from_secs(5))
    }
}

impl Fixture for Server {
    fn source(&self) -> Box<dyn CatalogSource> {
        Box::new(self.catalogs())
    }

    fn write(&self, locale: &str, section: &str, bytes: &[u8]) {
        // A manifest with what it cannot name, or with more than is read, is refused as a whole: see below.
        if is_name(section) && bytes.len() < 100_000 {
            self.put(&format!("{locale}/{section}.toml"), bytes);
            self.write_manifest();
        }
    }

    fn remove(&self, locale: &str) {
        self.with(|state| state.files.retain(|path, _| !path.starts_with(&format!("{locale}/"))));
        self.write_manifest();
    }

    fn disturb(&self, disturbance: Disturbance) -> bool {
        self.with(|state| state.disturbance = disturbance);
        true
    }
}

#[tokio::test]
async fn a_web_server_keeps_the_contract_of_sources() {
    let server = Server::start().await;
    assert_eq!(failures(&server).await, [""; 0]);
    let compressing = Server::start().await;
    compressing.with(|state| state.compresses = true);
    assert_eq!(failures(&compressing).await, [""; 0]);
}

#[tokio::test]
async fn an_unchanged_manifest_costs_a_status_line_and_a_file_is_asked_for_once() {
    let server = Server::start().await;
    server.titles();
    let crow = crow(server.catalogs(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    let mut asked = server.asked();
    asked.sort_unstable();
    assert_eq!(asked, ["/texts/cy/home.toml 200", "/texts/en/home.toml 200", "/texts/manifest.json 200"]);
    crow.reload().await.unwrap();
    assert_eq!(server.asked(), ["/texts/manifest.json 304"]);
    server.put("cy/home.toml", b"title = 'Newydd'");
    server.write_manifest();
    crow.reload().await.unwrap();
    assert_eq!(server.asked(), ["/texts/manifest.json 200", "/texts/cy/home.toml 200"]);
    assert_eq!(said(&app, "/cy").await, answer(200, "Newydd", ""));
}

#[tokio::test]
async fn a_file_that_is_put_before_its_manifest_spoils_no_page() {
    let server = Server::start().await;
    server.titles();
    let crow = crow(server.catalogs(), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""));
    // Polish is loaded between the file and its manifest.
    server.put("pl/home.toml", b"title = 'Nowe promy'");
    assert_eq!(said(&app, "/pl").await, answer(200, "Ferries", "no-store"));
    server.write_manifest();
    crow.reload().await.unwrap();
    assert_eq!(said(&app, "/pl").await, answer(200, "Nowe promy", ""));
}

#[tokio::test]
async fn a_server_that_fails_leaves_the_catalogs_as_they_were() {
    let server = Server::start().await;
    server.titles();
    let crow = crow(server.catalogs(), "load-seconds = 2");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
    let manifest = server.with(|state| state.files.get("manifest.json").cloned().unwrap());
    let hostile = br#"{"format":1,"files":[{"path":"../en/home.toml","sha256":"","bytes":1}]}"#;
    let mut tellings = Vec::new();
    for (status, body) in [
        (Some(500), None),
        (Some(404), None),
        (Some(204), None),
        (None, Some(&b"<html>maintenance</html>"[..])),
        (None, Some(b"")),
        (None, Some(b"{\"format\": 7, \"files\": []}")),
        (None, Some(hostile)),
    ] {
        server.with(|state| state.status = status);
        server.put("manifest.json", body.unwrap_or(&manifest));
        let error = crow.reload().await.unwrap_err().to_string();
        tellings.push(error.replace(&server.address, "http://texts/"));
        assert_eq!(said(&app, "/cy").await, answer(200, "Fferïau", ""));
        assert_eq!(crow.health().status, HealthStatus::Stale);
    }
    insta::assert_snapshot!(tellings.join("\n"));
    server.with(|state| state.status = None);
    server.put("manifest.json", &manifest);
    crow.reload().await.unwrap();
    assert_eq!(crow.health().status, HealthStatus::Ready);
}

#[tokio::test]
async fn what_grows_when_it_is_unpacked_is_cut_off() {
    let server = Server::start().await;
    server.with(|state| state.compresses = true);
    server.titles();
    let catalogs = server.catalogs();
    let locales = ["en".to_owned()];
    let listing = catalogs.list(&locales).wait().await.unwrap();
    let file = &listing.files()[0];
    assert!(catalogs.read(file).wait().await.is_ok());
    server.put("en/home.toml", &vec![b'#'; 64 << 20]);
    server.put("manifest.json", &vec![b' '; Manifest::MAX_LENGTH + 1]);
    let catalogs = catalogs.with_timeout(Duration::from_secs(20));
    for error in
        [catalogs.read(file).wait().await.unwrap_err(), catalogs.list(&locales).wait().await.unwrap_err()]
    {
        let cause = std::error::Error::source(&error).unwrap().to_string();
        assert!(cause.starts_with("it has more than "), "{cause}");
    }
}

#[tokio::test]
async fn an_address_is_checked_and_a_server_that_is_not_there_is_an_error() {
    for address in ["", "manifest.json", "mailto:captain@ferries.example", "http://"] {
        assert!(Http::new(Client::new(), address).is_err(), "{address}");
    }
    let free = TcpListener::bind(("127.0.0.1", 0)).await.unwrap().local_addr().unwrap();
    let nobody = Http::new(Client::new(), &format!("http://{free}/manifest.json")).unwrap();
    assert!(nobody.list(&["en".to_owned()]).wait().await.is_err());
    let file = ListedFile::section("en", "home", FileFormat::Toml, 1);
    assert!(nobody.read(&file).wait().await.unwrap_err().is_changed());
    let config = crow(Controlled::titles(), "").config().clone();
    assert_eq!(said(&CrowFly::new(config, nobody).router(pages()), "/").await.0, 503);
}
