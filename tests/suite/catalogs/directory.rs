//! Catalogs on a real disk: what is read, what is found, and what cannot do harm.

use std::fs;
use std::path::Path;

use crow_fly::source::{CatalogSource, Directory, ListedFile};
use crow_fly::source::{Memory, Overlay};
use crow_fly::{Config, CrowFly};
use crow_fly_core::finding::Severity;

use crate::catalogs::{CONFIG, answer, crow, pages, said};

/// Files below a folder of their own.
fn folder(files: &[(&str, &[u8])]) -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    for (path, bytes) in files {
        write(folder.path(), path, bytes);
    }
    folder
}

fn write(folder: &Path, path: &str, bytes: &[u8]) {
    let path = folder.join(path);
    fs::create_dir_all(path.parent().unwrap()).unwrap();
    fs::write(path, bytes).unwrap();
}

fn locales() -> Vec<String> {
    ["en", "en-GB", "cy"].map(str::to_owned).to_vec()
}

/// A folder that the suite of all sources writes to, and the source that reads it.
struct Written(tempfile::TempDir, fn(Directory) -> Box<dyn CatalogSource>);

impl crow_fly::source::conformance::Fixture for Written {
    fn source(&self) -> Box<dyn CatalogSource> {
        self.1(Directory::new(self.0.path()))
    }

    fn write(&self, locale: &str, section: &str, bytes: &[u8]) {
        write(self.0.path(), &format!("{locale}/{section}.toml"), bytes);
    }

    fn remove(&self, locale: &str) {
        fs::remove_dir_all(self.0.path().join(locale)).unwrap();
    }
}

#[tokio::test]
async fn a_folder_keeps_the_contract_of_sources() {
    let sources: [fn(Directory) -> Box<dyn CatalogSource>; 4] = [
        |directory| Box::new(directory),
        // Boxes and pointers of sources are sources, and so is one above nothing, or below it.
        |directory| Box::new(std::sync::Arc::new(directory)),
        |directory| Box::new(Overlay::new(directory).over(Memory::default())),
        |directory| Box::new(Overlay::new(Memory::default()).over(directory)),
    ];
    for source in sources {
        let folder = Written(tempfile::tempdir().unwrap(), source);
        assert_eq!(crow_fly::source::conformance::failures(&folder).await, [""; 0]);
    }
}

/// The findings of a folder, its own name left out.
fn found(folder: &Path) -> String {
    let listing = Directory::new(folder).list_blocking(&locales()).unwrap();
    let told = listing.findings().iter().map(|finding| {
        format!(
            "{} {}[{}] {}; {}",
            finding.locale, finding.severity, finding.rule, finding.text, finding.help
        )
    });
    let root = format!("{}/", folder.display());
    told.collect::<Vec<_>>().join("\n").replace(&root, "")
}

