//! The public interface of the crates that applications use, as text: what changes in it is seen in a commit.
//!
//! It is read from the JSON of `rustdoc`, which only this compiler writes in this form: under another one nothing is
//! compared.

use std::collections::BTreeSet;
use std::fs;
use std::path::Path;
use std::process::Command;

use anyhow::{Context, Result, bail, ensure};
use public_api::Builder;

const CRATES: [&str; 4] = ["crow-fly", "crow-fly-core", "crow-fly-codegen", "crow-fly-embed"];

/// The compiler whose form is committed.
const COMPILER: &str = "rustc 1.95.";

/// The crates of others whose types are in the public interface, and why.
const OTHERS: [(&str, &str); 21] = [
    ("actix_http", "feature `actix`: bodies of answers"),
    ("actix_service", "feature `actix`: what a middleware is"),
    ("actix_session", "feature `actix-sessions`"),
    ("actix_utils", "feature `actix`: what its extractors give"),
    ("actix_web", "feature `actix`"),
    ("askama", "feature `askama`: HTML in templates"),
    ("axum", "feature `axum`"),
    ("axum_core", "feature `axum`"),
    ("bytes", "bodies of requests and answers"),
    ("chrono", "feature `chrono`: dates as arguments"),
    ("futures_core", "streams of bodies"),
    ("http", "heads of requests and answers"),
    ("http_body", "bodies of requests and answers"),
    ("jiff", "dates as arguments"),
    ("maud", "feature `maud`: HTML in templates"),
    ("minijinja", "feature `minijinja`"),
    ("object_store", "feature `releases`"),
    ("reqwest", "feature `http-source`"),
    ("rust_decimal", "feature `rust-decimal`: numbers as arguments"),
    ("serde_json", "the browser's half, interchange of messages"),
    ("time", "feature `time`: dates as arguments"),
];

/// Crates whose traits are implemented, and which show in no signature that an application writes.
const BELOW: [&str; 10] = [
    "alloc",
    "core",
    "std",
    "pin_project_lite",
    "serde",
    "serde_core",
    "thiserror",
    "tower_layer",
    "tower_service",
    "tower_sessions",
];

pub(crate) fn run(root: &Path, check: bool) -> Result<()> {
    let version = Command::new("rustc").arg("--version").output()?;
    if !String::from_utf8_lossy(&version.stdout).starts_with(COMPILER) {
        println!("not compared: the committed interface is that of {COMPILER}");
        return Ok(());
    }
    let folder = root.join("docs/interface");
    fs::create_dir_all(&folder)?;
    rustdoc(root)?;
    let mut stale = Vec::new();
    for name in CRATES {
        let text = interface(root, name).with_context(|| format!("the interface of {name}"))?;
        foreign(name, &text)?;
        let path = folder.join(format!("{name}.txt"));
        if fs::read_to_string(&path).is_ok_and(|old| old == text) {
            continue;
        }
        stale.push(name);
        if !check {
            fs::write(&path, text)?;
        }
    }
    match (check, stale.is_empty()) {
        (_, true) => println!("the public interfaces are as they are committed"),
        (false, false) => println!("written: {}", stale.join(", ")),
        (true, false) => bail!(
            "the public interface of {} has changed; run `cargo run -p xtask -- interface`, and read the difference",
            stale.join(", ")
        ),
    }
    Ok(())
}

/// Writes the JSON of all crates at once: in a run of its own for each, the crates below would be checked again and again.
/// One example makes cargo take those that the lints have checked.
fn rustdoc(root: &Path) -> Result<()> {
    let status = Command::new("cargo")
        .args(["doc", "--quiet", "--workspace", "--all-features", "--no-deps", "--lib", "--example", "hello"])
        .env("RUSTDOC", root.join("xtask/rustdoc-json"))
        .env("RUSTDOCFLAGS", "-Z unstable-options --output-format json --cap-lints allow")
        .current_dir(root)
        .status()?;
    ensure!(status.success(), "rustdoc ended with {status}");
    Ok(())
}

fn interface(root: &Path, name: &str) -> Result<String> {
    let json = root.join("target/doc").join(format!("{}.json", name.replace('-', "_")));
    let interface = Builder::from_rustdoc_json(json)
        .omit_blanket_impls(true)
        .omit_auto_trait_impls(true)
        .omit_auto_derived_impls(true)
        .build()?;
    Ok(interface.to_string())
}

/// Fails where a type of another crate is in the interface and not in the list.
fn foreign(name: &str, text: &str) -> Result<()> {
    let own: BTreeSet<String> = CRATES.iter().map(|name| name.replace('-', "_")).collect();
    let is_known = |found: &str| {
        own.contains(found) || OTHERS.iter().any(|(known, _)| *known == found) || BELOW.contains(&found)
    };
    for line in text.lines() {
        let paths =
            line.split(|letter: char| !(letter.is_ascii_alphanumeric() || matches!(letter, '_' | ':')));
        for path in paths.filter(|path| path.contains("::") && !path.starts_with(':')) {
            let first = path.split("::").next().unwrap_or_default();
            let is_crate = first.starts_with(|letter: char| letter.is_ascii_lowercase());
            if is_crate && !is_known(first) {
                bail!("`{first}` is in the public interface of {name}, and not in the list of xtask: {line}");
            }
        }
    }
    Ok(())
}
