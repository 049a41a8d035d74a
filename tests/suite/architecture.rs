//! What `docs/architecture.md` says of crates and modules holds, and what the documentation links to is there.

use std::fs;
use std::path::{Path, PathBuf};

pub(crate) fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("..").canonicalize().unwrap()
}

/// All files below a folder with an extension.
pub(crate) fn files(folder: &Path, extension: &str, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            files(&path, extension, found);
        } else if path.extension().is_some_and(|known| known == extension) {
            found.push(path);
        }
    }
}

/// The crates of this repository that one depends on, tests aside.
fn dependencies(name: &str) -> Vec<String> {
    let manifest = fs::read_to_string(root().join("crates").join(name).join("Cargo.toml")).unwrap();
    let (_, rest) = manifest.split_once("\n[dependencies]\n").unwrap_or(("", ""));
    let section = rest.split("\n[").next().unwrap();
    let names = section.lines().filter_map(|line| line.split(['.', ' ']).next());
    names.filter(|name| name.starts_with("crow-fly")).map(str::to_owned).collect()
}

#[test]
fn dependencies_point_one_way() {
    for (name, expected) in [
        ("crow-fly-cldr", &[][..]),
        ("crow-fly-core", &["crow-fly-cldr"]),
        ("crow-fly", &["crow-fly-core"]),
        ("crow-fly-embed", &["crow-fly-cldr"]),
        ("crow-fly-codegen", &["crow-fly-core", "crow-fly-embed"]),
        ("crow-fly-cli", &["crow-fly-codegen", "crow-fly-core", "crow-fly"]),
    ] {
        assert_eq!(dependencies(name), expected, "{name}");
    }
}

#[test]
fn the_core_and_the_data_have_no_standard_library() {
    for name in ["crow-fly-cldr", "crow-fly-core"] {
        let source = root().join("crates").join(name).join("src");
        assert!(fs::read_to_string(source.join("lib.rs")).unwrap().contains("#![no_std]"), "{name}");
        let mut modules = Vec::new();
        files(&source, "rs", &mut modules);
        for path in modules {
            let text = fs::read_to_string(&path).unwrap();
            assert!(!text.contains("extern crate std"), "{}", path.display());
        }
    }
}

/// What the compiler cannot hold: the page of the configuration names every source of locales.
#[test]
fn every_source_of_locales_is_documented() {
    let page = fs::read_to_string(root().join("docs/configuration.md")).unwrap();
    for source in crow_fly::config::LocaleSource::ALL {
        assert!(
            page.contains(&format!("`\"{source}\"`")) || page.contains(&format!("`{source}`")),
            "{source}"
        );
    }
}

#[test]
fn what_documents_link_to_is_there() {
    let root = root();
    let mut documents = Vec::new();
    files(&root.join("docs"), "md", &mut documents);
    for name in ["README.md", "CONTRIBUTING.md", "SECURITY.md", "CHANGELOG.md"] {
        documents.push(root.join(name));
    }
    let mut links = 0;
    for document in documents {
        let text = fs::read_to_string(&document).unwrap();
        for link in text.split("](").skip(1).filter_map(|rest| rest.split(')').next()) {
            let (path, heading) = link.split_once('#').unwrap_or((link, ""));
            if path.contains("://") || path.contains(char::is_whitespace) {
                continue;
            }
            let target =
                if path.is_empty() { document.clone() } else { document.parent().unwrap().join(path) };
            assert!(target.exists(), "{} links to {link}", document.display());
            links += 1;
            if !heading.is_empty() && target.extension().is_some_and(|extension| extension == "md") {
                let headings = fs::read_to_string(&target).unwrap();
                let is_there =
                    headings.lines().filter(|line| line.starts_with('#')).any(|line| slug(line) == heading);
                assert!(is_there, "{} links to {link}", document.display());
            }
        }
    }
    assert!(links > 100, "{links}");
}

/// A heading as links write it.
fn slug(heading: &str) -> String {
    let text = heading.trim_start_matches('#').trim().to_lowercase();
    let kept = text.chars().filter(|letter| letter.is_alphanumeric() || matches!(letter, ' ' | '-' | '_'));
    kept.map(|letter| if letter == ' ' { '-' } else { letter }).collect()
}

/// Each limit that is promised names its tests, and they are there.
#[test]
fn every_limit_has_a_test() {
    let page = fs::read_to_string(root().join("SECURITY.md")).unwrap();
    let table = page.split("## Limits").nth(1).unwrap().split("\n## ").next().unwrap();
    let mut code = Vec::new();
    for folder in ["tests", "crates"] {
        files(&root().join(folder), "rs", &mut code);
    }
    let code: String = code.iter().map(|path| fs::read_to_string(path).unwrap()).collect();
    let rows: Vec<&str> = table.lines().filter(|line| line.starts_with("| ")).skip(1).collect();
    assert!(rows.len() > 15, "{rows:?}");
    for row in rows {
        let tests = row.trim_end_matches([' ', '|']).rsplit('|').next().unwrap_or_default();
        let named: Vec<&str> = tests.split('`').skip(1).step_by(2).collect();
        assert!(!named.is_empty(), "no test is named: {row}");
        for name in named {
            assert!(code.contains(&format!("fn {name}(")), "SECURITY.md names a test `{name}`");
        }
    }
}

/// What the page for operators promises names its tests, and they are there.
#[test]
fn what_operators_are_promised_has_tests() {
    let page = fs::read_to_string(root().join("docs/operation.md")).unwrap();
    let named = page.split('`').skip(1).step_by(2).filter(|word| {
        word.matches('_').count() > 3 && word.bytes().all(|byte| byte.is_ascii_lowercase() || byte == b'_')
    });
    let mut tests = Vec::new();
    for folder in ["tests", "examples/ferry/tests"] {
        files(&root().join(folder), "rs", &mut tests);
    }
    let code: String = tests.iter().map(|path| fs::read_to_string(path).unwrap()).collect();
    let named: Vec<&str> = named.filter(|name| !name.starts_with("crow_fly_")).collect();
    assert!(named.len() > 10, "{named:?}");
    for name in named {
        assert!(code.contains(&format!("fn {name}(")), "docs/operation.md names a test `{name}`");
    }
}
