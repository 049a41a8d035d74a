//! Pages ahead of time: what is written, what is refused and why, what is left of an earlier time.

use std::fs;
use std::path::Path;

use axum::Router;
use axum::response::{Html, IntoResponse, Redirect};
use axum::routing::get;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Translator};

const ENGLISH: &str = "title = 'Ferries'\nhelp = 'Help'\nonly = 'Only here'";
const WELSH: &str = "title = 'Llongau'\nhelp = 'Cymorth'";

fn crow(more: &str) -> CrowFly {
    let config =
        format!("origin = 'https://ferries.example'\ndefault = 'en'\nlocales = ['en', 'cy']\n{more}");
    let catalogs = Memory::new([("en", "home", ENGLISH), ("cy", "home", WELSH)]);
    CrowFly::new(Config::parse(&config).unwrap(), catalogs)
}

fn site(crow: &CrowFly) -> Router {
    let with = |name: &'static str, value: &'static str| {
        get(async move |t: Translator| ([(name, value)], Html(t.text("home.title"))))
    };
    let pages = Router::new()
        .route("/", get(async |t: Translator| Html(t.text("home.title"))))
        .route("/help/{topic}", get(async |t: Translator| Html(t.text("home.help"))))
        .route("/cookie", with("set-cookie", "visit=1; Path=/"))
        .route("/private", with("cache-control", "max-age=60, Private"))
        .route("/no-store", with("cache-control", "no-store"))
        .route("/other", with("content-language", "de"))
        .route("/small", with("content-encoding", "gzip"))
        .route("/missing", get(async |t: Translator| Html(t.text("home.missing"))))
        .route("/only", get(async |t: Translator| Html(t.text("home.only"))))
        .route("/away", get(async |t: Translator| Redirect::to(&t.path("/"))))
        .route("/gone", get(async || http::StatusCode::GONE.into_response()))
        .route("/host", get(async |headers: http::HeaderMap| Html(format!("{:?}", headers["host"]))))
        .route("/feed.xml", get(async || ([("content-type", "application/xml")], "<feed/>")));
    crow.router(pages)
}

/// The files of a folder, by path.
fn files(folder: &Path) -> Vec<String> {
    let mut found = Vec::new();
    let mut open = vec![folder.to_owned()];
    while let Some(next) = open.pop() {
        for entry in fs::read_dir(next).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                open.push(path);
            } else {
                found.push(path.strip_prefix(folder).unwrap().display().to_string());
            }
        }
    }
    found.sort();
    found
}

#[tokio::test]
async fn what_is_the_same_for_every_visitor_is_written_and_the_rest_is_refused_with_the_reason() {
    let crow = crow("");
    let folder = tempfile::tempdir().unwrap();
    let pages = [
        "/",
        "/help/a b",
        "/help/%C5%82",
        "/cookie",
        "/private",
        "/no-store",
        "/other",
        "/small",
        "/missing",
        "/only",
        "/away",
        "/gone",
        "/nowhere",
        "/host",
        "/feed.xml",
        "/help/x?day=2",
        "/help/..%2f..%2fetc",
        "/help/a%5Cb",
        "//evil",
        "/",
        "no path",
    ];
    let pages = pages.map(|page| page.replace(' ', "%20"));
    let written = crow.write_pages(site(&crow), &pages, folder.path()).await.unwrap();
    insta::assert_snapshot!(written);
    insta::assert_snapshot!(files(folder.path()).join("\n"));
    let content = |file: &str| fs::read_to_string(folder.path().join(file)).unwrap();
    assert_eq!(
        (content("cy/index.html"), content("cy/help/ł/index.html")),
        ("Llongau".to_owned(), "Cymorth".to_owned())
    );
    assert_eq!(content("host/index.html"), "\"ferries.example\"");
}

#[tokio::test]
async fn what_has_changed_is_written_and_what_is_no_longer_a_page_is_removed() {
    let crow = crow("");
    let folder = tempfile::tempdir().unwrap();
    let write = async |pages: &[&str]| {
        let written = crow.write_pages(site(&crow), pages, folder.path()).await.unwrap();
        written.to_string()
    };
    write(&["/", "/help/a"]).await;
    fs::write(folder.path().join("cy/index.html"), "old").unwrap();
    // Files of others stay; a list that somebody has changed leads nowhere else.
    fs::write(folder.path().join("robots.txt"), "").unwrap();
    let outside = folder.path().with_extension("outside");
    fs::write(&outside, "").unwrap();
    let list = folder.path().join("written-pages.txt");
    let evil = format!("../{}\n{}\n", outside.file_name().unwrap().display(), outside.display());
    fs::write(
        &list,
        fs::read_to_string(&list).unwrap() + &evil + "written-pages.txt\nnot-there/index.html\n",
    )
    .unwrap();
    insta::assert_snapshot!(write(&["/", "/private"]).await);
    assert!(outside.exists());
    fs::remove_file(outside).unwrap();
    assert_eq!(files(folder.path()), ["cy/index.html", "index.html", "robots.txt", "written-pages.txt"]);
    assert_eq!(fs::read_to_string(list).unwrap(), "cy/index.html\nindex.html\n");
    // A page that becomes private is removed.
    write(&["/", "/help/a"]).await;
    let private = Router::new().fallback(async || ([("cache-control", "private")], Html("for you")));
    let written = crow.write_pages(private, ["/", "/help/a"], folder.path()).await.unwrap();
    assert_eq!((written.written().count(), written.refused().count(), written.removed().count()), (0, 4, 4));
}

#[tokio::test]
async fn a_folder_that_cannot_be_written_is_an_error_that_names_the_file() {
    let crow = crow("");
    let folder = tempfile::tempdir().unwrap();
    fs::create_dir_all(folder.path().join("cy/index.html")).unwrap();
    let error = crow.write_pages(site(&crow), ["/"], folder.path()).await.unwrap_err();
    assert!(error.to_string().contains("cy/index.html: "), "{error}");
}

#[tokio::test]
async fn an_address_of_several_languages_a_base_and_a_text_that_may_fall_back() {
    let folder = tempfile::tempdir().unwrap();
    let shared = crow("[policy]\nsources = ['cookie', 'accept-language']\n");
    let written = shared.write_pages(site(&shared), ["/", "/help/a"], folder.path()).await.unwrap();
    assert_eq!(written.refused().map(|(address, _)| address).collect::<Vec<_>>(), ["/", "/help/a"]);
    let below = crow(
        "[policy]\nbase = '/shop'\nbase-stripped = true\nbare-default = true\n[catalogs]\nmay-fall-back = ['home']\n",
    );
    let written = below.write_pages(site(&below), ["/", "/only"], folder.path()).await.unwrap();
    let written: Vec<&str> = written.written().collect();
    assert_eq!(
        written,
        ["shop/index.html", "shop/cy/index.html", "shop/cy/only/index.html", "shop/only/index.html"]
    );
}
