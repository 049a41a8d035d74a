//! The code that a build script writes.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::path::Path;

fn write(folder: &Path, path: &str) {
    let path = folder.join(path);
    std::fs::create_dir_all(path.parent().unwrap()).unwrap();
    std::fs::write(path, "").unwrap();
}

#[test]
fn every_catalog_of_the_folder_is_in_it_in_one_order() {
    let folder = tempfile::tempdir().unwrap();
    for path in ["en/home.toml", "en/booking.json", "cy.toml", "en/notes.txt", ".git/x.toml", "pl/home.toml"]
    {
        write(folder.path(), path);
    }
    let root = folder.path().canonicalize().unwrap();
    let code = crow_fly_embed::code(folder.path()).unwrap().replace(root.to_str().unwrap(), "");
    insta::assert_snapshot!(code, @r#"
    // Written by a build script from .
    {
        static FILES: &[::crow_fly::source::EmbeddedFile] = &[
            ::crow_fly::source::EmbeddedFile::new("cy.toml", ::core::include_str!("/cy.toml")),
            ::crow_fly::source::EmbeddedFile::new("en/booking.json", ::core::include_str!("/en/booking.json")),
            ::crow_fly::source::EmbeddedFile::new("en/home.toml", ::core::include_str!("/en/home.toml")),
            ::crow_fly::source::EmbeddedFile::new("pl/home.toml", ::core::include_str!("/pl/home.toml")),
        ];
        ::crow_fly::source::Embedded::new(FILES)
    }
    "#);
}

#[test]
fn a_folder_without_catalogs_is_an_error() {
    let folder = tempfile::tempdir().unwrap();
    write(folder.path(), "README.md");
    let error = crow_fly_embed::code(folder.path()).unwrap_err().to_string();
    assert!(error.ends_with("has no catalogs"), "{error}");
    let error = crow_fly_embed::code(&folder.path().join("nowhere")).unwrap_err().to_string();
    assert!(error.contains("nowhere cannot be read: "), "{error}");
}
