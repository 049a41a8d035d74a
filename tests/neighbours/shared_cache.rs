//! A shared cache in front: nginx keeps what the site answers, and nobody gets another visitor's language.

use std::fs;
use std::process::Command;

use reqwest::redirect::Policy;
use reqwest::{Client, Response};
use tokio::net::TcpListener;

use crate::program::{Program, free_port};
use crate::site;

/// Debian's nginx as a cache for everything cacheable, in a folder of its own.
fn nginx(folder: &std::path::Path, port: u16, site: u16) -> Command {
    let folder_path = folder.display();
    let config = format!(
        "master_process off; daemon off; pid {folder_path}/pid; error_log {folder_path}/log;
         events {{ worker_connections 64; }}
         http {{
             access_log off; client_body_temp_path {folder_path}/body; proxy_temp_path {folder_path}/temp;
             proxy_cache_path {folder_path}/cache keys_zone=pages:1m;
             server {{
                 listen 127.0.0.1:{port};
                 location / {{
                     proxy_pass http://127.0.0.1:{site}; proxy_cache pages; proxy_cache_valid any 10m;
                     proxy_set_header Host ferries.example; add_header X-Cache $upstream_cache_status always;
                 }}
             }}
         }}"
    );
    fs::write(folder.join("nginx.conf"), config).unwrap();
    let mut command = Command::new("/usr/sbin/nginx");
    command.arg("-p").arg(folder).arg("-c").arg(folder.join("nginx.conf")).arg("-e").arg(folder.join("log"));
    command
}

fn header<'r>(response: &'r Response, name: &str) -> &'r str {
    response.headers().get(name).map_or("", |value| value.to_str().unwrap())
}

/// What a visitor gets through the cache, and whether the cache had it: `302 /cy HIT`, `200 pl słowa MISS`.
async fn got(client: &Client, address: &str, languages: &str, cookie: &str) -> String {
    let request = client.get(address).header("accept-language", languages).header("cookie", cookie);
    let response = request.send().await.unwrap();
    let (status, cache) = (response.status().as_u16(), header(&response, "x-cache").to_owned());
    let (location, language) =
        (header(&response, "location").to_owned(), header(&response, "content-language").to_owned());
    let body = response.text().await.unwrap();
    assert!(
        location.is_empty() != body.is_empty() && body.starts_with(&language),
        "{location} {language} {body}"
    );
    format!("{status} {location}{body} {cache}")
}

async fn behind_the_cache(config: &str) -> Option<(String, Program, tempfile::TempDir)> {
    let listener = TcpListener::bind(("127.0.0.1", 0)).await.unwrap();
    let site_port = listener.local_addr().unwrap().port();
    let app = site(config);
    tokio::spawn(async move { axum::serve(listener, app).await });
    let folder = tempfile::tempdir().unwrap();
    let port = free_port();
    let program = Program::start(&mut nginx(folder.path(), port, site_port), "nginx", port)?;
    Some((format!("http://127.0.0.1:{port}"), program, folder))
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn one_address_in_many_languages_is_kept_once_for_each() {
    let config =
        "default = 'en'\nlocales = ['en', 'cy', 'pl']\n[policy]\nsources = ['cookie', 'accept-language']\n";
    let Some((site, _program, _folder)) = behind_the_cache(config).await else { return };
    let client = Client::builder().redirect(Policy::none()).no_proxy().build().unwrap();
    let page = format!("{site}/sailings");
    for (languages, cookie, expected) in [
        ("en", "", "200 en words MISS"),
        ("cy", "", "200 cy geiriau MISS"),
        ("en", "", "200 en words HIT"),
        ("cy", "", "200 cy geiriau HIT"),
        ("cy", "locale=pl", "200 pl słowa MISS"),
        ("cy", "locale=en", "200 en words MISS"),
        ("cy", "locale=pl", "200 pl słowa HIT"),
    ] {
        assert_eq!(got(&client, &page, languages, cookie).await, expected, "{languages} {cookie}");
    }
    // In whatever order visitors come.
    let languages =
        [("en", "en words"), ("cy", "cy geiriau"), ("pl", "pl słowa"), ("ja, pl;q=0.1", "pl słowa")];
    for turn in 0..200 {
        let (header, words) = languages[turn * 7 % languages.len()];
        let answer = got(&client, &format!("{site}/{}", turn % 5), header, "").await;
        assert!(answer.contains(words), "{header}: {answer}");
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn an_address_with_its_language_is_kept_once_for_all_and_a_redirect_for_nobody() {
    let config = "default = 'en'\nlocales = ['en', 'cy', 'pl']\n";
    let Some((site, _program, _folder)) = behind_the_cache(config).await else { return };
    let client = Client::builder().redirect(Policy::none()).no_proxy().build().unwrap();
    for (path, languages, cookie, expected) in [
        ("/cy/sailings", "en", "", "200 cy geiriau MISS"),
        ("/cy/sailings", "pl", "locale=en", "200 cy geiriau HIT"),
        ("/sailings", "cy", "", "200 en words MISS"),
        ("/sailings", "pl", "", "200 en words HIT"),
        ("/", "pl", "", "302 /pl MISS"),
        ("/", "pl", "", "302 /pl MISS"),
        ("/", "cy", "", "302 /cy MISS"),
        ("/", "cy", "locale=pl", "302 /pl MISS"),
        ("/", "en", "", "200 en words MISS"),
        ("/", "en", "", "200 en words HIT"),
        ("/", "cy", "", "302 /cy MISS"),
        // The one address of a page is the same for everybody.
        ("/CY/sailings", "en", "", "308 /cy/sailings MISS"),
        ("/CY/sailings", "pl", "", "308 /cy/sailings HIT"),
    ] {
        assert_eq!(
            got(&client, &format!("{site}{path}"), languages, cookie).await,
            expected,
            "{path} {languages} {cookie}"
        );
    }
}
