//! The demo's pages ahead of time: what is written is what is served, and a web server serves it.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

#[path = "../../../tests/neighbours/program.rs"]
mod neighbour;
mod program;

use std::fs;
use std::path::Path;
use std::process::Command;

use neighbour::{Program, free_port};
use program::Site;
use reqwest::Client;
use reqwest::redirect::Policy;

fn written(folder: &Path) -> String {
    let mut command = Command::new(env!("CARGO_BIN_EXE_ferry"));
    let output = command.arg("--write-pages").arg(folder).env("RUST_LOG", "error").output().unwrap();
    assert!(output.status.success(), "{output:?}");
    String::from_utf8(output.stdout).unwrap()
}

/// A page without the link that names one request: there is one in development.
fn without_link(page: &str) -> String {
    let Some((before, rest)) = page.split_once("<a class=\"inspector\"") else { return page.to_owned() };
    format!("{before}{}", rest.split_once("</a>").unwrap().1)
}

#[tokio::test]
async fn the_files_are_the_served_pages() {
    let folder = tempfile::tempdir().unwrap();
    let first = written(folder.path());
    assert!(first.lines().all(|line| line.contains(": written to ")), "{first}");
    // All again: nothing has changed.
    let again = written(folder.path());
    assert!(again.lines().all(|line| line.contains(": unchanged in ")), "{again}");
    let list = fs::read_to_string(folder.path().join("written-pages.txt")).unwrap();
    assert_eq!((list.lines().count(), first.lines().count()), (40, 40));
    let (site, client) = (Site::open(), Client::builder().no_proxy().build().unwrap());
    for line in first.lines() {
        let (address, file) = line.split_once(": written to ").unwrap();
        assert!(list.lines().any(|listed| listed == file), "{file}");
        let page = client.get(site.at(address)).send().await.unwrap().text().await.unwrap();
        assert_eq!(fs::read_to_string(folder.path().join(file)).unwrap(), without_link(&page), "{address}");
    }
}

/// The configuration of nginx in the documentation.
fn configuration(folder: &Path, port: u16, site: &str, pages: &Path) -> String {
    let docs = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/browser.md");
    let docs = fs::read_to_string(docs).unwrap();
    let of_docs = docs.split("```nginx\n").nth(1).unwrap().split("```").next().unwrap();
    let of_docs = of_docs
        .replace("listen 80;", &format!("listen 127.0.0.1:{port};"))
        .replace("http://127.0.0.1:4080", site)
        .replace("/srv/pages", &pages.display().to_string());
    let place = folder.display();
    format!(
        "master_process off; daemon off; pid {place}/pid; error_log {place}/log;
         events {{ worker_connections 64; }}
         http {{ access_log off; client_body_temp_path {place}/body; proxy_temp_path {place}/temp;
                 types {{ text/html html; }} {of_docs} }}"
    )
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_web_server_serves_them_and_asks_the_application_for_the_rest() {
    let (folder, pages, site) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap(), Site::open());
    written(pages.path());
    // What comes from a file says so, for this test.
    let marked = pages.path().join("cy/sailings/3/index.html");
    fs::write(&marked, fs::read_to_string(&marked).unwrap() + "<!-- a file -->").unwrap();
    fs::set_permissions(pages.path(), std::os::unix::fs::PermissionsExt::from_mode(0o755)).unwrap();
    let (place, port) = (folder.path(), free_port());
    fs::write(place.join("nginx.conf"), configuration(place, port, &site.at(""), pages.path())).unwrap();
    let mut nginx = Command::new("/usr/sbin/nginx");
    nginx.arg("-p").arg(place).arg("-c").arg(place.join("nginx.conf")).arg("-e").arg(place.join("log"));
    let Some(_nginx) = Program::start(&mut nginx, "nginx-light", port) else { return };
    let client = Client::builder().redirect(Policy::none()).no_proxy().build().unwrap();
    let at = |path: &str| format!("http://127.0.0.1:{port}{path}");
    let get = async |path: &str| {
        let answer = client.get(at(path)).header("accept-language", "pl").send().await.unwrap();
        let (status, headers) = (answer.status().as_u16(), answer.headers().clone());
        (status, headers, answer.text().await.unwrap())
    };
    let (status, headers, page) = get("/cy/sailings/3").await;
    assert!(
        status == 200 && page.contains("<html lang=\"cy\"") && page.ends_with("<!-- a file -->"),
        "{page}"
    );
    assert!(headers["content-type"].to_str().unwrap().starts_with("text/html"));
    // The first page leads to the visitor's language; what is no file is the application's; so is a form, and a filter.
    let (status, headers, _) = get("/").await;
    assert_eq!((status, headers["location"].to_str().unwrap()), (302, "/pl"));
    let (status, _, page) = get("/cy/trip").await;
    assert!(status == 200 && page.contains("<html lang=\"cy\""));
    assert_eq!(get("/cy/sailings/99").await.0, 404);
    let (_, _, page) = get("/cy?boat=Avocet").await;
    assert!(page.contains("Avocet") && !page.contains("Sandpiper"), "{page}");
    let form = client
        .post(at("/cy/sailings/3"))
        .header("content-type", "application/x-www-form-urlencoded")
        .body("name=&seats=1");
    assert_eq!(form.send().await.unwrap().status(), 422);
    let (status, headers, _) = get("/texts/crow-fly.js").await;
    assert_eq!((status, headers["cache-control"].to_str().unwrap()), (200, "no-cache"));
}
