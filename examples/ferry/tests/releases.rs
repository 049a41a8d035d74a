//! The demo on releases: two servers behind a proxy, deployments under load, restarts, and clocks that jump.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

mod program;

use std::fs;
use std::net::{TcpListener, TcpStream};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use crow_fly::Config;
use crow_fly::release::{Activation, Release, ReleaseStore};
use crow_fly::source::Directory;
use object_store::local::LocalFileSystem;
use program::Site;
use reqwest::Client;
use tempfile::TempDir;

/// A folder with a store of releases, the catalogs of the demo, and what servers keep.
struct Fleet {
    folder: TempDir,
    store: ReleaseStore,
}

/// What every simple text of a version ends with.
fn mark(version: u32) -> String {
    format!(" ¤{version}¤")
}

impl Fleet {
    fn new() -> Self {
        let folder = tempfile::tempdir().unwrap();
        fs::create_dir(folder.path().join("releases")).unwrap();
        let files = LocalFileSystem::new_with_prefix(folder.path().join("releases")).unwrap();
        Self { folder, store: ReleaseStore::new(Arc::new(files)) }
    }

    fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    /// Releases the catalogs of the demo, with the mark of a version at the end of each text that is one line.
    async fn deploy(&self, version: u32) -> Activation {
        let demo = Path::new(env!("CARGO_MANIFEST_DIR"));
        let marked = self.path(&format!("catalogs-{version}"));
        for locale in fs::read_dir(demo.join("catalogs")).unwrap() {
            let locale = locale.unwrap();
            fs::create_dir_all(marked.join(locale.file_name())).unwrap();
            for file in fs::read_dir(locale.path()).unwrap() {
                let file = file.unwrap();
                let text = fs::read_to_string(file.path()).unwrap();
                let line = |line: &str| match line.strip_suffix('"').filter(|line| line.contains(" = \"")) {
                    Some(start) if !line.ends_with("\"\"\"") => format!("{start}{}\"\n", mark(version)),
                    _ => format!("{line}\n"),
                };
                let text: String = text.lines().map(line).collect();
                fs::write(marked.join(locale.file_name()).join(file.file_name()), text).unwrap();
            }
        }
        let config = Config::from_file(demo.join("crow-fly.toml")).unwrap();
        let release = Release::of(&config, &Directory::new(marked)).await.unwrap();
        self.store.publish(&release).await.unwrap();
        self.store.activate(release.id()).await.unwrap()
    }

    /// Starts a server with a cache of its own.
    fn server(&self, name: &str) -> Site {
        Site::run(&mut self.command(Path::new(env!("CARGO_BIN_EXE_ferry")), name))
    }

    fn command(&self, program: &Path, name: &str) -> Command {
        let mut command = Command::new(program);
        command.arg("--releases").arg(self.path("releases")).arg("--cache").arg(self.path(name));
        command
    }
}

fn client() -> Client {
    Client::builder().no_proxy().build().unwrap()
}

async fn get(client: &Client, address: &str) -> String {
    let response = client.get(address).send().await.unwrap();
    assert_eq!(response.status().as_u16(), 200, "{address}");
    response.text().await.unwrap()
}

/// The one version that a page is of.
fn version_of(page: &str) -> u32 {
    let marks: Vec<u32> = page.split('¤').skip(1).step_by(2).map(|mark| mark.parse().unwrap()).collect();
    assert!(marks.len() > 5, "{page}");
    assert!(marks.windows(2).all(|two| two[0] == two[1]), "a page of two releases: {marks:?}");
    marks[0]
}

/// Waits until a server says that an activation is the one it has.
async fn follows(client: &Client, server: &Site, activation: &Activation) {
    let wanted = format!("\"activation\": {},", activation.number());
    let limit = Instant::now() + Duration::from_secs(30);
    while !get(client, &server.at("/health")).await.contains(&wanted) {
        assert!(Instant::now() < limit, "the server does not take {activation:?}");
    }
}