#[test]
fn nothing_is_left_out_in_silence() {
    let folder = folder(&[
        ("en/home.toml", b"title = 'x'"),
        ("en/home.json", b"{}"),
        ("en/home page.toml", b""),
        ("en/notes.txt", b""),
        ("en/.hidden", b""),
        ("en/old/home.toml", b""),
        ("en_gb/home.toml", b""),
        ("CY/home.toml", b""),
        ("fr/home.toml", b""),
        ("kw.toml", b""),
        ("README.md", b""),
        (".git/config", b""),
    ]);
    insta::assert_snapshot!(found(folder.path()), @"
    cy warning[unknown-folder] `CY` is not read: the locale `cy` is written like this; rename it: `cy`
     note[other-file] `README.md` is not a catalog, and is not read; catalogs end in `.toml` or `.json`
    en error[section-name] `en/home page.toml` is not read: its name cannot name a section; rename it: ASCII letters, digits, `-` and `_`
    en note[other-file] `en/notes.txt` is not a catalog, and is not read; catalogs end in `.toml` or `.json`
    en warning[unknown-folder] `en/old` is not read: the folder of a locale has no folders in it; move its files up; a group of messages is a table in a file
    en error[duplicate-section] `en/home.json` is not read: `en/home.toml` is the same section; delete one of the two, or move its messages to the other
    en-GB warning[unknown-folder] `en_gb` is not read: the locale `en-GB` is written like this; rename it: `en-GB`
     warning[unknown-folder] `fr` is not read: the configuration has no locale `fr`; add the locale to `locales` or `catalog-only` in the configuration, or delete it
     warning[unknown-file] `kw.toml` is not read: the configuration has no locale `kw`; add the locale to `locales` or `catalog-only` in the configuration, or delete it
    ");
    let listing = Directory::new(folder.path()).list_blocking(&locales()).unwrap();
    assert_eq!(listing.files().len(), 1);
    assert_eq!(listing.absent(), ["en-GB", "cy"]);
}

#[tokio::test]
async fn a_locale_has_one_file_or_many_in_toml_or_json() {
    let folder = folder(&[
        (
            "en.toml",
            b"[home]\ntitle = 'Ferries'\n[home.seats]\nleft = 'Seats left'\n[booking]\ntitle = 'Book'",
        ),
        ("cy/home.json", "{ \"title\": \"Fferïau\", \"seats.left\": \"Seddi\" }".as_bytes()),
        ("pl/home.toml", "\u{feff}title = 'Promy'".as_bytes()),
    ]);
    let crow = crow(Directory::new(folder.path()), "");
    let app = crow.router(pages());
    for (path, text) in [
        ("/say/home.seats.left", "Seats left"),
        ("/say/booking.title", "Book"),
        ("/cy", "Fferïau"),
        ("/cy/say/home.seats.left", "Seddi"),
        ("/cy/say/booking.title", "Book"),
        ("/pl", "Promy"),
    ] {
        assert_eq!(said(&app, path).await, answer(200, text, ""), "{path}");
    }
    let t = crow.translator(&"cy".parse().unwrap()).await.unwrap();
    assert_eq!(t.keys("home").unwrap(), ["home.title", "home.seats.left"]);
    assert_eq!(t.keys("booking").unwrap(), ["booking.title"]);
    assert_eq!(crow.load_all().await.unwrap(), []);
    // Each file is there once; one with all sections has no name.
    let health = crow.health();
    let files = health.locales.iter().flat_map(|locale| &locale.sections);
    let files: Vec<_> = files.map(|file| (file.section.as_str(), file.messages)).collect();
    assert_eq!(files, [("", Some(3)), ("home", Some(2)), ("home", Some(1))]);
    assert_eq!(health.loads, 3);
    // The same for declared sections.
    let declared = self::crow(Directory::new(folder.path()), "eager = ['home']");
    assert_eq!(said(&declared.router(pages()), "/cy").await, answer(200, "Fferïau", ""));
}

#[tokio::test]
async fn one_bad_entry_costs_its_section_and_nothing_else() {
    let folder = folder(&[("en/home.toml", b"title = 'Ferries'"), ("en/latin.toml", b"title = 'caf\xe9'")]);
    let catalogs = folder.path();
    for locale in ["cy", "pl"] {
        write(catalogs, &format!("{locale}/home.toml"), b"title = 'x'");
    }
    fs::create_dir(catalogs.join("en/folder.toml")).unwrap();
    fs::write(catalogs.join("en/large.toml"), vec![b'#'; 9 * 1024 * 1024]).unwrap();
    #[cfg(unix)]
    {
        std::os::unix::fs::symlink("nowhere.toml", catalogs.join("en/dangling.toml")).unwrap();
        std::os::unix::fs::symlink("/dev/zero", catalogs.join("en/endless.toml")).unwrap();
        std::os::unix::fs::symlink("home.toml", catalogs.join("en/linked.toml")).unwrap();
        // A pipe that nobody writes to would be waited for without end.
        assert!(
            std::process::Command::new("mkfifo")
                .arg(catalogs.join("en/pipe.toml"))
                .status()
                .unwrap()
                .success()
        );
    }
    let crow = crow(Directory::new(catalogs), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", "no-store"));
    #[cfg(unix)]
    assert_eq!(said(&app, "/say/linked.title").await.1, "Ferries");
    let root = format!("{}/", catalogs.display());
    let error = crow.load_all().await.unwrap_err().to_string().replace(&root, "");
    #[cfg(unix)]
    insta::assert_snapshot!(error, @"
    the catalogs have 6 errors:
      en/dangling: en/dangling.toml cannot be read: No such file or directory (os error 2); put a regular file in its place, and let the server read it; it is tried again
      en/endless: en/endless.toml cannot be read: it is not a regular file; put a regular file in its place, and let the server read it; it is tried again
      en/folder: en/folder.toml cannot be read: it is not a regular file; put a regular file in its place, and let the server read it; it is tried again
      en/large:1:1: the file has 8388609 bytes; 8388608 are read at most; split the section into several files
      en/latin:1:13: the file is not UTF-8: byte 13 does not belong to a character; save the file as UTF-8
      en/pipe: en/pipe.toml cannot be read: it is not a regular file; put a regular file in its place, and let the server read it; it is tried again
    ");
}

#[cfg(unix)]
#[test]
fn a_file_is_read_as_it_was_listed_or_not_at_all() {
    let folder = folder(&[("en/home.toml", b"title = 'Ferries'")]);
    let directory = Directory::new(folder.path());
    let listing = directory.list_blocking(&locales()).unwrap();
    let file = &listing.files()[0];
    assert_eq!(directory.read_blocking(file).unwrap(), b"title = 'Ferries'");
    write(folder.path(), "en/home.toml", b"title = 'New ferries'");
    assert!(directory.read_blocking(file).unwrap_err().is_changed());
    fs::remove_file(folder.path().join("en/home.toml")).unwrap();
    assert!(!directory.read_blocking(file).unwrap_err().is_changed());
    let gone = Directory::new(folder.path().join("nowhere"));
    assert!(gone.list_blocking(&locales()).is_err());
}

#[tokio::test]
async fn a_folder_that_is_not_mounted_yet_is_not_a_site_without_texts() {
    let parent = tempfile::tempdir().unwrap();
    let crow = crow(Directory::new(parent.path().join("catalogs")), "");
    let app = crow.router(pages());
    assert_eq!(said(&app, "/").await, answer(503, "", "no-store"));
    for locale in ["en", "cy", "pl"] {
        write(parent.path(), &format!("catalogs/{locale}/home.toml"), b"title = 'Ferries'");
    }
    crow.reload().await.unwrap();
    assert_eq!(said(&app, "/").await, answer(200, "Ferries", ""));
}

#[test]
fn a_file_is_found_below_the_folder_as_that_is_written() {
    let folder = folder(&[("en/home.toml", b"title = 'Ferries'"), ("cy.json", b"{}")]);
    let root = folder.path().display().to_string();
    for written in [root.clone(), format!("{root}/")] {
        let listing = Directory::new(&written).list_blocking(&locales()).unwrap();
        let origins: Vec<String> = listing.files().iter().map(ListedFile::origin).collect();
        assert_eq!(origins, [format!("{root}/en/home.toml"), format!("{root}/cy.json")]);
    }
}

/// A listed file whose names no listing has checked: it cannot lead out of the folder by its section's name alone, since
/// the names of a listing come from the folder itself.
#[tokio::test]
async fn a_read_is_only_of_what_is_listed() {
    let folder = folder(&[("en/home.toml", b"title = 'Ferries'")]);
    let directory = Directory::new(folder.path().join("en"));
    let file = ListedFile::section("..", "home", crow_fly_core::catalog::FileFormat::Toml, 7);
    assert!(directory.read(&file).wait().await.is_err());
}

#[tokio::test(flavor = "multi_thread")]
async fn in_development_the_system_tells_of_changes() {
    let folder =
        folder(&[("en/home.toml", b"title = 'first'"), ("cy/home.toml", b""), ("pl/home.toml", b"")]);
    let config = Config::parse(&format!("development = true\n{CONFIG}")).unwrap();
    let crow = CrowFly::new(config, Directory::new(folder.path()));
    let app = crow.router(pages());
    assert_eq!(said(&app, "/").await.1, "first");
    write(folder.path(), "en/home.toml", b"title = 'and the second'");
    // The system takes a moment to tell.
    let told = async {
        while said(&app, "/").await.1 != "and the second" {
            tokio::task::yield_now().await;
        }
    };
    tokio::time::timeout(std::time::Duration::from_secs(10), told).await.unwrap();
}

#[test]
fn severities_tell_what_costs_texts() {
    let folder = folder(&[
        ("en/home.toml", b""),
        ("en/home page.toml", b""),
        ("fr/home.toml", b""),
        ("README.md", b""),
    ]);
    let listing = Directory::new(folder.path()).list_blocking(&locales()).unwrap();
    let severities: Vec<Severity> = listing.findings().iter().map(|finding| finding.severity).collect();
    assert_eq!(severities, [Severity::Note, Severity::Error, Severity::Warning]);
}

#[tokio::test]
async fn a_new_finding_needs_no_new_generation() {
    let folder = folder(&[("en/home.toml", b"title = 'x'"), ("cy/home.toml", b""), ("pl/home.toml", b"")]);
    let crow = crow(Directory::new(folder.path()), "");
    crow.load_all().await.unwrap();
    write(folder.path(), "cy/home page.toml", b"");
    crow.reload().await.unwrap();
    let health = crow.health();
    assert_eq!((health.generation, health.findings.len()), (Some(1), 1));
    assert!(health.findings[0].contains("home page.toml` is not read"), "{:?}", health.findings);
    let error = crow.load_all().await.unwrap_err();
    assert_eq!(error.findings()[0].rule.id(), "section-name");
}

/// A file that is replaced by one of the same size and time, as `rsync -t` and images of containers do it, is another file.
#[cfg(unix)]
#[tokio::test]
async fn a_file_of_the_same_size_and_time_is_a_change() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("en/home.toml");
    fs::create_dir(folder.path().join("en")).unwrap();
    fs::write(&path, "title = 'Curlew'").unwrap();
    let time = fs::metadata(&path).unwrap().modified().unwrap();
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en']").unwrap();
    let crow = CrowFly::new(config, Directory::new(folder.path()));
    assert_eq!(crow.translator_for("en").await.text("home.title"), "Curlew");
    let new = folder.path().join("en/.home.toml.new");
    fs::write(&new, "title = 'Avocet'").unwrap();
    fs::File::options().write(true).open(&new).unwrap().set_modified(time).unwrap();
    fs::rename(&new, &path).unwrap();
    assert_eq!(fs::metadata(&path).unwrap().modified().unwrap(), time);
    crow.reload().await.unwrap();
    assert_eq!(crow.translator_for("en").await.text("home.title"), "Avocet");
}
