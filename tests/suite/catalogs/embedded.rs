//! Catalogs in the binary.

use crow_fly::source::{CatalogSource, Embedded, EmbeddedFile};
use crow_fly_core::catalog::FileFormat;

use crate::catalogs::{answer, crow, pages, said};

static FILES: &[EmbeddedFile] = &[
    EmbeddedFile::new("en/home.toml", "title = 'Ferries'"),
    EmbeddedFile::new("cy.json", "{ \"home\": { \"title\": \"Fferïau\" } }"),
    EmbeddedFile::new("de/home.toml", "title = 'Fähren'"),
    EmbeddedFile::new("en/home page.toml", ""),
];

#[tokio::test]
async fn what_is_in_the_binary_is_served_and_the_rest_is_found() {
    let crow = crow(Embedded::new(FILES), "inherits = ['pl']");
    let app = crow.router(pages());
    for (path, text) in [("/", "Ferries"), ("/cy", "Fferïau"), ("/pl", "Ferries")] {
        assert_eq!(said(&app, path).await, answer(200, text, ""), "{path}");
    }
    let found: Vec<String> =
        crow.load_all().await.unwrap_err().findings().iter().map(|finding| finding.text.clone()).collect();
    assert_eq!(
        found,
        [
            // An error comes first, as from a folder.
            "`embedded: en/home page.toml` is not read: its name cannot name a section",
            "`embedded: de/home.toml` is not read: the configuration has no locale `de`",
        ]
    );
    let absent = Embedded::new(FILES).list(&["en".to_owned(), "pl".to_owned()]).wait().await.unwrap();
    assert_eq!(absent.absent(), ["pl"]);
}

#[cfg(debug_assertions)]
#[tokio::test]
async fn while_developing_the_folder_is_read() {
    let folder = tempfile::tempdir().unwrap();
    for locale in ["en", "cy", "pl"] {
        std::fs::create_dir(folder.path().join(locale)).unwrap();
        std::fs::write(folder.path().join(locale).join("home.toml"), "title = 'From the folder'").unwrap();
    }
    let crow = crow(Embedded::new(FILES).while_developing(folder.path()), "");
    assert_eq!(said(&crow.router(pages()), "/").await, answer(200, "From the folder", ""));
}

/// The build script lists what the library reads: every format, and nothing else.
#[test]
fn a_build_script_embeds_every_format() {
    let folder = tempfile::tempdir().unwrap();
    let names = FileFormat::ALL.iter().map(|format| format.extension()).chain(["md", "xlf"]);
    for extension in names {
        std::fs::write(folder.path().join(format!("en.{extension}")), "").unwrap();
    }
    let code = crow_fly_embed::code(folder.path()).unwrap();
    assert_eq!(code.matches("EmbeddedFile::new(").count(), FileFormat::ALL.len(), "{code}");
}