/// A proxy in front of two servers. None, with a word, where nginx is not installed.
fn proxy(folder: &Path, port: u16, servers: [&Site; 2]) -> Option<Child> {
    let [one, other] = servers.map(|server| server.at("").trim_start_matches("http://").to_owned());
    let place = folder.display();
    let config = format!(
        "worker_processes 1; daemon off; pid {place}/pid; error_log {place}/log;
         events {{ worker_connections 256; }}
         http {{
             access_log off; client_body_temp_path {place}/body; proxy_temp_path {place}/temp;
             upstream site {{ server {one}; server {other}; }}
             server {{ listen 127.0.0.1:{port}; location / {{ proxy_pass http://site; proxy_next_upstream off; }} }}
         }}"
    );
    fs::write(folder.join("nginx.conf"), config).unwrap();
    let mut command = Command::new("/usr/sbin/nginx");
    command.arg("-p").arg(folder).arg("-c").arg(folder.join("nginx.conf")).arg("-e").arg(folder.join("log"));
    let Ok(child) = command.stdout(Stdio::null()).stderr(Stdio::null()).spawn() else {
        assert!(!are_required(), "nginx is not installed, and REQUIRE_NEIGHBOURS=1 is set");
        eprintln!("skipped: install Debian's package `nginx-light` to run this test");
        return None;
    };
    let limit = Instant::now() + Duration::from_secs(20);
    while TcpStream::connect(("127.0.0.1", port)).is_err() {
        assert!(Instant::now() < limit, "nginx does not listen");
        std::thread::yield_now();
    }
    Some(child)
}

/// Whether a missing program is a failure: where the machine was to install them all.
fn are_required() -> bool {
    std::env::var_os("REQUIRE_NEIGHBOURS").is_some_and(|value| value == "1")
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn two_servers_change_release_under_load_and_every_page_is_of_one() {
    let fleet = Fleet::new();
    let first = fleet.deploy(1).await;
    let servers = [fleet.server("cache-1"), fleet.server("cache-2")];
    let client = client();
    for server in &servers {
        get(&client, &server.at("/")).await;
        follows(&client, server, &first).await;
    }
    let port = TcpListener::bind(("127.0.0.1", 0)).unwrap().local_addr().unwrap().port();
    let Some(mut nginx) = proxy(fleet.folder.path(), port, [&servers[0], &servers[1]]) else { return };

    let is_over = Arc::new(AtomicBool::new(false));
    let visitors: Vec<_> = (0..16)
        .map(|visitor| {
            let (client, is_over) = (client.clone(), Arc::clone(&is_over));
            tokio::spawn(async move {
                let pages = [
                    "/",
                    "/sailings/1",
                    "/cy",
                    "/cy/sailings/3",
                    "/pl",
                    "/ar/sailings/2",
                    "/en-GB/sailings/5",
                ];
                let mut seen = Vec::new();
                for turn in 0.. {
                    let path = pages[(visitor + turn) % pages.len()];
                    seen.push(version_of(&get(&client, &format!("http://127.0.0.1:{port}{path}")).await));
                    if is_over.load(Ordering::Relaxed) {
                        break;
                    }
                }
                seen
            })
        })
        .collect();
    for version in 2..=5 {
        let activation = fleet.deploy(version).await;
        for server in &servers {
            follows(&client, server, &activation).await;
        }
    }
    let back = fleet.store.roll_back().await.unwrap();
    for server in &servers {
        follows(&client, server, &back).await;
    }
    is_over.store(true, Ordering::Relaxed);
    let mut pages = Vec::new();
    for visitor in visitors {
        pages.extend(visitor.await.unwrap());
    }
    nginx.kill().unwrap();
    nginx.wait().unwrap();
    for version in 1..=5 {
        assert!(pages.contains(&version), "of {} pages none is of release {version}", pages.len());
    }
    assert_eq!(version_of(&get(&client, &servers[0].at("/pl")).await), 4);
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_server_that_is_killed_starts_again_with_or_without_its_store() {
    let fleet = Fleet::new();
    fleet.deploy(1).await;
    let client = client();
    for version in 2..=6 {
        let server = fleet.server("cache");
        get(&client, &server.at("/")).await;
        // It is killed while it may be at the new release.
        fleet.deploy(version).await;
        drop(server);
    }
    let server = fleet.server("cache");
    assert_eq!(version_of(&get(&client, &server.at("/")).await), 6);
    drop(server);

    // The store is away: its cache has what it had last, and a server without a cache has the texts of its binary.
    fs::rename(fleet.path("releases"), fleet.path("elsewhere")).unwrap();
    let server = fleet.server("cache");
    assert_eq!(version_of(&get(&client, &server.at("/cy")).await), 6);
    let health = get(&client, &server.at("/health")).await;
    assert!(health.contains("\"status\": \"stale\""), "{health}");
    let new = fleet.server("new-cache");
    let page = get(&client, &new.at("/cy")).await;
    // They are those of the default locale.
    assert!(page.contains("Sailing today: ") && !page.contains('¤'), "{page}");
    let health = get(&client, &new.at("/health")).await;
    assert!(health.contains("\"status\": \"degraded\""), "{health}");
    fs::rename(fleet.path("elsewhere"), fleet.path("releases")).unwrap();
    let activation = fleet.deploy(7).await;
    follows(&client, &server, &activation).await;
    assert_eq!(version_of(&get(&client, &server.at("/cy")).await), 7);
    follows(&client, &new, &activation).await;
    assert_eq!(version_of(&get(&client, &new.at("/cy")).await), 7);
}

/// The clock of the machine is set two years ahead, and back.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_clock_that_jumps_stops_no_release() {
    let fleet = Fleet::new();
    let first = fleet.deploy(1).await;
    let clock = fleet.path("clock");
    fs::write(&clock, "+0").unwrap();
    let library = ["x86_64", "aarch64"]
        .map(|machine| format!("/usr/lib/{machine}-linux-gnu/faketime/libfaketime.so.1"))
        .into_iter()
        .find(|path| Path::new(path).exists());
    let Some(library) = library else {
        assert!(!are_required(), "faketime is not installed, and REQUIRE_NEIGHBOURS=1 is set");
        return eprintln!("skipped: install Debian's package `faketime` to run this test");
    };
    let mut command = fleet.command(Path::new(env!("CARGO_BIN_EXE_ferry")), "cache");
    command
        .env("LD_PRELOAD", library)
        .env("FAKETIME_TIMESTAMP_FILE", &clock)
        .env("FAKETIME_NO_CACHE", "1")
        .env("FAKETIME_DONT_FAKE_MONOTONIC", "1");
    let server = Site::run(&mut command);
    let client = client();
    get(&client, &server.at("/")).await;
    follows(&client, &server, &first).await;
    for (version, jump) in [(2, "+730d"), (3, "-730d"), (4, "+0")] {
        fs::write(&clock, jump).unwrap();
        let activation = fleet.deploy(version).await;
        follows(&client, &server, &activation).await;
        assert_eq!(version_of(&get(&client, &server.at("/pl")).await), version);
    }
}
